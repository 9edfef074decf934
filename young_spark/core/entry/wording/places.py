"""Places that a text names: parts with their pins and electrodes, rails, named points, and the sides of them.

A part's or a test point's own name needs no list: letters and digits are one."""

import re
from dataclasses import dataclass, replace
from functools import cache, lru_cache

from young_spark.core.entry.wording.vocabulary import vocabulary

TRIMMER = "vr|rv|tc|ct|vc|cv"  # pots and trimmer capacitors
PART = (
    r"(?:rfc|ntc|ptc|rb|re|rg|th|tp|tr|ic|br|sw|s(?=\d[a-f](?!\w))|fb|fs|"  # 's1c': a wafer of a switch
    rf"{TRIMMER}|zd|dz|z(?=\d\d?(?!\d))|rl|ry|fl|cn|sk|q|r|c|l|d|u|t|f|v|x|k|j|p)"
    r"\d{1,3}[a-z]?"
)
# a part's or a test point's own name, as a place is kept: 'Q4 base', 'TP3'
NUMBERED_POINT = re.compile(r"[A-Z]{1,3}\d+\b")
CONNECTOR = r"(?:j|p|cn|sk|pl|skt|con)\d{1,2}"
ELECTRODES = {
    "b": "base", "base": "base", "c": "collector", "col": "collector", "coll": "collector", "collector": "collector",
    "e": "emitter", "em": "emitter", "emitter": "emitter", "g": "gate", "gate": "gate", "drain": "drain",
    "source": "source", "anode": "anode", "plate": "anode", "cathode": "cathode", "cath": "cathode", "grid": "grid",
    "g1": "grid",
    "gate1": "gate 1", "gate 1": "gate 1", "gate2": "gate 2", "gate 2": "gate 2",
    "screen": "screen", "a": "anode", "k": "cathode", "d": "drain", "s": "source",
}  # fmt: skip
SIDES = {
    "primary": "primary", "pri": "primary", "secondary": "secondary", "sec": "secondary", "wiper": "wiper",
    "contact": "contact", "contacts": "contact", "coil": "coil", "hot end": "hot end", "cold end": "cold end",
    "plug": "plug", "socket": "socket", "input": "input", "output": "output", "heater": "heater",
}  # fmt: skip
OTHER_SIDES = {"one side": ", one side", "other side": ", other side", "the other side": ", other side",
               "the other": ", other side"}  # fmt: skip
