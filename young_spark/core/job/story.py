"""The owner's report, drafted from the clocked evidence: sentences with a key, so that each can be edited and kept."""

import re
from collections.abc import Sequence
from typing import Literal

from young_spark.core.entry import BOOKED, NOT_NOTED, StoryLine, without_costs
from young_spark.core.figure import AERIAL, Verdict, tries_in, what_it_rules_out
from young_spark.core.ground import Frozen
from young_spark.core.job.compared import Comparison
from young_spark.core.judging import TYPICAL

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


# what was left out by intention stands beside what the plan finds missing
NOT_TRIED = re.compile(
    r"\bnot (?:tried|tested|checked|measured|looked at|done)\b|"
    r"\b(?:did|could)(?:n'?t| not) (?:try|test|check|measure)\b",
    re.IGNORECASE,
)
LEAVE_ALONE = re.compile(
    r"(?:please )?(?:leave|keep|do(?:n'?t| not) (?:touch|change|remove)) (?P<what>.+)", re.IGNORECASE
)
# at the begin of a line: 'refused: beep louder is not allowed', 'wont fit the roger beep, illegal on ours'
REFUSED = re.compile(
    r"\s*(?:note:? )?(?:refused?|declined|turned down|told (?:him|her|them|owner) no|not doing|"
    r"(?:wo|ca)n'?t (?:do|fit|raise|set)|will not (?:do|fit|raise|set))\b",
    re.IGNORECASE,
)
OF_NO_THING = {"more", "less", "please", "with", "for", "and", "not", "one", "make", "made"}  # words of any wish
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
    unit: str,
    told: Sequence[ToldLine],
    compared: Sequence[Comparison],
    not_measured: Sequence[str],
    locks: Sequence[str] = (),
) -> tuple[Sentence, ...]:
    """The sentences in the order an owner reads them; nothing that was not on the slip. `locks` are what makes the
    unit not safe to power as it leaves."""
    kinds = ("said", "wish", "found", "stage", "did", "adjusted", "advice", "struck", "note")
    by_kind = {kind: [t for t in told if t.line.kind == kind] for kind in kinds}
    touched = touched_words([t.line for t in told])
    untried = [t for t in by_kind["note"] if NOT_TRIED.search(t.line.words)]
    sentences = [
        *(_said(t) for t in by_kind["said"]),
        *(_wish(t, touched, refusals_in([n.line for n in by_kind["note"]])) for t in by_kind["wish"]),
        *(
            Sentence(key=f"found-{t.id}", section="found", text=sentence_case(t.line.words))
            for t in by_kind["found"]
            if tries_in(t.line.words.lower()) is None
        ),
        *(_stage(t) for t in by_kind["stage"] if t.line.state != "good"),
        *_cause(by_kind),
        *(_did(t) for t in by_kind["did"] if t.line.area != BOOKED),
        *(_adjusted(t) for t in by_kind["adjusted"]),
        *(_set_up(t) for t in by_kind["note"] if t.line.set_up is not None and t.line.set_up.act == "end"),
        *_results(unit, compared, not_measured),
        *_tests(by_kind["found"]),
        *(
            Sentence(key=f"advice-{t.id}", section="advice", text=sentence_case(t.line.words))
            for t in by_kind["advice"]
        ),
        *_locked(locks),
        *(
            Sentence(key=f"{t.line.kind}-{t.id}", section="not_measured", text=sentence_case(t.line.words))
            for t in (*by_kind["struck"], *untried)
        ),
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


def _wish(told: ToldLine, touched: str, refusals: Sequence[str]) -> Sentence:
    """A wish and what became of it: one to leave a thing alone is kept where nothing was done to it, one that was
    refused has its reason."""
    wish = told.line.words.strip().rstrip(".")
    refused = refusal_of(wish, refusals)
    done = "done" if told.settled else "kept as it was" if is_kept(wish, touched) else refused or "not done"
    return Sentence(key=f"wish-{told.id}-{done}"[:80], section="complaint", text=f"You asked: “{wish}” – {done}.")


def refusals_in(notes: Sequence[StoryLine]) -> tuple[str, ...]:
    """The lines of words that say that something is not done for the owner, and why."""
    return tuple(line.words.strip().rstrip(".") for line in notes if REFUSED.match(line.words))


def refusal_of(wish: str, refusals: Sequence[str]) -> str | None:
    """The words that refuse a wish: those that name what it asks for; None where nobody refused it."""
    return next((words for words in refusals if _names_any_of(words, wish)), None)


def is_kept(wish: str, touched: str) -> bool:
    """Whether a wish to leave a thing alone is kept: no words of what was done name it."""
    leave = LEAVE_ALONE.match(wish.strip())
    return leave is not None and not _names_any_of(touched, leave["what"])


def touched_words(told: Sequence[StoryLine]) -> str:
    """All words of what was repaired and turned."""
    return " ".join(line.words for line in told if line.kind in {"did", "adjusted"})


def _names_any_of(words: str, wanted: str) -> bool:
    named = set(re.findall(r"[a-z0-9]{3,}", wanted.lower())) - {"the", "that", "alone", "his", "her", "their", "own"}
    named -= OF_NO_THING
    return bool(named & set(re.findall(r"[a-z0-9]{3,}", words.lower())))


def _stage(told: ToldLine) -> Sentence:
    words = f"The {told.line.stage} stage was {told.line.state}"
    return Sentence(key=f"stage-{told.id}", section="found", text=sentence_case(words))


def _cause(by_kind: dict[str, list[ToldLine]]) -> list[Sentence]:
    righted = any(_stood_wrong(t.line) for t in by_kind["adjusted"])
    repaired = any(t.line.area != BOOKED for t in by_kind["did"])
    if by_kind["found"] or by_kind["stage"] or repaired or righted:
        return []  # what stood wrong and was set was the cause, as far as anybody knows
    text = "No cause was found. Which function was in use when it failed? Please note it, should it happen again."
    return [Sentence(key="no-cause", section="found", text=text)]


def _stood_wrong(line: StoryLine) -> bool:
    """Whether an adjustment says how it was found: by its figure, or 'was fully clockwise'."""
    return line.value_found not in {None, NOT_NOTED} or re.search(r"\b(?:was|were|found)\b", line.words) is not None


def _did(told: ToldLine) -> Sentence:
    line = told.line
    if line.part_out and line.part_in:
        text = f"{line.part_out} replaced by {line.part_in}"
        text += f": {REASON_WORDS[line.reason]}" if line.reason else ""
    else:
        text = without_costs(line.words.split(";")[0])
    return Sentence(key=f"did-{told.id}", section="done", text=sentence_case(text))


def _set_up(told: ToldLine) -> Sentence:
    """How a sequence of adjustments ended: what stands right, and what does not."""
    text = sentence_case(told.line.words.removeprefix("Set-up: "))
    return Sentence(key=f"set-up-{told.id}", section="done", text=text)


def _adjusted(told: ToldLine) -> Sentence:
    line = told.line
    if line.adjuster and line.value_found and line.value_left:
        text = f"{line.adjuster} set: found at {line.value_found}, left at {line.value_left}."
    else:
        text = sentence_case(line.words)
    return Sentence(key=f"adjusted-{told.id}", section="done", text=text)


def _results(unit: str, compared: Sequence[Comparison], not_measured: Sequence[str]) -> list[Sentence]:
    left = [c for c in compared if c.after is not None]
    if not left and not (compared or not_measured):
        return []  # a box that nothing is planned for, and nothing was measured of
    if not left:
        return [Sentence(key="result-0", section="result", text=f"How {unit} leaves was not measured.")]
    beyond = [c for c in left if c.after_verdict in {Verdict.FAIL, Verdict.FAIL_CLOSE}]
    aerial = [c for c in beyond if c.where.startswith(AERIAL)]  # that it was tried with: the unit is no worse for it
    untypical = [c for c in beyond if c not in aerial and _is_only_untypical(c)]
    outside = [c for c in beyond if c not in aerial and c not in untypical]
    unjudged = [c for c in left if c.after_verdict in {None, Verdict.NO_VERDICT}]
    text = f"As it leaves, {unit} {_how_it_leaves(len(left), len(unjudged), outside, own=bool(aerial))}"
    if untypical:
        others = ", ".join(f"{c.name.lower()} ({c.after})" for c in untypical)
        text += f" Not as typical of its kind: {others}; judge by what it is made for."
    text += f" Its aerial is outside a limit in: {_named(aerial)}." if aerial else ""
    return [Sentence(key=f"result-{len(left)}-{len(outside)}-{len(unjudged)}", section="result", text=text)]


def _is_only_untypical(compared: Comparison) -> bool:
    """Whether nothing but what is usual of its kind, by no maker's word and no rule, speaks against a figure."""
    against = [line for line in compared.limits if line.verdict in {Verdict.FAIL, Verdict.FAIL_CLOSE}]
    return bool(against) and all(line.profile == TYPICAL for line in against)


def _how_it_leaves(left: int, unjudged: int, outside: Sequence[Comparison], *, own: bool) -> str:
    """What was measured, and what of it is outside a limit; `own` where something else than the unit is."""
    points = f"{left} point{'s' if left > 1 else ''}"
    if outside:
        return f"is outside a limit in: {_named(outside)}."
    if unjudged == left:
        return f"was measured at {points}; nothing says what is due there."
    text = f"was measured at {points} and none {'of its own ' if own else ''}is outside a limit"
    return text + (f"; for {unjudged} of them nothing says what is due." if unjudged else ".")


def _named(compared: Sequence[Comparison]) -> str:
    return ", ".join(f"{c.name.lower()} ({c.after}, {c.after_words.lower()})" for c in compared)


def _tests(found: Sequence[ToldLine]) -> list[Sentence]:
    """Tests in which nothing failed, with what they rule out and what they do not."""
    told = ((t, tries_in(t.line.words.lower())) for t in found)
    return [
        Sentence(
            key=f"test-{t.id}",
            section="result",
            text=f"{sentence_case(t.line.words)} {sentence_case(what_it_rules_out(tries))}",
        )
        for t, tries in told
        if tries is not None
    ]


def _locked(locks: Sequence[str]) -> list[Sentence]:
    return [
        Sentence(key=f"locked-{n}", section="advice", text=f"Not safe to power: {words}. Do not switch it on.")
        for n, words in enumerate(locks)
    ]
