"""Changing one value of a data file's text: everything else stays as it was written, comments and all. The library
that can do it is loaded where something is changed: it costs start-up."""

from collections.abc import Mapping, Sequence
from typing import Any

from young_spark.core.ground.errors import BadKnowledge

Plain = str | float | bool | Sequence[float] | None
Steps = Sequence[str | int]


def with_value(text: str, file: str, steps: Steps, value: Plain) -> str:
    """A text with the value at a place set, or taken out where it is None; tables on the way to it are made where
    there are none. Raises BadKnowledge for what is no such file."""
    document = _read(text, file)
    *way, last = steps
    table = _table_at(document, file, way)
    if value is None:
        table.pop(last, None)
    else:
        table[last] = _whole(value)
    return _written(document)


def with_row(text: str, file: str, rows: str, row: Mapping[str, Any]) -> str:
    """A text with one more row at the end of one of its lists of tables, written as those before it are. Raises
    BadKnowledge for what is no such file."""
    import tomlkit
    from tomlkit.items import AoT, Array

    document = _read(text, file)
    there = document.get(rows)
    made = tomlkit.table() if isinstance(there, AoT) else tomlkit.inline_table()
    made.update({key: _whole(value) for key, value in row.items()})
    if there is None:
        return f"{rows} = [\n  {made.as_string()},\n]\n{text}"
    if isinstance(there, Array):
        there.add_line(made)
    else:
        there.append(made)
    return _written(document)


def without(text: str, file: str, steps: Steps) -> str:
    """A text without the row, or the value, at a place."""
    document = _read(text, file)
    *way, last = steps
    del _table_at(document, file, way)[last]
    return _written(document)


def _read(text: str, file: str) -> Any:
    import tomlkit
    from tomlkit.exceptions import TOMLKitError

    try:
        return tomlkit.parse(text)
    except (TOMLKitError, RecursionError, ValueError) as problem:
        raise BadKnowledge(file, (str(problem)[:200],)) from problem


def _written(document: Any) -> str:
    text: str = document.as_string()
    return text


def _table_at(document: Any, file: str, way: Steps) -> Any:
    there = document
    for step in way:
        try:
            there = there[step]
        except KeyError:
            there[step] = {}
            there = there[step]
        except (IndexError, TypeError) as problem:
            raise BadKnowledge(file, (f"there is no {'.'.join(str(s) for s in way)}",)) from problem
    return there


def _whole(value: Any) -> Any:
    """A figure as a hand would write it: 4, not 4.0."""
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return int(value)
    if isinstance(value, list | tuple):
        return [_whole(part) for part in value]
    return {key: _whole(part) for key, part in value.items()} if isinstance(value, Mapping) else value
