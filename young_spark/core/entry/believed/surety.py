"""Whether a breath is believed: a sure and wrong reading is the worst that the field can give."""

import math
import re
from collections.abc import Mapping, Sequence
from functools import cache, partial
from itertools import pairwise

from pydantic import RootModel

from young_spark.core.entry.believed.at_odds import is_at_odds
from young_spark.core.entry.believed.bare_watts import has_bare_watts
from young_spark.core.entry.believed.left_out import leaves_something_out
from young_spark.core.entry.believed.misread import is_misread
from young_spark.core.entry.believed.read_at import is_placed_oddly
from young_spark.core.entry.believed.stolen_labels import has_a_stolen_label
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.facts.fact import AS_TYPED, Fact
from young_spark.core.entry.facts.meaning import EntryContext
from young_spark.core.entry.facts.said import Breath, Said
from young_spark.core.entry.wording.vocabulary import manner, vocabulary
from young_spark.core.figure import Conditions
from young_spark.core.ground import SHIPPED, load

SHORT_OF = {"x", "between"}  # of a figure that is still missing
SHORT = 2  # words: a quantity and little more is a question for its figure
LONGEST_REMARK = 4  # words; more of them than that say something of their own
LONGEST_SENTENCE = 9  # words around figures that are all named and carry their units: 'modulation reaches 85 percent …'
# what a quantity is of a whole unit, at rest or not; then what a unit can be
POSSIBLE = {
    ("supply_current", True): (0.0, 10.0),
    ("supply_voltage", False): (3.0, 60.0),
    ("supply_voltage", True): (3.0, 60.0),
    ("swr", False): (1.0, 50.0),
    ("idle_current", False): (0.0, 2.4),
    ("plate_current", False): (0.0, 10.0),
    ("grid_current", False): (-0.1, 3.0),
}
OF_A_UNIT = {"W": (1e-9, 1e5), "%": (-400.0, 400.0), "A": (-1e3, 1e3), "V": (-1e5, 1e5)}
UNIT_WORDS = {
    "hr",
    "hrs",
    "hour",
    "mm",
    "cm",
    "inch",
    "ma",
    "mv",
    "mw",
    "khz",
    "mhz",
    "hz",
    "dbm",
    "uv",
    "ua",
    "amps",
    "volts",
    "watts",
    "ohms",
}
# it did not happen; or it happened at another time, or says how the unit was fed
NOTHING_TURNS = re.compile(
    r"\b(?:no|without|never) (?:trips?|arcs|limiting|touch|protection)\b|\btrips? (?:at|after|in) \d+ ?\w+"
    r"|\bif (?:amp|strip|stage)\b|\bat (?:the )?trip\b|\blimited (?:to |at )?\d[\d.]* ?m?a\b"
    r"|\bfan (?:on|off|running|stopped)\b"
    r"|\b(?:all |everything )?(?:is |are )?(?:well )?(?:with)?in(?:side)? (?:the )?(?:limits?|spec\w*|tolerances?)\b"
    r"|^trip$|\btrips$|\b(?:spec|limit)(?: is| of)? [+-]?[\d.]+ ?(?:ppm|k?hz|m?w|%|db\w?|uv|m?[av])(?![\w])"
)
DOUBTED = re.compile(r"[a-z]{3,}\?")  # 'dead relay?': a thought, and nothing that was seen
LEAST_AMPS, LEAST_EFFICIENT_V = 5.0, 2.5  # a sender that makes a watt of nine of them, from 13.8 V, draws less
FIGURE_DOUBTED = re.compile(r"\?$|\d\?")  # 'peaks 150?'
WHERE_DOUBTED = re.compile(r"\bch(?:annel)? ?\d+ ?\?")  # 'ch 29?'
FARTHEST_OVER = 1.5  # of what the unit can give at most


class _Possible(RootModel[dict[str, tuple[float, float]]]):
    """The data file: what each quantity can be at all, in its own unit."""


@cache
def possible() -> dict[str, tuple[float, float]]:
    """What each quantity can be at all."""
    return load(SHIPPED / "entry" / "possible.toml", _Possible).root


@cache
def turning() -> frozenset[str]:
    """Words that turn a figure into something that was not read, where nothing else explained them: what is due, rated,
    set, fitted, tried, or only told of."""
    return frozenset(vocabulary().file.words["turning"])


