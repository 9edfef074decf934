"""One fact of a text."""

from dataclasses import dataclass
from typing import Literal

from young_spark.core.entry.wording.vocabulary import Kind
from young_spark.core.ground import Frozen

FED_V = (10.5, 15.5)  # what a bench or a vehicle feeds


AS_TYPED = "as typed"  # what words are `of` that stay in the remark whole


@dataclass(frozen=True, slots=True)
class Fact:
    """One fact: what it is, as it was typed, and what it says.

    A figure has `value` in `unit` (plain, prefix worked in) or in none; other facts say `of` (a quantity's id, a key
    of the address) and `is_` (its value)."""

    kind: Kind
    text: str
    of: str = ""
    is_: str | float = ""
    value: float = 0.0
    unit: str | None = None
    signed: bool = False
    bound: str | None = None
    decimals: int = 0
    factor: float = 1.0  # of the prefix that was typed
    fresh: bool = False  # a comma or semicolon stands before it
    labels: bool = False  # a colon stands behind it
    follows: bool = False  # a place that only goes on from the part before it, or from the hand's

    @property
    def may_feed(self) -> bool:
        """Whether it is as many volts as a bench or a vehicle feeds."""
        return FED_V[0] <= self.value <= FED_V[1]

    @property
    def step(self) -> float:
        """The last digit typed, in the plain unit."""
        return float(10.0**-self.decimals) * self.factor


class FigureRead(Frozen):
    """A figure of an earlier line as it was typed: its value in the quantity's unit, and whether it is a bound."""

    quantity: str
    value: float
    bound: Literal["upper", "lower"] | None = None
