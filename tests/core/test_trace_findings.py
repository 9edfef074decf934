"""What the slip's figures and words say of the probes of a chain; what is not plain says nothing."""

import tomllib
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from young_spark.core.figure import Conditions
from young_spark.core.gear import PlanRow
from young_spark.core.job import ReadingFact
from young_spark.core.trace import Engine, Seen, advised, chain_names, shipped_chain
from young_spark.core.trace.complaint import signs_in
from young_spark.core.trace.evidence import answers_of_readings
from young_spark.core.trace.findings import SlipLine, answers_of_words, confirmed_by, first_look, puts_right

COMPLAINTS = tomllib.loads((Path(__file__).parent / "cases" / "complaints.toml").read_text("utf-8"))
SET, RIG = shipped_chain("cb-am-mobile"), shipped_chain("hf-solid-state")


def told(chain, text, order=1):
    kind, _, words = text.partition(" ")
    stage, _, state = words.rpartition(" ") if kind == "stage" else (None, "", None)
    return SlipLine(id=str(order), order=order, kind=kind, words=words, stage=stage, state=state)


@pytest.mark.parametrize(
    ("chain", "text", "expected"),
    [
        (RIG, "found receive fine", "receive=works"),
        (RIG, "found no receive", "receive=dead"),
        (RIG, "found 40 m is dead", "b40_power=dead"),
        (RIG, "found the 20m weak", "b20_power=weak"),
        (SET, "found modulation weak", "speech=weak"),
        (RIG, "stage pre-driver weak", "predriver_rf=weak"),
        (SET, "stage final dead", "final_rf=dead"),
        (RIG, "found burnt resistor at the driver", "driver_look=seen"),
        (SET, "found base resistors of the driver not burnt", "driver_look=nothing"),
        (SET, "found dry joint at the collector choke of the final", "final_look=seen"),
        (SET, "found fuse blown", "fuse_look=seen"),
        (SET, "found fuse good", "fuse_look=nothing"),
        (RIG, "found final pair tested out of circuit, good", "final_out=good"),
        (SET, "found driver transistor tests open", "driver_out=bad"),
        (SET, "found protection diode measures short", "diode_ohms=short"),
        (SET, "found electrolytic on the regulated rail shorted", "reg_ohms=short"),
        (SET, "found mic cartridge tests good", "shop_mic=good"),
        (SET, "found final Q17 open collector to emitter, out of circuit", "final_out=bad"),
        (SET, "found final Q17 short collector to ground", "final_ohms=short"),
        (SET, "found microphone not the maker's: plug rewired by someone", "last_hand=seen"),
        (SET, "said it died after someone changed a lamp", "last_hand=seen"),
        (SET, "found earlier repair about the driver", "last_hand=seen"),
        # what the owner says counts too, several things of one text
        (SET, "said receive dead", "receive=dead"),
        (SET, "said no output in any mode, receives fine", "output=dead receive=works"),
        (SET, "said gets out weak", "output=weak"),
        (SET, "said dead, no receive no transmit", "receive=dead output=dead"),
        (SET, "said carrier but no modulation", "output=good speech=dead"),
        (SET, "said relay clicks but no output", "mutes=works output=dead"),
        (SET, "said current does not rise when keyed", "current_tx=no_rise"),
        (SET, "said heard on the monitor but no power", "heard_beside=good output=dead"),
        (SET, "said comes and goes when tapped", "board_tap=changes"),
        (SET, "said fades after a minute", "warm_up=changes"),
        (SET, "said only one channel dead", "other_channel=seen"),
        (SET, "said blows fuse when keyed", "fuse_look=seen current_tx=high"),
        (SET, "said works with another mic", "other_mic=bad"),
        (SET, "said nobody hears me", "speech=dead"),
        (SET, "said no modulation since a friend fitted an echo board", "last_hand=seen"),
        (
            RIG,
            "said no power on 10 m, other bands fine",
            "b10_power=dead b80_power=works b40_power=works b20_power=works",
        ),
        (RIG, "said rx ok, draws normal current, 20m dead", "receive=works current_tx=normal b20_power=dead"),
        (shipped_chain("cb-am-ssb-mobile"), "said ssb dead, am fine", "mode_ssb=dead mode_am=works"),
        (shipped_chain("cb-valve-base"), "said valves stay dark", "glow=seen"),
        (shipped_chain("valve-linear"), "said arcs when loading", "arc_power=seen"),
        (shipped_chain("transistor-linear"), "said trips off at full drive", "trip_lamp=seen"),
        (SET, "said cosmetic, wants a new knob", ""),
        # not plain, of no part of the chain, or only what somebody says
        (SET, "found final good but driver bad", ""),
        (SET, "found scratch on the case", ""),
        (SET, "found lamp dead", ""),
        (SET, "found swollen capacitor", ""),
        (SET, "found microphone plug not the maker's", ""),
        (SET, "found protection diode scorched", ""),
        (SET, "found driver", ""),
        (SET, "note fuse blown", ""),
        (SET, "stage kitchen dead", ""),
        (SET, "said dead since it was dropped", ""),
    ],
)
def test_words_that_name_their_part_plainly_are_an_answer(chain, text, expected):
    assert " ".join(f"{a.probe}={a.answer}" for a in answers_of_words(chain, [told(chain, text)])) == expected


