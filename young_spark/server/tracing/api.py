"""Where next: the traces of a job, each with its suspicion, its evidence, and the probe that tells most for its
price."""

from datetime import datetime
from typing import cast
from uuid import UUID

from django.http import Http404
from ninja import Field, Router, Schema, Status

from young_spark.core.ground import CoreError, shipped_text
from young_spark.core.trace import Chain, Contradiction, Engine, Probe, Strategy, Weights, chain_names, likely
from young_spark.core.trace.drawing import drawn
from young_spark.core.trace.looks import Evidence
from young_spark.core.trace.standing import Guilty, Standing
from young_spark.core.trace.worth import Worth
from young_spark.server.accounts.models import SignedIn
from young_spark.server.jobs.models import Job
from young_spark.server.library.models import OwnText
from young_spark.server.problems import Refused
from young_spark.server.readings.api import find_place
from young_spark.server.readings.state import State, state_of
from young_spark.server.tracing import chains, services
from young_spark.server.tracing.models import Trace

router = Router(tags=["tracing"])


class ChainRow(Schema):
    """A chain to trace along."""

    id: str
    title: str
    about: str
    ours: bool
    not_understood: str  # why this shop's text of it is not traced along
    learnt: int  # closed jobs whose proven cause adds to its weights


class ChainVersion(Schema):
    """A version of a chain of this shop's own."""

    number: int
    at: datetime
    by: str
    text: str


class ChainText(Schema):
    """A chain as the text that is edited; `shipped` where one of that name ships."""

    id: str
    text: str
    ours: bool
    shipped: bool
    changed: str  # what ships differently since the copy was made, line by line
    versions: list[ChainVersion]


class ChainIn(Schema):
    text: str = Field(max_length=200_000)


class DrawingIn(Schema):
    """Stages, one a line, as the signal goes."""

    title: str = Field(max_length=80)
    stages: str = Field(max_length=6_000)


class DrawnOut(Schema):
    """The text of a chain that was drawn; nothing is kept yet."""

    text: str


class ProbeOut(Schema):
    """A probe: where to put it, what to expect, what it may answer."""

    probe: str
    what: str
    where: str
    caution: str
    confirm: bool  # its hazard is confirmed by name before anything is measured
    minutes: float
    risk: str
    covers: bool
    unit: str | None
    expect: str
    why: str
    answers: list[str]
    says: dict[str, str]  # each of them in words


class SuspectStage(Schema):
    """A stage with its suspicion, as a share and in words."""

    id: str
    name: str
    kind: str
    level: str
    share: float
    words: str


class EvidenceOut(Schema):
    """One look: what it was, what it did, and why it counts no more."""

    line: UUID
    probe: str
    words: str
    did: str
    from_slip: bool
    stale: str
    doubted: bool


class GuiltyOut(Schema):
    """A fault of the stage that is settled on: its company, and what is cleared before power comes back."""

    fault: str
    name: str
    share: float
    words: str
    takes: list[str]
    killed_by: list[str]
    clear: list[str]


class TraceOut(Schema):
    """A trace as it stands."""

    id: UUID
    chain: str
    title: str
    symptom: str
    strategy: Strategy
    closed_at: datetime | None
    proven: str
    stages: list[SuspectStage]
    not_listed: float
    known: list[str]  # weak points of its model, that count from the start
    evidence: list[EvidenceOut]
    again: list[str]  # probes whose answer a repair or another change made stale, not made since
    next: list[ProbeOut]
    others: list[ProbeOut]
    settled: str | None
    guilty: list[GuiltyOut]
    swap: str | None
    worth: Worth
    contradictions: list[Contradiction]


class TracesOut(Schema):
    """The traces of a job, the chains there are, and the one that fits its model."""

    traces: list[TraceOut]
    chains: list[ChainRow]
    fits: str | None


class TraceIn(Schema):
    id: UUID
    chain: str = Field(max_length=60)
    symptom: str = Field("", max_length=200)
    item: UUID | None = None


class LookIn(Schema):
    """What a probe answered: one of its answers, 'unknown', or a figure with its unit; `id` is that of the line."""

    id: UUID
    probe: str = Field(max_length=60)
    seen: str = Field(max_length=60)
    hazard_known: bool = False  # confirmed by name, where the point is lethal while it is live
    remark: str = Field("", max_length=120)  # what was seen, where it is none of the answers


class DoubtIn(Schema):
    """Whether a line of the slip is left out of a trace."""

    doubted: bool


