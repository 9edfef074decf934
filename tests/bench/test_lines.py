"""Every fault of a line against the simulated bench: one sentence, back by itself, nothing of before taken for
after."""

import json
import os
import pty
import socket
import subprocess
import sys
import threading
import time

import pytest

from young_spark.bench.open_line import LineFault
from young_spark.bench.poller import Address, Heard, LineState, Traced
from young_spark.bench.session import Session
from young_spark.bench.simulator.lines import LATE_S
from young_spark.core.analysis import Options, analyse
from young_spark.core.captures import as_envelope, read, written
from young_spark.core.live import Ask, Definition, NotAFigure, definitions, figures_of
from young_spark.core.live.definition_file import Gives
from young_spark.wire import AskTrace

pytestmark = pytest.mark.long

SENTENCES = {
    ("supply", "refuse"): "nothing listens at its address",
    ("supply", "time-out"): "no whole answer within 0.3 s",
    ("supply", "garbage"): "it answered with something that is no figure",
    ("supply", "late"): "no whole answer within 0.3 s",
    ("modulation-meter", "half"): "no whole answer within 0.3 s",
    ("supply", "drop"): "",  # the plug was in again before a question went out, or the line dropped: both are well
    ("wattmeter", "overload"): "overload: more than its range",
}


def broken(found):
    return isinstance(found, LineState) and not found.connected


def volts(found, about):
    return isinstance(found, Heard) and found.values.get("volts") == pytest.approx(about, abs=0.2)


@pytest.mark.parametrize(("line", "fault"), list(SENTENCES), ids=[f for _, f in SENTENCES])
def test_a_fault_is_one_sentence_and_the_line_comes_back(bench, line, fault):
    bench.poll(line)
    bench.wait(lambda f: isinstance(f, Heard))
    bench.fault(line, fault)
    if SENTENCES[line, fault]:
        bench.wait(lambda f: broken(f) and f.sentence.startswith(SENTENCES[line, fault]))
        assert broken(bench.wait(lambda f: isinstance(f, LineState)))  # the sentence stands while the fault does
    bench.fault(line, "none")
    assert isinstance(bench.wait(lambda f: isinstance(f, Heard)), Heard)


@pytest.mark.parametrize("fault", ["late", "time-out", "drop", "garbage", "refuse"])
def test_no_figure_of_before_a_fault_is_taken_for_one_of_after(bench, fault):
    """The supply goes from 11 to 14 V while the line is broken: an answer about 11 V must never come afterwards."""
    bench.hands(supply_v=11.0)
    bench.poll("supply")
    bench.wait(lambda f: volts(f, 11))
    bench.fault("supply", fault)
    if fault != "drop":
        bench.wait(broken)
    bench.hands(supply_v=14.0)
    changed = time.monotonic()
    bench.fault("supply", "none")
    bench.wait(lambda f: volts(f, 14))
    bench.wait(lambda f: isinstance(f, Heard) and f.asked > changed + LATE_S)  # nothing can come later than that
    after = [f for at, f in bench.heard if isinstance(f, Heard) and f.asked > changed]
    assert after and all(volts(f, 14) for f in after)


def test_something_else_at_the_address_is_not_believed(bench):
    session = Session(bench.address("supply").address, definitions()["simulated-counter"])
    with pytest.raises(LineFault, match="something else answers at its address: 'SIMULATED,SUPPLY"):
        session.open()
    assert not session.is_open


def test_the_error_queue_is_told_in_words(bench):
    session = Session(bench.address("wattmeter").address, definitions()["simulated-wattmeter"])
    session.open()
    assert session.error() == ""
    bench.simulated.lines["wattmeter"].instrument.answer("BOGUS?")
    assert session.error() == "Undefined header"
    session.close()
    with pytest.raises(LineFault, match="the line is closed"):
        session.values()


def test_a_real_unit_is_seen_through_all_four_lines(bench):
    bench.hands(keyed=True, tone=True, channel=7, mode="fm", supply_v=13.2)
    bench.until_it_stands()
    truth = bench.simulated.unit.output()
    found = {}
    for line in ("wattmeter", "counter", "modulation-meter", "supply"):
        session = Session(bench.address(line, 2000).address, definitions()[f"simulated-{line}"])
        session.open()
        found |= session.values()[2]
        session.close()
    assert found["power"] == pytest.approx(truth.mean_w, rel=0.02) and found["pep"] == pytest.approx(
        truth.crest_w, rel=0.03
    )
    assert found["frequency"] == pytest.approx(27.035e6 * (1 + 2.6e-6), abs=1500)
    assert found["deviation"] == pytest.approx(truth.deviation_hz, rel=0.03) and found["depth"] < 2
    assert found["volts"] == pytest.approx(13.2, abs=0.05) and found["amps"] == pytest.approx(truth.amps, rel=0.02)


