"""The report of a job, put together from its slip and the edits of its sentences."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from django.db import transaction
from ninja import Schema

from young_spark.core.figure import Verdict
from young_spark.core.job import (
    Comparison,
    Table,
    as_printed,
    compare,
    costs,
    minutes_by_part,
    not_as_it_leaves,
    spent,
    story,
    tables,
    what_was_not_measured,
)
from young_spark.core.judging import CHECK_LOCALLY, TOLD, TYPICAL, VerdictLine, verdict_words
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.handback.models import SentenceEdit
from young_spark.server.jobs import kept_files
from young_spark.server.jobs.models import Job
from young_spark.server.readings.state import State, state_of
from young_spark.server.records.services import heard_in_report, records_not_whole

SECTION_TITLES = {
    "complaint": "What you told us",
    "found": "What we found",
    "done": "What was done",
    "result": "How it leaves",
    "advice": "Our advice",
    "not_measured": "What was not measured",
}


GROUPS = ("planned", "also", "not_as_it_leaves")


class SentenceOut(Schema):
    key: str
    text: str
    drafted: str
    edited: bool


class SectionOut(Schema):
    id: str
    title: str
    sentences: list[SentenceOut]


class LimitOut(Schema):
    """One limit line in words, with its own verdict, source and version."""

    kind: str
    words: str
    verdict: Verdict
    verdict_words: str
    source: str
    version: str
    confidence: str


class ComparisonOut(Schema):
    group: Literal["planned", "also", "not_as_it_leaves"]
    item: str  # which box of the job, where there are several
    name: str
    where: str
    before: str | None
    before_verdict: Verdict | None
    before_words: str
    after: str | None
    after_verdict: Verdict | None
    after_words: str
    in_work: str | None
    limits: list[LimitOut]


class TableOf(Schema):
    """A table of the slip, and which box of the job it is of, where there are several."""

    item: str
    table: Table


class PartUsed(Schema):
    words: str
    cost: float | None


class PictureOf(Schema):
    sha256: str
    words: str
    not_whole: str  # what is wrong with its file; empty where nothing is


class SoundOf(Schema):
    """A record that can be listened to."""

    record: UUID
    words: str


class Report(Schema):
    """What the owner gets."""

    job: UUID
    number: int
    unit: str
    serial: str
    owner: str
    came_in: datetime
    handed_back: datetime | None
    people: list[str]
    sections: list[SectionOut]
    compared: list[ComparisonOut]
    tables: list[TableOf]
    parts: list[PartUsed]
    cost: float
    minutes_worked: int
    pictures: list[PictureOf]
    sounds: list[SoundOf]
    not_whole: list[str]  # records whose files are missing or damaged
    watch: list[str]
    notice: str


# what is due by no rule and no sheet
BY_WHOSE_WORD = {TYPICAL: "typical of the kind", TOLD: "as said at the bench"}


def _limit(line: VerdictLine) -> LimitOut:
    return LimitOut(
        kind=BY_WHOSE_WORD.get(line.profile, line.kind),
        words=line.words,
        verdict=line.verdict,
        verdict_words=verdict_words(line),
        source=line.source,
        version=f"{line.profile} {line.version}" if line.version else "",
        confidence=line.confidence,
    )


def _comparison(compared: Comparison, item: str) -> ComparisonOut:
    told = compared.model_dump(exclude={"row", "limits"})
    return ComparisonOut(item=item, limits=[_limit(line) for line in compared.limits], **told)


def _sections(state: State, compared: tuple[Comparison, ...], edits: dict[str, str], unit: str) -> list[SectionOut]:
    told = [
        story.ToldLine(id=str(line.pk)[:8], line=words, settled=line.settled_at is not None)
        for line, words in state.stories
    ]
    missing = what_was_not_measured(state.wanted, state.facts, state.stale)
    drafted = story.draft(unit, told, compared, missing, [lock.words for lock in state.locks])
    sections = []
    for section, title in SECTION_TITLES.items():
        sentences = [
            SentenceOut(key=s.key, text=edits.get(s.key, s.text), drafted=s.text, edited=s.key in edits)
            for s in drafted
            if s.section == section
        ]
        if sentences:
            sections.append(SectionOut(id=section, title=title, sentences=sentences))
    return sections


def report(job: Job) -> Report:
    """The report as it stands now; it uses no stale figure, and says what was not measured."""
    items = list(job.items.all())
    states = [state_of(job, item) for item in items]
    edits = dict(job.edits.values_list("key", "text"))
    compared: list[ComparisonOut] = []
    of_states: list[TableOf] = []
    sections: dict[str, SectionOut] = {}
    for state in states:
        verdicts = {str(r.pk): tuple(VerdictLine.model_validate(v) for v in r.verdicts) for r in state.readings}
        rows = compare(state.plan_rows, state.facts, state.stale, verdicts)
        compared += [_comparison(row, state.item.name if state.item and len(items) > 1 else "") for row in rows]
        name = state.item.name if state.item and len(items) > 1 else ""
        left = [f for f in state.facts if not_as_it_leaves(f.conditions) is None]
        made = tables(left, state.plan_rows, state.stale)
        of_states += [TableOf(item=name, table=as_printed(table)) for table in made]
        for section in _sections(state, rows, edits, f"the {state.item.name}" if state.item else "the unit"):
            sections.setdefault(
                section.id, SectionOut(id=section.id, title=section.title, sentences=[])
            ).sentences.extend(section.sentences)
    stories = [(line, words) for state in states for line, words in state.stories]
    told = [words for _, words in stories]
    lines = sorted((line for state in states for line in state.lines), key=lambda line: line.at)
    return Report(
        job=job.pk,
        number=job.number,
        unit=job.title,
        serial=", ".join(i.serial for i in items if i.serial),
        owner=job.owner,
        came_in=job.created_at,
        handed_back=job.handed_back_at,
        people=sorted({line.by.display_name for line in lines}),
        sections=[sections[name] for name in SECTION_TITLES if name in sections],
        compared=sorted(compared, key=lambda row: GROUPS.index(row.group)),
        tables=of_states,
        parts=[PartUsed(words=used.words, cost=used.cost) for used in costs(told)],
        cost=spent(told),
        minutes_worked=sum(minutes_by_part([(line.part, line.at) for line in lines]).values()),
        pictures=[
            PictureOf(
                sha256=line.picture.sha256,
                words=line.text,
                not_whole=kept_files.said(line.picture.sha256, f"The picture '{line.text}'"),
            )
            for line, w in stories
            if w.kind == "picture" and hasattr(line, "picture")
        ],
        sounds=[
            SoundOf(record=record.pk, words=f"{record.name}, {record.item.name if record.item else 'the unit'}")
            for record in heard_in_report(job)
        ],
        not_whole=records_not_whole(job),
        watch=[w.words for _, w in stories if w.kind == "watch"],
        notice=CHECK_LOCALLY,
    )


@transaction.atomic
def edit_sentence(*, actor: Person, job: Job, key: str, text: str | None) -> None:
    """Keep a sentence as the technician wants it; None gives the drafted one back."""
    require_technician(actor)
    if text is None:
        SentenceEdit.objects.filter(job=job, key=key).delete()
    else:
        SentenceEdit.objects.update_or_create(job=job, key=key, defaults={"text": text.strip(), "edited_by": actor})
