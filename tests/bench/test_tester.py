"""The bench tester over SCPI through PyVISA, and its stand-in; whatever goes wrong is said."""

import contextlib
import math
import random
import socket
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from click.testing import CliRunner

from tests.conftest import drafted
from vivid_loom.bench.aboard.plan import alive_plan
from vivid_loom.bench.devices.simulated import Flaw, FlawError
from vivid_loom.bench.devices.tester import BenchTester, BenchTesterError, quoted
from vivid_loom.bench.devices.tester_stand_in import IDENTITY, Misbehaviour, StandInTester
from vivid_loom.bench.logbook import Logbook, log_path
from vivid_loom.bench.reading import read_aboard, read_step
from vivid_loom.bench.ringing.plan import ring_plans, zero_step
from vivid_loom.bench.ringing.results import Ringing
from vivid_loom.cli import main
from vivid_loom.demo import DEMO_FOLDER
from vivid_loom.drafting import Draft
from vivid_loom.order import StatedReason, Stop, read_order, stop_work, write_order
from vivid_loom.power.fault import Fault

pytestmark = pytest.mark.usefixtures("counts_as_a_tester")
HOST = "127.0.0.1"


@contextlib.contextmanager
def standing_in(draft: Draft, *flaws: Flaw, **how: object) -> Iterator[StandInTester]:
    tester = StandInTester(draft, flaws, **how)  # type: ignore[arg-type]
    thread = threading.Thread(target=tester.serve, daemon=True)
    thread.start()
    try:
        yield tester
    finally:
        tester.close()


@contextlib.contextmanager
def connected(port: int, seconds: float = 2.0) -> Iterator[BenchTester]:
    tester = BenchTester(HOST, port, seconds=seconds)
    try:
        yield tester
    finally:
        tester.close()


def test_it_reads_what_the_harness_has(full: Draft) -> None:
    plan = next(p for p in ring_plans(full) if p.specimen.id == "deck")
    with standing_in(full) as stand_in, connected(stand_in.port) as tester:
        assert tester.identity == IDENTITY
        assert tester.is_stand_in
        assert tester.sitting.copper_c == 20.0
        first = zero_step(tester.sitting.id)
        wire = next(step for step in plan.steps if step.kind == "wire")
        ringing = Ringing(plan, [], tester.sitting.id)
        assert not ringing.judged(wire, read_step(tester, plan.specimen, wire)).passed  # its leads
        assert ringing.judged(first, read_step(tester, plan.specimen, first)).passed
        for step in plan.steps:
            if step.is_read:
                value = read_step(tester, plan.specimen, step)
                assert Ringing(plan, []).judged(step, value).passed, step
            else:
                assert tester.look(step.id)


def test_known_faults_show_and_are_mended(full: Draft) -> None:
    plan = next(p for p in ring_plans(full) if p.specimen.id == "hull")
    first, second = list(plan.specimen.wires)[20:22]
    steps = {s.id: s for s in plan.steps}
    with standing_in(full, Flaw("open", (first,)), Flaw("short", (first, second))) as stand_in:
        with connected(stand_in.port) as tester:
            assert math.isinf(read_step(tester, plan.specimen, steps[f"wire {first}"]))
            net = plan.specimen.net_of[plan.specimen.wires[second].start]
            assert read_step(tester, plan.specimen, steps[f"net {net.id}"]) < 1e-3
            tester.mend([first])
            assert read_step(tester, plan.specimen, steps[f"wire {first}"]) < 1000
            assert read_step(tester, plan.specimen, steps[f"net {net.id}"]) > 100
        with connected(stand_in.port) as again:  # one after another
            assert again.identity == IDENTITY


def test_a_flaw_that_no_harness_can_have_is_refused(full: Draft) -> None:
    with pytest.raises(FlawError, match="open:NOWIRE"):
        StandInTester(full, [Flaw("open", ("NOWIRE",))])


@pytest.mark.parametrize(
    ("misbehaves", "told"),
    [
        ("silent", "no answer to MEAS"),
        ("doubled", "which nobody asked for"),
        ("surplus", "which does not answer MEAS"),
        ("unit", 'found a reading of "TEMP", expected one of FRES'),
        ("flood", "bytes in answer to MEAS"),
        ("garbage", "found '1.2.3 mangled', expected a reading"),
        ("drop", "MEAS"),
        ("range", "expected a reading from"),
    ],
)
def test_what_goes_wrong_is_said_and_the_test_goes_on(
    full: Draft, misbehaves: Misbehaviour, told: str
) -> None:
    plan = next(p for p in ring_plans(full) if p.specimen.id == "deck")
    wires = [step for step in plan.steps if step.kind == "wire"]
    with standing_in(full, misbehaves=misbehaves, after=2) as stand_in:
        with connected(stand_in.port, 0.6) as tester:
            read_step(tester, plan.specimen, wires[0])
            read_step(tester, plan.specimen, wires[1])
            with pytest.raises(BenchTesterError, match=told):
                read_step(tester, plan.specimen, wires[2])
        with connected(stand_in.port) as tester:  # connected anew, it goes on where it stood
            assert read_step(tester, plan.specimen, wires[2]) < 1e6