@cache
def doubting() -> frozenset[str]:
    """Words that may turn a figure, or only stand beside one: with them it is asked about."""
    return turning() | frozenset(vocabulary().file.words["doubting"])


def is_no_reading(breath: Breath, facts: Sequence[Fact]) -> bool:
    """Whether a text that gives no reading is a line of words, and no question: it says what is due, tried or missing,
    or it is mostly words that are no figure's."""
    told_beside = sum(len(f.text.split(" ")) for f in facts if f.of == AS_TYPED)
    beside = _words_beside(breath) - told_beside
    long = breath.sure and beside > _longest_remark(breath) and not _is_spoken_of(breath)
    return is_told(breath, facts) or long or _is_mostly_words(breath, facts)


MEASURED_IN = {"W", "V", "A", "dBm", "dBc", "dB", "uV", "%", "°C", "Hz", "k", "Ω", "Vpp", "Vrms"}


def is_told(breath: Breath, facts: Sequence[Fact]) -> bool:
    """Whether a text says what is due, tried or missing: no figure of it was read."""
    named = any(f.kind == "quantity" and after.kind == "figure" for f, after in pairwise(facts))
    measured = named or any(f.kind == "figure" and f.unit in MEASURED_IN for f in facts)
    due = (turning() if measured else doubting()) - SHORT_OF
    due = due - {word for f in facts if f.of == AS_TYPED for word in f.text.split(" ")}
    told = (breath.sure and _turns(breath, due)) or (not breath.said and any(f.text in due for f in facts))
    return told or _is_missing(facts) or is_denied(breath, facts)


# with one of them in front of it, no result was seen: 'q9 isn't short', 'if d4 is open', 'thought q9 was short'
DENYING = frozenset(
    {
        "not", "never", "neither", "nor", "without", "hardly", "barely", "free", "isnt", "arent", "wasnt", "werent",
        "doesnt", "dont", "didnt", "cant", "cannot", "if", "whether", "unless", "thought", "suspect", "suspected",
        "suspecting", "suspicious", "maybe", "perhaps", "probably", "possibly", "might", "could", "rules", "ruled",
    }
)  # fmt: skip
NO, OF_NO = "no", {"sign", "signs", "of", "a", "any", "more", "longer", "trace", "hint"}  # 'no sign of a short'


def is_denied(breath: Breath, facts: Sequence[Fact]) -> bool:
    """Whether a clause says that something is not so, or not sure, which it would be read as."""
    results = {said.result for said in breath.said} - {None}
    denied, no = False, False
    for fact in facts:
        if fact.fresh:
            denied = no = False
        if fact.kind == "result" and fact.text != NO and (denied or no):
            return fact.is_ in results
        denied = denied or (fact.kind in {"word", "link"} and (fact.text in DENYING or fact.text.endswith("n't")))
        no = fact.text == NO or (no and fact.text in OF_NO)
    return False


def _words_beside(breath: Breath) -> int:
    """How many words stay beside the figures; where else it was the same is none that speaks against them."""
    return len(SAME_ELSEWHERE.sub(" ", breath.remark).split())


def _is_spoken_of(breath: Breath) -> bool:
    """Whether every figure of a breath carries its unit and a name or a place: many words beside are a question."""
    figures = [said for said in breath.said if not said.derived]
    return all(said.in_its_unit and (said.named or said.address.get("place")) for said in figures)


SAME_ELSEWHERE = re.compile(r"(?:about )?(?:the )?same (?:on|at|in)\b.*$")


def _longest_remark(breath: Breath) -> int:
    """How many words may stay beside the figures of a breath: a whole sentence, where each is named in it."""
    figures = [said for said in breath.said if not said.derived]
    spoken = all(said.named and (said.in_its_unit or said.unit == "1") and said.result is None for said in figures)
    return LONGEST_SENTENCE if figures and spoken else LONGEST_REMARK


def _is_missing(facts: Sequence[Fact]) -> bool:
    """'no 8v on tx': what is missing was not read."""
    alone = sum(f.kind == "figure" for f in facts) == 1
    return alone and any(f.text == "no" and after.kind == "figure" for f, after in pairwise(facts))


def _is_mostly_words(breath: Breath, facts: Sequence[Fact]) -> bool:
    names = any(f.kind in {"quantity", "result"} for f in facts)
    if not any(f.kind == "figure" for f in facts):
        return not names or sum(f.of != AS_TYPED for f in facts) > SHORT
    words = sum(f.kind == "word" and f.text.isalpha() for f in facts)
    return not breath.said and words >= SHORT and not names


