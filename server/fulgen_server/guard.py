"""The guard at the door: refuses what is too large or comes from another site.

The server trusts whoever sits at this machine, so the danger is another page in the same
browser. Hosts are checked by Django (ALLOWED_HOSTS); here requests that change something must
come from our own page or from no page at all.
"""

from collections.abc import Callable
from urllib.parse import urlsplit

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseBase

from fulgen.problem import Problem
from fulgen_server.problems import problem_response

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
        return response

    return guarded


def _refusal(request: HttpRequest) -> tuple[Problem, int] | None:
    length = request.META.get("CONTENT_LENGTH") or "0"
    is_face = request.path == settings.FACE_UPLOAD_PATH
    most = settings.MAX_FACE_BYTES if is_face else settings.MAX_BODY_BYTES
    if not length.isdigit() or int(length) > most:
        what = f"That is more than the {most // 2**20} MB Fulgen takes at once."
        todo = "Choose a smaller face file." if is_face else "Send a smaller design."
        return Problem("too-large", what, todo), 413
    if request.method not in ("GET", "HEAD", "OPTIONS"):
        origin = request.headers.get("Origin")
        if origin and urlsplit(origin).netloc != request.get_host():
            what = "Another web page tried to change something in Fulgen."
            return Problem("other-site", what, "Close that page. Nothing was changed."), 403
    return None
