"""Problems as HTTP answers: one shape for every error the API gives."""

import json
import logging
from typing import Any, get_args

from django.core.exceptions import SuspiciousOperation
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI, Schema
from ninja.errors import HttpError, ValidationError
from ninja.parser import Parser
from pydantic import ValidationError as ModelError
from pydantic_core import InitErrorDetails, PydanticCustomError
from pydantic_core.core_schema import ErrorType

from fulgen.budget import too_much_work
from fulgen.problem import Problem
from fulgen.recipe.versions import problem_in

log = logging.getLogger("fulgen")

STATUS = {"not-found": 404, "changed-elsewhere": 409, "too-large": 413, "busy": 429, "server": 500,
          "disk-full": 507}  # fmt: skip
"""HTTP status by kind of problem; every other kind is 422."""


class ProblemOut(Schema):
    """What is wrong, where, and what to do next."""

    kind: str
    what: str
    where: str
    todo: str
    faces: list[str]


def problem_response(problem: Problem, status: int | None = None) -> HttpResponse:
    """The answer for a problem."""
    body = {
        "kind": problem.kind,
        "what": problem.what,
        "where": problem.where,
        "todo": problem.todo,
        "faces": list(problem.faces),
    }
    return JsonResponse(body, status=status or STATUS.get(problem.kind, 422))


class StrictJson(Parser):
    """JSON as RFC 8259 has it: NaN and Infinity are no numbers, and are taken as words."""

    def parse_body(self, request: HttpRequest) -> Any:
        return json.loads(request.body, parse_constant=str)


def handle_problems(api: NinjaAPI) -> None:
    """Makes every error of ``api`` answer in the one shape."""

    @api.exception_handler(Problem)
    def _problem(_request: HttpRequest, error: Problem) -> HttpResponse:
        return problem_response(error)

    @api.exception_handler(ValidationError)
    def _invalid(_request: HttpRequest, error: ValidationError) -> HttpResponse:
        return problem_response(_first_of(error.errors))

    @api.exception_handler(HttpError)
    def _http(_request: HttpRequest, error: HttpError) -> HttpResponse:
        what = "The request is not complete JSON." if error.status_code == 400 else str(error)
        return problem_response(Problem("bad-request", what, "Send it again."), error.status_code)

    @api.exception_handler(MultiPartParserError)
    @api.exception_handler(SuspiciousOperation)
    def _malformed(_request: HttpRequest, _error: Exception) -> HttpResponse:
        return problem_response(
            Problem("bad-request", "The file did not arrive whole.", "Choose it again."), 400
        )

    @api.exception_handler(Exception)
    def _unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
        # GEOS tells of memory in words only.
        if isinstance(error, MemoryError | RecursionError) or "bad_alloc" in str(error):
            return problem_response(too_much_work())
        if isinstance(error, OperationalError) and "full" in str(error):
            return problem_response(_disk_full())
        log.error("%s %s failed", request.method, request.path, exc_info=error)
        return problem_response(unforeseen())


def unforeseen() -> Problem:
    """What is said where Fulgen itself is at fault."""
    return Problem(
        "server",
        "Something went wrong inside Fulgen.",
        "Your design is safe. Undo the last change, or try again.",
    )


def _disk_full() -> Problem:
    return Problem(
        "disk-full",
        "The disk is full, so nothing was written.",
        "Make room on it, then try again. What was kept before is whole.",
    )


def _first_of(errors: list[dict[str, Any]]) -> Problem:
    details = [_details(error) for error in errors[:1] if "type" in error]
    try:
        return problem_in(ModelError.from_exception_data("request", details))
    except (KeyError, IndexError, TypeError, ValueError):
        return Problem("bad-request", "The request is not understood.", "Send it again.")


def _details(error: dict[str, Any]) -> InitErrorDetails:
    kind = error["type"]
    own = kind not in _KINDS
    return InitErrorDetails(
        type=PydanticCustomError(kind, error["msg"]) if own else kind,
        loc=tuple(error["loc"][1:]),
        input=None,
        ctx=error.get("ctx", {}),
    )


_KINDS = frozenset(get_args(ErrorType))
"""What pydantic itself finds wrong; other kinds are ours, in words of ours."""
