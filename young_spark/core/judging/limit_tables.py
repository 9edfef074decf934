"""A limit profile, and a channel plan, as tables that are edited in place."""

from collections.abc import Iterable

from young_spark.core.ground import EditColumn, EditRow, EditTable
from young_spark.core.judging.channels import ChannelPlan
from young_spark.core.judging.profile import AnyRow, MaskRow, NominalRow, Profile, RangeRow

WORDS, SOURCE = (
    EditColumn(field="words", words="what", kind="words"),
    EditColumn(field="source", words="source", kind="words"),
)
SURE = EditColumn(field="confidence", words="how sure", kind="choice", choices=("stated", "check"))
RANGE = (
    WORDS, EditColumn(field="low", words="at least"), EditColumn(field="high", words="at most"), SOURCE, SURE,
)  # fmt: skip
NOMINAL = (
    WORDS, EditColumn(field="nominal", words="nominal"), EditColumn(field="tolerance", words="±"),
    EditColumn(field="tolerance_unit", words="of what", kind="choice", choices=("same", "dB", "%", "ppm")),
    SOURCE, SURE,
)  # fmt: skip
CEILING = (
    WORDS, EditColumn(field="base_db", words="below the carrier", unit="dB"),
    EditColumn(field="ceiling_dbm", words="at most", unit="dBm"), SOURCE, SURE,
)  # fmt: skip
BANDS = (
    EditColumn(field="low_hz", words="from", unit="Hz"), EditColumn(field="high_hz", words="to", unit="Hz"),
    EditColumn(field="ceiling", words="at most"),
)  # fmt: skip


def limit_tables(profile: Profile) -> tuple[EditTable, ...]:
    """A table for each shape of row that a profile has, and one for each mask."""
    placed = list(enumerate(profile.rows))
    ranges = [(n, row) for n, row in placed if isinstance(row, RangeRow)]
    nominals = [(n, row) for n, row in placed if isinstance(row, NominalRow)]
    masks = [(n, row) for n, row in placed if isinstance(row, MaskRow)]
    others = [(n, row) for n, row in placed if not isinstance(row, RangeRow | NominalRow | MaskRow)]
    made = (
        _table("ranges", "From and to", RANGE, ranges),
        _table("nominals", "A value and how far from it", NOMINAL, nominals),
        _table("ceilings", "Ceilings", CEILING, others),
        *(_mask(n, row) for n, row in masks),
    )
    return tuple(table for table in made if table.rows)


def _table(table: str, title: str, columns: tuple[EditColumn, ...], rows: Iterable[tuple[int, AnyRow]]) -> EditTable:
    return EditTable(
        id=table, title=title, columns=columns, rows_in="rows", rows=tuple(_row(n, row, columns) for n, row in rows)
    )


def _row(place: int, row: AnyRow, columns: tuple[EditColumn, ...]) -> EditRow:
    there = ("rows", place)
    return EditRow(
        id=row.id,
        name=row.words or row.quantity.replace("_", " "),
        about=_where(row),
        unit=row.unit,
        values={c.field: getattr(row, c.field) for c in columns if hasattr(row, c.field)},
        steps=there,
        stands=there,
        whole=row.model_dump(mode="json", exclude_defaults=True, exclude_none=True),
    )


def _where(row: AnyRow) -> str:
    """Where a row holds, in words."""
    at = row.applies
    power = f"{at.power_setting} power" if at.power_setting else ""
    band = "{:g} to {:g} MHz".format(*(hz / 1e6 for hz in at.band_hz)) if at.band_hz else ""
    return ", ".join(filter(None, (" ".join(m.upper() for m in at.mode), power, at.state or "", band)))


def _mask(place: int, row: MaskRow) -> EditTable:
    bands = tuple(
        EditRow(
            id=str(n),
            name=f"{row.words or row.quantity} {n + 1}",
            unit=band.unit,
            values={"low_hz": band.low_hz, "high_hz": band.high_hz, "ceiling": band.ceiling},
            steps=("rows", place, "bands", n),
            stands=("rows", place, "bands", n),
        )
        for n, band in enumerate(row.bands)
    )
    return EditTable(id=f"mask-{row.id}", title=row.words or "Mask", columns=BANDS, rows=bands)


CHANNELS = (
    EditColumn(field="hz", words="carrier", unit="Hz"),
    EditColumn(field="allowed", words="may be used", kind="yes"),
    EditColumn(field="remark", words="remark", kind="words"),
)


def channel_table(plan: ChannelPlan) -> tuple[EditTable, ...]:
    """The channels of a plan."""
    rows = tuple(
        EditRow(
            id=str(channel.number),
            name=f"Channel {channel.number}",
            values={"hz": channel.hz, "allowed": channel.allowed, "remark": channel.remark},
            steps=("channels", n),
            stands=("channels", n),
            whole=channel.model_dump(mode="json", exclude_defaults=True),
        )
        for n, channel in enumerate(plan.channels)
    )
    return (EditTable(id="channels", title="Channels", columns=CHANNELS, rows=rows, rows_in="channels"),)
