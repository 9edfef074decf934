"""What a hand types, against what it must mean: the shared texts and our own. The figures are printed by the bench."""

import json
import math
import re
from collections import Counter
from functools import cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.corpus_score import Text, breath_of, context_of, contexts, differs, readings_of, texts, verdict
from young_spark.core.entry import Understanding, understand
from young_spark.core.entry.facts.cutting import UNITS, cut
from young_spark.core.entry.wording.tokens import folded
from young_spark.core.figure import QUANTITIES, Conditions
from young_spark.core.gear import BANDS_M

POWER = "carrier_power"
AS_SAID = {"adjusted": "turned"}  # the kind as it is stored, and as the corpora say it
STORED = {"found": "value_found", "left": "value_left"}
EVERY = [*texts("own"), *texts("shared")]


@cache
def score(name: str) -> Counter[str]:
    return Counter(verdict(text, breath_of(text))[0] for text in texts(name))


# right at least, wrong at most
@pytest.mark.parametrize(("name", "right", "wrong"), [("own", 0.97, 0.007), ("shared", 0.99, 0.0)])
def test_the_field_understands_what_hands_type(name, right, wrong):
    found = score(name)
    total = sum(found.values())
    assert found["right"] / total >= right and found["wrong"] / total <= wrong, found


def test_lines_of_words_are_filed_as_such_with_the_kind_that_a_hand_would_say():
    stories = [text for text in EVERY if "story" in text.told]
    kinds = [(understand(t.text, context_of(t.context)).story, t) for t in stories]
    right = sum(s is not None and AS_SAID.get(s.kind, s.kind) == t.told["story"]["kind"] for s, t in kinds)
    assert right >= 0.97 * len(stories), [t.text for s, t in kinds if s is None]


@pytest.mark.parametrize("key", ["part_out", "part_in", "reason", "cost", "minutes", "adjuster", "found", "left"])
def test_what_the_words_of_a_repair_say_is_told_apart(key):
    told = [t for t in EVERY if key in t.told.get("story", {})]
    lines = [(understand(t.text, context_of(t.context)).story, t.told["story"][key]) for t in told]
    found = [str(getattr(line, STORED.get(key, key))).lower() == str(wanted).lower() for line, wanted in lines if line]
    assert sum(found) >= 0.9 * len(told)


def test_what_two_readings_fit_is_asked_with_both_among_the_answers():
    asked = [t for t in EVERY if "asks" in t.told]
    meant = [(understand(t.text, context_of(t.context)), t) for t in asked]
    assert sum(m.question is not None for m, _ in meant) >= 0.95 * len(asked), [
        t.text for m, t in meant if not m.question
    ]
    assert all(len(m.choices) <= 4 for m, _ in meant)
    assert sum(offers(m, t) for m, t in meant) >= 0.8 * len(asked), [t.text for m, t in meant if not offers(m, t)]


def offers(meant: Understanding, text: Text) -> bool:
    """Whether every answer that files readings is among those that are offered."""
    have = [readings_of(meaning, text.context) for meaning in meant.meanings]
    return all(
        any(all(any(not differs(w, s, text.context) for s in said) for w in choice["means"]) for said in have)
        for choice in text.told.get("choices", ())
        if "means" in choice
    )


@pytest.mark.parametrize("text", EVERY[::7], ids=lambda t: f"{t.text} ({t.told['context']})")
def test_every_text_cut_anywhere_gets_an_answer_a_question_or_a_note(text):
    for end in range(1, len(text.text) + 1):
        meant = understand(text.text[:end], context_of(text.context))
        nothing = folded(text.text[:end]) == ""
        assert nothing or meant.chosen is not None or meant.story is not None or meant.sets or meant.as_note is not None


@settings(max_examples=400, deadline=None)
@given(
    text=st.sampled_from(EVERY),
    at=st.integers(0, 200),
    letter=st.characters(codec="utf-8", exclude_categories=("Cs",)),
)
def test_one_letter_changed_is_never_an_exception_and_drops_no_fact(text: Text, at, letter):
    at %= len(text.text)
    typed = text.text[:at] + letter + text.text[at + 1 :]
    meant = understand(typed, context_of(text.context))
    assert (
        folded(typed) == ""
        or meant.chosen is not None
        or meant.story is not None
        or meant.sets
        or meant.as_note is not None
    )
    if meant.question is not None and meant.as_note is not None:
        assert meant.as_note.words == typed.strip()[:2000]
    _can_be_read_again(meant)


def _can_be_read_again(meant: Understanding) -> None:
    """Whatever was understood is kept as data, and is the same when it is read again."""
    for meaning in meant.meanings:
        for n in range(len(meaning.readings)):
            there = meaning.conditions_of(n)
            assert Conditions.model_validate(there.model_dump()) == there


