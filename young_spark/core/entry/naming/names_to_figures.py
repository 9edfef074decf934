"""Names to figures: for the line as a whole, names lead their figures or trail them; a unit that does not go with a
quantity is never bound to it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.naming.in_and_out import (
    SAID_DECIMALS,
    as_planned,
    coarse_and_counted,
    drive_in_output,
    drive_to_output,
    find_both_ends,
    find_fitted_in,
    two_of_one_name,
    watts_in_and_out,
)
from young_spark.core.entry.naming.in_other_words import (
    anode_of_a_diode,
    audio_in_volts,
    drive_in_volts,
    fed_at_rest,
    fed_in_front,
    find_halves,
    find_heated,
    grid_of_a_valve,
    high_tension_at_rest,
    hum_in_volts,
    is_fed_at_rest,
    names_of_a_noun,
    of_something_else,
    on_an_electrode,
    orders_of_products,
    sags_under_load,
    stage_of_an_electrode,
    switched_off,
    what_is_no_name,
)
from young_spark.core.entry.naming.which_quantity import ELECTRODE_OF
from young_spark.core.entry.wording.vocabulary import vocabulary

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
MOST_COUNTED_MHZ = 1300.0
ONLY_COUNTED = 5  # decimals of a MHz
FARTHEST = 2  # figures that a name looks at on each side


def bind_names(s: Sentence) -> None:
    """Give every figure the quantity that its word says."""
    coarse_and_counted(s)
    drive_to_output(s)
    what_is_no_name(s)
    for n in s.free("quantity"):
        dips = any(f.text.startswith("dip") for f in s.facts)  # 'dip and peak same'
        if s.facts[n].text == "peak" and (dips or not any(i.fact.unit == "W" for i in s.items)):
            s.facts[n] = replace(s.facts[n], kind="word")
    orders_of_products(s)
    anode_of_a_diode(s)
    grid_of_a_valve(s)
    drive_in_volts(s)
    audio_in_volts(s)
    on_an_electrode(s)
    find_halves(s)
    names_of_a_noun(s)
    high_tension_at_rest(s)
    fed_at_rest(s)
    switched_off(s)
    find_heated(s)
    hum_in_volts(s)
    stage_of_an_electrode(s)
    find_fitted_in(s)
    watts_in_and_out(s)
    drive_in_output(s)
    names = [n for n in s.free("quantity") if not s.has_text(n - 1, "no")]
    first = min([*names[:1], *s.free("place")[:1]], default=-1)
    free = [i for i in s.items if i.quantity is None]
    leads = not free or not names or first < free[0].at or _ends_named(s, names)
    best = max((_bound(s, names, order) for order in (leads, not leads)), key=lambda b: b[0])
    for name, item in best[1].items():
        item.quantity = as_planned(s, name)
        if (switch := SWITCHES.get(s.facts[name].text)) is not None:
            item.address.setdefault("detector", switch)
        s.take(name)
    of_something_else(s, best[1])
    fed_in_front(s)
    sags_under_load(s)
    two_of_one_name(s)
    find_both_ends(s)
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
    if at is None or _crosses(s, name, at, names) or _has_one_beside(s, name, at, free) or _leads_another(s, name, at):
        return None
    return None if _is_led_by_its_place(s, name, at, free) else at


def _is_led_by_its_place(s: Sentence, name: int, at: int, free: Mapping[int, Item]) -> bool:
    """'v3 cathode 2.1v b+ 251v': a figure behind a point of its own, where the name leads the next."""
    led = at < name and (before := s.fact(at - 1)) is not None and before.kind == "place"
    behind = free.get(name + 1)
    return led and behind is not None and behind.fact.unit is not None and _goes_with(s, name, behind)


def _leads_another(s: Sentence, name: int, at: int) -> bool:
    """'10m 31w, drive 1.1v rf': whether a name begins its clause and leads a figure there, of whatever unit, and is no
    name of one in the clause before."""
    if at > name or not s.facts[name].fresh:
        return False
    for n in range(name + 1, len(s.facts)):
        if s.facts[n].fresh:
            return False
        if (behind := s.item_at(n)) is not None:
            return behind.fact.unit is not None
    return False


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
    if _says_where(s, quantity, item) or _is_how_far_off(s, quantity, item) or _is_only_counted(quantity, item.fact):
        return False
    told = vocabulary().file.quantity.get(quantity)
    own = OWN_CHECKS.get(quantity)
    found = own(s, item) if own is not None else None
    return found if found is not None else _unit_goes(item.fact, quantity, told.units if told else ("dBc", "dB"))


def _is_only_counted(quantity: str, fact: Fact) -> bool:
    """'26w pep 144.30012': megahertz of a counter are of no power."""
    counted = fact.unit is None and not fact.signed and fact.decimals >= ONLY_COUNTED and fact.value > 1
    return counted and UNIT_OF.get(quantity) != "Hz"


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
    return False if is_fed_at_rest(s, item) else None


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
