import json

import pytest
from django.test import Client

from tests.served import Server

pytestmark = pytest.mark.django_db


class Api:
    """The API as the web app calls it: JSON in, status and JSON out."""

    def __init__(self):
        self.client = Client(headers={"host": "localhost"}, raise_request_exception=False)

    def call(self, method, path, body=None, **extra):
        content = body if isinstance(body, str | bytes) else json.dumps(body)
        answer = self.client.generic(method, f"/api{path}", content, "application/json", **extra)
        is_json = answer.headers.get("Content-Type", "").startswith("application/json")
        return answer.status_code, answer.json() if is_json and answer.content else answer.content

    def get(self, path):
        return self.call("GET", path, "")

    def post(self, path, body=None):
        return self.call("POST", path, body)

    def put(self, path, body):
        return self.call("PUT", path, body)

    def evaluated(self, recipe, have=()):
        """What a recipe comes to, put together from what the answer has by key."""
        status, told = self.post("/evaluate", {"recipe": recipe, "have": list(have)})
        assert status == 200, told
        clusters = {cluster["key"]: cluster["pieces"] for cluster in told["clusters"]}
        made = {made["key"]: made for made in told["built"]}
        films = [
            {"colour": film["colour"], "pieces": [p for key in film["clusters"] for p in clusters[key]]}
            for film in told["films"]
        ]
        parts = [{**made.get(part["built"], {}), **part} for part in told["parts"]]
        letters = [{**letter, "part": part["id"]} for part in parts for letter in part.get("letters", ())]
        return {**told, "films": films, "parts": parts, "letters": letters}

    def seams(self, recipe):
        status, told = self.post("/seams", {"recipe": recipe})
        assert status == 200, told
        return [one["seam"] for part in told for one in part["seams"]]


@pytest.fixture
def api(db):
    return Api()


@pytest.fixture(scope="session")
def served(tmp_path_factory):
    """A server as it is started, whose jobs have a small budget."""
    server = Server(tmp_path_factory.mktemp("shop"), FULGEN_JOB_S="1")
    server.start()
    yield server
    server.stop()


def recipe(text="Willowmere", **part):
    part = {"id": "lettering-1", "text": text, **part}
    return {"format": "fulgen-recipe", "version": 1, "parts": [part]}
