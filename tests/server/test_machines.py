"""Machines of the shop's own, by a socket and a pseudo-terminal: their answers come, come late, are broken,
or do not come at all. Behind both stands the simulated machine, as a plotter that knows nothing of jobs."""

import contextlib
import os
import socket
import subprocess
import sys
import threading
import tty

import psutil
import pytest

from cutters.cutter_host import CutterHost
from cutters.lines import Answers, Connection, LineLost, opened, private_address
from fulgen.cutter.blade import cut
from fulgen.cutter.cut_simulation import simulate_cut
from fulgen.formats.hpgl import read_strokes
from tests import kills
from tests.served import ROOT, Server
from tests.server.test_cutting import refused

PROFILE = {"kind": "knife", "offset_mm": 0.25, "overcut_mm": 0.5, "speed_mm_s": 2000.0}
HEARTS = 3


@pytest.fixture(scope="module")
def yard(tmp_path_factory):
    server = Server(tmp_path_factory.mktemp("yard"), FULGEN_CUTTER_PACE="6")
    server.start()
    yield server
    server.stop()


@pytest.fixture
def plotter(tmp_path):
    """A plotter of somebody else's make: its process, and what lies in it."""
    bench = CutterHost(lambda: tmp_path)
    bench.ask("load", sheet="own", height=300.0, speed=2000.0, cut=[])
    yield bench
    process, _, _ = bench._started()
    process.kill()
    process.wait()
    process.stdin.close()
    process.stdout.close()


class Cable:
    """A cable between a computer and a plotter, on which answers may come to harm."""

    def __init__(self, plotter, harm=lambda answer: answer, late=False):
        self._plotter, self._harm, self._late = plotter, harm, late
        self._is_asked_again = threading.Event()
        self.cut_after = None
        self._sent = 0

    def carry(self, near_read, near_write):
        """Carries what is sent and what is answered, until an end closes."""
        with socket.create_connection(("127.0.0.1", self._plotter._started()[1])) as far:

            def back():
                with contextlib.suppress(OSError):
                    while data := far.recv(4096):
                        if self._late:
                            self._is_asked_again.wait()
                        if harmed := self._harm(data.decode()):
                            near_write(harmed.encode())

            answers = threading.Thread(target=back)
            answers.start()
            with contextlib.suppress(OSError):
                while data := near_read():
                    far.sendall(data)
                    self._sent += len(data)
                    if b"OS;" in data:
                        self._is_asked_again.set()
                    if self.cut_after is not None and self._sent >= self.cut_after:
                        self.cut_after = None
                        break
            self._is_asked_again.set()
            far.shutdown(socket.SHUT_RDWR)
            answers.join()


@contextlib.contextmanager
def over_network(plotter, **harm):
    """A plotter at a raw port, and how it is reached."""
    cable, ended = Cable(plotter, **harm), threading.Event()
    with socket.create_server(("127.0.0.1", 0)) as listener:

        def serve():
            while True:
                near, _ = listener.accept()
                if ended.is_set():
                    near.close()
                    return
                with near:
                    cable.carry(lambda near=near: near.recv(4096), near.sendall)

        thread = threading.Thread(target=serve)
        thread.start()
        port = listener.getsockname()[1]
        yield cable, {"by": "network", "host": "127.0.0.1", "port": port, "patience_s": 0.4}
        ended.set()
        socket.create_connection(("127.0.0.1", port)).close()
        thread.join()


@contextlib.contextmanager
def over_serial(plotter, **harm):
    """A plotter at a serial line, and how it is reached."""
    cable = Cable(plotter, **harm)
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    thread = threading.Thread(
        target=cable.carry,
        args=(lambda: os.read(ours, 4096), lambda data: os.write(ours, data)),
    )
    thread.start()
    yield cable, {"by": "serial", "device": os.ttyname(theirs), "flow": "none", "patience_s": 0.4}
    os.close(theirs)
    thread.join()
    os.close(ours)


