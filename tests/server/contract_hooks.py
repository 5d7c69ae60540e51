"""What schemathesis checks beside its own checks: a body that fits the description is not said not to."""

import schemathesis

NOT_AS_DESCRIBED = {"bad-value", "bad-request", "not-a-recipe"}
"""Kinds of problems that say that a body is not as described; others say that what it asks for cannot be
done."""


@schemathesis.check
def bodies_that_fit_are_understood(ctx, response, case):
    fits = case.meta is not None and case.meta.generation.mode.is_positive
    if fits and response.status_code in (400, 422):
        problem = response.json()
        assert problem["kind"] not in NOT_AS_DESCRIBED, problem
