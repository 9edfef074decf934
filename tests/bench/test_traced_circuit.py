"""Whole traces against the simulated circuit, which shares no code with the engine and does not know how it thinks."""

import time

import pytest

from tests.bench.probing import seen_at
from tests.core.tracing_trials import engine_of
from young_spark.bench.simulator.circuit import BUILDS, FAULTS, Circuit, faults_of
from young_spark.core.trace import Engine, Seen, advised, shipped_chain

pytestmark = pytest.mark.long

FACTS = (
    "output",
    "current_tx",
    "mutes",
    "receive",
    "speech",
    "keys",
)  # what check-in and first power tell, where the unit has it
MOST = 5
COMPANY = [("driver_open", "driver_resistor"), ("final_short", "fuse"), ("tx_decoupler", "tx_feed_resistor")]


def traced(engine: Engine, faults: tuple[str, ...]) -> tuple[bool, int, list[Seen]]:
    """Whether the trace stands at a guilty stage after at most five probes, and how many it took."""
    circuit = Circuit(BUILDS[engine.chain.id], faults)
    guilty = {engine.chain.by_fault[f].stage for f in faults}
    seen = [Seen(probe=p, answer=seen_at(circuit, p)) for p in FACTS if p in engine.chain.by_probe]
    for probes in range(MOST + 1):
        first, share = next(iter(engine.by_stage(engine.belief(seen)).items()))
        following = advised(engine, seen)
        if share >= 0.9 or probes == MOST or not following:
            return first in guilty, probes, seen
        lethal = {p.id for p in engine.chain.probes if p.risk == "lethal"}
        assert following[0].probe not in lethal
        seen.append(Seen(probe=following[0].probe, answer=seen_at(circuit, following[0].probe)))
    raise AssertionError


def complained_of(name: str, fault: str) -> bool:
    """Whether anybody would bring it in: a stage that still drives the next one hard enough has no symptom."""
    chain, circuit = shipped_chain(name), Circuit(BUILDS[name], (fault,))
    return any(seen_at(circuit, p) != chain.by_probe[p].answers[0] for p in FACTS if p in chain.by_probe)


def test_a_healthy_circuit_answers_healthy_at_every_point():
    for name, build in BUILDS.items():
        for probe in (p for p in shipped_chain(name).probes if not p.told):
            assert seen_at(Circuit(build), probe.id) == probe.answers[0], (name, probe.id)


@pytest.mark.parametrize("name", list(BUILDS))
def test_most_faults_are_found_within_five_probes(name):
    engine = engine_of(name)
    cases = [(f,) for f in faults_of(name) if complained_of(name, f)]
    cases += [pair for pair in COMPANY if set(pair) <= set(faults_of(name))]
    assert len(cases) >= 25
    found = {faults: traced(engine, faults) for faults in cases}
    missed = {
        faults: [(s.probe, s.answer) for s in seen[5:]] for faults, (right, _, seen) in found.items() if not right
    }
    assert len(missed) <= 0.2 * len(cases), (len(missed), len(cases), missed)


@pytest.mark.parametrize("name", list(BUILDS))
def test_a_tone_at_the_socket_goes_past_the_microphone_for_the_chain_as_for_the_circuit(name):
    engine = engine_of(name)
    toned = [p for p in engine.chain.probes if p.kind == "audio"]
    numbers = {h.name: n for n, h in enumerate(engine.hypotheses)}
    handheld = name.endswith("handheld")  # its microphone has no wire of its own
    for fault in ("cartridge", "cartridge_weak", *(() if handheld else ("mic_wire",))):
        circuit = Circuit(BUILDS[name], (fault,))
        assert {engine.expected[engine.number[p.id]][numbers[fault]] for p in toned} == {"good"}
        assert {seen_at(circuit, p.id) for p in toned} == {"good"}


# what two that know the trade may differ in: how far a stage that is driven hard hides a weak one before it, what shows
# before it is warm
OF_DEGREE = [{"good", "weak"}, {"works", "weak"}, {"normal", "low"}, {"weak", "dead"}, {"changes", "no_change"}]


