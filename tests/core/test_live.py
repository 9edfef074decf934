"""Values that stand still, KEY HOLD UNKEY, turning and watching: against what a careful hand would say."""

import math
import random
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_spark.core.entry import EntryContext, Repeated, understand
from young_spark.core.figure import Conditions, instrument_classes
from young_spark.core.gear import kinds, models
from young_spark.core.ground import BadKnowledge
from young_spark.core.job import ReadingFact
from young_spark.core.live import (
    SOURCES,
    Ask,
    Definition,
    Drop,
    Gives,
    HandMark,
    KeyedSpan,
    NotAFigure,
    Point,
    SeenOnAir,
    Turning,
    captured_text,
    definition,
    definitions,
    figures_of,
    figures_seen,
    identity_pattern,
    keying,
    moments,
    not_yet_keyed,
    repeat_half_width,
    steadiness_words,
    summary,
    values_of,
)
from young_spark.core.live.definition_file import NO_FIGURE, OVERLOAD
from young_spark.core.live.drops import fell, usual
from young_spark.core.live.key_word import cool_at, is_cool
from young_spark.core.live.values import Sample, steady
from young_spark.core.path import Duty


def samples(values, step=0.12):
    return tuple(Sample(asked=n * step - 0.03, at=n * step, value=v) for n, v in enumerate(values))


@given(st.floats(0.05, 1500), st.floats(-0.0045, 0.0045), st.integers(5, 12))
def test_what_moves_less_than_half_a_per_cent_stands_still_and_its_slope_is_told(level, drift, count):
    values = [level * (1 + drift * n / (count - 1)) for n in range(count)]
    found = steady("power", samples(values, step=0.15), 0.0)
    assert found is not None and found.count == 5 and found.seconds == pytest.approx(0.6)
    slope = level * drift / (count - 1) / 0.15
    assert found.slope_per_s == pytest.approx(slope, rel=1e-6, abs=1e-9)
    assert found.value == pytest.approx(sum(values[-5:]) / 5)


@given(st.floats(0.05, 1500), st.floats(0.012, 0.9), st.integers(0, 4))
def test_one_reading_that_is_off_ends_it(level, off, at):
    values = [level] * 5
    values[at] *= 1 - off
    assert steady("power", samples(values, step=0.15), 0.0) is None
    assert steady("power", samples(values, step=0.15), off * level) is not None


def test_four_readings_or_less_than_half_a_second_are_not_enough():
    assert steady("power", samples([4.0] * 4, step=1.0), 0.0) is None
    assert steady("power", samples([4.0] * 5, step=0.1), 0.0) is None
    assert steady("power", samples([4.0] * 6, step=0.1), 0.0) is not None
    assert steady("frequency", samples([27.185e6, *[27.1851e6] * 4], step=0.2), 2.0) is None


def test_steadiness_is_told_in_words():
    found = steady("power", samples([4.0, 3.995, 3.99, 3.985, 3.98], step=0.15), 0.0)
    assert steadiness_words(found, "W") == "mean of 5 over 0.6 s, falling 0.033 W a second"


@pytest.mark.parametrize("quantity", sorted(SOURCES))
def test_every_captured_text_is_understood_as_the_quantity_it_was(quantity):
    values = {
        "power": 3.812,
        "reflected": 0.021,
        "pep": 13.77,
        "frequency": 27.185071e6,
        "depth": 91.4,
        "deviation": 1873.0,
        "volts": 13.21,
        "amps": 1.234,
        "drive": 20.1,
        "drive_reflected": 0.3,
        "plate_volts": 2412.0,
        "plate_amps": 0.272,
        "grid_amps": 0.0266,
        "level": -119.4,
        "sinad": 12.2,
    }
    text = captured_text(quantity, values, "transmit")
    meant = understand(text, EntryContext(conditions=Conditions(frequency_hz=27.185e6, channel=19)))
    assert meant.chosen is not None, meant.question
    found = {r.quantity: r.value for r in meant.meanings[meant.chosen].readings}
    back = {"swr": math.sqrt(0.021 / 3.812), "input_swr": math.sqrt(0.3 / 20.1)}
    expected = {"frequency_error": 71.0, **{name: (1 + rho) / (1 - rho) for name, rho in back.items()}}
    wanted = expected.get(quantity, values[SOURCES[quantity][0]])
    assert found[quantity] == pytest.approx(wanted, rel=2e-3, abs=0.6 if quantity == "frequency_error" else 1e-9)


