"""'ch 12: crest 2.3 trough .2', '13.6 keyed on ch 12': where the hand stands, said apart from what was read there.
That is read as a line of its own would be with the hand at that place."""

import re
from collections.abc import Callable

from young_spark.core.entry.facts.meaning import EntryContext, Understanding
from young_spark.core.entry.understood.around_the_line import alike, as_it_was_typed, with_how_it_stood
from young_spark.core.entry.wording.idle_words import Spared

_BAND = r"(?:160|80|60|40|30|20|17|15|12|10|6|4|2) ?m|70 ?cm"
_WHERE = rf"(?:ch(?:an|annel)?\.? ?\d{{1,3}}|{_BAND}|\d{{1,3}}\.\d{{1,3}} ?mhz)"
_MODE = r"(?:am|fm|usb|lsb|cw|ssb)"
_HEAT = "(?:when )?(?:hot|cold|warm)"
_FIRST = re.compile(
    rf"(?P<where>{_HEAT}|(?:on )?(?:{_WHERE}(?: {_MODE})?|{_MODE}(?: (?:on )?{_WHERE})?)) ?: ?(?P<read>[^\n]*\d[^\n]*)",
    re.IGNORECASE,
)
_LAST = re.compile(rf"(?P<read>[^,;\n]*\d[^,;\n]*?) on (?P<where>ch(?:an|annel)?\.? ?\d{{1,3}}|{_BAND})", re.IGNORECASE)
_ELSEWHERE = re.compile(
    rf"(?<![\w.]){_WHERE}(?!\w)|(?<![\w.])(?:{_MODE}|hot|cold|warm|both|each|all|same|rest|others?)(?!\w)",
    re.IGNORECASE,
)
_HEAT_TOO = re.compile(r"(?<![\w.])(?:hot|cold|warm)(?!\w)", re.IGNORECASE)
_SET = {"channel", "frequency_hz", "mode", "heat"}

Understood = Callable[[str, EntryContext], Understanding]


def read_where_it_says(
    text: str, context: EntryContext, meant: Understanding, understood: Understood
) -> Understanding | None:
    """What a text means by what was read with the hand where it says; None where it says nowhere, says another place
    too, is not sure then, or was understood so already."""
    found = _where_and_what(text.strip())
    if found is None:
        return None
    sets = understood(found["where"], context).sets
    if not sets or not sets.keys() <= _SET:
        return None
    there = understood(found["read"], _with_the_hand(context, sets))
    if there.chosen is None or there.story is not None or ("heat" not in sets and alike(meant, there)):
        return None
    if found.re is _LAST and meant.chosen is not None and _figures(meant) == _figures(there):
        return None  # a line says already of which of them it is
    sure = there.meanings[there.chosen]
    stood = with_how_it_stood(sure, {"heat": sets["heat"]}) if "heat" in sets else sure
    if stood is None:
        return None
    told = there.model_copy(update={"meanings": (stood,), "chosen": 0})
    return as_it_was_typed(told, text, Spared(found["read"]))


def _where_and_what(text: str) -> re.Match[str] | None:
    """The place and what was read there; None where that says another place too. What was hot was so on any channel."""
    found = _FIRST.fullmatch(text) or _LAST.fullmatch(text)
    if found is None:
        return None
    of_heat = re.fullmatch(_HEAT, found["where"], re.IGNORECASE) is not None
    return None if (_HEAT_TOO if of_heat else _ELSEWHERE).search(found["read"]) else found


def _figures(meant: Understanding) -> list[tuple[str, float | None]]:
    return [(r.quantity, r.value) for r in meant.meanings[meant.chosen or 0].readings]


def _with_the_hand(context: EntryContext, sets: dict[str, object]) -> EntryContext:
    moved = {key: there for key, there in sets.items() if key != "heat"}
    if "channel" in sets:
        moved["frequency_hz"] = None
    elif "frequency_hz" in sets:
        moved["channel"] = None
    lent = tuple(key for key in context.lent if key not in moved)
    return context.model_copy(update={"conditions": context.conditions.model_copy(update=moved), "lent": lent})
