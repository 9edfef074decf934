"""Following a sequence of adjustments: each act is a line of the slip, and the rest follows from what is read."""

import uuid

from django.db import transaction

from young_spark.core.entry import SetUpAct, StoryLine
from young_spark.core.gear import AdjustmentSequence
from young_spark.core.job import how_it_ended
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.jobs.models import Item, Job, Line
from young_spark.server.jobs.services import next_number
from young_spark.server.problems import Refused
from young_spark.server.readings.services import must_be_on_the_bench, refresh, same_or_conflict
from young_spark.server.readings.state import State, state_of


@transaction.atomic
def take_act(*, actor: Person, job: Job, item: Item | None, line_id: uuid.UUID, act: SetUpAct) -> Line:
    """Store what was done with a sequence. The same id again returns the stored line; with other inputs it raises
    Conflict. Raises Refused for a sequence or a step that this unit has not, or that is not followed."""
    require_technician(actor)
    raw = {"job": str(job.pk), "item": str(item.pk) if item else None, "set_up": act.model_dump(exclude_none=True)}
    if (stored := same_or_conflict(line_id, raw)) is not None:
        return stored
    must_be_on_the_bench(job)
    state = state_of(job, item)
    words = _words(state, act)
    line = Line.objects.create(
        id=line_id, job=job, item=state.item, number=next_number(job), kind="note", part=job.part, phase=state.phase,
        text=words, raw=raw, by=actor,
        story=StoryLine(kind="note", words=words, set_up=act).model_dump(exclude_none=True),
    )  # fmt: skip
    refresh(job)
    return line


def _words(state: State, act: SetUpAct) -> str:
    """The act in words, as the slip shows it. Raises Refused."""
    if act.act == "begin":
        return f"Set-up begun: {_known(state, act).title}"
    if state.set_up is None or state.set_up.id != act.sequence:
        raise Refused("That sequence is not followed now: begin it first.")
    if act.act == "end":
        return f"Set-up: {how_it_ended(state.set_up)}"
    step = _known(state, act).step(act.step or "")
    if step is None:
        raise Refused(f"There is no step '{act.step}' in it.")
    return f"Set-up: {step.adjuster} {'left as it is' if act.act == 'leave out' else 'taken up again'}"


def _known(state: State, act: SetUpAct) -> AdjustmentSequence:
    sequences = state.model.sequences if state.model else ()
    found = next((s for s in sequences if s.id == act.sequence), None)
    if found is None:
        raise Refused(f"This unit has no sequence '{act.sequence}'.")
    return found