def made(yard, reached, name="Aft plotter"):
    """A job for a machine of the shop's own; returns its path."""
    kills.MACHINES[name] = PROFILE
    path = kills.laid_out(yard, name, HEARTS)
    own = {**yard.call("GET", "/machines")[0]["machine"], "name": name, **PROFILE}
    yard.call("PUT", "/machines", {"machine": own, "reached": reached})
    return path


def ended(yard, path):
    return kills.until(yard, path, lambda job: job["outcome"] is not None, "ended")


def came_off(plotter):
    """What came off the film that lies in the plotter."""
    text = "IN;" + "".join(text for text, _ in plotter.ask("cut", **{"from": 0})["strokes"])
    strokes = read_strokes(text.encode(), "the film", 300.0)
    return len(simulate_cut(cut([path for pen, path in strokes if pen == 1], 0.25)).pieces)


@pytest.mark.parametrize("line", [over_network, over_serial])
class TestByEitherLine:
    def test_a_job_is_followed_by_where_the_machine_is(self, yard, plotter, line):
        with line(plotter) as (_, reached):
            path = made(yard, reached)
            yard.call("POST", f"{path}/start")
            job = ended(yard, path)
        assert (job["state"], job["by_time"], job["done"]) == ("done", False, job["strokes"])
        assert (job["outcome"]["unseen"], job["outcome"]["promised"]) == (True, HEARTS)
        assert came_off(plotter) == HEARTS

    @pytest.mark.parametrize(
        ("harm", "by_time"),
        [
            ({"late": True}, False),  # when it has been given up already
            ({"harm": lambda answer: "12,zz\r" + answer}, False),  # broken ones before it
            ({"harm": lambda answer: answer if "," not in answer else None}, False),  # it knows OS only
            ({"harm": lambda answer: None}, True),
        ],
        ids=["late", "broken", "status only", "none"],
    )
    def test_whatever_its_answers_come_to(self, yard, plotter, line, harm, by_time):
        with line(plotter, **harm) as (_, reached):
            path = made(yard, {**reached, "patience_s": 2.0 if "late" in harm else 0.4})
            yard.call("POST", f"{path}/start")
            job = ended(yard, path)
            assert (job["state"], job["by_time"]) == ("done", by_time)
            kills.until(yard, path, lambda _: came_off(plotter) == HEARTS, "cut whole")


class TestOverTheNetwork:
    def test_a_line_that_breaks_is_taken_up_again(self, yard, plotter):
        with over_network(plotter) as (cable, reached):
            path = made(yard, reached)
            cable.cut_after = 3_000
            yard.call("POST", f"{path}/start")
            lost = kills.until(yard, path, lambda job: job["state"] != "cutting", "lost")
            assert lost["state"] == "lost"
            assert 0 < lost["done"] < lost["strokes"]
            yard.call("POST", f"{path}/start")
            assert ended(yard, path)["state"] == "done"
        assert came_off(plotter) == HEARTS

    def test_what_is_followed_by_time_goes_back_a_little(self, yard, plotter):
        with over_network(plotter, harm=lambda answer: None) as (_, reached):
            path = made(yard, reached)
            yard.call("POST", f"{path}/start")
            kills.until(yard, path, lambda job: job["by_time"] and job["done"] >= 2, "so far")
            yard.call("POST", f"{path}/pause")
            yard.call("POST", f"{path}/start")
            # All of it is within what the machine may be behind.
            assert ended(yard, path)["state"] == "done"
            kills.until(yard, path, lambda _: came_off(plotter) == HEARTS, "cut whole")

    def test_a_machine_that_is_not_there(self, yard):
        with socket.create_server(("127.0.0.1", 0)) as listener:
            port = listener.getsockname()[1]
        path = made(yard, {"by": "network", "host": "127.0.0.1", "port": port})
        told = refused(lambda: yard.call("POST", f"{path}/start"))
        assert told["kind"] == "cutter-away"
        assert f"127.0.0.1:{port} does not answer" in told["what"]
        assert yard.call("GET", path)["state"] == "waiting"

    @pytest.mark.parametrize(
        ("harm", "answers"),
        [
            (lambda answer: answer, "place"),
            (lambda answer: answer if "," not in answer else None, "status"),
            (lambda answer: None, "nothing"),
        ],
    )
    def test_it_is_tried_without_moving_it(self, yard, plotter, harm, answers):
        with over_network(plotter, harm=harm) as (_, reached):
            assert yard.call("POST", "/machines/try", {"reached": reached}) == {"answers": answers}
        assert plotter.ask("cut", **{"from": 0})["strokes"] == []

    def test_a_machine_at_work_is_not_tried(self, yard, plotter):
        with over_network(plotter, late=True) as (_, reached):
            path = made(yard, {**reached, "patience_s": 2.0})
            yard.call("POST", f"{path}/start")
            told = refused(lambda: yard.call("POST", "/machines/try", {"reached": reached}))
            assert told["kind"] == "cutter-busy"
            assert ended(yard, path)["state"] == "done"


