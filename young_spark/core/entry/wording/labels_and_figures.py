"""Labels in a row and their figures in a row, each by its turn: 'rx/tx 0.31a/1.9a', 'q3 e/b/c 0/0.6/7.9', 'q3 ebc 0 0.6
7.9', 'q3 b=0.6 c=7.9'."""

import re

from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.gear import BANDS_M

_STATES = (
    r"rx|tx|stby|standby|receive|transmit|(?:hi|high|mid|lo|low)(?: power)?|usb|lsb|am|fm|cw|vhf|uhf|cold|hot|narrow|"
    r"wide|nfm|wfm|(?:2nd|3rd|[4-9]th|second|third|fourth|fifth)(?: harm(?:onic)?)?|h[2-9]|[2-9]f|harm(?:onic)? [2-9]"
)
_FIGURE = r"[+-]?\d*\.?\d+ ?(?:m?[wva]|khz|k|hz|%|dbm|dbc|db|uv)?"
LABELLED = re.compile(
    rf"\b(?P<labels>(?:{_STATES})(?:/(?:{_STATES}))+):? (?P<figures>{_FIGURE}(?: ?/ ?{_FIGURE})+)(?=$|,| )"
)
FIGURES_FIRST = re.compile(
    rf"(?<![\w.+-])(?P<figures>{_FIGURE}(?: ?/ ?{_FIGURE})+) (?P<labels>(?:{_STATES})(?:/(?:{_STATES}))+)(?![\w/])"
)
_PART = r"(?:q|tr)\d{1,3}"
ELECTRODES = re.compile(
    rf"\b(?P<part>{_PART}):? (?P<labels>[bcegds](?:/[bcegds]){{1,2}}|[bcegds]{{3}}):? "
    rf"(?P<figures>[+-]?[\d.]+ ?v?(?:(?: ?/ ?|,? )[+-]?[\d.]+ ?v?){{1,2}})$"
)
_AT = r"(?:base|collector|emitter|gate|drain|source|[bcegds])"
TIED = re.compile(rf"(?<![\w.])({_AT}) ?[=:] ?(?=[+-]?\.?\d)")
OF_A_TRANSISTOR = re.compile(rf"^(?P<part>{_PART}):?(?P<rest>(?: {_AT} ?[+-]?\d*\.?\d+ ?v?,?){{2,3}})$")
# 'screen 210 cathode 11.5 of final': volts, since a cathode has no others
_OF_A_VALVE = r"(?:plate|anode|screen|cathode)"
_VOLTS = r"[+-]?\d+(?:\.\d+)? ?v?"
CATHODE_AND_OTHERS = re.compile(
    rf"^(?:(?P<part>v\d{{1,2}}|final|driver|modulator|pa|output) )?(?P<row>(?=.*\bcathode\b)"
    rf"{_OF_A_VALVE} {_VOLTS}(?:,? {_OF_A_VALVE} {_VOLTS})+)(?: (?:of|on|at) (?:the )?(?P<of>v\d{{1,2}}|final|driver"
    r"|modulator|pa|output)(?: valve| tube)?)?$"
)
# '4w 13.8v, 3.1w 12v': what it gives by what feeds it
WATTS_BY_VOLTS = re.compile(r"^\d[\d.]* ?w \d[\d.]* ?v(?:,? \d[\d.]* ?w \d[\d.]* ?v)+$")
MAINS_AT = re.compile(r"^(fan|blower|motor)s? (?:on|gets|sees|has|takes|runs at|runs on) (?=\d+ ?v)")
# 'driver 0.5w into final': what drives it, and no power of the unit
DRIVES = re.compile(
    r"^(?:(?:pre-?)?driver |exciter )?(?:gives )?(\d*\.?\d+ ?m?w)(?: out)? into (?:the )?(?=finals?\b|pa\b"
    r"|power module\b)"
)
LETTERS = {"b": "base", "c": "collector", "e": "emitter", "g": "gate", "d": "drain", "s": "source"}


BANDS = re.compile(
    r"(?P<of>\bch(?:annels?)? ?|\bon |^)(?P<labels>\d{1,3}m?(?:[/,] ?\d{1,3}m?){1,6}):? "
    rf"(?P<figures>{_FIGURE}(?: ?[/,] ?{_FIGURE}){{1,6}})$"
)
DASHED = re.compile(rf"^(?:\d{{1,3}}m?-{_FIGURE},?(?: |$)){{2,}}$")


def each_by_its_turn(plain: str) -> str:
    """A folded text with every label in front of its own figure; as it was typed where there are not as many."""
    plain = BANDS.sub(_at_each_band, plain)
    if DASHED.match(plain):  # '80-98w 40-101w'
        plain = re.sub(r"(?:(?<= )|^)(\d{1,3}m?)-", r"\1 ", plain)
    for pattern in (LABELLED, FIGURES_FIRST):
        plain = pattern.sub(_in_turn, plain)
    plain = ELECTRODES.sub(_at_the_electrodes, plain)
    plain = PARTS_IN_TURN.sub(_at_each_part, plain)
    if WATTS_BY_VOLTS.match(plain):
        plain = re.sub(r"(?<=w) (?=\d[\d.]* ?v)", " at ", plain)
    plain = MAINS_AT.sub(r"\1 ", plain)
    plain = DRIVES.sub(r"\1 drive to ", plain) if re.search(r"\bdrive\b", plain) is None else plain
    plain = CATHODE_AND_OTHERS.sub(_at_the_valve, plain)
    plain = TIED.sub(r"\1 ", plain) if re.match(_PART, plain) else plain
    return OF_A_TRANSISTOR.sub(_apart, plain)