def test_an_answer_in_pieces_is_read_whole_and_a_late_one_is_nobodys(full: Draft) -> None:
    plan = next(p for p in ring_plans(full) if p.specimen.id == "deck")
    wire = next(step for step in plan.steps if step.kind == "wire")
    with standing_in(full) as sound, connected(sound.port) as tester:
        true = read_step(tester, plan.specimen, wire)
    with standing_in(full, misbehaves="torn") as torn, connected(torn.port) as tester:
        assert read_step(tester, plan.specimen, wire) == pytest.approx(true, rel=0.01)
    with standing_in(full, misbehaves="late") as late, connected(late.port, 0.4) as tester:
        for told in ("no answer", "was closed"):  # what would come is nothing's
            with pytest.raises(BenchTesterError, match=told):
                read_step(tester, plan.specimen, wire)


@pytest.mark.parametrize(
    ("answer", "value"),
    [
        ("+1.5E+0", 1.5),
        ("12", 12.0),
        (".5e1", 5.0),
        ("7.", 7.0),
        ("5_0", None),
        ("\uff15", None),
        ("\u0663", None),
        ("inf", None),
        ("nan", None),
        ("0x10", None),
        ("1.5 OHM", None),
        ("1,5", None),
        ("", None),
        ("1e999", math.inf),
    ],
)
def test_readings_are_numbers_as_scpi_writes_them(answer: str, value: float | None) -> None:
    """NR1 to NR3 of IEEE 488.2, 8.7.2 to 8.7.4, from memory; nothing else is a reading."""
    with speaking(lambda _: answer) as port, connected(port, 0.5) as tester:
        if value is None or math.isinf(value):
            with pytest.raises(BenchTesterError, match=r"expected a reading"):
                tester.read("FRES")
        else:
            assert tester.read("FRES") == value


@contextlib.contextmanager
def speaking(
    says: Callable[[int], str], send: Callable[[socket.socket, int, str], None] | None = None
) -> Iterator[int]:
    """A tester of a few lines: its n-th reading is ``says(n)``, put on the line by ``send``."""
    with socket.create_server((HOST, 0)) as server:

        def talk(link: socket.socket) -> None:
            count, waiting = 0, b""
            while part := link.recv(4096):
                waiting += part
                while b"\n" in waiting:
                    line, _, waiting = waiting.partition(b"\n")
                    asked, _, mark = line.decode().partition(";*ESE ")
                    mark = mark.partition(";")[0]
                    if asked.startswith("MEAS"):
                        told = f"{says(count)};{mark}\n"
                        count += 1
                        if send is not None:
                            send(link, count - 1, told)
                            continue
                    elif asked == "*IDN?":
                        told = f"a,b,c,d;{mark}\n"
                    else:
                        told = f"FRES,INS;{mark}\n"
                    link.sendall(told.encode())

        def serve() -> None:
            with contextlib.suppress(OSError):
                while True:
                    link, _ = server.accept()
                    with link, contextlib.suppress(OSError):
                        talk(link)

        threading.Thread(target=serve, daemon=True).start()
        yield int(server.getsockname()[1])
        server.shutdown(socket.SHUT_RDWR)


class Stream:
    """A line that may double, delay, repeat, tear, cut and invent answers, by a seed."""

    def __init__(self, seed: int) -> None:
        self.chance, self.kept = random.Random(seed), [b"3.5;0\n"]

    def send(self, link: socket.socket, number: int, told: str) -> None:
        line, chance = told.encode(), self.chance
        old = chance.choice(self.kept)
        self.kept.append(line)
        kind = chance.choice(("plain",) * 45 + KINDS)
        if kind == "late":
            return
        parts = {
            "doubled": line * 2,
            "repeated": old + line,
            "behind": line + old,
            "instead": old,
            "surplus": b"%d.5\n" % chance.randrange(20) + line,
            "bare": line.partition(b";")[0] + b"\n",
            "no end": line[:-1],
            "empty": b"\n" + line,
            "run together": old[:-1] + line,
            "swallowed": line[:-2] + b"\n",
            "noise": bytes(chance.randrange(256) for _ in range(9)) + line,
        }.get(kind, line)
        if kind == "torn":
            at = chance.randrange(len(line))
            link.sendall(line[:at])
            time.sleep(0.002)
            parts = line[at:]
        link.sendall(parts)
        if kind == "after a while":
            time.sleep(0.001)
            link.sendall(old)
        if kind == "cut":
            link.shutdown(socket.SHUT_RDWR)


