"""What a hurried hand types, and what must be understood or asked. Figures worked by hand from the texts."""

import random
import string

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from young_spark.core.entry import Earlier, EntryContext, Expected, understand
from young_spark.core.entry.wording.tokens import folded
from young_spark.core.figure import Conditions
from young_spark.core.judging import channel_plans, profiles

MHZ = 1e6


def context(
    expected: str | None = None,
    *,
    mode: str | None = "am",
    channel: int | None = 19,
    carrier_w: float | None = None,
    **chips: object,
) -> EntryContext:
    earlier = ()
    if carrier_w is not None:
        earlier = (
            Earlier(
                quantity="carrier_power", value=carrier_w, uncertainty=0.2, conditions=Conditions(), phase="as_received"
            ),
        )
    known = profiles()
    return EntryContext(
        conditions=Conditions(mode=mode, channel=channel, **chips),
        expected=Expected(quantity=expected) if expected else None,
        profiles={name: known[name] for name in ("us-27mhz", "sheet-tarnbeck-m27", "house-27mhz")},
        channel_plan=channel_plans()["us-27mhz"],
        earlier=earlier,
    )


P, F, E, A, V, D, M = (
    "carrier_power",
    "carrier_frequency",
    "frequency_error",
    "supply_current",
    "supply_voltage",
    "fm_deviation",
    "am_depth",
)

