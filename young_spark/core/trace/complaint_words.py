"""The words of a complaint: one subject a clause, and what each clause says of it."""

import re

_SUBJECT = r"(?:transmit(?:ting|ter|s)?|tx|transmission|receiv(?:e|er|ing|es)|rx|reception)"
_STATE = r"(?:no|dead|weak|nothing|fine|ok|good|works?|low|poor|silent|normal)"
_SAID = r"(?! (?:is |are |works? |was )?(?:ok|okay|fine|good|well|normal|works?|dead|weak|low|poor|perfect)\b)"
BOTH_WAYS = re.compile(r"(?P<state>[a-z][a-z ]{0,30}?) both ways")
LED = re.compile(
    rf"\b(?P<state>{_STATE})(?P<mid>(?: (?!no\b)[a-z]+){{0,3}}?) (?:both )?(?P<a>{_SUBJECT}) (?:and|or|nor|&) (?:no )?"
    rf"(?P<b>{_SUBJECT})\b{_SAID}"
)
TRAILING = re.compile(
    rf"\b(?P<a>{_SUBJECT}) (?:and|&) (?P<b>{_SUBJECT})(?P<mid>(?: [a-z]+){{0,2}}?) (?P<state>{_STATE})\b"
)
ONE = r"(?:\d{1,3} ?m(?:et(?:er|re)s?)?|am|fm|ssb|usb|lsb|cw)"
IN_A_ROW = re.compile(rf"\b{ONE}(?:\s*,\s*{ONE})*\s*,?\s*(?:and|&)\s+{ONE}\b")
_METRES = r"(?:160|80|60|40|30|20|17|15|12|10|6|4|2)"
# 'dead on 40 and 80', '10 and 15m', 'fine on 80', '20 and 10 normal': no watts, no amps, no minutes
BARE_BANDS = re.compile(
    rf"(?:(?<=\bon )|(?<=^)|(?<=, )){_METRES} ?m?(?:, {_METRES} ?m?)*(?:,? (?:and|&) {_METRES} ?m?)?"
    r"(?= (?:is |are )?(?:dead|weak|low|normal|ok|fine|good|down|only|well|works?)\b|$|,| only\b)"
)
CLAUSES = re.compile(
    r"[,;:!]|\.(?!\d)|\b(?:but|and|yet|though|although|while|except|then|however|where(?= the))\b|\s[–-]\s"
    r"|(?<=\b[tr]x (?:weak|dead|deaf|fine|good|poor)) (?=[tr]x\b)|(?<=\b[tr]x ok) (?=[tr]x\b)"
    r"|(?<=\w)\s+(?=no (?:receive|transmit|tx|rx|output|power|audio|modulation|rf|sound|carrier|click)\b)"
)
DEAD = re.compile(
    r"\b(?:no|not any|none|nothing|never|dead|zero|lost|gone|missing|won'?t|wont|will not|does not|doesn'?t|"
    r"doesnt|do not|don'?t|dont|cannot|can'?t|cant|without|fails?|failed|stopped|silent|mute|refuses|nobody|noone|"
    r"not (?:transmit|receiv|work|key|modulat)\w*)\b"
)
WEAK = re.compile(
    r"\b(?:weak|weakly|low|lower|poor|poorly|little|half|halved|down|faint|deaf|reduced|short range|barely|hardly|"
    r"quiet|thin|dropped|drops|fell|fallen|lost (?:half|most|some|a lot)|under ?modulated|"
    r"folds? back|folding back|backs off|cuts back|only \d+(?:\.\d+)? ?m?w(?:atts?)?)\b"
)
WELL = re.compile(
    r"\b(?:fine|ok|okay|good|well|works?|working|normal|normally|perfect|perfectly|right|great|"
    r"strong|(?<!at )full|clear|can hear|loud|as (?:always|ever|before|usual|it should))\b"
)
LOST_A_PART = re.compile(r"\blost (?:about )?(?:half|most|some|a lot|a third)\b")
STATES = (("weak", LOST_A_PART), ("dead", DEAD), ("weak", WEAK), ("good", WELL))
OUTPUT = re.compile(
    r"\b(?:output|power|rf|carrier|watts?|transmits?|transmitting|transmitters?|tx|gets? out|puts? out|talks?|"
    r"signal out|transmission)\b"
)
SWITCHES = re.compile(r"\b(?:switch(?:es)?|go(?:es)?|change(?:s)?) (?:over )?(?:to|into) (?:transmit|tx)\b")
RECEIVE = re.compile(r"\b(?:receiv\w*|reception|rx|deaf|hears?(?! me\b| my\b| him\b| her\b| us\b)|hearing)\b")
MODULATION = re.compile(
    r"\b(?:modulat\w*|(?:tx|transmit) audio|audio (?:is )?(?:\w+ )?on (?:tx|transmit\w*|air)|voice|speech|talk audio|"
    r"mod|under ?modulated|mic(?:rophone)? audio|mic(?:rophone)? (?=dead|weak|is dead|low)|"
    r"can'?t hear (?:my|his|her) (?:voice|talk))\b"
)
UNMODULATED = re.compile(r"\b(?:dead|plain|blank|silent|empty) carrier\b|\bcarrier only\b|\bonly (?:a )?carrier\b")
OF_ANOTHER = re.compile(r"\b(?:exciter|driving (?:rig|radio|set)|other (?:rig|radio|set))\b")
AUDIO = re.compile(r"\b(?:audio|sound)\b")
MUFFLED = re.compile(
    r"\b(?:muffled|distort\w*|garbled|rough|crackl\w+|scratchy|raspy|wooll?y|unclear|unreadable|quiet|"
    r"under ?modulated)\b"
)
TOLD_OF = re.compile(
    r"\b(?:people|others|they|everyone|customers?|stations) (?:say|says|tell|report|complain|hear)\b|\breports? of\b|"
    r"\b(?:i am|i'm|he is|she is|sounds?|audio|voice|modulation)\b"
)
KEYING = re.compile(r"\b(?:keys?|keying|ptt|relay clicks?|clicks?|switch(?:es)? to transmit)\b")
CURRENT = re.compile(r"\b(?:current|draws?|amps|\d ?amp|meter of the supply)\b")
_SUPPLY = r"(?:the |its |my )?(?:bench |power )?(?:supply|psu|breaker)"
OVERLOADS = re.compile(
    rf"\bpulls {_SUPPLY} down\b"
    rf"|{_SUPPLY} (?:cuts|goes|shuts|folds|trips)(?: out| off| down| back)?\b.{{0,12}}\b(?:when|on|as)\b"
    rf"|\b(?:trips?|tripping|pulls down|overloads?|shuts down) {_SUPPLY}\b"
    r"|\b(?:blows?|blew|pops?|popped)\b.{0,24}\b(?:when|on|as soon as|once|every time|if)\b"
    r".{0,16}\b(?:key\w*|tx|transmit\w*|ptt)\b"
)
LONE_SUBJECT = re.compile(
    r"\s*(?:it )?(?:there is |it has |has |gives )?(?:a )?"
    r"(?:carrier|output|power|rf|receives?|receives signals|transmits?|keys(?: up)?)\s*"
)
CLICKS = re.compile(r"\b(?:relay )?clicks?\b")
NOT_HEARD = re.compile(
    r"\b(?:(?:nobody|no one|noone) (?:can )?(?:hears?|answers?)|"
    r"(?:they|others|people|stations) (?:can(?:no|')?t|cannot|do(?:es)?n'?t|do not|never) hears?) "
    r"(?:me|my|him|his|her|us)\b"
)
NO_RISE = re.compile(
    r"\b(?:hardly|barely|scarcely) (?:moves?|rises?|changes?|goes up)\b|\bno (?:change|rise)\b|"
    r"\b(?:the )?same when keyed\b|\bno (?:plate |supply |final )?current\b|\bstays\b|"
    r"\b(?:does not|doesn'?t|do not|no|not|never)\b.{0,24}\b(?:rise|rises|change|changes|move|moves|up)\b"
)
TOO_MUCH = re.compile(
    r"\b(?:high|too much|far too|heavy|double|twice|excessive|blows?|a lot|very much|way up|through the roof)\b"
)
LITTLE = re.compile(r"\bonly\b")
NORMAL = re.compile(r"\b(?:full|rises?|normal|usual|as usual|ok|fine)\b")
EVERY = re.compile(r"\b(?:any|all|every|both)\s+(?:bands?|modes?)\b|\bon everything\b")
OTHERS = re.compile(r"\b(?:(?:all )?(?:the )?other(?:s| bands?| modes?)|(?:all )?the rest|everything else|elsewhere)\b")
BAND = re.compile(r"(?<![\w.])(\d{1,3}) ?(?:m|meters?|metres?)\b")
MODES = {"am": "am", "fm": "fm", "ssb": "ssb", "usb": "ssb", "lsb": "ssb", "cw": "cw", "sideband": "ssb"}
ONLY_SO_MANY = re.compile(r"\b(?:only|just|barely|hardly) (?:about )?(?:\d+(?:\.\d+)?|half a) ?w(?:atts?)?\b")
FADES = re.compile(r"\b(?:after|when|as|once) .{0,20}\b(?:min\w*|seconds?|sec|s|while|warm\w*|hot|hour)\b")
MORE_WATTS = re.compile(r"(?<=, )(\d{1,4}) (?=on \d)")
_W = r"(\d+(?:\.\d+)?|half a) ?(?:w|watts?)?"
# what it gives now and what it gave; or from what to what
NOW_AND_BEFORE = re.compile(
    rf"\b{_W} (?:where|instead of|rather than|when|but|used to be|was|not)\b[a-z ]{{0,24}}? ?{_W}(?![\w.])"
)
_SO_MUCH = _W.replace("(", "(?:", 1) + r"(?: pep| output| out| carrier| rf)?"
BEFORE_AND_NOW = re.compile(
    rf"\b(?:used to|was|gave|had|did|made)\b[a-z ]{{0,24}}? ?(?P<was>{_SO_MUCH})[,;]? *(?:and |but )?"
    rf"(?:it |its |it's |is |does |gives |only )*(?:now|today)\b[a-z ]{{0,16}}? ?(?P<now>{_SO_MUCH})(?![\w.%])"
)
WAS = re.compile(
    rf"(?P<now>{_SO_MUCH}),? (?:it |that |this )?(?:was|used to be|before it was|had been) "
    rf"(?P<was>{_SO_MUCH})(?![\w.%])"
)
SWR_BEFORE = re.compile(
    r"\bswr (?:was |used to be |from )?\d+(?:\.\d+)?[,;]? *(?:and |but )?(?:it )?(?:is )?(?:now|to) "
    r"(?P<now>\d+(?:\.\d+)?)",
    re.IGNORECASE,
)
FROM_TO = re.compile(rf"\bfrom {_W} (?:down )?to {_W}(?![\w.])")
WATTS = re.compile(r"(?<![\w.])(\d+(?:\.\d+)?|half a) ?w(?:atts?)?\b")
_NUMBER = r"\d+(?:\.\d+)?|half a"
FEWER = 0.75  # of what it gave: weak


