"""Texts that say in the trade's words what the grammar of one figure writes with signs: a pad, a share of a scale,
heights on a screen, a discriminator, a dial with its tone."""

import re
from collections.abc import Callable

from young_spark.core.entry.bands_in_megahertz import bands_named
from young_spark.core.entry.labels_and_figures import each_by_its_turn
from young_spark.core.entry.shorthand import in_words
from young_spark.core.entry.spoken_numbers import in_figures

_NUMBER = r"(\d*\.?\d+)"
_TOLD_FROM = "|".join((
    "dist(?:ortion)?", "mod", "modulation", "depth", "power", "pwr", "hum", "swr", "dev", "deviation", "pep", "ripple",
    "drift", "sens", "current", "draws", "idle", "ip", "ig",
))  # fmt: skip
_LASTING = r"((?:a |about )?[\d.]* ?(?:s|secs?|seconds?|mins?|minutes?))"
_TONE, _COUNT = r"(?<![\d.])[\d.]{1,5} ?k(?:hz)?|\d{3,4} ?hz", r"\d{1,3}\.\d{4,6}"
ABOUT_DUE = re.compile(
    r"\b(should be|should read|expect(?:ed)?|due|spec|normal(?:ly)?) "
    r"(?:about|around|approx|roughly|nearer|under|below|less than|over|above|at least|at most) (?=[\d.+-])"
)
FROM_START_TO_END = re.compile(
    r"(?<![\d.])([\d.]{1,12} ?(?:m?w)?) (?:at )?(?:the )?start(?:ing)?,? (?:and )?([\d.]+ ?(?:m?w)?) "
    r"(?:at )?(?:the )?(?:end|finish)(?:ing)?\b"
)
OUT_FOR_SO_MUCH = re.compile(r"\b([\d.]+ ?k?w?) out (?:for|with|from) ([\d.]+(?: ?w(?: drive| in)?| drive| in))(?=$|,)")
DIAL = re.compile(r"(?<![\d.])(\d{1,3})\.(\d{3})\.(\d\d)(?![\d.])")  # that ends on tens of hertz


def _matched(found: re.Match[str]) -> str:
    """'tunes 25 ohm to 1.2, 100 ohm to 1.1': the SWR that a tuner makes of each load."""
    return "swr " + re.sub(r"(\d+) ?ohms? to ([\d.]+)", r"\2 into \1 ohm", found[1])


def _without_stops(found: re.Match[str]) -> str:
    return found[0].replace(".", "")


def _in_or_out(found: re.Match[str]) -> str:
    return {"i": "input", "o": "output"}[found[1]]


def _signed(found: re.Match[str]) -> str:
    return {"plus": "+", "minus": "-"}[found[1]]


def _all_of_the_range(found: re.Match[str]) -> str:
    """'x1-x4 ok': each of them; as it was typed where they are many."""
    first, last = int(found[2]), int(found[3])
    if not 0 < last - first < MOST_IN_A_RANGE:
        return found[0]
    return " ".join(f"{found[1]}{n}" for n in range(first, last + 1)) + " "


MOST_IN_A_RANGE = 8  # parts


def _each_after_its_time(found: re.Match[str]) -> str:
    """'38w 37 36.5 at 0 5 15 min': each figure with its time; as it was typed where there are not as many."""
    watts, minutes = re.findall(r"[\d.]+", found[1]), found[2].split()
    if len(watts) != len(minutes):
        return found[0]
    return ", ".join(f"{w}w after {m} min" for w, m in zip(watts, minutes, strict=True))


