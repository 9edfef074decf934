"""The cells of a table's row that live instruments can fill while a hand walks along it: each is what its beginning,
typed with a figure behind it, would mean."""

from collections.abc import Sequence

from young_spark.core.entry import EntryContext, Meaning, understand
from young_spark.core.figure import Conditions
from young_spark.core.gear import PlanRow
from young_spark.core.ground import Frozen
from young_spark.core.live.taker import Wanted
from young_spark.core.live.values import SOURCES

# a figure that a field believes of each, whatever the unit gives: only its place is looked at
PROBES = {
    "carrier_power": "1w", "peak_envelope_power": "1w", "forward_power": "1w", "reflected_power": "1w", "swr": "1.5",
    "supply_current": "1a", "supply_voltage": "13.2v", "am_depth": "80%", "fm_deviation": "2k",
    "frequency_error": "+10hz",
}  # fmt: skip
CELL = "cell: "
WITH_A_TONE = {"am_depth", "fm_deviation"}


class CellWanted(Frozen):
    """A cell: what its text begins with, the quantity that belongs there, and where it stands."""

    begins: str
    quantity: str
    conditions: Conditions

    @property
    def row(self) -> PlanRow:
        """The cell as a line that is wanted."""
        modulation = "on" if self.quantity in WITH_A_TONE else None
        return PlanRow(
            id=f"{CELL}{self.begins}", quantity=self.quantity, ask=self.begins.strip(), modulation=modulation
        )

    @property
    def where(self) -> str:
        """The row in words."""
        channel, hz = self.conditions.channel, self.conditions.frequency_hz
        return f"channel {channel}" if channel is not None else f"{hz / 1e6:.9g} MHz" if hz else self.begins.strip()

    def wanted(self, assigned_hz: float | None) -> Wanted:
        """What to look for, on a carrier in Hz where that is known."""
        row = self.row
        return Wanted(row=row.id, quantity=row.quantity, modulation=row.modulation, assigned_hz=assigned_hz)


def cell_of(row: str) -> str | None:
    """What the text of a captured cell begins with; None for what was captured for a line of the plan."""
    return row.removeprefix(CELL) if row.startswith(CELL) else None


def cells_wanted(beginnings: Sequence[str], context: EntryContext) -> tuple[CellWanted, ...]:
    """The cells of a row that instruments can fill. A beginning that is not understood with a figure behind it is left
    to the hand."""
    found = ((begins, _meant(begins, context)) for begins in beginnings)
    return tuple(
        CellWanted(begins=begins, quantity=meant.readings[0].quantity, conditions=meant.conditions_of(0))
        for begins, meant in found
        if meant is not None and meant.readings[0].quantity in SOURCES
    )


def _meant(begins: str, context: EntryContext) -> Meaning | None:
    """What a cell means with any figure behind it: one that is far from what is due there would be asked about, and its
    place is the same."""
    for probe in dict.fromkeys(PROBES.values()):
        told = understand(f"{begins}{probe}", context)
        if told.story is not None:
            continue
        meant = told.meanings if told.chosen is None else (told.meanings[told.chosen],)
        if len(meant) == 1 and PROBES.get(meant[0].readings[0].quantity) == probe:
            return meant[0]
    return None
