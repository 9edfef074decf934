"""The words of a complaint: one subject a clause, and what each clause says of it."""

import re
from collections.abc import Iterator

_SUBJECT = r"(?:transmit(?:ting|ter|s)?|tx|transmission|receiv(?:e|er|ing|es)|rx|reception)"
_STATE = r"(?:no|dead|weak|nothing|fine|ok|good|works?|low|poor|silent|normal)"
_SAID = r"(?! (?:is |are |works? |was )?(?:ok|okay|fine|good|well|normal|works?|dead|weak|low|poor|perfect)\b)"
NEITHER = re.compile(r"\bneither (\w+(?: \w+)?) nor (\w+)")
BAND_RANGE = re.compile(
    r"(?:(?<=\bon )|(?<=\bok )|(?<=\bfine )|(?<=\bgood )|(?<=\bfrom ))(160|80|60|40|30|20|17|15|12|10"
    r"|6) ?m? ?(?:-|–|to|through|down to|up to) ?(80|60|40|30|20|17|15"
    r"|12|10|6|2) ?m?\b(?! ?w)"
)
POWER_OF = re.compile(r"\b(?:power|carrier|dead ?key)\b")
# 'AM ok SSB weak': what is said of one ends where the next begins
LISTED = re.compile(
    r"\b(am|fm|ssb|cw|tx|rx|receive|transmit|\d{1,3} m) (ok|okay|fine|good|dead|weak|works|perfect|normal|low"
    r"|deaf|poor) "
    r"(?=(?:am|fm|ssb|cw|tx|rx|receive|transmit|\d{1,3} m)\b)"
)
DEAF_AND_WEAK = re.compile(r"\b(?:deaf and weak|weak and deaf)\b(?! on)")
BOTH_WAYS = re.compile(r"(?P<state>[a-z][a-z ]{0,30}?) both ways")
LED = re.compile(
    rf"\b(?P<state>{_STATE})(?P<mid>(?: (?!no\b)[a-z]+){{0,3}}?) (?:both )?(?P<a>{_SUBJECT}) (?:and|or|nor"
    rf"|&) (?:no )?"
    rf"(?P<b>{_SUBJECT})\b{_SAID}"
)
TRAILING = re.compile(
    rf"\b(?P<a>{_SUBJECT}) (?:and|&) (?P<b>{_SUBJECT})(?P<mid>(?: [a-z]+){{0,2}}?) (?P<state>{_STATE}|went|gone"
    rf"|died|quit)\b"
)
ONE = r"(?:\d{1,3} ?m(?:et(?:er|re)s?)?|am|fm|ssb|usb|lsb|cw|hf)"
IN_A_ROW = re.compile(rf"\b{ONE}(?:\s*,\s*{ONE})*\s*,?\s*(?:and|&)\s+{ONE}\b")
WATTS_IN_WORDS = re.compile(r"\b(one|two|three|four|five|six|eight|ten|twelve|twenty|fifty) (?=watts?\b)")
COUNTED = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "eight": 8, "ten": 10, "twelve": 12, "twenty": 20,
    "fifty": 50,
}  # fmt: skip
IN_WORDS = {"two": "2", "six": "6", "ten": "10", "fifteen": "15", "twenty": "20", "forty": "40", "eighty": "80"}
METRES_IN_WORDS = re.compile(
    rf"\b({'|'.join(IN_WORDS)}) (?=met(?:er|re)s?\b)|(?<=\bon )({'|'.join(IN_WORDS)})\b(?= (?:too|only|as well"
    rf"|also|alone)|$|[,;])"
)
SO_DEEP = re.compile(r"\bmod\w* (?:is |at |of |reads |only )*(\d{1,3}) ?(?:%|per ?cent)")
DEEP_ENOUGH = 60  # % of modulation: below it a voice is called weak
ONLY_SO_DEEP = re.compile(r"\b(?:only|just|barely|hardly|at most) (?:about )?([1-5]?\d) ?(?:%|per ?cent)")
_METRES = r"(?:160|80|60|40|30|20|17|15|12|10|6|4|2)"
# 'dead on 40 and 80', '10 and 15m', 'fine on 80', '20 and 10 normal': no watts, no amps, no minutes
BARE_BANDS = re.compile(
    rf"(?:(?<=\bon )|(?<=^)|(?<=, )){_METRES} ?m?(?:, {_METRES} ?m?)*(?:,? (?:and|&) {_METRES} ?m?)?"
    r"(?= (?:is |are )?(?:dead|weak|low|normal|ok|fine|good|down|only|well|works?|nothing|none|up|at|all right"
    r"|alright|right"
    r"|perfect)\b| (?:give|make|do|get|have|reach|show)s?\b|$|,| only\b)"
)
METRES_BEHIND = re.compile(
    rf"(?<![\w.]){_METRES}(?:, {_METRES})* (?:and|&|or) {_METRES} ?m(?:et(?:er|re)s?)?\b"
)  # '6 and 2 m'
BARE_WATTS = re.compile(
    r"\b(am|fm|ssb|cw|usb|lsb|\d{1,3} m|gives?|makes?|does|gets|carrier|dead ?key|output|power|starts at|bands"
    r"|others|rest|cold"
    r"|warm|even)"
    r" (\d{1,4})(?= *(?:$|[,;]|and\b|but\b))"
)
CLAUSES = re.compile(
    r"[,;:!]|\.(?!\d)|\b(?:but|and|yet|though|although|while|except|then|however|where(?= the))\b|\s[–-]\s"
    r"|(?<=\b[tr]x (?:weak|dead|deaf|fine|good|poor)) (?=[tr]x\b)|(?<=\b[tr]x ok) (?=[tr]x\b)"
    r"|(?<=\w)\s+(?=no (?:receive|transmit|tx|rx|output|power|audio|modulation|rf|sound|carrier|click)\b)"
)
DEAD = re.compile(
    r"\b(?:no|not any|none|nothing|never|dead|(?:stone|totally|completely|absolutely) deaf|deaf as|zero|lost"
    r"|gone|missing|won'?t|wont|will not|does not|doesn'?t|"
    r"doesnt|do not|don'?t|dont|cannot|can'?t|cant|without (?:any )?(?:output|power|rf|audio|modulation|sound"
    r"|carrier|result|speech|voice)|fails?|failed|stopped|silent|mute|refuses|nobody|noone|"
    r"went|died|quit|packed up|gave up|lifeless|nil|kaput|finished|inhibited|blocked|locked out|zilch"
    r"|not a thing|no sign|"
    r"not (?:transmit|receiv|work|key|modulat)\w*)\b"
)
WEAK = re.compile(
    r"\b(?:weak|weakly|low|lower|poor|poorly|(?<!up a )little|half|halved|(?<!key )(?<!key-)down|faint|deaf|reduced"
    r"|short range|only (?:next door|(?:down|across|up) (?:the|our) (?:road|street|lane))|barely|hardly|"
    r"only (?:hears?|receives?|picks? up)(?: the)?(?: very| really)? (?:strong|loud|close|local|near)\w*|worst"
    r"|worse|small|tiny|"
    r"quiet|thin|cut back|short(?! ?waves?)|sags?|dropped|drops|fell|fallen|lost (?:half|most|some|a lot)"
    r"|under ?modulated|"
    r"talks? (?:only )?\d+ ?(?:m|metres|meters|yards|feet)|not even \d+(?:\.\d+)?|terribl[ey]|badly"
    r"|only (?:when |if |from )?(?:very )?(?:close|near)(?: by|by)?"
    r"|(?:can'?t|cannot|can not) be heard (?:a|beyond|past|far)\b"
    r"|only (?:a few|\d+(?:\.\d+)? ?(?:db|km|metres))|folds? back|folding back|backs off|cuts back"
    r"|only \d+(?:\.\d+)? ?m?w(?:atts?)?)\b"
)
WELL = re.compile(
    r"\b(?:fine|ok|okay|good|well|works?|working|normal|normally|perfect|perfectly|right|great|"
    r"superb|lovely|beautiful(?:ly)?|brilliant(?:ly)?|spot on|like a bell|excellent|(?<!the )(?<!very )strong"
    r"|bright|lots|(?<!at )full|clear|can hear|loud|lively|alive|sensitive|healthy"
    r"|all right|alright|up to (?:power|strength)|"
    r"unaffected|unchanged|(?<=receive )stays|(?<=receiver )stays|(?<=rx )stays|as (?:always|ever|before|usual"
    r"|it should))\b"
)
NOW_AND_THEN = re.compile(
    r"\b(?:power|carrier|output|needle) (?:drops|dips|falls|goes down) (?:when|as|while) (?:i |he |she |you |we )?"
    r"(?:talk|speak|whistl|modulat)\w*|"
    r"\b(?:drops|falls|jumps|goes|cuts|dips) (?:down )?(?:to|from \d.{0,12} to) (?:nothing|zero|0)\b"
)
LOST_A_PART = re.compile(
    r"\bgone (?:weak|low|down|quiet|faint)\b|\b(?:won'?t|will not|does(?: not|n'?t)) (?:peak|resonate|tune up"
    r"|reach)\b|\blost (?:about )?(?:half|most|some|a lot|a third)\b"
)
STATES = (("weak", LOST_A_PART), ("dead", DEAD), ("weak", WEAK), ("good", WELL))
OUTPUT = re.compile(
    r"\b(?:output|power|rf|carrier|dead ?key|sends?|antenna jack|aerial socket|antenna socket|watts?|transmits?"
    r"|transmitting|transmitters?|tx|gets? out|puts? out|talks?|"
    r"signal out|nothing (?:comes )?out|gives? (?:nothing|none)|transmission|comes? out|range|gain|(?:my|his"
    r"|her) signal|simplex|direct)\b"
)
SWITCHES = re.compile(r"\b(?:switch(?:es)?|go(?:es)?|change(?:s)?) (?:over )?(?:to|into) (?:transmit|tx)\b")
RECEIVE = re.compile(
    r"\b(?:receiv\w*|come in|comes in|reception|(?<!mic )(?<!mike )(?<!microphone )sensitivity|rx|deaf"
    r"|(?:sound|audio|nothing"
    r"|anything)(?: at all)? (?:from|in"
    r"|out of) (?:the|its) (?:loud)?speaker|hears?(?! me\b| my\b| him\b| her\b| us\b)|hearing)\b"
)
MODULATION = re.compile(
    r"\b(?:modulat(?!or (?:valve|tube|current|draws|alone))\w*|deviation|(?:tx|transmit) audio"
    r"|audio (?:is )?(?:\w+ )?on (?:tx|transmit\w*|air)|voice"
    r"|speech|talk audio|talk power|"
    r"mod|under ?modulated|mic(?:rophone)? audio|mic(?:rophone)? (?=dead|weak|is dead|low)|"
    r"can'?t hear (?:my|his|her) (?:voice|talk)|sounds?(?= (?:clear|good|fine|ok|clean|well|normal)\b))\b"
)
NOT_UNDERSTOOD = re.compile(
    r"\b(?:nobody|no one|noone|can'?t|cannot|hard to|barely|hardly) (?:can )?(?:make out|understands?|reads? me"
    r"|cop(?:y|ies) me)\b"
)
UNMODULATED = re.compile(
    r"\b(?:dead|plain|blank|silent|empty) carrier\b|\bcarrier only\b|\bonly (?:a )?carrier\b"
    r"|\bcarrier (?:without|with no) (?:any )?(?:speech|voice|audio|modulation)\b"
)
OF_ANOTHER = re.compile(
    r"\b(?:exciter|straight through|drive (?:is |of )?\d+ ?w|driving (?:rig|radio|set)|other (?:rig|radio|set))\b"
)
AUDIO = re.compile(r"\b(?:audio|sound)\b")
MUFFLED = re.compile(
    r"\b(?:muffled|squeals?|howls?|barrel|tinny|hollow|boomy|harsh|rattl\w+|distort\w*|garbled|rough|crackl\w+"
    r"|scratchy|raspy|wooll?y|unclear|unreadable|quiet|mushy|woolen|through a (?:sock|blanket|pillow|wall)|"
    r"under ?modulated)\b"
)
TOLD_OF = re.compile(
    r"\b(?:people|others|they|everyone|customers?|stations) (?:say|says|tell|report|complain|hear)\b|\breports? of\b|"
    r"\b(?:on (?:transmit|tx|the air|air)|i am|i'm|as if i talk|he is|she is|sounds?|audio|voice|modulation"
    r"|everyone tells|when i (?:talk|speak))\b"
)
KEYING = re.compile(r"\b(?:keys?|keying|ptt|relay cl[ai]cks?|cl[ai]cks?|switch(?:es)? to transmit)\b")
CURRENT = re.compile(
    r"\b(?:current|draws?|amps|\d ?amp(?! (?:\w+ )?fuse)|meter of the supply|(?:pulls?|takes?|took)(?= (?:only "
    r"|about "
    r"|just )?\d+(?:\.\d+)? ?a\b))\b"
)
GRID = re.compile(r"\bgrid\b")
HEARS = re.compile(r"\s*(?:it )?(?:still )?(?:receiver |set )?(?:hears|receives|plays)(?: [a-z0-9]+){0,5}\s*")
QUIET_WHEN_KEYED = re.compile(
    r"\b(?:receive|receiver|rx|speaker|noise) (?:goes|gets|falls|is) (?:quiet|silent|mute[d]?|dead)(?= *$| when"
    r"| on| as)"
)
IDLES = re.compile(r"\bidle\b")  # of a valve: keyed, and not driven
AT_REST = re.compile(r"\bidle\b|\b(?:in|on|during|at) (?:receive|rx|rest|standby)\b|\b(?:not|before) key\w*\b")
_A = r"(\d+(?:\.\d+)?) ?(?:a|amps?|ma)?"
# what it draws now and what it drew
AMPS_NOW_AND_BEFORE = re.compile(
    rf"\b{_A}(?: [a-z]+){{0,3}}?,? (?:should be|where|instead of|rather than|when|but|used to be|was"
    rf"|not)\b[a-z ]{{0,24}}? ?{_A}(?![\w.])"
)
_SUPPLY = r"(?:the |its |my )?(?:bench |power )?(?:supply|psu|breaker)"
OVERLOADS = re.compile(
    rf"\bpulls {_SUPPLY} down\b"
    rf"|{_SUPPLY} (?:cuts|goes|shuts|folds|trips)(?: out| off| down| back)?\b.{{0,12}}\b(?:when|on|as)\b"
    rf"|\b(?:trips?|tripping|pulls down|overloads?|shuts down) {_SUPPLY}\b"
    r"|\bfuse (?:holds|lasts)\b.{0,24}\b(?:goes|blows|pops) (?:when|as|once|on) (?:it is )?key\w*"
    r"|\bfuse (?:goes|blows|pops|went|blew)\b.{0,24}\b(?:key\w*|tx|transmit\w*|ptt)\b"
    r"|\b(?:blows?|blew|pops?|popped)\b.{0,24}\b(?:when|on|as soon as|once|every time|if|the (?:moment|second"
    r"|instant))\b"
    r".{0,16}\b(?:key\w*|tx|transmit\w*|ptt)\b"
)
LONE_SUBJECT = re.compile(
    r"\s*(?:it )?(?:there is |it has |has |gives |makes |sends |puts up |shows )?(?:a )?(?:good |strong |nice )*"
    r"(?:carrier|output|power|rf|receives?|receives signals|transmits?|keys(?: up)?)\s*"
)
CLICKS = re.compile(r"\b(?:relay )?cl[ai]cks?\b")
NOT_HEARD = re.compile(
    r"\b(?:(?:nobody|no one|noone) (?:can )?(?:hears?|answers?)|"
    r"(?:they|others|people|stations) (?:can(?:no|')?t|cannot|do(?:es)?n'?t|do not|never) hears?) "
    r"(?:any |a )?(?:me|my|him|his|her|us|voice|audio|speech|modulation|anything|word|what (?:i|he|she"
    r"|we) says?)\b|\b(?:not a|no) word on it\b|\b(?:they|others|people|stations"
    r"|friends|locals|neighbours)(?: [a-z]+)? hear "
    r"(?:nothing|no (?:voice|audio)|(?:only|just|nothing but) (?:a |the )?(?:silence|carrier|hiss|dead air))\b"
)
SOMETIMES = re.compile(r"\b(?:sometimes|now and (?:then|again)|intermittent\w*|often|occasionally)\b")
UNTIL = re.compile(r"\b(?:until|unless)\b")
OF_ALL_CHANNELS = re.compile(r"\b(?:on )?(?:all|every|any|each)(?: of)?(?: the)?(?: \w+)? channels?\b")
# what a meter of the valves shows on transmit is not what goes out
OF_A_PLATE_METER = re.compile(r"^(?!.*\b(?:output|power|watts?)\b).*\b(?:plate|anode|grid) (?:meter|needle)\b")
DIPS = re.compile(r"\bdip\b")  # of a tank; a power that dips is another thing
ONLY_WATTS = re.compile(r"\s*(?:only |about |just )*\d+(?:\.\d+)? ?w(?:atts?)?\s*")
TUNED = re.compile(r"\btune (?:carrier|power|up)\b")  # a carrier, as for the key
LONE_STATE = re.compile(r"\s*(?:very |quite |a bit |rather )?(?:weak|dead|low|poor|deaf|quiet|faint|silent)\s*")
ONE_BAND_OR_MODE_BEFORE = re.compile(r"\b(?:on|of) (?:\d{1,3} ?m|am|fm|ssb|cw|usb|lsb)\s*$")
HT_SHOULD_BE = re.compile(
    r"\b(?:ht|high tension|high voltage|hv|b\+|plate volt\w*) (?:is |reads |of |at )?(?:only |just )?"
    r"(?P<now>\d+(?:\.\d+)?) ?(?:k?v|volts)?,? (?:and |but |it )?(?:should be|where it was|was|used to be"
    r"|instead of) "
    r"(?P<was>\d+(?:\.\d+)?)"
)
OF_HERTZ = re.compile(r"\d ?k?hz\b")
GRID_BEFORE = re.compile(
    r"\bgrid (?:current|drive)\b[a-z ]{0,16}?(?P<was>\d+(?:\.\d+)?) ?(?:ma)?,? (?:and |but )?(?:it is |is )?"
    r"(?:now|to|down to) (?:only |about )?(?P<now>\d+(?:\.\d+)?)(?![\w.]*:)"
)
HIGH_SWR_OF_A_LOAD = re.compile(r"\b(?:dummy|(?:good|known|right|50 ohm) load)\b.*\bswr\b")
OTHERS_HEAR = re.compile(
    r"\b(?:friends?|people|others|they|stations?|neighbours?|nobody|no one|noone|someone|somebody|locals"
    r"|mate|(?:second|other|another) (?:radio|set|receiver))(?: [a-z]+){0,2}"
    r" (?:hears?|receives?)\b"
)
OF_SOME_CHANNELS = re.compile(
    r"\b(?:half|some|most|few|several|one|only|above|below|over|under|from)\b.{0,16}\bchannels?\b"
    r"|\bchannels? (?:above|below|over|under|from)\b"
)
SIDEBAND = re.compile(r"\b(usb|lsb)\b")
NO_RISE = re.compile(
    r"\b(?:hardly|barely|scarcely|not|no) (?:any )?more (?:\w+ )?than (?:on|in|at) (?:receive|rx|standby|idle)\b"
    r"|\b(?:hardly|barely|scarcely) (?:moves?|rises?|changes?|goes up)\b|\bno (?:change|rise)\b|"
    r"\bdraws? (?:nothing|no current|zero)\b|\b(?:the )?same when keyed\b|\bno (?:plate |supply "
    r"|final )?current\b|\bcurrent (?:is )?(?:nil|zero"
    r"|nothing|none)\b|\bstays\b|"
    r"\b(?:does not|doesn'?t|do not|no|not|never)\b.{0,24}\b(?:rise|rises|change|changes|move|moves|up)\b"
)
LESS_THAN_USUAL = re.compile(r"\bless (?:current |amps )?than (?:usual|normal|it should|before|due)\b")
TOO_MUCH = re.compile(
    r"\b(?:more (?:current |amps )?than (?:usual|normal|it should|before|due)|high|too much|far too|heavy"
    r"|double|twice|excessive|blows?|a lot|very much|way up|through the roof)\b"
)
LITTLE = re.compile(r"\bonly\b")
NORMAL = re.compile(
    r"\b(?:(?:like|as) it should|as (?:always|ever|before)|full|rises?|normal|usual|as usual|ok|fine)\b"
)
EVERY = re.compile(r"\b(?:any|all|every|both)\s+(?:bands?|modes?)\b|\bon everything\b|\banywhere\b")
OTHERS = re.compile(
    r"\b(?:(?:all )?(?:the )?other(?:s| bands?| modes?)|(?:all )?(?:the )?rest|everything else|elsewhere)\b"
)
HF = re.compile(r"\bshort ?waves?\b|\bhf\b(?! (?:set|rig|transceiver|radio|amp\w*|linear|unit))")
SHORT_WAVES = {f"{metres} m" for metres in (160, 80, 60, 40, 30, 20, 17, 15, 12, 10)}
MODULATOR = re.compile(r"\b(?:modulator|mod(?:ulator)? (?:valves?|tubes?)|modulation transformer)\b")
BAND = re.compile(r"(?<![\w.])(160|80|60|40|30|20|17|15|12|11|10|6|4|2) ?(?:m|meters?|metres?)\b")
LED_BY_PLACE = re.compile(r"\s*(?:on|at) \d{1,3} ?m\b")
MODES = {"am": "am", "fm": "fm", "ssb": "ssb", "usb": "ssb", "lsb": "ssb", "cw": "cw", "sideband": "ssb"}
ONLY_SO_MANY = re.compile(r"\b(?:only|just|barely|hardly) (?:about )?(?:\d+(?:\.\d+)?|half a) ?w(?:atts?)?\b")
FADES = re.compile(
    r"\b(?:after|when|as|once|within|in (?=an? |\d|one |two |some )) ?.{0,20}\b(?:min\w*|seconds?|sec|s|while"
    r"|warm\w*|hot|hour)\b"
)
MORE_WATTS = re.compile(r"(?<=, )(\d{1,4}) (?=on \d)")
_ABOUT = r"(?:(?:about|around|roughly|only|some|just|maybe|barely|under|perhaps) )?"
_W = rf"{_ABOUT}(\d+(?:\.\d+)?|half a) ?(?:w|watts?)?"
# what it gives now and what it gave; or from what to what
NOW_AND_BEFORE = re.compile(
    rf"\b{_W} (?:out of|where|instead of|rather than|when|but|used to be|was|not)\b[a-z ]{{0,24}}? ?{_W}(?![\w.])"
)
_SO_MUCH = (
    _W.replace(r"(\d", r"(?:\d") + r"(?: pep| output| out| carrier| rf| of power)?(?: (?:of|on) (?:am|fm|ssb|cw))?"
)
BEFORE_AND_NOW = re.compile(
    rf"\b(?:used to(?: (?:be|give|make|do|have|put out))?|was|gave|had|did"
    rf"|made)\b[a-z ]{{0,24}}? ?(?P<was>{_SO_MUCH})[,;]? *(?:and |but )?"
    rf"(?:it |its |it's |is |does |gives |only )*(?:now|today)\b[a-z ]{{0,16}}? ?(?P<now>{_SO_MUCH})(?![\w.%])"
)
WAS = re.compile(
    rf"(?P<now>{_SO_MUCH}),? (?:it |that |this )?(?:was|used to be|before it was|had been) "
    rf"(?P<was>{_SO_MUCH})(?![\w.%])"
)
SWR_BEFORE = re.compile(
    r"\bswr (?:was |used to be |from )?\d+(?:\.\d+)?[,;]? *(?:and |but )?(?:it )?(?:is )?(?:now|to(?! 1\b(?!\.))) "
    r"(?P<now>\d+(?:\.\d+)?)",
    re.IGNORECASE,
)
FROM_TO = re.compile(rf"\bfrom {_W} (?:down )?to {_W}(?![\w.])")
DOWN_TO = re.compile(
    rf"\b(\d+(?:\.\d+)?)(?: ?(?:w|watts?)|(?= (?:\w+ ){{1,3}}\d+(?:\.\d+)? ?w)) (?:down |dropped |fell |went |sank "
    rf"|came down )?to {_W}(?![\w.])"
)
WATTS = re.compile(r"(?<![\w.])(\d+(?:\.\d+)?|half a) ?w(?:atts?)?\b")
_NUMBER = r"\d+(?:\.\d+)?|half a"
_OF_POWER = re.compile(r"\b(?:give|gives|gave|make|made|puts? out|output|power)\b")
SAGGING = 0.9  # of the volts that it had
FEWER = 0.75  # of what it gave: weak


