"""Practice: a trace that ended with a proven cause, replayed look by look, the answer hidden until one has said
one's own; and a fault that hides in a chain, looked for at the bench's prices."""

from uuid import UUID

from django.http import Http404
from ninja import Field, Router, Schema

from young_spark.core.ground import CoreError
from young_spark.core.trace import Engine, Seen, advised, what_it_did
from young_spark.core.trace.hidden import HINT_MIN, HiddenFault, Rarity, hidden
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


class HiddenLook(Schema):
    """A look, and what it showed."""

    probe: str
    what: str
    words: str


class HiddenEnd(Schema):
    """What it was, whether the hand said so, and what each paid in minutes."""

    cause: str
    stage: str
    right: bool
    minutes: float
    best_minutes: float
    best: list[HiddenLook]


class HiddenOut(Schema):
    """A fault that hides, after some looks. `told` is what check-in says; `hint` what this program would look at."""

    title: str
    draw: int
    told: list[HiddenLook]
    looks: list[HiddenLook]
    minutes: float
    hint: ProbeOut | None
    open: list[ProbeOut]
    stages: list[SuspectStage]
    end: HiddenEnd | None


class HiddenIn(Schema):
    """What was done so far: nothing of it is kept. `said` is the stage that the hand names in the end."""

    chain: str = Field(max_length=60)
    rarity: Rarity = "often"
    draw: int = Field(0, ge=0, lt=1 << 31)
    looks: list[str] = Field([], max_length=60)
    hints: int = Field(0, ge=0, le=60)
    wants_hint: bool = False
    said: str | None = Field(None, max_length=60)


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


@router.post("/hidden-fault", response=HiddenOut, operation_id="hidden_fault")
def hidden_fault(request: SignedIn, data: HiddenIn) -> HiddenOut:
    """A hidden fault after the looks that were made; the same draw hides the same fault. 404 for a chain or a probe
    that is not there, or where nothing of that rarity hides."""
    try:
        engine = services.plain_engine(data.chain)
    except CoreError as unknown:
        raise Http404 from unknown
    hides = hidden(engine, data.rarity, data.draw)
    if hides is None or not set(data.looks) <= engine.number.keys():
        raise Http404
    way = hides.way(tuple(data.looks))
    minutes = way.minutes + HINT_MIN * data.hints
    seen = (*hides.told, *way.looks)
    following = advised(engine, seen) if data.wants_hint else ()
    return HiddenOut(
        title=engine.chain.title,
        draw=data.draw,
        told=_shown(engine, tuple(s for s in hides.told if not engine.chain.by_probe[s.probe].told)),
        looks=_shown(engine, way.looks),
        minutes=minutes,
        hint=next((probe_out(engine.chain.by_probe[a.probe], a.expect, a.why) for a in following[:1]), None),
        open=[probe_out(p, "", "") for p in sorted(hides.open_probes(way.looks), key=lambda p: p.what)],
        stages=[s.model_copy(update={"share": 0.0, "words": ""}) for s in suspicion(engine, engine.belief([]))],
        end=_end(hides, data.said, minutes) if data.said is not None else None,
    )


def _end(hides: HiddenFault, said: str, minutes: float) -> HiddenEnd:
    best = hides.best_way()
    chain = hides.engine.chain
    return HiddenEnd(
        cause=chain.by_fault[hides.fault].name,
        stage=chain.by_stage[hides.stage].name if hides.stage else "",
        right=said == hides.stage,
        minutes=minutes,
        best_minutes=best.minutes,
        best=_shown(hides.engine, best.looks),
    )


def _shown(engine: Engine, looks: tuple[Seen, ...]) -> list[HiddenLook]:
    probes = [engine.chain.by_probe[s.probe] for s in looks]
    return [HiddenLook(probe=p.id, what=p.what, words=p.said(s.answer)) for p, s in zip(probes, looks, strict=True)]
