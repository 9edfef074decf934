"""What a trace goes by: what the slip already answers and what was looked at for it, in order, each with why it
counts no more."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from young_spark.core.gear import PlanRow
from young_spark.core.job import ReadingFact
from young_spark.core.trace.chain import Chain, Probe
from young_spark.core.trace.evidence import answers_of_readings, made_stale
from young_spark.core.trace.findings import SlipAnswer, SlipLine, answers_of_words
from young_spark.core.trace.suspicion import UNKNOWN, Seen


@dataclass(frozen=True)
class Evidence:
    """One look that counts, or does no more: where it came from, why it is stale, and whether somebody doubts it."""

    seen: Seen
    line: str
    words: str
    from_slip: bool
    stale: str = ""
    doubted: bool = False
    told: bool = False  # by the complaint: nobody looked

    @property
    def counts(self) -> bool:
        """Whether it moves the suspicion."""
        return not self.stale and not self.doubted


@dataclass(frozen=True)
class SlipKnows:
    """What a slip holds that a trace may go by: figures with those that are stale and why, the plan's rows, lines of
    words, and what was seen for other symptoms of the same unit."""

    facts: Sequence[ReadingFact]
    stale: Mapping[str, str]
    rows: Sequence[PlanRow]
    lines: Sequence[SlipLine]
    other_looks: Sequence[SlipAnswer]


def of_the_slip(chain: Chain, slip: SlipKnows, *, doubted: Collection[str], asked: Collection[str]) -> list[Evidence]:
    """What the slip answers, but for probes that were `asked` for the trace: its readings, else its words and what
    was seen for other symptoms, the newer of them. Lines of `doubted` ids are there and count for nothing."""
    read = answers_of_readings(chain, [f for f in slip.facts if f.id not in slip.stale], slip.rows)
    before = answers_of_readings(chain, [f for f in slip.facts if f.id in slip.stale], slip.rows)
    why = {f.line: slip.stale[f.id] for f in slip.facts if f.id in slip.stale}
    said = sorted([*answers_of_words(chain, slip.lines), *slip.other_looks], key=lambda a: a.order)
    newest = {a.probe: a for a in said}.values()
    answers = [
        *((a, "") for a in read),
        *((a, why[a.line]) for a in before),
        *((a, made_stale(chain, a, a.order, slip.lines)) for a in newest),
    ]
    figures = {answer.probe for answer in read if answer.line not in doubted}
    return [
        Evidence(
            seen=Seen(probe=a.probe, answer=a.answer, told=a.told),
            line=a.line,
            words=chain.by_probe[a.probe].with_words(a.words),
            from_slip=True,
            stale=stale,
            doubted=a.line in doubted,
            told=a.told,
        )
        for a, stale in sorted(answers, key=lambda pair: pair[0].order)
        if a.probe not in asked and (a in read or a.probe not in figures)
    ]


def looked(chain: Chain, seen: Seen, *, line: str, order: int, text: str, lines: Sequence[SlipLine]) -> Evidence | None:
    """A look that was made for a trace, `order` its line's number and `text` its words; None where the chain was
    corrected since and knows the probe or the answer no more."""
    probe = chain.by_probe.get(seen.probe)
    if probe is None or seen.answer not in (*probe.answers, UNKNOWN):
        return None
    words = text if seen.answer == UNKNOWN else probe.with_words(probe.said(seen.answer))
    return Evidence(seen=seen, line=line, words=words, from_slip=False, stale=made_stale(chain, seen, order, lines))


def words_of_look(probe: Probe, answer: str, *, said: str, remark: str) -> str:
    """A look as a line of the slip: what was looked at and what was seen, a figure as it was `said`, and that its
    hazard was confirmed where it was measured live."""
    words = probe.with_words(remark.strip() or probe.said(answer))
    if said.strip() not in (answer, UNKNOWN):
        words = f"{words}, {said.strip()}"
    if probe.is_live_danger and answer != UNKNOWN:
        words = f"{words} (live, hazard confirmed)"
    return words
