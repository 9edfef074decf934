"""A table to look something up in: its columns, its rows, where it comes from, and what a row says to the field."""

from typing import Self

from pydantic import model_validator

from young_spark.core.ground import Frozen, shipped


class Row(Frozen):
    """One row: its cells as they are read, and the text that the field takes of it; one that ends in a space wants a
    figure behind it."""

    cells: tuple[str, ...]
    field: str = ""

    @property
    def field_text(self) -> str:
        """What the field takes: a row that is no reading is kept as a note."""
        return self.field or "note " + ", ".join(c for c in self.cells if c)


class Table(Frozen):
    """A table with its source; `words` are those that find it beside the words of its title."""

    title: str
    source: str
    words: str = ""
    note: str = ""
    columns: tuple[str, ...]
    rows: tuple[Row, ...]

    @model_validator(mode="after")
    def _rows_fit(self) -> Self:
        for number, row in enumerate(self.rows, 1):
            if len(row.cells) != len(self.columns):
                raise ValueError(f"row {number} has {len(row.cells)} cells where there are {len(self.columns)} columns")
        return self


def shipped_tables() -> dict[str, Table]:
    """The tables that are nothing but data, by id."""
    return shipped("reference", Table)