def test_the_mean_of_repeated_readings_holds_the_truth_at_least_as_often_as_it_says():
    dice, held = random.Random(8), 0
    for _ in range(2000):
        found = steady("power", samples([4.0 * (1 + dice.gauss(0, 0.001)) for _ in range(5)], step=0.15), 0.1)
        held += abs(found.value - 4.0) <= repeat_half_width(found)
    assert held / 2000 >= 0.93


def test_repeated_readings_carry_the_scatter_of_their_mean():
    plain = understand("3.8w", EntryContext()).meanings[0].readings[0]
    context = EntryContext(repeated=Repeated(half_width=0.3, words="mean of 5 over 0.6 s"))
    found = understand("3.8w", context).meanings[0].readings[0]
    assert found.uncertainty == pytest.approx(math.hypot(plain.uncertainty, 0.3))
    assert found.remarks[0] == "mean of 5 over 0.6 s"


NOTHING_SEEN = SeenOnAir()
DUTY = Duty(name="the load", key_down_s=30, cool_off_s=60)


def word(now, downs, *, wanted=2, first_key=False, seen=NOTHING_SEEN, duties=(DUTY,), barred=""):
    return keying(
        now=now,
        downs=downs,
        duties=duties,
        first_key=first_key,
        wanted=wanted,
        what="x",
        seen=seen,
        greatest_power_w=4.0,
        barred=barred,
    )


def test_the_word_follows_the_clock_and_the_set():
    assert word(0, []).word == "KEY" and word(0, [], wanted=0).word is None
    down = [KeyedSpan(began=0.0)]
    held = word(5, down)
    assert (held.word, held.until, held.then, held.limit) == ("HOLD", 30.0, "UNKEY", "the load")
    assert word(5, down, wanted=0).word == "UNKEY"
    over = word(30, down)
    assert over.word == "UNKEY" and "30 s are over" in over.why
    assert word(5, down, barred="not safe").word == "UNKEY" and word(5, [], barred="not safe").word is None


def test_the_first_key_is_two_seconds_and_the_shortest_duty_counts():
    first = word(1, [KeyedSpan(began=0.0)], first_key=True)
    assert (first.until, first.limit) == (2.0, "first key")
    valve = Duty(name="valve final", key_down_s=10, cool_off_s=40)
    held = word(1, [KeyedSpan(began=0.0)], duties=(DUTY, valve))
    assert (held.until, held.limit) == (10.0, "valve final")


def test_swr_and_too_much_power_say_unkey_and_weak_does_not():
    down = [KeyedSpan(began=0.0)]
    assert word(1, down, seen=SeenOnAir(swr=3.1)).word == "UNKEY"
    assert word(1, down, seen=SeenOnAir(swr=2.9)).word == "HOLD"
    assert word(1, down, seen=SeenOnAir(swr=1.6), first_key=True).word == "UNKEY"
    assert word(1, down, seen=SeenOnAir(power_w=5.2)).word == "UNKEY"
    assert word(1, down, seen=SeenOnAir(power_w=6.0, modulated=True)).word == "HOLD", (
        "a carrier of 4 W gives 6 W with full audio"
    )
    assert word(1, down, seen=SeenOnAir(power_w=0.01)).word == "HOLD"


@given(st.floats(0.5, 30))
def test_rest_is_owed_in_proportion_and_worked_off(length):
    downs = [KeyedSpan(began=0.0, ended=length)]
    owed = length / 30 * 60
    assert cool_at(DUTY, downs, length) == pytest.approx(length + owed)
    assert is_cool(DUTY, downs, length) == (owed <= 30)
    assert is_cool(DUTY, downs, length + owed)
    resting = word(length, downs)
    assert resting.word == ("KEY" if owed <= 30 else "COOL")
    if resting.word == "COOL":
        assert resting.until == pytest.approx(length + owed - 30) and resting.then == "KEY"
        assert word(resting.until + 0.01, downs).word == "KEY"


def test_a_second_key_down_is_shorter_while_rest_is_owed():
    downs = [KeyedSpan(began=0.0, ended=15.0), KeyedSpan(began=20.0)]
    held = word(21, downs)
    # 30 s of rest were owed at 15 s, 5 s of it were taken: 25 of 60 still stand against the 30 s
    assert held.until == pytest.approx(20 + 30 * (1 - 25 / 60))


def turned(aim, values, **more):
    state, notes = Turning(aim=aim, **more), []
    for value in values:
        state = state.after(value)
        notes.append(state.note)
    return state, notes


