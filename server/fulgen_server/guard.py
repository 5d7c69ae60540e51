"""The guard at the door: refuses what is too large or comes from another site.

The server trusts whoever sits at this machine, so the danger is another page in the same browser. Every
request must name this machine (else another site could pass for it), and those that change something must
come from our own page or from no page at all (the Origin header: RFC 6454; Sec-Fetch-Site: W3C, "Fetch
Metadata Request Headers"). Nothing of ours is loaded into another site's page (Cross-Origin-Resource-Policy:
WHATWG, "Fetch", section 3.7).
"""

from collections.abc import Callable

from django.conf import settings
from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse, HttpResponseBase

from designs.problems import problem_response
from fulgen.problem import Problem

_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "font-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


def guard(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponseBase]:
    """Middleware that refuses, or passes on and says what our pages may load."""

    def guarded(request: HttpRequest) -> HttpResponseBase:
        refusal = _refusal(request)
        response = problem_response(*refusal) if refusal else get_response(request)
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return response

    return guarded


def _refusal(request: HttpRequest) -> tuple[Problem, int] | None:
    try:
        ours = f"{request.scheme}://{request.get_host()}"
    except DisallowedHost:
        return Problem("other-site", "Fulgen answers only on this machine.", "Check the address."), 400
    length = request.META.get("CONTENT_LENGTH") or "0"
    upload = settings.UPLOADS.get(request.path)
    most = settings.MAX_UPLOAD_BYTES if upload else settings.MAX_BODY_BYTES
    if not length.isdigit() or int(length) > most:
        what = f"That is more than the {most // 2**20} MB Fulgen takes at once."
        return Problem("too-large", what, upload or "Send a smaller design."), 413
    if request.method not in ("GET", "HEAD", "OPTIONS"):
        from_elsewhere = request.headers.get("Sec-Fetch-Site", "none") not in ("same-origin", "none")
        if from_elsewhere or request.headers.get("Origin", ours) != ours:
            what = "Another web page tried to change something in Fulgen."
            return Problem("other-site", what, "Close that page. Nothing was changed."), 403
    return None
