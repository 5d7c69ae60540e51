"""The API keeps to its description: schemathesis (PyPI) asks every call of a server as it is started, with
bodies that fit the description and bodies that do not."""

import json
import os
import subprocess
import sys

import pytest

from tests.served import ROOT

CHECKS = (
    "not_a_server_error",
    "status_code_conformance",
    "content_type_conformance",
    "response_schema_conformance",
    "negative_data_rejection",
    "bodies_that_fit_are_understood",
)
EXPLORE = bool(os.environ.get("FULGEN_EXPLORE"))
ALL = ("--max-examples", "200") if EXPLORE else ("--max-examples", "4", "--seed", "1")
# Calls that take a recipe take it alike: every corner of it is tried with one of them.
CORNERS = () if EXPLORE else ("--include-path", "/api/evaluate", "--include-path", "/api/own-faces/{slug}")


@pytest.mark.parametrize(
    ("phase", "options"), [("fuzzing", ALL), ("coverage", CORNERS)], ids=["every call", "every corner"]
)
def test_the_api_keeps_to_its_description(served, tmp_path, phase, options):
    # A busy machine takes its time: neither the description nor an answer is given up on early.
    described = tmp_path / "openapi.json"
    described.write_text(json.dumps(served.call("GET", "/openapi.json")))
    command = [
        sys.executable, "-m", "schemathesis.cli", "run", str(described), "--url", served.url,
        "--request-timeout", "120", "--phases", phase, "--checks", ",".join(CHECKS), "--no-color", *options,
    ]  # fmt: skip
    env = {**os.environ, "SCHEMATHESIS_HOOKS": "tests.server.contract_hooks", "PYTHONPATH": str(ROOT)}
    told = subprocess.run(command, capture_output=True, text=True, env=env, cwd=tmp_path)
    assert told.returncode == 0, told.stdout[:6_000] + told.stderr[-2_000:]
    assert "generated" in told.stdout
