"""What the facts of a text say together: readings with their places, what is only a remark, or nothing that is sure.

Names and places are bound to figures for the line as a whole: either they lead their figures or they trail, and a unit
that does not go with a quantity is never bound to it. What no frame explains stays as the remark; a figure that none
explains makes the whole a question."""

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import replace

from young_spark.core.entry.facts.address import AT_A_PLACE, FREQUENCY_KEYS, filled, from_an_open_line
from young_spark.core.entry.facts.bare_beside import ASKED
from young_spark.core.entry.facts.by_unit import POWERS
from young_spark.core.entry.facts.fact import AS_TYPED, Fact
from young_spark.core.entry.facts.in_unit import in_unit, plain_number
from young_spark.core.entry.facts.said import AS_WANTED, UNIT_OF, Breath, Ground, Item, Said
from young_spark.core.entry.facts.sentence import Sentence, Unexplained
from young_spark.core.entry.frames import beside, figures_said, marked
from young_spark.core.entry.frames.asked_first import is_asked, result_is_asked
from young_spark.core.entry.frames.columns import find_amps_of_bands, find_columns, find_sisters
from young_spark.core.entry.frames.emission import find_emission
from young_spark.core.entry.frames.ends_of_a_feeder import find_ends_of_a_feeder
from young_spark.core.entry.frames.of_like_electrode import of_like_electrodes
from young_spark.core.entry.frames.results_said import find_results
from young_spark.core.entry.frames.special import find_special
from young_spark.core.entry.frames.stage_ends import find_stage_ends
from young_spark.core.entry.frames.stray_figures import leaves_a_stray
from young_spark.core.entry.naming.names_of_points import with_names_of_points
from young_spark.core.entry.naming.names_to_figures import bind_names, idle_is_standby
from young_spark.core.entry.naming.no_names import NO_NAMES, OF_NO_PLACE
from young_spark.core.entry.naming.parallel import (
    amps_with_audio,
    at_such_a_power,
    counts_a_stranger,
    drive_before_output,
    electrodes_of_valves,
    named_but_of_another_unit,
    named_by_a_stranger,
    of_so_many_decibels,
    of_such_a_ratio,
    off_its_load,
    refuse_unlike_ends,
    sides_of_a_pair,
    volts_of_a_plate,
)
from young_spark.core.entry.naming.pointing import bind_places
from young_spark.core.entry.naming.where_in_megahertz import beside_a_name
from young_spark.core.entry.naming.which_quantity import by_its_side, by_its_unit, unnamed
from young_spark.core.entry.rows.drive_then_output import pair_by_turns
from young_spark.core.entry.rows.each_of_several import find_each_of_several
from young_spark.core.entry.rows.each_with_its_own import find_each_with_its_own
from young_spark.core.entry.rows.parts_in_a_row import find_parts_in_a_row
from young_spark.core.entry.rows.unlabelled import find_rows
from young_spark.core.entry.rows.with_and_without import find_with_and_without
from young_spark.core.entry.sums.follows import at_first, follows_from
from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.ground import once_for_each

SENSITIVITIES = {
    "sensitivity_12db_sinad", "sensitivity_10db_sn", "squelch_open", "sensitivity_20db_quieting", "sensitivity_by_ear",
    "minimum_discernible_signal",
}  # fmt: skip
READ_IN = {"dBm", "dBw", "Vpp", "Vp", "Vrms"}  # of a power: pads, and volts on a scope, have sums of their own
OF_THE_CARRIER = ("frequency_error", "fm_dev", "am_depth", "harmonic_", "imd")  # at no stage of it
THOUSANDS = re.compile(r"[+-]?[1-9]\d{0,2},\d{3} ?\w*")
IN_THOUSANDS = {"plate_voltage", "fm_deviation", "frequency_error", "carrier_frequency"}
# words of every sentence, where no figure is theirs
PLAIN_NAMES = {"second", "third", "in", "out", "took", "takes", "pulls", "plates"}
WORDS_TOO = {
    "keying_rise_time",
    "steady_power",
    "hum_and_noise",
    "gain",
    "idle_current",
    "supply_voltage",
    "audio_power",
    "filter_bandwidth",
    "frequency_drift",
}