PLACED_TOO = {"cathode", "cath", "gate"}  # points by themselves, where no part was named
JUNCTIONS = {
    "be": "base-emitter", "bc": "base-collector", "ce": "collector-emitter", "eb": "base-emitter",
    "cb": "base-collector", "ec": "collector-emitter", "ds": "drain-source", "sd": "drain-source",
    "gs": "gate-source", "sg": "gate-source", "dg": "drain-gate", "gd": "drain-gate",
}  # fmt: skip
OF_A_TRANSISTOR = re.compile(r"(?:q|tr|t)\d")
# what has electrodes of its own, or is turned to where one shall stand
HAS_ELECTRODES = re.compile(rf"(?:q|tr|t|d|zd|dz|v|ic|u|{TRIMMER})\d")
OF_A_DIODE = re.compile(r"(?:d|zd|dz|z)\d")
# what a part is called, before the letters that such parts have
CALLED = re.compile(
    r"(?:(?:driver|final|buffer|mixer|pa|osc|oscillator) (?=(?:\w+ )?(?:resistor|cap|choke|diode|coil)))?"
    r"(?:(?:bridge|bias|ref|reference|keying|switching|switch|detector|rf|audio|af|series|input|output|feedback|clamp|"
    r"protection|reverse|steering|bleeder|dropper|cathode|screen|grid|anode|"
    r"emitter|base|collector|gate|drain|source|mains|smoothing|coupling|bypass) )?"
    r"(?:(?:filter|loop|decode|tone|timing|tuning|bypass|coupling|decoupling) (?=c\d)|"
    r"(?:transistors?|fets?|mosfets?) (?=(?:q|tr|t)\d)|(?:diodes?|zeners?) (?=z?d\d)|resistors? (?=r\d)|"
    r"(?:audio|af|rf|if|synth|pll|vco|mod|tone|control|supply) (?=(?:ic|u)\d(?!.*\dmv))|"
    r"(?:xtal|crystal) (?=x\d)|cap(?:acitor)?s? (?=c\d)|(?:bleeder|dropper) (?=r\d)|fuse (?=f\d)|"
    r"(?:valve|tube) (?=v\d)|(?:inductor|coil|choke) (?=(?:l|rfc)\d)|relay (?=(?:rl|ry|k)\d)|"
    rf"(?:trimmer|pot) (?=(?:{TRIMMER})\d)|chip (?=(?:ic|u)\d)|"
    r"(?:driver|final|buffer|mixer|pre-?driver|regulator|reg) (?=(?:q|tr|v|ic|u)\d))"
)
STAGES = {
    "bridge",
    "rectifier",
    "reg",
    "regulator",
    "driver",
    "buffer",
    "predriver",
    "pre-driver",
    "pre driver",
    "exciter",
    "vco",
    "osc",
    "oscillator",
    "final",
    "finals",
    "mixer",
    "multiplier",
    "doubler",
    "preamp",
    "pa",
    "modulator stage",
}
WITH_ARTICLE = {"fuse", "switch", "relay", "choke"}
STAGES_NAMED = {"regulator", "driver", "buffer", "final", "mixer", "multiplier", "doubler", "preamp", "PA"}
_STAGES = "|".join(sorted(map(re.escape, STAGES), key=len, reverse=True))
# 'gate 2.1v' is of no second gate
_LONG = "|".join(
    rf"{e}(?!\.\d)" if e[-1].isdigit() else e
    for e in sorted((e for e in ELECTRODES if len(e) > 2), key=len, reverse=True)
)
_SIDE = "|".join(sorted((*SIDES, *OTHER_SIDES), key=len, reverse=True))
_WINDINGS = "|".join(
    sorted((set(SIDES) - {"input", "output", "plug", "socket", "heater"}) | set(OTHER_SIDES), key=len, reverse=True)
)
_RELATION = r"(?P<relation>before|after|behind|across) (?:the )?"
ON_A_PLACE = (
    r"(?:mic|microphone|aerial|antenna|power|speaker) (?:socket|plug|lead)|(?:main|pa|rf|af|audio|psu|power) board"
)
PLUGS = "mic|microphone|aerial|antenna|power|dc|speaker|ext speaker|acc|key"
BROKEN = r"(?= (?:is |was )?(?:open|o/c|short|shorted|s/c)(?![\w]))"
_AHEAD = r"(?= ?[+-]?[\d.]| (?:nothing|none|dead|nil|ok|open|short|no)\b|$)"  # a short name stands before what it reads
_STATE = r"(?:on |in )?(?:tx|rx|transmit|receive|standby|stby|key(?:ed)?)"
# behind a part's own name its electrode may be one letter, whatever leads to the figure
_BEHIND_A_PART = (
    r"(?= ?[+-]?[\d.]| ?[=:]| (?:nothing|none|dead|nil|ok|open|short|no|reads|is|was|now|only|measures)\b"
    rf"| {_STATE}\b|,|$)"
)
_READS = r"(?= ?[+-]?[\d.]| (?:nothing|none|dead|nil|ok|open|short|shorted|no)\b)"
RAIL = re.compile(
    r"(?P<sign>[+-])?(?P<volts>\d+(?:\.\d)?)(?:v(?P<tenth>\d)| ?v)? ?(?P<of>tx |rx )?"
    r"(?P<what>rail|line|reg|regulator|supply rail)\b"
)
# '8v tx 0.0', 'tx 8v now 7.94': a switched rail by its name, with what it reads and nothing else
SWITCHED = re.compile(
    r"(?:(?P<of>tx|rx) (?P<volts>\d{1,2})v|(?P<volts_2>[1-9]\d?)v (?P<of_2>tx|rx))"
    r"(?=(?: (?:now|reads|is|at|only|was))? ?[+-]?\d+(?:\.\d+)? ?v?$| (?:dead|none|nothing|nil|missing|low|ok|good)$)"
)
SENT_OR_HEARD = re.compile(r"(?P<of>tx|rx) (?P<what>rail|bus|line)(?= ?[+-]?\d|,? (?:none|dead|nothing|missing|ok)\b)")
PINS = re.compile(r"(?P<part>ic\d+|u\d+) pins (?P<pins>\d+(?: \d+)+)(?=:)")


