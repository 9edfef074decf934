"""A unit that was repaired, kept as a model: what it taught is there for the next one."""

from collections.abc import Iterable, Sequence

from young_spark.core.entry import StoryLine, part_in
from young_spark.core.figure import Verdict
from young_spark.core.gear import Model, ModelNote, PlanRow
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
    told: Iterable[StoryLine],
) -> Model:
    """The model that a unit is kept as: its plan without what was struck off, each line with the figure that this
    one leaves with, the parts that failed in it, and what was noted for the next. `job` is the number of the repair
    that proves them."""
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
            "notes": (*unit.notes, *_notes(told, job)),
        }
    )


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
