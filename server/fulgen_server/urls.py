"""The API, and the web app for every other address."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from ninja import NinjaAPI

from designs.api import (
    artwork,
    bars,
    building,
    cutting,
    designs,
    drawn_faces,
    evaluations,
    faces,
    files,
    findings,
    frames,
    habits,
    jobs,
    letters,
    materials,
    own_frames,
    photos,
    ready,
    shapes,
    shop,
    touch_ups,
    versions,
)
from designs.problems import StrictJson, handle_problems, problem_response
from fulgen import __version__
from fulgen.problem import Problem
from orders.api import orders, sheets

api = NinjaAPI(
    title="Fulgen", version=__version__, docs_url=None, openapi_url="/openapi.json", parser=StrictJson()
)
_COMPUTING = (
    evaluations,
    building,
    frames,
    artwork,
    findings,
    ready,
    bars,
    letters,
    touch_ups,
    shapes,
    drawn_faces,
    cutting,
    photos,
)

api.add_router("/designs", designs.router)
api.add_router("/designs", versions.router)
# First those whose addresses are whole words: the others take a word for an order.
api.add_router("/orders", sheets.router)
api.add_router("/orders", orders.router)
for noun in (*_COMPUTING, faces, files, materials, own_frames, habits, jobs, shop):
    api.add_router("", noun.router)
handle_problems(api)

COMPUTED = frozenset(
    [f"/api{path}" for noun in _COMPUTING for path in noun.router.path_operations]
    + [f"/api/orders{path}" for path in sheets.router.path_operations]
)
"""Addresses whose answers are computed by a worker."""


def web_app(_request: HttpRequest) -> HttpResponse:
    """The page of the web app; it finds its own way from the address."""
    page = settings.WEB_DIR / "index.html"
    if not page.exists():
        return HttpResponse("The web app is not built yet: run ./fulgen start.", status=503)
    return HttpResponse(page.read_bytes(), headers={"Cache-Control": "no-cache"})


def no_such_call(_request: HttpRequest) -> HttpResponse:
    """An API address that does not exist."""
    return problem_response(Problem("not-found", "There is nothing at this address.", "Check the address."))


urlpatterns = [
    path("api/", api.urls),
    re_path("^api/", no_such_call),
    re_path("^(?!assets/).*$", web_app),
]
