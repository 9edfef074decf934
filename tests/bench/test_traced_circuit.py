"""Whole traces against the simulated circuit, which shares no code with the engine and does not know how it thinks."""

import time

import pytest

from tests.bench.probing import seen_at
from tests.core.tracing_trials import engine_of
from young_spark.bench.simulator.insides import BUILDS, faults_of, opened
from young_spark.bench.simulator.insides.small_set import SMALL_SETS
from young_spark.core.trace import Engine, Probe, Seen, advised, shipped_chain
from young_spark.core.trace.next_probe import can_be_made

pytestmark = pytest.mark.long

FACTS = (
    "output",
    "current_tx",
    "mutes",
    "receive",
    "speech",
    "keys",
    "plate_current",
    "amp_current",
    "clicks",
    "relays_click",
    "b80_power",
    "b40_power",
    "b20_power",
    "b10_power",
)  # what check-in and first power tell, where the unit has it
MOST = 5
COMPANY = [("driver_open", "driver_resistor"), ("final_short", "fuse"), ("tx_decoupler", "tx_feed_resistor")]


def traced(engine: Engine, faults: tuple[str, ...]) -> bool:
    """Whether the trace stands at a guilty stage after at most five probes, none of them barred."""
    circuit = opened(engine.chain.id, faults, hot=False)
    guilty = {engine.chain.by_fault[f].stage for f in faults}
    seen = [Seen(probe=p, answer=seen_at(circuit, p)) for p in FACTS if p in engine.chain.by_probe]
    for probes in range(MOST + 1):
        first, share = next(iter(engine.by_stage(engine.belief(seen)).items()))
        following = [engine.chain.by_probe[a.probe] for a in advised(engine, seen)]
        barred = [engine.chain.is_lethal(p) for p in following]
        assert not (barred and barred[0]) or all(barred), "a barred look stands before a safe one"
        if share >= 0.9 or probes == MOST or all(barred):
            return first in guilty
        seen.append(Seen(probe=following[0].id, answer=seen_at(circuit, following[0].id)))
    raise AssertionError


def looked_at(name: str) -> list[Probe]:
    """The probes of a chain that a hand makes, none at a point that is barred."""
    chain = shipped_chain(name)
    return [p for p in chain.probes if not p.told and not chain.is_lethal(p)]


def complained_of(name: str, fault: str) -> bool:
    """Whether anybody would bring it in: a stage that still drives the next one hard enough has no symptom."""
    chain, circuit = shipped_chain(name), opened(name, (fault,), hot=False)
    return any(seen_at(circuit, p) != chain.by_probe[p].answers[0] for p in FACTS if p in chain.by_probe)


def test_a_healthy_circuit_answers_healthy_at_every_point():
    for name in BUILDS:
        for probe in looked_at(name):
            assert seen_at(opened(name, (), hot=False), probe.id) == probe.answers[0], (name, probe.id)


@pytest.mark.parametrize("name", list(BUILDS))
def test_most_faults_are_found_within_five_probes(name):
    engine = engine_of(name)
    assert set(faults_of(name)) <= set(engine.chain.by_fault)
    cases = [(f,) for f in faults_of(name) if complained_of(name, f)]
    cases += [pair for pair in COMPANY if set(pair) <= set(faults_of(name))]
    assert len(cases) >= 25
    missed = [faults for faults in cases if not traced(engine, faults)]
    assert len(missed) <= 0.15 * len(cases), (len(missed), len(cases), missed)


@pytest.mark.parametrize("name", list(SMALL_SETS))
def test_a_tone_at_the_socket_goes_past_the_microphone_for_the_chain_as_for_the_circuit(name):
    engine = engine_of(name)
    toned = [p for p in engine.chain.probes if p.kind == "audio"]
    numbers = {h.name: n for n, h in enumerate(engine.hypotheses)}
    handheld = name.endswith("handheld")  # its microphone has no wire of its own
    for fault in ("cartridge", "cartridge_weak", *(() if handheld else ("mic_wire",))):
        circuit = opened(name, (fault,), hot=False)
        assert {engine.expected[engine.number[p.id]][numbers[fault]] for p in toned} == {"good"}
        assert {seen_at(circuit, p.id) for p in toned} == {"good"}


