"""Figures that nobody names, of a size with what was read last: 'after that 1.2', 'with my lead 1.3 on ch1'."""

import re
from collections.abc import Sequence
from dataclasses import replace

from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.meaning import Earlier, EntryContext
from young_spark.core.entry.lines.adjustments import COUNTED_LAST
from young_spark.core.entry.lines.repairs import MONEY
from young_spark.core.entry.wording.places import TRIMMER
from young_spark.core.figure import quantity

FARTHEST = 10.0  # times what was read last
LONGEST = 12  # facts; more of them tell of something else
NAMING = {"quantity", "result"}


def may_be_as_before(facts: Sequence[Fact], plain: str, context: EntryContext) -> bool:
    """Whether the bare figures of a text may be of what was read last; not where they count or name something."""
    last = context.earlier[-1] if context.earlier else None
    figures = [f for f in facts if f.kind == "figure"]
    if last is None or not figures or len(facts) > LONGEST or any(f.kind in NAMING for f in facts):
        return False
    if last.quantity == "frequency_error" and not all(f.signed for f in figures):
        return False  # whole hertz, and none of them has tenths
    return "?" not in plain and all(_may_be_as(f, last.value) for f in figures)


LEFT_IN_UNIT = re.compile(
    r"(?:, (?:now )?|\b(?:cleaned|resoldered|re-soldered|soldered|reflowed|remade|tightened|reseated) )"
    r"(?P<figure>[+-]?\d*\.?\d+ ?[a-z%]+)(?: now)?$"
)
LEFT_BARE = re.compile(r"(?<![\w.,£$€/-])(?P<word>[a-z]+) (?P<figure>[+-]?\d*\.?\d+)(?P<now> now)?$")
OF_A_PART = {"fuse", "resistor", "cap", "capacitor", "element", "pin", "valve", "crystal", "xtal", "type", "ohm", "of"}


def as_before_in(plain: str, context: EntryContext) -> str | None:
    """The figure that ends a line of words and may be what was read last, once more, with what it is of: 'swr 1.4' of
    'new plug 1.4' behind an SWR of 4.1, 'motor 0.28a' of 'gearbox cleaned, 0.28a'. None where it is rather what a part
    is called by, or cost."""
    last = context.earlier[-1] if context.earlier else None
    if last is None or MONEY.search(plain):
        return None
    figure = _bare_again(plain, last.value) or _in_unit_again(plain, last) or _set_again(plain, last)
    of = "current" if last.quantity == "dc_current" else ""
    named = f"{last.conditions.place} {of}" if last.conditions.place else quantity(last.quantity).name.lower()
    if last.conditions.item == "aerial":
        named = f"aerial {named}"
    return None if figure is None else f"{named.strip()} {figure}"


SET_TO = re.compile(
    rf"^(?:{TRIMMER}\d{{1,3}} )?(?:re-?)?(?:set|trimmed|adjusted|turned|backed off|brought|wound)(?: back| down| up)?"
    r"(?: (?:to|at|for))? "
    r"(?P<figure>[+-]?\d*\.?\d+ ?[a-z%]*)$"
)


def set_to_in(plain: str, context: EntryContext) -> str | None:
    """What was read last, as it was set: 'deviation 4.1k' of 'set to 4.1k' behind 5.9 kHz. None where it may be
    another quantity, or what the knob shows."""
    last, found = context.earlier[-1] if context.earlier else None, SET_TO.match(plain)
    fact = None if found is None else next((f for f in cut(found["figure"]) if f.kind == "figure"), None)
    if last is None or found is None or fact is None or last.value == 0:
        return None
    unit = quantity(last.quantity).unit
    alike = fact.unit == unit or (fact.unit == "k" and unit == "Hz")
    near = 1 / FARTHEST < abs(fact.value / last.value) < FARTHEST
    return f"{quantity(last.quantity).name.lower()} {found['figure']}" if alike and near else None


_LEFT = (
    r"(?:[,:;]| now| ->| =|\b(?:netted|zeroed|trimmed|pulled|tuned|set|brought|moved|reset)(?: back)?(?: to| at| for)?)"
    r" ?(?:now |is |reads |at )*"
)
OFF_AGAIN = re.compile(
    rf"{_LEFT}(?P<mode>(?:usb|lsb|ssb|am|fm) )?(?:now |is |reads |at )*(?P<off>[+-]\d{{1,5}})(?: ?hz)?(?: now| again)?"
    r"(?P<each> (?:in |on )?(?:all|both|every)(?: \w+)? (?:modes?|sidebands?))?$"
)


