"""Shorthand of a bench: letters of formulas, one result for several parts, rows between strokes, bands in words."""

import re

from young_spark.core.entry.wording.sayings import without_shorthand

_PART = r"(?:q|d|r|c|l|v|f|k|ic|tr|zd)\d{1,3}"
_BANDS = {
    "ten": 10, "twelve": 12, "fifteen": 15, "seventeen": 17, "twenty": 20, "thirty": 30, "forty": 40, "sixty": 60,
    "eighty": 80, "one sixty": 160, "top band": 160,
}  # fmt: skip
_BAND = "|".join(_BANDS)
_METRES = r"(?: ?met(?:er|re)s?)?"
BAND_IN_WORDS = re.compile(
    rf"(?P<on>\bon )(?P<band>{_BAND}){_METRES}(?= [\d.]|$|,| (?:now|gives|was|only|and|with)\b)"
    rf"|^(?P<first>{_BAND}){_METRES}(?::|,)(?= )"
)


def in_words(plain: str) -> str:
    """A folded text without bullets, its symbols in words, its bands and shares as they are usually typed."""
    plain = PARTS_OF_ONE_RESULT.sub(_each_with_its_result, plain)
    plain = without_shorthand(plain)
    if ROW_BETWEEN_STROKES.fullmatch(plain):
        plain = plain.replace(" / ", ", ")
    if FIGURES_BEFORE_BANDS.fullmatch(plain):
        plain = BARE_BAND.sub(r"\1m", plain)
    return BAND_IN_WORDS.sub(_band_in_figures, plain)


ROW_BETWEEN_STROKES = re.compile(r"(?:[a-z]+ )?\d+ [\d.]+ ?w?(?: / \d+ [\d.]+ ?w?){2,}")  # '80 104 / 40 103 / 20 101'
_METRE = r"(?:160|80|60|40|30|20|17|15|12|10|6)"
# 'input swr 1.3 80, 1.4 40, 2.1 10m': the metres are said once, behind the last
FIGURES_BEFORE_BANDS = re.compile(rf"[a-z][a-z ]* (?:\d+\.\d+ {_METRE}m?,? ){{1,10}}\d+\.\d+ {_METRE}m")
BARE_BAND = re.compile(rf"(?<=\d )({_METRE})(?=,|$| )")


PARTS_OF_ONE_RESULT = re.compile(
    rf"(?<![-\w])(?P<parts>{_PART}(?:(?:,? and |,? & | \+ |, | ){_PART}){{1,7}})(?P<pins> [bcegds]-?[bcegds])?"
    r"(?: (?:are|were|both|all|is))? (?P<result>open|short|shorted|dead|leaky|burnt|ok|bad|good|weak|low)\b"
)


def _each_with_its_result(found: re.Match[str]) -> str:
    """'d3 and d5 short', 'q1, d1 c-e short': each of them is."""
    parts = re.findall(_PART, found["parts"])
    return ", ".join(f"{part}{found['pins'] or ''} {found['result']}" for part in parts)


def _band_in_figures(found: re.Match[str]) -> str:
    return f"{found['on'] or ''}{_BANDS[found['band'] or found['first']]}m"