def read(facts: Sequence[Fact], ground: Ground, *, loosely: bool = False) -> Breath:
    """The readings of a text's facts on this ground; `loosely` leaves what is not explained in the remark, for an
    answer that a hand must choose."""
    known, asked = _known_on(ground), (tuple(facts), loosely)
    if (breath := known.get(asked)) is not None:
        return breath
    if len(known) > MOST_KNOWN:
        known.clear()
    known[asked] = breath = _read_anew(facts, ground, loosely=loosely)
    return breath


MOST_KNOWN = 100  # more than one line asks for


@once_for_each
def _known_on(ground: Ground) -> dict[tuple[tuple[Fact, ...], bool], Breath]:
    """What was read on this ground already: the same clause is asked about by every way to read a line."""
    return {}


def _read_anew(facts: Sequence[Fact], ground: Ground, *, loosely: bool) -> Breath:
    s = Sentence(with_names_of_points(facts), ground)
    try:
        _channels_that_look_like_parts(s)
        figures_said.join_units(s)
        _electrodes_by_their_ohms(s)
        figures_said.seventy(s)
        s.find_figures()
        figures_said.share_a_unit(s)
        special = find_special(s)
        for step in STEPS:
            step(s)
        special = [_where_the_line_says(one, s) for one in special]
        said = of_like_electrodes(at_first([*special, *_readings(s, loosely=loosely)]))
        results = find_results(s, said, lambda quantity, n, around: _result_address(s, quantity, n, around))
        if any(result_is_asked(one, s) for one in results):
            raise Unexplained
        every, said = [*said, *results], _once_each([*said, *results])
        pairs = _pairs_in(s, every[len(special) :], said)
        if not loosely and [n for n in s.free("quantity") if not _is_only_a_word(s, n)]:
            raise Unexplained  # a quantity that was named and has neither a figure nor a result
        if not loosely and leaves_a_stray(s):
            raise Unexplained
        derived = [_at_its_line(one, ground) for one in follows_from(said, pairs, ground.hand)]
        return Breath((*said, *derived), s.remark(), sure=bool(said), in_rows=bool(pairs))
    except Unexplained:
        return Breath(sure=False)


def _where_the_line_says(one: Said, s: Sentence) -> Said:
    """'two tone 20m im3 -31 im5 -40 below pep': what figures say only together stands where the line says, and not
    where the hand was."""
    told = {key: value for key, value in s.shared.items() if key in WHERE_AND_MODE and _is_said_once(s, key)}
    lent = {key: s.ground.hand.get(key) for key in WHERE_AND_MODE}
    if any(key in one.address and one.address[key] != lent[key] for key in WHERE_AND_MODE):
        return one  # it has its own
    if (band := str(told.pop("band", ""))).rstrip("m").isdigit():
        told["frequency_hz"] = s.ground.frequency_of_band(band)
    if "channel" in told:
        told["channel"] = int(float(str(told["channel"])))
    moved = FREQUENCY_KEYS if FREQUENCY_KEYS & told.keys() else set()
    return replace(one, address={k: v for k, v in one.address.items() if k not in moved} | told)


WHERE_AND_MODE = ("channel", "frequency_hz", "band", "mode")


def _is_said_once(s: Sentence, key: str) -> bool:
    return len({str(f.is_) for f in s.facts if f.kind in {"where", "how"} and f.of == key}) <= 1


def _is_only_a_word(s: Sentence, n: int) -> bool:
    """A name that sentences are full of, where no figure is its own; 'backlight off' is a switch, and no error."""
    before = s.fact(n - 1)
    if s.facts[n].of in WORDS_TOO:
        return True
    switched = s.facts[n].text == "off" and before is not None and before.kind in {"word", "item"}
    return s.facts[n].text in PLAIN_NAMES or switched


def _at_its_line(said: Said, ground: Ground) -> Said:
    """A step between two settings stands where the plan wants it."""
    if said.quantity != "power_step":
        return said
    address = dict(said.address)
    from_an_open_line("power_step", address, ground)
    return replace(said, address=address)


def _channels_that_look_like_parts(s: Sentence) -> None:
    """'c40 3.35w': a channel where watts are read on it, a capacitor otherwise."""
    watts = any(f.kind == "figure" and f.unit == "W" for f in s.facts)
    for n, fact in enumerate(s.facts):
        number = re.fullmatch(r"C(\d{1,2})", fact.of) if fact.kind == "place" else None
        if number is not None and watts and int(number[1]) in s.ground.channel_hz:
            s.facts[n] = Fact("where", fact.text, of="channel", is_=float(number[1]))


