"""What hands changed, and what hangs on it."""

import fnmatch
from collections.abc import Collection
from functools import cache
from typing import Literal

from young_spark.core.figure import AERIAL, Conditions
from young_spark.core.ground import SHIPPED, Frozen, load


class Depends(Frozen):
    """What hangs on an area or a condition: quantity ids, '*' and families with a star."""

    title: str
    quantities: tuple[str, ...]
    of_an_aerial: bool = False  # whose readings hang on such areas alone
    elsewhere: bool = False  # of another box than the unit, which it leaves as it was
    once_warm: bool = False  # and of whatever was read after a time, or warm
    in_any_unit: bool = False  # its words mean the same in every kind of unit

    def concerns(self, quantity_id: str) -> bool:
        """Whether a quantity hangs on it."""
        return any(fnmatch.fnmatchcase(quantity_id, pattern) for pattern in self.quantities)


OUTSIDE = {None, "power socket"}  # places that are no point inside of the unit


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
        """The area of a change, where it can move anything that this unit is measured for, or is of another box; None
        where not: then the words were those of another kind of unit, and anything may have moved."""
        told = self.areas_of(area)
        reached = any(
            one.elsewhere or one.in_any_unit or any(one.concerns(quantity) for quantity in planned) for one in told
        )
        return area if reached or not planned or not any(one.quantities for one in told) else None

    def areas_of(self, area: str | None) -> tuple[Depends, ...]:
        """The areas that a change speaks of, a plus between them; none where nobody knows one of them."""
        names = area.split("+") if area else []
        return tuple(self.areas[name] for name in names) if all(name in self.areas for name in names) else ()

    def moves(self, change: Change, quantity_id: str, conditions: Conditions | None = None) -> bool:
        """Whether a repair or an adjustment may have moved a figure that was read under these conditions: one of an
        area that nobody named may have moved everything, and whatever moves anything may have moved a point inside of
        the unit. What was mended inside of it leaves an aerial as it was."""
        areas = self.areas_of(change.area)
        if not areas:
            return True
        if conditions is not None and conditions.item == AERIAL:
            areas = tuple(area for area in areas if area.of_an_aerial)
        inner = conditions is not None and conditions.place not in OUTSIDE
        warm = conditions is not None and bool(conditions.after_s or conditions.heat not in {None, "cold"})
        return any(
            (inner and area.quantities) or (warm and area.once_warm) or area.concerns(quantity_id) for area in areas
        )


@cache
def dependencies() -> Dependencies:
    """The shipped dependencies, read once."""
    return load(SHIPPED / "dependencies.toml", Dependencies)
