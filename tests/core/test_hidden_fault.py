"""A hidden fault: the same draw hides the same one, its answers are the chain's, and the best way finds it."""

import pytest

from tests.core.tracing_trials import engine_of
from young_spark.core.trace import Seen
from young_spark.core.trace.hidden import RARITIES, hidden
from young_spark.core.trace.next_probe import COVERS_MIN, TURN_MIN, can_be_made

CHAINS = ("cb-am-mobile", "valve-linear", "hf-solid-state", "transistor-linear")


@pytest.mark.parametrize("chain", CHAINS)
def test_a_draw_hides_one_fault_that_shows_and_is_not_seen_at_once(chain):
    engine = engine_of(chain)
    healthy = {p.id: p.answers[0] for p in engine.chain.probes}
    for draw in range(12):
        found = [hidden(engine, rarity, draw) for rarity in RARITIES]
        assert [f.fault for f in found] == [hidden(engine, r, draw).fault for r in RARITIES]
        shares = [engine.prior[f.number] for f in found]
        assert shares == sorted(shares, reverse=True)  # often, sometimes, rarely
        for fault in found:
            assert any(s.answer != healthy[s.probe] for s in fault.told)
            assert engine.settled(engine.belief(fault.told)) is None


@pytest.mark.parametrize("chain", CHAINS)
def test_the_best_way_ends_at_the_stage_or_where_nothing_tells_more(chain):
    engine, right = engine_of(chain), 0
    for draw in range(20):
        fault = hidden(engine, "sometimes", draw)
        way = fault.best_way()
        assert way.looks and way.minutes >= len(way.looks) * TURN_MIN
        settled = engine.settled(engine.belief((*fault.told, *way.looks)))
        assert settled in {fault.stage, None}
        right += settled == fault.stage
    assert right >= 14


def test_where_nothing_comes_out_there_is_nothing_to_count():
    engine = engine_of("cb-am-mobile")
    dead = [Seen(probe="output", answer="dead")]
    counter = engine.chain.by_probe["on_frequency"]
    assert not can_be_made(counter, dead) and can_be_made(counter, [Seen(probe="output", answer="weak")])
    for draw in range(20):
        fault = hidden(engine, "often", draw)
        if dead[0] in fault.told:
            assert counter.id not in {s.probe for s in fault.told} | {p.id for p in fault.open_probes(())}


def test_looks_are_priced_as_at_the_bench_and_nothing_lethal_is_offered():
    fault = hidden(engine_of("valve-linear"), "often", 1)
    chain = fault.engine.chain
    assert not [p.id for p in fault.open_probes(()) if chain.is_lethal(p)]
    inside = [p for p in fault.open_probes(()) if p.covers][:2]
    first, both = fault.way((inside[0].id,)), fault.way((inside[0].id, inside[1].id))
    assert first.minutes == TURN_MIN + inside[0].minutes + inside[0].fragile + COVERS_MIN  # the covers come off once
    assert both.minutes - first.minutes == TURN_MIN + inside[1].minutes + inside[1].fragile
    assert fault.way((inside[0].id, inside[0].id)) == first