@dataclass(frozen=True, slots=True)
class Place:
    """What was typed, the part or point that it is of, its whole name, and whether it only goes on from the last."""

    typed: str
    of: str
    name: str
    follows: bool = False


@lru_cache(maxsize=2048)  # each way to say a line again asks for the same
def place_at(rest: str, last: str) -> Place | None:
    """The place that begins a folded text; `last` is the part that was named before, for 'its emitter'."""
    if re.fullmatch(r"(?:Q|TR|V|D)\d+", last) and (own := re.match(rf"(?:{_LONG})\b", rest)) and own[0] in PLACED_TOO:
        return Place(own[0], last, f"{last} {ELECTRODES[own[0]]}")
    for take in (
        _broken_part,
        _conductors,
        _section,
        _rail,
        _pin,
        _connector,
        _way_of_a_part,
        _between_parts,
        _junction,
        _electrode_of,
        _part,
        _named,
        _winding,
    ):
        if (found := take(rest)) is not None:
            return found
    return _side_alone(rest, last)


def _rail(rest: str) -> Place | None:
    if (switched := SWITCHED.match(rest)) is not None:
        name = f"{switched['volts'] or switched['volts_2']} V {(switched['of'] or switched['of_2']).upper()} rail"
        return Place(switched[0], name, name)
    if (one := SENT_OR_HEARD.match(rest)) is not None:
        return Place(one[0], f"{one['of'].upper()} {one['what']}", f"{one['of'].upper()} {one['what']}")
    if (found := RAIL.match(rest)) is None:
        return None
    volts = f"{found['volts']}.{found['tenth']}" if found["tenth"] else found["volts"]
    what = {"reg": "regulator"}.get(found["what"], found["what"])
    of = (found["of"] or "").upper()
    name = f"{found['sign'] or ''}{volts} V {of}{what}"
    if way := re.match(r" (in|out)(?:put)?(?![\w])", rest[found.end() :]):
        return Place(found[0] + way[0], name, f"{name} {way[1]}put")
    return Place(found[0], name, name)


CHIP = re.compile(
    r"(?P<what>audio|af|synth|synthesi[sz]er|mixer|mod|modulator|if|vco|mic|tone|ctcss|control|driver|comp|alc) "
    r"(?:ic|chip)"
    r"(?: pin ?(?P<pin>\d+)| (?P<way>in|out)(?:put)?(?= ?[+-]?[\d.]))?(?![\w.])"
)


def _pin(rest: str) -> Place | None:
    if (chip := CHIP.match(rest)) is not None:
        name = f"{chip['what']} IC"
        more = f" pin {chip['pin']}" if chip["pin"] else f" {chip['way']}put" if chip["way"] else ""
        return Place(chip[0], name, name + more)
    if (way := re.match(r"(?P<part>ic\d+|u\d+) (?P<way>in|out)(?:put)?(?= ?[+-]?[\d.])", rest)) is not None:
        part = way["part"].upper()
        return Place(way[0], part, f"{part} {way['way']}put")
    for pattern in (
        rf"pin (?P<pin>\d+) (?:of |on )?(?P<part>ic\d+|u\d+|pll|(?:v|q|k|rl|t|x|s)\d{{1,3}}|{CONNECTOR})\b",
        r"(?P<part>ic\d+|u\d+|pll) ?(?:pin ?|p|/)(?P<pin>\d+)\b",
        r"(?P<part>(?:v|q|k|rl|t|x|s)\d{1,3}) ?pin ?(?P<pin>\d+)\b",
        rf"(?P<part>{CONNECTOR}) ?pin ?(?P<pin>\d+)\b",
    ):
        if (found := re.match(pattern, rest)) is not None:
            part = found["part"].upper()
            return Place(found[0], part, f"{part} pin {found['pin']}")
    return None


