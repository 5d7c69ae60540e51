"""The server's workers, and the middleware that hands them what is to be computed."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from fulgen.problem import Problem
from fulgen_server.problems import problem_response
from fulgen_server.workers import JOB_S, Asked, Job, Pool

workers = Pool()

DESIGN_HEADER = "X-Fulgen-Design"
"""Says which design a question is about, so that it goes to the worker that knows it."""

_MOST_LETTERS = 40

View = Callable[[HttpRequest], HttpResponse]


def hand_over(get_response: View) -> View:
    """Middleware that has a worker answer what is to be computed, once the pool serves."""
    from fulgen_server.urls import COMPUTED

    def handed(request: HttpRequest) -> HttpResponse:
        if not workers.serves or request.path not in COMPUTED:
            return get_response(request)
        # The guard has looked at its length; Django itself would let no body be as large as a file.
        body = request.read() if request.path in settings.UPLOADS else request.body
        asked = Asked(request.method or "", request.path, request.META.get("CONTENT_TYPE", ""), body)
        design = request.headers.get(DESIGN_HEADER, "")[:_MOST_LETTERS]
        gone = request.META.get("waitress.client_disconnected", lambda: False)
        try:
            job = Job("request", asked, JOB_S * settings.PATIENCE.get(request.path, 1.0))
            answer = workers.answer(job, design, gone)
        except Problem as problem:
            return problem_response(problem)
        if answer is None:
            return HttpResponse(status=204)  # nobody reads it
        return HttpResponse(answer.content, status=answer.status, headers=answer.headers)

    return handed
