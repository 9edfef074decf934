"""Lines of several clauses of which each says all by itself: 'freq ch40 +60, mod 85%, h2 -61'. Read as a whole, a word
of one may be taken for another's; there they are read one after the other, as if each had a line of its own."""

import re
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from young_spark.core.entry.believed.nothing_lost import WORKED_OUT
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import EntryContext, Meaning, Understanding
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.figure import Conditions, Measured

MOST_PARTS = 8
WHERE = frozenset({"channel", "band", "frequency_hz"})
BY_UNIT = frozenset({"W", "°C", "dBm", "dBc"})  # what a unit says by itself
AT_A_PLACE = frozenset({"Ω", "F", "H", "°C", "V", "dBm", "Hz"})  # and what it says at a place
OF_A_PLACE = frozenset({
    "temperature", "resistance", "capacitance", "inductance", "esr", "valve_emission", "transistor_gain",
    "junction_voltage",
})  # fmt: skip
OF_A_COUNTER = frozenset({"frequency_error", "carrier_frequency", "stage_frequency"})
# what makes volts of another clause alternate too, amps others than the supply's, per cent another's than a depth
ALTERNATES = re.compile(r"\b(?:rf|af|ac|audio|tone|drive|signal|\d*m?vpp|\d*m?vac|pp|rms)\b")
OTHER_SHARES = re.compile(r"\b(?:dist\w*|thd|eff\w*|emission|hum|duty|load(?:ed)?|loss|ripple)\b")
OTHER_AMPS = frozenset({
    "plate_current", "grid_current", "screen_current", "idle_current", "modulator_current", "dc_current",
})  # fmt: skip
FAMILIES = frozenset({"am", "fm", "sensitivity", "plate", "screen", "grid", "subtone", "squelch"})
COUNTED = re.compile(
    r"(?<![\w.])\d{1,3}\.\d{4,6}(?!\d)|(?<![\w.])\d{4,6}\.\d{1,3}(?!\d)|(?<![\w.])\d{2,3}[., ]\d{3}[., ]\d{2,3}"
)
VOLTS = frozenset({"V", "Vpp", "Vrms"})
OFF_BY = re.compile(r"(?<![\w.])[+-]\d+(?:\.\d+)? ?k?hz\b")
RATIO = re.compile(r"\d ?: ?1\b")
# a grammar of its own says by itself what it is
OF_ITS_OWN = re.compile(r"\bswings\b|\bscale\b|\bmic\b.*\bmic\b|\bcrest\b|\bdial\b|\btone \d{3,4} ?hz")
ELECTRODES = frozenset({"grid", "plate", "screen", "anode", "g1", "g2"})  # that a bare figure may be volts of
# what it was, or should be, and the offset of a shift: none of it was read now
OF_ANOTHER_TIME = re.compile(r"\b(?:was|were|should|before|expected|nominal|used to|offset)\b")
Reader = Callable[[str, EntryContext], Understanding]


@dataclass(frozen=True)
class Part:
    """A clause as it was read by itself, and whether it says all that this hangs on."""

    text: str
    meant: Understanding
    says_all: bool
    is_bare: bool  # none of its figures carries a unit

    @property
    def meaning(self) -> Meaning:
        return self.meant.meanings[self.meant.chosen or 0]


def part_by_part(texts: Sequence[str], context: EntryContext, read: Reader) -> list[Part]:
    """Each clause that is sure by itself, the hand moved by what those before it say; empty where one of them is told
    in words, or there are too many."""
    if not 1 < len(texts) <= MOST_PARTS:
        return []
    every = " ".join(texts)
    found: list[Part] = []
    for text in texts:
        meant = read(text, context)
        adjusted = meant.chosen is not None and meant.story is not None and meant.story.kind == "adjusted"
        if (meant.story is not None and not adjusted) or meant.sets:
            return []
        if meant.chosen is None:
            continue
        facts = cut(as_signs(text))
        meaning = meant.meanings[meant.chosen]
        alone = not adjusted or not found or (meant.story is not None and meant.story.adjuster is not None)
        units = {fact.unit for fact in facts if fact.kind == "figure"}
        told = OF_ANOTHER_TIME.search(text) is not None
        found.append(Part(text, meant, alone and _says_all(meaning, facts, text, every), units == {None} and not told))
        context = moved_on(context, meaning, facts)
    return found


def as_they_stand(
    parts: Sequence[Part], texts: Sequence[str], whole: Meaning | None
) -> Literal["whole", "apart", "asked"]:
    """Whether a line stands as it was read in one breath, its clauses stand one after the other, or nobody knows: where
    one that says all, or begins with bare figures that nothing before them is of, has other figures in the whole."""
    together = None if whole is None else figures_of(whole)
    if together == sum((figures_of(part.meaning) for part in parts), Counter()):
        return "whole"
    every = len(parts) == len(texts)
    if every and all(part.says_all for part in parts):
        return "apart"
    begins = parts[0].text == texts[0] and parts[0].is_bare
    own = [part for n, part in enumerate(parts) if part.says_all or (n == 0 and begins)]
    stands = together is not None and all(figures_of(part.meaning) <= together for part in own)
    return "whole" if stands or not every else "asked"


