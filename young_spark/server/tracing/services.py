"""Tracing on a job: what counts as evidence now, and what is written down of it."""

import uuid
from dataclasses import dataclass
from functools import lru_cache
from typing import cast

from django.db import transaction

from young_spark.core.entry import UNITS
from young_spark.core.gear import Model
from young_spark.core.job import minutes_by_part, spent
from young_spark.core.trace import STRATEGIES, UNKNOWN, Chain, Engine, Seen, Strategy, seen_as, to_clear
from young_spark.core.trace.findings import SlipAnswer, SlipLine
from young_spark.core.trace.looks import Evidence, SlipKnows, looked, of_the_slip, words_of_look
from young_spark.core.trace.refining import learnt, refined, weak_points
from young_spark.core.trace.standing import Standing, where_it_stands
from young_spark.core.trace.worth import Worth, worth_it
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.bulletin import after_commit
from young_spark.server.jobs.models import Item, Job, Line, Part
from young_spark.server.jobs.services import add_story
from young_spark.server.library.own_models import gear
from young_spark.server.moments import after_all
from young_spark.server.problems import Conflict, Refused, must_be_the_same
from young_spark.server.readings.services import refresh
from young_spark.server.readings.state import State, state_of
from young_spark.server.tracing.chains import chain_of, teaching
from young_spark.server.tracing.models import Doubt, Look, Trace


@lru_cache(maxsize=32)
def _engine(chain: str, version: int, known: Model | None, counts: tuple[tuple[str, int], ...]) -> Engine:
    found, now = chain_of(chain)
    assert now == version
    return Engine(refined(found, known) if known is not None and known.chain == chain else found, dict(counts))


def engine_of(trace: Trace) -> Engine:
    """The chain made ready: as its model refines it, with what this shop's closed jobs add to it."""
    closed = teaching(trace.chain).exclude(pk=trace.pk).values_list("proven", "item__model")
    model = (trace.item.model if trace.item else "") or ""
    counts = learnt(((fault, of_model or "") for fault, of_model in closed), model)
    _, version = chain_of(trace.chain)
    return _engine(trace.chain, version, _model_of(trace), tuple(sorted(counts.items())))


def _model_of(trace: Trace) -> Model | None:
    """The model of the unit that is traced, in the version that it keeps to."""
    return gear(trace.item.model, version=trace.item.model_version) if trace.item else None


def plain_engine(chain: str) -> Engine:
    """A chain made ready as this shop has it, with nothing learnt. Raises UnknownName, and BadKnowledge."""
    return _engine(chain, chain_of(chain)[1], None, ())


def known_weak_points(trace: Trace, chain: Chain) -> tuple[str, ...]:
    """What is known of the model of a trace and moves its suspicion from the start, in words."""
    model = _model_of(trace)
    return weak_points(chain, model) if model is not None and model.chain == trace.chain else ()


@dataclass(frozen=True)
class TraceRead:
    """A trace, read once: where it stands, what is known of its model, and what finishing it is worth."""

    trace: Trace
    standing: Standing
    known: tuple[str, ...]
    worth: Worth


def read(trace: Trace, state: State | None = None) -> TraceRead:
    """Read a trace and work it out; `state` is that of its item where it is known already."""
    state = state or state_of(trace.job, trace.item)
    engine = engine_of(trace)
    standing = where_it_stands(
        engine, _evidence(trace, engine, state), symptom=trace.symptom, strategy=cast(Strategy, trace.strategy)
    )
    worth = worth_it(
        to_go=standing.minutes_to_go,
        minutes=sum(minutes_by_part([(line.part, line.at) for line in state.lines]).values()),
        spent=spent([story for _, story in state.stories]),
        to_come=standing.parts_to_come,
        value=trace.job.value,
        ceiling=trace.job.ceiling,
    )
    return TraceRead(trace, standing, known_weak_points(trace, engine.chain), worth)


def _evidence(trace: Trace, engine: Engine, state: State) -> list[Evidence]:
    """Every look of a trace in order: read off the slip, and made for it."""
    lines, chain = _slip_lines(trace, state), engine.chain
    made = [
        found
        for look in trace.looks.select_related("line").filter(line__withdrawn_at=None)
        if (
            found := looked(
                chain,
                Seen(probe=look.probe, answer=look.answer),
                line=str(look.line_id),
                order=look.line.number,
                text=look.line.text,
                lines=lines,
            )
        )
    ]
    slip = SlipKnows(state.facts, state.stale, state.plan_rows, lines, _of_other_traces(trace, engine))
    doubted = {str(line) for line in trace.doubts.values_list("line_id", flat=True)}
    return [*of_the_slip(chain, slip, doubted=doubted, asked={e.seen.probe for e in made if e.counts}), *made]


