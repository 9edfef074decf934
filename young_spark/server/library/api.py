"""Limits, models, instruments and the sums sheet."""

import math
from dataclasses import asdict
from datetime import date, datetime

from django.http import Http404
from django.utils import timezone
from ninja import Field, Router, Schema

from young_spark.core.figure import format_value
from young_spark.core.figure import instruments as classes
from young_spark.core.gear import Model, kinds
from young_spark.core.ground import OutOfDomain, shipped_text
from young_spark.core.judging import CHECK_LOCALLY, ChannelPlan, Profile, profiles, row_words
from young_spark.core.measures.quick_sums import QUICK_SUMS, QuickSum
from young_spark.server.accounts.models import SignedIn
from young_spark.server.library.models import ShopInstrument
from young_spark.server.library.own_models import known_models
from young_spark.server.library.services import (
    OWN_PROFILES,
    keep_profile,
    known_plans,
    not_understood,
    own_profiles,
    withdraw_profile,
)

router = Router(tags=["library"])


class ModelOut(Schema):
    id: str
    title: str
    goes_by: list[str]
    kind: str
    generic: bool
    modes: list[str]
    channels: list[int]
    stages: list[str]
    high_voltage: bool


class InstrumentOut(Schema):
    id: str
    name: str
    kind: str
    kind_name: str
    serial: str
    detector: str
    elements_w: list[float]
    accuracy: list[str]
    calibration_due: date | None
    overdue: bool
    remark: str


class ProfileOut(Schema):
    """A profile that judges now; `ours` where a copy of this shop has its place."""

    id: str
    profile: Profile
    ours: bool
    not_understood: str  # why the copy of this shop does not judge
    limits: dict[str, str]  # by row, in words


class ProfileVersion(Schema):
    """A version of the shop's copy."""

    number: int
    at: datetime
    by: str
    withdrawn: bool
    text: str


class ProfileText(Schema):
    """A profile as the text that is edited: what judges now, what was shipped, and every copy there was."""

    id: str
    text: str
    ours: bool
    changed: str  # what ships differently since the copy was made, line by line
    versions: list[ProfileVersion]


class ProfileIn(Schema):
    text: str = Field(max_length=100_000)


class Library(Schema):
    models: list[ModelOut]
    instruments: list[InstrumentOut]
    profiles: list[ProfileOut]
    notice: str


class SumFieldOut(Schema):
    name: str
    unit: str
    start: float


class SumOut(Schema):
    id: str
    title: str
    fields: list[SumFieldOut]


class SumIn(Schema):
    values: list[float] = Field(max_length=6)


class SumLineOut(Schema):
    name: str
    figure: str
    working: str
    field_text: str | None


class SumAnswer(Schema):
    lines: list[SumLineOut]
    refused: str | None = None


def _model_out(model_id: str, model: Model, plans: dict[str, ChannelPlan]) -> ModelOut:
    plan = plans.get(model.channel_plan or "")
    return ModelOut(
        id=model_id,
        title=model.title,
        goes_by=list(model.goes_by),
        kind=model.kind,
        generic=model.generic,
        modes=list(model.modes),
        channels=[c.number for c in plan.channels] if plan else [],
        stages=[s.name for s in model.stages],
        high_voltage=model.high_voltage,
    )


def accuracy_words(row: ShopInstrument, today: date) -> list[str]:
    words = []
    for function, accuracy in row.as_instrument(today).functions.items():
        parts = [
            f"{accuracy.percent_of_full_scale:g} % of full scale" if accuracy.percent_of_full_scale else "",
            f"{accuracy.percent_of_reading:g} % of reading" if accuracy.percent_of_reading else "",
            f"{accuracy.ppm:g} ppm" if accuracy.ppm else "",
            f"{accuracy.db:g} dB" if accuracy.db else "",
            f"{accuracy.absolute:g} {classes.FUNCTION_UNITS.get(function, '')}".strip() if accuracy.absolute else "",
        ]
        words.append(f"{function.replace('_', ' ')} ± " + " ± ".join(p for p in parts if p))
    if row.reference_ppm is not None:
        words.append(f"its reference tunes {row.reference_ppm:+.2f} ppm off: taken off")
    return words