FAINT_VOICE = re.compile(
    r"\bcarrier (?:but |with |and )+(?:only )?(?:a |very |some |hardly any )?(faint|weak|thin|low|little|poor|quiet) "
    r"(?:voice|audio|modulation|speech|mod|sound)\b"
)


def as_it_is(words: str) -> str:
    """A complaint with the standing-wave ratio as it is now: 'SWR was 3, now 1.2'."""
    return SWR_BEFORE.sub(r"swr \g<now>", words)


def plainly(words: str) -> str:
    """A complaint in small letters, with one subject for each clause."""
    plain = " ".join(words.lower().split())
    plain = TUNED.sub("cw carrier", plain)
    plain = WATTS_IN_WORDS.sub(lambda found: f"{COUNTED[found[1]]} ", plain)
    for before in (BEFORE_AND_NOW, WAS):
        plain = before.sub(_now_where_it_was, plain)
    plain = METRES_IN_WORDS.sub(
        lambda found: f"{IN_WORDS[found[1] or found[2]]} m " if found[2] else f"{IN_WORDS[found[1]]} ", plain
    )
    plain = FAINT_VOICE.sub(r"carrier good, \g<1> modulation", plain)
    plain = NEITHER.sub(r"no \g<1>, no \g<2>", plain)
    plain = BAND_RANGE.sub(_every_band_between, plain)
    plain = DEAF_AND_WEAK.sub("weak receive, weak transmit", plain)
    plain = BOTH_WAYS.sub(r"\g<state> receive, \g<state> transmit", plain)
    plain = LED.sub(r"\g<state>\g<mid> \g<a>, \g<state>\g<mid> \g<b>", plain)
    plain = TRAILING.sub(r"\g<a>\g<mid> \g<state>, \g<b>\g<mid> \g<state>", plain)
    if re.search(r"\d ?w(?:atts?)? on \d", plain):
        plain = MORE_WATTS.sub(r"\1 watts ", plain)  # '40 watts on 80, 100 on 20'
    plain = METRES_BEHIND.sub(_with_its_metres, plain)
    plain = BARE_BANDS.sub(_with_its_metres, plain)
    plain = LISTED.sub(r"\g<1> \g<2>, ", plain)
    if WATTS.search(plain) or POWER_OF.search(plain):
        plain = BARE_WATTS.sub(r"\1 \2 w", plain)  # 'SSB only 20 watts, CW 100'
    return IN_A_ROW.sub(_as_one_subject, plain)