def _in_turn(found: re.Match[str]) -> str:
    labels, figures = found["labels"].split("/"), [f.strip() for f in found["figures"].split("/")]
    if len(labels) != len(figures):
        return found[0]
    whole = in_the_unit_of_the_last(figures)
    return " ".join(f"{label} {figure}" for label, figure in zip(labels, whole, strict=True))


def in_the_unit_of_the_last(figures: list[str]) -> list[str]:
    """Figures with the unit that only the last of them has, '3.4/3.8/3.3w'; as they were where it has none."""
    unit = re.search(r"[a-z%]+$", figures[-1])
    return [f if unit is None or re.search(r"[a-z%]$", f) else f + unit[0] for f in figures]


def _at_each_band(found: re.Match[str]) -> str:
    """'80/40/20 98/101/93w', 'ch1,19,40: 3.4, 3.8, 3.3w': bands, or channels where that is said."""
    labels, figures = re.findall(r"\d+m?", found["labels"]), re.split(r" ?[/,] ?", found["figures"])
    channels = found["of"].startswith("ch")
    bands = all(int(label.rstrip("m")) in BANDS_M for label in labels)
    if len(labels) != len(figures) or not (channels or bands):
        return found[0]
    if re.search(r"[a-z%]$", figures[-1]) is None:
        return found[0]
    where = [f"ch{label}" if channels else f"{label.rstrip('m')}m" for label in labels]
    whole = in_the_unit_of_the_last(figures)
    return ", ".join(f"{at} {figure}" for at, figure in zip(where, whole, strict=True))


def _at_the_electrodes(found: re.Match[str]) -> str:
    labels = found["labels"].replace("/", "")
    figures = re.findall(r"[+-]?\d*\.?\d+", found["figures"])
    if len(labels) != len(figures):
        return found[0]
    return f"{found['part']} " + " ".join(f"{at} {volts}" for at, volts in zip(labels, figures, strict=True))


# 'modulator v5 v6 bias -22 and -31', 'c1 c2 in psu 32u measure 18u and 21u'
_A_PART = r"(?!ch)[a-z]{1,2}\d{1,3}"
_ITS_FIGURE = r"[+-]?\d*\.?\d+ ?(?:m?v|m?a|[unp]f?|k|r|ohms?|%|c|w)?"
PARTS_IN_TURN = re.compile(
    rf"^(?P<of>(?:[a-z]+ ){{0,2}})(?P<parts>{_A_PART}(?:(?:,? and | & |, | |/){_A_PART}){{1,4}})"
    rf"(?P<what>(?: [a-z/]+){{0,3}}?)(?: (?P<printed>\d+[unp]f?))?,?"
    rf"(?: (?:measures?|reads?|tests?(?: at)?|are|were|now|at))?:? "
    rf"(?P<figures>{_ITS_FIGURE}(?:(?:,? and | & |, | ?/ ?){_ITS_FIGURE}){{1,4}})$"
)


def _at_each_part(found: re.Match[str]) -> str:
    """Each part with its own figure, where there are as many, of one letter and in one unit."""
    parts = re.findall(_A_PART, found["parts"])
    figures = in_the_unit_of_the_last([f.strip() for f in re.split(r",? and | & |, | ?/ ?", found["figures"])])
    letters = {part.rstrip("0123456789") for part in parts}
    units = {re.sub(r"[^a-z%]", "", figure) for figure in figures}
    if len(parts) != len(figures) or len(letters) > 1 or len(units) > 1:
        return found[0]
    what, told = found["what"], [found["of"].strip()]
    if what and vocabulary().facts.get(what.strip(), ("word",))[0] != "quantity":
        what, told = "", [*told, what.strip()]
    of = f"⟪{' '.join(filter(None, told))}⟫ " if any(told) else ""
    marked = f" {found['printed']} measures" if found["printed"] else ""
    rows = (f"{part}{what}{marked} {figure}" for part, figure in zip(parts, figures, strict=True))
    return of + ", ".join(rows)


def _at_the_valve(found: re.Match[str]) -> str:
    part = found["part"] or found["of"]
    row = re.findall(rf"({_OF_A_VALVE}) ([+-]?\d+(?:\.\d+)?)", found["row"])
    return ", ".join(f"{part} {at} {volts}v" if part else f"{at} {volts}v" for at, volts in row)


def _apart(found: re.Match[str]) -> str:
    """'q3 b0.6 c7.9 e0', 'q12 d 12.1 g 3.2 s 0': letters of electrodes, and no capacitors, degrees or seconds."""
    spelt = re.sub(rf" ({_AT}) ?(?=[+-]?[\d.])", lambda at: f" {LETTERS.get(at[1], at[1])} ", found["rest"])
    return found["part"] + spelt
