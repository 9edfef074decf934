"""Chains as data: what ships is whole, what is broken is named with its line, and answers follow from the graph."""

import pytest

from young_spark.core.gear import Model, models
from young_spark.core.ground import BadKnowledge
from young_spark.core.trace import Engine, Seen, advised, chain_from, chain_names, shipped_chain
from young_spark.core.trace.answers import expected_answer, states_of
from young_spark.core.trace.drawing import BadDrawing, drawn
from young_spark.core.trace.refining import refined, unknown_names, weak_points

NAMES = {
    "cb-am-mobile",
    "cb-am-ssb-mobile",
    "cb-fm-mobile",
    "cb-fm-handheld",
    "cb-valve-base",
    "uhf-fm-mobile",
    "hf-solid-state",
    "hf-vhf-solid-state",
    "hf-hybrid-valve-final",
    "ten-metre-mobile",
    "valve-am-plate-modulated",
    "valve-linear",
    "transistor-linear",
    "home-built-cw-am",
}

SMALL = """
title = "a small set"
output = "final"
stages = [
  { id = "rail", name = "Rail", kind = "rail" },
  { id = "osc", name = "Oscillator", needs = ["rail"] },
  { id = "driver", name = "Driver", after = ["osc"], needs = ["rail"] },
  { id = "final", name = "Final", after = ["driver"] },
]
faults = [
  { id = "rail_short", stage = "driver", name = "capacitor shorted", pulls = ["rail"] },
  { id = "osc_dead", stage = "osc", name = "crystal stopped" },
  { id = "driver_weak", stage = "driver", name = "driver weak", effect = "weak", stress = ["warm"] },
  { id = "final_open", stage = "final", name = "final open", current = "no_rise" },
]
functions = [{ id = "receive", name = "receive", shows_at = ["osc"] }]
probes = [
  { id = "rail_v", kind = "dc", at = "rail", what = "Rail", unit = "V", good = [7.5, 8.5], dead_below = 2 },
  { id = "osc_rf", kind = "level", at = "osc", what = "RF of the oscillator" },
  { id = "out", kind = "level", at = "final", what = "Power", unit = "W", good = [3, 5] },
  { id = "receive", kind = "function", function = "receive", what = "Receive works" },
  { id = "current", kind = "current", at = "final", what = "Current when keyed" },
  { id = "final_test", kind = "part", what = "Final out of circuit", tests = { final_open = "bad" } },
  { id = "warm", kind = "stress", stress = "warm", at = "final", what = "Falls when warm" },
]
"""


def small(text: str = SMALL):
    return chain_from(text, "small", "small.toml")


@pytest.mark.parametrize("name", sorted(NAMES))
def test_what_ships_is_whole_and_tells_its_faults_apart(name):
    assert set(chain_names()) == NAMES
    chain = shipped_chain(name)
    made = [p for p in chain.probes if not p.told]
    assert (
        12 <= len(chain.stages) <= 45
        and 40 <= len(chain.faults) <= 120
        and len(made) >= 30
        and len(chain.probes) <= 105
    )
    engine = Engine(chain)
    shown: dict[tuple[str, ...], set[str | None]] = {}
    for n, hypothesis in enumerate(engine.hypotheses[:-1]):
        row = tuple(engine.expected[engine.number[p.id]][n] for p in made)
        assert row != tuple(p.answers[0] for p in made), f"{hypothesis.name} shows nowhere"
        shown.setdefault(row, set()).add(hypothesis.stage)
    assert all(len(stages) == 1 for stages in shown.values())
    for probe in chain.probes:  # a question has two answers as the hand sees them, not as the part is
        if probe.kind in {"part", "look"} and probe.what.endswith("?"):
            assert set(probe.words) == set(probe.answers), probe.id
    if "valve" in name or name == "cb-valve-base":
        assert any(p.risk == "lethal" for p in chain.probes)


