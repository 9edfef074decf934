"""Practice: a trace that ended with a proven cause, replayed look by look, the answer hidden until one has said
one's own."""

from uuid import UUID

from django.http import Http404
from ninja import Router, Schema

from young_spark.core.trace import Seen, advised, what_it_did
from young_spark.server.accounts.models import SignedIn
from young_spark.server.tracing import services
from young_spark.server.tracing.api import ProbeOut, SuspectStage, find_trace, probe_out, suspicion
from young_spark.server.tracing.models import Trace

router = Router(tags=["practice"])
FEWEST_LOOKS = 2
CHOICES = 5


class Exercise(Schema):
    """A closed trace to be gone through again."""

    trace: UUID
    symptom: str
    unit: str
    chain: str
    looks: int


class LookedAt(Schema):
    """A look of the exercise that was uncovered: what it showed, and what that did."""

    what: str
    answer: str
    words: str
    did: str


class ReplayOut(Schema):
    """An exercise after so many looks. `asked` is what the hand looked at next, `advised` what this program would;
    the cause is told when all looks are uncovered."""

    trace: UUID
    symptom: str
    unit: str
    title: str
    looks: int
    seen: list[LookedAt]
    stages: list[SuspectStage]
    choices: list[ProbeOut]
    asked: ProbeOut | None
    advised: ProbeOut | None
    cause: str | None


def _looks(trace: Trace) -> list[Seen]:
    """The looks that stood, in order; each probe once, as it was seen last before the end."""
    engine = services.engine_of(trace)
    made = trace.looks.filter(line__withdrawn_at=None).order_by("line__number")
    known = [
        Seen(probe=k.probe, answer=k.answer)
        for k in made
        if (p := engine.chain.by_probe.get(k.probe)) is not None and k.answer in p.answers
    ]
    return list({s.probe: s for s in known}.values())


@router.get("/practice", response=list[Exercise], operation_id="practice")
def exercises(request: SignedIn) -> list[Exercise]:
    """Every closed trace with a proven cause and something to guess, the newest first."""
    closed = Trace.objects.filter(closed_at__isnull=False).exclude(proven="").select_related("job", "item")
    exercises_there = []
    for trace in closed.order_by("-closed_at")[:100]:
        looks = len(_looks(trace))
        if looks >= FEWEST_LOOKS:
            title = services.engine_of(trace).chain.title
            exercises_there.append(
                Exercise(trace=trace.pk, symptom=trace.symptom, unit=trace.job.title, chain=title, looks=looks)
            )
    return exercises_there


@router.get("/practice/{trace_id}", response=ReplayOut, operation_id="practice_replay")
def replay(request: SignedIn, trace_id: UUID, seen: int = 0) -> ReplayOut:
    """An exercise with its first `seen` looks uncovered."""
    trace = find_trace(trace_id)
    if trace.closed_at is None or not trace.proven:
        raise Http404
    engine, looks = services.engine_of(trace), _looks(trace)
    shown = looks[: max(0, min(seen, len(looks)))]
    chain, belief = engine.chain, engine.belief(shown)
    following = advised(engine, shown)
    over = len(shown) == len(looks)
    asked = None if over else probe_out(chain.by_probe[looks[len(shown)].probe], "", "")
    best = probe_out(chain.by_probe[following[0].probe], following[0].expect, following[0].why) if following else None
    known = {s.probe for s in shown}
    offered = [asked.probe if asked else "", *(a.probe for a in following), *(p.id for p in chain.probes)]
    choices = list(dict.fromkeys(p for p in offered if p and p not in known))[:CHOICES]
    return ReplayOut(
        trace=trace.pk,
        symptom=trace.symptom,
        unit=trace.job.title,
        title=chain.title,
        looks=len(looks),
        seen=[
            LookedAt(
                what=chain.by_probe[s.probe].what,
                answer=s.answer,
                words=chain.by_probe[s.probe].said(s.answer),
                did=what_it_did(engine, shown[: n + 1], s),
            )
            for n, s in enumerate(shown)
        ],
        stages=suspicion(engine, belief),
        choices=sorted((probe_out(chain.by_probe[p], "", "") for p in choices), key=lambda p: p.what),
        asked=asked,
        advised=None if over else best,
        cause=chain.by_fault[trace.proven].name if over and trace.proven in chain.by_fault else None,
    )
