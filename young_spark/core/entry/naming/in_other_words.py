"""Names that say something else in their sentence: of a noun, of an electrode, of a state, of what it is read in."""

import re
from dataclasses import replace
from itertools import pairwise

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.naming.which_quantity import ELECTRODE_OF
from young_spark.core.entry.wording.vocabulary import manner, vocabulary
from young_spark.core.figure import QUANTITIES

# words before 'current' that leave it the unit's
OF_THE_UNIT = {
    "total", "overall", "psu", "bench", "max", "maximum", "peak", "normal", "whole", "set", "radio", "rig", "unit",
    "mean", "average", "full", "carrier", "rest", "resting", "the", "its", "now", "no", "and", "with",
}  # fmt: skip


def what_is_no_name(s: Sentence) -> None:
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


def fed_in_front(s: Sentence) -> None:
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


def sags_under_load(s: Sentence) -> None:
    """'psu 50.1 standby 48.1 loaded 14a': volts a little below those in front of them, as they stand under load."""
    for one, other in pairwise(s.items):
        bare = other.quantity is None and other.fact.unit is None and other.fact.decimals > 0
        named = one.quantity == "supply_voltage" and one.fact.value > 0
        labelled = (behind := s.fact(other.at + 1)) is not None and behind.kind == "how"
        if bare and named and labelled and LEAST_LEFT < other.fact.value / one.fact.value <= 1:
            other.quantity = "supply_voltage"


LEAST_LEFT = 0.85


def orders_of_products(s: Sentence) -> None:
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


def anode_of_a_diode(s: Sentence) -> None:
    """'d18, the usb switch, 0v anode': of no valve."""
    diodes = [n for n, f in enumerate(s.facts) if f.kind == "place" and DIODE.fullmatch(f.of)]
    for n in s.free("quantity"):
        if diodes and s.facts[n].text == "anode":
            part = s.facts[diodes[-1]]
            s.facts[diodes[-1]] = replace(part, is_=f"{part.is_} anode")
            s.take(n)


def grid_of_a_valve(s: Sentence) -> None:
    """'v1 plate 118v, grid 0, cathode 1.1': beside the volts of other electrodes, a bare figure is volts."""
    valves = {f.of for f in s.facts if f.kind == "place" and VALVE.fullmatch(f.of)}
    volts = any(i.fact.unit == "V" for i in s.items) or any(f.text in {"cathode", "k"} for f in s.facts)
    for n in s.free("quantity"):
        bare = (item := s.item_at(n + 1)) is not None and item.fact.unit is None
        if s.facts[n].text in {"grid", "g"} and bare and volts and len(valves) == 1:
            (valve,) = valves
            s.facts[n] = replace(s.facts[n], kind="place", of=valve, is_=f"{valve} grid")


def drive_in_volts(s: Sentence) -> None:
    """'drive 14.2 mhz 9.5v': RF at the grid of the finals, and no power."""
    figures = [i.fact for i in s.items]
    if not any(f.unit == "V" for f in figures) or any(f.unit in {"W", "dBm", "A"} or f.signed for f in figures):
        return
    for n in s.free("quantity"):
        if s.facts[n].text in {"drive", "grid drive", "drive level"}:
            s.facts[n] = replace(s.facts[n], of="ac_voltage", is_="ac_voltage")
            for item in s.items:
                item.address.setdefault("place", "final grid")


def audio_in_volts(s: Sentence) -> None:
    """'audio at vr8 top 900mv, wiper 12mv': the word in front is of each of them."""
    names = s.free("quantity")
    leads = names == [0] and s.facts[0].text in {"audio", "af"}
    if leads and len(s.items) > 1 and all(i.fact.unit == "V" for i in s.items):
        for item in s.items:
            item.quantity = "ac_voltage"
        s.take(0)


VALVE = re.compile(r"V\d{1,2}")
DIODE = re.compile(r"(?:Z?D|Z)\d{1,3}")


def _is_where_it_ripples(s: Sentence) -> bool:
    """'ripple 9vpp b+': the one figure is of the ripple, and the high tension says where."""
    return len(s.items) == 1 and any(f.of == "ripple" and f.kind == "quantity" for f in s.facts)


SPEAKERS = ("speaker", "spkr", "loudspeaker")


def of_something_else(s: Sentence, bound: dict[int, Item]) -> None:
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


def find_heated(s: Sentence) -> None:
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


def hum_in_volts(s: Sentence) -> None:
    """'hum 120mv on b+': ripple; a hum of the modulation is in decibels or per cent."""
    for n in s.free("quantity"):
        item = s.item_at(n + 1)
        if s.facts[n].of == "hum_and_noise" and item is not None and item.fact.unit in {"V", "Vpp", "Vrms"}:
            s.facts[n] = replace(s.facts[n], of="ripple", is_="ripple")


def stage_of_an_electrode(s: Sentence) -> None:
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


def names_of_a_noun(s: Sentence) -> None:
    """'audio amp', 'input transformer', 'deviation pot': the first word only says which amplifier, and names no
    figure."""
    parts = vocabulary().file.words["parts"]
    for n in s.free("quantity"):
        after = s.fact(n + 1)
        stage = after is not None and after.kind == "place" and s.facts[n].text in OF_STAGES
        if after is not None and (after.text in parts or stage) and " " not in s.facts[n].text:
            s.facts[n] = replace(s.facts[n], kind="word")


def find_halves(s: Sentence) -> None:
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


def on_an_electrode(s: Sentence) -> None:
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


def high_tension_at_rest(s: Sentence) -> None:
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


def fed_at_rest(s: Sentence) -> None:
    """'psu 13.62 at 19.2a 13.85 idle': what feeds it, keyed and at rest."""
    for n in s.free("quantity"):
        volts = s.item_at(n - 1)
        if s.facts[n].of == "idle_current" and volts is not None and is_fed_at_rest(s, volts):
            volts.quantity = "supply_voltage"
            volts.address["state"] = "standby"
            s.take(n)


def switched_off(s: Sentence) -> None:
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


# names of quantities that are names of stages too: 'modulator q22 base' is a place
OF_STAGES = {
    "modulator", "audio", "af", "filter", "cap", "speaker", "squelch", "image", "drive", "supply", "power", "output",
}  # fmt: skip


def is_fed_at_rest(s: Sentence, item: Item) -> bool:
    """'psu 13.62 at 19a 13.85 idle': what feeds it, keyed and not."""
    volts = item.fact.unit is None and item.fact.decimals > 0 and item.fact.may_feed
    return volts and any(f.of == "supply_voltage" or f.is_ == "battery" for f in s.facts)