@pytest.mark.parametrize(
    ("fault", "expected"),
    [
        ("rail_short", "dead dead dead dead no_rise good no_change"),
        ("osc_dead", "good dead dead dead no_rise good no_change"),
        ("driver_weak", "good good weak works low good changes"),
        ("final_open", "good good dead works no_rise bad no_change"),
    ],
)
def test_answers_follow_from_the_graph(fault, expected):
    """Worked by hand: a pulled rail kills what needs it; what is dead behind the oscillator leaves receive alone."""
    chain = small()
    faults = (chain.by_fault[fault],)
    states = states_of(chain, faults)
    assert [expected_answer(chain, faults, p, states) for p in chain.probes] == expected.split()


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ('after = ["osc"], needs', 'after = ["final"], needs', "line 7: driver: feeds itself: driver → final → driver"),
        ('needs = ["rail"] },\n  { id = "driver"', 'needs = ["rial"] },\n  { id = "driver"', "line 6: osc: no stage is "
"called 'rial'; did you mean 'rail'?"),
        ('stage = "osc", name', 'stage = "oscc", name', "line 12: osc_dead: no stage is called 'oscc'"),
        ('tests = { final_open = "bad" }', 'tests = { final_shut = "bad" }', "line 23: final_test: no "
"fault is called 'final_shut'"),
        ('tests = { final_open = "bad" }', 'tests = { final_open = "bad" }, '
'words = { well = "it starts" }', "line 23: final_test: it has words "
"for 'well', and answers good, bad"),
        ('kind = "function", function = "receive"', 'kind = "function"', "line 21: receive: a probe "
"of kind function needs function"),
        ('effect = "weak"', 'effect = "poor"', "line 13: driver_weak: effect"),
        ('unit = "V", good = [7.5, 8.5]', 'unit = "V", good = [8.5, 7.5]', "line 18: rail_v: its range needs a "
"unit, and runs from low to high"),
        ('id = "osc_rf"', 'id = "rail_v"', "rail_v: two probes are called so"),
        ('output = "final"', 'output = "aerial"', "line 3: aerial: no stage is called 'aerial'"),
        ('title = "a small set"', 'title = "a small set"\nuse = [{ block = "suply_12v" }]', "line 3: no block is "
"called 'suply_12v'; did you mean 'supply_12v'?"),
        ('id = "final_open"', 'id = "Final open"', "id: String should match pattern"),
        ('title = "a small set"', "title = a small set", "line 2"),
    ],
)  # fmt: skip
def test_what_is_broken_is_named_with_its_line(old, new, told):
    assert SMALL.count(old) == 1
    with pytest.raises(BadKnowledge) as refused:
        small(SMALL.replace(old, new))
    assert str(refused.value).startswith("small.toml: ") and told in str(refused.value)


def test_a_look_of_a_block_is_lethal_where_high_voltage_is_and_what_is_not_given_is_not_there():
    """A chain that was written before its block had that look, or asked for that name, stays whole."""
    text = SMALL.replace('output = "final"', 'output = "final"\nhigh_voltage = ["*"]') + (
        '[[use]]\nblock = "simple_oscillator"\nprefix = "x_"\ngiven = { rail = "rail" }\n'
        '[[use]]\nblock = "socket"\ngiven = { in = "final", key = "rail" }\n'
    )
    chain = small(text)
    assert (
        chain.by_probe["x_osc_freeze"].risk == "lethal" and "High voltage is near" in chain.by_probe["x_osc_rf"].caution
    )
    assert chain.by_probe["x_crystal_flex"].risk == "low"  # from outside
    assert chain.by_fault["socket_joint"].weakens == ()


def test_a_block_is_used_under_names_of_the_chain():
    text = (
        SMALL + '[[use]]\nblock = "band"\nprefix = "b20_"\nwords = "20 m"\ngiven = { in = "final", rail '
        '= "rail", to = "final" }\n'
    )
    chain = small(text)
    assert (
        chain.by_stage["b20_path"].after == ("final",)
        and chain.by_stage["b20_path"].name == "20 m filters and their switching"
    )
    assert chain.by_probe["b20_power"].function == "b20_band"
    with pytest.raises(BadKnowledge, match=r"band.toml line"):
        small(text.replace('rail = "rail", to', "to"))


STAGES = """
rail Supply 12 V
key Key line
Oscillator
Driver 0.5 W
Final 4 W
audio Microphone amplifier
audio Modulator
"""


