"""Names to figures: for the line as a whole, names lead their figures or trail them; a unit that does not go with a
quantity is never bound to it."""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import BETWEEN_TWO, Sentence
from young_spark.core.entry.naming.which_quantity import ELECTRODE_OF
from young_spark.core.entry.wording.vocabulary import manner, vocabulary
from young_spark.core.figure import QUANTITIES

LEADS, TRAILS = 10.0, 6.0  # worth of a name bound on its own side, and on the other
# units that make a named quantity another one: depth in kHz is deviation, hum in volts is ripple
ALSO: dict[str, tuple[str, ...]] = {
    "am_depth": ("Hz",), "hum_and_noise": ("V", "%"), "drive_power": ("1",), "sinad": ("uV", "dBm"),
    "input_swr": ("W",), "leakage_current": ("Ω",), "carrier_power": ("Hz", "m", "dB"), "audio_power": ("V",),
}  # fmt: skip
SENT = {"peak_envelope_power", "mean_power", "carrier_suppression", "needle_on_audio"}
MOST_ERROR_PERCENT = 0.1
# positions of a wattmeter's switch
SWITCHES = {"pk": "peak", "peak power": "peak", "peak": "peak", "avg": "average", "average power": "average"}
LOST = 8.0  # of a name that neither side has a figure for
MOST_ERROR_HZ = 1e5
SAID_DECIMALS = 3  # of a MHz that a hand says where it is
# words before 'current' that leave it the unit's
OF_THE_UNIT = {
    "total", "overall", "psu", "bench", "max", "maximum", "peak", "normal", "whole", "set", "radio", "rig", "unit",
    "mean", "average", "full", "carrier", "rest", "resting", "the", "its", "now", "no", "and", "with",
}  # fmt: skip
COUNTED_AS = {"reads", "meas", "measures", "measured"}  # between what was set and what was counted
MOST_COUNTED_MHZ = 1300.0
MORE_DECIMALS = 2  # of a counter than of who says where it was
SAME_CARRIER = 0.004
SAME_TO_A_HERTZ = 1e-8
FARTHEST = 2  # figures that a name looks at on each side


def bind_names(s: Sentence) -> None:
    """Give every figure the quantity that its word says."""
    _coarse_and_counted(s)
    _drive_to_output(s)
    _what_is_no_name(s)
    for n in s.free("quantity"):
        dips = any(f.text.startswith("dip") for f in s.facts)  # 'dip and peak same'
        if s.facts[n].text == "peak" and (dips or not any(i.fact.unit == "W" for i in s.items)):
            s.facts[n] = replace(s.facts[n], kind="word")
    _orders_of_products(s)
    _anode_of_a_diode(s)
    _grid_of_a_valve(s)
    _drive_in_volts(s)
    _audio_in_volts(s)
    _on_an_electrode(s)
    _halves(s)
    _of_a_noun(s)
    _high_tension_at_rest(s)
    _fed_at_rest(s)
    _switched_off(s)
    _heated(s)
    _hum_in_volts(s)
    _stage_of_an_electrode(s)
    _fitted_in(s)
    _watts_in_and_out(s)
    _drive_in_output(s)
    names = [n for n in s.free("quantity") if not s.has_text(n - 1, "no")]
    first = min([*names[:1], *s.free("place")[:1]], default=-1)
    free = [i for i in s.items if i.quantity is None]
    leads = not free or not names or first < free[0].at or _ends_named(s, names)
    best = max((_bound(s, names, order) for order in (leads, not leads)), key=lambda b: b[0])
    for name, item in best[1].items():
        item.quantity = _as_planned(s, name)
        if (switch := SWITCHES.get(s.facts[name].text)) is not None:
            item.address.setdefault("detector", switch)
        s.take(name)
    _of_something_else(s, best[1])
    _fed_in_front(s)
    _sags_under_load(s)
    _two_of_one_name(s)
    _both_ends(s)
    for name in names:  # two words for one figure: 'carrier … suppression', 'power output'
        if name not in s.taken and _says_the_same(s, name):
            s.take(name)
            _more_exactly(s, name)


def idle_is_standby(s: Sentence) -> None:
    """'psu 13.8 idle .24 rx .38' of a set whose plan wants amps at standby and no bias: what it draws at rest."""
    if s.ground.wanted_at_all("idle_current") or not s.ground.is_fed_at_rest:
        return
    states = any(f.of == "state" and f.is_ in {"receive", "transmit"} for f in s.facts)
    for n in s.free("quantity") if states else ():
        if s.facts[n].text == "idle" and s.item_at(n + 1) is not None:
            s.facts[n] = Fact("how", "idle", of="state", is_="standby", fresh=s.facts[n].fresh)