def as_it_is(words: str) -> str:
    """A complaint with the standing-wave ratio as it is now: 'SWR was 3, now 1.2'."""
    return SWR_BEFORE.sub(r"swr \g<now>", words)


def plainly(words: str) -> str:
    """A complaint in small letters, with one subject for each clause."""
    plain = " ".join(words.lower().split())
    for before in (BEFORE_AND_NOW, WAS):
        plain = before.sub(_now_where_it_was, plain)
    plain = BOTH_WAYS.sub(r"\g<state> receive, \g<state> transmit", plain)
    plain = LED.sub(r"\g<state>\g<mid> \g<a>, \g<state>\g<mid> \g<b>", plain)
    plain = TRAILING.sub(r"\g<a>\g<mid> \g<state>, \g<b>\g<mid> \g<state>", plain)
    if re.search(r"\d ?w(?:atts?)? on \d", plain):
        plain = MORE_WATTS.sub(r"\1 watts ", plain)  # '40 watts on 80, 100 on 20'
    plain = BARE_BANDS.sub(_with_its_metres, plain)
    return IN_A_ROW.sub(_as_one_subject, plain)


def _now_where_it_was(found: re.Match[str]) -> str:
    """'used to give 300w, now 140' as one clause: '140w where it gave 300w'. Watts are meant only where one says so."""
    if "w" not in found["was"] + found["now"]:
        return found[0]
    now, was = (f"{re.findall(_NUMBER, words)[0]} w" for words in (found["now"], found["was"]))
    return f"output {now} where it gave {was}"


