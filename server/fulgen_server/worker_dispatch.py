"""The middleware that hands workers what is to be computed, and what they do with it."""

import signal
from collections.abc import Callable
from multiprocessing.connection import Connection

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from computing.pool import JOB_S, Asked, Job, workers
from designs.problems import problem_response
from fulgen.problem import Problem

DESIGN_HEADER = "X-Fulgen-Design"
"""Says which design a question is about, so that it goes to the worker that knows it."""

_MOST_LETTERS = 40


def work(lines: list[Connection]) -> None:
    """A worker's life. What it needs is imported in its own process, which computes; this one does not."""
    from fulgen_server.worker import work

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    work(lines)


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