def traced(bench, line, name):
    """The file of a trace of the simulated bench, and every figure that comes out of it."""
    definition = definitions()[f"simulated-{line}"]
    ask = next(t for t in definition.traces if t.name == name)
    session = Session(bench.address(line, 2500).address, definition)
    session.open()
    file, data = written(ask.kind, ask.name, *session.trace(ask))
    session.close()
    return file, data


def test_a_trace_comes_over_the_line_as_the_file_that_is_read_like_any_other(bench, tmp_path):
    def figures(line, name, **told):
        file, data = traced(bench, line, name)
        (tmp_path / file).write_bytes(data)
        found = analyse(as_envelope(read(tmp_path / file)), Options(**told))
        return {r.quantity: r.value for r in found.readings}

    bench.hands(keyed=True, tone=True, channel=19, mode="am", supply_v=13.2, load_swr=1.6)
    bench.until_it_stands()
    truth = bench.simulated.unit.output()
    assert figures("scope", "Envelope")["am_depth"] == pytest.approx(100 * truth.depth, abs=0.5)
    close = figures("analyser", "Beside the carrier")
    assert 2000 < close["occupied_bandwidth"] < 3000
    bench.hands(tone=False)
    wide = figures("analyser", "Harmonics", path_loss_db=50.2)
    assert wide["carrier_power"] == pytest.approx(truth.carrier_w, rel=0.05)
    assert wide["harmonic_2"] == pytest.approx(-62 + 0.4, abs=0.6)  # its sampler is 0.4 dB stronger at 54 MHz
    bench.hands(keyed=False)
    aerial = figures("network-analyser", "Aerial", nominal_hz=27.185e6)
    assert aerial["swr_minimum"] == pytest.approx(1.6, rel=0.01)
    assert aerial["resonant_frequency"] == pytest.approx(27.185e6, abs=30e3)


def test_an_instrument_of_traces_only_is_polled_traced_and_told_when_it_cannot(bench):
    poller = bench.poll("scope", timeout_ms=3000)  # four thousand points on a busy machine
    assert bench.wait(lambda f: isinstance(f, Heard)).values == {}
    poller.run_errand(AskTrace(id="one", instrument="scope", trace="Envelope"))
    found = bench.wait(lambda f: isinstance(f, Traced))
    assert found.id == "one" and found.sentence == "" and len(found.values) == 4001
    poller.run_errand(AskTrace(id="two", instrument="scope", trace="Moon"))
    assert bench.wait(lambda f: isinstance(f, Traced) and f.id == "two").sentence == "it has no trace 'Moon'"
    bench.fault("scope", "overload")
    poller.run_errand(AskTrace(id="three", instrument="scope", trace="Envelope"))
    assert bench.wait(lambda f: isinstance(f, Traced) and f.id == "three").sentence.startswith("overload")
    bench.fault("scope", "time-out")
    bench.wait(broken)
    poller.run_errand(AskTrace(id="four", instrument="scope", trace="Envelope"))
    assert "no whole answer" in bench.wait(lambda f: isinstance(f, Traced) and f.id == "four").sentence
    bench.fault("scope", "none")
    bench.wait(lambda f: isinstance(f, Heard))


def test_a_serial_line_is_read_by_the_same_file():
    master, slave = pty.openpty()
    definition = Definition(
        title="x", kind="supply", identity="PTY", timeout_ms=1500, baud_rate=9600, errors="",
        asks=(Ask(command="MEAS:VOLT?", gives=(Gives(value="volts"),)),),
    )  # fmt: skip

    heard = threading.Event()

    def answer():
        with os.fdopen(master, "rb+", buffering=0) as line:
            for wanted, reply in ((b"*IDN?", b"PTY,1\n"), (b"MEAS:VOLT?", b"13.81\n")):
                asked = b""
                while not asked.endswith(b"\n"):
                    asked += line.read(1)
                assert asked.strip() == wanted
                line.write(reply)
            heard.wait(60)

    device = threading.Thread(target=answer)
    device.start()
    session = Session(Address("p", "p", f"ASRL{os.ttyname(slave)}::INSTR", definition).address, definition)
    session.open()
    assert session.identity == "PTY,1" and session.values()[2] == {"volts": 13.81}
    session.close()
    heard.set()
    device.join()
    os.close(slave)


