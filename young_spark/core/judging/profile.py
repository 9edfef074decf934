"""Limit profiles as data files: rows of five shapes, none of which can be half filled."""

from typing import Annotated, Any, Literal

from pydantic import Discriminator, Field, Tag, model_validator

from young_spark.core.figure import format_value, quantity
from young_spark.core.ground import Frozen, shipped

LimitKind = Literal["regulation", "specification", "house"]


class Applies(Frozen):
    """Where a row holds; an empty field holds everywhere."""

    mode: tuple[str, ...] = ()
    power_setting: str | None = None
    state: str | None = None
    band_hz: tuple[float, float] | None = None
    power_w: tuple[float, float] | None = None  # of the carrier, or of the PEP
    modulation: Literal["on", "off"] | None = None
    supply_v: float | None = None  # of what is drawn: at other volts it is another current


class MaskBand(Frozen):
    """A stretch of offsets from the carrier (or of frequencies) with its ceiling."""

    low_hz: float
    high_hz: float
    ceiling: float
    unit: Literal["dBc", "dBm"]
    reference_bandwidth_hz: float | None = None


class AnyRow(Frozen):
    """What every row has: what it speaks of, where it holds, and by whose word. A harmonic row may name the family
    'harmonic_*'."""

    id: str
    quantity: str
    applies: Applies = Applies()
    words: str = ""
    source: str
    clause: str = ""
    date: str
    confidence: Literal["stated", "check"] = "check"

    @model_validator(mode="after")
    def _of_a_quantity(self) -> "AnyRow":
        if self.quantity != "harmonic_*":
            quantity(self.quantity)
        return self

    def concerns(self, quantity_id: str) -> bool:
        """Whether the row speaks of this quantity."""
        return self.quantity == quantity_id or (self.quantity == "harmonic_*" and quantity_id.startswith("harmonic_"))

    @property
    def unit(self) -> str:
        """The unit of what it speaks of."""
        return "dBc" if self.quantity == "harmonic_*" else quantity(self.quantity).unit


class RangeRow(AnyRow):
    """From `low` to `high`, in the quantity's unit; one side may be open."""

    type: Literal["range"]
    low: float | None = None
    high: float | None = None

    @model_validator(mode="after")
    def _has_a_side(self) -> "RangeRow":
        if self.low is None and self.high is None:
            raise ValueError(f"row {self.id!r} of type range lacks its figures")
        if self.low is not None and self.high is not None and self.low > self.high:
            raise ValueError(f"row {self.id!r}: low {self.low:g} is above high {self.high:g}")
        return self


class NominalRow(AnyRow):
    """A value with its tolerance: 100 W ± 1 dB."""

    type: Literal["nominal"]
    nominal: float
    tolerance: float
    tolerance_unit: Literal["dB", "%", "ppm", "same"] = "same"


class MaskRow(AnyRow):
    """Ceilings by offset from the carrier, or by frequency."""

    type: Literal["mask"]
    offset: bool = True  # its bands are offsets from the carrier
    bands: tuple[MaskBand, ...] = Field(min_length=1)


class _FormulaRow(AnyRow):
    type: Literal["formula"]
    beyond_offset_hz: float | None = None  # it holds only this far from the carrier


class BelowCarrierRow(_FormulaRow):
    """So many dB below the carrier, more with its power: base + 10·log10 P."""

    formula: Literal["below_carrier"]
    base_db: float


class AbsoluteRow(_FormulaRow):
    """So many dBm, whatever the carrier."""

    formula: Literal["absolute"]
    ceiling_dbm: float


class EitherRow(_FormulaRow):
    """The stricter or the looser of a figure in dBc and one in dBm."""

    formula: Literal["stricter_of", "looser_of"]
    base_db: float
    ceiling_dbm: float


FormulaRow = BelowCarrierRow | AbsoluteRow | EitherRow


def _shape(row: Any) -> Any:
    """Which shape a row says that it has: its type, or its formula."""
    told = row if isinstance(row, dict) else vars(row)
    return told.get("formula") if told.get("type") == "formula" else told.get("type")


Row = Annotated[
    Annotated[RangeRow, Tag("range")]
    | Annotated[NominalRow, Tag("nominal")]
    | Annotated[MaskRow, Tag("mask")]
    | Annotated[BelowCarrierRow, Tag("below_carrier")]
    | Annotated[AbsoluteRow, Tag("absolute")]
    | Annotated[EitherRow, Tag("stricter_of")]
    | Annotated[EitherRow, Tag("looser_of")],
    Discriminator(_shape),
]


class Profile(Frozen):
    """A set of rows of one kind, with version: a report keeps the one it was judged by."""

    title: str = Field(min_length=1, max_length=120)
    kind: LimitKind
    version: str
    source: str
    notes: tuple[str, ...] = ()  # rules that no figure can be held against
    rows: tuple[Row, ...]

    @model_validator(mode="after")
    def _each_row_once(self) -> "Profile":
        ids = [row.id for row in self.rows]
        twice = sorted({name for name in ids if ids.count(name) > 1})
        if twice:
            raise ValueError(f"row {twice[0]!r} stands there twice")
        return self


def profiles() -> dict[str, Profile]:
    """The shipped limit profiles by id."""
    return shipped("limits", Profile)


def limit_words(low: float | None, high: float | None, unit: str) -> str:
    """A range as the slip writes it: '3.6 W to 4 W', 'at most 4 W', 'within ± 200 Hz'."""
    if low is None:
        return "no limit here" if high is None else f"at most {format_value(high, unit)}"
    if high is None:
        return f"at least {format_value(low, unit)}"
    if low == -high:
        return f"within ± {format_value(high, unit)}"
    return f"{format_value(low, unit)} to {format_value(high, unit)}"


def row_words(row: Row) -> str:
    """A row as a person reads it in the library, whatever the unit that it will judge."""
    match row:
        case RangeRow():
            return limit_words(row.low, row.high, row.unit)
        case NominalRow():
            return _nominal_words(row)
        case MaskRow():
            return "; ".join(_band_words(band, off_carrier=row.offset) for band in row.bands).replace(*MINUS)
        case BelowCarrierRow():
            words = f"{row.base_db:g} dB + 10·log10 P below the carrier"
        case AbsoluteRow():
            words = f"at most {_dbm_words(row.ceiling_dbm)}"
        case EitherRow():
            which = row.formula.removesuffix("_of")
            words = f"{row.base_db:g} dB below the carrier or {_dbm_words(row.ceiling_dbm)}, the {which}"
    return words + (f", from {format_value(row.beyond_offset_hz, 'Hz')} off on" if row.beyond_offset_hz else "")


MINUS = ("-", "\N{MINUS SIGN}")


def _nominal_words(row: NominalRow) -> str:
    same = row.tolerance_unit == "same"
    own = format_value(row.tolerance, row.unit) if same else f"{row.tolerance:g} {row.tolerance_unit}"
    return f"{format_value(row.nominal, row.unit)} ± {own}" if row.nominal else f"within ± {own}"


def _band_words(band: MaskBand, *, off_carrier: bool) -> str:
    where = " off the carrier" if off_carrier else ""
    stretch = f"{format_value(band.low_hz, 'Hz')} to {format_value(band.high_hz, 'Hz')}"
    return f"{stretch}{where}: {band.ceiling:g} {band.unit}"


def _dbm_words(ceiling: float) -> str:
    return f"{ceiling:g} dBm".replace(*MINUS)
