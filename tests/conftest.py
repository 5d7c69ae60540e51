"""Hypothesis without a deadline: no test of ours fails because the machine is busy."""

from hypothesis import settings

settings.register_profile("fulgen", deadline=None)
settings.load_profile("fulgen")
