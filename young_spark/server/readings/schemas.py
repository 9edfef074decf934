"""What the web is told of lines and readings."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Field, Schema

from young_spark.core.entry import Guard, Meaning, StoryLine, figure_words
from young_spark.core.figure import Conditions, Measured, Verdict, quantity
from young_spark.core.job import not_as_it_leaves, words_apart
from young_spark.core.judging import VerdictLine, verdict_sentence, verdict_words, worst
from young_spark.server.jobs import kept_files
from young_spark.server.jobs.models import Line, Picture
from young_spark.server.readings.models import Reading


class ReadingOut(Schema):
    """One figure: `figure` and the verdict's words are ready to show; the numbers are for the limit bar."""

    id: UUID | None
    quantity: str
    name: str
    figure: str
    measured: Measured
    verdict: Verdict | None
    verdict_words: str
    sentence: str | None
    verdicts: list[VerdictLine]
    plan_row: str | None = None
    stale: str | None = None
    not_as_left: str | None = None
    where: str = ""  # where it stands, where that is not what the whole line says


class MeaningOut(Schema):
    """One sense of the text, the principal figure first."""

    title: str
    readings: list[ReadingOut]
    conditions: Conditions
    remark: str = ""  # words that are no part of any figure: they stay with the line


class ChoiceOut(Schema):
    """One answer to a question: a sense to take, or where the hand is now."""

    label: str
    sense: int | None
    sets: Conditions | None


class UnderstoodOut(Schema):
    """What Enter would take, or the question that is open."""

    text: str
    meanings: list[MeaningOut]
    chosen: int | None
    story: StoryLine | None
    question: str | None
    sets: Conditions | None  # where the hand is now, where the text says only that
    choices: list[ChoiceOut]  # the answers to the question, four at most
    as_note: StoryLine | None  # what a second Enter keeps while a question is open
    guards: list[Guard]
    warning: str | None = None
    answers: str | None = None  # the open line it answers, where that is not the current one


class PictureOut(Schema):
    sha256: str
    width: int
    height: int
    not_whole: str  # what is wrong with its file; empty where nothing is


class LineOut(Schema):
    """A line of the slip."""

    id: UUID
    number: int
    item: UUID | None
    kind: str
    part: str
    phase: str
    at: datetime
    by: str
    text: str
    story: StoryLine | None
    readings: list[ReadingOut]
    conditions: Conditions | None
    picture: PictureOut | None
    settled: bool
    withdrawn: str | None
    superseded: bool


class LineIn(Schema):
    """A line as typed; the client makes its id, so that it can be sent again without harm."""

    id: UUID
    text: str = Field(max_length=4000)
    job: UUID | None = None
    item: UUID | None = None
    conditions: Conditions = Conditions()
    row: str | None = Field(None, max_length=60)
    model: str | None = Field(None, max_length=60)
    sense: int | None = Field(None, ge=0, le=20)
    as_note: bool = False  # a text that is a question is kept as the words it is
    supersedes: UUID | None = None
    reason: str = Field("", max_length=200)


class TextIn(Schema):
    """A text while it is typed."""

    text: str = Field(max_length=4000)
    job: UUID | None = None
    item: UUID | None = None
    conditions: Conditions = Conditions()
    row: str | None = Field(None, max_length=60)
    model: str | None = Field(None, max_length=60)  # of a loose line: what to judge it by


class WithdrawIn(Schema):
    reason: str = Field("", max_length=200)


class SetRightIn(Schema):
    """What a line of words is, or what the repair that it tells can have changed, as a hand says."""

    kind: Literal["note", "said", "wish", "found", "did", "wait", "arrived", "advice", "watch", "lock"] | None = None
    area: str | None = Field(None, max_length=40)


class SettleIn(Schema):
    settled: bool


def reading_out(
    measured: Measured,
    verdicts: list[VerdictLine],
    *,
    reading: Reading | None = None,
    stale: str | None = None,
    where: str = "",
) -> ReadingOut:
    """A figure for the web, with its words."""
    first = worst(tuple(verdicts))
    return ReadingOut(
        id=reading.pk if reading else None,
        quantity=measured.quantity,
        name=quantity(measured.quantity).name,
        figure=figure_words(measured),
        measured=measured,
        verdict=first.verdict if first else None,
        verdict_words=verdict_words(first),
        sentence=verdict_sentence(measured, tuple(verdicts)),
        verdicts=verdicts,
        plan_row=reading.plan_row if reading else None,
        stale=stale,
        not_as_left=not_as_it_leaves(reading.as_conditions) if reading and reading.phase == "as_left" else None,
        where=where,
    )


def meaning_out(meaning: Meaning) -> MeaningOut:
    """One sense of the text for the web."""
    pairs = enumerate(zip(meaning.readings, meaning.verdicts, strict=True))
    where = words_apart([meaning.conditions_of(n) for n in range(len(meaning.readings))])
    readings = [reading_out(r, list(v), where=where[n] if meaning.each else "") for n, (r, v) in pairs]
    return MeaningOut(title=meaning.title, readings=readings, conditions=meaning.conditions, remark=meaning.remark)


def _picture_out(picture: Picture, words: str) -> PictureOut:
    return PictureOut(
        sha256=picture.sha256,
        width=picture.width,
        height=picture.height,
        not_whole=kept_files.said(picture.sha256, f"The picture '{words}'"),
    )


def line_out(line: Line, readings: list[Reading], stale: dict[str, str]) -> LineOut:
    """A line for the web."""
    where = words_apart([r.as_conditions for r in readings])
    picture = getattr(line, "picture", None)
    return LineOut(
        id=line.pk,
        number=line.number,
        item=line.item_id,
        kind=line.kind,
        part=line.part,
        phase=line.phase,
        at=line.at,
        by=line.by.display_name,
        text=line.text,
        story=StoryLine.model_validate(line.story) if line.story else None,
        readings=[
            reading_out(
                r.as_measured,
                [VerdictLine.model_validate(v) for v in r.verdicts],
                reading=r,
                stale=stale.get(str(r.pk)),
                where=where[n] if len(set(where)) > 1 else "",
            )
            for n, r in enumerate(readings)
        ],
        conditions=readings[0].as_conditions if readings else None,
        picture=_picture_out(picture, line.text) if picture else None,
        settled=line.settled_at is not None,
        withdrawn=line.withdrawn_reason if line.withdrawn_at is not None else None,
        superseded=line.superseded_by_id is not None,
    )