def _connector(rest: str) -> Place | None:
    """'mic pin 2', 'aerial plug shorted': a pin of a named plug; a plug by itself only where it is broken, since all
    that leaves a set is read at its socket."""
    found = re.match(rf"(?P<name>(?:{PLUGS}) (?:(?:plug|socket|jack) )?pin ?\d+)(?![\w.])", rest)
    if found is None:
        found = re.match(rf"(?P<name>(?:(?:{PLUGS}) )?(?:plug|socket|jack|so-?239|lead|connector)){BROKEN}", rest)
    return Place(found["name"], found["name"], found["name"]) if found is not None else None


WINDING = re.compile(
    r"(?P<of>(?:plate|anode|mains|power|ht|hv|filament|heater|bias|output|driver|input|interstage|audio) "
    r"(?:transformer|trafo|tx?fmr|choke)) (?P<side>pri(?:mary)?|sec(?:ondary)?)(?![\w])"
)


# 'bias diode open': a part that has no number, called by what it does
BROKEN_PART = re.compile(
    r"(?:bias|gate|base|emitter|collector|drain|driver|final|clamp|protection|reverse|polarity|switching|tx|rx|input|"
    r"output|screen|grid|cathode|plate|bleeder|dropper|smoothing|coupling|bypass|feedback|detector|agc|meter|relay|pa|"
    r"buffer|osc|vco|loop|mixer|audio|mod) (?:diode|transistor|fet|choke|coil|pot|preset|zener|thermistor)"
    r"(?= (?:is |was |reads |gone |measures )*(?:open|o/c|short|shorted|s/c|leaky|blown)\b)"
)


CONDUCTORS = re.compile(
    r"(?:inner|centre|center|core|centre pin|center pin|screen|braid) to (?:the )?"
    r"(?:screen|braid|outer|shield|body|shell|inner|core|earth|ground)(?![\w])"
)
SECTION = re.compile(r"(?P<of>c\d{1,3} )?(?P<printed>\d+)u section(?![\w])")


def _conductors(rest: str) -> Place | None:
    """'inner to screen': of a cable or a plug."""
    found = CONDUCTORS.match(rest)
    return None if found is None else Place(found[0], found[0], found[0].replace(" the ", " "))


def _section(rest: str) -> Place | None:
    """'c40 40u section': one capacitor of several in a can, by what is printed on it."""
    found = SECTION.match(rest)
    if found is None:
        return None
    name = f"{(found['of'] or '').upper()}{found['printed']} µF section"
    return Place(found[0], name, name)


def _broken_part(rest: str) -> Place | None:
    found = BROKEN_PART.match(rest)
    return None if found is None else Place(found[0], found[0], found[0])


def _winding(rest: str) -> Place | None:
    """'plate transformer primary': a winding of a named transformer."""
    found = WINDING.match(rest)
    if found is None:
        return None
    return Place(found[0], found["of"], f"{found['of']}{SIDES_NAMED[found['side']]}")


def _way_of_a_part(rest: str) -> Place | None:
    """'out of q7', 'input to l5': what comes out of a part, or goes into it."""
    found = re.match(rf"(?P<way>in|out)(?:put)? (?:of|to|into) (?:the )?(?P<part>{PART})(?![\w.])", rest)
    if found is None:
        return None
    part = found["part"].upper()
    return Place(found[0], part, f"{part} {found['way']}put")


def _between_parts(rest: str) -> Place | None:
    """'junction of r4 and r5', 'junction r4/r5': where two parts meet."""
    found = re.match(
        rf"(?:the )?(?:junction|joint|node) (?:of )?(?P<one>{PART})(?: and |[ /&+]+)(?P<two>{PART})\b", rest
    )
    if found is None:
        return None
    name = f"junction of {found['one'].upper()} and {found['two'].upper()}"
    return Place(found[0], name, name)


