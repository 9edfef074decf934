"""'ripple 4.2v to 0.9v', 'freq +740 to +15': two figures so far apart are rather what it was and what it is than the
ends of one that bounces. The mean of both would be neither, so it is asked."""

import re
from collections.abc import Callable

from young_spark.core.entry.facts.meaning import Choice, Meaning, Understanding
from young_spark.core.entry.lines.story_guess import note_of
from young_spark.core.entry.understood.answers import label_of
from young_spark.core.entry.wording.tokens import folded

_ONE_TO_OTHER = re.compile(
    r"(?<!from )(?<![\w.+-])(?P<first>[-+]?\d*\.?\d+ ?[a-z%]{0,4}) (?:to|->) (?P<last>[-+]?\.?\d)", re.IGNORECASE
)
_MOVES = re.compile(
    r"\b(?:bounc|var(?:y|ies)|wander|between|range|creep|jump|hunt|swing|across|steps?|when|flicker|drift|knob|lock|"
    r"tun(?:es|ing))|\bch ?\d",
    re.IGNORECASE,
)
FAR = 1.4  # times the other end: nobody would write down a figure that bounces so far as one
FAR_DB = 8.0
_LOGARITHMIC = {"dB", "dBm", "dBc"}


def asked_where_it_changed(
    text: str, meant: Understanding, understood: Callable[[str], Understanding]
) -> Understanding:
    """A text that is one figure between two ends far apart, as a question; any other as it was understood."""
    found = _ONE_TO_OTHER.search(text)
    if found is None or meant.chosen is None or len(_ONE_TO_OTHER.findall(text)) > 1 or _MOVES.search(text):
        return meant
    bounces = meant.meanings[meant.chosen]
    ends = [(r.unit, *r.ends) for r in bounces.readings if r.ends is not None]
    if len(ends) != 1 or not _are_far(*ends[0]) or any(r.quantity == "needle_on_audio" for r in bounces.readings):
        return meant
    ahead, behind = text[: found.start("first")], text[found.start("first") :]
    said = (f"{ahead}from {behind}", f"{ahead}{text[found.start('last') :]}")
    now = next((sure for one in said if (sure := _sure(understood(one))) and sure.readings != bounces.readings), None)
    if now is None:
        return meant
    if found["first"].strip() not in now.remark:
        now = now.model_copy(update={"remark": f"{now.remark} was {found['first'].strip()}".strip()})
    choices = (
        Choice(label=f"{label_of(now)}, {found['first'].strip()} before", sense=0),
        Choice(label=f"it moves between them: {label_of(bounces)} on the mean", sense=1),
    )
    return Understanding(
        text=text, meanings=(now, bounces), choices=choices, as_note=meant.as_note or note_of(text, folded(text)),
        question=f"{text.strip()}: did it change, or does it move between the two?",
    )  # fmt: skip


def _sure(meant: Understanding) -> Meaning | None:
    return None if meant.chosen is None else meant.meanings[meant.chosen]


def _are_far(unit: str, low: float, high: float) -> bool:
    if unit in _LOGARITHMIC:
        return high - low > FAR_DB
    near, far = sorted((abs(low), abs(high)))
    return low * high < 0 or far > FAR * near