PLACE_NAMED = {
    "filament_voltage": "filament",
    "screen_voltage": "screen grid",
    "grid_voltage": "grid",
    "grid_current": "grid",
    "plate_voltage": "plate",
    "bias_voltage": "bias line",
}
OF_OHMS_OR_FARADS = {"Ω", "F", "H"}
OF_RF = {"Vpp", "Vp"}


def _electrodes_by_their_ohms(s: Sentence) -> None:
    """'heater 0.2 ohm', 'screen 47k ohm': what is named is where, since no figure of the text is its volts."""
    units = {f.unit for f in s.facts if f.kind == "figure"}
    by_ohms = bool(units & OF_OHMS_OR_FARADS) and units <= {*OF_OHMS_OR_FARADS, "k", None}
    rippled = any(f.of == "ripple" for f in s.facts)
    by_rf = bool(units & OF_RF) and units <= {*OF_RF, None} and not rippled  # 'v3 grid 1.1vpp'
    if not by_ohms and not by_rf:
        return
    for n, fact in enumerate(s.facts):
        if fact.kind == "quantity" and fact.of in PLACE_NAMED and not s.has_text(n + 1, "pot", "preset", "trimmer"):
            s.facts[n] = replace(fact, kind="place", of="", is_=PLACE_NAMED[fact.of])


# readings -----------------------------------------------------------------------------------------------------------


def _without_the_current_line(s: Sentence) -> None:
    """A row of watts over bands is of one kind: where the power that is wanted now is wanted at one of them only, the
    row is not of that."""
    row = [i for i in s.items if i.quantity is None and i.fact.unit in {"W", None}]
    places = {tuple(str(i.address.get(key)) for key in OF_A_ROW) for i in row if i.address.keys() & set(OF_A_ROW)}
    wants, said = s.ground.wants, any("mode" in i.address for i in row)
    if len(places) < LEAST_ROW or wants not in OUT_OF_A_SIDEBAND or said:
        return
    wanted = {line.get("frequency_hz") or line.get("channel") for line in s.ground.lines if line["quantity"] == wants}
    if len(wanted) < len(places):
        hand = {k: v for k, v in s.ground.hand.items() if k not in s.ground.lent}
        s.ground = replace(s.ground, current=None, hand=hand)


OF_A_ROW = ("band", "channel", "frequency_hz")
OUT_OF_A_SIDEBAND = {"peak_envelope_power"}
LEAST_ROW = 2


def _readings(s: Sentence, *, loosely: bool) -> list[Said]:
    _without_the_current_line(s)
    said: list[Said] = []
    for item in list(s.items):
        try:
            said.append(_read_one(s, item))
        except Unexplained:
            if not loosely:
                raise
            s.items = [i for i in s.items if i is not item]  # it stays in the remark
    return _peak_of_its_carrier(_at_one_place(said, s.ground), s)


def _peak_of_its_carrier(said: list[Said], s: Sentence) -> list[Said]:
    """'carrier 10w pep 38': the peak of that carrier, and of no sideband that is wanted too."""
    carrier = next(
        (o for o in said if o.quantity == "carrier_power" and o.named and o.address.get("mode") == "am"), None
    )
    if carrier is None or any(f.of == "mode" for f in s.facts):
        return said
    there = {key: carrier.address[key] for key in ("mode", *FREQUENCY_KEYS) if key in carrier.address}
    peaks = [o for o in said if o.quantity == "peak_envelope_power" and o.where_added]
    return [replace(o, address=o.address | there) if o in peaks else o for o in said]


def _at_one_place(said: list[Said], ground: Ground) -> list[Said]:
    """A row is one breath and one place: a frequency that only open lines added is the first one's for all, a channel
    that one figure of a quantity says is that of the others of it."""
    said = _through_a_stage([_where_it_was_soaked(one, said) for one in said])
    said = [_no_bias_there(_where_its_peaks_are(one, said)) for one in said]
    said = [_on_the_channel_said(one, said) for one in said]
    said = [_where_the_one_before_was(one, said[:n]) for n, one in enumerate(said)]
    if "frequency_hz" in ground.hand or "channel" in ground.hand:
        return [_where_the_first_is(one, said[:n]) for n, one in enumerate(said)]
    added = [one for one in said if one.where_added and "frequency_hz" in one.address]
    said = [_where_its_like_is(one, added) for one in said]
    if len(added) < 2 or len({one.address["frequency_hz"] for one in added}) < 2:
        return said
    first = added[0].address["frequency_hz"]
    return [replace(o, address={**o.address, "frequency_hz": first}) if o in added else o for o in said]


