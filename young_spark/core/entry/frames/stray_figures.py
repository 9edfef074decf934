"""Whether every figure that no reading took may stand in the remark: what was read before, what is printed on a part,
how it was measured, what is asked for. Any other was read too, and a line that keeps it as words only loses it."""

import re
from collections.abc import Collection, Sequence

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.sentence import Sentence

# words around a figure that say it was not read now: before, by whom, how much it may be, what it is called by
TOLD = {
    "was", "were", "before", "not", "no", "sorry", "nominal", "nom", "spec", "limit", "limited", "within", "rated",
    "new", "up", "down", "->", "from", "±", "label", "labelled", "marked", "long", "after", "old", "then", "for",
    "wire", "cable", "coax", "type", "mains", "by", "should", "should be", "to", "max", "min", "supposed", "due",
    "under", "over", "below", "above", "with", "about", "set", "per", "each", "of", "x",
    "fall",  # there is no quantity for how fast a carrier goes
}  # fmt: skip
OF_A_PART = {"esr", "capacitance", "resistance", "inductance", "leakage_current"}
PRINTED = {"Ω", "F", "H", "k", "m", "A", "V", "W", None}  # units of what a part is called by
MEASURED_AT = {"W", "%", "k", "Hz", "dB", "V", "A"}  # units of how something was measured
# what is measured at a power, a depth, a deviation, with a tone
OF_A_SIGNAL = ("audio_", "imd", "hum_", "gain", "spurious", "sensitivity_", "squelch_", "harmonic_", "am_depth",
               "fm_deviation", "sinad", "carrier_power", "peak_envelope")  # fmt: skip
TONES_HZ = {300.0, 400.0, 500.0, 1000.0, 1250.0, 1500.0, 2000.0, 2500.0, 2700.0, 3000.0}


def leaves_a_stray(s: Sentence) -> bool:
    """Whether a figure that stands in the remark was read too, as far as anybody can tell."""
    return any(not _may_be_left(s, n) for n in _left(s))


def left_beside(plain: str, units: Collection[str]) -> list[str]:
    """The figures of a folded text in one of these units of which no word says that they were not read now, and that
    are not printed on a part."""
    facts = cut(plain)
    return [
        fact.text
        for n, fact in enumerate(facts)
        if fact.kind == "figure"
        and fact.unit in units
        and fact.unit not in {"Ω", "k"}
        and not _is_told(facts, n)
        and TOLD.isdisjoint(_words_in_front(facts, n))
    ]


def _words_in_front(facts: Sequence[Fact], n: int) -> list[str]:
    """The words of its clause in front of a figure, back to the figure before it."""
    start = max((m for m in range(n) if facts[m].kind == "figure" or facts[m].fresh), default=0)
    return [word for fact in facts[start:n] for word in fact.text.split(" ")]


def _left(s: Sentence) -> list[int]:
    used = {item.at for item in s.items} | s.taken
    return [n for n, f in enumerate(s.facts) if f.kind == "figure" and n not in used and f.of == ""]


def _may_be_left(s: Sentence, n: int) -> bool:
    again = any(s.facts[item.at].text == s.facts[n].text for item in s.items)  # '3.8w 3.8w'
    return again or _is_told(s.facts, n) or _is_printed(s, n) or _is_how_it_was_measured(s, n)


def _is_told(facts: Sequence[Fact], n: int) -> bool:
    """'was 2.1', 'not 48', '4.2 before', '±5%'."""
    around = [facts[m].text for m in (n - 2, n - 1, n + 1) if 0 <= m < len(facts)]
    return not TOLD.isdisjoint(around) or "±" in facts[n].text


def _is_printed(s: Sentence, n: int) -> bool:
    """'r3 47 ohm open circuit', 'fuse f2 blown, 5a', 'c71 10u leaky 4k': beside a part of which a result is told."""
    of_a_part = any(i.quantity in OF_A_PART or i.fact.unit in {"Ω", "F", "H"} for i in s.items)
    part = of_a_part or any(f.kind in {"place", "item"} for f in s.facts)
    told = of_a_part or any(f.kind in {"result", "link"} for f in s.facts)
    return part and told and s.facts[n].unit in PRINTED


def _is_how_it_was_measured(s: Sentence, n: int) -> bool:
    """'dist 4% at 80%', 'am sens 1.2uv 10db sn 30% mod', '3.7w am 1khz 80%'."""
    fact = s.facts[n]
    if fact.unit in {"Hz", "k"} and fact.value in TONES_HZ:
        return True
    if fact.unit == "s":
        return re.search(r"min|sec", fact.text) is not None
    led = s.is_link(n - 1, "at") or s.has_text(n - 1, "at", "@", "on", "with") or fact.unit == "%"
    if fact.unit not in MEASURED_AT and not led:
        return False
    if fact.unit == "W" and s.has_text(n - 1, "at", "@"):
        return True
    of_a_signal = any((item.quantity or "").startswith(OF_A_SIGNAL) for item in s.items)
    return of_a_signal and led