def turns(breath: Breath) -> bool:
    """Whether a word says that the figures were due, set or told of, and not read."""
    return _turns(breath, turning())


def _turns(breath: Breath, words: frozenset[str]) -> bool:
    """Whether a word of the remark makes the figures something that was not read. What trips behind its figure was."""
    remark = NOTHING_TURNS.sub(" ", breath.remark)
    if all(said.named for said in breath.said):
        remark = ALL_OF_THEM.sub(" ", remark)  # 'input swr 1.3 all bands', and not 'all bands 100w'
    return remark != "and trips" and not words.isdisjoint(remark.split())


ALL_OF_THEM = re.compile(r"\b(?:on |across |over )?(?:all|every) (?:bands?|channels?|modes?)\b")
OF_A_BATTERY = {
    "supply_voltage", "supply_current", "dc_voltage", "dc_current", "resistance", "temperature", "condition", "ripple",
    "capacitance",
}  # fmt: skip


def _is_doubted(breath: Breath, plain: str) -> bool:
    """Whether a word of the remark makes of the figures what was not read; what is marked as told beside them does
    not."""
    marked = {word for fact in cut(plain) if fact.of == AS_TYPED for word in fact.text.split(" ")}
    if all(said.named and said.in_its_unit for said in breath.said if not said.derived):
        marked |= OF_ALL  # 'drive 8w all', 'heater pins 6.2v each, both valves'
    denied = is_denied(breath, cut(plain)) or _is_a_figure_denied(breath, plain)
    return _turns(breath, doubting() - marked) or denied


def _is_a_figure_denied(breath: Breath, plain: str) -> bool:
    """'8v line isn't 8v', 'thought it was 3.9w': the figure behind such a word, of its clause, is what was not read;
    how far something never came is a bound, and is."""
    beside = set(breath.remark.split())
    denied = False
    read = {said.at for said in breath.said}  # '2nd 58 not 48': what it is not stands beside what it is
    for n, fact in enumerate(cut(plain)):
        denied = denied and not fact.fresh
        word = fact.kind in {"word", "link"} and fact.text in beside
        denied = denied or (word and (fact.text in DENYING - OF_A_BOUND or fact.text.endswith("n't")))
        if denied and fact.kind == "figure" and (n in read or not read - {-1}):
            return not any(said.bound for said in breath.said)
    return False


OF_A_BOUND = frozenset({"barely", "hardly", "if", "unless", "free", "without"})


def is_believable(breath: Breath, plain: str, context: EntryContext) -> bool:
    """Whether every reading of a breath may be taken without asking."""
    if (
        _says_too_much(breath, plain)
        or _is_doubted(breath, plain)
        or _has_a_lone_unit(breath)
        or is_at_odds(breath, context)
    ):
        return False
    if not all(_is_spoken(said) and is_possible(said, context) for said in breath.said):
        return False
    if _is_of_something_else(breath, plain, context) or _is_asked_by_the_hand(breath, plain):
        return False
    if (
        is_placed_oddly(breath)
        or is_misread(breath, plain)
        or leaves_something_out(breath, plain)
        or has_a_stolen_label(breath, cut(plain))
    ):
        return False
    return tells_apart(breath) and not _leans_on_a_stranger(breath) and not _is_wanted_beside_another(breath)


def _says_too_much(breath: Breath, plain: str) -> bool:
    """Whether more words stay beside the figures than a remark has; those that are marked as told beside figures in
    their units do not count."""
    measured = all(said.in_its_unit for said in breath.said if not said.derived)
    told = sum(len(f.text.split(" ")) for f in cut(plain) if f.of == AS_TYPED) if measured else 0
    return _words_beside(breath) - told > _longest_remark(breath)


OF_ALL = {"all", "pins", "bands", "channels"}


def _is_asked_by_the_hand(breath: Breath, plain: str) -> bool:
    """'gain 28.5 low?', 'ch 29?', 'dead relay?': a sign that the hand doubts a bare figure, where, or what it saw."""
    bare = any(not (said.in_its_unit or said.result) for said in breath.said)
    seen = any(said.result for said in breath.said)
    return bool(
        WHERE_DOUBTED.search(plain) or (bare and FIGURE_DOUBTED.search(plain)) or (seen and DOUBTED.search(plain))
    )