def test_a_passed_peak_sounds_twice_once_and_says_go_back():
    up, down = [1.0, 1.5, 2.2, 3.0, 3.6, 3.8], [3.75, 3.5, 3.0]
    state, notes = turned("peak", up)
    assert state.arrow == "on" and set(notes) == {None} and state.best == 3.8
    state, notes = turned("peak", up + down)
    assert notes.count("double") == 1 and notes[7] == "double" and state.arrow == "back" and state.passed
    state, notes = turned("peak", up + down + [3.5, 3.8])
    assert not state.passed and state.best == 3.8 and state.found == 1.0
    assert state.on_the_way() == (1.0, 3.8, 3.0)  # what the peak is known by, and it is left at the best again
    assert turned("peak", [*up, 3.79])[0].on_the_way() == (1.0, 3.8, 3.79)
    assert turned("peak", up)[0].on_the_way() == (1.0, 3.8)  # nobody went past it
    assert turned("target", up, target=3.8, tolerance=0.2)[0].on_the_way() == (1.0,)


def test_a_target_sounds_three_times_when_met_and_the_arrow_says_which_way():
    state, notes = turned("target", [400, 250, 90, 12, 8, 30, -60], target=0.0, tolerance=20.0)
    assert notes == [None, None, None, "triple", None, None, None] and state.arrow == "up"
    assert turned("target", [400], target=0.0, tolerance=20.0)[0].arrow == "down"
    assert turned("target", [5], target=0.0, tolerance=20.0)[0].arrow == "stop"


def test_a_dip_is_the_other_way_round():
    state, notes = turned("dip", [0.5, 0.4, 0.3, 0.29, 0.32, 0.4])
    assert state.best == 0.29 and state.arrow == "back" and notes.count("double") == 1


@given(st.floats(0.05, 1.0))
def test_the_pitch_is_highest_at_the_best_and_falls_away(share):
    state, _ = turned("peak", [4.0 * share, 4.0, 4.0 * share])
    assert 220 <= state.pitch_hz <= 880
    assert state.pitch_hz == pytest.approx(220 * 4 ** (state.now / 4.0))


def test_a_noisy_still_reading_sounds_no_note():
    dice = random.Random(3)
    _, notes = turned("peak", [3.8 * (1 + dice.gauss(0, 0.003)) for _ in range(400)])
    assert set(notes) == {None}


def points(values, name="power"):
    return [Point(at=n * 0.1, name=name, value=v) for n, v in enumerate(values)]


def test_a_fifth_less_has_dropped_and_a_jump_is_of_the_frequency():
    assert usual(points([4.0] * 4)) is None
    usually = usual(points([4.0] * 60))
    assert fell("power", 3.3, usually, 0.02) is None and fell("power", 3.1, usually, 0.02) == "drop"
    assert fell("power", 0.01, usually, 0.02) == "gone"
    assert (
        fell("frequency", 27.1853e6, 27.185e6, 0.0) == "jump" and fell("frequency", 27.18515e6, 27.185e6, 0.0) is None
    )


def test_a_watch_is_summed_up_by_what_the_hands_did():
    drops = [
        Drop(at=10.0, name="power", kind="drop", usual=4, reached=0.2),
        Drop(at=10.2, name="amps", kind="drop", usual=1, reached=0.3),
    ]
    drops += [
        Drop(at=70.0, name="power", kind="drop", usual=4, reached=1),
        Drop(at=90.3, name="amps", kind="drop", usual=1, reached=0.1),
        Drop(at=90.4, name="power", kind="gone", usual=4, reached=0),
    ]
    marks = [HandMark(at=8.5, what="tapped"), HandMark(at=40.0, what="warmed")]
    assert len(moments(drops)) == 3
    assert (
        summary(600, drops, marks) == "watched 10 min: 2 drops, 1 just after 'tapped'; the carrier went altogether once"
    )
    assert summary(30, [], marks) == "watched 30 s: nothing dropped"


def test_what_the_hands_did_is_marked_a_little_late_and_counts_for_all_that_fell_together():
    power = Drop(at=10.0, name="power", kind="drop", usual=4, reached=0.2)
    amps = Drop(at=10.9, name="amps", kind="gone", usual=1, reached=0.0)
    late = [HandMark(at=10.7, what="tapped")]
    assert summary(30, [power], late) == "watched 30 s: 1 drop, 1 just after 'tapped'"
    told = "watched 30 s: nothing dropped; the carrier went altogether once, 1 just after 'tapped'"
    assert summary(30, [power, amps], [HandMark(at=7.5, what="tapped")]) == told
    assert "tapped" not in summary(30, [power], [HandMark(at=11.5, what="tapped")])


def test_every_shipped_definition_names_a_known_kind_and_reads_its_own_answer():
    for name, known in definitions().items():
        assert known.kind in instrument_classes(), name
        for ask in known.asks:
            width = max(g.index for g in ask.gives) + 1
            found = values_of(ask, tuple(float(n + 1) for n in range(width)))
            assert all(found[g.value] == (g.index + 1) * g.factor for g in ask.gives)