KINDS = (
    *("doubled", "repeated", "behind", "instead", "surplus", "bare", "no end", "empty"),
    *("run together", "swallowed", "noise", "torn", "after a while", "cut", "late"),
)


def test_no_reading_ever_lands_on_another_step(orders: int) -> None:
    """``--orders 10000`` for all of them. The n-th reading of a stream is n and a half. A digit
    that is lost on the way within a reading is what nobody can know.
    """
    landed = refused = 0
    for seed in range(min(orders, 60) if orders < 1000 else orders):
        with (
            contextlib.suppress(BenchTesterError),
            speaking(lambda n: f"{n}.5", Stream(seed).send) as port,
            connected(port, 0.06) as tester,
        ):
            refused += 1
            for step in range(8):
                assert tester.read("FRES") == step + 0.5
                landed += 1
            refused -= 1
    assert landed > 100 and refused > 20


def test_a_stranger_is_not_taken_for_a_tester(full: Draft) -> None:
    told = pytest.raises(BenchTesterError, match="found 'nobody', expected a tester")
    with standing_in(full, misbehaves="stranger") as stand_in, told:
        BenchTester(HOST, stand_in.port, seconds=1.0)


def test_a_bench_too_warm_to_be_one_is_not_believed(full: Draft) -> None:
    told = pytest.raises(BenchTesterError, match="found 71, expected a reading from 0 to 45")
    with standing_in(full, copper_c=71.0) as stand_in, told:
        BenchTester(HOST, stand_in.port, seconds=1.0)