@pytest.mark.parametrize(
    "text",
    [
        f"3.8w ⟨{'x' * 100}⟩", "3.8w ⟪2w⟫", "⟨⟩ 3.8w", f"3.8w with her {'long ' * 20}mic, 3.2w with mine",
        f"mic {'amp ' * 40}out 1.2v", f"very long {'very long ' * 8}stage out 3vpp", f"{'9' * 70}w setting gives 3.8",
        f"q8 {'collector ' * 12}3v", f"vr3 up a touch, mic {'amp ' * 40}out 1.2v",
    ],
)  # fmt: skip
def test_no_name_is_longer_than_what_can_be_read_again(text):
    meant = understand(text, context_of(contexts()["am27_find"]))
    assert meant.chosen is not None or meant.question is not None or meant.story is not None
    _can_be_read_again(meant)


@given(st.text(max_size=60))
def test_every_letter_of_a_text_is_in_one_of_its_facts(typed):
    plain = folded(typed)
    spoken = "".join(fact.text for fact in cut(plain))
    bare = re.compile(r"[ ,;:=]")
    assert bare.sub("", spoken) == bare.sub("", plain)


@pytest.mark.parametrize("quantity", sorted(QUANTITIES.values(), key=lambda q: q.id), ids=lambda q: q.id)
def test_the_name_of_every_quantity_is_a_word_of_its_facts(quantity):
    """As the program shows it, before or behind its figure."""
    if quantity.id in {
        "readability",
        "s_meter_reading",
        "dc_voltage",
        "ac_voltage",
        "rf_level",
        "dc_current",
        "condition",
    }:
        pytest.skip("said by its place or by its scale, not by a name")
    for typed in (f"{quantity.name} 3", f"3 {quantity.name}"):
        assert any(f.kind == "quantity" and f.of == quantity.id for f in cut(folded(typed))), cut(folded(typed))


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        (
            "ch1 3.5w ch19 3.9w ch40 3.2w",
            [(POWER, 3.5, 1), (POWER, 3.9, 19), (POWER, 3.2, 40)],
        ),
        ("3.8w 1.25a", [("carrier_power", 3.8, 19), ("supply_current", 1.25, None)]),
        ("pwr ch40 3.3w", [("carrier_power", 3.3, 40)]),
        ("3.6w pwr", [("carrier_power", 3.6, 19)]),
    ],
)
def test_figures_stand_where_they_were_said(typed, said):
    context = next(t.context for t in EVERY if t.told["context"] == "am27_find")
    meant = understand(typed, context_of(context))
    meaning = meant.meanings[meant.chosen]
    found = [(r.quantity, r.value, meaning.conditions_of(n).channel) for n, r in enumerate(meaning.readings)]
    assert found == [(q, pytest.approx(v), c) for q, v, c in said]


AS_TYPED = {"W", "A", "%", "V", "Hz", "Ω", "F", "°C"}
SHAPING = {"falls", "fades", "scale", "points", "noise", "limit", "through", "meter"}  # they make the reading


def filed_of(meant: Understanding) -> str:
    """All that is filed of a text: its readings, where they stand, its remark, its words."""
    assert meant.chosen is not None
    meaning = meant.meanings[meant.chosen]
    at = [meaning.conditions_of(n).model_dump() for n in range(len(meaning.readings))]
    story = meant.story.model_dump() if meant.story else None
    told = {"readings": [r.model_dump() for r in meaning.readings], "at": at, "said": [meaning.remark, story]}
    return json.dumps(told, ensure_ascii=False).lower().replace("\N{MINUS SIGN}", "-")


def is_in(value: float, numbers: list[float]) -> bool:
    """Whether a number stands there, with any prefix of its unit."""
    return value == 0 or any(
        abs(abs(value / n) / 10 ** round(math.log10(abs(value / n))) - 1) < 1e-3 for n in numbers if n
    )


@pytest.mark.parametrize("name", ["shared", "own"])
def test_no_figure_and_no_word_of_a_text_is_dropped(name):
    """What is filed in its own unit stands there as it was typed: bands are filed as frequencies, and microvolts, dBm,
    volts across the load and heights on a screen by their sums."""
    dropped = []
    for text in texts(name):
        meant = understand(text.text, context_of(text.context))
        if meant.chosen is None:
            continue
        filed = filed_of(meant)
        numbers = [float(n) for n in re.findall(r"-?\d+(?:\.\d+)?(?:e[-+]?\d+)?", filed)]
        for fact in cut(folded(text.text)):
            turned = fact.unit not in AS_TYPED or int(fact.value) in BANDS_M or "across the load" in text.text
            if fact.kind == "figure" and not turned and not is_in(fact.value, numbers):
                dropped.append((text.text, fact.text))
            if fact.kind == "word" and len(fact.text) > 4 and fact.text not in {*SHAPING, *UNITS}:
                dropped += [(text.text, w) for w in fact.text.split() if w not in filed and w not in SHAPING]
    assert not dropped, dropped
