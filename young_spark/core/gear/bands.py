"""The bands that a unit is said to be for, by their wavelengths, and where in each a bench measures."""

import re

BANDS_M = {
    160: 1.85e6, 80: 3.65e6, 60: 5.36e6, 40: 7.1e6, 30: 10.12e6, 20: 14.2e6, 17: 18.1e6, 15: 21.2e6, 12: 24.93e6,
    10: 28.5e6, 6: 50.1e6, 4: 70.2e6, 2: 145e6,
}  # fmt: skip
OF_THE_CITIZENS = {11: 27.205e6}  # the name of a band, which no figure of a row is taken for
BANDS_CM = {70: 433.5e6, 23: 1296.2e6, 13: 2320.2e6}
_SAID = re.compile(  # '25m coax' is a length
    r"(?<![\w.])(\d{1,3}) ?(m|met(?:er|re)s?|cm)\b(?! (?:of |long )?(?:coax|cable|feeder|feedline|line|mast|lead|rg)\b)"
    r"(?! long\b)",
    re.IGNORECASE,
)
_FIGURES = {"two": 2, "four": 4, "six": 6, "ten": 10, "twenty": 20, "forty": 40, "eighty": 80}
_IN_WORDS = re.compile(rf"\b({'|'.join(_FIGURES)})[ -]?met(?:er|re)s?\b", re.IGNORECASE)
_IN_HERTZ = re.compile(r"(?<![\w./-])(\d{1,5}(?:\.\d+)?) ?([km])hz\b", re.IGNORECASE)
SPACING_HZ = 1e5  # what is less is the spacing of its channels: 'vhf fm mobile 12.5 kHz'
NAME_ENDS = re.compile(r"[,:;]")  # behind it come owner and complaint


def band_said(words: str) -> float | None:
    """Where in Hz the one band is that the name in a check-in line says, or None: '23cm linear 60W, no idle'."""
    named = _IN_WORDS.sub(lambda found: f"{_FIGURES[found[1].lower()]} m", NAME_ENDS.split(words)[0])
    said = {_hz(int(number), unit.lower()) for number, unit in _SAID.findall(named)}
    return said.pop() if len(said) == 1 else None


def frequency_said(words: str) -> float | None:
    """The one frequency in Hz that the name in a check-in line says, or that of its one band, or None: '156 MHz whip,
    green plug', 'AM transmitter 1386 kHz'."""
    found = _IN_HERTZ.findall(NAME_ENDS.split(words)[0])
    said = {hz for number, unit in found if (hz := float(number) * (1e6 if unit.lower() == "m" else 1e3)) > SPACING_HZ}
    return said.pop() if len(said) == 1 else band_said(words)


def _hz(number: int, unit: str) -> float | None:
    return (BANDS_CM if unit == "cm" else BANDS_M | OF_THE_CITIZENS).get(number)
