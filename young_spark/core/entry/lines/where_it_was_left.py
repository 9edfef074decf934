"""Where an adjuster was looked at when it was left: what the words before the figure say, what the hand looked at last,
the whole of what was read then."""

import re
from itertools import pairwise

from young_spark.core.entry.facts.by_unit import SIDEBANDS
from young_spark.core.entry.facts.cutting import cut as cut_facts
from young_spark.core.entry.facts.meaning import EntryContext

OF_THE_HAND = ("channel", "frequency_hz", "mode", "power_setting")


def power_of_a_level(ended_on: str, context: EntryContext) -> str:
    """'alc 12w' of 'alc set for 12w': the peak that it holds on a sideband, or the carrier."""
    if (watts := ALC_IN_WATTS.fullmatch(ended_on)) is None:
        return ended_on
    return f"{'power' if SIDEBANDS.isdisjoint(context.modes) else 'pep'} {watts[1]}"


def with_its_whole_clause(plain: str, ended_on: str) -> str:
    """'usb +5 lsb -10' of 'netted both crystals, usb +5 lsb -10': what was read behind a break is all of it, unless it
    tells of one figure that became another."""
    clause = BREAK.split(plain)[-1]
    more = _count(clause) > _count(ended_on) and clause.endswith(ended_on) and CHANGED.search(clause) is None
    return clause if more and clause != plain else ended_on


def _count(words: str) -> int:
    return sum(fact.kind == "figure" for fact in cut_facts(words))


BREAK = re.compile(r"[,;:] ")
CHANGED = re.compile(r"\b(?:to|from|was|were|down|up|instead|by|for)\b|->|→")
ALC_IN_WATTS = re.compile(r"alc ([\d.]+ ?w)")


def where_it_was_said(plain: str, ended_on: str) -> str:
    """'10m input coil turned half out, swr 1.5': the band, the channel or the end that the words before name."""
    before = plain.removesuffix(ended_on) if plain.endswith(ended_on) else ""
    if before and "input" in before.split() and ended_on.startswith("swr "):
        ended_on = f"input {ended_on}"
    stage = [f.text for f in cut_facts(before) if f.kind == "place" and f.of == "oscillator"]
    if len(stage) == 1 and "dbm" in ended_on:
        ended_on = f"{stage[0]} {ended_on}"  # 'lo trimmer peaked +9.5dbm': no power of the unit
    looked_at = (point for at, point in pairwise(cut_facts(before)) if at.text == "at" and point.kind == "place")
    if (point := next(looked_at, None)) is not None:
        return f"{point.text} {ended_on}"  # 'l9 peaked at driver collector 380 -> 520mv rf'
    said = _channel_or_band(before)
    there = any(f.kind == "where" for f in cut_facts(ended_on))
    return ended_on if there or len(said) != 1 else f"{said[0]} {ended_on}"


def _channel_or_band(before: str) -> list[str]:
    said = [f.text for f in cut_facts(before) if f.kind == "where" and f.of in {"band", "channel"}]
    megahertz = MEGAHERTZ_BEFORE.search(before)
    return said or ([] if megahertz is None else [f"{megahertz[1]} mhz"])


def where_it_was_counted(ended_on: str, context: EntryContext) -> str:
    """'tcxo trimmed, 145.00002' behind what that oscillator was counted at: there, and not what leaves the unit."""
    last = context.earlier[-1] if context.earlier else None
    if last is None or last.quantity != "stage_frequency" or COUNT.fullmatch(ended_on) is None:
        return ended_on
    near = abs(float(ended_on) * 1e6 / last.value - 1) < SAME_OSCILLATOR
    return f"{last.conditions.place} {ended_on}" if near and last.conditions.place else ended_on


MEGAHERTZ_BEFORE = re.compile(r"(?<![\w.+-])(\d{1,3}\.\d{1,3})(?: ?mhz)?,? $")  # 'peaked l12 l13 28.5 78w'
COUNT = re.compile(r"\d+\.\d{3,}")
SAME_OSCILLATOR = 1e-3  # of what it was counted at


def where_it_was_turned(quantity_id: str, context: EntryContext, found: str | None = None) -> EntryContext:
    """Whoever turns something looks at what was read last, or where that was read which was found: the hand stays
    there, whatever line is next."""
    value = next((f.value for f in cut_facts(found or "") if f.kind == "figure"), None)
    there = (e for e in reversed(context.earlier) if e.quantity == quantity_id and e.value == value)
    last = next(there, None) or context.last(quantity_id)
    if last is None:
        return context
    at = {name: getattr(last.conditions, name) for name in OF_THE_HAND}
    return context.model_copy(update={"conditions": context.conditions.model_copy(update=at)})