def _where_its_like_is(one: Said, added: list[Said]) -> Said:
    """'carrier -51 usb -49 lsb': where the plan wants the one, the other was read too."""
    like = next((o for o in added if o.quantity == one.quantity), None)
    if like is None or not one.where_added or FREQUENCY_KEYS & one.address.keys():
        return one
    return replace(one, address={**one.address, "frequency_hz": like.address["frequency_hz"]})


def _where_the_first_is(one: Said, before: list[Said]) -> Said:
    """'key down 3 min 760w falls to 735w': of two figures of a quantity for which nobody said where, the second is
    where the first one is, and not where the hand was while the first goes to the line that is wanted."""
    first = next((o for o in before if o.quantity == one.quantity and o.where_added), None)
    if first is None or not one.where_added or first.address.get("mode") != one.address.get("mode"):
        return one
    there = {key: first.address[key] for key in FREQUENCY_KEYS if key in first.address}
    return replace(one, address={k: v for k, v in one.address.items() if k not in FREQUENCY_KEYS} | there)


def _through_a_stage(said: list[Said]) -> list[Said]:
    """'pa in 1.1w out 14w': what goes into a stage and what comes out of it are of the stage, and not of its input."""
    places = {str(o.address.get("place") or "") for o in said if o.quantity in THROUGH}
    both = {o.quantity for o in said} >= THROUGH and len(places) == 1
    there = next(iter(places), "")
    if not both or not there.endswith(" input"):
        return said
    stage = there.removesuffix(" input")
    return [replace(o, address={**o.address, "place": stage}) if o.quantity in THROUGH else o for o in said]


THROUGH = {"drive_power", "carrier_power"}


def _no_bias_there(one: Said) -> Said:
    """'gate bias 3.9v ok, drain 13.1': what is read at a drain or a collector is its volts, whatever was named."""
    fed = str(one.address.get("place") or "").endswith((" drain", " collector", " anode"))
    return replace(one, quantity="dc_voltage") if fed and one.quantity == "bias_voltage" else one


def _where_its_peaks_are(one: Said, said: list[Said]) -> Said:
    """'two tone 12w pep, imd 3rd -26': products of the peaks that were read beside them."""
    peaks = next((o for o in said if o.quantity == "peak_envelope_power"), None)
    if peaks is None or not (one.quantity or "").startswith("imd") or not one.where_added:
        return one
    there = {key: peaks.address[key] for key in (*FREQUENCY_KEYS, "mode") if key in peaks.address}
    return replace(one, address={k: v for k, v in one.address.items() if k not in FREQUENCY_KEYS} | there)


def _where_it_was_soaked(one: Said, said: list[Said]) -> Said:
    """'soak 5 min 3.9 to 3.8': what it was at first is of the point that it was soaked at."""
    later = next((o for o in said if o is not one and o.quantity == one.quantity and o.address.get("after_s")), None)
    if later is None or not (one.where_added and later.where_added) or one.address.get("after_s"):
        return one
    there = {key: later.address[key] for key in (*FREQUENCY_KEYS, "mode", "power_setting") if key in later.address}
    kept = {k: v for k, v in one.address.items() if k not in {*FREQUENCY_KEYS, "mode", "power_setting"}}
    return replace(one, address=kept | there)


def _on_the_channel_said(one: Said, said: list[Said]) -> Said:
    """'swr at the radio 3.1 ch20, at the base 2.9': the second too."""
    channels = {str(o.address.get("channel")) for o in said if o.quantity == one.quantity and not o.where_added}
    if not one.where_added or "channel" not in one.address or len(channels) != 1 or channels == {"None"}:
        return one
    return replace(one, address={**one.address, "channel": int(float(channels.pop()))})


def _where_the_one_before_was(one: Said, before: list[Said]) -> Said:
    """'100w 20m for 4 minutes then 30': of the band that was said, and not of the next one that is wanted."""
    alike = [o for o in before if o.quantity == one.quantity and not o.where_added and "frequency_hz" in o.address]
    if not alike or not one.where_added or "frequency_hz" not in one.address:
        return one
    there = alike[-1].address
    said = {key: there[key] for key in ("frequency_hz", "mode") if key in there}
    return replace(one, address=one.address | said)


