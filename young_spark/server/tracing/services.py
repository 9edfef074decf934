"""Tracing on a job: what counts as evidence now, and what is written down of it."""

import uuid
from collections import Counter
from dataclasses import dataclass
from functools import lru_cache

from django.db import transaction
from django.utils import timezone

from young_spark.core.chain_refining import refined, weak_points
from young_spark.core.entry.tokens import UNITS
from young_spark.core.history import minutes_by_part
from young_spark.core.models import models
from young_spark.core.next_probe import STRATEGIES
from young_spark.core.trace_evidence import OUTLIVES_A_REPAIR, SlipAnswer, answers_of_slip
from young_spark.core.tracing import UNKNOWN, Engine, Seen, seen_as
from young_spark.core.worth import Worth, worth_it
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs.models import Item, Job, Line, Part
from young_spark.server.jobs.services import add_story
from young_spark.server.problems import Conflict, Refused
from young_spark.server.readings.services import refresh
from young_spark.server.readings.state import state_of
from young_spark.server.tracing.chains import chain_of, teaching
from young_spark.server.tracing.models import Look, Trace


@dataclass(frozen=True)
class Evidence:
    """One look that counts, or does no more: where it came from, and why it is stale."""

    seen: Seen
    line: str
    words: str
    from_slip: bool
    stale: str = ""


@lru_cache(maxsize=32)
def _engine(chain: str, version: int, model: str, counts: tuple[tuple[str, int], ...]) -> Engine:
    found, now = chain_of(chain)
    assert now == version
    known = models().get(model)
    return Engine(refined(found, known) if known is not None and known.chain == chain else found, dict(counts))


def engine_of(trace: Trace) -> Engine:
    """The chain made ready: as its model refines it, with what this shop's closed jobs add to it. Those of the same model count
    twice, once for the chain and once for the model."""
    proven = teaching(trace.chain).exclude(pk=trace.pk)
    model = (trace.item.model if trace.item else "") or ""
    counts = Counter(proven.values_list("proven", flat=True))
    if model:
        counts.update(proven.filter(item__model=model).values_list("proven", flat=True))
    _, version = chain_of(trace.chain)
    return _engine(trace.chain, version, model, tuple(sorted(counts.items())))


def known_weak_points(trace: Trace) -> tuple[str, ...]:
    """What is known of the model of a trace and moves its suspicion from the start, in words."""
    model = models().get((trace.item.model if trace.item else "") or "")
    return weak_points(model) if model is not None and model.chain == trace.chain else ()


def evidence_of(trace: Trace) -> list[Evidence]:
    """Every look of a trace in order: made for it, and read off the slip. What a repair made stale says so."""
    engine = engine_of(trace)
    repaired = (
        Line.objects.filter(job=trace.job, kind="did", withdrawn_at=None)
        .order_by("-number")
        .values_list("number", flat=True)
        .first()
    )
    found = []
    for look in trace.looks.select_related("line").filter(line__withdrawn_at=None):
        probe = engine.chain.by_probe.get(look.probe)
        if probe is None or look.answer not in (*probe.answers, "unknown"):
            continue  # the chain was corrected since
        before = repaired is not None and look.line.number < repaired and probe.kind not in OUTLIVES_A_REPAIR
        words = f"{probe.what}: {look.answer.replace('_', ' ')}"
        found.append(
            Evidence(
                Seen(probe=look.probe, answer=look.answer),
                str(look.line_id),
                words,
                False,
                "a repair came after it" if before else "",
            )
        )
    asked = {e.seen.probe for e in found if not e.stale}
    return [*(_of_slip(e, engine) for e in slip_answers(trace, engine) if e.probe not in asked), *found]


def _of_slip(answer: SlipAnswer, engine: Engine) -> Evidence:
    words = f"{engine.chain.by_probe[answer.probe].what}: {answer.figure}"
    return Evidence(Seen(probe=answer.probe, answer=answer.answer), answer.line, words, True)


def slip_answers(trace: Trace, engine: Engine) -> tuple[SlipAnswer, ...]:
    """What the slip's standing readings answer, those that no change made stale."""
    state = state_of(trace.job, trace.item)
    expected = {row.id: row.expected for row in state.rows if row.expected is not None}
    return answers_of_slip(engine.chain, [f for f in state.facts if f.id not in state.stale], expected)