def _what_is_no_name(s: Sentence) -> None:
    """'speaker 8ohm ok, af ic out 0v': a part by its ohms; 'current rx 0.4 tx 5.2 pk': of amps, at their peak."""
    amps = any(s.facts[n].text in {"current", "draws", "amps"} for n in s.free("quantity"))
    for n in s.free("quantity"):
        after = s.item_at(n + 1)
        if s.facts[n].of == "audio_power" and s.has_text(n, *SPEAKERS) and after is not None and after.fact.unit == "Ω":
            s.facts[n] = replace(s.facts[n], kind="place", of="speaker", is_="speaker")
        elif s.facts[n].of == "steady_power" and n > 0 and s.facts[n - 1].kind == "quantity":
            s.facts[n] = replace(s.facts[n], kind="word")  # 'mod settled at 85%', 'power steady at 3.8w'
            s.take(n)
            s.keep_words.add(n)
        elif s.facts[n].of == "plate_voltage" and _is_where_it_ripples(s):
            s.facts[n] = replace(s.facts[n], kind="place", of="ht", is_=s.facts[n].text)
        elif s.facts[n].text == "pk" and amps and after is None and not any(i.fact.unit == "W" for i in s.items):
            s.facts[n] = replace(s.facts[n], kind="word")


def _fed_in_front(s: Sentence) -> None:
    """'13.8 1.7a tx .3 rx': a bare figure as high as what feeds the unit, in front of what it draws in its states."""
    first, rest = s.items[0] if s.items else None, s.items[1:]
    states = any(f.of == "state" for f in s.facts)
    if first is None or first.at != 0 or first.quantity is not None or not states or len(rest) < LEAST_STATES:
        return
    fact, amps = first.fact, {item.fact.unit for item in rest}
    known = [*s.ground.frequencies, *s.ground.channel_hz.values()]
    tuned = any(abs(fact.value * 1e6 / hz - 1) < SAME_BAND for hz in known)
    if fact.unit is None and fact.decimals == 1 and fact.may_feed and "A" in amps <= {"A", None} and not tuned:
        first.quantity = "supply_voltage"
        for item in rest:
            item.quantity = item.quantity or "supply_current"


LEAST_STATES, SAME_BAND = 2, 0.08


def _sags_under_load(s: Sentence) -> None:
    """'psu 50.1 standby 48.1 loaded 14a': volts a little below those in front of them, as they stand under load."""
    for one, other in pairwise(s.items):
        bare = other.quantity is None and other.fact.unit is None and other.fact.decimals > 0
        named = one.quantity == "supply_voltage" and one.fact.value > 0
        labelled = (behind := s.fact(other.at + 1)) is not None and behind.kind == "how"
        if bare and named and labelled and LEAST_LEFT < other.fact.value / one.fact.value <= 1:
            other.quantity = "supply_voltage"


LEAST_LEFT = 0.85


def _orders_of_products(s: Sentence) -> None:
    """'28.5: 3rd -28 5th -39' behind the products of two tones: of these, and no harmonics."""
    newest = s.ground.last[0] if s.ground.last else ""
    harmonics = any(f.of == "harmonic_2" or f.text.startswith("harm") for f in s.facts)
    if harmonics or not newest.startswith("imd"):
        return  # '2nd -58 3rd -64': an even order is a harmonic, and so are those beside it
    for n in s.free("quantity"):
        product = f"imd{s.facts[n].of.removeprefix('harmonic_')}"
        if s.facts[n].text in ORDERS and product in QUANTITIES:
            s.facts[n] = replace(s.facts[n], of=product, is_=product)


ORDERS = {"3rd", "third", "5th", "fifth", "7th", "seventh"}


def _anode_of_a_diode(s: Sentence) -> None:
    """'d18, the usb switch, 0v anode': of no valve."""
    diodes = [n for n, f in enumerate(s.facts) if f.kind == "place" and DIODE.fullmatch(f.of)]
    for n in s.free("quantity"):
        if diodes and s.facts[n].text == "anode":
            part = s.facts[diodes[-1]]
            s.facts[diodes[-1]] = replace(part, is_=f"{part.is_} anode")
            s.take(n)


def _grid_of_a_valve(s: Sentence) -> None:
    """'v1 plate 118v, grid 0, cathode 1.1': beside the volts of other electrodes, a bare figure is volts."""
    valves = {f.of for f in s.facts if f.kind == "place" and VALVE.fullmatch(f.of)}
    volts = any(i.fact.unit == "V" for i in s.items) or any(f.text in {"cathode", "k"} for f in s.facts)
    for n in s.free("quantity"):
        bare = (item := s.item_at(n + 1)) is not None and item.fact.unit is None
        if s.facts[n].text in {"grid", "g"} and bare and volts and len(valves) == 1:
            (valve,) = valves
            s.facts[n] = replace(s.facts[n], kind="place", of=valve, is_=f"{valve} grid")