def _read_one(s: Sentence, item: Item) -> Said:
    leans = item.quantity is None and item.fact.unit is None
    if item.quantity is None:
        _place_beside(s, item)
    leans = leans and not item.address.get("place") and item.address.get("item") != "battery"
    quantity = item.quantity or unnamed(item, s.ground, s.items)
    named_otherwise = _is_named_otherwise(s, item) or named_but_of_another_unit(s, item)
    if _is_how_far_a_meter_is_off(s, item) or _may_be_volts_there(s, item, quantity):
        raise Unexplained
    if quantity is None or named_otherwise or named_by_a_stranger(s, item) or counts_a_stranger(s, item):
        raise Unexplained
    named, with_unit = item.quantity is not None, item.fact.unit is not None
    added = not FREQUENCY_KEYS & item.address.keys()
    read_so = replace(_reading(s, item, quantity), led_by=_name_before(s, item))
    return replace(
        read_so, leans=leans, named=named, in_its_unit=with_unit, where_added=added, as_wanted=AS_WANTED in item.marks
    )


def _name_before(s: Sentence, item: Item) -> str:
    """The quantity whose name stands directly before a figure, as it was typed; '98w power, 1.3 swr': none where names
    trail, and that one is of the figure in front of it."""
    before = s.fact(item.at - 1)
    if before is None or before.kind != "quantity":
        return ""
    front = next((s.item_at(n) for n in range(item.at - 2, -1, -1) if s.facts[n].kind != "side"), None)
    behind = next((f for f in s.facts[item.at + 1 :] if f.kind != "side"), None)  # '1.1k low freq'
    trails = behind is not None and behind.kind == "quantity" and item.quantity == behind.of
    return "" if trails and front is not None and front.quantity is not None else before.of


def _may_be_volts_there(s: Sentence, item: Item, quantity: str | None) -> bool:
    """'15m driver grid 3.0v out 92w, 10m 2.7 78w': a bare figure at a point where volts were read is no power."""
    place, bare = item.address.get("place"), s.facts[item.at].unit is None and item.quantity is None
    volts = any(i.fact.unit == "V" and i.address.get("place") == place for i in s.items)
    return bool(place) and bare and quantity in POWERS and volts


def _is_named_otherwise(s: Sentence, item: Item) -> bool:
    """'fwd 100w rfl 4w': a word that nobody knows names it, where a name leads the figure beside it."""
    before = s.fact(item.at - 1)
    if item.quantity is not None or before is None or before.kind != "word" or item.at - 1 in s.taken:
        return False
    others = [o for o in s.items if o is not item and o.fact.unit == item.fact.unit and o.quantity is not None]
    return before.text.isalpha() and before.text not in NO_NAMES and bool(others)


def _is_how_far_a_meter_is_off(s: Sentence, item: Item) -> bool:
    """'meter shunt reads 10% high': of an instrument, and of no modulation."""
    off = item.fact.unit == "%" and item.quantity is None and (item.side or item.result) in {"high", "low"}
    return off and any(s.is_link(n, "reads") for n in range(item.at))


def _place_beside(s: Sentence, item: Item) -> None:
    """A name that no list has, before a figure in volts, ohms or degrees: 'collet 3.2v' stands at the collet."""
    at = item.at - 1
    while at >= 0 and at not in s.taken and s.has_text(at, *OF_NO_PLACE):
        at -= 1
    before = s.fact(at)
    inside = item.fact.unit in {"V", "Vpp", "Vrms", "Ω", "°C", "F"} or "due" in item.besides
    of_before = s.facts[item.at].fresh  # 'rx dead too, 100 ohm across …': a word of the clause before
    if item.address.get("place") or not inside or before is None or at in s.taken or of_before:
        return
    if s.has_text(at - 1, "with", "without"):
        return  # 'standby with backlight 210ma': how the unit stood
    if _may_name_a_place(before):
        item.address["place"] = s.facts[at].text
        s.take(*range(at, item.at))
        _of_the_amps_too(s, item)


def _of_the_amps_too(s: Sentence, volts: Item) -> None:
    """'fan 12.9v 180ma': what is drawn at the same point."""
    amps = s.item_at(volts.at + 1)
    if amps is not None and amps.quantity is None and amps.fact.unit == "A" and volts.fact.unit == "V":
        amps.address.setdefault("place", volts.address["place"])


