"""A data file as tables that are edited in place: rows with figures, words, choices and yes or no; where each stands in
the file's text."""

from collections.abc import Sequence
from typing import Literal

from young_spark.core.ground.edited_text import Plain, with_row, with_value, without
from young_spark.core.ground.errors import UnknownName, nearest
from young_spark.core.ground.frozen import Frozen

MOST_CHANGES = 12  # told at once


class EditColumn(Frozen):
    """A field of the rows of a table; `unit` where it is the same in each row."""

    field: str
    words: str
    kind: Literal["figure", "words", "choice", "yes"] = "figure"
    unit: str = ""
    choices: tuple[str, ...] = ()


class EditRow(Frozen):
    """One row: `values` of the fields that it has, and where it stands in the text. `steps` lead to the table that its
    values are written into; `stands` to the row itself, None where the file only uses it. `whole` is what another
    like it begins with."""

    id: str
    name: str
    about: str = ""
    unit: str = ""
    values: dict[str, str | float | bool | None]
    steps: tuple[str | int, ...]
    stands: tuple[str | int, ...] | None = None
    whole: dict[str, object] = {}


class EditTable(Frozen):
    """Rows of one kind; `rows_in` is the list of the file that another row is added to, empty where none can be."""

    id: str
    title: str
    columns: tuple[EditColumn, ...]
    rows: tuple[EditRow, ...]
    rows_in: str = ""

    def row(self, row_id: str) -> EditRow:
        """A row by id. Raises UnknownName."""
        known = {row.id: row for row in self.rows}
        if row_id not in known:
            raise UnknownName("row", row_id, nearest(row_id, known))
        return known[row_id]

    def column(self, field: str) -> EditColumn:
        """A column by its field. Raises UnknownName."""
        known = {column.field: column for column in self.columns}
        if field not in known:
            raise UnknownName("column", field, nearest(field, known))
        return known[field]


def table_of(tables: Sequence[EditTable], name: str) -> EditTable:
    """A table by id. Raises UnknownName."""
    known = {table.id: table for table in tables}
    if name not in known:
        raise UnknownName("table", name, nearest(name, known))
    return known[name]


def changed(text: str, file: str, table: EditTable, row_id: str, field: str, value: Plain) -> str:
    """The text with one cell changed. Raises UnknownName, and BadKnowledge for what is no such file."""
    row = table.row(row_id)
    table.column(field)
    *before, last = field.split(".")
    if not last.isdigit():
        return with_value(text, file, (*row.steps, *before, last), value)
    pair = [row.values[f"{before[-1]}.{n}"] for n in range(2)]
    pair[int(last)] = value if isinstance(value, int | float) else None
    return with_value(text, file, (*row.steps, *before), [float(p or 0) for p in pair])


def with_another(text: str, file: str, table: EditTable, row_id: str, key: str, named: str | float) -> str:
    """The text with another row like one of a table, that goes by another name."""
    return with_row(text, file, table.rows_in, {**table.row(row_id).whole, key: named})


def taken_off(text: str, file: str, table: EditTable, row_id: str) -> str:
    """The text without a row of a table; one that the file only uses cannot be taken off. Raises UnknownName."""
    stands = table.row(row_id).stands
    return text if stands is None else without(text, file, stands)


def differences(before: Sequence[EditTable], after: Sequence[EditTable]) -> tuple[str, ...]:
    """What was changed, cell by cell, in words: 'Carrier, high setting: high 4 W, was 3.6 W'."""
    told = [words for table in after for words in _of_table(_like(before, table), table)]
    told += [f"{row.name}: not there any more" for table in before for row in _gone(table, _like(after, table))]
    more = len(told) - MOST_CHANGES
    return (*told[:MOST_CHANGES], *((f"and {more} more",) if more > 0 else ()))


def _like(tables: Sequence[EditTable], wanted: EditTable) -> EditTable | None:
    return next((table for table in tables if table.id == wanted.id), None)


def _gone(table: EditTable, after: EditTable | None) -> list[EditRow]:
    there = {row.id for row in after.rows} if after else set()
    return [row for row in table.rows if row.id not in there]


def _of_table(before: EditTable | None, after: EditTable) -> list[str]:
    told = []
    known = {row.id: row for row in before.rows} if before else {}
    for row in after.rows:
        if (old := known.get(row.id)) is None:
            told.append(f"{row.name}: new")
            continue
        for column in after.columns:
            was, now = old.values.get(column.field), row.values.get(column.field)
            if was != now:
                unit = column.unit or (row.unit if column.kind == "figure" else "")
                told.append(f"{row.name}: {column.words} {_words(now, unit)}, was {_words(was, unit)}")
    return told


def _words(value: Plain, unit: str) -> str:
    match value:
        case None | "":
            return "none"
        case bool():
            return "yes" if value else "no"
        case float() | int():
            return f"{value:.10g} {unit}".strip()
        case _:
            return str(value)