def _is_two_at_one_point(breath: Breath) -> bool:
    """'144 out 2.1w should be 10': a bare figure beside one with its unit, both of one quantity at one point."""
    read = [(said, _point(said)) for said in breath.said if not said.derived and said.value is not None]
    for said, point in read:
        others = [other for other, there in read if other is not said and there == point]
        if said.unit == "W" and not said.in_its_unit and any(other.in_its_unit for other in others):
            return True
    return False


def _point(said: Said) -> tuple[object, ...]:
    where = {name: value for name, value in said.address.items() if not name.startswith("due")}
    return said.quantity, tuple(sorted((name, str(value)) for name, value in where.items()))


def _is_of_no_battery(said: Said) -> bool:
    """A carrier of a battery was misread."""
    return said.address.get("item") == "battery" and said.quantity not in OF_A_BATTERY


def _is_no_amplifier(breath: Breath, context: EntryContext) -> bool:
    """'input 11.2w output 5.3w' of a transmitter: what its final is fed with, and no drive."""
    driven = next((said.value for said in breath.said if said.quantity == "drive_power" and said.value), None)
    sent = next((said.value for said in breath.said if said.quantity == "carrier_power" and said.value), None)
    if driven is None or sent is None or driven < sent:
        return False
    return not any(point.quantity == "drive_power" for point in context.points)


def _is_volts_of_a_drain(said: Said, plain: str, context: EntryContext) -> bool:
    """'drain both 13.7': a bare figure as high as what feeds the unit may be volts, and no amps that it drains."""
    fed = context.last("supply_voltage")
    volts = NOMINAL_V if fed is None else fed.value
    bare = said.quantity == "supply_current" and not said.in_its_unit and said.value is not None
    return (
        bare and re.search(r"\bdrains?\b", plain) is not None and abs((said.value or 0.0) / volts - 1) < NEAR_ITS_FEED
    )


NOMINAL_V, NEAR_ITS_FEED = 13.8, 0.2


def _is_of_something_else(breath: Breath, plain: str, context: EntryContext) -> bool:
    others = (
        _is_of_no_battery,
        partial(_is_volts_of_a_band, plain=plain),
        partial(_is_volts_of_a_drain, plain=plain, context=context),
    )
    if any(other(said) for other in others for said in breath.said):
        return True
    if not breath.in_rows and _is_two_at_one_point(breath):
        return True
    read = {said.quantity or "": said.value or 0.0 for said in breath.said if not said.derived}
    if may_be_products(read, plain, context) or has_bare_watts(breath, cut(plain), context):
        return True
    return _feeds_a_stage(breath) or _is_led_by_strangers(breath, plain) or _is_no_amplifier(breath, context)


def may_be_products(read: Mapping[str, float], plain: str, context: EntryContext) -> bool:
    """'3rd -31 5th -38' of a sideband set: harmonics past a bad filter, or the products of a two-tone test. `read` are
    the values by their quantity."""
    orders = {"harmonic_3", "harmonic_5"} <= read.keys() and not {"harmonic_2", "harmonic_4"} & read.keys()
    strong = all(abs(read.get(f"harmonic_{n}", 0.0)) <= STRONGEST_HARMONIC_DB for n in (3, 5))
    return orders and strong and HARMONICS.search(plain) is None and bool({"usb", "lsb"} & set(context.modes))


STRONGEST_HARMONIC_DB = 43.0  # below the carrier: what 47 CFR 97.307(d) lets leave a short-wave transmitter
HARMONICS = re.compile(r"\b(?:h\d|\d ?h|harm\w*)\b")


def _is_volts_of_a_band(said: Said, plain: str) -> bool:
    """'l8 squeezed, 20m 10.4': what is read on a band is none of a part's volts or ohms."""
    of_a_part = said.quantity in {"dc_voltage", "resistance"} and not (said.named or said.in_its_unit)
    return of_a_part and any(f.kind == "where" and f.of in {"band", "channel"} for f in cut(plain))


def _is_led_by_strangers(breath: Breath, plain: str) -> bool:
    """'iso port 0.4w': two words that nobody knows, directly in front of a power that nobody names, are where it was
    read."""
    if not any(said.unit == "W" and not said.named and not _has_a_place(said) for said in breath.said):
        return False
    facts = cut(plain)
    return any(
        f.kind == "figure" and f.unit == "W" and n >= STRANGERS and all(map(_is_strange, facts[n - STRANGERS : n]))
        for n, f in enumerate(facts)
    )