def _now_where_it_was(found: re.Match[str]) -> str:
    """'used to give 300w, now 140' as one clause: '140w where it gave 300w'. Watts are meant only where one says so."""
    if "w" not in found["was"] + found["now"] and _OF_POWER.search(found[0]) is None:
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


def _every_band_between(found: re.Match[str]) -> str:
    """'on 80 through 20' as each of those bands."""
    among = [160, 80, 60, 40, 30, 20, 17, 15, 12, 10, 6, 2]
    first, last = sorted((among.index(int(found[1])), among.index(int(found[2]))))
    return " ".join(f"{metres} m" for metres in among[first : last + 1])


def _with_its_metres(found: re.Match[str]) -> str:
    return " ".join(f"{metres} m" for metres in re.findall(r"\d+", found[0]))


def clauses(plain: str) -> list[str]:
    """The clauses of a text. One that goes on without naming its mode speaks of the mode before it: 'AM has carrier but
    no modulation'; of the band that leads the clause before it, too: 'on 20 m no output and deaf'."""
    found: list[str] = []
    mode = place = ""
    for words, cut in _pieces(plain):
        if found and _is_of_the_one_before(words, found[-1]):
            found[-1] += f" {words.strip()}"
            continue
        named = next((word for word in re.findall(r"[a-z]+", words) if word in MODES), "")
        led = LED_BY_PLACE.match(words)
        lent = "" if led or BAND.search(words) else place
        lent_mode = f"{mode} " if mode and not named and MODULATION.search(words) else ""
        found.append(f"{lent_mode or lent}{words}")
        place = (led[0] if led else lent) if cut == "and" else ""
        mode = (named or mode) if cut in {"", "but"} else ""
    return found


