"""A real server on loopback with a shop of its own."""

import json
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.error
import urllib.request
from contextlib import closing
from io import BytesIO
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]


class Server:
    """Fulgen served as ./fulgen start serves it; can be stopped and started again."""

    _shop: dict[str, bytes] | None = None
    """The databases of a new shop: they are the same for every server of these tests."""

    def __init__(self, data_dir, **env):
        self.env = {
            **os.environ,
            **env,
            "FULGEN_DATA": str(data_dir),
            "PYTHONPATH": f"{ROOT / 'core'}{os.pathsep}{ROOT / 'server'}",
            "DJANGO_SETTINGS_MODULE": "fulgen_server.settings",
        }
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self._open_shop(Path(data_dir))
        self.process = None

    def _open_shop(self, folder):
        if Server._shop is not None:
            for name, data in Server._shop.items():
                (folder / name).write_bytes(data)
            return
        self.django("set_up", "--workers", "2", FULGEN_QUEUE="")
        Server._shop = {}
        for name in ("fulgen.sqlite3", "queue.sqlite3"):
            with closing(sqlite3.connect(folder / name)) as database:
                database.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            Server._shop[name] = (folder / name).read_bytes()

    def django(self, *command, **env):
        subprocess.run([sys.executable, "-m", "django", *command], env={**self.env, **env}, check=True)

    def start(self):
        self.process = subprocess.Popen(
            [sys.executable, "-m", "fulgen_server.serve", str(self.port)], env=self.env
        )
        deadline = time.monotonic() + 60
        while time.monotonic() < deadline:
            try:
                urllib.request.urlopen(f"{self.url}/api/designs", timeout=5).close()
                return
            except OSError:
                if self.process.poll() is not None:
                    break
        pytest.fail("the server did not start")

    def stop(self):
        if self.process:
            self.process.send_signal(signal.SIGTERM)
            self.process.wait(timeout=20)
            self.process = None

    def call(self, method, path, body=None):
        """A request past the browser: JSON in, JSON out."""
        data = None if body is None else json.dumps(body).encode()
        return self._answer(method, path, data, "application/json")

    def send_file(self, path, file_name, data):
        """A file sent as a form sends it (RFC 7578)."""
        head = f'Content-Disposition: form-data; name="file"; filename="{file_name}"'
        body = f"--edge\r\n{head}\r\n\r\n".encode() + data + b"\r\n--edge--\r\n"
        return self._answer("POST", path, body, "multipart/form-data; boundary=edge")

    def _answer(self, method, path, data, kind):
        request = urllib.request.Request(
            f"{self.url}/api{path}", data=data, method=method, headers={"Content-Type": kind}
        )
        try:
            with urllib.request.urlopen(request, timeout=30) as answer:
                return json.loads(answer.read() or "null")
        except urllib.error.HTTPError as error:
            # What it says is seen where a test fails, and can be read still.
            said = error.read()
            words = f"{error.reason}: {said.decode()}"
            raise urllib.error.HTTPError(error.url, error.code, words, error.headers, BytesIO(said)) from None

    def make_cutter_ready(self):
        """Switches the bench cutter on, plugs it in, and lays in film without end."""
        for body in ({"do": "on"}, {"do": "plug"}, {"do": "film"}):
            self.call("POST", "/cutter", body)

    def on_the_shelf(self):
        """The designs there are, by their ids."""
        return {card["id"] for card in self.call("GET", "/designs")}

    def design(self, text="Willowmere", name="Test", unit="mm", **part):
        """A new design, made past the browser; returns its address."""
        part = {"id": "lettering-1", "text": text, **part}
        recipe = {"format": "fulgen-recipe", "version": 1, "unit": unit, "parts": [part]}
        return f"/design/{self.call('POST', '/designs', {'name': name, 'recipe': recipe})['id']}"
