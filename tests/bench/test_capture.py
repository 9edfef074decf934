"""Capture against the physics: what stands still is taken, once; what moves or is modulated never."""

from uuid import uuid4

import pytest

from tests.bench.keydowns import key_down, tally, wanted
from young_spark.core.live import (
    RING_S,
    Captured,
    CarrierChanged,
    Misplaced,
    Point,
    RunningWatch,
    Source,
    Taker,
    Unseen,
    Wanted,
)
from young_spark.core.live.definition_file import Gives

pytestmark = pytest.mark.long
KEY_DOWNS = 160  # the bench takes 500


def test_key_downs_of_every_kind_of_unit(capsys):
    found = tally(KEY_DOWNS)
    with capsys.disabled():
        print(f"\n{found}")
    assert found.stood_still > KEY_DOWNS / 4 and found.carriers_taken >= found.stood_still - len(found.missed)
    assert (found.missed, found.unstable, found.modulated, found.twice) == ([], [], [], [])


def test_frequency_and_current_are_what_they_were():
    checked = 0
    for seed in range(60):
        run = key_down(seed)
        for found in run.captured:
            first = next(iter(found.samples.values()))
            truth = run.during(first[0].asked, first[-1].asked)
            if found.quantity == "frequency_error":
                mean = sum(t.frequency_hz for t in truth) / len(truth)
                assert found.values["frequency"] == pytest.approx(mean, abs=6), seed
                checked += 1
            if found.quantity == "supply_current":
                mean = sum(t.amps for t in truth) / len(truth)
                assert found.values["amps"] == pytest.approx(mean, rel=0.012, abs=0.005), seed
                checked += 1
    assert checked > 40


POWER = Source("meter", Gives(value="power", floor=0.02, scatter_percent=0.6))
DEPTH = Source("modulation", Gives(value="depth"))
COUNTER = Source("counter", Gives(value="frequency", scatter=2.0))


class Line:
    """Instruments by hand: each call is one answer of all of them."""

    def __init__(self, sources, rows):
        self.taker, self.at, self.events = Taker(sources), 0.0, []
        self.taker.want(rows)

    def read(self, times=1, **values):
        for _ in range(times):
            for name, value in values.items():
                self.at += 0.05
                source = self.taker.sources[name]
                self.events += self.taker.heard(source.instrument, self.at - 0.02, self.at, {name: value})
        return self

    def taken(self):
        return [e.row for e in self.events if isinstance(e, Captured)]


@pytest.mark.parametrize("after_ms", range(0, 100, 5))
def test_instruments_asked_in_one_rhythm_miss_nothing_whatever_their_order(after_ms):
    """All are asked every 100 ms, and the modulation meter always so much after the others; it takes longest to
    answer."""
    supply = Source("supply", Gives(value="amps", scatter=0.004, scatter_percent=0.5))
    taker = Taker({"power": POWER, "amps": supply, "depth": DEPTH})
    taker.want([Wanted(row="power", quantity="carrier_power"), Wanted(row="current", quantity="supply_current")])
    answers = []
    for beat in range(20):
        asked = 0.1 * beat
        answers += [(asked + 0.015, asked, "meter", {"power": 3.8}), (asked + 0.02, asked, "supply", {"amps": 1.34})]
        answers.append((asked + after_ms / 1e3 + 0.03, asked + after_ms / 1e3, "modulation", {"depth": 0.1}))
    events = [
        e
        for at, asked, name, values in sorted(answers, key=lambda a: a[0])
        for e in taker.heard(name, asked, at, values)
    ]
    taken = {e.row: e.at for e in events if isinstance(e, Captured)}
    assert set(taken) == {"power", "current"} and max(taken.values()) < 0.9


ROWS = [Wanted(row="power", quantity="carrier_power", modulation="off")]


def test_no_window_reaches_over_a_fault_of_the_line():
    line = Line({"power": POWER, "depth": DEPTH}, ROWS).read(4, power=4.0, depth=0.1)
    line.taker.lost("meter")
    line.read(4, power=4.0, depth=0.1)
    assert line.taken() == []
    assert line.read(4, power=4.0, depth=0.1).taken() == ["power"]


def test_a_carrier_without_anything_that_sees_modulation_is_left_to_the_hand():
    line = Line({"power": POWER}, ROWS).read(20, power=4.0)
    assert line.taken() == [] and sum(isinstance(e, Unseen) for e in line.events) == 1


def test_each_is_taken_once_and_again_after_the_carrier_was_gone():
    line = Line({"power": POWER, "depth": DEPTH}, ROWS).read(40, power=4.0, depth=0.1)
    assert line.taken() == ["power"]
    line.read(1, power=0.0).read(20, power=4.0, depth=0.1)
    assert line.taken() == ["power"], "a drop-out of one reading is no unkeying"
    line.read(2, power=0.0).read(20, power=4.0, depth=0.1)
    assert line.taken() == ["power", "power"]
    assert [e.up for e in line.events if isinstance(e, CarrierChanged)] == [True, False, True]


def test_the_counter_decides_which_channel_it_is():
    rows = [
        *wanted(27.185e6)[:2],
        Wanted(row="other", quantity="carrier_power", modulation="off", assigned_hz=26.965e6, here=False),
    ]
    sources = {"power": POWER, "depth": DEPTH, "frequency": COUNTER}
    assert Line(sources, rows).read(20, power=4.0, depth=0.1, frequency=26.96507e6).taken() == ["other"]
    line = Line(sources, rows).read(20, power=4.0, depth=0.1, frequency=27.405e6)
    assert line.taken() == [] and [e.frequency_hz for e in line.events if isinstance(e, Misplaced)] == [27.405e6]


def test_a_watch_keeps_all_around_a_drop_and_little_of_the_hours():
    watch, kept, drops = RunningWatch(uuid4(), {"power": 0.02}), [], []
    for n in range(36_000):  # an hour at ten a second
        at = n / 10
        value = 0.2 if 1800 <= at < 1800.5 else 4.0
        drops += watch.add(Point(at=at, name="power", value=value))
        kept += watch.chunk(at)
    kept += watch.chunk(3600.0, all_of_it=True)
    around = [p for p in kept if abs(p.at - 1800) <= RING_S]
    assert len(around) >= 200 and len(kept) < 3_600 + 260
    assert [d.kind for d in drops] == ["drop", "drop"] and drops[0].lasted is None
    assert drops[-1].lasted == pytest.approx(0.5) and drops[-1].reached == 0.2 and drops[-1].usual == 4.0
    assert len({(p.name, p.at) for p in kept}) == len(kept)


def test_a_joint_that_is_down_for_longer_than_up_is_seen_each_time():
    """Unkeyed for a while, then 4 W for a second and a half, and from then on gone to a twentieth for two seconds of
    three."""
    watch, begins = RunningWatch(uuid4(), {"power": 0.02, "amps": 0.0}), []
    for n in range(600):
        at = n / 10
        up = at >= 8 and (at < 9.5 or (at - 9.5) % 3 >= 2)
        value = 0.0 if at < 8 else 4.0 if up else 0.2
        begins += [d.at for d in watch.add(Point(at=at, name="power", value=value)) if d.lasted is None]
    assert begins == pytest.approx([9.5 + 3 * n for n in range(17)])
