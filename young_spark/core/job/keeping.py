"""A unit that was repaired, kept as a model: what it taught is there for the next one."""

from collections.abc import Iterable, Sequence

from young_spark.core.entry import StoryLine, part_in
from young_spark.core.figure import Verdict
from young_spark.core.gear import AdjustmentSequence, Model, ModelNote, PlanRow
from young_spark.core.job.learning import learnt
from young_spark.core.job.plans import ReadingFact, as_left

LONGEST_NOTE = 300
FOR_THE_MODEL = ">"  # before a line: it is for the next one, too
WITHIN = {Verdict.PASS, Verdict.PASS_CLOSE}


def as_model(
    unit: Model,
    name: str,
    *,
    job: int,
    wanted: Sequence[PlanRow],
    facts: Sequence[ReadingFact],
    stale: dict[str, str],
    told: Sequence[tuple[int, StoryLine]],
) -> Model:
    """The model that a unit is kept as: its plan without what was struck off, each line with the figure that this
    one leaves with, the parts that failed in it, how it was set up, and what was noted for the next. `told` are its
    lines of words with their places on the slip, `job` the number of the repair that proves them."""
    maker, _, rest = name.strip().partition(" ")
    return unit.model_copy(
        update={
            "maker": maker if rest else "",
            "name": rest or maker,
            "kind_id": None,
            "rated_w": None,
            "generic": False,
            "modes": tuple(mode for mode in unit.modes if _wants(wanted, mode)) or unit.modes,
            "plan": tuple(_as_it_left(row, facts, stale) for row in wanted),
            "notes": (*unit.notes, *_notes((line for _, line in told), job)),
            "sequences": _sequences(unit, learnt([t for t in told if t[1].kind == "adjusted"], facts, job)),
        }
    )


def _sequences(unit: Model, own: AdjustmentSequence | None) -> tuple[AdjustmentSequence, ...]:
    """Those that the unit brought, and its own before them."""
    brought = tuple(s for s in unit.sequences if own is None or s.id != own.id)
    return brought if own is None else (own, *brought)


def _wants(rows: Sequence[PlanRow], mode: str) -> bool:
    return any(row.mode == mode for row in rows) or all(row.mode is None for row in rows)


def _as_it_left(row: PlanRow, facts: Sequence[ReadingFact], stale: dict[str, str]) -> PlanRow:
    """The line with this unit's own figure as what is due there, where a limit calls it healthy."""
    left = as_left([f for f in facts if f.plan_row == row.id and not f.seen_only], stale)
    if left is None or left.value is None or left.verdict not in WITHIN:
        return row
    return row.model_copy(update={"expected": left.value})


def _notes(told: Iterable[StoryLine], job: int) -> list[ModelNote]:
    notes = []
    for line in told:
        if line.kind == "did" and line.reason == "bad" and (part := part_in(line)):
            notes.append(
                ModelNote(text=f"{part.upper()} failed in job {job}: {line.words}"[:LONGEST_NOTE], proven=True)
            )
        elif line.words.startswith(FOR_THE_MODEL):
            notes.append(ModelNote(text=line.words.removeprefix(FOR_THE_MODEL).strip()[:LONGEST_NOTE], proven=False))
    return notes