# text, current line, quantity understood, value in its unit
UNDERSTOOD = [
    ("3.8", P, P, 3.8),
    ("3.8w", None, P, 3.8),
    ("pwoer 3.8", None, P, 3.8),
    ("3.8 W", None, P, 3.8),
    ("3,8w", None, P, 3.8),
    ("3.8 watts", None, P, 3.8),
    (".5w", None, P, 0.5),
    ("3.80W", None, P, 3.8),
    ("+36dbm", None, P, 3.981),
    ("+36 dBm", None, P, 3.981),
    ("−6dbm", None, P, 0.000251),
    ("-6dbm +20db +20db", None, P, 2.512),
    ("6dbw", None, P, 3.981),
    ("0.18 x100", P, P, 18.0),
    ("0.18 x 100", P, P, 18.0),
    ("0.18w x100", None, P, 18.0),
    ("0.38 ×10", P, P, 3.8),
    ("0.38 *10", P, P, 3.8),
    ("7/10 of 5w", None, P, 3.5),
    ("0.7 of 5 w", None, P, 3.5),
    ("half of 5w", None, P, 2.5),
    ("3/4 of 10", P, P, 7.5),
    ("1.84w +10.2db", None, P, 19.27),
    ("1.84 w +10,2 dB", None, P, 19.27),
    ("4w el 5", None, P, 4.0),
    ("4 W el 10", None, P, 4.0),
    ("1250w", None, P, 1250.0),
    ("1 250 w", None, P, 1250.0),
    ("1.25kw", None, P, 1250.0),
    ("800mw", None, P, 0.8),
    ("800 MW", None, P, 0.8),
    ("50uw", None, P, 50e-6),
    ("50µW", None, P, 50e-6),
    ("50μw", None, P, 50e-6),
    ("40vpp", None, P, 4.0),
    ("40 Vpp", None, P, 4.0),
    ("20vp", None, P, 4.0),
    ("scope 40v", None, P, 4.0),
    ("scope 40", None, P, 4.0),
    ("power 3.8", None, P, 3.8),
    ("pwr 3.8w", None, P, 3.8),
    ("PO 3.8", None, P, 3.8),
    ("own 4w", None, P, 4.0),
    ("carrier_power 3.8", None, P, 3.8),
    ("3.4..3.9w", None, P, 3.65),
    ("3.4...3.9w", None, P, 3.65),
    ("3.4 to 3.9 w", None, P, 3.65),
    ("3.4-3.9w", None, P, 3.65),
    ("3.4–3.9 W", None, P, 3.65),
    ("between 3.4 and 3.9w", None, P, 3.65),
    ("Between 3.4 and 3.9 W", None, P, 3.65),
    ("3.9..3.4w", None, P, 3.65),
    ("3.4…3.9w", None, P, 3.65),
    ("340..390mw", None, P, 0.365),
    ("10..390mw", None, P, 0.2),
    ("pep 12", None, "peak_envelope_power", 12.0),
    ("pep 12w", None, "peak_envelope_power", 12.0),
    ("mean 1.6w", None, "mean_power", 1.6),
    ("27.18498M", None, E, -20.0),
    ("27.18498m", None, E, -20.0),
    ("27.18498 mhz", None, E, -20.0),
    ("27.18498MHz", None, E, -20.0),
    ("27,18498 MHz", None, E, -20.0),
    ("27184.98k", None, E, -20.0),
    ("27184.98 kHz", None, E, -20.0),
    ("27184980hz", None, E, -20.0),
    ("27.18498", E, E, -20.0),
    ("freq 27.18498", None, E, -20.0),
    ("f 27.185M", None, E, 0.0),
    ("27,185 MHz", None, E, 0.0),
    ("+300hz", None, E, 300.0),
    ("-300 Hz", None, E, -300.0),
    ("+300", E, E, 300.0),
    ("−300", E, E, -300.0),
    ("err +300", None, E, 300.0),
    ("off -1.2k", None, E, -1200.0),
    ("+0.3k", E, E, 300.0),
    ("+10ppm", None, E, 271.85),
    ("err 10 ppm", None, E, 271.85),
    ("beat 27.184/1000 usb", None, E, 0.0),
    ("beat 27.186/1000 lsb", None, E, 0.0),
    ("beat 27.184M/1k usb", None, E, 0.0),
    ("beat 27.184/1000 usb cal -20", None, E, 20.0),
    ("dial 27.184/980hz USB", None, E, -20.0),
    ("swr 1.4", None, "swr", 1.4),
    ("SWR 1,4", None, "swr", 1.4),
    ("vswr 2", None, "swr", 2.0),
    ("1.4", "swr", "swr", 1.4),
    ("swr 100/4", None, "swr", 1.5),
    ("swr 100w/4w", None, "swr", 1.5),
    ("swr 100/4 el 100/5", None, "swr", 1.5),
    ("100/4", "swr", "swr", 1.5),
    ("swr: 100/25", None, "swr", 3.0),
    ("swr 100/100", None, "swr", None),
    ("rl 14", None, "return_loss", 14.0),
    ("fwd 95", None, "forward_power", 95.0),
    ("ref 3w", None, "reflected_power", 3.0),
    ("drive 25w", None, "drive_power", 25.0),
    ("dev 2.1k", None, D, 2100.0),
    ("dev 2.1", None, D, 2100.0),
    ("dev 2,1 kHz", None, D, 2100.0),
    ("Dev 2100hz", None, D, 2100.0),
    ("2.1k", D, D, 2100.0),
    ("2.1", D, D, 2100.0),
    ("dev +2.1k/-1.9k", None, D, 2100.0),
    ("dev 1.9/2.1k", None, D, 2100.0),
    ("dev 0.42v x 5k/v", None, D, 2100.0),
    ("dev 420mv x 5khz/v", None, D, 2100.0),
    ("dev 0.84vpp x 5k/v", None, D, 2100.0),
    ("mod 85%", None, M, 85.0),
    ("mod 85", None, M, 85.0),
    ("85%", None, M, 85.0),
    ("85 pct", None, M, 85.0),
    ("85", M, M, 85.0),
    ("mod 3/1", None, M, 50.0),
    ("mod 2.1/0.15", None, M, 86.667),
    ("mod 2,1/0,15", None, M, 86.667),
    ("mod 2v/0v/1v", None, M, 100.0),
    ("3/1/2", M, M, 50.0),
    ("3/1", M, M, 50.0),
    ("mod +92/-88", None, M, 90.0),
    ("mod 92%/88%", None, M, 90.0),
    ("crest 95", None, "am_depth_positive", 95.0),
    ("trough 99%", None, "am_depth_negative", 99.0),
    ("320ma", None, A, 0.32),
    ("320 mA", None, A, 0.32),
    ("320MA", None, A, 0.32),
    ("0,32a", None, A, 0.32),
    ("1.1 amps", None, A, 1.1),
    ("tx 1.1a", None, A, 1.1),
    ("rx 250ma", None, A, 0.25),
    ("standby 90mA", None, A, 0.09),
    ("tx 1.1", None, A, 1.1),
    ("17.5", A, A, 17.5),
    ("13.6v", None, V, 13.6),
    ("13,6 V", None, V, 13.6),
    ("supply 13.8", None, V, 13.8),
    ("tx 12.9v", None, V, 12.9),
    ("h2 -62", None, "harmonic_2", -62.0),
    ("h2 62", None, "harmonic_2", -62.0),
    ("h3 -58dbc", None, "harmonic_3", -58.0),
    ("H2 −62 dBc", None, "harmonic_2", -62.0),
    ("h2 -62 loss 20/20.8", None, "harmonic_2", -61.2),
    ("h2 -48dbm/+12dbm", None, "harmonic_2", -60.0),
    ("h2 -48dbm/12dbm loss 20/20.8", None, "harmonic_2", -59.2),
    ("-62", "harmonic_2", "harmonic_2", -62.0),
    ("h2 <-74", None, "harmonic_2", -74.0),
    ("spur -30 at +6k", None, "spurious_worst", -30.0),
    ("suppression 46", None, "carrier_suppression", 46.0),
    ("hum -42db", None, "hum_and_noise", -42.0),
    ("hum 42", None, "hum_and_noise", -42.0),
    ("sinad 21", None, "sinad", 21.0),
    ("sens -118dbm", None, "sensitivity_12db_sinad", -118.0),
    ("step -10.4", None, "power_step", -10.4),
    ("step 10", None, "power_step", -10.0),
    ("step 0.38/3.8w", None, "power_step", -10.0),
    ("temp 61c", None, "temperature", 61.0),
    ("2.2k", "resistance", "resistance", 2200.0),
    ("ohms 47", None, "resistance", 47.0),
    ("47 ohm", None, "resistance", 47.0),
    ("47Ω", None, "resistance", 47.0),
    ("470uf", None, "capacitance", 470e-6),
    ("esr 0.3", None, "esr", 0.3),
    ("loop 2.4v", None, "control_voltage", 2.4),
    ("filament 6.1", None, "filament_voltage", 6.1),
    ("<0.1w", None, P, 0.1),
    ("none", P, P, 0.02),
    ("nothing", A, A, 0.001),
    ("power none", None, P, 0.02),
    ("standby none", None, A, 0.001),
]

