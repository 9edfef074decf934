"""Reading the data files: TOML into frozen values, every problem named with its line."""

import re
from functools import cache
from pathlib import Path
from typing import Any, TypeVar, cast

from pydantic import BaseModel, ValidationError

from young_spark.core.ground.errors import BadKnowledge
from young_spark.core.ground.tables import tables

SHIPPED = Path(__file__).resolve().parents[2] / "knowledge"
MOST_PROBLEMS = 20  # told at once: nobody mends more in one go
Value = TypeVar("Value", bound=BaseModel)


def parse(text: str, file: str, kind: type[Value]) -> Value:
    """One data file's text as a value of `kind`. Raises BadKnowledge with each of the first problems and its line."""
    data = tables(text, file)
    try:
        return kind.model_validate(data)
    except ValidationError as problem:
        errors = problem.errors(include_url=False)
        told = [
            _problem(text, data, e["loc"], e["msg"], is_missing=e["type"] == "missing") for e in errors[:MOST_PROBLEMS]
        ]
        if len(errors) > MOST_PROBLEMS:
            told.append(f"and {len(errors) - MOST_PROBLEMS} more")
        raise BadKnowledge(file, tuple(told)) from problem


def load(path: Path, kind: type[Value]) -> Value:
    """The data file at `path`; raises BadKnowledge where it cannot be read or understood."""
    try:
        return parse(path.read_text("utf-8"), path.name, kind)
    except OSError as problem:
        raise BadKnowledge(path.name, (problem.strerror or "cannot be read",)) from problem


def load_folder(folder: Path, kind: type[Value]) -> dict[str, Value]:
    """Every .toml of a folder by its file's stem, in order of name."""
    return {path.stem: load(path, kind) for path in sorted(folder.glob("*.toml"))}


@cache
def shipped(folder: str, kind: type[Value]) -> dict[str, Value]:
    """The shipped data files of one folder, read once."""
    return load_folder(SHIPPED / folder, kind)


def _problem(
    text: str, data: dict[str, object], where: tuple[int | str, ...], message: str, *, is_missing: bool
) -> str:
    where = _in_the_file(data, where, is_missing=is_missing)
    place = ".".join(str(part) for part in where)
    of = f"{place}{_named(data, where)}: " if place else ""
    return f"line {_line_of(text, where)}: {of}{message.removeprefix('Value error, ')}"


def _in_the_file(data: Any, where: tuple[int | str, ...], *, is_missing: bool) -> tuple[int | str, ...]:
    """A problem's place without the steps that are not the file's: which shape of a row was tried. The last step is
    not in the file where it is what is missing there."""
    kept: list[int | str] = []
    there: Any = data
    for number, step in enumerate(where):
        if isinstance(there, list) or (isinstance(there, dict) and step in there):
            there = cast(Any, there)[step]
        elif not is_missing or number < len(where) - 1:
            continue
        kept.append(step)
    return tuple(kept)


def _named(data: dict[str, object], where: tuple[int | str, ...]) -> str:
    """The own id of the table that a problem's place names, where it has one."""
    tables = data.get(str(where[0])) if where else None
    if len(where) < 2 or not isinstance(where[1], int) or not isinstance(tables, list):
        return ""
    table = tables[where[1]]
    return f" ({table['id']!r})" if isinstance(table, dict) and isinstance(table.get("id"), str) else ""


def shipped_text(folder: str, name: str) -> str:
    """A shipped data file as it was written, comments and all."""
    return (SHIPPED / folder / f"{name}.toml").read_text("utf-8")


def _line_of(text: str, where: tuple[int | str, ...]) -> int:
    """Line of the table that a problem's place names, and of its key where the table holds it."""
    lines = text.splitlines()
    start = 0
    if len(where) >= 2 and isinstance(where[1], int):
        headers = [n for n, line in enumerate(lines) if re.match(rf"\s*\[\[\s*{re.escape(str(where[0]))}\s*\]\]", line)]
        start = headers[where[1]] if where[1] < len(headers) else 0
        where = where[2:]
    within = range(start + 1 if where and start else start, len(lines))
    for key in reversed(where):  # the innermost that has a line of its own
        for n in within:
            if start and lines[n].lstrip().startswith("[["):
                break
            if re.match(rf"""\s*["']?{re.escape(str(key))}["']?\s*=""", lines[n]):
                return n + 1
    return start + 1