def _junction(rest: str) -> Place | None:
    found = re.match(r"(?P<part>(?:q|tr)\d+) (?P<a>[bcedgs])-?(?P<b>[bcedgs])(?![\w-])", rest)
    if found is None or found["a"] + found["b"] not in JUNCTIONS:
        return None
    part = found["part"].upper()
    return Place(found[0], part, f"{part} {JUNCTIONS[found['a'] + found['b']]}")


def _electrode_of(rest: str) -> Place | None:
    of_a_stage = re.match(
        rf"(?:the )?(?P<electrode>{_LONG}) of (?:the )?(?P<stage>driver|final|buffer|mixer|pa)\b", rest
    )
    if of_a_stage is not None:
        stage = vocabulary().facts[of_a_stage["stage"]][2]
        return Place(of_a_stage[0], stage, f"{stage} {ELECTRODES[of_a_stage['electrode']]}")
    found = re.match(rf"(?:the )?(?P<electrode>{_LONG}) of (?P<part>{PART})\b", rest)
    if found is None:
        return None
    part = found["part"].upper()
    return Place(found[0], part, f"{part} {ELECTRODES[found['electrode']]}")


def _part(rest: str) -> Place | None:
    """A part by its name, with the words that say what it is: 'ref diode d9', 'driver q21'."""
    if (called := CALLED.match(rest)) is not None and (named := _part(rest[called.end() :])) is not None:
        return replace(named, typed=called[0] + named.typed)
    if (
        stands := re.match(rf"(?P<part>{PART}) (?:on|in|at|by|near) (?:the )?(?P<where>{ON_A_PLACE})(?![\w'])", rest)
    ) is not None:
        part = stands["part"].upper()
        return Place(stands[0], part, part)  # 'c2 on mic socket leaky': where it sits is no other point
    if (between := _between(rest)) is not None:
        return between
    found = re.match(rf"(?:{_RELATION})?(?P<part>{PART})(?![\w.])", rest)
    if found is None:
        return None
    part, typed = found["part"].upper(), found[0]
    if found["relation"]:
        return Place(typed, part, f"{found['relation']} {part}")
    if called := CALLED_BEHIND.match(rest, found.end()):
        return Place(typed + called[0], part, part)  # 'd14 bpf switching diode open': what the part is
    if told := re.match(
        rf" (?:{_STAGES})(?= [bceg](?![\w])| (?:{_LONG})\b| (?:ip|ig|idle|bias)\b)", rest[found.end() :]
    ):
        typed += told[0]  # 'q18 regulator c 13.1': what the part does
    behind = rest[len(typed) :]
    side = _behind(behind, found["part"])
    return Place(typed + behind[: side[1]], part, f"{part}{side[0]}")


CALLED_BEHIND = re.compile(
    r"(?: [a-z]{2,}){0,3} "
    r"(?:diode|transistor|fet|choke|zener|thermistor|resistor|cap|capacitor|trimmer|load|crystal)"
    r"(?= (?:is |was |reads |gone |measures )*(?:open|o/c|short|shorted|s/c|leaky|blown)(?: circuit)?$)"
)


def _between(rest: str) -> Place | None:
    """What lies between two parts: 'r1 to c2', 'q1 collector to l3', and 'r52 to base', which is of no resistor."""
    found = re.match(
        rf"(?:{_RELATION})?(?P<part>{PART})(?: (?P<of>{_LONG}))? to (?:the )?"
        rf"(?:(?P<last>{PART})(?: (?P<of_last>{_LONG}))?|(?P<side>{_LONG}))(?![\w.'])",
        rest,
    )
    if found is None or (found["side"] and (found["of"] or HAS_ELECTRODES.match(found["part"]))):
        return None
    part = found["part"].upper()
    ends = [" ".join(filter(None, end)) for end in (
        (part, ELECTRODES.get(found["of"])),
        ((found["last"] or "").upper(), ELECTRODES.get(found["of_last"] or found["side"])),
    )]  # fmt: skip
    return Place(found[0], part, " to ".join(ends))