def test_leads_that_do_not_come_to_nothing_stop_the_test(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("vivid_loom.bench.devices.tester_stand_in.OPTIONS", "FRES,INS,SIM")
    path = tmp_path / "hull-0611.loom.json"
    write_order(path, read_order(DEMO_FOLDER / path.name))
    with standing_in(drafted(DEMO_FOLDER / path.name)) as stand_in:  # it cannot zero them
        told = ["ring", str(path), "--who", "IM", "--tester", f"{HOST}:{stand_in.port}"]
        rung = CliRunner().invoke(main, [*told, "--harness", "deck", "--celsius", "12"])
    assert rung.exit_code == 2 and "do not come to nothing" in rung.stderr
    kept = [e.what["step"] for e in Logbook(path).entries]
    assert kept[0] == "zero leads" and not any(step.startswith("wire") for step in kept)
    assert Logbook(path).entries[0].what["copper_c"] == 12.0


def test_a_hand_that_holds_the_probes_is_waited_for(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A tester without somebody's hands in it: each step says where the probes go, and waits."""
    monkeypatch.setattr("vivid_loom.bench.devices.tester_stand_in.OPTIONS", "FRES,INS,NULL")
    path = tmp_path / "hull-0611.loom.json"
    write_order(path, read_order(DEMO_FOLDER / path.name))
    with standing_in(drafted(DEMO_FOLDER / path.name)) as stand_in:
        told = ["ring", str(path), "--who", "IM", "--tester", f"{HOST}:{stand_in.port}"]
        rung = CliRunner().invoke(main, [*told, "--harness", "deck"], input="\ny\n")
    assert "The meter's own leads: red on the black probe" in rung.output
    kept = [e.what["step"] for e in Logbook(path).entries]
    assert kept[0] == "zero leads" and kept[1].startswith("seated ")
    assert "Wire " in rung.output and not any(step.startswith("wire") for step in kept)


def test_nobody_there_is_said() -> None:
    with socket.create_server((HOST, 0)) as server:
        port = server.getsockname()[1]
    with pytest.raises(BenchTesterError, match=rf"{HOST}:{port}: cannot be reached"):
        BenchTester(HOST, port, seconds=0.5)


def test_a_command_that_is_none_is_refused(full: Draft) -> None:
    with standing_in(full) as stand_in, connected(stand_in.port) as tester:
        with pytest.raises(BenchTesterError, match="Undefined header: SIM:FLY"):
            tester.tell("SIM:FLY 1")
        with pytest.raises(BenchTesterError, match="expected a harness"):
            tester.take("moon")
        tester.take("hull")  # an error is told once
        assert quoted('a "b"') == '"a ""b"""'


def test_a_step_it_does_not_know_is_not_taken_for_one_that_failed(full: Draft) -> None:
    """As after an edit: what it stands in for is the boat of before."""
    plan = next(p for p in ring_plans(full) if p.specimen.id == "deck")
    seated = next(step for step in plan.steps if step.kind == "seated")
    with standing_in(full) as stand_in, connected(stand_in.port) as tester:
        tester.take("deck")
        assert tester.look(seated.id)
        with pytest.raises(BenchTesterError, match="expected 1 or 0"):
            tester.look("wire C99-P1")
        assert "expected a step of its harnesses" in tester.ask("SYST:ERR?")
        tester.ask("SIM:LOOK?")
        assert "Missing parameter" in tester.ask("SYST:ERR?")
        assert tester.look(seated.id)  # it goes on


def test_aboard_it_reads_what_power_reckons(full: Draft) -> None:
    plan = alive_plan(full)
    read = [step for step in plan.steps if step.is_read]
    with standing_in(full) as stand_in, connected(stand_in.port) as tester:
        for step in read:
            value = read_aboard(tester, step)
            assert step.low <= value <= step.high, step
            if step.kind == "volts":
                assert value == pytest.approx(step.figure, abs=0.03)


def test_a_corroded_joint_aboard_is_found(full: Draft) -> None:
    step = next(s for s in alive_plan(full).steps if s.id == "volts C29")
    wire = next(w.id for w in full.circuit("C29").wires if w.live == "return")  # type: ignore[union-attr]
    bad = Fault("corroded", wire, ohm=0.2)
    with standing_in(full, faults=[bad]) as stand_in, connected(stand_in.port) as tester:
        assert read_aboard(tester, step) < step.low
        other = next(s for s in alive_plan(full).steps if s.id == "volts C10")
        assert other.low <= read_aboard(tester, other) <= other.high


def test_the_command_line_rings_an_order_out(tmp_path: Path) -> None:
    """The log of a copy of the smallest order: faults named, kept, verified, exported."""
    path = tmp_path / "hull-0611.loom.json"
    write_order(path, read_order(DEMO_FOLDER / path.name))
    run = CliRunner()
    draft = drafted(DEMO_FOLDER / path.name)
    deck = next(plan for plan in ring_plans(draft) if plan.specimen.id == "deck")
    wire = next(iter(deck.specimen.wires))
    with standing_in(draft, Flaw("open", (wire,)), copper_c=33.0) as stand_in:  # a warm bench
        told = ["ring", str(path), "--who", "IM", "--tester", f"{HOST}:{stand_in.port}"]
        rung = run.invoke(main, [*told, "--harness", "deck"])
        assert rung.exit_code == 1, rung.output
        assert f"{wire} is open" in rung.output
        assert rung.output.count(" See the ") == 1  # nothing else: the limits follow the copper
        warm = [e.what["copper_c"] for e in Logbook(path).entries if e.what.get("unit") == "mΩ"]
        assert set(warm) == {33.0}
        told_by = {
            (e.hull, e.order, e.instrument.partition(" 2")[0]) for e in Logbook(path).entries
        }
        assert told_by == {("0611", path.name, IDENTITY)}
        panel = run.invoke(main, [*told, "--harness", "console panel"])  # swaps told by labels
        assert panel.exit_code == 0, panel.output
        other = run.invoke(main, [*told, "--harness", "cellar"])
        assert other.exit_code == 2 and "found 'cellar'" in other.stderr
        why = StatedReason(text="no engine", initials="IM", date="2026-12-02")
        on_hold = Stop(kind="on hold", why=why)
        write_order(path, stop_work(on_hold)[1](read_order(path)))
        count = len(Logbook(path).entries)
        stopped = run.invoke(main, told)
        assert stopped.exit_code == 2 and "is on hold: no engine (IM" in stopped.stderr
        assert len(Logbook(path).entries) == count
    assert run.invoke(main, [*told[:-1], "nowhere"]).exit_code == 2
    verified = run.invoke(main, ["log", "verify", str(path)])
    assert verified.exit_code == 0 and "whole; last seal" in verified.output
    head = verified.output.split()[-1]
    assert run.invoke(main, ["log", "verify", str(path), "--head", head]).exit_code == 0
    assert run.invoke(main, ["log", "verify", str(path), "--head", "0" * 64]).exit_code == 1
    for name in ("log.csv", "log.json", "log.pdf"):
        out = run.invoke(main, ["log", "export", str(path), "--out", str(tmp_path / name)])
        assert out.exit_code == 0 and (tmp_path / name).stat().st_size > 500
    assert run.invoke(main, ["log", "export", str(path), "--out", "log.txt"]).exit_code == 2
    proven = run.invoke(main, ["proven", str(path)])
    assert (
        proven.exit_code == 1
        and "Deck harness is not rung out: 0 steps left, 1 failed" in proven.output
    )
    papers = run.invoke(main, ["papers", str(path), "--out", str(tmp_path / "papers")])
    assert papers.exit_code == 1 and (tmp_path / "papers" / "papers.pdf").exists()
    log = log_path(path)
    log.write_bytes(log.read_bytes().replace(b'"passed":true', b'"passed":false', 1))
    broken = run.invoke(main, ["log", "verify", str(path)])
    assert broken.exit_code == 1 and "line 1 was changed after it was written" in broken.output
