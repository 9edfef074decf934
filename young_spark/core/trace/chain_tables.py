"""A chain as tables that are edited in place: its stages, what can go wrong in them, and what is looked at. What a
shared block brings is changed where the chain uses it, and stays as it is in other chains."""

from collections import Counter
from collections.abc import Sequence
from typing import Any

from young_spark.core.ground import EditColumn, EditRow, EditTable, parse
from young_spark.core.trace.chain import AnyProbe, Chain, ChainStage, Fault
from young_spark.core.trace.chain_file import PARTS, ChainFile, block, used_row

NAME = EditColumn(field="name", words="what", kind="words")
MINUTES = EditColumn(field="minutes", words="takes", unit="min")
STAGES = (
    NAME,
    EditColumn(field="level", words="due at its output", kind="words"),
    EditColumn(field="place", words="where it is", kind="words"),
)
FAULTS = (
    NAME,
    EditColumn(field="weight", words="how often, beside the others"),
    EditColumn(field="effect", words="leaves its stage", kind="choice", choices=("dead", "weak", "none")),
    MINUTES,
    EditColumn(field="cost", words="costs"),
)
PROBES = (
    EditColumn(field="what", words="look", kind="words"),
    EditColumn(field="where", words="where", kind="words"),
    EditColumn(field="good.0", words="good from"),
    EditColumn(field="good.1", words="to"),
    EditColumn(field="dead_below", words="dead below"),
    MINUTES,
    EditColumn(field="caution", words="to mind", kind="words"),
)
Steps = tuple[str | int, ...]


def chain_tables(chain: Chain, text: str, file: str) -> tuple[EditTable, ...]:
    """Stages, faults and looks of a chain that its text says. Raises BadKnowledge."""
    written = _places(parse(text, file, ChainFile))
    stages = chain.by_stage
    return (
        _table("stages", "Stages", STAGES, [(s, s.name, s.kind) for s in chain.stages], written),
        _table(
            "faults", "What can go wrong", FAULTS, [(f, f.name, stages[f.stage].name) for f in chain.faults], written
        ),
        _table(
            "probes", "What is looked at", PROBES, [(p, p.what, p.kind) for p in chain.probes if not p.told], written
        ),
    )


def _table(
    kind: str,
    title: str,
    columns: tuple[EditColumn, ...],
    rows: Sequence[tuple[ChainStage | Fault | AnyProbe, str, str]],
    written: dict[tuple[str, str], Steps],
) -> EditTable:
    there = [(row, name, about, written[kind, row.id]) for row, name, about in rows if (kind, row.id) in written]
    made = tuple(
        EditRow(
            id=row.id,
            name=name,
            about=about,
            unit=_unit(row),
            values=_values(row, columns),
            steps=steps,
            stands=steps if steps[0] == kind else None,
            whole=_whole(row),
        )
        for row, name, about, steps in there
    )
    return EditTable(id=kind, title=title, columns=columns, rows=made, rows_in=kind)


def _unit(row: ChainStage | Fault | AnyProbe) -> str:
    return row.figure.unit if isinstance(row, AnyProbe) and row.figure is not None else ""


def _values(row: ChainStage | Fault | AnyProbe, columns: tuple[EditColumn, ...]) -> dict[str, Any]:
    figure = row.figure if isinstance(row, AnyProbe) else None
    folded = {"good.0": figure.good[0], "good.1": figure.good[1], "dead_below": figure.dead_below} if figure else {}
    return {c.field: getattr(row, c.field) for c in columns if hasattr(row, c.field)} | folded


def _whole(row: ChainStage | Fault | AnyProbe) -> dict[str, object]:
    """A row as a file says it: a figure's range beside the rest."""
    told: dict[str, object] = row.model_dump(mode="json", exclude_defaults=True, exclude_none=True)
    figure = told.pop("figure", None)
    return {**told, **figure} if isinstance(figure, dict) else told


def _places(told: ChainFile) -> dict[tuple[str, str], Steps]:
    """Where what is said of each stage, fault and probe is written: in the chain's own lists, or as a change of the
    block that it uses."""
    found: dict[tuple[str, str], Steps] = {}
    for number, use in enumerate(told.use):
        shared, _ = block(use.block)
        names = Counter(str(row.get("id")) for kind in PARTS for row in getattr(shared, kind))
        for kind in ("stages", "faults", "probes"):
            for row in getattr(shared, kind):
                if (made := used_row(kind, row, use)) is not None:
                    name = str(row["id"])
                    changed = f"{kind}.{name}" if names[name] > 1 else name
                    found[kind, str(made["id"])] = ("use", number, "change", changed)
    for kind in ("stages", "faults", "probes"):
        for number, row in enumerate(getattr(told, kind)):
            found[kind, str(row.get("id"))] = (kind, number)
    return found
