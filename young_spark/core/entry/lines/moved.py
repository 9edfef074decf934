"""Where the hand is now, where a text says only that: 'ch40', 'q5 collector', 'covers on'."""

from collections.abc import Sequence

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import NEAR, Ground

MOVED_TO = {
    "place", "setting", "configuration", "supply_v", "covers", "heat", "band", "channel", "frequency_hz", "mode",
    "state", "power_setting", "setting_word", "item",
}  # fmt: skip
WORDS = {"on", "now", "at", "in", "to", "the"}
SAID_OF_WHERE = 2  # decimals of a MHz: more are a counter's


class _Reading(Exception):
    """The text says more than where the hand is."""


def moved(facts: Sequence[Fact], ground: Ground) -> dict[str, object]:
    """The part of the address that the text says; nothing where it says anything else."""
    address: dict[str, object] = {}
    try:
        for fact in facts:
            _add(fact, address, ground, alone=len(facts) == 1)
    except _Reading:
        return {}
    is_reading = "place" in address and ("heat" in address or "frequency_hz" in address)  # 'c68 hot', 'vco 38.2 mhz'
    return {} if is_reading else address


def _add(fact: Fact, address: dict[str, object], ground: Ground, *, alone: bool) -> None:
    if fact.kind == "figure":
        address["frequency_hz"] = _frequency(fact, ground, alone=alone)
    elif fact.kind in {"where", "how", "place", "item"} and not fact.text.startswith("x"):  # 'x10' is a multiplier
        key, value = _said(fact, ground)
        if key in address or key not in MOVED_TO:
            raise _Reading
        address[key] = value
    elif fact.text not in WORDS:
        raise _Reading


def _said(fact: Fact, ground: Ground) -> tuple[str, object]:
    key = fact.kind if fact.kind in {"place", "item"} else fact.of
    if key == "band" and str(fact.is_).rstrip("m").isdigit():
        return "frequency_hz", ground.frequency_of_band(str(fact.is_))
    if key != "channel":
        return key, fact.is_
    channel = int(float(str(fact.is_)))
    if ground.channel_hz and channel not in ground.channel_hz:
        raise _Reading
    return key, channel


def _frequency(fact: Fact, ground: Ground, *, alone: bool) -> float:
    """A frequency that a hand says; what a counter shows is a reading, and a lone '5m' may be anything."""
    hz = ground.as_carrier(fact) if fact.unit is not None else None
    if hz is None or fact.decimals > SAID_OF_WHERE:
        raise _Reading
    if alone and not any(abs(hz / known - 1) < NEAR for known in ground.frequencies):
        raise _Reading
    return ground.frequency_of(hz)
