"""Where and how a figure was read, in words."""

from collections.abc import Callable, Iterable, Sequence
from typing import Any

from young_spark.core.figure import Conditions, format_value

FORMS = {"pp": "peak to peak", "rms": "rms", "peak": "peak"}
WHERE_IN_WORDS: dict[str, Callable[[Any], str]] = {
    "instrument": lambda used: "own meter" if used == "own_meter" else "",
    "item": str,
    "place": str,
    "function": str,
    "mode": str.upper,
    "channel": lambda number: f"channel {number}",
    "channels": lambda numbers: f"channels {numbers}",
    "frequency_hz": lambda hertz: f"{hertz / 1e6:.9g} MHz",
    "band": str,
    "power_setting": lambda setting: f"{setting} power",
    "setting": str,
    "state": str,
    "heat": str,
    "after_s": lambda seconds: f"after {seconds:g} s",
    "form": lambda form: FORMS.get(form, ""),
    "direction": str,
    "over_db": lambda decibels: f"{decibels:g} dB over",
    "at_db": lambda decibels: f"{decibels:g} dB down",
    "test_v": lambda volts: f"at {volts:g} V",
}
HOW_IN_WORDS: dict[str, Callable[[Any], str]] = {
    "audio": str,
    "tone_hz": lambda hertz: f"tone {format_value(hertz, 'Hz', figures=2)}",
    **{name: WHERE_IN_WORDS[name] for name in ("over_db", "at_db", "test_v")},
    "input_dbm": lambda level: f"{format_value(level, 'dBm')} in",
    "input_v": lambda volts: f"{format_value(volts, 'V')} in",
    "load_ohm": lambda ohms: f"into {ohms:g} Ω",
    "supply_v": lambda volts: f"fed with {volts:g} V",
}
# how a figure was read at its point: those of one side that were not read alike stand apart
HOW = tuple(HOW_IN_WORDS)
LENT = {"tone_hz", "supply_v"}  # by the plan, and told only where figures differ in it
ALIKE = {"supply_v": 0.08}  # of a figure: 13.2 V and 13.8 V feed alike


def joined(*words: str | None) -> str:
    """Pieces of one address, those that say something."""
    return " · ".join(filter(None, words))


def where_words(conditions: Conditions) -> str:
    """Where a figure stands, in words: 'AM · channel 40', 'Q7 base · receive'."""
    told = {name: value for name in WHERE_IN_WORDS if (value := getattr(conditions, name)) or name in ZERO_COUNTS}
    return joined(*(WHERE_IN_WORDS[name](value) for name, value in told.items() if value is not None))


ZERO_COUNTS = {"channel", "over_db", "at_db"}


def how_words(conditions: Conditions, names: Iterable[str]) -> str:
    """How a figure was read, of the conditions of these names: 'voice · 12.0 mV in'."""
    told = {name: value for name in names if (value := getattr(conditions, name)) is not None}
    return joined(*(HOW_IN_WORDS[name](value) for name, value in told.items()))


def words_apart(conditions: Sequence[Conditions]) -> list[str]:
    """Where the figures of one line stand, in words, and how each was read where that tells them apart."""
    lent = {name for name in LENT if not unlike(name, conditions)}
    told = [name for name in HOW if name not in lent and name not in WHERE_IN_WORDS]
    return [joined(where_words(one), how_words(one, told)) for one in conditions]


def unlike(name: str, conditions: Sequence[Conditions]) -> bool:
    """Whether figures say of this that they were read in two ways; S9 is no 20 dB over S9."""
    told: list[Any] = [value for one in conditions if (value := getattr(one, name)) is not None]
    if name == "over_db":
        return len({one.over_db for one in conditions}) > 1
    if not told or isinstance(told[0], str):
        return len(set(told)) > 1
    return bool(max(told) - min(told) > ALIKE.get(name, SAME) * max(map(abs, told)))


SAME = 0.01  # of a figure: a level said twice
