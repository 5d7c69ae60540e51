"""The server as it is started: what it answers while others ask too much, or ask by halves, or from
elsewhere."""

import http.client
import json
import signal
import socket
import stat
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import psutil
import pytest

from tests.hostile import EDGES
from tests.served import Server, until

HEAVY = EDGES["24 parts, tied"]
SMALL = {"format": "fulgen-recipe", "version": 3, "parts": [{"id": "one", "text": "Tern"}]}


class Visitor:
    """Requests as they go over the wire."""

    def __init__(self, served):
        self.served = served

    def ask(self, method, path, body=b"", **headers):
        connection = http.client.HTTPConnection("127.0.0.1", self.served.port, timeout=60)
        named = {name.replace("_", "-"): value for name, value in headers.items()}
        connection.request(method, path, body, {"Content-Type": "application/json", **named})
        answer = connection.getresponse()
        content = answer.read()
        connection.close()
        return answer.status, dict(answer.headers), content

    def post(self, path, body, **headers):
        status, _, content = self.ask("POST", f"/api{path}", json.dumps(body).encode(), **headers)
        return status, json.loads(content)

    def is_answered(self):
        """Whether the shelf, a save and a small design are."""
        shelf = self.ask("GET", "/api/designs")[0]
        saved = self.post("/designs", {"name": "Tern", "recipe": SMALL})[0]
        for _ in range(5):  # where other work keeps the machine busy, that is said, and one asks again
            drawn = self.post("/evaluate", {"recipe": SMALL}, X_Fulgen_Design="small")[0]
            if drawn != 429:
                break
        assert (shelf, saved, drawn) == (200, 201, 200)
        return True


@pytest.fixture
def visitor(served):
    return Visitor(served)


def test_eight_heavy_requests_block_nobody_and_end_in_words(visitor):
    with ThreadPoolExecutor(8) as threads:
        heavy = [
            threads.submit(visitor.post, "/evaluate", {"recipe": HEAVY}, X_Fulgen_Design=f"{n}")
            for n in range(8)
        ]
        assert visitor.is_answered()
        assert not all(one.done() for one in heavy)
        for status, problem in (one.result() for one in heavy):
            assert (status, problem["kind"]) in ((422, "too-much"), (429, "busy"))
            assert problem["todo"]
    assert visitor.is_answered()


def test_half_sent_requests_and_silent_visitors_hold_nothing(visitor):
    address = ("127.0.0.1", visitor.served.port)
    half = b"POST /api/evaluate HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 999\r\n\r\n{"
    sockets = [socket.create_connection(address) for _ in range(120)]
    for number, one in enumerate(sockets):
        one.sendall((half, b"", b"GET /api/desi")[number % 3])
    assert visitor.is_answered()
    for one in sockets:
        one.close()


def test_what_nobody_waits_for_is_ended(visitor):
    body = json.dumps({"recipe": HEAVY}).encode()
    lines = ("POST /api/evaluate HTTP/1.1", "Host: 127.0.0.1", f"Content-Length: {len(body)}", "", "")
    head = "\r\n".join(lines)
    with socket.create_connection(("127.0.0.1", visitor.served.port)) as leaver:
        leaver.sendall(head.encode() + body)
    assert visitor.is_answered()


def test_workers_go_with_a_server_that_is_killed(tmp_path):
    server = Server(tmp_path)
    server.start()
    server.call("POST", "/evaluate", {"recipe": SMALL})
    own = psutil.Process(server.process.pid).children(recursive=True)
    assert len(own) >= 2
    server.process.send_signal(signal.SIGKILL)
    server.process.wait()
    server.process = None
    _, alive = psutil.wait_procs(own, timeout=20)
    assert alive == []
    # It holds nothing, and least of all the shop.
    server.start()
    assert server.call("GET", "/designs")
    server.stop()


def drawn_card(visitor, design):
    """The card of a design, once it is drawn."""

    def card():
        cards = json.loads(visitor.ask("GET", "/api/designs")[2])
        return next(card for card in cards if card["id"] == design["id"])

    return until(card, lambda card: card["drawn"], "drawn")


def test_the_card_of_a_saved_design_is_drawn_soon(visitor):
    made = visitor.post("/designs", {"name": "Grebe", "recipe": SMALL})[1]

    card = drawn_card(visitor, made)
    assert card["pieces"] == 2
    assert card["thumbnail"]