def _as_one_subject(row: re.Match[str]) -> str:
    """Bands or modes in a row are one subject: '80 m, 40 m and 20 m dead'; of 'no output on SSB, CW and AM fine' the
    first is of what stands before it."""
    before = re.split(r"[,;]", row.string[: row.start()])[-1]
    behind = re.split(r"[,;]", row.string[row.end() :])[0]
    states = {state_of(before), state_of(behind)} - {None}
    head, comma, tail = row[0].partition(",") if len(states) > 1 else ("", "", row[0])
    return head + comma + re.sub(r",|\band\b|&", " ", tail)


def _with_its_metres(found: re.Match[str]) -> str:
    return " ".join(f"{metres} m" for metres in re.findall(r"\d+", found[0]))


def clauses(plain: str) -> list[str]:
    """The clauses of a text. One that goes on without naming its mode speaks of the mode before it: 'AM has carrier but
    no modulation'."""
    found: list[str] = []
    start, mode = 0, ""
    for cut in [*CLAUSES.finditer(plain), None]:
        clause = plain[start : cut.start() if cut else len(plain)]
        named = next((word for word in re.findall(r"[a-z]+", clause) if word in MODES), "")
        found.append(f"{mode} {clause}" if mode and not named and MODULATION.search(clause) else clause)
        goes_on = cut is not None and (not cut[0].strip() or cut[0] == "but")
        mode, start = (named or mode) if goes_on else "", cut.end() if cut else len(plain)
    return found


def state_of(clause: str) -> str | None:
    """What a clause says of its subject: dead, weak, good, or nothing."""
    return next((state for state, words in STATES if words.search(clause)), None)


def state_of_watts(clause: str, good: tuple[float, float] | None, dead_below: float | None) -> str | None:
    """What the watts of a clause say: fewer than there were, or than are due at an output that is good between these
    bounds, both in W; None without watts."""
    for pattern, now in ((NOW_AND_BEFORE, 0), (FROM_TO, 1)):
        if (both := pattern.search(clause)) is not None:
            figures = [_number(both[1]), _number(both[2])]
            return "weak" if figures[now] < FEWER * figures[1 - now] else None
    found = WATTS.search(clause)
    if ONLY_SO_MANY.search(clause):
        return "weak"
    if found is None or good is None:
        return None
    watts = _number(found[1])
    if dead_below is not None and watts < dead_below:
        return "dead"
    return "weak" if watts < good[0] else "good"


def _number(typed: str) -> float:
    return 0.5 if typed == "half a" else float(typed)