def only_warm(name: str, fault: str) -> bool:
    """Whether it shows only in a unit that is warm."""
    return (
        opened(name, (fault,), hot=False).inside()
        == opened(name, (), hot=False).inside()
        != (opened(name, (fault,), hot=True).inside())
    )


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
        for fault, circuit in ((f, opened(name, (f,), hot=only_warm(name, f))) for f in faults_of(name) if f in numbers)
        for probe in looked_at(name)
        if can_be_made(probe, [Seen(probe="output", answer=seen_at(circuit, "output"))])
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


def test_each_unit_on_the_bench_can_be_any_of_its_builds(bench):
    assert len(BUILDS) == 10 and all(len(faults_of(name)) >= 25 for name in BUILDS)
    for name, build in BUILDS.items():
        told = bench.hands(kind=build.kind)
        assert name in told["builds"] and told["hands"]["build"] == next(iter(told["builds"]))
        told = bench.hands(keyed=True, build=name, inside="whole")
        assert set(told["insides"]) == {"whole", *faults_of(name)} and told["points"]["output"] != "0 W"
    assert bench.hands(kind="mobile", inside="driver_open")["hands"]["inside"] == "driver_open"
    gone = bench.hands(build="cb-am-ssb-mobile", inside="if_dead", keyed=True)
    assert gone["points"]["tx_if"] == "0 mV" != gone["points"]["balanced"] and gone["out"]["carrier_w"] < 0.05
    with pytest.raises(ValueError, match="has no part"):
        bench.hands(build="home-built-cw-am", inside="vco_dead")
    with pytest.raises(ValueError, match="no mobile is built as"):
        bench.hands(build="valve-linear")


def test_a_part_that_is_gone_in_the_amplifier_shows_on_its_meters_and_at_its_socket(bench):
    bench.hands(kind="amplifier")
    bench.hands(keyed=True, drive_w=40.0)
    bench.until_it_stands()
    whole = bench.hands()
    worn = bench.hands(inside="final_valve")
    assert worn["out"]["carrier_w"] < 0.6 * whole["out"]["carrier_w"]
    assert worn["amplifier"]["plate_a"] < 0.6 * whole["amplifier"]["plate_a"]
    unfed = bench.hands(inside="ht_fuse")
    assert unfed["amplifier"]["plate_v"] == unfed["amplifier"]["plate_a"] == 0 and unfed["out"]["carrier_w"] < 0.01
    assert unfed["amplifier"]["grid_a"] > 1.3 * whole["amplifier"]["grid_a"]  # the plates take nothing any more
    unkeyed = bench.hands(inside="key_wire")
    assert unkeyed["out"]["carrier_w"] == pytest.approx(40.0, rel=0.05)  # the exciter's own, straight through
    assert bench.hands(inside="relay_in_contact")["amplifier"]["input_swr"] > 3
    modules = bench.hands(kind="modules")
    bench.hands(keyed=True)
    bench.until_it_stands()
    assert modules["hands"]["build"] == "transistor-linear"
    whole, half = bench.hands(inside="whole"), bench.hands(inside="a_dead")
    assert half["out"]["carrier_w"] == pytest.approx(whole["out"]["carrier_w"] / 4, rel=0.05)  # of a hybrid combiner
    assert 0.45 < half["out"]["amps"] / whole["out"]["amps"] < 0.65
    assert bench.hands(inside="fuse")["out"]["amps"] == pytest.approx(0, abs=0.01)
    bench.hands(kind="transmitter")
    assert bench.hands(keyed=True)["out"]["amps"] == 0  # the mains feed it