class TraceChange(Schema):
    """Only what is sent changes."""

    strategy: str | None = Field(None, max_length=16)
    proven: str | None = Field(None, max_length=60)
    closed: bool | None = None


def find_trace(trace_id: UUID) -> Trace:
    """The trace, or 404."""
    trace = Trace.objects.select_related("job", "item").filter(pk=trace_id).first()
    if trace is None:
        raise Http404
    return trace


def suspicion(engine: Engine, belief: Weights) -> list[SuspectStage]:
    """Every stage of the chain with its share, as the signal goes."""
    shares = engine.by_stage(belief)
    return [
        SuspectStage(id=s.id, name=s.name, kind=s.kind, level=s.level, share=share, words=likely(share))
        for s in engine.chain.stages
        for share in (shares.get(s.id, 0.0),)
    ]


def trace_out(trace: Trace, state: State | None = None) -> TraceOut:
    """A trace worked out now; `state` is that of its item where it is known already."""
    read = services.read(trace, state)
    standing, chain = read.standing, read.standing.engine.chain
    return TraceOut(
        id=trace.pk,
        chain=trace.chain,
        title=chain.title,
        symptom=trace.symptom,
        strategy=cast(Strategy, trace.strategy),
        closed_at=trace.closed_at,
        proven=trace.proven,
        stages=suspicion(standing.engine, standing.belief),
        not_listed=standing.engine.by_stage(standing.belief).get(None, 0.0),
        known=list(read.known),
        evidence=[_evidence_out(standing, e) for e in standing.evidence],
        again=list(standing.again),
        next=[probe_out(look.probe, look.expect, look.why) for look in standing.next],
        others=[probe_out(look.probe, look.expect, look.why) for look in standing.others],
        settled=standing.settled,
        guilty=[_guilty_out(chain, guilty) for guilty in standing.guilty],
        swap=standing.swap,
        worth=read.worth,
        contradictions=list(standing.contradictions),
    )


def _evidence_out(standing: Standing, evidence: Evidence) -> EvidenceOut:
    return EvidenceOut(
        line=UUID(evidence.line),
        probe=evidence.seen.probe,
        words=evidence.words,
        from_slip=evidence.from_slip,
        stale=evidence.stale,
        doubted=evidence.doubted,
        did=standing.did(evidence),
    )


def _guilty_out(chain: Chain, guilty: Guilty) -> GuiltyOut:
    fault = guilty.fault
    return GuiltyOut(
        fault=fault.id,
        name=fault.name,
        share=guilty.share,
        words=likely(guilty.share),
        takes=[chain.by_fault[f].name for f in fault.takes],
        killed_by=[chain.by_fault[f].name for f in fault.killed_by],
        clear=list(fault.clear),
    )


def probe_out(probe: Probe, expect: str, why: str) -> ProbeOut:
    """A probe for a page, with what to expect there and why it is next."""
    return ProbeOut(
        probe=probe.id,
        what=probe.what,
        where=probe.where,
        caution=probe.caution,
        confirm=probe.is_live_danger,
        minutes=probe.minutes,
        risk=probe.risk,
        covers=probe.covers,
        unit=probe.figure.unit if probe.figure else None,
        expect=expect,
        why=why,
        answers=list(probe.answers),
        says={a: probe.said(a) for a in probe.answers},
    )


def chain_rows() -> list[ChainRow]:
    """Every chain that can be traced along."""
    own, learnt = chains.OWN_CHAINS.standing(), chains.learnt_by_chain()
    return [_row(name, own.get(name), learnt.get(name, 0)) for name in sorted({*chain_names(), *own})]


def _row(name: str, own: OwnText | None, learnt: int) -> ChainRow:
    why = chains.OWN_CHAINS.why_not(own) if own is not None else ""
    chain = None if why and name not in chain_names() else chains.as_it_stands(name, own)[0]
    return ChainRow(
        id=name,
        title=chain.title if chain else name,
        about=chain.about if chain else "",
        ours=own is not None,
        not_understood=why,
        learnt=learnt,
    )


def _text(name: str) -> ChainText:
    versions = list(chains.OWN_CHAINS.versions(name))
    own, shipped = chains.OWN_CHAINS.standing().get(name), name in chain_names()
    if own is None and not shipped:
        raise Http404
    return ChainText(
        id=name,
        text=own.text if own is not None else shipped_text("chains", name),
        ours=own is not None,
        shipped=shipped,
        changed=chains.OWN_CHAINS.difference(own) if own is not None else "",
        versions=[ChainVersion(number=v.number, at=v.at, by=v.by.display_name, text=v.text) for v in versions],
    )


