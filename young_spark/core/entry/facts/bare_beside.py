"""What stands beside a figure without a unit: the others of its line, the one name and the one unit of them."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from young_spark.core.entry.facts.said import Ground, Item

ASKED = "?"  # several would do
COUNTED_TO = 4  # decimals of a MHz that only a counter shows
LEAST_KHZ = 1000.0
SUPPLY_OF_A_BENCH = 13.8
MOST_SAG = 0.2
LEAST_SUPPLY_V = 3.0
LEAST_LEFT = 0.4  # of the volts of a supply, whatever it sags to
COUNTED_AT = {
    "VCO", "VFO", "carrier oscillator", "oscillator", "reference oscillator", "crystal", "IF",
    *(f"{name}{n}" for name in ("VCO", "OSC", "LO") for n in (1, 2, 3)),
}  # fmt: skip
OSCILLATES = re.compile(r".*\b(?:oscillator|osc|v[fcx]o|bfo|synth\w*|crystal|xtal)", re.IGNORECASE)


def is_counted_at(place: str) -> bool:
    """Whether a place is where hands count a frequency."""
    return place in COUNTED_AT or OSCILLATES.fullmatch(place) is not None


@dataclass(frozen=True)
class Beside:
    """What stands beside a figure in its line."""

    others: tuple[Item, ...]
    names: frozenset[str]

    @property
    def only_name(self) -> str | None:
        """The one name of the line, where every figure beside goes by it or is as bare."""
        alike = len(self.names) == 1 and all(o.fact.unit is None or o.quantity for o in self.others)
        return next(iter(self.names)) if alike else None


Rule = Callable[[Item, Ground, Beside], str | None]


def with_the_unit_of(item: Item, other: Item) -> None:
    """'ch1 3.4 ch19 3.8 ch40 3.3w': the unit that is said once is meant for all."""
    factor = other.fact.factor
    item.fact = replace(item.fact, unit=other.fact.unit, value=item.fact.value * factor, factor=factor)
    if item.upper is not None:
        item.upper = replace(item.upper, unit=other.fact.unit, value=item.upper.value * factor)


def _is_no_sag(item: Item, beside: Beside) -> bool:
    """Whether a figure is too little for what is left of the volts beside it."""
    volts = max((o.fact.value for o in beside.others if o.quantity == "supply_voltage"), default=0.0)
    return 0 < item.fact.value < max(LEAST_SUPPLY_V, LEAST_LEFT * volts)


def of_the_one_name(item: Item, ground: Ground, beside: Beside) -> str | None:
    """'swr 1.4 ch1 1.2 ch19': one name for all."""
    name = beside.only_name
    own_mode = item.address.get("mode") == "am" and name == "peak_envelope_power"
    driven = name == "drive_power" and bool({"band", "frequency_hz"} & item.address.keys())  # 'drive 5w: 80m 940'
    if name is None or item.besides or own_mode:
        return None
    if driven and ground.wanted_at_all("drive_power"):
        return "carrier_power"
    if name == "supply_voltage" and item.address.get("state") and _is_no_sag(item, beside):
        return "supply_current"  # 'psu 13.8 rx 0.42 tx 5.1'
    if (source := whose_unit_is_meant(item, [o for o in beside.others if o.fact.unit is not None])) is not None:
        with_the_unit_of(item, source)
    return name


def whose_unit_is_meant(item: Item, with_unit: Sequence[Item]) -> Item | None:
    """Of the figures in the unit that is said first, the last in front of a bare one ('standby 240ma, tx 1.6a, ssb
    2.4'), else the first behind it."""
    in_order = sorted(with_unit, key=lambda other: other.at)
    alike = [other for other in in_order if other.fact.unit == in_order[0].fact.unit]
    return next((o for o in reversed(alike) if o.at < item.at), alike[0] if alike else None)