def test_a_usb_line_is_found_and_read_and_a_pulled_lead_is_told():
    """Below PyUSB stands a device of the Test & Measurement Class; a process of its own, since PyVISA looks for USB
    once."""
    run = subprocess.run(
        [sys.executable, "-m", "tests.bench.usb_stand_in"], capture_output=True, text=True, check=False
    )
    assert run.returncode == 0, run.stderr
    told = json.loads(run.stdout)
    assert told["address"].startswith("USB0::4660::22136::SN7") and told["identity"] == "SIMULATED,WATTMETER,SN7,1"
    assert told["values"] == {"power": 3.81, "reflected": 0.012, "pep": 3.84}
    assert told["fault"] == "its lead is out, or it is off" and not told["open"]


@pytest.mark.parametrize(
    "wanted",
    [
        {"fault": "ghost"},
        {"channel": 99},
        {"keyed": 3},
        {"line": "x"},
        {"jump": True},
        {"supply_v": "12"},
        {"mode": "usb"},
    ],
)
def test_hands_that_cannot_do_it_are_told_so(bench, wanted):
    before = bench.simulated.unit.hands
    with pytest.raises(ValueError, match=r"\w+ .*"):
        bench.hands(**wanted)
    assert bench.simulated.unit.hands == before


def test_an_instrument_that_says_more_than_it_was_asked_never_answers_for_another_question():
    """Each answer is followed by one that nobody asked for: 99 V, which is never true."""

    def talk(line):
        with line:
            while data := line.recv(400):
                for question in data.decode().split():
                    answer = "CHATTY,1" if question == "*IDN?" else "11.0"
                    line.sendall(f"{answer}\n99.0\n".encode())

    with socket.create_server(("127.0.0.1", 0)) as server:
        talker = threading.Thread(target=lambda: talk(server.accept()[0]), daemon=True)
        talker.start()
        asks = tuple(Ask(command=f"V{n}?", gives=(Gives(value=name),)) for n, name in enumerate(("volts", "amps")))
        chatty = Definition(title="Chatty", kind="supply", identity="CHATTY", timeout_ms=800, asks=asks)
        session = Session(f"TCPIP::127.0.0.1::{server.getsockname()[1]}::SOCKET", chatty)
        session.open()
        for _ in range(5):
            asked, answered, values = session.values()
            assert values == {"volts": 11.0, "amps": 11.0} and asked <= answered <= time.monotonic()
        session.close()
        talker.join(5)


@pytest.mark.parametrize(
    ("answer", "wanted", "figures"),
    [
        ("27,185,000", 1, (27185000.0,)), ("27,185,000.5", 1, (27185000.5,)), ("27,000", 1, (27000.0,)),
        ("+1,234,567", 1, (1234567.0,)), ("27185000", 1, (27185000.0,)), ("2.7185E7", 1, (27185000.0,)),
        ("3.8,0.01,4.1", 3, (3.8, 0.01, 4.1)), ("3.8,0.01,4.1", 1, (3.8, 0.01, 4.1)), ("12,100", 2, (12.0, 100.0)),
    ],
)  # fmt: skip
def test_figures_with_their_thousands_set_off_are_read(answer, wanted, figures):
    assert figures_of(answer, wanted) == figures


@pytest.mark.parametrize(
    ("answer", "wanted"), [("27,185", 1), ("27,185,000,3.8", 2), ("27,185.0,3", 2), ("", 1), ("1,,2", 1)]
)
def test_figures_that_may_be_one_or_several_are_refused(answer, wanted):
    with pytest.raises(NotAFigure):
        figures_of(answer, wanted)


@pytest.mark.parametrize("port", [0, 70000, 10**12])
def test_a_port_that_there_cannot_be_is_a_sentence(port):
    with pytest.raises(LineFault, match=r"port|address"):
        Session(f"TCPIP::127.0.0.1::{port}::SOCKET", definitions()["simulated-supply"]).open()