def test_a_design_whose_card_is_too_much_is_kept_and_says_so(visitor):
    made = visitor.post("/designs", {"name": "Page", "recipe": HEAVY})[1]
    assert "too much" in drawn_card(visitor, made)["why_not"]
    opened = json.loads(visitor.ask("GET", f"/api/designs/{made['id']}")[2])
    assert len(opened["recipe"]["parts"]) == 24


class TestFromElsewhere:
    @pytest.mark.parametrize("path", ["/", "/api/designs", "/assets/{script}"])
    def test_another_name_of_this_machine_is_refused(self, visitor, path):
        script = next(Path(__file__).parents[2].glob("web/dist/assets/*.js")).name
        assert visitor.ask("GET", path.format(script=script), Host="example.org")[0] == 400
        status, headers, _ = visitor.ask("GET", path.format(script=script))
        assert status == 200
        assert "Access-Control-Allow-Origin" not in headers

    @pytest.mark.parametrize(
        "headers",
        [
            {"Origin": "https://127.0.0.1:{port}"},
            {"Origin": "http://127.0.0.1:1"},
            {"Origin": "null"},
            {"Sec_Fetch_Site": "cross-site"},
            {"Sec_Fetch_Site": "same-site"},
        ],
    )
    def test_a_page_of_another_site_changes_nothing(self, visitor, headers):
        port = visitor.served.port
        named = {name: value.format(port=port) for name, value in headers.items()}
        before = len(json.loads(visitor.ask("GET", "/api/designs")[2]))
        status, problem = visitor.post("/designs", {"name": "Theirs", "recipe": SMALL}, **named)
        assert (status, problem["kind"]) == (403, "other-site")
        assert len(json.loads(visitor.ask("GET", "/api/designs")[2])) == before

    def test_our_own_page_does(self, visitor):
        own = {"Origin": f"http://127.0.0.1:{visitor.served.port}", "Sec_Fetch_Site": "same-origin"}
        assert visitor.post("/designs", {"name": "Ours", "recipe": SMALL}, **own)[0] == 201


def test_nobody_else_on_this_machine_can_read_the_designs(served):
    files = list(Path(served.env["FULGEN_DATA"]).glob("fulgen.sqlite3*"))
    assert files
    for file in files:
        assert stat.S_IMODE(file.stat().st_mode) == 0o600, file


@pytest.mark.parametrize(
    ("kind", "body"),
    [
        ("multipart/form-data", b"x"),
        ("multipart/form-data; boundary=x", b"--x\r\n\r\n--x--"),
        ("multipart/form-data; boundary=x", b"--x\r\nContent-Disposition: form-data; name=file"),
        ("multipart/form-data; boundary=" + "y" * 300, b"--y--"),
        ("multipart/form-data; boundary=\u00e9".encode().decode("latin-1"), b"--x--"),
        ("application/json", b'{"recipe":'),
        ("application/json", b"\xff\xfe"),
        ("application/json", b"[" * 100_000),
        ("text/plain", b"{}"),
    ],
)
@pytest.mark.parametrize("path", ["/own-faces", "/shapes/read", "/evaluate", "/designs"])
def test_bodies_that_are_none_are_refused_in_words(visitor, kind, body, path):
    status, _, content = visitor.ask("POST", f"/api{path}", body, Content_Type=kind)
    assert 400 <= status < 500
    assert json.loads(content)["what"]


def test_a_body_of_50_mb_is_refused_at_its_head(visitor):
    head = b"POST /api/evaluate HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 52428800\r\n\r\n"
    with socket.create_connection(("127.0.0.1", visitor.served.port)) as sender:
        sender.sendall(head)
        assert b"413" in sender.recv(1000)
    assert visitor.is_answered()


def test_a_second_server_for_one_shop_says_where_the_first_is_and_changes_nothing(tmp_path):
    first = Server(tmp_path)
    first.start()
    try:
        ended = subprocess.run(
            [sys.executable, "-m", "fulgen_server.serve", "0"], env=first.env, capture_output=True, timeout=60
        )
        assert ended.returncode == 2
        assert f"this shop is served already, at http://127.0.0.1:{first.port}" in ended.stderr.decode()
        assert first.call("GET", "/designs")
    finally:
        first.stop()
