"""Where a control stood: 'pwr knob at 5', 'mic gain max', 'tune 38 load 62', 'vr2 fully up'."""

import re

_CONTROL = (
    r"(?:rf |mic |af |alc )?(?:pwr|power|gain|vol|volume|drive|mic gain|tune|load|sql|squelch|tone|clarifier|carrier)"
)
_END = r"(?:fully up|fully down|full up|flat out|half ?way|max|min|full)"
PATTERNS = (
    re.compile(
        r"(?P<whole>(?:tune \d+(?:\.\d+)?,? (?:and )?load|load \d+(?:\.\d+)?,? (?:and )?tune) \d+(?:\.\d+)?)"
        r"(?![\w.%])"
    ),
    re.compile(
        rf"(?P<control>{_CONTROL}) (?:knob|pot|control|slider) (?:at |on |to )?(?P<at>\d+(?:\.\d+)?|{_END})(?![\w.])"
    ),
    re.compile(r"(?P<whole>ch(?:annel)? [a-d])(?![\w])"),  # a set of two crystals
    re.compile(r"(?P<whole>(?:rf|mic|af) gain \d+ ?%?)(?![\w.])"),
    re.compile(rf"(?P<whole>(?!sql|squelch){_CONTROL} {_END})(?![\w])"),
    re.compile(rf"(?P<control>(?:vr|rv)\d+) (?P<at>{_END})(?![\w])"),
)


def setting_at(rest: str) -> tuple[str, str] | None:
    """The setting of a control that begins a folded text: as typed, and its name with where it stood."""
    for pattern in PATTERNS:
        if (found := pattern.match(rest)) is None:
            continue
        told = found.groupdict()
        if told.get("whole"):
            return found[0], str(told["whole"])
        control = found["control"]
        name = control.upper() if control[-1].isdigit() else f"{control} knob"
        return found[0], f"{name} {found['at']}"
    return None
