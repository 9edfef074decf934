"""The owner's report, drafted from the clocked evidence: sentences with a key, so that each can be edited and kept."""

from collections.abc import Sequence
from typing import Literal

from young_spark.core.entry import StoryLine
from young_spark.core.figure import VERDICT_WORDS, Verdict, quantity
from young_spark.core.gear import PlanRow
from young_spark.core.ground import Frozen
from young_spark.core.job.plans import ReadingFact, as_left, as_received, open_lines, row_label
from young_spark.core.judging import VerdictLine

StorySection = Literal["complaint", "found", "done", "result", "advice", "not_measured"]


class Sentence(Frozen):
    """One sentence of the report; `key` stays the same while its evidence does."""

    key: str
    section: StorySection
    text: str


class ToldLine(Frozen):
    """A story line of the slip with its id and whether it was ticked off."""

    id: str
    line: StoryLine
    settled: bool = False


class Comparison(Frozen):
    """One row of before and after; the figures are as shown on the slip."""

    row: str
    name: str
    where: str
    before: str | None
    before_verdict: Verdict | None
    before_words: str
    after: str | None
    after_verdict: Verdict | None
    after_words: str
    limits: tuple[VerdictLine, ...] = ()


REASON_WORDS = {
    "bad": "it was bad",
    "suspect": "it was suspect",
    "precaution": "as a precaution",
    "owners_wish": "as the owner wished",
    "company_damage": "it was damaged with the other",
}


def sentence_case(text: str) -> str:
    """First letter large, one full stop."""
    text = text.strip().rstrip(".")
    return text[:1].upper() + text[1:] + "." if text else ""


def draft(
    unit: str, told: Sequence[ToldLine], compared: Sequence[Comparison], not_measured: Sequence[str]
) -> tuple[Sentence, ...]:
    """The sentences in the order an owner reads them; nothing that was not on the slip."""
    by_kind = {
        kind: [t for t in told if t.line.kind == kind]
        for kind in ("said", "wish", "found", "stage", "did", "adjusted", "advice", "watch", "lock", "unlock")
    }
    sentences = [
        *(_said(t) for t in by_kind["said"]),
        *(_wish(t) for t in by_kind["wish"]),
        *(Sentence(key=f"found-{t.id}", section="found", text=sentence_case(t.line.words)) for t in by_kind["found"]),
        *(_stage(t) for t in by_kind["stage"] if t.line.state != "good"),
        *_cause(by_kind),
        *(_did(t) for t in by_kind["did"]),
        *(_adjusted(t) for t in by_kind["adjusted"]),
        *_results(unit, compared),
        *(
            Sentence(key=f"advice-{t.id}", section="advice", text=sentence_case(t.line.words))
            for t in by_kind["advice"]
        ),
        *_locked(by_kind),
        *(
            Sentence(key=f"not-{n}-{words}"[:80], section="not_measured", text=sentence_case(words))
            for n, words in enumerate(not_measured)
        ),
    ]
    return tuple(sentences)


def _said(told: ToldLine) -> Sentence:
    return Sentence(
        key=f"said-{told.id}", section="complaint", text=f"You told us: “{told.line.words.strip().rstrip('.')}”."
    )


def _wish(told: ToldLine) -> Sentence:
    done = "done" if told.settled else "not done"
    return Sentence(
        key=f"wish-{told.id}-{told.settled}",
        section="complaint",
        text=f"You asked: “{told.line.words.strip().rstrip('.')}” – {done}.",
    )


def _stage(told: ToldLine) -> Sentence:
    words = f"The {told.line.stage} stage was {told.line.state}"
    return Sentence(key=f"stage-{told.id}", section="found", text=sentence_case(words))


def _cause(by_kind: dict[str, list[ToldLine]]) -> list[Sentence]:
    if by_kind["found"] or by_kind["stage"] or by_kind["did"]:
        return []
    text = "No cause was found. Which function was in use when it failed? Please note it, should it happen again."
    return [Sentence(key="no-cause", section="found", text=text)]


def _did(told: ToldLine) -> Sentence:
    line = told.line
    if line.part_out and line.part_in:
        text = f"{line.part_out} replaced by {line.part_in}"
        text += f": {REASON_WORDS[line.reason]}" if line.reason else ""
    else:
        text = line.words.split(";")[0]
    return Sentence(key=f"did-{told.id}", section="done", text=sentence_case(text))


def _adjusted(told: ToldLine) -> Sentence:
    line = told.line
    return Sentence(
        key=f"adjusted-{told.id}",
        section="done",
        text=f"{line.adjuster} set: found at {line.value_found}, left at {line.value_left}.",
    )


def _results(unit: str, compared: Sequence[Comparison]) -> list[Sentence]:
    judged = [c for c in compared if c.after is not None]
    if not judged:
        return []
    outside = [c for c in judged if c.after_verdict in {Verdict.FAIL, Verdict.FAIL_CLOSE}]
    if outside:
        names = ", ".join(
            f"{c.name.lower()} ({c.after}, {VERDICT_WORDS[c.after_verdict].lower()})"
            for c in outside
            if c.after_verdict
        )
        text = f"As it leaves, {unit} is outside a limit in: {names}."
    else:
        text = (
            f"As it leaves, {unit} was measured at {len(judged)} "
            f"point{'s' if len(judged) > 1 else ''} and none is outside a limit."
        )
    return [Sentence(key=f"result-{len(judged)}-{len(outside)}", section="result", text=text)]


def _locked(by_kind: dict[str, list[ToldLine]]) -> list[Sentence]:
    if len(by_kind["lock"]) <= len(by_kind["unlock"]):
        return []
    return [
        Sentence(
            key="locked",
            section="advice",
            text=f"Not safe to power: {by_kind['lock'][-1].line.words}. Do not switch it on.",
        )
    ]


def compare(
    rows: Sequence[PlanRow],
    facts: Sequence[ReadingFact],
    stale: dict[str, str],
    verdicts: dict[str, tuple[VerdictLine, ...]],
) -> tuple[Comparison, ...]:
    """Before and after for each row of the plan that was measured at all. A stale figure, or one not as the unit
    leaves, is not used."""
    found = []
    for row in rows:
        mine = [f for f in facts if f.plan_row == row.id]
        before, after = as_received(mine), as_left(mine, stale)
        if before is None and after is None:
            continue
        shown = after or before
        found.append(
            Comparison(
                row=row.id,
                name=quantity(row.quantity).name,
                where=row_label(row),
                before=before.figure if before else None,
                before_verdict=before.verdict if before else None,
                before_words=before.verdict_words if before else "",
                after=after.figure if after else None,
                after_verdict=after.verdict if after else None,
                after_words=after.verdict_words if after else "",
                limits=verdicts.get(shown.id, ()) if shown else (),
            )
        )
    return tuple(found)


def what_was_not_measured(
    rows: Sequence[PlanRow], facts: Sequence[ReadingFact], stale: dict[str, str]
) -> tuple[str, ...]:
    """Each figure the plan wants as left and has not, in words: nothing is silently missing."""
    return tuple(
        f"{quantity(line.row.quantity).name}, {row_label(line.row)}: not measured"
        + (f" again ({line.why})" if line.why else "")
        for line in open_lines(rows, "as_left", facts, stale)
    )