# text, current line, a word of the question
ASKED = [
    ("3.8", None, "carrier power 3.80 w"),
    ("1,250", P, "1250 w"),
    ("3.8/0.3", None, "reflected"),
    ("2.1k", None, "deviation"),
    ("27.185", P, "counted 27.185 mhz"),
    ("5m", None, "MHz"),
    ("none", None, "carrier power none"),
    ("-62dbc", None, "Which harmonic"),
    ("3db", None, "dB of what"),
    ("fwoo 3", None, "fwoo"),
    ("3.8 2.1", P, "which is which"),
    ("-3.8w", P, "dBm"),
    ("beat 27.184/1000", None, "USB or LSB"),
    ("beat 27.184 usb", None, "Dial and tone"),
    ("pep 3.8/2.0", None, "measure it first"),
    ("swing 6w", None, "From what carrier"),
    ("swr 0.5", None, "1 or more"),
    ("swr 3/5", None, "reversed"),
    ("mod 1/2", None, "crest first"),
    ("trough 104", None, "below nothing"),
    ("h2 -48dbm", None, "And the carrier"),
    ("between 3", P, "Between what"),
    ("x100", P, "figure"),
    ("dev -", None, "dev"),
    ("note", None, "For example"),
    ("turned VR3", None, "Found and left"),
    ("stage driver", None, "good, weak or dead"),
    ("changed supply", None, "What changed"),
    ("swr 1.4w", None, "no unit"),
    ("mod 2/1/1.5/3", None, "three heights"),
    ("7/10 of", P, "of"),
    ("8/0 of 5w", P, "share"),
    ("3w to 4v", P, "two different units"),
    ("50", A, "50.0 ma"),
    ("h2 -62 loss 20", None, "Two losses"),
]