def test_a_chain_is_drawn_from_its_stages_and_traces_at_once():
    chain = chain_from(drawn('A "home-built" set', STAGES), "own", "own")
    assert chain.title == 'A "home-built" set' and chain.output == "final"
    assert chain.behind["final"] == {"final", "driver", "oscillator", "supply", "key_line"}
    assert [s.level for s in chain.stages if s.level] == ["12 V", "0.5 W", "4 W"]
    engine = Engine(chain)
    evidence = [
        Seen(probe=p, answer=a)
        for p, a in (
            ("output", "dead"),
            ("oscillator_out", "good"),
            ("driver_out", "dead"),
            ("supply_v", "good"),
            ("key_line_v", "good"),
        )
    ]
    shares = engine.by_stage(engine.belief(evidence))
    assert next(iter(shares)) == "driver" and shares["driver"] > 0.7 and advised(engine, [])
    speech = engine.by_stage(
        engine.belief([Seen(probe="output", answer="good"), Seen(probe="modulation", answer="dead")])
    )
    assert next(iter(speech)) in {"microphone_amplifier", "modulator"}


@pytest.mark.parametrize(("stages", "words"), [
    ("", "no stage of the signal is drawn"),
    ("rail Supply", "no stage of the signal is drawn"),
    ("Oscillator\nFinal\nFinal", "line 3: 'Final' stands there twice"),
    ("4 W", "line 1: '4 W' names no stage"),
    ("\n".join(f"Stage n{n}" for n in range(61)), "61 stages are more"),
])  # fmt: skip
def test_stages_that_make_no_chain_say_why(stages, words):
    with pytest.raises(BadDrawing, match=words):
        drawn("x", stages)


KNOWN = {
    "maker": "Moorside",
    "name": "T1",
    "kind": "set",
    "profiles": [],
    "modes": ["am"],
    "greatest_power_w": 5,
    "stages": [],
    "plan": [],
    "points": [{"probe": "out", "where": "rear left", "good": [1, 2], "level": "1.5 W"}, {"probe": "nowhere"}],
    "notes": [
        {"text": "Crystal stops.", "proven": True, "fault": "osc_dead", "times": 6},
        {"text": "Finals die.", "proven": False, "fault": "final_open", "times": 6},
    ],
}


def test_a_model_refines_its_chain_and_hearsay_counts_little():
    chain, model = small(), Model.model_validate(KNOWN)
    ours = refined(chain, model)
    assert (ours.by_probe["out"].figure.good, ours.by_probe["out"].where) == ((1, 2), "rear left")
    assert ours.by_stage["final"].level == "1.5 W" and chain.by_probe["out"].figure.good == (3, 5)
    before, after = Engine(chain), Engine(ours)
    share = {e: dict(zip([h.name for h in e.hypotheses], e.prior, strict=True)) for e in (before, after)}
    assert share[after]["osc_dead"] / share[after]["driver_weak"] == pytest.approx(6.0)
    assert share[after]["final_open"] / share[after]["driver_weak"] == pytest.approx(2.0)  # said only
    assert [str(u) for u in unknown_names(chain, model)] == ["no probe is called 'nowhere'"]
    told = weak_points(chain, model)
    assert told[1] == "Finals die. Hearsay: counts 2 times." and len(told) == 2


@pytest.mark.parametrize("name", sorted(n for n, m in models().items() if m.chain))
def test_what_shipped_models_say_of_their_chains_is_there(name):
    model = models()[name]
    assert unknown_names(shipped_chain(model.chain), model) == []


def test_a_powered_look_with_the_covers_off_in_valve_gear_is_refused_unless_it_is_lethal():
    text = """
title = "a valve sender"
output = "final"
high_voltage = ["ht"]
stages = [{ id = "ht", name = "HT", kind = "rail" }, { id = "final", name = "Final", needs = ["ht"] }]
faults = [{ id = "flash", stage = "final", name = "final flashed over" }]
probes = [{ id = "plate_rf", kind = "level", at = "final", what = "RF at the plate", covers = true, risk = "high" }]
"""
    with pytest.raises(BadKnowledge, match=r"line 7: plate_rf: covers off and power on"):
        chain_from(text, "sender", "sender.toml")
    assert chain_from(text.replace('"high"', '"lethal"'), "sender", "sender.toml").by_probe["plate_rf"].risk == "lethal"