def figures_of(meaning: Meaning) -> Counter[tuple[str, str]]:
    """The figures and results of a meaning that were typed, each with its quantity."""
    return Counter(
        (r.quantity, f"{r.value:.6g}" if r.value is not None else str(r.result))
        for r in meaning.readings
        if r.method != WORKED_OUT
    )


def _says_all(meaning: Meaning, facts: Sequence[Fact], text: str, every: str) -> bool:
    kinds = {fact.kind for fact in facts}
    if meaning.remark or OF_ANOTHER_TIME.search(text) or ({"place", "item"} & kinds and not _is_placed(meaning)):
        return False  # 'v2 out nothing' is of v2
    if OF_ITS_OWN.search(text):
        return True
    read = [r for r in meaning.readings if r.method != WORKED_OUT]
    others = every.replace(text, "", 1)
    return all(_is_said(reading, facts, text, others) for reading in read)


def _is_placed(meaning: Meaning) -> bool:
    each = map(meaning.conditions_of, range(len(meaning.readings)))
    return any(there.place or there.item or there.function for there in each)


def _is_said(reading: Measured, facts: Sequence[Fact], text: str, others: str) -> bool:
    """Whether a clause says by itself what its figure is of."""
    placed = any(fact.kind in {"place", "item"} for fact in facts)
    bare = all(fact.unit is None for fact in facts if fact.kind == "figure")
    names = {fact.of for fact in facts if fact.kind == "quantity" and not (bare and fact.text in ELECTRODES)}
    if _is_named(reading.quantity, names):
        return True
    if reading.value is None:
        return _is_a_result_of_its_own(reading, facts, others, placed=placed)
    if _is_said_by_its_words(reading.quantity, text, placed=placed):
        return True
    units = {fact.unit for fact in facts if fact.kind == "figure"}
    return reading.unit in units and _is_of_its_unit(reading.unit, facts, others, placed=placed)


def _is_said_by_its_words(quantity: str, text: str, *, placed: bool) -> bool:
    if quantity == "swr":
        return RATIO.search(text) is not None
    if quantity in OF_A_COUNTER:
        return COUNTED.search(text) is not None or (quantity == "frequency_error" and OFF_BY.search(text) is not None)
    alternates = quantity == "ac_voltage" and ALTERNATES.search(text) is not None
    return placed and (alternates or quantity in OF_A_PLACE)


def _is_a_result_of_its_own(reading: Measured, facts: Sequence[Fact], others: str, *, placed: bool) -> bool:
    """'q5 open', 'rx dead'; 'final base none' behind volts of another place is of the volts there."""
    if reading.result == "none" and any(fact.unit in VOLTS for fact in cut(as_signs(others))):
        return False
    return placed or any(fact.text in vocabulary().functions for fact in facts)


def _is_named(quantity: str, names: set[str]) -> bool:
    """By its own name, or by one of those that are read together: a frequency and its error, the sides of a depth."""
    family = quantity.split("_")[0]
    alike = {name for name in names if name.split("_")[0] == family and family in FAMILIES}
    return quantity in names or bool(alike) or (quantity in OF_A_COUNTER and bool(OF_A_COUNTER & names))


def _is_of_its_unit(unit: str, facts: Sequence[Fact], others: str, *, placed: bool) -> bool:
    if unit == "V" and ALTERNATES.search(others):
        return False
    if unit == "A":
        sends = any(fact.of == "state" or fact.unit == "W" for fact in facts)
        return sends and not OTHER_AMPS & {fact.of for fact in (*facts, *cut(as_signs(others)))}
    if unit == "%":
        return OTHER_SHARES.search(others) is None
    if unit == "W" and any(fact.unit == "W" for fact in cut(as_signs(others))):
        return False  # '10m 92w, 12m 94w': both of one quantity
    return unit in BY_UNIT or (placed and unit in AT_A_PLACE)


def moved_on(context: EntryContext, meaning: Meaning, facts: Sequence[Fact]) -> EntryContext:
    """The context with the hand where a clause says that it stands."""
    there = meaning.conditions_of(len(meaning.readings) - 1)
    said: dict[str, object] = {}
    by_number = any(fact.kind == "figure" and _is_where(fact, there) for fact in facts)
    if by_number or any(fact.of in WHERE or fact.kind == "where" for fact in facts):
        said |= {key: getattr(there, key) for key in WHERE}
    if any(fact.of == "mode" for fact in facts):
        said["mode"] = there.mode
    if not said:
        return context
    lent = tuple(key for key in context.lent if key not in said)
    return context.model_copy(update={"conditions": context.conditions.model_copy(update=said), "lent": lent})


def _is_where(figure: Fact, there: Conditions) -> bool:
    """'3.9w 19', '446.05 -310hz': a figure that says the channel or the frequency where its clause was read."""
    hz = figure.value * (1e6 if figure.unit is None else 1.0)
    on_it = there.frequency_hz is not None and figure.unit in {None, "Hz"} and abs(hz - there.frequency_hz) < A_HERTZ
    return on_it or (figure.unit is None and figure.value == there.channel)


A_HERTZ = 1.0