def _drive_in_volts(s: Sentence) -> None:
    """'drive 14.2 mhz 9.5v': RF at the grid of the finals, and no power."""
    figures = [i.fact for i in s.items]
    if not any(f.unit == "V" for f in figures) or any(f.unit in {"W", "dBm", "A"} or f.signed for f in figures):
        return
    for n in s.free("quantity"):
        if s.facts[n].text in {"drive", "grid drive", "drive level"}:
            s.facts[n] = replace(s.facts[n], of="ac_voltage", is_="ac_voltage")
            for item in s.items:
                item.address.setdefault("place", "final grid")


def _audio_in_volts(s: Sentence) -> None:
    """'audio at vr8 top 900mv, wiper 12mv': the word in front is of each of them."""
    names = s.free("quantity")
    leads = names == [0] and s.facts[0].text in {"audio", "af"}
    if leads and len(s.items) > 1 and all(i.fact.unit == "V" for i in s.items):
        for item in s.items:
            item.quantity = "ac_voltage"
        s.take(0)


VALVE = re.compile(r"V\d{1,2}")
DIODE = re.compile(r"Z?D\d{1,3}")


def _is_where_it_ripples(s: Sentence) -> bool:
    """'ripple 9vpp b+': the one figure is of the ripple, and the high tension says where."""
    return len(s.items) == 1 and any(f.of == "ripple" and f.kind == "quantity" for f in s.facts)


SPEAKERS = ("speaker", "spkr", "loudspeaker")


def _two_of_one_name(s: Sentence) -> None:
    """'idle 92 and 88ma': the name and the unit are both said once, for both."""
    for one, other in zip(s.items, s.items[1:], strict=False):
        units = {one.fact.unit, other.fact.unit}
        _of_each_device(one, other)
        if other.at != one.at + 2 or not s.has_text(one.at + 1, "and", "&") or len(units - {None}) > 1:
            continue
        if one.quantity is not None and other.quantity is None:
            unit = other.fact if other.fact.unit is not None else one.fact
            for item in (one, other):
                if item.fact.unit is None and unit.unit is not None:
                    item.fact = replace(item.fact, unit=unit.unit, value=item.fact.value * unit.factor)
            other.quantity = one.quantity
        elif one.quantity is None and _is_named_behind(s, other):
            one.quantity = other.quantity  # '62ma and 60ma idle'


def _of_each_device(one: Item, other: Item) -> None:
    """'fil 5.05v 5.02v' of a pair: the name is said once, for both."""
    side_by_side = other.at == one.at + 1 and one.fact.unit == other.fact.unit is not None
    if side_by_side and one.quantity in OF_EACH_DEVICE and other.quantity is None:
        other.quantity = one.quantity


OF_EACH_DEVICE = {"filament_voltage", "idle_current", "plate_current"}


def _is_named_behind(s: Sentence, item: Item) -> bool:
    behind = s.fact(item.at + 1)
    return behind is not None and behind.kind == "quantity" and behind.of == item.quantity


def _ends_named(s: Sentence, names: list[int]) -> bool:
    """'14.2 imd3 -30 imd5 -41': a text that ends on a figure with its name before it, and has one figure too many at
    its begin: that says where."""
    last = s.items[-1]
    if not names:
        return False
    at_the_end = last.at == len(s.facts) - 1 and names[-1] == last.at - 1
    before = s.fact(names[-1] - 2)
    if at_the_end and s.item_at(names[-1] - 1) is not None and before is not None and before.kind in {"how", "where"}:
        return True  # 'am 11w fm 11w pep 26': each label leads
    free = [i for i in s.items if i.quantity is None]
    return at_the_end and len(free) == len(names) + 1 and free[0].at < names[0]


def _of_something_else(s: Sentence, bound: dict[int, Item]) -> None:
    """'screen-grid lead current 12ma', 'relay coil current 60ma': amps of what no list names stand there, and are not
    the unit's own."""
    for name, item in bound.items():
        before = s.fact(name - 1)
        if s.facts[name].text != "current" or item.fact.unit not in {"A", None} or before is None:
            continue
        stranger = before.kind == "word" and before.text.isalpha() and before.text not in manner() | OF_THE_UNIT
        if stranger and name - 1 not in s.taken:
            item.quantity = "dc_current"
            item.address["place"] = before.text
            s.take(name - 1)


