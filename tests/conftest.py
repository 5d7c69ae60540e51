"""Hypothesis without a deadline (no test of ours fails because the machine is busy) and with the same
examples every time, so that a change is judged by what it changes. FULGEN_EXPLORE=1 tries new ones."""

import os

from hypothesis import settings

# Tests come in any order, those of the browser before those of the database: Playwright keeps a loop of its
# own in the process, which Django would take for asynchronous code.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

settings.register_profile("fulgen", deadline=None, derandomize=True)
settings.register_profile("explore", deadline=None, max_examples=500)
settings.load_profile("explore" if os.environ.get("FULGEN_EXPLORE") else "fulgen")