def _instrument_out(row: ShopInstrument, today: date) -> InstrumentOut:
    return InstrumentOut(
        id=row.id,
        name=row.name,
        kind=row.kind,
        kind_name=classes.instrument_classes()[row.kind].name,
        serial=row.serial,
        detector=row.detector.replace("_", " "),
        elements_w=row.elements_w,
        accuracy=accuracy_words(row, today),
        calibration_due=row.calibration_due,
        overdue=row.calibration_due is not None and row.calibration_due < today,
        remark=row.remark,
    )


@router.get("", response=Library, operation_id="library")
def library(request: SignedIn) -> Library:
    """Models, instruments and limit profiles, each with its source."""
    today, own, unread = timezone.now().date(), own_profiles(), not_understood()
    plans = known_plans()
    return Library(
        models=[
            *(_model_out(name, model, plans) for name, model in known_models().items()),
            *(_model_out(name, kind.as_model(name), plans) for name, kind in kinds().items()),
        ],
        instruments=[_instrument_out(row, today) for row in ShopInstrument.objects.order_by("kind", "name")],
        profiles=[
            ProfileOut(
                id=name,
                profile=own.get(name, profile),
                ours=name in own or name in unread,
                not_understood=unread.get(name, ""),
                limits={row.id: row_words(row) for row in own.get(name, profile).rows},
            )
            for name, profile in profiles().items()
        ],
        notice=CHECK_LOCALLY,
    )


def _text(name: str) -> ProfileText:
    if name not in profiles():
        raise Http404
    versions = list(OWN_PROFILES.versions(name))
    standing = [v for v in versions if v.withdrawn_at is None]
    return ProfileText(
        id=name,
        text=standing[-1].text if standing else shipped_text("limits", name),
        ours=bool(standing),
        changed=OWN_PROFILES.difference(standing[-1]) if standing else "",
        versions=[
            ProfileVersion(
                number=v.number, at=v.at, by=v.by.display_name, withdrawn=v.withdrawn_at is not None, text=v.text
            )
            for v in versions
        ],
    )


@router.get("/profiles/{name}", response=ProfileText, operation_id="profile_text")
def profile_text(request: SignedIn, name: str) -> ProfileText:
    """A limit profile as text, to be copied and edited."""
    return _text(name)


@router.put("/profiles/{name}", response=ProfileText, operation_id="profile_keep")
def profile_keep(request: SignedIn, name: str, data: ProfileIn) -> ProfileText:
    """Judge by this text from now on; refused with line and row where it is not understood."""
    _text(name)
    keep_profile(actor=request.user, name=name, text=data.text)
    return _text(name)


@router.post("/profiles/{name}/withdraw", response=ProfileText, operation_id="profile_withdraw")
def profile_withdraw(request: SignedIn, name: str) -> ProfileText:
    """Judge by the shipped profile again."""
    _text(name)
    withdraw_profile(actor=request.user, name=name)
    return _text(name)


def _find(sum_id: str) -> QuickSum:
    for quick in QUICK_SUMS:
        if quick.id == sum_id:
            return quick
    raise Http404


@router.get("/sums", response=list[SumOut], operation_id="sums")
def sums(request: SignedIn) -> list[SumOut]:
    """The sums sheet: what each asks for."""
    return [SumOut(id=s.id, title=s.title, fields=[SumFieldOut(**asdict(f)) for f in s.fields]) for s in QUICK_SUMS]


@router.post("/sums/{sum_id}", response=SumAnswer, operation_id="sum_answer")
def sum_answer(request: SignedIn, sum_id: str, data: SumIn) -> SumAnswer:
    """One sum worked out, with its working; figures outside its domain are refused in words."""
    quick = _find(sum_id)
    if len(data.values) != len(quick.fields):
        return SumAnswer(lines=[], refused=f"{quick.title} wants {len(quick.fields)} figures.")
    try:
        lines = quick.answer(*data.values)
    except (OutOfDomain, OverflowError, ZeroDivisionError) as refusal:
        return SumAnswer(lines=[], refused=str(refusal))
    return SumAnswer(
        lines=[
            SumLineOut(
                name=line.name,
                figure=format_value(line.value, line.unit) if math.isfinite(line.value) else "infinite",
                working=line.working,
                field_text=line.field_text,
            )
            for line in lines
        ]
    )