@pytest.mark.parametrize("name", list(BUILDS))
def test_the_chain_expects_what_the_circuit_shows(name):
    """Answer by answer, every fault at every probe: where they part, neither calls dead what the other calls well."""
    engine = engine_of(name)
    numbers = {h.name: n for n, h in enumerate(engine.hypotheses)}
    both = {
        (fault, probe.id): {engine.expected[engine.number[probe.id]][numbers[fault]], seen_at(circuit, probe.id)}
        for fault, circuit in (
            (f, Circuit(BUILDS[name], (f,), hot=not FAULTS[f])) for f in faults_of(name) if f in numbers
        )
        for probe in engine.chain.probes
        if not probe.told
    }
    parted = {at: answers for at, answers in both.items() if len(answers) > 1}
    assert len(both) > 1500 and len(parted) < 0.02 * len(both)
    assert {at: answers for at, answers in parted.items() if answers not in OF_DEGREE} == {}


def test_the_unit_on_the_bench_does_what_its_inside_does(bench):
    """The wattmeter's power, the supply's current and the points that a hand probes come from one circuit."""
    bench.hands(keyed=True, inside="whole", fault="healthy")
    bench.until_it_stands()
    whole = bench.hands(warm=0)
    gone = bench.hands(inside="driver_open")
    assert (
        gone["out"]["carrier_w"] < 0.01 * whole["out"]["carrier_w"] and gone["out"]["amps"] < 0.5 * whole["out"]["amps"]
    )
    assert (
        gone["points"]["tx"] == whole["points"]["tx"] and gone["points"]["driver"] == "0 mW" != gone["points"]["buffer"]
    )
    assert bench.hands(inside="final_short")["out"]["amps"] > 1.35 * whole["out"]["amps"]
    assert 0 < bench.hands(inside="reg_dead")["out"]["amps"] < gone["out"]["amps"]
    assert bench.hands(inside="fuse")["out"]["amps"] == pytest.approx(0, abs=0.01)
    shorted = bench.hands(inside="tx_decoupler")
    assert float(shorted["points"]["tx"].split()[0]) < 1 and shorted["points"]["tx to ground, off"] == "0.2 Ω"
    with pytest.raises(ValueError, match="has no part"):
        bench.hands(inside="gremlin")


def watts(bench, **hands):
    return bench.hands(**hands)["out"]["carrier_w"]


def test_what_fails_when_warm_and_what_comes_and_goes_do_so_by_themselves(bench):
    bench.hands(keyed=True, inside="whole", fault="healthy")
    bench.until_it_stands()
    healthy = watts(bench, warm=0)
    assert watts(bench, inside="final_fade", warm=0) > 0.8 * healthy and watts(bench, warm=1) < 0.5 * healthy
    assert watts(bench, warm=0) > 0.8 * healthy  # cooled, it is well again
    bench.hands(inside="driver_choke")
    held = [watts(bench) for _ in range(20)]
    bench.hands(tap=True)
    shaken = []
    while len(shaken) < 200 and min(shaken, default=9.0) > 0.1:
        time.sleep(0.02)
        shaken.append(watts(bench))
    assert max(held) > 0.8 * healthy and min(shaken) < 0.1
    company = bench.hands(inside="driver_open+driver_resistor")
    assert company["out"]["carrier_w"] < 0.01 * healthy


def test_the_mobile_on_the_bench_can_be_any_of_six_builds(bench):
    assert len(BUILDS) == 6 and all(len(faults_of(name)) >= 25 for name in BUILDS)
    for name in BUILDS:
        told = bench.hands(keyed=True, build=name, inside="whole")
        assert set(told["insides"]) == {"whole", *faults_of(name)} and told["points"]["output"] != "0 W"
    gone = bench.hands(build="cb-am-ssb-mobile", inside="if_dead")
    assert gone["points"]["tx_if"] == "0 mV" != gone["points"]["balanced"] and gone["out"]["carrier_w"] < 0.05
    with pytest.raises(ValueError, match="has no part"):
        bench.hands(build="home-built-cw-am", inside="vco_dead")
    with pytest.raises(ValueError, match="no mobile is built as"):
        bench.hands(build="steam")
