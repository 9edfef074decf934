"""A unit in words before its figure, as a column's heading has it: 'watts: 3.8', 'volts 13.8 amps 1.2'."""

import re

# each word of a unit, and the letters that are cut behind a figure
WRITTEN = {
    "watts": "w", "watt": "w", "milliwatts": "mw", "mw": "mw", "volts": "v", "voltage": "v", "millivolts": "mv",
    "mv": "mv",
    "milliamps": "ma", "ma": "ma", "hertz": "hz", "hz": "hz", "khz": "khz", "percent": "%", "dbm": "dbm", "dbc": "dbc",
    "ohms": " ohm", "microvolts": "uv", "uv": "uv",
}  # fmt: skip
AMPS = {"amps": "a", "amp": "a"}  # a name of the current by itself
_UNIT = "|".join(sorted(WRITTEN, key=len, reverse=True))
_STATE = r"ch(?:an(?:nel)?)? ?\d+|tx|rx|transmit|receive|standby|stby|keyed"
_WHERE = rf"(?:(?:is|was|reads|now|only) |(?:(?:on|at|in) )?(?:{_STATE})[: ] ?)*"
_FIGURE = r"[+-]?\d*\.?\d+"
IN_FRONT = re.compile(
    rf"(?<![\w.+/-])(?<!no )(?<!zero )(?<!nil )(?:in )?(?P<unit>{_UNIT}|^[wv])(?::? |: ?| ?= ?)"
    rf"(?P<where>{_WHERE})(?P<figure>{_FIGURE})"
    r"(?=$|[,;]| (?:on|at|in|ch|tx|rx|now|only|cold|hot|when|after|with|but|and)\b)(?!, \d)"
)
_HEADED = rf"(?:{_UNIT}|amps?) ?[:=]? ?{_FIGURE}(?![\w.%])"
EACH_HEADED = re.compile(rf"{_HEADED}(?:(?:,|;| and)? {_HEADED})+$")
HEADED = re.compile(rf"(?P<unit>{_UNIT}|amps?) ?[:=]? ?(?P<figure>{_FIGURE})")
NUMBER = re.compile(r"[+-]?[\d.]+")


def behind_their_figures(plain: str) -> str:
    """A folded text with each such unit behind its figure; a figure of a row, or with a unit of its own, as it was."""
    if (row := EACH_HEADED.search(plain)) is not None and not _follows_a_number(row):
        return plain[: row.start()] + HEADED.sub(_heading_behind, row[0])
    return IN_FRONT.sub(_behind, plain)


def _follows_a_number(found: re.Match[str]) -> bool:
    """'3.8 watts 1.2': the unit has its figure before it."""
    before = found.string[: found.start()].split()
    return bool(before) and NUMBER.fullmatch(before[-1]) is not None


def _heading_behind(found: re.Match[str]) -> str:
    return found["figure"] + (WRITTEN | AMPS)[found["unit"]]


def _behind(found: re.Match[str]) -> str:
    if _follows_a_number(found):
        return found[0]
    return f"{found['where']}{found['figure']}{WRITTEN.get(found['unit'], found['unit'])}"