@pytest.mark.parametrize(
    ("chain", "symptom", "probe"),
    [
        (SET, "no output", "output"), (SET, "hardly gets out", "output"), (SET, "weak", "output"),
        (SET, "dead after a knock", "output"),
        (SET, "muffled", "speech"), (SET, "no modulation, carrier fine", "speech"),
        (SET, "distorts when warm", "speech"), (SET, "deaf", "receive"),
        (RIG, "40 m is dead", "b40_power"), (RIG, "output low on all bands", "output"), (SET, "smells", None),
        (SET, "not said", None),
    ],
)  # fmt: skip
def test_a_symptom_is_confirmed_where_it_shows(chain, symptom, probe):
    found = confirmed_by(chain, symptom)
    assert (found.id if found else None) == probe
    assert first_look(chain, symptom, {"fuse"}) == found
    assert first_look(chain, symptom, {"fuse", probe}) is None


def test_the_newest_line_of_a_probe_counts():
    lines = [told(SET, "found fuse good", 5), told(SET, "found fuse blown", 3)]
    (answer,) = answers_of_words(SET, lines)
    assert (answer.answer, answer.line, answer.order) == ("nothing", "5", 5)


def test_a_repair_puts_right_what_it_names():
    assert puts_right(SET, SET.by_probe["final_out"], "Q9 final -> same type, bad, 4.00, 25 min")
    assert puts_right(SET, SET.by_probe["driver_look"], "base resistor of the driver -> 47R")
    assert not puts_right(SET, SET.by_probe["driver_out"], "Q9 final -> same type, bad")
    assert not puts_right(SET, SET.by_probe["final_out"], "fuse -> new")


@given(st.text(max_size=80), st.sampled_from(chain_names()), st.sampled_from(["found", "said", "stage", "did"]))
@settings(max_examples=60)
def test_any_words_give_answers_that_their_probe_has(text, name, kind):
    chain = shipped_chain(name)
    for answer in answers_of_words(chain, [told(chain, f"{kind} {text}")]):
        assert answer.answer in chain.by_probe[answer.probe].answers


def reading(quantity, value, order, row="row", **conditions):
    fact = {
        "id": str(order),
        "line": str(order),
        "order": order,
        "quantity": quantity,
        "phase": "as_received",
        "plan_row": row,
    }
    return ReadingFact(
        **fact, conditions=Conditions(**conditions), nothing=value is None, value=value, figure="as shown"
    )


def read(chain, *facts, due=100.0, **at):
    rows = [PlanRow(id="row", quantity=f.quantity, ask="", expected=due, **at) for f in facts]
    return {a.probe: a.answer for a in answers_of_readings(chain, facts, rows)}