def _is_of_the_one_before(words: str, before: str) -> bool:
    """Whether a clause only goes on: 'low on 10 m, 55 w' is of that band, 'receive noisy and weak' of receive."""
    if ONLY_WATTS.fullmatch(words):
        return ONE_BAND_OR_MODE_BEFORE.search(before) is not None
    return LONE_STATE.fullmatch(words) is not None and state_of(before) is None


def _pieces(plain: str) -> Iterator[tuple[str, str]]:
    """The clauses as they stand, each with the word or sign that cuts it from the next; nothing where it only goes
    on."""
    start = 0
    for cut in CLAUSES.finditer(plain):
        words = plain[start : cut.start()]
        if cut[0].strip() or _stands_alone(words):  # 'on 20 m no output' and 'SSB gives no power' are one
            yield words, cut[0].strip()
            start = cut.end()
    yield plain[start:], "."


def _stands_alone(clause: str) -> bool:
    """Whether words in front of 'no output' say something by themselves: 'rx fine', 'receives', 'relay clicks'."""
    return bool(state_of(clause) or LONE_SUBJECT.fullmatch(clause) or CLICKS.search(clause))


def state_of(clause: str) -> str | None:
    """What a clause says of its subject: dead, weak, good, or nothing."""
    if NOW_AND_THEN.search(clause):
        return None
    return next((state for state, words in STATES if words.search(clause)), None)


def state_of_watts(clause: str, good: tuple[float, float] | None, dead_below: float | None) -> str | None:
    """What the watts of a clause say: fewer than there were, or than are due at an output that is good between these
    bounds, both in W; None without watts."""
    for pattern, now in ((NOW_AND_BEFORE, 0), (FROM_TO, 1), (DOWN_TO, 1)):
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