STRANGERS = 2


def _is_strange(fact: Fact) -> bool:
    return fact.kind == "word" and fact.text.isalpha() and fact.text not in manner()


def _feeds_a_stage(breath: Breath) -> bool:
    """'ic speaker amp 3.7v vcc': volts that feed something inside, and not the unit."""
    words = set(breath.remark.split())
    fed = any(said.quantity == "supply_voltage" and "place" not in said.address for said in breath.said)
    sent = [str(said.address.get("place", "")) for said in breath.said if said.quantity == "carrier_power"]
    by_place = not FEEDING.isdisjoint(sent)
    return by_place or (fed and not FED.isdisjoint(words)) or ("" in sent and not FEEDING.isdisjoint(words))


FEEDING = {"regulator", "reg", "rail", "zener", "zener feed", "detector"}  # volts, and no power
FED = {
    "zener", "feed", "ic", "chip", "amp", "regulator", "reg", "rail", "line", "bus", "driver", "buffer", "osc", "stage",
    "vco", "pll", "cpu", "board", "module", "relay", "display",
}  # fmt: skip


def _is_wanted_beside_another(breath: Breath) -> bool:
    """'lsb 4.2' behind a peak power where amps are wanted: beside a figure in another unit, the current line alone
    does not say of which a bare one is."""
    units = {said.unit for said in breath.said if not said.derived and said.result is None}
    apart = len(units) > 1 and units != {"W", "%"}  # 'am 3.9 90%': a carrier and its depth
    return apart and any(said.as_wanted for said in breath.said)


def _has_a_lone_unit(breath: Breath) -> bool:
    """A unit that is no figure's own: 'pa ma dips to 68'; 'couple of watts' is a figure."""
    words = IN_ITS_UNIT.sub(" ", breath.remark).split()
    return not UNIT_WORDS.isdisjoint(words) and not any(said.about for said in breath.said)


IN_ITS_UNIT = re.compile(r"(?<![\w.])\d+(?:\.\d+)? [a-z]+\b")


def _leans_on_a_stranger(breath: Breath) -> bool:
    """A figure that only the slip says the quantity or the place of, beside words that nobody explained: it may be
    anything."""
    named = {said.quantity for said in breath.said if said.named}
    rows = [
        said.leans and said.quantity in named and (_has_a_place(said) or not said.where_added or _is_in_a_state(said))
        for said in breath.said
    ]
    borrowed = any(
        (said.leans and not of_a_row) or said.lent or _is_bare_at_a_part(said)
        for said, of_a_row in zip(breath.said, rows, strict=True)
    )
    strangers = {word for word in breath.remark.split() if not word.lstrip("+-").replace(".", "", 1).isdigit()}
    return borrowed and not manner().issuperset(strangers)


def _is_in_a_state(said: Said) -> bool:
    """'supply at plug 11.2v on tx, 12.9 rx': what feeds the unit is told apart by how it stands."""
    return said.quantity in {"supply_voltage", "supply_current"} and "state" in said.address


PART_ALONE = re.compile(r"[A-Z]{1,3}\d+|[a-z ]+")


def _is_bare_at_a_part(said: Said) -> bool:
    """'vr7 for null, 52 both': neither a name nor a unit, and only the part it stands beside makes ohms or volts of it;
    an electrode, a pin or a test point is looked at for its volts."""
    bare = said.quantity in {"dc_voltage", "resistance"} and not (said.named or said.in_its_unit or said.result)
    place = str(said.address.get("place"))
    if bare and place.endswith(" wiper") and said.quantity == "resistance":
        return True  # 'vr12 wiper 5.7': volts as well
    of_itself = said.quantity == "resistance" and re.fullmatch(r"R\d+", place) is not None  # 'r2 470 5w meas 560'
    return bare and not of_itself and PART_ALONE.fullmatch(place) is not None


def _has_a_place(said: Said) -> bool:
    """'swr on the aerial 4.2, on the load 1.05': each of a row stands at a place of its own."""
    return bool({"item", "place"} & said.address.keys()) and not said.lent


def _is_spoken(said: Said) -> bool:
    return said.quantity is not None