def _heated(s: Sentence) -> None:
    """'filament 5.05v 14.2a', 'heater draws 14.2a': what a heater takes stands there, and is not the unit's own."""
    for n in s.free("quantity"):
        if s.facts[n].of != "filament_voltage":
            continue
        amps = next((i for i in s.items if i.at in {n + 1, n + 2, n + 3} and i.fact.unit == "A"), None)
        between = [] if amps is None else [m for m in range(n + 1, amps.at) if s.item_at(m) is None]
        if amps is None or amps.quantity is not None or not all(s.has_text(m, *TAKES) for m in between):
            continue
        amps.quantity, amps.address["place"] = "dc_current", "heater"
        s.take(*between, *([n] if s.item_at(n + 1) is amps or between else []))


def _hum_in_volts(s: Sentence) -> None:
    """'hum 120mv on b+': ripple; a hum of the modulation is in decibels or per cent."""
    for n in s.free("quantity"):
        item = s.item_at(n + 1)
        if s.facts[n].of == "hum_and_noise" and item is not None and item.fact.unit in {"V", "Vpp", "Vrms"}:
            s.facts[n] = replace(s.facts[n], of="ripple", is_="ripple")


def _stage_of_an_electrode(s: Sentence) -> None:
    """'audio output valve cathode 14v': volts of that stage, and no audio."""
    for n in s.free("quantity"):
        at = n + 1
        while s.has_text(at, "valve", "tube", "transistor", "stage"):
            at += 1
        electrode = s.fact(at)
        if s.facts[n].of != "audio_power" or electrode is None or electrode.of not in ELECTRODES_OF_A_STAGE:
            continue
        s.facts[at] = replace(electrode, is_=f"audio output {electrode.is_}")
        s.take(*range(n, at))


ELECTRODES_OF_A_STAGE = {
    "cathode",
    "anode",
    "grid",
    "screen",
    "collector",
    "base",
    "emitter",
    "gate",
    "drain",
    "source",
}
TAKES = ("current", "draws", "takes", "at", ",", "and")


def _of_a_noun(s: Sentence) -> None:
    """'audio amp', 'input transformer', 'deviation pot': the first word only says which amplifier, and names no
    figure."""
    parts = vocabulary().file.words["parts"]
    for n in s.free("quantity"):
        after = s.fact(n + 1)
        stage = after is not None and after.kind == "place" and s.facts[n].text in OF_STAGES
        if after is not None and (after.text in parts or stage) and " " not in s.facts[n].text:
            s.facts[n] = replace(s.facts[n], kind="word")


def _halves(s: Sentence) -> None:
    """'idle a 420 b 180', 'fet a 71c fet b 48c': two halves by their letters, and no base."""
    ahead = {f.text: n for n, f in enumerate(s.facts) if f.text in {"a", "b"} and _leads_a_figure(s, n)}
    if ahead.keys() != {"a", "b"}:
        return
    for letter, n in ahead.items():
        noun = s.fact(n - 1)
        of = noun.text if noun is not None and noun.text in HALF_OF else "half"
        s.facts[n] = Fact("place", letter, of=letter.upper(), is_=f"{of} {letter.upper()}")
        if noun is not None and noun.text in HALF_OF:
            s.take(n - 1)


def _leads_a_figure(s: Sentence, n: int) -> bool:
    """Whether a figure stands behind a letter, with its name between or not: 'a dev 2.1 b 2.3'."""
    name = s.fact(n + 1)
    return s.item_at(n + 1) is not None or (
        name is not None and name.kind == "quantity" and s.item_at(n + 2) is not None
    )


HALF_OF = {"fet", "half", "module", "side", "bank", "channel", "device", "transistor", "valve", "tube", "gate"}


def _on_an_electrode(s: Sentence) -> None:
    """'3000 volts on the plates, 2750 keyed': the figure stands in front, and says by its unit what it is of."""
    for n in s.free("quantity"):
        at = n - 1
        while s.has_text(at, "the", "on", "at"):
            at -= 1
        figure = s.item_at(at)
        if at == n - 1 or figure is None or figure.fact.unit not in ELECTRODE_OF.get(s.facts[n].of, {}):
            continue
        figure.quantity = ELECTRODE_OF[s.facts[n].of][str(figure.fact.unit)]
        s.take(*range(at + 1, n + 1))


def _high_tension_at_rest(s: Sentence) -> None:
    """'hv 812 idle 760 keyed': the high tension at rest and keyed, and no current."""
    for n in s.free("quantity"):
        rest, keyed = s.item_at(n - 1), s.item_at(n + 1)
        named = any(f.of == "plate_voltage" for f in s.facts[:n])
        if s.facts[n].of != "idle_current" or not named or rest is None or keyed is None or not s.fact(n + 2):
            continue
        if s.facts[n + 2].is_ == "transmit" and keyed.fact.unit is None and keyed.fact.value > HALF * rest.fact.value:
            rest.address["state"], rest.quantity, keyed.quantity = "standby", "plate_voltage", "plate_voltage"
            s.take(n, *[m for m in range(n) if s.facts[m].of == "plate_voltage"])