def test_a_reading_that_tries_a_band_or_mode_says_nothing_of_the_rest():
    assert read(
        RIG,
        reading("carrier_power", 2.0, 1, frequency_hz=7.1e6),
        reading("carrier_power", 99.0, 2, frequency_hz=14.2e6),
    ) == {
        "b40_power": "dead",
        "b20_power": "works",
    }
    assert read(RIG, reading("carrier_power", 40.0, 1, frequency_hz=18.1e6)) == {"output": "weak"}
    ten = shipped_chain("ten-metre-mobile")
    facts = [reading("peak_envelope_power", None, 1, mode="usb"), reading("carrier_power", 90.0, 2, mode="fm")]
    assert read(ten, *facts, reading("fm_deviation", 45.0, 3, mode="fm")) == {
        "mode_ssb": "dead", "output": "good", "mode_fm": "weak",
    }  # fmt: skip


@pytest.mark.parametrize(
    ("quantity", "value", "due", "conditions", "expected"),
    [
        ("supply_current", 1.0, 1.1, {"state": "transmit"}, {"current_tx": "normal"}),
        ("supply_current", 0.2, 1.1, {"state": "transmit"}, {"current_tx": "no_rise"}),
        ("supply_current", 0.6, 1.1, {"state": "transmit"}, {"current_tx": "low"}),
        ("supply_current", 2.0, 1.1, {"state": "transmit"}, {"current_tx": "high"}),
        ("supply_current", 0.02, 0.25, {"state": "receive"}, {"current_rx": "dead"}),
        ("supply_current", 0.1, 0.1, {"state": "standby"}, {}),
        ("supply_voltage", 11.0, 13.2, {}, {"lead_v": "weak"}),
        ("am_depth", 5.0, 92.0, {}, {"speech": "dead"}),
        # twice the volts for the same signal-to-noise is a receiver that still works, four times is weak
        ("sensitivity_12db_sinad", -116.0, -120.0, {}, {"receive": "works"}),
        ("sensitivity_12db_sinad", -108.0, -120.0, {}, {"receive": "weak"}),
        ("sensitivity_12db_sinad", -90.0, -120.0, {}, {"receive": "dead"}),
        ("carrier_power", 3.0, 0.0, {}, {}),
        ("temperature", 40.0, 30.0, {}, {}),
    ],
)
def test_a_figure_is_an_answer_by_its_share_of_what_is_due(quantity, value, due, conditions, expected):
    assert read(SET, reading(quantity, value, 1, **conditions), due=due) == expected
    # taken anew where the plan asks for nothing any more, it is held against the same; elsewhere against nothing
    again = reading(quantity, value, 1, row=None, channel=19, **conditions)
    assert read(SET, again, due=due, channel=19) == expected
    assert read(SET, again, due=due, channel=40) == {} == read(SET, again, due=None)


def test_somebody_inside_makes_what_hands_do_likelier_and_is_never_advised():
    engine = Engine(SET)
    before, after = engine.belief([]), engine.belief([Seen(probe="last_hand", answer="seen")])
    number = {h.name: n for n, h in enumerate(engine.hypotheses)}
    by_hand, other = number["ptt_wire"], number["driver_open"]
    assert after[by_hand] / after[other] == pytest.approx(3 * before[by_hand] / before[other])
    seen: list[Seen] = []
    while (following := advised(engine, seen, "half-split")) and len(seen) < 40:
        assert all(a.probe != "last_hand" for a in following)
        seen.append(Seen(probe=following[0].probe, answer="unknown"))


@pytest.mark.parametrize(
    ("chain", "words", "shown"), [(chain, *one) for chain, told in COMPLAINTS.items() for one in told.items()]
)
def test_a_complaint_says_what_the_probes_would_show_and_nothing_else(chain, words, shown):
    found = {seen.probe: seen.answer for seen in signs_in(shipped_chain(chain), words)}
    assert found == dict(one.split("=") for one in shown.split())


@given(st.text(max_size=120))
def test_no_complaint_is_an_exception(words):
    assert all(seen.answer in RIG.by_probe[seen.probe].answers for seen in signs_in(RIG, words))
