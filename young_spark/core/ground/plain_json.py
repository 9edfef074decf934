"""JSON into plain values, bounded: nothing that is no number, nothing so deep or so long that reading it is work."""

import json
import math
from typing import Any, NoReturn

MOST_DIGITS = 40


class NoPlainJson(ValueError):
    """Why a text is not read, as words without the text's name."""


def plain_json(text: str | bytes) -> Any:
    """The values of a JSON text. Raises NoPlainJson for NaN, the infinities, numbers of absurd length, what is nested
    too deep, and what is no JSON."""
    try:
        return json.loads(text, parse_constant=_refuse, parse_float=_float, parse_int=_int)
    except NoPlainJson:
        raise
    except RecursionError as problem:
        raise NoPlainJson("it is nested too deep") from problem
    except ValueError as problem:  # UnicodeDecodeError among them
        raise NoPlainJson("it is no JSON") from problem


def _refuse(words: str) -> NoReturn:
    raise NoPlainJson(f"{words} is no number to work with")


def _float(words: str) -> float:
    value = float(words) if len(words) <= MOST_DIGITS else math.inf
    return value if math.isfinite(value) else _refuse(words[:MOST_DIGITS])


def _int(words: str) -> int:
    return int(words) if len(words) <= MOST_DIGITS else _refuse(words[:MOST_DIGITS])