HALF = 0.5


def _fed_at_rest(s: Sentence) -> None:
    """'psu 13.62 at 19.2a 13.85 idle': what feeds it, keyed and at rest."""
    for n in s.free("quantity"):
        volts = s.item_at(n - 1)
        if s.facts[n].of == "idle_current" and volts is not None and _is_fed_at_rest(s, volts):
            volts.quantity = "supply_voltage"
            volts.address["state"] = "standby"
            s.take(n)


def _switched_off(s: Sentence) -> None:
    """'bat 7.1 off, 6.2 keyed': of what feeds it, 'off' is a state and no error."""
    battery = any(f.of == "battery" or f.is_ == "battery" or f.of == "supply_voltage" for f in s.facts)
    for n in s.free("quantity"):
        amps = (i := s.item_at(n - 1)) is not None and i.fact.unit == "A"  # 'leaks 3ma off': no error is in amps
        if (battery or amps) and s.facts[n].text == "off" and s.item_at(n - 1) is not None:
            s.facts[n] = replace(s.facts[n], kind="how", of="state", is_="off")
        elif s.facts[n].text == "off" and _counts_nothing(s, n):
            s.facts[n] = replace(s.facts[n], kind="word")


def _counts_nothing(s: Sentence, n: int) -> bool:
    """'fan on at 48, off 41': without a unit 'off' is an error only where a frequency is wanted, was just read, or
    stands in the line, or where it says on which channel."""
    behind = s.item_at(n + 1)
    wanted = s.ground.wants in {"frequency_error", "carrier_frequency"} or any(f.kind == "where" for f in s.facts)
    before = s.ground.last is not None and s.ground.last[0] in {"frequency_error", "carrier_frequency"}
    counted = any(i.fact.unit in {"Hz", "k", "M"} or i.fact.decimals > 2 for i in s.items)
    bare = behind is not None and behind.fact.unit is None and not behind.fact.signed
    return bare and not (wanted or before or counted)


def _fitted_in(s: Sentence) -> None:
    """'spkr 8r in, 3.50': 'in' is a drive where one is wanted, or where what comes out is said too. '13.8 in' is what
    comes in at the lead."""
    drives = s.ground.wanted_at_all("drive_power") or any(s.facts[n].of == "carrier_power" for n in s.free("quantity"))
    for n in s.free("quantity"):
        if s.facts[n].text == "in" and not drives:
            s.facts[n] = replace(s.facts[n], kind="word")
            lead = s.item_at(n - 1)
            volts = lead is not None and lead.fact.decimals and lead.fact.may_feed
            if lead is not None and volts and lead.fact.unit in {None, "V"}:
                lead.quantity = "supply_voltage"
                s.take(n)


def _drive_in_output(s: Sentence) -> None:
    """'50 in 350 ip 360': what goes in stands in front of the word, what comes out behind it, whatever else follows."""
    for n in s.free("quantity"):
        drive, output = s.item_at(n - 1), s.item_at(n + 1)
        if s.facts[n].text != "in" or drive is None or output is None or not s.ground.wanted_at_all("drive_power"):
            continue
        bare = all(i.fact.unit in {None, "W"} and i.quantity is None for i in (drive, output))
        if bare and drive.fact.value < output.fact.value:
            drive.quantity, output.quantity = "drive_power", "carrier_power"
            s.take(n, *([n + 2] if s.has_text(n + 2, "out", "output") else []))


# names of quantities that are names of stages too: 'modulator q22 base' is a place
OF_STAGES = {
    "modulator", "audio", "af", "filter", "cap", "speaker", "squelch", "image", "drive", "supply", "power", "output",
}  # fmt: skip


def _watts_in_and_out(s: Sentence) -> None:
    """'64w in 810w out, ip 620 ig 190', '40w drive: 520 out, ip 430': two words that stand behind their watts, however
    the others stand."""
    words = [n for n in s.free("quantity") if s.facts[n].text in BEHIND_WATTS]
    behind = [n for n in words if _is_behind_watts(s, n)]
    if words and s.item_at(words[0] - 1) is None and s.item_at(words[0] + 1) is not None:
        return  # 'drive 16w out 161w, drive 43w out 398w': they lead
    if {s.facts[n].of for n in behind} != {"drive_power", "carrier_power"}:
        return
    for n in behind:
        if (watts := s.item_at(n - 1)) is not None:
            watts.quantity = _as_planned(s, n)
            s.take(n)