def _behind(behind: str, part: str) -> tuple[str, int]:
    """An electrode, a winding or a side behind a part's name: how the name goes on, and how long it was typed."""
    if found := re.match(rf" (?P<one>{_SIDE}) to (?P<two>{_SIDE})\b", behind):
        return f" {SIDES.get(found['one'], found['one'])} to {SIDES.get(found['two'], found['two'])}", found.end()
    if re.match(r"v\d", part) and re.match(r" (?:plate|screen|grid|anode)\b", behind):
        return "", 0  # of a valve they are quantities
    if found := re.match(rf" (?P<side>{_SIDE})\b", behind):
        return SIDES_NAMED[found["side"]], found.end()
    if (found := re.match(rf" (?P<electrode>{_LONG})\b", behind)) and not _says_what_it_is(part, behind):
        return f" {ELECTRODES[found['electrode']]}", found.end()
    if re.match(r"(?:vr|rv|p)\d", part) and (found := re.match(r" (?P<end>top|bottom|hot end|cold end)\b", behind)):
        return f" {found['end']}", found.end()
    if found := re.match(r" side\b", behind):
        return " side", found.end()
    if OF_A_TRANSISTOR.match(part) and (found := re.match(r" g([12])(?![\w.])", behind)):
        return f" gate {found[1]}", found.end()
    letters = next((known for of, known in LETTERS if of.match(part)), "")
    if letters and (found := re.match(rf" (?P<electrode>[{letters}]){_BEHIND_A_PART}", behind)):
        return f" {_electrode(found['electrode'], part)}", found.end()
    return "", 0


def _says_what_it_is(part: str, behind: str) -> bool:
    """'r12 emitter resistor' is what r12 is, and 'q12 emitter resistor' where."""
    called = re.match(r" \w+ (?:resistor|cap|capacitor|choke|coil|lead)\b", behind) is not None
    return called and re.match(r"[rcl]\d", part) is not None


LETTERS = ((OF_A_TRANSISTOR, "bcegds"), (OF_A_DIODE, "ak"), (re.compile(r"v\d"), "akg"))
SIDES_NAMED = {**{word: f" {name}" for word, name in SIDES.items()}, **OTHER_SIDES}


@cache
def _names() -> re.Pattern[str]:
    names = {
        w for w, (kind, _, _) in vocabulary().facts.items() if kind == "place" and w not in {"left", "right", "top"}
    }
    every = "|".join(sorted(map(re.escape, names), key=len, reverse=True))
    return re.compile(rf"(?:{_RELATION})?(?P<name>{every})(?![\w'])")


def _named(rest: str) -> Place | None:
    """A point by its name: 'buffer out', 'before the fuse', 'relay 3', 'module a'."""
    if found := re.match(
        r"(?P<side>left|right|upper|lower) (?P<what>gate|drain|base|collector|emitter|plate|grid)\b", rest
    ):
        return Place(found[0], found[0], found[0])
    if found := NUMBERED.match(rest):
        whole = f"{found['what']} {found['number']}"
        at = re.match(rf" (?P<side>{_LONG})(?![\w])", rest[found.end() :])
        electrode = f" {ELECTRODES[at['side']]}" if at else ""
        return Place(found[0] + (at[0] if at else ""), whole, whole + electrode)
    if found := re.match(r"(?:module|board|valve|tube|side|channel) (?P<which>[ab])(?![\w])", rest):
        return Place(found[0], found[0], found[0][:-1] + found["which"].upper())
    if (fed := re.match(r"supply (?:to|of|at) (?:the )?", rest)) and (stage := _named(rest[fed.end() :])) is not None:
        return Place(fed[0] + stage.typed, stage.of, f"{stage.name} supply") if stage.of in STAGES_NAMED else None
    found = _names().match(rest)
    if found is None:
        return None
    name = vocabulary().facts[found["name"]][2]
    if found["relation"]:
        whole = f"{found['relation']} {'the ' if name in WITH_ARTICLE else ''}{name}"
        return Place(found[0], name, whole)
    behind = rest[found.end() :]
    more, length = _part_of(name, found["name"], behind)
    whole, pin, _ = more.partition(" pin ")  # 'pa module pin 1 0.9v pin 2 13.4': of the module
    return Place(found[0] + behind[:length], whole if pin else name, more or name)