def _may_name_a_place(fact: Fact) -> bool:
    plain = fact.kind == "word" and fact.of != AS_TYPED and fact.text.isalpha() and len(fact.text) > SHORTEST_WORD
    called = fact.text not in vocabulary().file.words["doing"]
    return plain and called and fact.text not in NO_NAMES and not fact.text.endswith(("ly", "ing"))


SHORTEST_WORD = 2


def _leaves_the_unit(item: Item, quantity: str, value: float, ground: Ground) -> None:
    """'driver 3.2w, pa 96w': what the last stage gives is what leaves the unit, and no power of a point inside."""
    much = quantity == "drive_power" or value >= MUCH * (ground.greatest_power_w or 0.0)
    if quantity in POWERS and item.address.get("place") in LAST_STAGE and much:
        del item.address["place"]


def _of_its_point(item: Item, quantity: str) -> str:
    """What is read at a point of the set is volts of that point, whatever the word beside it says."""
    place = str(item.address.get("place", ""))
    if quantity == "supply_voltage" and place.rpartition(" ")[2] in ELECTRODES:
        return "dc_voltage"  # 'b+ at final collector 13.4': what comes there, and not what feeds the unit
    if quantity == "supply_current" and OF_A_PART.match(place):
        return "dc_current"  # 'q8 draws 120ma': of that part, and not the unit's own
    if quantity == "plate_voltage" and place in OF_THE_MAINS and item.fact.value < LEAST_HT_V:
        return "ac_voltage"  # 'b+ 268, variac 230v'
    if item.quantity is None and quantity.startswith(OF_THE_CARRIER):
        item.address.pop("place", None)  # 'final 3.2w, +10hz': a stage that another figure was read at
    return quantity


# currents of a part, a stage before the last, or an electrode; what the last stage draws may be all that is drawn
OF_A_PART = re.compile(
    r"(?:Q|TR|T|IC|U|R|L|D|V|RL|X)\d|(?:driver|buffer|mixer|preamp|lamp|relay)\b"
    r"|\w+ (?:collector|drain|emitter|source)$"
)
ELECTRODES = {"collector", "drain", "anode", "base", "gate", "emitter", "source", "grid", "cathode", "screen"}
OF_THE_MAINS, LEAST_HT_V = {"mains", "variac"}, 500.0
LAST_STAGE = {"PA", "PA output"}
MUCH = 0.2  # of what the unit gives at most


def _reading(s: Sentence, item: Item, quantity: str) -> Said:
    ground = s.ground
    quantity = by_its_side(by_its_unit(quantity, item, ground), item, s.items)
    if quantity == ASKED or is_asked(item, quantity, s):
        raise Unexplained
    _refuse_thousands(item, quantity)
    quantity = _of_its_point(item, quantity)
    value = in_unit(item, item.fact, quantity, ground)
    _leaves_the_unit(item, quantity, value, ground)
    if not math.isfinite(value):
        raise Unexplained
    others = [i for i in s.items if i is not item]
    for key, told in s.everywhere.items():
        item.address.setdefault(key, told)
    for key, fact in item.besides.items():
        item.address[key] = in_unit(item, fact, quantity, ground)
    _end_by_its_sign(item)
    _channel_that_is_due(item, quantity, ground)
    address = filled(quantity, item, ground, others=others, not_lent=_said_of_others(item, others))
    one = Said(
        quantity,
        value=value,
        unit=UNIT_OF.get(quantity, ""),
        bound=_bound_of(item, quantity),
        about=item.about,
        result=item.result,
        typed=item.fact if quantity in POWERS and item.fact.unit in READ_IN else None,
        step=_step(item, quantity, value),
        lent="place" in address and "place" not in item.address,
        signed=item.fact.signed,
        at=item.at,
        address=address,
    )
    if item.upper is None:
        return one
    low, high = sorted((value, in_unit(item, item.upper, quantity, ground)))
    return replace(one, value=None, low=low, high=high)


def _end_by_its_sign(item: Item) -> None:
    """'imd3 -22, should be under -30', '... -30 at least': of what is counted without its sign, either is at least."""
    due, counted = item.besides.get("due"), item.address.get("due")
    if due is None or not due.signed or due.value >= 0 or float(str(counted)) <= 0:
        return
    if item.address.pop("due_at_most", None):
        item.address["due_at_least"] = True