def _is_behind_watts(s: Sentence, n: int) -> bool:
    """Whether a word ends on the watts in front of it: those carry their unit, or a comma follows."""
    watts, after = s.item_at(n - 1), s.fact(n + 1)
    ends = after is None or after.fresh or (after.kind == "figure" and after.unit in {"A", "V"})
    return watts is not None and (watts.fact.unit == "W" or (watts.fact.unit is None and ends))


BEHIND_WATTS = {"in", "out", "drive", "output"}


def _both_ends(s: Sentence) -> None:
    """'100w forward drops to 25w': what is named once fell."""
    for left, right in zip(s.items, s.items[1:], strict=False):
        between = {s.facts[n].text for n in range(left.at + 1, right.at)}
        if not between & BETWEEN_TWO or right.quantity is not None:
            continue
        if left.fact.unit == right.fact.unit:
            right.quantity = left.quantity
        elif right.fact.unit is None and left.fact.unit is not None:
            factor = left.fact.factor
            right.fact = replace(right.fact, unit=left.fact.unit, value=right.fact.value * factor, factor=factor)
            right.quantity = left.quantity


def _coarse_and_counted(s: Sentence) -> None:
    """'14.2 freq 14.200021': the coarse one says where, the one with more decimals what was counted."""
    counted = [i for i in s.items if _as_counted(s, i)]
    for coarse in list(s.items):
        for fine in counted:
            where = _said_where(s, coarse, fine)
            if where is None:
                continue
            known = s.ground.frequency_of(where)
            exact = abs(where / known - 1) < SAME_TO_A_HERTZ  # a count is off from what was said, not from a plan's
            fine.address.setdefault("frequency_hz", known if exact else where)
            if s.ground.as_carrier(fine.fact) is None:
                fine.fact = replace(fine.fact, unit="Hz", value=fine.fact.value * 1e6, factor=1e6)
            s.drop(coarse)
            return


def _as_counted(s: Sentence, item: Item) -> float | None:
    """A figure as what a counter shows, in Hz: of a frequency that the unit is for, or behind 'reads'."""
    behind = s.has_text(item.at - 1, *COUNTED_AS) and item.fact.decimals >= SAID_DECIMALS
    return s.ground.as_carrier(item.fact) or (_as_megahertz(item.fact) if behind else None)


def _said_where(s: Sentence, coarse: Item, fine: Item) -> float | None:
    """Where a count belongs, in Hz, where `coarse` says it of `fine`; None where it does not."""
    reads = fine.at == coarse.at + 2 and s.has_text(coarse.at + 1, *COUNTED_AS)
    backwards = coarse.at == fine.at + 2 and s.has_text(fine.at + 1, *COUNTED_AS)
    counted = _as_counted(s, fine)
    if fine is coarse or not counted or backwards:
        return None
    if reads:
        _with_its_unit(coarse, fine)
    more = reads or fine.fact.decimals >= coarse.fact.decimals + MORE_DECIMALS
    if not more or coarse.fact.unit != fine.fact.unit:
        return None
    where = s.ground.as_carrier(coarse.fact) or (_as_megahertz(coarse.fact) if reads else None)
    return where if where and abs(counted / where - 1) < SAME_CARRIER else None


def _with_its_unit(item: Item, other: Item) -> None:
    """'2182.000 reads 2182.008 khz': the unit that is said behind the second."""
    if item.fact.unit is None and other.fact.unit is not None:
        item.fact = replace(item.fact, unit=other.fact.unit, value=item.fact.value * other.fact.factor)


def _as_megahertz(fact: Fact) -> float | None:
    return fact.value * 1e6 if fact.unit is None and fact.decimals > 0 else None


def _as_planned(s: Sentence, name: int) -> str:
    """What a name says; a bare 'sens' is of the kind that the plan wants."""
    told, ground = s.facts[name], s.ground
    bare = told.of == "sensitivity_12db_sinad" and "sinad" not in told.text and "12" not in told.text
    other = bare and not ground.wanted_at_all(told.of) and ground.wanted_at_all("sensitivity_10db_sn")
    return "sensitivity_10db_sn" if other else told.of


def _drive_to_output(s: Sentence) -> None:
    """'5w -> 120w' on an amplifier: in and out."""
    if not s.ground.wanted_at_all("drive_power"):
        return
    for n in range(len(s.facts)):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        if not s.is_link(n, "->", "to") or left is None or right is None:
            continue
        units = {left.fact.unit, right.fact.unit}
        if units <= {"W", None} and ("W" in units or not _is_of_other_than_watts(s, n)):
            left.quantity, right.quantity = "drive_power", "carrier_power"
            s.take(n)


def _is_of_other_than_watts(s: Sentence, n: int) -> bool:
    """'ht falls from 3200 to 2800': whether a name in front of two bare figures is of no power."""
    return any(f.kind == "quantity" and UNIT_OF.get(f.of) != "W" for f in s.facts[:n])


