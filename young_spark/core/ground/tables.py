"""TOML into plain tables, bounded: what a hand or a bundle brings in may be hostile, and is refused in one sentence."""

import math
import tomllib
from typing import Any

from young_spark.core.ground.errors import BadKnowledge

LONGEST_TEXT = 1_000_000  # signs
MOST_VALUES = 50_000
DEEPEST = 12
GREATEST_INTEGER = 10**18


def tables(text: str, file: str) -> dict[str, Any]:
    """The tables of a data file's text. Raises BadKnowledge with line and cause, and for what is too long, too deep,
    or no number."""
    if len(text) > LONGEST_TEXT:
        raise BadKnowledge(file, (f"it is longer than {LONGEST_TEXT:,} signs",))
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as problem:
        words = str(problem).replace("at end of document", f"at line {len(text.splitlines())}, the end")
        raise BadKnowledge(file, (words,)) from problem
    except RecursionError as problem:
        raise BadKnowledge(file, (f"it is nested deeper than {DEEPEST} steps",)) from problem
    except ValueError as problem:  # an integer of thousands of digits
        raise BadKnowledge(file, ("a number in it has more digits than any number needs",)) from problem
    if why := _why_not(data):
        raise BadKnowledge(file, (why,))
    return data


def _why_not(data: dict[str, Any]) -> str:
    """What is out of bounds in tables, or an empty string; walked without recursion."""
    waiting: list[tuple[Any, int]] = [(data, 0)]
    count = 0
    while waiting:
        value, depth = waiting.pop()
        count += 1
        if depth > DEEPEST:
            return f"it is nested deeper than {DEEPEST} steps"
        if count > MOST_VALUES:
            return f"it holds more than {MOST_VALUES:,} values"
        if isinstance(value, dict):
            waiting += [(inner, depth + 1) for inner in value.values()]
        elif isinstance(value, list):
            waiting += [(inner, depth + 1) for inner in value]
        elif isinstance(value, float) and not math.isfinite(value):
            return f"{value} is no number to work with"
        elif isinstance(value, int) and abs(value) > GREATEST_INTEGER:
            return "a number in it has more digits than any number needs"
    return ""
