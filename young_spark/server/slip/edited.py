"""A limit profile, a channel plan or a chain as tables that are edited in place: a text goes in with one change, and
comes out with its tables, what is different from what stands, and what that would do. Nothing is kept here."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from young_spark.core.figure import VERDICT_WORDS, format_value, quantity
from young_spark.core.ground import (
    BadKnowledge,
    CoreError,
    EditTable,
    Plain,
    changed,
    differences,
    parse,
    table_of,
    taken_off,
    with_another,
)
from young_spark.core.judging import ChannelPlan, Profile, Row, VerdictLine, channel_table, limit_tables, verdict_by
from young_spark.core.trace import chain_from, chain_tables
from young_spark.server.library.own_texts import OwnTexts
from young_spark.server.library.services import OWN_PLANS, OWN_PROFILES
from young_spark.server.problems import Refused
from young_spark.server.readings.models import Reading
from young_spark.server.tracing.chains import OWN_CHAINS

EditKind = Literal["limits", "channels", "chains"]
MOST_READINGS, MOST_TOLD = 2000, 6  # that are judged again, and told of


def _limits(text: str, file: str) -> tuple[EditTable, ...]:
    return limit_tables(parse(text, file, Profile))


def _channels(text: str, file: str) -> tuple[EditTable, ...]:
    return channel_table(parse(text, file, ChannelPlan))


def _chain(text: str, file: str) -> tuple[EditTable, ...]:
    return chain_tables(chain_from(text, file, file), text, file)


@dataclass(frozen=True)
class _Kind:
    """How a kind is read as tables, where its texts are kept, and by what a new row goes."""

    tables: Callable[[str, str], tuple[EditTable, ...]]
    texts: OwnTexts[Any]
    key: str


KINDS: dict[str, _Kind] = {
    "limits": _Kind(_limits, OWN_PROFILES, "id"),
    "channels": _Kind(_channels, OWN_PLANS, "number"),
    "chains": _Kind(_chain, OWN_CHAINS, "id"),
}


@dataclass(frozen=True)
class Edit:
    """One change of a table: a cell set to a value, another row like one, or one taken off."""

    act: Literal["set", "another", "off"]
    table: str
    row: str
    field: str = ""
    value: Plain = None


@dataclass(frozen=True)
class Edited:
    """A text as it now is, its tables, how it differs from what stands, and what that would do."""

    text: str
    tables: tuple[EditTable, ...]
    changes: tuple[str, ...]
    would: tuple[str, ...]


def edited(kind: EditKind, name: str, text: str, edit: Edit | None) -> Edited:
    """A text with one change made, or as it is. Raises Refused with line and cause where it is not understood then."""
    of, file = KINDS[kind], f"{name}.toml"
    try:
        if edit is not None:
            text = _made(of, text, file, edit)
        tables = of.tables(text, file)
    except CoreError as refusal:
        raise Refused(str(refusal)) from refusal
    own = of.texts.newest(name)
    stands = own.text if own is not None else of.texts.shipped(name)
    try:
        before = of.tables(stands, file) if stands else ()
    except BadKnowledge:
        before = ()  # an own text of an earlier version: nothing to hold this one against
    told = differences(before, tables) if stands else ()
    would = _judged_anew(name, parse(text, file, Profile)) if kind == "limits" and told else ()
    return Edited(text, tables, told, would)


def _made(of: _Kind, text: str, file: str, edit: Edit) -> str:
    table = table_of(of.tables(text, file), edit.table)
    match edit.act:
        case "set":
            return changed(text, file, table, edit.row, edit.field, edit.value)
        case "off":
            return taken_off(text, file, table, edit.row)
    return with_another(text, file, table, edit.row, of.key, _free(table, edit.row))


def _free(table: EditTable, like: str) -> str | float:
    """A name that no row has yet: channel 41 behind 40, 'final_dead_2' behind 'final_dead'."""
    there = {row.id for row in table.rows}
    if like.isdigit():
        return max(int(row) for row in there if row.isdigit()) + 1
    joint = "_" if table.rows_in != "rows" else "-"
    return next(made for n in range(2, len(there) + 3) if (made := f"{like}{joint}{n}") not in there)


def _judged_anew(name: str, profile: Profile) -> tuple[str, ...]:
    """Readings of the jobs on the shelf that this profile would judge otherwise. What was judged stays as it was
    judged: this says what the next such reading would be."""
    rows = {row.id: row for row in profile.rows}
    told = [words for reading in _of_the_shelf() for words in _otherwise(reading, name, rows)]
    more = len(told) - MOST_TOLD
    return (*told[:MOST_TOLD], *((f"and {more} more on the shelf",) if more > 0 else ()))


def _otherwise(reading: Reading, name: str, rows: Mapping[str, Row]) -> Iterable[str]:
    """What rows of a profile would say of a reading that they judged otherwise."""
    job, value = reading.line.job, reading.value
    for line in (VerdictLine.model_validate(v) for v in reading.verdicts if v["profile"] == name):
        verdict = verdict_by(reading.as_measured, rows[line.row]) if line.row in rows else None
        if job is None or value is None or verdict is None or verdict == line.verdict:
            continue
        figure = f"{quantity(reading.quantity).name} {format_value(value, reading.unit)}"
        yield f"Job {job.number}: {figure} would be {VERDICT_WORDS[verdict]}, was {VERDICT_WORDS[line.verdict]}"


def _of_the_shelf() -> Iterable[Reading]:
    there = Reading.objects.filter(line__job__handed_back_at=None, line__withdrawn_at=None, line__job__isnull=False)
    return there.exclude(verdicts=[]).select_related("line__job").order_by("-at")[:MOST_READINGS]
