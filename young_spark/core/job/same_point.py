"""Which figures were read at one point, so that they are before and after of each other."""

from collections.abc import Iterable, Sequence

from young_spark.core.gear import PlanRow
from young_spark.core.job.in_words import HOW, how_words, unlike
from young_spark.core.job.plans import ReadingFact, not_as_it_leaves

ADDRESS = (
    "item", "place", "function", "mode", "channel", "channels", "frequency_hz", "band", "state", "power_setting",
    "setting", "heat", "after_s", "instrument", "form", "direction", "over_db", "at_db", "test_v",
)  # fmt: skip


_Point = tuple[str | None, float | None]  # a mode, and a frequency in Hz


def points_of(row: PlanRow, facts: Sequence[ReadingFact]) -> list[tuple[str, list[ReadingFact]]]:
    """The figures of a line that says no mode or no frequency, for each that they were read in, with these in words;
    all of them together, where before and after were each read in one of them only. Those of another frequency than
    the line's stand apart, where there is one of its own."""
    elsewhere = _elsewhere(row, facts)
    here = [fact for fact in facts if fact not in elsewhere]
    apart = {hz: [f for f in elsewhere if f.conditions.frequency_hz == hz] for _, hz in map(point_of, elsewhere)}
    return [*_points_at(row, here), *((_in_words(None, hz), mine) for hz, mine in apart.items())]


def _points_at(row: PlanRow, facts: Sequence[ReadingFact]) -> list[tuple[str, list[ReadingFact]]]:
    if not facts:
        return []
    if row.frequency_hz is not None and row.mode is not None:
        return [(_instead_of(row.frequency_hz, facts), list(facts))]
    there = row.channel is not None or row.frequency_hz is not None
    by_point = _by_point(row, facts, there=there)
    received = [p for p, mine in by_point.items() if any(f.phase == "as_received" for f in mine)]
    since = [p for p, mine in by_point.items() if any(f.phase != "as_received" for f in mine)]
    if max(len(received), len(since)) > 1 or _of_other_sidebands(row, received, since):
        return [(_in_words(*point), mine) for point, mine in by_point.items()]
    said = "" if row.frequency_hz is None else _instead_of(row.frequency_hz, facts)
    where = _in_words(None, next(iter(by_point))[1]) if len(by_point) == 1 else ""
    return [(said or where, list(facts))]


def _by_point(row: PlanRow, facts: Sequence[ReadingFact], *, there: bool) -> dict[_Point, list[ReadingFact]]:
    """The figures by the mode and the frequency that the line leaves open; `there` says that it leaves no frequency."""
    found: dict[_Point, list[ReadingFact]] = {}
    for fact in _filled(facts, "mode") if there else _filled(_filled(facts, "mode"), "frequency_hz"):
        point = (None if row.mode else fact.conditions.mode, None if there else fact.conditions.frequency_hz)
        found.setdefault(point, []).append(fact)
    return found


def _of_other_sidebands(row: PlanRow, received: Sequence[_Point], since: Sequence[_Point]) -> bool:
    """'lsb -480 hz' before and 'am +150 hz' since: each sideband has an oscillator, and an error, of its own."""
    modes = {mode for mode, _ in (*received, *since) if mode}
    return row.quantity in OF_AN_OSCILLATOR and len(modes) > 1 and not SIDEBANDS.isdisjoint(modes)


OF_AN_OSCILLATOR = {"frequency_error", "carrier_frequency"}
SIDEBANDS = {"usb", "lsb"}


def _elsewhere(row: PlanRow, facts: Sequence[ReadingFact]) -> list[ReadingFact]:
    """'4.9w 7.030, 4.7w 7.000' where 7.03 MHz is wanted: the figures of other frequencies, where there is one of it."""
    wanted = row.frequency_hz
    read_at = {fact.conditions.frequency_hz for fact in facts} - {None}
    if wanted is None or len(read_at) == 1 or not any(hz and abs(hz / wanted - 1) < THE_SAME for hz in read_at):
        return []
    return [f for f in facts if (hz := f.conditions.frequency_hz) is not None and abs(hz / wanted - 1) >= THE_SAME]


THE_SAME = 1e-6