@pytest.mark.parametrize(
    ("reached", "says"),
    [
        ({"by": "network", "host": "8.8.8.8"}, "not in this shop's own network"),
        ({"by": "network", "host": "224.0.0.1"}, "not in this shop's own network"),
        ({"by": "network", "host": "no machine"}, "is not found in this network"),
        ({"by": "serial", "device": "/etc/passwd"}, "is not a serial line"),
        ({"by": "serial", "device": "/dev/../etc/passwd"}, "is not a serial line"),
    ],
)
def test_what_is_not_near_is_refused_and_nothing_is_changed(yard, reached, says):
    before = yard.call("GET", "/machines")
    own = before[0]["machine"]
    told = refused(lambda: yard.call("PUT", "/machines", {"machine": own, "reached": reached}))
    assert told["kind"] == "bad-address"
    assert says in told["what"]
    assert yard.call("GET", "/machines") == before


@pytest.mark.parametrize(
    ("by", "says"), [("network", "address is not said yet"), ("serial", "No serial line is chosen")]
)
def test_a_machine_whose_place_is_not_said_yet(yard, by, says):
    path = made(yard, {"by": by})
    told = refused(lambda: yard.call("POST", f"{path}/start"))
    assert (told["kind"], yard.call("GET", path)["state"]) == ("bad-address", "waiting")
    assert says in told["what"]


def test_files_are_no_serial_lines():
    with pytest.raises(LineLost):
        opened(Connection(by="serial", device="/dev/tty-that-is-not-there"))


def test_answers_in_bits_and_pieces():
    answers = Answers()
    assert answers.take("12") == []
    assert answers.take("0,40,1\r16\rPD,") == [(120.0, 40.0), None]
    assert answers.take("x\r" + "9" * 10_000 + "\r1,2,0\r\n") == [(1.0, 2.0)]


def test_addresses_near_by():
    assert private_address("127.0.0.1") == "127.0.0.1"
    assert private_address(" 192.168.1.40 ") == "192.168.1.40"
    assert private_address("::1") == "::1"