REWRITTEN: tuple[tuple[re.Pattern[str], str | Callable[[re.Match[str]], str]], ...] = (
    (
        re.compile(r"(?<![\w.])(?:s\.w\.r|p\.e\.p|i\.m\.d|a\.l\.c|a\.g\.c|r\.f|p\.a|d\.c|a\.c)\.?(?![\w.])"),
        _without_stops,
    ),
    (re.compile(r"^(?:c|ca|approx)\. ?(?=\d)"), "about "),
    (re.compile(rf"(?<![+\w.-]){_NUMBER} ?db pad\b(?! in)"), r"+\1db"),
    (re.compile(rf"\+{_NUMBER} ?db pad\b"), r"+\1db"),
    (re.compile(rf"\bof the {_NUMBER} ?w scale\b"), r"of \1w"),
    (re.compile(rf"\bcrest {_NUMBER} trough {_NUMBER} carrier {_NUMBER}(?: div)?"), r"mod \1/\2/\3"),
    (re.compile(rf"\bdisc {_NUMBER} ?v(?: x)? {_NUMBER} ?k/v"), r"dev \1v x \2k/v"),
    (re.compile(rf"\bdial {_NUMBER} (usb|lsb) tone {_NUMBER} ?(?:hz)?"), r"dial \1/\3hz \2"),
    (re.compile(r"\b(?:own|its|set'?s?) swr meter\b"), "swr own meter"),
    (re.compile(r"\b([bceg]) to ([bceg]) (short|open) on (q\d+) and (q\d+)\b"), r"\4 \1-\2 \3 \5 \1-\2 \3"),
    (re.compile(r"\b([bceg]) to ([bceg]) (short|open) on (q\d+)\b"), r"\4 \1-\2 \3"),
    (re.compile(r"(?<!\d)\+/?-(?=\.?\d)"), "±"),
    (
        re.compile(r"\b((?:fin|heat ?sink|sink|case|trafo|transformer|device|transistor|finals?|pa)s? )(\d{2,3}) ?c\b"),
        r"\1\2c",
    ),
    (
        re.compile(
            rf"\b((?:batt?|battery|batts|supply) ){_NUMBER}(v?) ?/ ?{_NUMBER}(?= ?v? (?:tx|keyed|on tx|key|load))"
        ),
        r"\1\2\3, \4",
    ),
    (re.compile(r"\b(hv|ht|b\+|plate volts) (\d{3,4})(v?) ?/ ?(\d{3,4})(?=v?$)"), r"\1 \2\3 no load \4\3 loaded"),
    (re.compile(r"(\d) div$"), r"\1"),
    (re.compile(r"(\d ?[mkuµ]?v)(ac|dc)\b"), r"\1 \2"),
    (re.compile(r"\b(?:holds|holding)(?: steady)?(?: at)? (?=[\d.]+ ?m?w\b)"), "steady "),
    (re.compile(r"\bcarrier (?:is |only |now |just )*(\d{2}) ?(?:db )?down\b"), r"carrier down \1"),
    (re.compile(r"\bair inlet ([\d.]+ ?c),? (?:air )?outlet (?=\d)"), r"air in \1 out "),
    (re.compile(r"\b(batt?(?:ery)?|pack) [\d.]+ ?v? nominal,? ([\d.]+ ?v?)(?: now)?"), r"\1 \2"),
    (re.compile(r"^imd (\d+m|usb|lsb) (\d+) ?w? ?pep (-\d+) (-\d+)$"), r"\1 pep \2w imd3 \3 imd5 \4"),
    (re.compile(r"\bsens(?:itivity)?:? (?=.*\d ?(?:uv|dbm)? for (?:10|12|20) ?db)"), ""),
    (re.compile(r"\badj (?=\d)"), "adjacent channel "),
    (re.compile(r"^(?:all )?bands:? (?=(?:160|80|60|40|30|20|17|15|12|10|6|4|2) ?m?,? \d)"), ""),
    (re.compile(r"^(?:all )?channels:? (?=(?:ch ?)?\d{1,2} \d)"), "ch"),
    (re.compile(r"\bs[- ]?meter:? ([\d.]+ ?(?:uv|dbm)) (?:gives |reads |shows |= ?|is )?s ?([1-9])\b"), r"s\2 at \1"),
    (
        re.compile(r"\b((?:tuned|peaked|dipped|trimmed|adjusted)\b[^,;:\d]{0,24}) for (?:a )?(max|min)(?:imum)?\b"),
        r"\1 for-\2",
    ),
    (re.compile(r"(?<=\dw) on (?=[\d.]+ ?v\b)"), " at "),
    (re.compile(rf"\b({_TONE}) (?:audio )?tone,? (?:reads |counts |= ?)?({_COUNT})"), r"\2 with \1 tone"),
    (re.compile(rf"({_COUNT}),? (?:audio )?tone ({_TONE})\b"), r"\1 with \2 tone"),
    (re.compile(rf"({_COUNT}),? (?:audio )?tone (\d{{3,4}})(?![\d.])"), r"\1 with \2hz tone"),
    (re.compile(rf"\bfreq(?:uency)?:? (?=(?:ch ?\d+ )?{_COUNT} with [\d.]+ ?k?(?:hz)? tone)"), ""),
    (re.compile(r"\blo (?=(?:trimmer|osc|level|inj|injection|drive|leak|coil|tank|buffer)\b)"), "local oscillator "),
    (re.compile(r"\blo (?=[+-]\d[\d.]* ?dbm\b)"), "local oscillator "),
    (
        re.compile(
            rf"(?<![\d.])([\d.]{{1,12}} ?w)((?: on)? (?:\d{{1,3}}m|ch ?\d+|am|fm|usb|lsb|cw))? for {_LASTING},? "
            r"(?:and )?then (?:it )?(?:falls |drops |goes |sags |only |just |down )*(?:to )?([\d.]+)(?: ?w)?(?=$|,)"
        ),
        r"\2 \1 falls to \4w in \3",
    ),
    (
        re.compile(
            r"^((?:chirp|hum|splatter|whistle|buzz|hiss|spur|spurious|drift)s?) (?:is |has |all )*gone(?: now)?$"
        ),
        r"\1 none",
    ),
    (re.compile(r"\bswr in:? (?=\d)"), "input swr "),
    (re.compile(r"\b1st\b"), "first"),
    (re.compile(r"^(\d{1,2}) ?min(?:s|utes)? (?:hot|warm|later|on)[:,]? "), r"after \1 min "),
    (
        re.compile(
            rf"\b(?:key(?:ed)?[- ]?down|keyed|soak(?:ed)?|ran|run)(?: for)?((?: [a-z]{{2,3}})?) {_LASTING}[:,]? "
            r"([\d.]+(?: ?w)?) ?(?:->|to|falls to|drops to) ?([\d.]+ ?w)(?=$|,)"
        ),
        r"\1 \3 falls to \4 in \2",
    ),
    (
        re.compile(
            r"\b(hv|ht|b\+) (\d{3,4})(?: ?v)? ?/ ?(\d{3,4})(?: ?v)? (?:key(?:ed)?(?: down)?|on tx|tx|load(?:ed)?)$"
        ),
        r"\1 \2 no load \3 loaded",
    ),
    (re.compile(r"\b(v\d) (weak|low|poor|tired) (\d{1,3}) ?%"), r"\1 emission \3% \2"),
    (re.compile(r"^[2-9] ?x ?(?:aa|aaa|c|d|18650)(?: cells?)? (?=[\d.]+ ?v)"), "battery "),
    (re.compile(r"\b(?:rel|ref|relative|referred)(?: to)? [\d.]+ ?k(?:hz)?(?: dev(?:iation)?)?\b"), "below reference"),
    (re.compile(r"\bhum (?:on )?mod(?:ulation)? (?=-\d)"), "hum "),
    (
        re.compile(rf"^was ([+-]?[\d.]+ ?[a-z%]*) ({_TOLD_FROM}),? (?:but |and )?now (?=[+-]?[\d.]+ ?[a-z%]*$)"),
        r"\2 was \1 now ",
    ),
    (re.compile(r"(?<![\w/])([io])/p(?![\w/])"), _in_or_out),
    (
        re.compile(rf"\b({_TOLD_FROM}) (?:holds|holding|held)(?: at)? (?=[\d.]+ ?(?:%|m?a|v|k|khz)?$)"),
        r"\1 settled at ",
    ),
    (re.compile(rf"\b({_TOLD_FROM}) (?:went )?from ([\d.]+ ?[a-z%]*) to (?=[\d.]+ ?[a-z%]*$)"), r"\1 was \2 now "),
    (re.compile(r"\b(?:with|into|on|using) (?:a )?50 ?ohms? (?:dummy )?load\b"), "with dummy load"),
    (re.compile(r"^(.*)\bv (?=[\d.])(.*)\bu (?=[\d.])"), r"\1vhf \2uhf "),
    (re.compile(r"^u (?=(?:harmonics?|sens|dev|pwr|power|freq|hi|mid|low|tx)\b)"), "uhf "),
    (re.compile(r"^v (?=(?:harmonics?|sens|dev|pwr|power|freq|hi|mid|low|tx)\b)"), "vhf "),
    (re.compile(r"(?<![\d.])(\d{1,3}\.\d{1,4}) = (?=\d{1,3}\.\d{4,6})"), r"\1 reads "),
    (
        re.compile(r"\bno rf (?:at|on) (?:its|the) (base|collector|emitter|gate|drain|source|grid|anode)\b"),
        r", \1 no rf",
    ),
    (re.compile(r"(?<![\d.])(\d{4,5}\.\d{1,3}) reads (\d{4,5}\.\d{1,3})$"), r"\1 reads \2 khz"),
    (
        re.compile(
            r"\bbook(?: value)?(?: says| is)? (?=[+-]?[\d.]+(?: ?(?:db\w?|m?w|m?v|m?a|%|k?hz|uv|ohms?|c))?(?=$|,))"
        ),
        "should be ",
    ),
    (re.compile(r"\b(coax|feeder|cable) (\d{1,3}) ?m(?:et(?:er|re)s?)?(?= )"), r"\1 \2metre"),
    (re.compile(r"\b(?:v?swr) at (?:the )?(?:filter|output|lpf|socket) (?=\d)"), "swr "),
    (
        re.compile(r"\b(heaters?|filaments?|fil) ([\d.]+) ?v? (?:reads|measures) ([\d.]+) ?v?(?: ?ac)?\b"),
        r"\1 \3v should be \2v",
    ),
    (FROM_START_TO_END, r"\1 falls to \2"),
    (re.compile(r"(?<=\d)( ?m?w) (?:holds|holding)(?: at)? (?=[\d.]+ ?(?:m?w )?(?:after|for)\b)"), r"\1 falls to "),
    (
        re.compile(
            r"(?<![\d.])([\d.]{1,12} ?m?w?) (?:fwd|forward),? (?:and |with |but )?([\d.]+ ?m?w?) (?:coming )?back\b"
        ),
        r"\1 forward \2 reflected",
    ),
    (re.compile(r"\bfreq(?:uency)?:? (\d{1,4}\.\d{3,6}) (?=[+-]\d+ ?(?:hz)?\b)"), r"\1 "),
    (re.compile(r"(?<=\d) reads (?=[+-]\d+(?![.\d]))"), " "),
    (re.compile(r"\bs[- ]?meter (?:reads |shows |says )?s?([1-9]) (?=at |with |for |on )"), r"s\1 "),
    (re.compile(r"\b(?:squelch|sq) (?:\d+ steps?,? )?opens? at (?=[\d.])"), "squelch opens "),
    (re.compile(r"^lo (?=\d+\.\d{3} at [+-]?\d+ ?dbm)"), "local oscillator "),
    (re.compile(r"\b(?:at )?(?:the )?(?:rx|receiver) input (?=[\d.]+ ?uv)"), ""),
    (re.compile(r"\b(ctcss|subtone|encode) ([\d.]+) (?:is )?off,? reads ([\d.]+)"), r"\1 \2 measured \3"),
    (re.compile(r"\b(ic|tr|q|tp) (\d{1,3}) (?=(?:output|input|out|in|pin|base|collector|gate|drain)\b)"), r"\1\2 "),
    (re.compile(r", was ([\d.]+ ?\w*) (?:spec|when new|new)$"), r", was \1"),
    (re.compile(r"^rx ([\d.]+ ?(?:uv)?) (10|12|20) ?db$"), r"sens \1 for \2db"),
    (re.compile(r"^(?:atu )?(?:tunes|matches) (?=\d+ ?ohms? to [\d.])(.*)$"), _matched),
    (re.compile(r"\bbefore ([\d.]+ ?\w+) pp now "), r"before \1 now "),
    (ABOUT_DUE, r"\1 "),
    (re.compile(r"(?<![\w,.])([+-]?\d{1,4}),(\d{1,2}|\d{4,7})(?![\d,.])"), r"\1.\2"),  # a decimal comma
    (re.compile(r"(?<=\d[unpµ]) has (?=\d)"), " reads "),
    (re.compile(r"\((\d{1,3}m|\d{2}cm|ch ?\d+|am|fm|usb|lsb|cw)\)"), r"\1"),
    (re.compile(r"\b([\d.]+ ?k?w) with ([\d.]+ ?w)(?: (?:drive|in))?(?=$|,)"), r"\2 in \1 out"),
    (OUT_FOR_SO_MUCH, r"\2 in \1 out"),
    (re.compile(r"\b(r|c|l|q|d|v|tr|ic)(\d{1,3}),(\d{1,3})(?![\d.,])"), r"\1\2 \1\3"),
    (re.compile(r"^anode (?:volts |voltage )?(?=\d{4} ?v)"), "ht "),
    (re.compile(r"\bcarrier null (?=(?:usb|lsb|ssb|[\d-]))"), "carrier suppression "),
    (re.compile(rf"(?:(?<=\d )|(?<=to )|(?<=is )|(?<=at )|(?<=by )|^)(plus|minus) (?={_NUMBER}(?!\d))"), _signed),
    (DIAL, r"\1.\2.\g<3>0"),
    (re.compile(r"(\d) ?k ohms?\b"), r"\1kohm"),
    (re.compile(r"(\d) ?m(?:eg)? ohms?\b"), r"\1mohm"),
    (re.compile(r"(\d ?m?v) ?rf\b"), r"\1 rf"),
    (re.compile(rf"\b([2-8]) ?[x×] ?(?={_NUMBER} ?m?[awv]\b)"), r"\1x "),
    (re.compile(r"\b(?:for |at )?(?:s/n|snr|s\+n/n) (?:of )?(10|12|20)(?: ?db)?$"), r"for \1db"),
    (re.compile(r"^i (?=(?:am|fm|ssb|usb|lsb|cw|tx|rx|stby|standby|idle|keyed) \d)"), "current "),
    (
        re.compile(
            r"\bsoak(?:ed)?(?: for)? (\d+ ?(?:s|secs?|mins?|minutes?|m))[:,]? ((?:hi |high |lo |low |mid )?)"
            r"([\d.]+) ?w? to ([\d.]+) ?w?(?=$|,)"
        ),
        r"\2\3w falls to \4w in \1",
    ),
    (re.compile(r"(?<![\d.])(\d{1,3}\.\d{3,6})(?: mhz)?,? dial (\d{1,3}\.\d{2,6})(?![\d.])"), r"\2 reads \1"),
    (re.compile(r"\bbias (-\d[\d.]*(?: ?v)?) (?:at|on) (?:the )?grids?\b"), r"bias \1"),
    (
        re.compile(
            r"\b(lpf|filter|driver|pa|buffer|mixer) in (\d[\d.]*) ?(m?v(?:pp|rms)?),? "
            r"out (\d[\d.]*)(?: ?m?v(?:pp|rms)?)?(?=$|,)"
        ),
        r"\1 input \2\3, \1 output \4\3",
    ),
    (re.compile(r"(?<=\d)( ?m?[wvack]),? (?:for )?(?=\d{1,2} ?min(?:s|utes)?(?:$|,| no | ok))"), r"\1 after "),
    (re.compile(r"^(?:runs?|ran|running|keyed) (\d{1,2} ?min(?:s|utes)?),? ([\d.]+ ?m?w)$"), r"\2 after \1"),
    (
        re.compile(
            r"^variac (?:at |to |up to )?(\d{2,3})(?: ?v)?,? ((?:b\+|(?:ht|hv|heaters?|fil|plate|screen)\b).*)$"
        ),
        r"\2, variac \1v",
    ),
    (re.compile(r"^(?:the )?other(?= \d[\d.]* ?m?w\b)"), "other unit"),
    (re.compile(r"^(\d[\d.]* ?m?w) on (?:the )?other$"), r"other unit \1"),
    (re.compile(r"\b(batt\w*|cells?|pack) ([\d.]+ ?v) ?x ?[2-9]\b"), r"\1 \2"),
    (re.compile(r"\b(ht|hv|b\+|plate supply) off,? (?:and )?(?:bled|discharged|shorted),? (?=\d)"), r"\1 bled "),
    (re.compile(r"^ppm ([+-]?[\d.]+)$"), r"\1ppm"),
    (re.compile(r"\b((?:mod|modulation|depth) [\d.]+ ?%) (?:at )?(\d{3,4}) ?hz$"), r"\1 \2hz tone"),
    (re.compile(r"\b((?:mod|modulation|depth) [\d.]+ ?%) (?:at )?([1-3])k(?:hz)?$"), r"\1 \2khz tone"),
    (
        re.compile(r"\bpri(?:mary)? ([\d.]+)(?: ?(?:ohms?|r))?,? sec(?:ondary)? ([\d.]+)(?: ?(?:ohms?|r))?(?=$|,)"),
        r"primary \1ohm, secondary \2ohm",
    ),
    (
        re.compile(r"^(\d[\d.]* ?m?w(?: \d[\d.]*){1,5}) (?:at|after) (\d+(?: \d+){1,5}) ?min(?:s|utes)?$"),
        _each_after_its_time,
    ),
    (re.compile(r"^v (?=\d*\.?\d+ ?uv\b)"), "vhf "),
    (re.compile(r"^u (?=\d*\.?\d+ ?uv\b)"), "uhf "),
    (re.compile(r"^u rf\b"), "uhf rf"),
    (re.compile(r"^carrier sup "), "carrier suppression "),
    (
        re.compile(r"\b([\d.]+ ?uv)(?: for)? (?:10|12|20) ?db(?: s/n| sinad)?,? preamp on,? ([\d.]+)(?: ?uv)? off\b"),
        r"preamp on \1, off \2uv",
    ),
    (re.compile(r"\b(?:trimmed|netted) (?=\d{1,3}\.\d{4,6}$)"), "trimmed to "),
    (
        re.compile(
            r"\b([\d.]+ ?w)((?: on)? (?:\d{1,3}m|ch ?\d+))? holds (\d+ ?(?:s|secs?|mins?|minutes?|m)) ([\d.]+)(?= ?w?$)"
        ),
        r"\1\2 falls to \4w in \3",
    ),
    (
        re.compile(r"\b((?:10|12|20) ?db(?: sinad)?|sinad|sens\w*) ([\d.]+)(?: ?uv)?,? v,? ([\d.]+)(?: ?uv)?,? u\b"),
        r"\1 vhf \2uv uhf \3uv",
    ),
    (
        re.compile(r"\b([a-z]{1,2})(\d{1,2}) ?- ?\1(\d{1,2}) (?=(?:all )?(?:ok|good|open|short|shorted|fine)\b)"),
        _all_of_the_range,
    ),
    (
        re.compile(r"\b(v\d),? (?:and |& )?(v\d) emissions?(?: at)? (\d{1,3}) ?%?,? (?:and )?(\d{1,3}) ?%"),
        r"\1 emission \3% \2 emission \4%",
    ),
    (re.compile(r"\b(v\d) weak, (v\d) weak (\d{1,3}) ?%?,? (?:and )?(\d{1,3}) ?%"), r"\1 weak \3% \2 weak \4%"),
    (re.compile(r"\bat (?=pin \d+$)"), ""),
    (re.compile(r"^([+-]?[\d.]+ ?m?v) (pin \d+)$"), r"\2 \1"),
    (
        re.compile(r"\b([\d.]+ ?w) drive,? (?:pa |final |amp )?(?:out|output|gives) (?=[\d.]+ ?w\b)([\d.]+ ?w)"),
        r"\1 in \2 out",
    ),
    (
        re.compile(r"\b(c\d+) (\d[\d.]*[unp])f? \d+ ?v,? (?:reads|measures|now|is|gone|gives) (\d[\d.]*[unp])f?\b"),
        r"\1 \3 of \2",
    ),
    (re.compile(r"(?<![\w.])([\d.]+) ?uv,? (?:and )?now ([\d.]+)(?: ?uv)?$"), r"was \1uv now \2uv"),
    (re.compile(r"\b(?:first|1st) key(?:ing|ed|-down| down)?:? (?=[\d.])"), "keyed "),
    (re.compile(r"\b(hv|ht|b\+) (\d[\d.]*) ?v?,? key(?:ed)? (\d[\d.]*)(?: ?v)?$"), r"\1 \2 key up, \3 key down"),
    (re.compile(r"(?<=\d) at (?=[\d.]+ ?a$)"), ", "),
    (re.compile(r"^(dev|deviation|sens|power|pwr|swr|rx) ([\d.]+ ?k?w?) v,? ([\d.]+ ?k?w?) u$"), r"\1 vhf \2 uhf \3"),
    (re.compile(r"^([+-]\d+)(?: ?hz)? v,? ([+-]\d+)(?: ?hz)? u$"), r"freq err vhf \1 uhf \2"),
    (
        re.compile(r"^((?:q|x|tr|d|ic|l|c)\d{1,3}(?: [bceg])?) ([\d.]+ ?m?v)(?: dc)?,? (?:but |and )?no rf$"),
        r"\1 \2 dc, \1 no rf",
    ),
    (
        re.compile(r"\bcarrier (?:usb |u ?)?([2-9]\d) ?u?,? (?:lsb |l ?)?([2-9]\d) ?l$"),
        r"carrier suppression usb \1 lsb \2",
    ),
    (re.compile(r"\b(supp\w*|opp\w*) ([\d.]+) ?u,? ([\d.]+) ?l$"), r"\1 usb \2 lsb \3"),
    (re.compile(r"\b(supp\w*|opp\w*) ([\d.]+)/([\d.]+) (usb|lsb)/(usb|lsb)$"), r"\1 \4 \2 \5 \3"),
    (re.compile(r"\bimd (-?\d{2})/(-?\d{2})(?= |$)"), r"imd3 \1 imd5 \2"),
    (re.compile(r"^rx ([\d.]+) ?uv (10|12|20) ?db,? ([\d.]+) ?mhz$"), r"\3mhz sens \1uv for \2db"),
    (re.compile(r"\bfreq(?:uency)?:? (\d{1,3}\.\d{1,2}) (?=[+-]\d+ ?(?:hz)?$)"), r"\1mhz freq err "),
    (re.compile(r"\bref (?=(?:9\.9|10\.0|12\.[78]|13\.0|19\.2|20\.0|26\.0)\d{3,})"), "ref osc "),
    (re.compile(r"^variac (?:at |to |up to )?(\d{2,3})$"), r"variac \1v"),
    (re.compile(r"\bside ?tone (?=\d)"), "cw pitch "),
    (re.compile(r"\bref(?:erence)? adj(?:usted)?\b"), "reference adjusted"),
    (re.compile(r"^(\d{1,2}) (?=(?:hi|high|lo|low) [\d.]+ ?w?,? (?:hi|high|lo|low) [\d.]+ ?w?$)"), r"ch\1 "),
    (re.compile(r"^(dev|deviation) ([\d.]+ ?(?:k|khz)?) of ([\d.]+ ?(?:k|khz)?)$"), r"\1 \2 should be \3"),
    (re.compile(r"^(?:rx|sens\w*) ([\d.]+)(?: ?uv)? for (10|12|20)(?: ?db)?$"), r"sens \1uv for \2db"),
    (
        re.compile(
            r"^sens\w* ([\d.]+ ?uv),? (?:for )?(10|12|20) ?db(?: s/n)?,? "
            r"(?:at |with )?(?:30|60) ?%,? (?:at )?(?:400|1000|1k)(?: ?hz)?$"
        ),
        r"sens \1 for \2db",  # as the figure is defined
    ),
    (re.compile(r"^net(?:ted)? (?:to )?([+-]?\d{1,4})(?: ?hz)?(?=,? \d)"), r"freq err \1"),
    (
        re.compile(r"\bfreq(?:uency)?:? ([+-]?\d+ ?(?:hz)?),? reference adjusted,? (?:and )?now (?=[+-]?\d)"),
        r"freq err was \1 now ",
    ),
    (re.compile(r"^(r\d+) ((?:[a-z-]+ ){1,2})([\d.]+ ?(?:ohms?|k)) reads ([\d.]+)"), r"\1 \3 reads \4"),
    (re.compile(r"\b(tr|q|d)(\d{1,3})/(\d{1,3})(?= |$)"), r"\1\2/\1\3"),
    (re.compile(r"\b(imd\w*) (-?\d{2}) at ([\d.]+) ?w?, (-?\d{2}) at ([\d.]+) ?w?$"), r"\1 \2 at \3w, \4 at \5w"),
    (re.compile(r"(?<=mm) \d{1,2} ?m\b"), " long"),
    (re.compile(r"\b(?:ctcss|subtone) ([\d.]+)(?: ?hz)?,? dev(?:iation)? (?=[\d.])"), r"subtone \1hz, subtone dev "),
    (re.compile(r"\b(subtone|ctcss) dev(?:iation)? (0?\.\d+)(?= |,|$)"), r"\1 dev \2k"),
    (re.compile(r", none (?=(?:on|with|from) (?:the |a )?(?:batt\w*|psu)\b)"), ", not "),
    (re.compile(r"\bcur (?=(?:rx|tx|stby|standby|receive|transmit) )"), "current "),
    (re.compile(r"^(?:now |is )?(\d{2,3}) ?%? up,? (\d{2,3}) ?%? down$"), r"mod \1 up \2 down"),
    (
        re.compile(r"\b(ht|hv|b\+) (\d{2,4})(?: ?v)? unmod\w*,? (?:and )?(\d{2,4})(?: ?v)? (?:fully )?mod\w*$"),
        r"\1 \2 unmodulated, \1 \3 modulated",
    ),
    (
        re.compile(r"^([\d.]+ ?m?w),? (?:at )?([\d.]+) ?%(?: dist\w*)? into (?:an? )?(\d+)(?: ?(?:ohms?|r))?$"),
        r"audio \1 into \3 ohm, \2% distortion",
    ),
    (re.compile(r"(?<= )sql(?=,|$)"), "squelched"),
    (re.compile(r"^(\d{1,2}\.\d{1,4}) (usb|lsb) ([\d.]+) ?w? ?pep$"), r"\1mhz \2 \3w pep"),
    (re.compile(r"\b([\d.]+ ?w) (?:2|two)[- ]?tones?$"), r"\1 pep two tone"),
    (re.compile(r"\bv(\d) ip ([\d.]+)(?: ?ma)?,? v(\d) ([\d.]+)(?: ?ma)?$"), r"v\1 ip \2ma v\3 ip \4ma"),
    (
        re.compile(r"\bhi(?:gh)?/mid/lo(?:w)? ([\d.]+)(?: ?w)?/([\d.]+)(?: ?w)?/([\d.]+)(?: ?w)?(?=$|,)"),
        r"hi \1w mid \2w lo \3w",
    ),
    (re.compile(r"^tones? (\d{2,3}\.\d)(?: ?hz)?,? ([\d.]+ ?k)(?:hz)?$"), r"subtone \1hz, subtone dev \2"),
    (
        re.compile(
            r"^sens\w* (?:v|vhf) ([\d.]+)(?: ?uv)?,? (?:u|uhf) ([\d.]+)(?: ?uv)?,? (?:for )?(10|12|20) ?db(?: sinad)?$"
        ),
        r"vhf \1uv for \3db, uhf \2uv for \3db",
    ),
    (
        re.compile(r"\b(?:pa )?(?:anode|plate) (\d{3,4})(?: ?v)?,? at ([\d.]+ ?ma)\b"),
        r"plate volts \1v, plate current \2",
    ),
    (re.compile(r"(?<=, )grid (?=[\d.]+ ?ma\b)"), "grid current "),
    (re.compile(r"\bfreq(?:uency)? (?:is )?dead on: ?(?=\d)"), "freq "),
    (re.compile(r"^starts (?:(?:out |off )?at |with )?(?=\d)"), "begins "),
)


_BAND = re.compile(r"\b(160|80|60|40|30|20|17|15|12|10|6) m (?=\d)")
LEAST_BANDS = 2  # so many of them are a row; one may be metres


def as_signs(plain: str) -> str:
    """A folded text with such words written as signs."""
    plain = in_words(each_by_its_turn(plain))
    plain = in_figures(plain)
    if len(_BAND.findall(plain)) >= LEAST_BANDS:  # '40 m 490 20 m 480'
        plain = _BAND.sub(r"\1m ", plain)
    for pattern, written in REWRITTEN:
        plain = pattern.sub(written, plain)
    return bands_named(plain)