DEVICE = re.compile(rf" (?P<what>fet|transistor|device|mosfet|valve|tube)s? (?P<electrode>{_LONG})s?(?![\w])")


def _part_of(name: str, typed: str, behind: str) -> tuple[str, int]:
    """The whole name of a point with what stands behind it, and how long that was typed; its number, a way in or out, a
    side, an electrode."""
    if typed in STAGES and (device := DEVICE.match(behind)):
        return f"{name} {device['what']} {ELECTRODES[device['electrode']]}", device.end()
    return _way_or_number(name, typed, behind) or _side_of(name, behind)


def _way_or_number(name: str, typed: str, behind: str) -> tuple[str, int] | None:
    if rail := re.match(r" (rail|supply rail)(?![\w])", behind):
        return f"{name} {rail[1]}", rail.end()
    if pin := re.match(r"(?P<of> module| ic| chip| board)? pin ?(?P<pin>\d+)(?![\w.])", behind):
        return f"{name}{pin['of'] or ''} pin {pin['pin']}", pin.end()
    if name == "fuse" and (side := re.match(r" (in|out)(?= ?[+-]?[\d.])", behind)):
        return f"{'before' if side[1] == 'in' else 'after'} the fuse", side.end()
    if (typed in STAGES or name == "air") and (side := re.match(r" (in|out|input|output)(?![\w])", behind)):
        way = side[1].removesuffix("put")
        return f"{name} {way}{'' if name == 'air' else 'put'}", side.end()
    if number := re.match(r" (\d{1,2})(?![\w.])(?= (?:open|short|stuck|dead|ok|coil|contact))", behind):
        return f"{name} {number[1]}", number.end()
    return None


def _side_of(name: str, behind: str) -> tuple[str, int]:
    if side := re.match(r" (?P<v>v\d) side\b", behind):
        return f"{name} {side['v'].upper()} side", side.end()
    more = re.match(rf" (?P<side>{_SIDE}|{_LONG})(?:(?<=e)s)?(?![\w])", behind)
    if more is None:
        return "", 0
    return f"{name}{SIDES_NAMED.get(more['side']) or ' ' + ELECTRODES[more['side']]}", more.end()


def _side_alone(rest: str, last: str) -> Place | None:
    """'emitter 0.1', 'sec 48r', 'after 0': of the part that was named before, or of the hand's."""
    if not last and (ends := re.match(rf"(?P<a>[bcedgs])-(?P<b>[bcedgs]){_READS}", rest)):
        junction = JUNCTIONS.get(ends["a"] + ends["b"])
        return Place(ends[0], "", junction, follows=True) if junction else None
    if not last and (pin := re.match(r"pin ?(\d+)(?![\d.])(?= ?[+-]?[\d.])", rest)):
        return Place(pin[0], "", f"pin {pin[1]}", follows=True)
    named = (take(rest, last) for take in SIDES_ALONE) if last else ()
    found = next((place for place in named if place is not None), None)
    return found if found is not None else _electrode_alone(rest, last)


def _of_a_fuse(rest: str, last: str) -> Place | None:
    found = re.match(r"(in|out|before|after)(?= ?[+-]?[\d.])", rest) if last == "fuse" else None
    if found is None:
        return None
    return Place(found[0], last, f"{'before' if found[1] in {'in', 'before'} else 'after'} the {last}")


def _way_alone(rest: str, last: str) -> Place | None:
    """'driver in +10dbm out +31' ends on it; 'air 24c in 61c out'; 'swr 1.3 low end 2.2 top'."""
    if last in STAGES_NAMED and (found := re.match(r"(in|out)$", rest)):
        return Place(found[0], last, f"{last} {found[1]}put", follows=True)
    if last == "air" and (found := re.match(r"(in|out)(?![\w])", rest)):
        return Place(found[0], last, f"air {found[1]}", follows=True)
    if last.endswith("of the band") and (found := re.match(r"(top|bottom|middle)(?: end)?(?![\w])", rest)):
        return Place(found[0], last, f"{found[1]} of the band", follows=True)
    return None