def _bound(s: Sentence, names: list[int], leads: bool) -> tuple[float, dict[int, Item]]:
    """Bind every name to a figure, leading or trailing; the other side where that one has none that fits."""
    bound: dict[int, Item] = {}
    score = 0.0
    free = {i.at: i for i in s.items if i.quantity is None}
    for name in names if leads else reversed(names):
        after = sorted(at for at in free if at > name)
        before = sorted((at for at in free if at < name), reverse=True)
        for first, sides in ((True, after if leads else before), (False, before if leads else after)):
            at = _nearest(s, name, sides, free, names)
            if at is not None:
                bound[name] = free.pop(at)
                score += (LEADS if first else TRAILS) - 0.1 * abs(at - name)
                break
    told = {s.facts[name].of for name in bound}
    lost = [n for n in names if n not in bound and not any(q.startswith(s.facts[n].of) for q in told)]
    return score - LOST * len(lost), bound


def _nearest(s: Sentence, name: int, sides: Sequence[int], free: Mapping[int, Item], names: list[int]) -> int | None:
    """Where the figure stands, among those of one side, that a name goes with; None where another's lies between."""
    at = next((a for a in sides[:FARTHEST] if _goes_with(s, name, free[a])), None)
    if at is None or _crosses(s, name, at, names) or _has_one_beside(s, name, at, free):
        return None
    return at


def _has_one_beside(s: Sentence, name: int, at: int, free: Mapping[int, Item]) -> bool:
    """'grid 140ma at 60w drive, max 120': whether a comma parts a name from a figure, and one in its unit stands
    directly on its other side."""
    low, high = sorted((name, at))
    parted = any(s.facts[n].fresh for n in range(low + 1, high + 1))
    beside = free.get(name - 1 if at > name else name + 1)
    one = parted and beside is not None and beside.fact.unit is not None and not s.facts[max(name, beside.at)].fresh
    return one and beside is not None and _goes_with(s, name, beside)


def _crosses(s: Sentence, name: int, at: int, names: list[int]) -> bool:
    """Whether another name, or a result that stands for a figure, lies between a name and its figure."""
    low, high = sorted((name, at))
    item = s.item_at(at)
    between = any(low < other < high and item is not None and _goes_with(s, other, item) for other in names)
    results = [n for n in s.free("result") if s.facts[n].is_ == "none"]
    told = [n for n in results if not (s.facts[n].text == "no" and (f := s.fact(n + 1)) and f.kind == "word")]
    return between or any(low < n < high for n in told)


def _goes_with(s: Sentence, name: int, item: Item) -> bool:
    quantity = s.facts[name].of
    if _says_where(s, quantity, item) or _is_how_far_off(s, quantity, item):
        return False
    told = vocabulary().file.quantity.get(quantity)
    own = OWN_CHECKS.get(quantity)
    found = own(s, item) if own is not None else None
    return found if found is not None else _unit_goes(item.fact, quantity, told.units if told else ("dBc", "dB"))


def _says_where(s: Sentence, quantity: str, item: Item) -> bool:
    """'dev 145.5 4.2k', 'squelch opens 433.5 0.12uv': megahertz where the unit sends, beside a figure that carries the
    unit of the name."""
    if quantity in RATIOS and len(s.items) > 1 and _is_no_ratio(s, item.fact):
        return True
    if item.fact.unit not in {None, "Hz"} or UNIT_OF.get(quantity) in {None, "W"} or quantity in OF_MEGAHERTZ:
        return False
    vhf = item.fact.decimals > 0 and item.fact.value > LEAST_VHF_MHZ and UNIT_OF[quantity] == "dBm"
    if s.ground.as_carrier(item.fact) is None and not vhf:
        return False
    units = {"Hz": {"Hz", "k"}, "dBm": {"uV", "dBm"}}.get(UNIT_OF[quantity], {UNIT_OF[quantity]})
    return any(i.fact.unit in units and s.ground.as_carrier(i.fact) is None for i in s.items if i is not item)


def _is_how_far_off(s: Sentence, quantity: str, item: Item) -> bool:
    """'433.5 +120hz dev 2.3k': signed hertz of an error, where a figure without a sign is the deviation."""
    others = [i.fact for i in s.items if i is not item]
    plain = any(f.unit in {"Hz", "k"} and not f.signed for f in others)
    return quantity == "fm_deviation" and item.fact.unit == "Hz" and item.fact.signed and plain


def _is_no_ratio(s: Sentence, fact: Fact) -> bool:
    """'vswr 4125 1.3', '145.5 swr 1.2': kilohertz of short waves, or megahertz."""
    megahertz = fact.unit is None and fact.decimals > 0 and fact.value > LEAST_VHF_MHZ
    return megahertz or s.ground.as_kilohertz(fact) is not None


