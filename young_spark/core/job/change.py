"""What hands changed, and what hangs on it."""

import fnmatch
from collections.abc import Collection
from functools import cache
from typing import Literal

from young_spark.core.ground import SHIPPED, Frozen, load


class Depends(Frozen):
    """What hangs on an area or a condition: quantity ids, '*' and families with a star."""

    title: str
    quantities: tuple[str, ...]

    def concerns(self, quantity_id: str) -> bool:
        """Whether a quantity hangs on it."""
        return any(fnmatch.fnmatchcase(quantity_id, pattern) for pattern in self.quantities)


class Change(Frozen):
    """Something done that may make readings stale."""

    order: int
    kind: Literal["repair", "adjustment", "condition"]
    words: str
    area: str | None = None
    condition: Literal["supply_v", "covers", "configuration"] | None = None
    value: str | None = None


class Dependencies(Frozen):
    """The data file dependencies.toml."""

    areas: dict[str, Depends]
    conditions: dict[str, Depends]

    def area_in(self, area: str | None, planned: Collection[str]) -> str | None:
        """The area of a change, where it can move anything that this unit is measured for; None where not: then the
        words were those of another kind of unit, and anything may have moved."""
        told = self.areas.get(area or "")
        if told is None or not told.quantities or not planned or any(map(told.concerns, planned)):
            return area
        return None

    def moves(self, change: Change, quantity_id: str, *, inner: bool = False) -> bool:
        """Whether a repair or an adjustment may have moved a figure: one of an area that nobody named may have moved
        everything, and whatever moves anything may have moved a point inside of the unit."""
        area = self.areas.get(change.area or "")
        return area is None or (inner and bool(area.quantities)) or area.concerns(quantity_id)


@cache
def dependencies() -> Dependencies:
    """The shipped dependencies, read once."""
    return load(SHIPPED / "dependencies.toml", Dependencies)