def _filled(facts: Sequence[ReadingFact], name: str) -> Sequence[ReadingFact]:
    """The figures, those for which nobody said a mode, or a frequency, in the one that the others were read in."""
    known = {getattr(f.conditions, name) for f in facts} - {None}
    if len(known) != 1:
        return facts
    only = {name: known.pop()}
    return [f.model_copy(update={"conditions": f.conditions.model_copy(update=only)}) for f in facts]


def _instead_of(wanted_hz: float, facts: Sequence[ReadingFact]) -> str:
    """'read at 7.03 MHz', where that is not where the line wants it."""
    read_at = {f.conditions.frequency_hz for f in facts} - {None, wanted_hz}
    alike = len(read_at) == 1 and all(f.conditions.frequency_hz != wanted_hz for f in facts)
    return f"read at {_in_words(None, read_at.pop())}" if alike else ""


def _in_words(mode: str | None, hz: float | None) -> str:
    return " · ".join(filter(None, (mode.upper() if mode else "", f"{hz / 1e6:.9g} MHz" if hz else "")))


def by_address(facts: Iterable[ReadingFact]) -> dict[str, list[ReadingFact]]:
    """Figures by where each was read."""
    found: dict[str, list[ReadingFact]] = {}
    for fact in facts:
        told = [str(getattr(fact.conditions, name)) for name in ADDRESS]
        key = "|".join((fact.quantity, *told, not_as_it_leaves(fact.conditions) or ""))
        found.setdefault(key, []).append(fact)
    return _with_those_that_say_less(found)


def _with_those_that_say_less(found: dict[str, list[ReadingFact]]) -> dict[str, list[ReadingFact]]:
    """Figures for which nobody said a channel, a mode or a power setting stand with those of the one that the same was
    read at, where the ones came in and the others since: two of the same side are no before and after."""
    for key in [*found]:
        mine = found.get(key)
        if mine is None:
            continue
        alike = [k for k, others in found.items() if k != key and _may_be_one(mine[0], others[0])]
        if len(alike) != 1 or sum(_may_be_one(found[alike[0]][0], others[0]) for others in found.values()) > 2:
            continue
        if _sides(mine).isdisjoint(_sides(found[alike[0]])):
            found[alike[0]] = sorted((*mine, *found[alike[0]]), key=lambda fact: fact.order)
            del found[key]
    return found


def told_apart(facts: Sequence[ReadingFact]) -> list[tuple[str, list[ReadingFact]]]:
    """The figures of a point for each way that they were read in ('voice', 'whistle'), with its words; all of them
    together, where each side was read in one way."""
    names = [name for name in HOW if any(unlike(name, [f.conditions for f in side]) for side in _by_side(facts))]
    found: dict[str, list[ReadingFact]] = {}
    for fact in facts:
        found.setdefault(how_words(fact.conditions, names), []).append(fact)
    return [*found.items()]


def _by_side(facts: Sequence[ReadingFact]) -> tuple[list[ReadingFact], list[ReadingFact]]:
    received = [fact for fact in facts if fact.phase == "as_received"]
    return received, [fact for fact in facts if fact.phase != "as_received"]


LEFT_UNSAID = ({"channel", "frequency_hz"}, {"mode"}, {"power_setting"}, {"form"})


def _may_be_one(one: ReadingFact, other: ReadingFact) -> bool:
    """Whether two figures differ in nothing but what was said of one and not of the other."""
    if one.quantity != other.quantity or not_as_it_leaves(one.conditions) != not_as_it_leaves(other.conditions):
        return False
    unlike = {n for n in ADDRESS if getattr(one.conditions, n) != getattr(other.conditions, n)}
    for names in LEFT_UNSAID:
        if unlike & names and any(all(getattr(f.conditions, n) is None for n in names) for f in (one, other)):
            unlike -= names
    return not unlike


def _sides(facts: Iterable[ReadingFact]) -> set[bool]:
    return {fact.phase == "as_received" for fact in facts}


def point_of(fact: ReadingFact) -> tuple[int | None, float | None]:
    """The channel and the frequency in Hz that a figure was read at."""
    return fact.conditions.channel, fact.conditions.frequency_hz