def test_overload_nothing_and_garbage_are_told_apart():
    ask = definitions()["simulated-counter"].asks[0]
    assert values_of(ask, figures_of("2.7185071E+07")) == {"frequency": 27185071.0}
    assert values_of(ask, (NO_FIGURE,)) == {"frequency": None}
    with pytest.raises(OverflowError):
        values_of(ask, (OVERLOAD,))
    for garbage in ("", "ERR", "1,2,x", "nan"):
        with pytest.raises(NotAFigure):
            values_of(ask, figures_of(garbage))
    assert definitions()["simulated-counter"].fits("SIMULATED,COUNTER,LF-C-01,1.0")
    assert not definitions()["simulated-counter"].fits("SIMULATED,SUPPLY,LF-P-01,1.0")


def test_nothing_is_keyed_before_it_was_powered_as_its_kind_asks():
    m27, linear = models()["tarnbeck-m27"], kinds()["valve-linear"].as_model("valve-linear")

    def fact(unit, row: str) -> ReadingFact:
        quantity, conditions = unit.row(row).quantity, unit.row(row).conditions(Conditions())
        return ReadingFact(
            id=row, line=row, order=1, quantity=quantity, phase="as_received", plan_row=row, conditions=conditions
        )

    def why(unit, row: str, *read: str) -> str | None:
        facts = [fact(unit, name) for name in read]
        return not_yet_keyed(unit.plan, facts, unit.row(row), high_voltage=unit.high_voltage)

    assert why(m27, "power-am-19") == "before the first key: supply current"
    assert why(m27, "power-am-19", "current-standby") is None
    assert why(m27, "current-receive", "current-standby") == "", "its line needs no carrier"
    assert why(linear, "output-14") == "before the first key: filament voltage"
    assert why(linear, "output-14", "filament") is None
    receiver = kinds()["cb-fm-mobile"].as_model("cb-fm-mobile")
    reason = why(receiver, "sensitivity-fm", "current-standby", "power-fm-20")
    assert reason is not None, "a generator is at the socket: a carrier would ruin it"
    assert "generator" in reason
    rest = keying(
        now=0.0, downs=(), duties=(), first_key=True, wanted=1, seen=SeenOnAir(), greatest_power_w=8.0, not_yet="wait"
    )
    assert (rest.word, rest.why) == (None, "wait")


COUNTER = (
    'title = "Our counter"\nkind = "counter"\nidentity = "{}"\n[[asks]]\ncommand = "F?"\ngives = [{{ value = "{}" }}]\n'
)


@pytest.mark.parametrize(
    ("identity", "value", "words"),
    [
        ("(a+)+$", "frequency", "line 3: identity: a pattern of a name"),
        ("a*b*c*d*", "frequency", "line 3: identity: a pattern of a name"),
        ("[", "frequency", "line 3: identity: not a pattern"),
        ("^OUR", "furlongs", "line 6: asks.0.gives.0.value"),
    ],
)
def test_a_definition_of_a_hand_is_refused_by_line_and_cause(identity, value, words):
    with pytest.raises(BadKnowledge, match=re.escape(words)):
        definition(COUNTER.format(identity, value), "ours")
    assert definition(COUNTER.format("^OUR,C[12] v.*", "frequency"), "ours").fits("our,c2 v1.1")


@given(st.lists(st.floats(-1e9, 1e9), min_size=1, max_size=9), st.integers(1, 5))
def test_the_figures_of_an_answer_come_back_with_how_far_they_moved(figures, times):
    answers = [",".join(["CH1", *(f"{figure + n:.9E}" for figure in figures)]) for n in range(times)]
    words, *seen = figures_seen(answers)
    assert words.first is None and len(seen) == len(figures)
    for place, figure in zip(seen, figures, strict=True):
        assert place.first == pytest.approx(figure, rel=1e-8)
        assert place.mean == pytest.approx(figure + (times - 1) / 2, rel=1e-8, abs=1e-6)
        assert place.scatter == (None if times == 1 else pytest.approx((times - 1) / 2, abs=2))
    assert figures_seen([*answers, "none"])[-1].mean is None  # one of them gave no figure there


@given(st.text(st.characters(codec="ascii", exclude_categories=["Cc"]), max_size=60))
def test_an_identity_fits_the_answer_that_it_was_made_of(answer):
    if pattern := identity_pattern(answer):
        made = Definition(
            title="T", kind="counter", identity=pattern, asks=(Ask(command="F?", gives=(Gives(value="volts"),)),)
        )
        assert made.fits(answer.strip())
