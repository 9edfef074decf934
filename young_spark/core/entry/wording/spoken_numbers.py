"""Numbers in words, as a dictation writes them: 'two hundred and eighty milliamps', 'channel sixteen'.

Only where a unit follows, a channel or a quantity leads or a 'point' stands among them: 'two lamps' stays as it is."""

import re

ONES = (
    "zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve",
    "thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen",
)  # fmt: skip
TENS = ("twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety")
VALUES = {word: n for n, word in enumerate(ONES)} | {word: 10 * (n + 2) for n, word in enumerate(TENS)}
MANY = {"hundred": 100, "thousand": 1000}
_WORD = "|".join(sorted((*VALUES, *MANY, "nought", "oh"), key=len, reverse=True))
_UNITS = (
    r"negative|positive|"
    r"(?:milli|micro|kilo|mega)?(?:watts?|volts?|amps?|hertz|ohms?)|mils|percent|per cent|decibels?|db|dbm|degrees|"
    r"seconds|minutes|hours|megs|meg|k|pf|uf|cycles|kilocycles|puff|hz|khz|mhz|w|v|a|ma|mv|mw"
)
_LEADING = r"(?:channels?|ch|swr|pin|minus|plus|power|depth|deviation|modulation|sinad)"
SPOKEN = re.compile(
    rf"(?P<before>(?<![a-z]){_LEADING} (?:is |of |at |on )?)?"
    rf"(?<![\w-])(?P<whole>(?:{_WORD})(?:[ -](?:and )?(?:{_WORD}))*)?"
    rf"(?P<point> ?point(?: (?:{_WORD}))+)?(?![\w-])(?P<unit>(?= (?:{_UNITS})(?![a-z])))?"
)


PART = re.compile(
    rf"(?<![\w-])(?P<letters>r|c|l|q|d|v|t|tr|ic|vr|rl|tp) (?P<number>(?:{_WORD})(?:[ -](?:{_WORD}))?)(?![\w-])"
)


def in_figures(plain: str) -> str:
    """A folded text with such numbers in figures, a part's own among them."""
    if any(word in plain for word in (*ONES, *TENS)):
        plain = PART.sub(lambda f: f"{f['letters']}{_value(re.findall(_WORD, f['number']))}", plain)
    return SPOKEN.sub(_written, plain) if any(word in plain for word in (*ONES, *TENS, "point")) else plain


def _written(found: re.Match[str]) -> str:
    whole, point, lead = found["whole"], found["point"], found["before"] or ""
    if not (whole or point) or not (lead or found["unit"] is not None or (whole and point)):
        return found[0]
    behind = _behind_the_point(point) if point else ""
    before = str(_value(re.findall(_WORD, whole))) if whole else "0"
    if lead.startswith("ch") and whole and point:
        before += " 0"  # 'channel sixteen point two watts'
    gap = " " if not whole and found[0].startswith(" ") else ""
    return f"{lead}{gap}{before}{behind}"


def _behind_the_point(point: str) -> str:
    return "." + "".join(str(_value([word])) for word in re.findall(_WORD, point))


def _value(words: list[str]) -> int:
    """The number that words make: 'two hundred eighty' is 280, 'twenty five' 25."""
    total = current = 0
    for word in words:
        if word in MANY:
            current = max(current, 1) * MANY[word]
            if word == "thousand":
                total, current = total + current, 0
        else:
            current += VALUES.get(word, 0)
    return total + current