@pytest.mark.parametrize(("text", "line", "quantity", "value"), UNDERSTOOD)
def test_a_hurried_text_is_understood(text, line, quantity, value):
    found = understand(text, context(line))
    assert found.question is None, found.question
    first = found.meanings[found.chosen].readings[0]
    assert first.quantity == quantity
    assert first.value == (None if value is None else pytest.approx(value, rel=2e-3, abs=1e-6))


@pytest.mark.parametrize(("text", "line", "words"), ASKED)
def test_an_unclear_text_gets_one_short_question_and_no_guess(text, line, words):
    found = understand(text, context(line))
    assert found.chosen is None and found.story is None
    said = " ".join((found.question or "", *(choice.label for choice in found.choices)))
    assert words.lower() in said.lower() and len(found.question or "") < 110


def test_the_table_holds_at_least_150_texts():
    assert len({(t, line) for t, line, *_ in (*UNDERSTOOD, *ASKED)}) >= 150


@pytest.mark.parametrize(
    ("text", "kind", "facts"),
    [
        ("note lamp flickers", "note", {}),
        ("Found: dry joint at L14", "found", {"words": "dry joint at L14"}),
        ("wish leave the beep", "wish", {}),
        (
            "did C41 dried out -> 470u 25V, bad, 0.40, 15 min",
            "did",
            {"part_out": "C41 dried out", "part_in": "470u 25V", "reason": "bad", "cost": 0.4, "minutes": 15},
        ),
        (
            "did Q9 driver → same type; suspect; £4,60",
            "did",
            {"part_out": "Q9 driver", "reason": "suspect", "cost": 4.6, "area": "driver"},
        ),
        ("turned VR3 2.6k -> 1.9k", "adjusted", {"adjuster": "VR3", "value_found": "2.6k", "value_left": "1.9k"}),
        ("stage driver weak 0.05 W at the base", "stage", {"stage": "driver", "state": "weak"}),
        ("changed supply 13,8 V", "changed", {"condition": "supply_v", "condition_value": "13.8"}),
        ("changed covers on", "changed", {"condition": "covers", "condition_value": "on"}),
    ],
)
def test_a_line_of_words_is_told_apart(text, kind, facts):
    story = understand(text, context()).story
    assert story.kind == kind
    assert {name: getattr(story, name) for name in facts} == facts


def test_no_text_is_an_exception():
    """500 texts: random signs, and the table's texts with a sign struck out, doubled or swapped."""
    dice = random.Random(27)
    known = [row[0] for row in (*UNDERSTOOD, *ASKED)]
    signs = string.printable + "µΩ−–…×²½٣\u0000\u202e😀"
    for n in range(500):
        text = "".join(dice.choices(signs, k=dice.randrange(40))) if n % 2 else dice.choice(known)
        at = dice.randrange(len(text) + 1)
        text = dice.choice(
            [text, text[:at] + text[at + 1 :], text[:at] + dice.choice(signs) + text[at:], text * 2, text[::-1]]
        )
        found = understand(text, context(dice.choice([None, P, M, E, "swr"]), carrier_w=4.0))
        answered = found.chosen is not None or found.story is not None or found.question is not None or found.sets
        assert answered or not folded(text), text


@settings(max_examples=150)
@given(st.text(max_size=60))
def test_any_unicode_text_is_an_answer_or_a_question(text):
    found = understand(text, context(P))
    assert found.text == text


@given(st.floats(0.001, 2000), st.sampled_from(["w", " W", "  watts"]))
def test_a_power_survives_being_typed(value, unit):
    typed = f"{value:.6g}"
    if "e" in typed:
        return
    assert understand(typed + unit, context(P)).meanings[0].readings[0].value == pytest.approx(float(typed), rel=1e-12)


@pytest.mark.parametrize("digits", ["1" * 400 + "x", "1." * 300 + "x", "1h" * 300 + "x"])
def test_a_row_of_digits_is_told_apart_from_hours_at_once(digits):
    """A pattern that tries every cut of them would not come back."""
    assert understand(f"did {digits}", context(None)).story.kind == "did"