def _channel_that_is_due(item: Item, quantity: str, ground: Ground) -> None:
    """'27.20436 should be 205': the channel that the hand was on is the one of what is due there."""
    due = item.address.get("due")
    if quantity != "carrier_frequency" or due is None or {"channel", "frequency_hz"} & item.address.keys():
        return
    on = [n for n, hz in ground.channel_hz.items() if abs(hz - float(str(due))) < 1]
    if on:
        item.address["channel"] = on[0]


def _refuse_thousands(item: Item, quantity: str) -> None:
    """1.250, or 1250. Raises Unexplained where either could be."""
    either = THOUSANDS.fullmatch(item.fact.text) and quantity not in IN_THOUSANDS
    if either and item.fact.unit not in {"Hz", "m"}:
        raise Unexplained


def _said_of_others(item: Item, others: list[Item]) -> set[str]:
    """What the text says of a like figure and not of this one: it is not borrowed for this one then."""
    alike = [o for o in others if o.quantity in {None, item.quantity} and o.fact.unit in {None, item.fact.unit}]
    return {key for other in alike for key in other.address if key in {"state", "heat", "mode"}}


def _step(item: Item, quantity: str, value: float) -> float:
    """The last digit typed, in the unit of the quantity; 0 where it went through a logarithm."""
    if UNIT_OF.get(quantity) == "Hz" and item.fact.unit is None and item.fact.value:
        return item.fact.step * abs(value / item.fact.value)  # '14.2' on a counter: megahertz
    return item.fact.step * plain_number(item.fact, quantity)


def _bound_of(item: Item, quantity: str) -> str | None:
    """At most or at least, of the signed value: better is less for a level that is below another, and for a
    sensitivity."""
    if item.noise:
        return "upper"
    better_is_less = UNIT_OF.get(quantity) == "dBc" or quantity in SENSITIVITIES
    literally = item.fact.signed and (
        item.by_sign or item.bound == "upper"
    )  # '<-74' is at most that; '>60 down' at most -60
    if item.bound is None or not better_is_less or literally:
        return item.bound
    if quantity in SENSITIVITIES:
        return "upper"
    return "upper" if item.bound == "lower" else "lower"


def _result_address(s: Sentence, quantity: str, n: int, around: dict[str, object]) -> dict[str, object]:
    here = {k: v for k, v in around.items() if k != "place" or quantity in AT_A_PLACE}
    item = Item(s.facts[n], n, quantity, here)
    return filled(quantity, item, s.ground, others=[])


def _once_each(said: list[Said]) -> list[Said]:
    """The same figure of the same point twice in a breath is one reading."""
    kept: list[Said] = []
    for one in said:
        if one not in kept:
            kept.append(one)
    return kept


def _pairs_in(s: Sentence, every: list[Said], kept: list[Said]) -> list[tuple[int, int]]:
    """Where both of each pair of items stand among the readings that are kept; `every` has one for each item."""
    at = {id(item): kept.index(said) for item, said in zip(s.items, every, strict=False) if said in kept}
    return [(at[id(one)], at[id(two)]) for one, two in s.pairs if id(one) in at and id(two) in at]


# in this order: what belongs to a figure, rows, names, places, and what is only said beside them
STEPS: tuple[Callable[[Sentence], None], ...] = (
    idle_is_standby,
    find_parts_in_a_row,
    figures_said.correct,
    figures_said.find_ranges,
    figures_said.find_comparators,
    figures_said.find_forms,
    marked.printed_on_what_is_open,
    marked.at_a_temperature,
    marked.find_marked,
    marked.find_shares,
    refuse_unlike_ends,
    find_stage_ends,
    beside.counted_twice,
    find_with_and_without,
    find_emission,
    find_ends_of_a_feeder,
    off_its_load,
    amps_with_audio,
    electrodes_of_valves,
    find_each_with_its_own,
    find_columns,
    find_amps_of_bands,
    find_sisters,
    find_each_of_several,
    find_rows,
    beside_a_name,
    bind_names,
    volts_of_a_plate,
    drive_before_output,
    pair_by_turns,
    of_so_many_decibels,
    of_such_a_ratio,
    at_such_a_power,
    beside.both_of_a_switch,
    beside.without_audio,
    bind_places,
    sides_of_a_pair,
    beside.fallen_under_load,
    beside.find_sides,
    beside.words_of_a_change,
    beside.read_at_a_share,
)