def worth_of(trace: Trace, to_go: float | None, to_come: float) -> Worth:
    """The worth-it line of a trace, from what its job has cost so far."""
    state = state_of(trace.job, trace.item)
    return worth_it(
        to_go=to_go,
        minutes=sum(minutes_by_part([(line.part, line.at) for line in state.lines]).values()),
        spent=sum(story.cost or 0 for _, story in state.stories),
        to_come=to_come,
        value=trace.job.value,
        ceiling=trace.job.ceiling,
    )


@transaction.atomic
def begin(*, actor: Person, trace_id: uuid.UUID, job: Job, item: Item | None, chain: str, symptom: str) -> Trace:
    """Open a trace for one symptom; the same id again returns it."""
    require_technician(actor)
    if (there := Trace.objects.filter(pk=trace_id).first()) is not None:
        return there
    if job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")
    chain_of(chain)
    trace = Trace.objects.create(
        id=trace_id,
        job=job,
        item=item or job.items.first(),
        chain=chain,
        symptom=symptom.strip()[:200] or "not said",
        by=actor,
    )
    after_commit("job", {"job": str(job.pk), "trace": str(trace.pk)})
    return trace


@transaction.atomic
def look(*, actor: Person, trace: Trace, line_id: uuid.UUID, probe: str, seen: str, hazard_known: bool = False) -> Look:
    """Write down what a probe answered, as a line of the slip. The same id again returns it."""
    require_technician(actor)
    if (there := Look.objects.filter(pk=line_id).first()) is not None:
        return there
    trace.job.refresh_from_db()
    if trace.closed_at is not None or trace.job.handed_back_at is not None:
        raise Conflict("This trace is closed.")
    engine = engine_of(trace)
    told = seen_as(engine.chain, f"{probe}={seen}", UNITS)
    asked = engine.chain.by_probe[told.probe]
    measured = told.answer != UNKNOWN
    if asked.is_live_danger and measured and not hazard_known:
        raise Refused(f"{asked.what} is measured live. Confirm the hazard first: {asked.caution or 'lethal'}")
    words = f"{asked.what}: {told.answer.replace('_', ' ')}"
    if seen.strip() not in (told.answer, "unknown"):
        words = f"{words}, {seen.strip()}"
    if asked.is_live_danger and measured:
        words = f"{words} (live, hazard confirmed)"
    line = add_story(
        actor=actor,
        job=trace.job,
        kind="found",
        words=words[:300],
        text=words[:300],
        line_id=line_id,
        phase=state_of(trace.job, trace.item).phase,
    )
    made = Look.objects.create(line=line, trace=trace, probe=told.probe, answer=told.answer)
    refresh(trace.job)
    after_commit("job", {"job": str(trace.job_id), "trace": str(trace.pk)})
    return made


def _to_clear(actor: Person, trace: Trace, proven: str) -> None:
    """What is put right before power comes back, as lines of Fix to tick off; each is written once."""
    chain, _ = chain_of(trace.chain)
    fault = chain.by_fault[proven]
    company = [f"{chain.by_fault[name].name}: looked for" for name in (*fault.killed_by, *fault.takes)]
    for words in (*fault.clear, *company):
        line_id = uuid.uuid5(trace.pk, words)
        if not Line.objects.filter(pk=line_id).exists():
            add_story(
                actor=actor, job=trace.job, kind="clear", words=words[:300], text=f"clear {words}"[:300], line_id=line_id,
                phase=state_of(trace.job, trace.item).phase, part=Part.FIX,
            )  # fmt: skip
    refresh(trace.job)


@transaction.atomic
def change(*, actor: Person, trace: Trace, strategy: str | None, proven: str | None, closed: bool | None) -> Trace:
    """Another order, or the end of a trace: with the fault that was proven, or without."""
    require_technician(actor)
    if strategy is not None:
        if strategy not in STRATEGIES:
            raise Refused(f"There is no such order: {', '.join(STRATEGIES)}.")
        trace.strategy = strategy
    if proven:
        if proven not in chain_of(trace.chain)[0].by_fault:
            raise Refused("That fault is not in this chain.")
        trace.proven = proven
        _to_clear(actor, trace, proven)
    if closed is not None:
        trace.closed_at = timezone.now() if closed else None
        trace.proven = trace.proven if closed else ""
    trace.save()
    after_commit("job", {"job": str(trace.job_id), "trace": str(trace.pk)})
    return trace