def is_possible(said: Said, context: EntryContext) -> bool:
    """Whether a figure can be at all, of this unit."""
    value = said.value if said.value is not None else said.high
    if value is None or said.derived:
        return True
    if value != 0 and not _can_be_at_all(said.quantity or "", value):
        return False
    if _is_where_it_cannot_be(said, context):
        return False
    if _is_of_no_such_set(said, value, context):
        return False
    return bool(said.address.get("place")) or _is_possible_of_a_unit(said, value, context)


def _is_of_no_such_set(said: Said, value: float, context: EntryContext) -> bool:
    """'s9 60uv, now 100uv', which is nobody's sensitivity; a deviation of a set without FM."""
    of = said.quantity or ""
    deaf = of.startswith("sensitivity_") and not said.named and value > MOST_BARE_SENSITIVITY_DBM
    return deaf or (of.startswith("fm_deviation") and bool(context.modes) and "fm" not in context.modes)


def _is_where_it_cannot_be(said: Said, context: EntryContext) -> bool:
    """'4.7w +90hz dev 4.6' of a set for 145 MHz: what the text says is a frequency is far from all that it works on."""
    at = said.address.get("frequency_hz")
    known = [hz for hz in (*(p.frequency_hz for p in context.points), context.conditions.frequency_hz) if hz]
    if said.where_added or not isinstance(at, float) or not known:
        return False
    return at < min(known) / FAR_OFF_TIMES


FAR_OFF_TIMES = 12.0  # the lowest band of a set lies nearer; upwards nobody mistakes volts for gigahertz
MOST_BARE_SENSITIVITY_DBM = -80.0  # 22 µV: no receiver is so deaf, unless somebody says that it is its sensitivity
NO_WATTS = 7.0  # times the most that a unit gives, where no unit says that they are watts
SENT = {"carrier_power", "peak_envelope_power", "mean_power"}


def _is_possible_of_a_unit(said: Said, value: float, context: EntryContext) -> bool:
    most = context.greatest_power_w
    if most is not None and (_is_beyond(said, value, most) or _is_no_level_of_it(said, value, most, context)):
        return False
    at_rest = said.address.get("state") in {"standby", "receive"}
    if value == 0:
        return True  # nothing can be read of anything
    if said.address.get("item") == "battery" and said.quantity == "supply_voltage":
        return LEAST_CELL_V <= value <= OF_A_UNIT["V"][1]
    low, high = POSSIBLE.get((said.quantity or "", at_rest), OF_A_UNIT.get(said.unit, (-math.inf, math.inf)))
    return low <= value <= high


def _is_beyond(said: Said, value: float, most: float) -> bool:
    """Whether a figure is far from what a unit draws or sends that gives so many watts at most: 'tx 14.2a pep 2182' are
    kilohertz, 'tx 433.5 hi: 0 w' megahertz."""
    if said.quantity == "supply_current":
        return value > LEAST_AMPS + most / LEAST_EFFICIENT_V
    return said.quantity in SENT and value > NO_WATTS * most and (said.leans or not said.in_its_unit)


def _is_no_level_of_it(said: Said, value: float, most: float, context: EntryContext) -> bool:
    """'mod 88 pct at -10dbm line', 'audio line out 0dbm': decibels far under what the unit sends, where no pad stands
    between it and the meter."""
    in_decibels = said.typed is not None and said.typed.unit in {"dBm", "dBw"}
    padded = context.path is not None or "pad_db" in said.address or bool(context.conditions.pad_db)
    return said.quantity in SENT and in_decibels and not padded and value < LEAST_SENT * most


LEAST_SENT = 1e-3  # of the most that a unit gives, where only decibels of a milliwatt say that it is a power
LEAST_CELL_V = 0.3  # of a flat one


def _can_be_at_all(quantity: str, value: float) -> bool:
    low, high = possible().get(quantity, (-math.inf, math.inf))
    return low <= value <= high


def tells_apart(breath: Breath) -> bool:
    """Whether no two readings of one quantity stand at the same place."""
    in_pairs = breath.in_rows and len({said.quantity for said in breath.said}) > 1  # of what goes in and comes out
    if in_pairs or "as found" in breath.remark:
        return True
    seen: set[tuple[object, ...]] = set()
    for said in breath.said:
        where = tuple(sorted((k, str(v)) for k, v in said.address.items() if k in Conditions.model_fields))
        key = (said.quantity, where)
        if key in seen:
            return False
        seen.add(key)
    return True
