"""What was read alike in another mode: 'ch 1 3.7 20 3.9 fm same', 'err +110 both'. It is said once for each mode, so
that neither is left without its figures."""

import re
from collections.abc import Iterator

from young_spark.core.entry.facts.meaning import EntryContext

_MODE = r"(?:am|fm|usb|lsb|cw)"
SAME = re.compile(
    rf"^(?P<what>.*\d.*?),? (?:and )?(?:on |in )?(?P<mode>{_MODE}) (?:is |are |was |all )?(?:the )?"
    r"(?:same|alike|ditto|likewise|as well)$"
)
BOTH = re.compile(r"^(?P<what>.*\d\S*),? (?:on |in )?both(?: modes)?(?:,? (?:ok|fine|good|within(?: limits?)?))?$")
ALIKE = re.compile(
    rf"^(?P<what>.*\d\S*),? (?:on |in )?(?P<one>{_MODE})(?: and | & |/| )(?P<other>{_MODE}) "
    r"(?:both |the )?(?:same|alike)$"
)
MODE = re.compile(rf"\b{_MODE}\b")
PAIRS = {"am": "fm", "fm": "am", "usb": "lsb", "lsb": "usb"}
BY_MODE = (
    "carrier_", "frequency_error", "peak_envelope_power", "supply_current", "sensitivity_", "harmonic_", "opposite_",
    "imd", "audio_", "s_meter_",
)  # fmt: skip
LATELY = 2  # readings, between which the two modes were told apart


def goes_by_mode(quantity: str) -> bool:
    """Whether a quantity is another one in another mode: 'idle 120ma both' is of two valves."""
    return quantity.startswith(BY_MODE)


def in_each_mode(plain: str, context: EntryContext) -> tuple[str, str] | None:
    """A folded text for the mode of the hand and for the other; None where it says no such thing."""
    if (same := SAME.match(plain)) is not None and MODE.search(same["what"]) is None:
        other = {None, same["mode"]}  # where the hand stands on none, or on this one
        here = PAIRS.get(same["mode"]) if context.conditions.mode in other else context.conditions.mode
        return None if here is None else (f"{here} {same['what']}", f"{same['mode']} {same['what']}")
    if (alike := ALIKE.match(plain)) is not None and alike["one"] != alike["other"]:
        return f"{alike['one']} {alike['what']}", f"{alike['other']} {alike['what']}"
    both = BOTH.match(plain)
    modes = tuple(dict.fromkeys(_modes_of_late(context)))
    if both is None or MODE.search(both["what"]) is not None or len(modes) != LATELY:
        return None
    return f"{modes[0]} {both['what']}", f"{modes[1]} {both['what']}"


def _modes_of_late(context: EntryContext) -> Iterator[str]:
    """The modes of the last readings that have one, in their order."""
    modes = [e.conditions.mode for e in context.earlier if e.conditions.mode is not None]
    yield from modes[-2 * LATELY :]
