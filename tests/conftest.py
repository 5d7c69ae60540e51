"""Hypothesis without a deadline (no test of ours fails because the machine is busy) and with the same
examples every time, so that a change is judged by what it changes. FULGEN_EXPLORE=1 tries new ones."""

import os

import pytest
from hypothesis import settings

from tests import served

# Tests come in any order, those of the browser before those of the database: Playwright keeps a loop of its
# own in the process, which Django would take for asynchronous code.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

settings.register_profile("fulgen", deadline=None, derandomize=True)
settings.register_profile("explore", deadline=None, max_examples=500)
settings.load_profile("explore" if os.environ.get("FULGEN_EXPLORE") else "fulgen")


@pytest.fixture(scope="session", autouse=True)
def new_shop(tmp_path_factory):
    """The folder of this run that its processes have in common keeps the new shop."""
    folder = tmp_path_factory.getbasetemp()
    if "PYTEST_XDIST_WORKER" in os.environ:
        folder = folder.parent
    served.NEW_SHOP = folder / "new-shop"