RATIOS = {"swr", "input_swr"}
LEAST_VHF_MHZ = 30.0
OF_MEGAHERTZ = {"carrier_frequency", "frequency_error", "stage_frequency", "resonant_frequency"}


def _may_be_a_carrier(s: Sentence, item: Item) -> bool | None:
    """No power: a frequency beside watts, or a count that is none of a carrier."""
    fact, carrier = item.fact, s.ground.as_carrier(item.fact) is not None
    watts = any(i.fact.unit == "W" for i in s.items if i is not item)
    where = fact.unit is None and watts and carrier
    no_count = fact.unit in {"m", "Hz"} and (fact.decimals <= COARSE_DECIMALS or not carrier)
    return False if where or no_count else None


def _may_be_an_idle_current(s: Sentence, item: Item) -> bool | None:
    return False if _is_fed_at_rest(s, item) else None


def _may_be_an_error(s: Sentence, item: Item) -> bool | None:
    fact = item.fact
    if fact.unit in {None, "%"}:
        return _is_an_error(s, item)
    if fact.unit in {"Hz", "m"} and abs(fact.value) * _hertz(fact) >= MOST_ERROR_HZ:
        signed = any(i.fact.unit == "Hz" and i.fact.signed and i is not item for i in s.items)
        return not (signed and fact.decimals <= SAID_DECIMALS)  # 'freq 14.200 mhz +3 hz': where, and how far off
    return None


COARSE_DECIMALS = 2
OWN_CHECKS: dict[str, Callable[[Sentence, Item], bool | None]] = {
    "carrier_power": _may_be_a_carrier,
    "idle_current": _may_be_an_idle_current,
    "frequency_error": _may_be_an_error,
}


def _hertz(fact: Fact) -> float:
    return 1e6 if fact.unit == "m" else 1.0


def _is_fed_at_rest(s: Sentence, item: Item) -> bool:
    """'psu 13.62 at 19a 13.85 idle': what feeds it, keyed and not."""
    volts = item.fact.unit is None and item.fact.decimals > 0 and item.fact.may_feed
    return volts and any(f.of == "supply_voltage" or f.is_ == "battery" for f in s.facts)


def _is_an_error(s: Sentence, item: Item) -> bool:
    """Whether a figure without hertz is an error; in '14.2 freq error 20hz' it says where."""
    if item.fact.unit == "%":
        return item.fact.value < MOST_ERROR_PERCENT
    hertz = any(i.fact.unit in {"Hz", "k"} and abs(i.fact.value) < MOST_ERROR_HZ for i in s.items if i is not item)
    fact = item.fact
    where = s.ground.as_carrier(fact) is not None or (fact.decimals > 0 and 1 < fact.value < MOST_COUNTED_MHZ)
    return not (hertz and where and fact.unit is None)


def _unit_goes(fact: Fact, quantity: str, units: tuple[str, ...]) -> bool:
    unit = fact.unit
    if unit is None:
        return quantity not in {"dc_voltage"}
    if unit == "k":
        return bool({"Hz", "Ω", "V"} & {*units, *ALSO.get(quantity, ())})
    if unit == "m":
        return bool({"Hz", "A", "m", "Ω"} & {*units, *ALSO.get(quantity, ())})
    if unit in {"Vpp", "Vrms", "Vp"}:
        also = {*units, *ALSO.get(quantity, ())}
        return bool({"V", unit} & also) or (unit in {"Vpp", "Vp"} and "Vpp" in units)
    if quantity in ELECTRODE_OF and unit in {"V", "A"}:
        return True
    return unit in units or unit in ALSO.get(quantity, ())


def _more_exactly(s: Sentence, name: int) -> None:
    """'sens 0.4uv for 10db s/n': the longer name says which of its kind."""
    told = s.facts[name].of
    if s.facts[name].text in {"sens", "sensitivity"}:
        return  # it says nothing more
    for item in s.items:
        if told.startswith("sensitivity_") and (item.quantity or "").startswith("sensitivity_"):
            item.quantity = told


def _says_the_same(s: Sentence, name: int) -> bool:
    told = s.facts[name].of
    if told.startswith("sensitivity_") and any((i.quantity or "").startswith("sensitivity_") for i in s.items):
        return True
    if told in {"am_depth", "fm_deviation"} and any((i.quantity or "").startswith(told) for i in s.items):
        return True
    if told == "fm_deviation" and any(i.quantity == "subtone_frequency" for i in s.items):
        return True  # 'ctcss 600hz dev'
    if s.facts[name].text == "peak" and any((i.quantity or "").startswith("fm_dev") for i in s.items):
        return True
    return any(i.quantity == told or (told == "carrier_power" and i.quantity in SENT) for i in s.items)
