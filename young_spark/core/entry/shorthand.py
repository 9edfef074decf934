"""Shorthand of a bench: bullets, letters of formulas, a load behind its watts, bands in words."""

import re
from collections.abc import Callable

_STAGE = r"(?:driver|final|finals|pa|pre-?driver|buffer|osc(?:illator)?|mixer|q\d+|tr\d+)"
_CHANGED = "up|down|better|worse|improved|rose|fell|dropped|went|came|gone|raised|reduced"
_W = r"([\d.]+ ?w)"
_OF_SIDEBANDS = "supp(?:ression)?|pep|carrier|freq|err|error"
_PART = r"(?:q|d|r|c|l|v|f|k|ic|tr|zd)\d{1,3}"


def _high_and_low(found: re.Match[str]) -> str:
    """'4.1w low 1.2' is of both settings; '1w low .9' what the low one is called by, and what it gives."""
    high, low, unit = float(found[1]), float(found[2]) * (1e-3 if "m" in (found[3] or "") else 1.0), found[3] or ""
    if low > SAME_SETTING * high:
        return f"lo {found[2]}{unit or 'w'} should be {found[1]}w"
    return f"hi {found[1]}w lo {found[2]}{unit}"


SAME_SETTING = 0.7  # times the other: two settings lie further apart
THROUGH_A_CABLE = r"\b(?:coax|feeder|cable|rg-?\d+|patch lead)\b"
_BANDS = {
    "ten": 10, "twelve": 12, "fifteen": 15, "seventeen": 17, "twenty": 20, "thirty": 30, "forty": 40, "sixty": 60,
    "eighty": 80, "one sixty": 160, "top band": 160,
}  # fmt: skip
# letters of formulas, as they lead a figure: 'P=4.7', 'I tx: 0.95', 'Irx=.28', 'Δf=+1.1k', 'Vc driver'
SYMBOLS: tuple[tuple[re.Pattern[str], str | Callable[[re.Match[str]], str]], ...] = (
    (re.compile(r"^[-*•–]\s+(?=[a-z(])"), ""),
    (re.compile(r"(?<![\w.])p(?:_?out)?( (?:lo|hi|low|high|mid))? ?= ?(?=[\d.])"), r"power\1 "),
    (re.compile(r"(?<![\w.])i[ _]?(rx|tx|stby|standby|idle)? ?[=:] ?(?=[\d.])"), r"current \1 "),
    (re.compile(r"(?<![\w.])i[ _]?(rx|tx|stby|standby) (?=[\d.])"), r"current \1 "),
    (re.compile(r"(?:δ|∆|delta ?)f(?= ?[=: +-])"), "freq err"),
    (re.compile(r"(?<![\w.])f ?= ?(?=\d)"), "freq "),
    (re.compile(rf"\bv([bceg]) ({_STAGE})\b"), r"\2 \1"),
    (re.compile(rf"({_STAGE}) c(?= ?[=:]? ?[+-]?[\d.])"), r"\1 collector"),
    (re.compile(rf"({_STAGE}) b(?= ?[=:]? ?[+-]?[\d.])"), r"\1 base"),
    (re.compile(rf"({_STAGE}) e(?= ?[=:]? ?[+-]?[\d.])"), r"\1 emitter"),
    (re.compile(r"^key: (?=\w)"), "keyed: "),
    (
        re.compile(
            r"\bshould (?:be|read) ([+-]?[\d.]+ ?[a-z%]*),? (?:but )?(?:it )?"
            r"(?:reads|is|gives|shows|counts|measures) ([+-]?[\d.]+ ?[a-z%]*)"
        ),
        r"\2 should be \1",
    ),
    (re.compile(r"\bwhere ([\d.]+ ?\w*) (?:is |was )?(?:expected|due|wanted)\b"), r"should be \1"),
    (re.compile(r"(?<!ip )(?<!plate )(?<!current )\bdip (\d+ ?ma)\b"), r"ip dip \1"),
    (re.compile(r"(?<!hi )(?<!high )(?<!mid )\b([\d.]+) ?w,? low ([\d.]+)( ?m?w)?(?=$|,)"), _high_and_low),
    (re.compile(r"\b(dev|deviation) (?:down|up) to (?=[\d.])"), r"\1 "),
    (re.compile(r"(?<=\w )([\d.]+ ?[a-z%]*) left,? ([\d.]+ ?[a-z%]*) right\b"), r"left \1 right \2"),
    (re.compile(r"\b(glitch|bias|balance|bleeder|emitter|base|gate|grid) r(?= \d)"), r"\1 resistor"),
    (re.compile(rf"\b({_OF_SIDEBANDS}) u ?([+-]?[\d.]+),? l ?([+-]?[\d.]+)\b"), r"\1 usb \2 lsb \3"),
    (re.compile(rf"\b({_OF_SIDEBANDS}) ([+-]?[\d.]+) u,? ([+-]?[\d.]+) l\b"), r"\1 usb \2 lsb \3"),
    (re.compile(r"\b(batt?(?:ery)?|pack|cells) ([\d.]+ ?v?) (?:idle|rest|at rest|resting)\b"), r"\1 \2 standby"),
    (re.compile(r"(?<=\d)rf\b"), " rf"),
    (re.compile(r"\b(mod|depth) ([\d.]+) ?%? ?\+,? ([\d.]+) ?%? ?-(?!\d)"), r"\1 +\2 -\3"),
    (re.compile(r"^([\d.]+ ?kv) ?/ ?([\d.]+ ?kv)$"), r"ht \1 no load \2 loaded"),
    (
        re.compile(r"\b(fil\w*|heaters?|supply|b\+|ht|batt?(?:ery)?|pack) ([\d.]+) ?v? of ([\d.]+)(?= ?v?$|,)"),
        r"\1 \2 should be \3",
    ),
    (re.compile(r"\bu ([+-]?[\d.]+),? l ([+-]?[\d.]+)\b"), r"usb \1 lsb \2"),
    (
        re.compile(r"\b(ip|plate)(?: current)? dip (\d+)(?: ?ma)?,? (?:pk|peak) (\d+)(?: ?ma)?\b"),
        r"ip \2 at dip, ip \3 off resonance,",
    ),
    (re.compile(r"^i (?=[\d.]+ ?m?a\b)"), "current "),
    (re.compile(r"(?<=\d) ?(v?) key up,? ([\d.]+ ?v?) (?:key )?down\b"), r"\1 key up, \2 key down"),
    (re.compile(r"\bin (?=1[0-5]\.\d(?: v)? (?:rx|tx|standby)\b)"), "supply "),
    (re.compile(r"\bdev ([\d.]+) ?w(?:ide)? ([\d.]+) ?n(?:arrow)?\b"), r"dev \1 wideband \2 narrowband"),
    (re.compile(r"\bref (?=\d+(?:\.\d+)? ?mhz)"), "ref osc "),
    (re.compile(r"\b(idle|iq|idq) [2-8] ?x ?(\d[\d.]* ?m?a?)\b"), r"\1 \2 each"),
    (re.compile(r"(?<=\d)([a-z%]*) up to (?=[\d.])"), r"\1 -> "),
    (re.compile(r"\breflected ([\d.]+) ?w? of ([\d.]+) ?w?\b"), r"reflected \1w forward \2w"),
    (re.compile(r"\b(?:squelch|sq) ([-\d.]+ ?\w*) open,? ([-\d.]+ ?\w*) close[ds]?\b"), r"squelch opens \1 closes \2"),
    (
        re.compile(r"\b(?:squelch|sq)(?: range)? (\d*\.?\d+) ?(?:uv)? to (\d*\.?\d+) ?(?:uv)?(?=$|,)"),
        r"squelch \1uv, \2uv tight",
    ),
    (re.compile(r"(?<=[\dka-z]) \+ (?=(?:ctcss|tone|subtone)\b)"), ", "),
    (re.compile(r"\b(?:6\.25|12\.5|25) ?k(?:hz)? adj\b"), "adj"),
    (
        re.compile(r"\b(?:mod|modulation|depth|dep) ([5-9]\d|1[0-2]\d) ?/ ?([5-9]\d|1[0-2]\d)(?: ?%)?(?=$| |,)"),
        r"mod +\1 -\2",
    ),
    (re.compile(r"\bch (?=\d{2,3}\.\d)"), ""),
    (re.compile(r"(?:\bat|@) ?(\d+) ?(?:w ?)?pep\b"), r"at \1w"),
    (re.compile(r"\b((?:mod|depth) \d+ ?%) (?:pk|peak)$"), r"\1"),
    (re.compile(r"\bfreq(?:uency)? (\d+\.\d+): (?=\d+\.\d{4,})"), r"\1 reads "),
    (re.compile(r"\b(?:squelch|sq) (\d*\.\d+) ?/ ?(\d*\.\d+)$"), r"squelch opens \1uv closes \2uv"),
    (re.compile(r"\b(spur|spurious) (?:at |on )(\d+(?:\.\d+)?) ?(?:mhz)? (?=-|down|is)"), r"\1 at \2mhz "),
    (re.compile(r"\b(mod|modulation|depth|dist|thd|audio|dev)\b(.*) (?:at|@) 1 ?k$"), r"\1\2 at 1khz"),
    (re.compile(r"\bshould go(?: to)? (?=[+-]?[\d.])"), "should be "),
    (re.compile(r"\b(pin \d+|[a-z]+\d+|rail) goes(?: to)? (?=[+-]?[\d.]+ ?m?v\b)"), r"\1 "),
    (re.compile(r"\bmod(?:ulation)? tr\b"), "mod trafo"),
    (re.compile(r"\bharm(?:onic)?s? ([2-5]) (-\d+),? ([2-5]) (?=-\d)"), r"h\1 \2 h\3 "),
    (
        re.compile(r"\b(tone|ctcss|subtone|pl) (\d{2,3}\.\d)(?: ?hz)?,? dev(?:iation)? (?=\d{3,4}(?:$| ?hz))"),
        r"\1 \2 subtone deviation ",
    ),
    (re.compile(r"\bbelow (?:\d{2,3} ?% |full )?(?:mod(?:ulation)?|depth)\b"), "below reference"),
    (re.compile(r"\b(\d[\d.]* ?(?:w|v|a|ma|c|hz|khz)) at (?=\d+ ?(?:s|secs?|mins?|minutes)\b)"), r"\1 after "),
    (re.compile(r"(?<=\d) ?(k?w) at key(?! ?down)\b"), r"\1 key,"),
    (re.compile(r"\b(\d[\d.]*[unp])f? (?:gone|now|down to|fell to|reads|measures) (\d[\d.]*[unp])f?\b"), r"\2 of \1"),
    (re.compile(r"\b(\d[\d.]* ?v) reads (\d[\d.]* ?v)\b"), r"\2 should be \1"),
    (
        re.compile(r"\b(\d[\d.]* ?v) reads (\d[\d.]*)(?=$|,| (?:loaded|on load|now|only|hot|cold)\b)"),
        r"\2v should be \1",
    ),
    (
        re.compile(rf"({THROUGH_A_CABLE}.*?)\b([\d.]+ ?w) (?:to|down to|becomes) ([\d.]+ ?w)\b"),
        r"\1feeder \2 in \3 out",
    ),
    (re.compile(r"\bdrift(?:s|ed)? (?:up |down )?to (?=[+-][\d.])"), "frequency error "),
    (re.compile(r"\b(\d{1,3}) ?m(?:et(?:er|re)s?)? (?:of )?(?=(?:rg-?\d+|coax|feeder|cable)\b)"), r"\1metre "),
    (
        re.compile(r"\b(sens\w*) (\d{1,2}(?:\.\d+)?) ([\d.]+ ?uv),? (\d{1,2}(?:\.\d+)?) (?=[\d.]+ ?uv)"),
        r"\1 \2mhz \3 \4mhz ",
    ),
    (re.compile(r"\b(sens\w*) (\d{1,2}) (?=\d*\.\d+ ?uv$)"), r"\1 \2mhz "),
    (re.compile(r"(?<=\d) (?:centred|centered|spot on|bang on|dead on)$"), ""),
    (re.compile(r"\bcw offset\b"), "cw pitch"),
    (
        re.compile(r"(?<!resistance )\b((?:earth|ground) (?:bond|bonding|continuity)) (?=[\d.]+ ?m?ohms?\b)"),
        r"resistance \1 ",
    ),
    (re.compile(r"\binsulation (?:over|above|more than) (\d+) ?m(?:eg)?(?:ohms?)?(?=$|,| )"), r"insulation >\1mohm"),
    (re.compile(r"(?<!filter )(?<!if )\bbandwidth ([\d.]+ ?k?(?:hz)?) (?:at|@) -?\d+ ?db\b"), r"filter bandwidth \1"),
    (re.compile(r"\bj3e\b"), "ssb"),
    (re.compile(r"\b(?:a3e|h3e)\b"), "am"),
    (re.compile(r"\b(?:f3e|g3e)\b"), "fm"),
    (re.compile(r"\b(?:spkr|speaker) (\d+) ?(?:ohms?|r) (?=[\d.]+ ?m?w\b)"), r"audio into \1 ohms "),
    (re.compile(r"(?<=\d) ?> ?(?=[\d.]+ ?m?[vaw]?(?: on | when | keyed|$|,))"), " -> "),
    (re.compile(r"(\d ?m?w) ?/ ?(3\.2|4|8|16) ?(?:r|ohms?|ω)(?![\w])"), r"\1 into \2 ohms"),
    (
        re.compile(r"(?<!mod )(?<!depth )(?<![\d.+/-])(\d{1,2}\.\d|\d{1,2}(?= ?w)|[1-9]) ?w? ?/ ?(\d{2,3}) ?%"),
        r"\1w \2%",
    ),
    (re.compile(r"\bu ?/ ?l ([+-]?[\d.]+) ?/ ?([+-]?[\d.]+)"), r"usb \1 lsb \2"),
    (
        re.compile(r"\b(mod|modulation|depth) ([\d.]+) ?% ?(?:up|pos|peak),? ([\d.]+) ?% ?(?:down|neg|trough)\b"),
        r"\1 +\2 -\3",
    ),
    (
        re.compile(
            rf"\b(?:soak|held|keyed|key down|hold) (\d+) ?(?:min\w*|m)[:,]? {_W} (?:at )?start,? {_W} (?:at )?end\b"
        ),
        r"\2 after 0s, \3 after \1 min",
    ),
    (re.compile(r"^(\d[\d.]* ?w) drive:? (\d[\d.]* ?w),? (?=ip|ig|plate|screen|grid)"), r"\1 in, \2 out, "),
    (re.compile(r"\b3rd order (-?\d+) ?(?:dbc?)?,? 5th (?=-?\d)"), r"3rd order \1 5th order "),
    (re.compile(r"\b(r\d+) (\d+[rk]\d+) reads (\d[\d.]*[rkm]?)(?=$|,| )"), r"\1 \3 of \2"),
    (re.compile(r"\b(swr|vswr) (?:below|under) (?=\d)"), r"\1 < "),
    (re.compile(r"\b(imd|im) ?(?:3|3rd) (-?\d+) ?(?:dbc?)?,? (?:and )?(5|5th|7|7th) (?=-?\d)"), r"imd 3rd \2 imd \3 "),
    (
        re.compile(r"\((\d[\d.]*[unp])f? ?(?:/ ?\d+ ?v?)?\) (?:reads |measures |is |was )?(\d[\d.]*[unp])f?\b"),
        r"\2 of \1",
    ),
    (
        re.compile(
            rf"(?<!pot )(?<!trimmer )\b(?:{_CHANGED})(?: up| down)?"
            r" from ([+-]?[\d.]+ ?[a-z%]*) to (?=[+-]?[\d.])"
        ),
        r"\1 -> ",
    ),
    (re.compile(r"(?<=[a-z]) / (?=[+-]?[\d.]+ ?[a-z]* (?:rx|tx|keyed|standby|hot|cold|loaded)\b)"), ", "),
    (
        re.compile(
            r"(?<!\bic)(?<!\bu)(?<!\bic\d)(?<!\bu\d)(\d ?m?[va]?) ?/ ?"
            r"(?=[\d.]+ ?m?[va]? (?:keyed|on tx|tx|loaded|transmit)\b)"
        ),
        r"\1, ",
    ),
)


_BAND = "|".join(_BANDS)
_METRES = r"(?: ?met(?:er|re)s?)?"
BAND_IN_WORDS = re.compile(
    rf"(?P<on>\bon )(?P<band>{_BAND}){_METRES}(?= [\d.]|$|,| (?:now|gives|was|only|and|with)\b)"
    rf"|^(?P<first>{_BAND}){_METRES}(?::|,)(?= )"
)


def in_words(plain: str) -> str:
    """A folded text without bullets, its symbols in words, its bands and shares as they are usually typed."""
    plain = PARTS_OF_ONE_RESULT.sub(_each_with_its_result, plain)
    for pattern, written in SYMBOLS:
        plain = pattern.sub(written, plain)
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
