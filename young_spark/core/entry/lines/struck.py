"""A line of the plan that is not fitted, or not asked for: struck off with its reason, as the hand says it."""

import re

from young_spark.core.entry.facts.meaning import EntryContext, StoryLine
from young_spark.core.figure import quantity

REASONS = {
    "not fitted": (
        r"not fitted|isn'?t fitted|n/?a|not applicable|does(?:n'?t| not) apply|no such thing|"
        r"has(?:n'?t| not) got (?:it|one)"
    ),
    "not asked for": (
        r"not asked(?: for)?|not wanted|not needed|not required|"
        r"owner (?:did|does)(?:n'?t| not) (?:want|ask)(?: it| for it)?"
    ),
}
MODES = "am|fm|ssb|usb|lsb|cw"
_OF_A_MODE = re.compile(
    rf"(?:has )?(?:no (?P<no>{MODES})(?: fitted| on (?:it|this one))?|(?P<mode>{MODES}) (?P<why>[a-z/' ]+))"
)


def struck_off(plain: str, context: EntryContext) -> StoryLine | None:
    """What a folded text strikes off the plan: the current line, or every line of a mode; None where it does not."""
    wanted = context.expected
    if (why := _reason(plain)) is not None and wanted is not None and wanted.row is not None:
        return StoryLine(kind="struck", words=f"{quantity(wanted.quantity).name}: {why}", row=wanted.row)
    told = _OF_A_MODE.fullmatch(plain)
    if told is None:
        return None
    mode, why = (told["no"], "not fitted") if told["no"] else (told["mode"], _reason(told["why"].strip()))
    if why is None or not any(point.mode == mode for point in context.points):
        return None
    return StoryLine(kind="struck", words=f"{mode.upper()}: {why}", mode=mode)


def _reason(plain: str) -> str | None:
    return next((why for why, words in REASONS.items() if re.fullmatch(words, plain)), None)
