"""Whether a breath that could be taken is doubtful beside what was read before and what the current line wants."""

import math
import re

from young_spark.core.entry.believed.usual import OUT_OF_RANGE as UNUSUAL
from young_spark.core.entry.believed.usual import how_far
from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.facts.meaning import Earlier, EntryContext, Understanding
from young_spark.core.entry.facts.said import Breath, Said
from young_spark.core.entry.lines.where_it_was_left import OF_THE_HAND
from young_spark.core.entry.understood.one_figure import NO_FIGURE, figure_words
from young_spark.core.entry.understood.unnamed_senses import unnamed_senses
from young_spark.core.figure import quantity

FAR_OFF = {"a_zero", "ten_decibels", "far_in_level", "more_than_it_can"}


def is_doubtful(breath: Breath, taken: Understanding, plain: str, context: EntryContext) -> bool:
    """Whether only the slip says which quantity a figure is, other words stand beside it, and it lies far from what is
    due there: 'rx .18' where kilohertz of deviation are wanted."""
    if any(figure_words(reading) == NO_FIGURE for meaning in taken.meanings for reading in meaning.readings):
        return True
    figures = [said for said in breath.said if not said.derived]
    leans = len(figures) == 1 and figures[0].leans and len(cut_facts(plain)) > 1
    if leans and any(guard.code in FAR_OFF for guard in taken.guards):
        return True
    wanted = [said for said in figures if said.as_wanted]
    return _is_of_another(figures, wanted, plain, context) or _is_unusual(figures, wanted, plain, context)


def _is_of_another(figures: list[Said], wanted: list[Said], plain: str, context: EntryContext) -> bool:
    """Whether figures that nobody names are rather of another quantity, by what was read before."""
    unnamed = [said for said in figures if not said.named]
    if _is_of_what_was_read(unnamed, wanted, plain, context):
        return True
    return any(_is_as_another_was(said, context) or _is_no_such_power(said, context) for said in unnamed)


def _is_unusual(figures: list[Said], wanted: list[Said], plain: str, context: EntryContext) -> bool:
    """Whether figures that the slip names are out of what is usual of that, or are likelier something else."""
    of_a_supply = [said for said in figures if said.leans and said.quantity == "supply_voltage"]
    unusual = any(how_far(said, context) > UNUSUAL for said in (*wanted, *of_a_supply))
    return unusual or _is_likelier_otherwise(wanted, plain, context)


def _is_of_what_was_read(unnamed: list[Said], wanted: list[Said], plain: str, context: EntryContext) -> bool:
    """Whether figures that nobody names stand where something else was read before, and what is wanted never was."""
    if len(unnamed) > 1 and all(_was_read_there(said, context) for said in unnamed):
        return True
    return bool(wanted) and NOW.search(plain) is not None and _was_read_otherwise(wanted[0], context)


def _is_no_such_power(said: Said, context: EntryContext) -> bool:
    """'40m .14' behind 99 W on that band: a bare figure far from every power that was read there; or watts that drive
    an amplifier with half of what it gives."""
    if said.unit != "W" or not said.value or said.result is not None:
        return False
    if said.quantity == "drive_power":
        return said.value > MOST_DRIVE * (context.greatest_power_w or math.inf)
    there = [e.value for e in context.earlier if e.quantity == said.quantity and e.value and _is_at(e, said)]
    far = all(max(value / said.value, said.value / value) > NO_SUCH_POWER for value in there)
    return bool(there) and far and not said.in_its_unit


def _is_at(earlier: Earlier, said: Said) -> bool:
    points = ("frequency_hz", "channel")
    return all(said.address.get(key) in {None, getattr(earlier.conditions, key)} for key in points)


MOST_DRIVE = 0.4  # of the greatest power
NO_SUCH_POWER = 100.0  # times: a dead final is weaker, and is said in its unit


def _is_as_another_was(said: Said, context: EntryContext) -> bool:
    """'z3 new, 310v steady' behind 1980 V of the plates and 310 V of the screens: what nobody names is as much as
    another was, and not nearly what this one was."""
    newest = {e.quantity: e.value for e in context.earlier if quantity(e.quantity).unit == said.unit and e.value}
    own = newest.pop(said.quantity or "", None)
    if own is None or not said.value or said.address.get("place"):
        return False
    apart, alike = max(own / said.value, said.value / own), (abs(v / said.value - 1) for v in newest.values())
    return apart > FAR_FROM_ITS_OWN and any(off < AS_MUCH for off in alike)


FAR_FROM_ITS_OWN, AS_MUCH = 2.5, 0.1  # times, and a share
NOW = re.compile(r"\b(?:now|still|unchanged|as before|same)\b")


def _was_read_otherwise(said: Said, context: EntryContext) -> bool:
    """'usb now 24.5' behind watts on that sideband, where a suppression is wanted: what is read once more was read
    before, in the same mode, and this never was."""
    for key in ("mode", "frequency_hz", "channel"):
        at = said.address.get(key)
        there = {e.quantity for e in context.earlier if at is not None and getattr(e.conditions, key) == at}
        if there:
            return said.quantity not in there
    return False


def _was_read_there(said: Said, context: EntryContext) -> bool:
    """'15m 1.1uv, 10m 1.4uv' behind what a receiver needed on these bands, where a squelch is wanted: a row over places
    that were gone through before is of what was read there."""
    there = {
        e.quantity
        for e in context.earlier
        if quantity(e.quantity).unit == said.unit
        and all(said.address.get(key) == getattr(e.conditions, key) for key in ("frequency_hz", "channel"))
    }
    said_where = {"frequency_hz", "channel"} & said.address.keys()
    return bool(said_where and there) and said.quantity not in there


def _is_likelier_otherwise(wanted: list[Said], plain: str, context: EntryContext) -> bool:
    """'lsb 22 usb 21' behind a peak power of 22 W, where the current line wants a suppression of one of them: bare
    figures at points where nobody asks for what is wanted, and of which another sense is likelier."""
    if not context.earlier or not wanted or context.earlier[-1].quantity == wanted[0].quantity:
        return False
    points = [p.model_dump(exclude_none=True) for p in context.points if p.quantity == wanted[0].quantity]
    if all(any(_is_there(said, point) for point in points) for said in wanted):
        return False
    likeliest = next(unnamed_senses(cut_facts(plain), plain, context), None)
    return likeliest is not None and likeliest.said[0].quantity != wanted[0].quantity


def _is_there(said: Said, point: dict[str, object]) -> bool:
    return all(said.address.get(k) in {None, v} for k, v in point.items() if k in OF_THE_HAND)