def counted_again_in(plain: str, context: EntryContext) -> str | None:
    """'TP4 4.9135 MHz' of 'trim l7: 4.9135' behind 4.9138 MHz that was counted there: a stage's own frequency."""
    found, last = COUNTED_LAST.search(plain), context.earlier[-1] if context.earlier else None
    if found is None or last is None or last.quantity != "stage_frequency" or last.conditions.place is None:
        return None
    near = abs(float(found["counted"]) * 1e6 / last.value - 1) < SAME_STAGE
    return f"{last.conditions.place.lower()} {found['counted']}mhz" if near else None


SAME_STAGE = 0.01


def off_again_in(plain: str, context: EntryContext) -> str | None:
    """'err -40' of 'netted x1, -40 now' where it was read before how far the unit was off: whole and with a sign, and
    of nothing else that has one."""
    found = OFF_AGAIN.search(plain)
    newest = context.earlier[-1] if context.earlier else None
    if found is None or newest is None or context.last("frequency_error") is None:
        return None
    levels = quantity(newest.quantity).unit in {"dBm", "dBc", "V"}
    if levels:
        return None
    modes = [found["mode"] or ""] if found["each"] is None else _modes_of("frequency_error", context)
    each = ", ".join(f"{mode} {found['off']}".strip() for mode in modes)
    return f"err {each}" if modes else None


def _modes_of(name: str, context: EntryContext) -> list[str]:
    """The modes in which a quantity was read before, in the order of their first reading."""
    read = (e.conditions.mode for e in context.earlier if e.quantity == name)
    return list(dict.fromkeys(mode for mode in read if mode is not None))


TWO_AGAIN = re.compile(r"[,:;] (?:now )?(?P<one>\d+\.\d+)(?: and |, | / |/| )(?P<two>\d+\.\d+)(?: now| again)?$")


def both_again_in(plain: str, context: EntryContext) -> str | None:
    """'swr ch5 1.3, ch40 1.5' of 'trimmed whip, 1.3 and 1.5' behind an SWR on both channels. None where these were not
    two figures of one size with those."""
    found, before = TWO_AGAIN.search(plain), context.channels_before
    if found is None or len(before) != 2 or MONEY.search(plain):
        return None
    name, last = before[0][0], context.last(before[0][0])
    near = last is not None and all(1 / FARTHEST < float(found[n]) / last.value < FARTHEST for n in ("one", "two"))
    if last is None or not near:
        return None
    item = "aerial " if last.conditions.item == "aerial" else ""
    at = ", ".join(f"ch{channel} {found[n]}" for (_, channel), n in zip(before, ("one", "two"), strict=True))
    return f"{item}{quantity(name).name.lower()} {at}"


def _bare_again(plain: str, last: float) -> str | None:
    found = LEFT_BARE.search(plain)
    if found is None or found["word"] in OF_A_PART:
        return None
    fact = next((f for f in cut(found["figure"]) if f.kind == "figure"), None)
    again = fact is not None and _may_be_as(replace(fact, signed=fact.signed or bool(found["now"])), last)
    return found["figure"] if again else None


def _set_again(plain: str, last: Earlier) -> str | None:
    """'backed off to 80' behind peaks of 98 %: what was looked at, by a bare figure of its size."""
    found = SET_TO.match(plain)
    fact = None if found is None else next((f for f in cut(found["figure"]) if f.kind == "figure"), None)
    if found is None or fact is None or fact.unit is not None or fact.signed or last.value == 0:
        return None
    return found["figure"] if 1 / SAME_SIZE < abs(fact.value / last.value) < SAME_SIZE else None


SAME_SIZE = 2.5  # times what was read last, of a figure that a knob may show too


def _in_unit_again(plain: str, last: Earlier) -> str | None:
    found = LEFT_IN_UNIT.search(plain)
    fact = None if found is None else next((f for f in cut(found["figure"]) if f.kind == "figure"), None)
    if found is None or fact is None or fact.unit != quantity(last.quantity).unit or last.value == 0:
        return None
    return found["figure"] if 1 / FARTHEST < abs(fact.value / last.value) < FARTHEST else None


def _may_be_as(fact: Fact, last: float) -> bool:
    """Whether a bare figure was read rather than counted, and is of a size with the one before."""
    read = fact.unit is None and (fact.decimals > 0 or fact.signed)
    return read and last != 0 and 1 / FARTHEST < abs(fact.value / last) < FARTHEST
