"""A line tried by hand, and the definition that comes of it: against PyVISA's own simulator, which shares nothing with
ours, and beside a poller that owns the line."""

import queue
import threading
import time
from pathlib import Path

import pytest

from young_spark import wire
from young_spark.bench.lines import Lines
from young_spark.bench.open_line import LineFault
from young_spark.bench.poller import Heard
from young_spark.bench.session import Session
from young_spark.bench.trying import tried_anew
from young_spark.core.live import Ask, Definition, Gives, LineManner, definitions, figures_seen, identity_pattern

pytestmark = pytest.mark.long
SERIAL = LineManner(timeout_ms=300, read_termination="\r\n", write_termination="\r\n", baud_rate=9600)
ADDRESSES = {"ASRL7::INSTR": SERIAL, "TCPIP::10.7.0.9::5025::SOCKET": LineManner(timeout_ms=300)}


@pytest.fixture
def library(monkeypatch):
    monkeypatch.setenv("PYVISA_LIBRARY", f"{Path(__file__).with_name('multimeter.yaml')}@sim")


def order(words, address, manner, form="text", times=1):
    return wire.TryLine(id="t", address=address, manner=manner, words=words, form=form, times=times)


@pytest.mark.parametrize(("address", "manner"), list(ADDRESSES.items()), ids=["serial", "lan"])
def test_what_was_tried_and_named_is_then_read_by_its_definition(library, address, manner):
    def tried(words, **how):
        return tried_anew(order(words, address, manner, **how), address)

    who = tried("*IDN?")
    assert who.answers == ("LING FORD,MM-7,0042,1.1",) and identity_pattern(who.answers[0]) == r"^LING\ FORD,MM\-7"
    pair = tried("MEAS:PAIR?", times=3)
    assert [(f.first, f.scatter) for f in figures_seen(pair.answers)] == [(13.82, 0.0), (0.412, 0.0)]
    assert tried("MEAS:PAIR?", form="none").answers == ()
    assert tried("MEAS:PAIR?", form="block").sentence == "it answered with something that is no figure"
    made = Definition(
        title="Multimeter of the test", kind="multimeter", identity=identity_pattern(who.answers[0]), errors="",
        asks=(Ask(command="MEAS:PAIR?", gives=(Gives(value="volts"), Gives(value="amps", index=1))),),
        **manner.model_dump(),
    )  # fmt: skip
    session = Session(address, made)
    session.open()
    assert session.values()[2] == {"volts": 13.82, "amps": 0.412}
    session.close()
    with pytest.raises(LineFault, match="something else answers"):
        Session(address, made.model_copy(update={"identity": "^ANOTHER"})).open()


def test_no_answer_and_no_such_line_are_one_sentence(library):
    wrong_end = SERIAL.model_copy(update={"write_termination": "\n"})
    assert tried_anew(order("*IDN?", "ASRL7::INSTR", wrong_end), "ASRL7::INSTR").sentence.startswith("no whole answer")
    assert tried_anew(order("*IDN?", "ASRL8::INSTR", SERIAL), "ASRL8::INSTR").sentence


@pytest.fixture
def owned(bench, tmp_path):
    """Lines that own the simulated counter, and what they tell."""
    address, told = bench.address("counter").address, queue.SimpleQueue()

    def own(definition):
        talking = wire.Talking(id="c", name="counter", address=address, definition="d", asked=definition)
        lines.own((talking,))
        lines.attend("turning")

    def until(fits):
        began = time.monotonic()
        while time.monotonic() - began < 20:
            if fits(found := told.get(timeout=20)):
                return found
        raise AssertionError("not told")

    lines = Lines(tmp_path, told.put)
    lines.address, lines.until, lines.take = address, until, own
    yield lines
    lines.own(())
    for thread in threading.enumerate():
        if thread.name == "line c":
            thread.join(3)


def test_a_line_that_is_owned_is_tried_between_two_values_by_who_owns_it(bench, owned):
    counter = definitions()["simulated-counter"]
    owned.take(counter)
    owned.until(lambda t: isinstance(t, Heard))
    owned.try_line(order("*IDN?", owned.address, counter.manner, times=3))
    tried = owned.until(lambda t: isinstance(t, wire.Tried))
    assert tried.answers == ("SIMULATED,COUNTER,LF-C-01,1.0",) * 3 and 0 < tried.took_s < 1
    owned.until(lambda t: isinstance(t, Heard))
    # spoken on in another way: only for this one, and the values go on as before
    owned.try_line(order("*IDN?", owned.address, LineManner(timeout_ms=200, write_termination="!")))
    assert owned.until(lambda t: isinstance(t, wire.Tried)).sentence.startswith("no whole answer within 0.2 s")
    owned.until(lambda t: isinstance(t, Heard))


def test_a_line_that_is_asked_in_the_wrong_way_can_be_tried_all_the_same(owned):
    owned.take(definitions()["simulated-supply"])
    owned.until(lambda t: isinstance(t, wire.LineState) and not t.connected)
    owned.try_line(order("*IDN?", owned.address, LineManner()))
    assert owned.until(lambda t: isinstance(t, wire.Tried)).answers[0].startswith("SIMULATED,COUNTER")
    made = definitions()["simulated-counter"].model_copy(update={"title": "Made"})
    owned.take(made)  # how it is asked changed, and nothing else: the line is opened anew
    owned.until(lambda t: isinstance(t, Heard))


def test_a_line_of_the_simulated_bench_that_does_not_run_is_told(owned):
    owned.try_line(order("*IDN?", "simulated:counter", LineManner()))
    assert owned.until(lambda t: isinstance(t, wire.Tried)).sentence == "the simulated bench does not run"
