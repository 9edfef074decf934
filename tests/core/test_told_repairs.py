"""Repairs as they are told, looked into by the program until it stands before the right stage.

The fault is put into the chain's graph from outside (its stage, what it does, what the meters show), beside what the
chain lists: whether the chain knows the part is asked apart."""

import re
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest

from tests.core.tracing_trials import engine_of
from young_spark.core.entry import UNITS
from young_spark.core.trace import Chain, Engine, Probe, Seen, advised, seen_as, shipped_chain
from young_spark.core.trace.answers import expected_answer, states_of
from young_spark.core.trace.chain import Fault, PartProbe
from young_spark.core.trace.complaint import signs_in

pytestmark = pytest.mark.long
TOLD = tomllib.loads((Path(__file__).parent / "cases/told_repairs.toml").read_text("utf-8"))["case"]
MOST = 14


@dataclass(frozen=True)
class Outcome:
    """How one repair went: looks until the hand was led there, and where it settled."""

    name: str
    led_after: int | None
    within: int
    settled: str | None
    right: bool
    part_listed: bool

    @property
    def is_led(self) -> bool:
        return self.led_after is not None and self.led_after <= self.within


class Unit:
    """A unit with the fault of a case in it, asked what each probe shows."""

    def __init__(self, case: dict[str, Any]) -> None:
        self.chain: Chain = shipped_chain(case["chain"])
        at, part = re.compile(case["at"], re.IGNORECASE), re.compile(case.get("part", "$^"), re.IGNORECASE)
        self.right = [s.id for s in self.chain.stages if at.search(s.name)]
        self.parts = [f for f in self.chain.faults if f.stage in self.right and part.search(f.name)]
        self.stage = self.parts[0].stage if self.parts else next(iter(self.right), None)
        weakens = tuple(s for s in ("rx",) if case.get("receive") == "weak" and s in self.chain.by_stage)
        weakens += tuple(s for f in self.parts[:1] for s in f.weakens if s != "rx")  # what it holds down besides
        if self.stage is not None:
            self.fault = Fault(
                id="told", stage=self.stage, name=case["name"], effect="dead" if case["effect"] == "dead" else "weak",
                current=case.get("current"), stress=tuple(case.get("brings", ())), weakens=weakens,
            )  # fmt: skip

    def shows(self, probe: Probe) -> str:
        """What the probe shows: of parts what the listed part that was meant shows, of outputs what the graph gives."""
        if isinstance(probe, PartProbe):
            return next((probe.tests[f.id] for f in self.parts if f.id in probe.tests), probe.answers[0])
        listed = next((probe.exceptions[f.id] for f in self.parts if f.id in probe.exceptions), None)
        return listed or expected_answer(self.chain, (self.fault,), probe, states_of(self.chain, (self.fault,)))


def repaired(case: dict[str, Any]) -> Outcome:
    unit = Unit(case)
    engine = Engine(unit.chain)
    known = [seen_as(unit.chain, one, UNITS) for one in case.get("known", "").split()]
    seen = [*known, *(s for s in signs_in(unit.chain, case["told"]) if s.probe not in {k.probe for k in known})]
    led, looks = None, 0
    while True:
        shares = engine.by_stage(engine.belief(seen))
        first, most = next(iter(shares.items()))
        if led is None and first in unit.right and most >= 0.4:
            led = looks
        following = advised(engine, seen) if engine.settled(engine.belief(seen)) is None and looks < MOST else ()
        if not following or unit.stage is None:
            settled = engine.settled(engine.belief(seen))
            return Outcome(case["name"], led, case["within"], settled, settled in unit.right, bool(unit.parts))
        probe = unit.chain.by_probe[following[0].probe]
        seen.append(Seen(probe=probe.id, answer=unit.shows(probe)))
        looks += 1


def outcomes() -> Iterator[Outcome]:
    return (repaired(case) for case in TOLD)


def test_the_hand_is_led_to_the_right_stage_as_soon_as_a_good_one_goes_there():
    found = list(outcomes())
    late = [o.name for o in found if not o.is_led]
    wrong = [o.name for o in found if o.settled is not None and not o.right]
    assert len(found) == 154
    assert len(late) <= 0.15 * len(found), late
    assert sum(o.right for o in found) >= 0.9 * len(found), [o.name for o in found if not o.right]
    assert len(wrong) <= 0.02 * len(found), wrong


def test_every_part_that_was_meant_is_listed():
    for case in TOLD:
        assert "part" not in case or Unit(case).parts, case["name"]


def test_a_complaint_that_goes_on_speaks_of_the_mode_before_it():
    chain = shipped_chain("ten-metre-mobile")
    assert [(s.probe, s.answer) for s in signs_in(chain, "fm has no modulation, ssb works")] == [
        ("mode_fm", "dead"), ("mode_ssb", "works"),
    ]  # fmt: skip


def test_what_both_ways_use_weakens_receive_too():
    """A socket, a filter or a changeover joint that fails is heard as well; what transmit alone uses is not."""
    engine = engine_of("cb-am-mobile")
    number = {h.name: n for n, h in enumerate(engine.hypotheses)}
    receive = engine.expected[engine.number["receive"]]
    shared = {"socket_joint", "filter_coil", "filter_cap", "changeover_joint", "rx_diode", "aerial_bad"}
    assert {receive[number[f]] for f in shared} == {"weak"}
    assert {receive[number[f]] for f in ("final_open", "driver_weak", "ptt_wire", "trim_off")} == {"works"}


def test_what_idles_draws_its_current_at_rest_without_drive():
    engine = engine_of("hf-solid-state")
    number = {h.name: n for n, h in enumerate(engine.hypotheses)}
    current = engine.expected[engine.number["current_tx"]]
    assert {current[number[f]] for f in ("carrier_dead", "upmix_dead", "link_bad", "driver_open")} == {"low"}
    assert current[number["tx_switch"]] == "no_rise" and current[number["final_both"]] == "high"
    linear = engine_of("valve-linear")
    number = {h.name: n for n, h in enumerate(linear.hypotheses)}
    assert linear.expected[linear.number["grid_current"]][number["rectifier"]] == "high"
