"""Labels in a row and their figures in a row, each by its turn: 'rx/tx 0.31a/1.9a', 'q3 e/b/c 0/0.6/7.9', 'q3 ebc 0 0.6
7.9', 'q3 b=0.6 c=7.9'."""

import re

_STATES = (
    r"rx|tx|stby|standby|receive|transmit|hi|high|mid|lo|low|usb|lsb|am|fm|cw|vhf|uhf|cold|hot|narrow|wide|nfm|wfm"
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
LETTERS = {"b": "base", "c": "collector", "e": "emitter", "g": "gate", "d": "drain", "s": "source"}


def each_by_its_turn(plain: str) -> str:
    """A folded text with every label in front of its own figure; as it was typed where there are not as many."""
    for pattern in (LABELLED, FIGURES_FIRST):
        plain = pattern.sub(_in_turn, plain)
    plain = ELECTRODES.sub(_at_the_electrodes, plain)
    plain = TIED.sub(r"\1 ", plain) if re.match(_PART, plain) else plain
    return OF_A_TRANSISTOR.sub(_apart, plain)


def _in_turn(found: re.Match[str]) -> str:
    labels, figures = found["labels"].split("/"), [f.strip() for f in found["figures"].split("/")]
    if len(labels) != len(figures):
        return found[0]
    unit = re.search(r"[a-z%]+$", figures[-1])
    whole = [f if unit is None or re.search(r"[a-z%]$", f) else f + unit[0] for f in figures]
    return " ".join(f"{label} {figure}" for label, figure in zip(labels, whole, strict=True))


def _at_the_electrodes(found: re.Match[str]) -> str:
    labels = found["labels"].replace("/", "")
    figures = re.findall(r"[+-]?\d*\.?\d+", found["figures"])
    if len(labels) != len(figures):
        return found[0]
    return f"{found['part']} " + " ".join(f"{at} {volts}" for at, volts in zip(labels, figures, strict=True))


def _apart(found: re.Match[str]) -> str:
    """'q3 b0.6 c7.9 e0', 'q12 d 12.1 g 3.2 s 0': letters of electrodes, and no capacitors, degrees or seconds."""
    spelt = re.sub(rf" ({_AT}) ?(?=[+-]?[\d.])", lambda at: f" {LETTERS.get(at[1], at[1])} ", found["rest"])
    return found["part"] + spelt