def _of_other_traces(trace: Trace, engine: Engine) -> list[SlipAnswer]:
    """What was seen for other symptoms of the same unit, the newest for each probe: it is the same unit."""
    others = Look.objects.filter(trace__job=trace.job, trace__item=trace.item, trace__chain=trace.chain)
    answers: dict[str, SlipAnswer] = {}
    for look in others.exclude(trace=trace).filter(line__withdrawn_at=None).select_related("line"):
        probe = engine.chain.by_probe.get(look.probe)
        if probe is not None and look.answer in probe.answers:
            words = probe.said(look.answer)
            answers[probe.id] = SlipAnswer(
                probe=probe.id, answer=look.answer, line=str(look.line_id), order=look.line.number, words=words
            )
    return list(answers.values())


def _slip_lines(trace: Trace, state: State) -> list[SlipLine]:
    """The standing lines of words, without those that looks wrote."""
    looked = set(Look.objects.filter(line__job=trace.job).values_list("line_id", flat=True))
    return [
        SlipLine(
            id=str(line.pk), order=line.number, kind=line.kind, words=story.words, stage=story.stage, state=story.state
        )
        for line, story in state.stories
        if line.pk not in looked
    ]


@transaction.atomic
def begin(*, actor: Person, trace_id: uuid.UUID, job: Job, item: Item | None, chain: str, symptom: str) -> Trace:
    """Open a trace for one symptom; the same id again returns it."""
    require_technician(actor)
    symptom = symptom.strip()[:200] or "not said"
    if (there := Trace.objects.filter(pk=trace_id).first()) is not None:
        must_be_the_same("trace", (there.job_id, job.pk), (there.chain, chain), (there.symptom, symptom))
        return there
    if job.handed_back_at is not None:
        raise Conflict("This job was handed back. Take it onto the bench again first.")
    chain_of(chain)
    trace = Trace.objects.create(
        id=trace_id,
        job=job,
        item=item or job.items.first(),
        chain=chain,
        symptom=symptom,
        by=actor,
        at=after_all(job.traces.all()),
    )
    after_commit("job", {"job": str(job.pk), "trace": str(trace.pk)})
    return trace


@transaction.atomic
def look(
    *,
    actor: Person,
    trace: Trace,
    line_id: uuid.UUID,
    probe: str,
    seen: str,
    hazard_known: bool = False,
    remark: str = "",
) -> Look:
    """Write down what a probe answered, as a line of the slip, with a remark in words where it was none of its
    answers. The same id again returns it."""
    require_technician(actor)
    engine = engine_of(trace)
    told = seen_as(engine.chain, f"{probe}={seen}", UNITS)
    if (there := Look.objects.filter(pk=line_id).first()) is not None:
        must_be_the_same("look", (there.trace_id, trace.pk), ((there.probe, there.answer), (told.probe, told.answer)))
        return there
    must_be_the_same("line", (Line.objects.filter(pk=line_id).exists(), False))
    trace.job.refresh_from_db()
    if trace.closed_at is not None or trace.job.handed_back_at is not None:
        raise Conflict("This trace is closed.")
    asked = engine.chain.by_probe[told.probe]
    if asked.is_live_danger and told.answer != UNKNOWN and not hazard_known:
        raise Refused(f"{asked.what} is measured live. Confirm the hazard first: {asked.caution or 'lethal'}")
    words = words_of_look(asked, told.answer, said=seen, remark=remark)
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


@transaction.atomic
def doubt(*, actor: Person, trace: Trace, line_id: uuid.UUID, doubted: bool) -> None:
    """Leave a line of the slip out of a trace, or count it again; on the slip it stands as it was."""
    require_technician(actor)
    trace.job.refresh_from_db()
    if trace.closed_at is not None or trace.job.handed_back_at is not None:
        raise Conflict("This trace is closed.")
    if not trace.job.lines.filter(pk=line_id).exists():
        raise Refused("That line is not on the slip of this trace.")
    if doubted:
        Doubt.objects.get_or_create(trace=trace, line_id=line_id, defaults={"by": actor})
    else:
        trace.doubts.filter(line_id=line_id).delete()
    after_commit("job", {"job": str(trace.job_id), "trace": str(trace.pk)})


def _to_clear(actor: Person, trace: Trace, proven: str) -> None:
    """What is put right before power comes back, as lines of Fix to tick off; each is written once."""
    chain, _ = chain_of(trace.chain)
    for words in to_clear(chain, proven):
        line_id = uuid.uuid5(trace.pk, words)
        if not Line.objects.filter(pk=line_id).exists():
            add_story(
                actor=actor,
                job=trace.job,
                kind="clear",
                words=words[:300],
                text=f"clear {words}"[:300],
                line_id=line_id,
                phase=state_of(trace.job, trace.item).phase,
                part=Part.FIX,
            )
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
        trace.closed_at = after_all(Trace.objects.all(), "closed_at") if closed else None
        trace.proven = trace.proven if closed else ""
    trace.save()
    after_commit("job", {"job": str(trace.job_id), "trace": str(trace.pk)})
    return trace
