import json

import pytest
from django.test import Client

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


@pytest.fixture
def api(db):
    return Api()


def recipe(text="Willowmere", **part):
    part = {"id": "lettering-1", "text": text, **part}
    return {"format": "fulgen-recipe", "version": 1, "parts": [part]}