def _winding_alone(rest: str, last: str) -> Place | None:
    if found := re.match(rf"(?P<side>{_WINDINGS})(?![\w])", rest):
        return Place(found[0], last, f"{last}{SIDES_NAMED[found['side']]}", follows=True)
    if found := re.match(r"(after|before)(?= ?[+-]?[\d.]+(?! ?(?:s|sec|min)))", rest):
        return Place(found[0], last, f"{found[1]} {last}", follows=True)
    return None


def _junction_alone(rest: str, last: str) -> Place | None:
    junction = re.match(rf"(?:(?P<a>[bce])(?P<b>[bce])(?= ?[\d.])|(?P<c>[bcedgs])-(?P<d>[bcedgs]){_READS})", rest)
    if junction is None or not OF_A_TRANSISTOR.match(last.lower()):
        return None
    name = JUNCTIONS.get("".join(end or "" for end in junction.groups()))
    return Place(junction[0], last, f"{last} {name}", follows=True) if name else None


def _pin_alone(rest: str, last: str) -> Place | None:
    """'ic6 pin3 12mv pin1 0': another pin of the same part, or of the one where the hand is."""
    found = (
        re.match(r"pin ?(\d+)(?![\d.])(?= ?[+-]?[\d.])", rest)
        if re.fullmatch(r"(?:IC|U|V|Q|K|RL)\d+|PLL|PA|.* (?:IC|module|chip|board)", last)
        else None
    )
    return Place(found[0], last, f"{last} pin {found[1]}", follows=True) if found is not None else None


# parts that are told apart by their place in a row; 'final 4 w' and 'stage 2' may be figures
NUMBERED = re.compile(
    r"(?P<what>device|fet|mosfet|transistor|tube|valve|bottle|pallet|module|section|cell|fan|blower|bank|element|pair)"
    r" (?P<number>[1-8])"
    r"(?![\d.\w])(?= (?:[a-z]+ )*[+-]?[\d.]+| (?!(?:k?w|m?v|m?a|k|c|r|ohms?|deg\w*)\b)[a-z]{2}|,)"
)
SIDES_ALONE = (_of_a_fuse, _pin_alone, _way_alone, _winding_alone, _junction_alone)


PRINTED_VALUE = re.compile(r"c ?[\d.]+ ?[unp]f?(?![\w])")  # 'added c 1u': of a capacitor


def _electrode_alone(rest: str, last: str) -> Place | None:
    """'c 8.7', 'gate 2.9v': of a valve, plate, grid and screen are quantities of their own."""
    known = next((letters for of, letters in LETTERS if of.match(last.lower())), "")
    short = known if known != LETTERS[0][1] and known else "bceg"
    of_letters = not last or known
    names = rf"{_LONG}|[{short}]" if of_letters and (last or not rest.startswith(("a", "k"))) else _LONG
    if PRINTED_VALUE.match(rest):
        return None
    found = re.match(rf"(?P<electrode>{names}){_AHEAD}", rest)
    if found is None or found["electrode"] in {"plate", "grid", "screen"}:
        return None
    if re.match(r"[a-z]{1,3}\d", last.lower()) and HAS_ELECTRODES.match(last.lower()) is None:
        return Place(found[0], "", _electrode(found["electrode"], ""), follows=True)  # 'fitted r17, collector 2.9v'
    head, _, end = last.rpartition(" ")
    stage = head if end in ELECTRODES.values() else last  # 'driver collector 12.9v, base 0.1v': of the same driver
    return Place(found[0], last, f"{stage} {_electrode(found['electrode'], last)}".strip(), follows=True)


def _electrode(letters: str, part: str) -> str:
    """What the letters of an electrode stand for: the g of a valve is its grid, and of anything else a gate."""
    return "grid" if letters == "g" and re.match(r"[vV]\d", part) else ELECTRODES[letters]