class TestTheBench:
    @pytest.mark.parametrize("machine", ["knife", "offset of 1 mm", "laser"])
    def test_kills_of_server_and_machine_leave_nothing_out(self, yard, machine):
        import random

        path = kills.laid_out(yard, machine, 3)
        outcome = kills.attacked(yard, path, ["machine", "server", "machine"], random.Random(machine))
        assert outcome.is_right, outcome

    def test_somebody_else_at_the_plot_socket_is_told(self, yard):
        path = kills.laid_out(yard, "knife", HEARTS)
        yard.call("POST", f"{path}/start")
        kills.until(yard, path, lambda job: job["done"] >= 1, "begun")
        yard.call("POST", f"{path}/pause")
        process = kills.machine_of(yard)
        ports = {c.laddr.port for c in process.net_connections() if c.status == psutil.CONN_LISTEN}
        for port in ports:
            # One of the two is its panel, which is told the same.
            with socket.create_connection(("127.0.0.1", port)) as line:
                line.sendall(b"\x00\xff garbage;PU40,40;PD200,200;PU;OA;\n")
                with contextlib.suppress(TimeoutError, OSError):
                    line.settimeout(5)
                    line.recv(64)
        yard.call("POST", f"{path}/start")
        told = ended(yard, path)["outcome"]
        # It cut into the same film, apart from the hearts.
        assert (told["foreign"], told["as_promised"], told["came_off"]) == (1, True, HEARTS)

    def test_a_new_film_laid_in_at_once_does_not_hide_that_the_last_one_ran_out(self, plotter):
        """Found by random orders of events: the stroke was told as cut that the knife was lifted from."""
        plotter.ask("film", mm=20.0)
        with contextlib.closing(plotter.line()) as line:
            line.send("SP1;PU0,11600;PD0,0;OA;", lambda: False)
            while not plotter.ask("state")["no_film"]:
                pass
            panel = plotter.ask("film", mm=None)
            assert (panel["no_film"], panel["ran_out"], panel["busy"]) == (False, True, True)
        [(text, own)] = plotter.ask("cut", **{"from": 0})["strokes"]
        [(_, path)] = read_strokes(f"IN;{text}".encode(), "it", 300.0)
        assert own
        assert (path[0, 1], path[-1, 1]) == (10.0, 20.0)

    def test_it_says_how_it_stands(self, yard):
        path = kills.laid_out(yard, "laser", 9)
        assert yard.call("POST", "/cutter", {"do": "film", "film_mm": 20.0})["state"] == "ready"
        yard.call("POST", f"{path}/start")
        assert yard.call("GET", "/cutter")["state"] in ("cutting", "no-film")
        kills.until(yard, path, lambda job: job["state"] == "no-film", "out of film")
        seen = yard.call("GET", "/cutter")
        assert (seen["state"], seen["sheet_mm"]) == ("no-film", 300.0)
        yard.call("POST", "/cutter", {"do": "unplug"})
        assert yard.call("GET", "/cutter")["state"] == "unplugged"
        yard.call("POST", "/cutter", {"do": "off"})
        assert yard.call("GET", "/cutter")["state"] == "off"
        yard.call("POST", "/cutter", {"do": "on"})
        yard.call("POST", "/cutter", {"do": "plug"})
        assert yard.call("POST", "/cutter", {"do": "film"})["state"] == "ready"
        yard.call("POST", f"{path}/start")
        assert ended(yard, path)["outcome"]["as_promised"]


def test_a_second_machine_waits_for_the_first_one_in_its_folder(tmp_path):
    """A server that was killed and started again at once never has two machines on one film."""
    first = CutterHost(lambda: tmp_path)
    first.ask("load", sheet="one", height=300.0, speed=100.0, cut=[])
    second = subprocess.Popen(
        [sys.executable, "-m", "cutters.simulated", str(tmp_path)],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=dict(os.environ),
    )  # fmt: skip
    process, _, _ = first._started()
    seen = []
    reader = threading.Thread(target=lambda: seen.append((process.poll(), second.stdout.readline())))
    reader.start()
    assert first.ask("state")["sheet"] == "one"
    assert seen == []
    process.kill()
    process.wait()
    reader.join()
    assert seen[0][1].strip()
    for one in (process, second):
        one.kill()
        one.wait()
        one.stdin.close()
        one.stdout.close()


def test_any_order_of_events_at_the_cutter():
    told = subprocess.run(
        [sys.executable, "-m", "tests.job_orders", "30"],
        cwd=ROOT, capture_output=True, text=True, check=False,
        env={**os.environ, "PYTHONPATH": os.pathsep.join(map(str, (ROOT / "core", ROOT / "server", ROOT)))},
    )  # fmt: skip
    assert told.stdout.strip() == "30 orders of events: all as promised", told.stdout + told.stderr
