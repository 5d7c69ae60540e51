"""A real server on loopback with a shop of its own."""

import atexit
import fcntl
import functools
import json
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from contextlib import closing
from io import BytesIO
from pathlib import Path

ROOT = Path(__file__).parents[1]
DATABASES = ("fulgen.sqlite3", "queue.sqlite3")
NEW_SHOP: Path | None = None
"""Where all processes of a run of the tests have the new shop that theirs begin as."""


@functools.cache
def shop_of_this_process():
    """A folder for the new shop where no tests run, but a bench; it goes with the process."""
    folder = tempfile.TemporaryDirectory()
    atexit.register(folder.cleanup)
    return Path(folder.name)


def until(ask, is_so, what="so", seconds=180, pause_s=0.01):
    """What is asked for, once something is so of it. Between two questions there is a little time for what is
    waited for: it has the same processors."""
    ends = time.monotonic() + seconds
    while not is_so(seen := ask()):
        assert time.monotonic() < ends, f"never {what}: {seen}"
        time.sleep(pause_s)
    return seen


class Server:
    """Fulgen served as ./fulgen start serves it; can be stopped and started again."""

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
        """A new shop is the same for every server of these tests: it is set up once and copied."""
        new_shop = NEW_SHOP or shop_of_this_process()
        new_shop.mkdir(exist_ok=True)
        with (new_shop / "lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if not (new_shop / "is-whole").exists():
                self.django("set_up", "--workers", "2", FULGEN_DATA=str(new_shop), FULGEN_QUEUE="")
                for name in DATABASES:
                    with closing(sqlite3.connect(new_shop / name)) as database:
                        database.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                (new_shop / "is-whole").touch()
        for name in DATABASES:
            shutil.copy(new_shop / name, folder / name)

    def django(self, *command, **env):
        subprocess.run([sys.executable, "-m", "django", *command], env={**self.env, **env}, check=True)

    def start(self):
        self.process = subprocess.Popen(
            [sys.executable, "-m", "fulgen_server.serve", str(self.port)], env=self.env
        )
        until(self._answers, bool, "the server answers")

    def _answers(self):
        try:
            urllib.request.urlopen(f"{self.url}/api/designs", timeout=5).close()
        except OSError:
            assert self.process.poll() is None, "the server did not start"
            return False
        return True

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