@router.get("/chains", response=list[ChainRow], operation_id="chains")
def all_chains(request: SignedIn) -> list[ChainRow]:
    """Every chain of this shop."""
    return chain_rows()


@router.get("/chains/{name}", response=ChainText, operation_id="chain_text")
def chain_text(request: SignedIn, name: str) -> ChainText:
    """A chain as text, to be corrected."""
    return _text(name)


@router.put("/chains/{name}", response=ChainText, operation_id="chain_keep")
def chain_keep(request: SignedIn, name: str, data: ChainIn) -> ChainText:
    """Trace along this text from now on; refused with the line where it is not understood."""
    chains.keep_chain(actor=request.user, name=name, text=data.text)
    return _text(name)


@router.post("/chains/{name}/withdraw", response={200: ChainRow | None}, operation_id="chain_withdraw")
def chain_withdraw(request: SignedIn, name: str) -> ChainRow | None:
    """Back to the shipped chain, or none where it was drawn here."""
    _text(name)
    chains.withdraw_chain(actor=request.user, name=name)
    return next((row for row in chain_rows() if row.id == name), None)


@router.post("/chains/{name}/forget", response=list[ChainRow], operation_id="chain_forget")
def chain_forget(request: SignedIn, name: str) -> list[ChainRow]:
    """Trace along it without what the jobs closed so far taught."""
    _text(name)
    chains.forget(actor=request.user, name=name)
    return chain_rows()


@router.post("/drawn-chain", response=DrawnOut, operation_id="chain_draw")
def chain_draw(request: SignedIn, data: DrawingIn) -> DrawnOut:
    """The text of a chain from its stages, to be looked over and kept."""
    try:
        return DrawnOut(text=drawn(data.title, data.stages))
    except CoreError as refusal:
        raise Refused(f"{refusal}.") from refusal


def traces_out(job: Job) -> TracesOut:
    """Every trace of a job."""
    states: dict[UUID | None, State] = {}
    traces = []
    for trace in Trace.objects.filter(job=job).select_related("job", "item"):
        if trace.item_id not in states:
            states[trace.item_id] = state_of(job, trace.item)
        traces.append(trace_out(trace, states[trace.item_id]))
    state = state_of(job, None)
    return TracesOut(traces=traces, chains=chain_rows(), fits=state.model.chain if state.model else None)


@router.get("/jobs/{job_id}/traces", response=TracesOut, operation_id="traces")
def listed(request: SignedIn, job_id: UUID) -> TracesOut:
    """The traces of a job, each with where to probe next."""
    job, _ = find_place(job_id, None)
    assert job is not None
    return traces_out(job)


@router.post("/jobs/{job_id}/traces", response={201: TraceOut}, operation_id="trace_begin")
def begin(request: SignedIn, job_id: UUID, data: TraceIn) -> Status[TraceOut]:
    """Open a trace for one symptom."""
    job, item = find_place(job_id, data.item)
    assert job is not None
    made = services.begin(
        actor=request.user, trace_id=data.id, job=job, item=item, chain=data.chain, symptom=data.symptom
    )
    return Status(201, trace_out(made))


@router.post("/traces/{trace_id}/looks", response={201: TraceOut}, operation_id="trace_look")
def look(request: SignedIn, trace_id: UUID, data: LookIn) -> Status[TraceOut]:
    """Say what a probe answered."""
    trace = find_trace(trace_id)
    services.look(
        actor=request.user,
        trace=trace,
        line_id=data.id,
        probe=data.probe,
        seen=data.seen,
        hazard_known=data.hazard_known,
        remark=data.remark,
    )
    return Status(201, trace_out(trace))


@router.put("/traces/{trace_id}/doubts/{line_id}", response=TraceOut, operation_id="trace_doubt")
def doubt(request: SignedIn, trace_id: UUID, line_id: UUID, data: DoubtIn) -> TraceOut:
    """Doubt what a line of the slip says in this trace, or count it again."""
    trace = find_trace(trace_id)
    services.doubt(actor=request.user, trace=trace, line_id=line_id, doubted=data.doubted)
    return trace_out(trace)


@router.patch("/traces/{trace_id}", response=TraceOut, operation_id="trace_change")
def change(request: SignedIn, trace_id: UUID, data: TraceChange) -> TraceOut:
    """Another order, or the end of a trace with the fault that was proven."""
    trace = find_trace(trace_id)
    return trace_out(services.change(actor=request.user, trace=trace, **data.model_dump()))
