"""Frequencies beside other figures that say where those were read: '7.1M 91w', '92w 21.2', '145.5 .32uv'."""

from dataclasses import replace

from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import LONELY_WORDS, Sentence
from young_spark.core.entry.naming.names_to_figures import RATIOS
from young_spark.core.entry.rows.row_of_megahertz import is_in_an_amateur_band

LEAST_TUNED_HZ = 1e6
LEAST_MHZ, MOST_MHZ = 1.0, 1300.0
LEAST_SAID_MHZ = 30.0  # what is less may be volts
MOST_SAID = 3  # decimals of a MHz that a hand says where it is
SAME_PLACE = 0.004  # of a frequency that a line is wanted at
MOST_RATIO = 10.0  # of an SWR; '28mhz 340' where one is wanted is what comes out
WIDTHS = {"fm_deviation", "subtone_deviation", "subtone_frequency", "filter_bandwidth"}
LEAST_CARRIER_HZ = 1e5
LEAST_PAIRED = 4  # figures of two pairs


def own_frequencies(s: Sentence) -> None:
    """A frequency that says where, beside a figure that says what: '7.1M 91w', '92w 21.2'."""
    _behind_the_name_of_an_error(s)
    _in_front_of_each(s)
    _in_front_of_rows(s)
    for item in list(s.items):
        if (led := s.fact(item.at - 1)) is not None and led.kind == "place":
            continue  # 'q7 c 2.1 b -9'
        others = [i for i in s.items if i is not item and (i.fact.unit not in {"Hz", "k", "m"} or _is_no_carrier(s, i))]
        hz = _hertz_of(s, item, others)
        if hz is None:
            continue
        by_channel = sum(f.of == "channel" for f in s.facts) > 1  # 'ch1 476.425 +310, ch40 +325': those say where
        for other in others:
            if not by_channel:
                other.address.setdefault("frequency_hz", s.ground.frequency_of(hz))
        s.drop(item)


def _behind_the_name_of_an_error(s: Sentence) -> None:
    """'freq err 118.1 -180', 'h2 14.2 -51': the megahertz say where, the signed figure directly behind them how far
    off, or how far down."""
    for item in list(s.items):
        off = s.item_at(item.at + 1)
        if item.quantity is None or off is None or not off.fact.signed:
            continue
        if item.quantity == "frequency_error" and _is_a_channel(s, item) and off.fact.unit in {"Hz", "k", None}:
            off.quantity = item.quantity  # 'freq 16 +420hz'
            off.address.setdefault("channel", item.fact.value)
            s.drop(item)
            continue
        if not _looks_like_megahertz(item):
            continue
        if item.quantity == "frequency_error" or item.quantity.startswith(OF_A_SPECTRUM):
            off.quantity = item.quantity
            off.address.setdefault("frequency_hz", s.ground.frequency_of(item.fact.value * 1e6))
            s.drop(item)


def _is_a_channel(s: Sentence, item: Item) -> bool:
    fact = item.fact
    whole = fact.unit is None and not fact.decimals and not fact.signed
    return whole and int(fact.value) in s.ground.channel_hz


OF_A_SPECTRUM = ("harmonic_", "spurious_", "imd", "carrier_supp", "opposite_")


def _in_front_of_each(s: Sentence) -> None:
    """'145.5 swr 1.2 433.5 swr 1.3': each frequency leads the name and the figure that are its own."""
    pairs = list(zip(s.items[::2], s.items[1::2], strict=False))
    if len(s.items) < LEAST_PAIRED or len(s.items) % 2 or not all(_leads_a_named(s, *pair) for pair in pairs):
        return
    for frequency, named in pairs:
        named.address.setdefault("frequency_hz", s.ground.frequency_of(frequency.fact.value * 1e6))
        s.drop(frequency)


def _in_front_of_rows(s: Sentence) -> None:
    """'118.000 6.1w 85% 135.0 5.7w': each frequency of the metric waves leads the figures that were read there."""
    leads = [i for i in s.items if _is_on_metric_waves(i) and _leads_watts(s, i)]
    if len(leads) < LEAST_ROWS or leads[0] is not s.items[0] or s.free("where"):
        return
    for item in s.items:
        at = [lead for lead in leads if lead.at < item.at][-1:]
        if at and item not in leads:
            item.address.setdefault("frequency_hz", s.ground.frequency_of(at[0].fact.value * 1e6))
    for lead in leads:
        s.drop(lead)


def _is_on_metric_waves(item: Item) -> bool:
    return item.quantity is None and _looks_like_megahertz(item) and item.fact.value > LEAST_METRIC_MHZ


def _leads_watts(s: Sentence, item: Item) -> bool:
    behind = s.item_at(item.at + 1)
    return behind is not None and behind.fact.unit in {"W", "uV", "dBm"}


LEAST_ROWS = 2
LEAST_METRIC_MHZ = 100.0


def _leads_a_named(s: Sentence, frequency: Item, named: Item) -> bool:
    name = s.fact(frequency.at + 1)
    between = name is not None and name.kind == "quantity" and named.at == frequency.at + 2
    return between and frequency.quantity is None and named.quantity is not None and _looks_like_megahertz(frequency)


def _looks_like_megahertz(item: Item) -> bool:
    fact = item.fact
    return fact.unit is None and not fact.signed and fact.decimals > 0 and LEAST_MHZ < fact.value < MOST_MHZ


def beside_a_name(s: Sentence) -> None:
    """'36w in 14.2', '14.2, driving with 35w': exactly where a line is wanted, beside a name that has its figure on the
    other side."""
    for item in list(s.items):
        fact, n = item.fact, item.at
        if item.quantity is not None or not s.ground.is_planned_megahertz(fact):
            continue
        named = s.fact(n - 1)
        trails = _is_a_name_of(s, n - 1, s.item_at(n - 2))
        leads = (named is None or named.kind != "quantity") and _is_a_name_of(s, n + 1, _figure_behind(s, n + 1))
        if trails or leads:
            hz = fact.value if fact.unit == "Hz" else fact.value * 1e6
            s.drop(item)
            s.taken.discard(n)
            s.facts[n] = replace(fact, kind="where", of="frequency_hz", is_=s.ground.frequency_of(hz))


def _figure_behind(s: Sentence, n: int) -> Item | None:
    """The figure behind a name, with 'with' or the like between them."""
    return s.item_at(n + 2 if s.has_text(n + 1, *LONELY_WORDS) else n + 1)


def _is_a_name_of(s: Sentence, n: int, figure: Item | None) -> bool:
    """Whether a name stands at a position, and a figure in a unit that is its own."""
    name = s.fact(n)
    if name is None or name.kind != "quantity" or figure is None:
        return False
    return figure.fact.unit in UNITS_OF.get(UNIT_OF.get(name.of, ""), set())


# units in which the figure of a name is typed, where a band in megahertz beside it could be no other's
UNITS_OF: dict[str, set[str | None]] = {
    "W": {"W"}, "A": {"A"}, "%": {"%"}, "Hz": {"Hz", "k"}, "dB": {"dB", None}, "dBc": {"dB", "dBc", None},
}  # fmt: skip


def megahertz_said(s: Sentence, keys: dict[str, list[int]]) -> None:
    """'ip dip 90ma at 7 mhz': where it was tuned, unless a spur or a tone is meant; '98w at 3.7 mhz, 101w at 7.1 mhz':
    each of the figures on its own side."""
    told = [n for n in keys.get("at_hz", ()) if float(str(s.facts[n].is_)) >= LEAST_TUNED_HZ and n not in s.taken]
    spur = any(_is_a_line_of_a_spectrum(s, i, told) for i in s.items)
    if spur or not told or not s.items:
        return
    leads = told[0] < s.items[0].at
    for n, at in enumerate(told):
        low, high = (at, [*told, END][n + 1]) if leads else ([BEGIN, *told][n], at)
        mine = [i for i in s.items if low < i.at < high] if len(told) > 1 else s.items
        for item in mine:
            item.address.setdefault("frequency_hz", s.ground.frequency_of(float(str(s.facts[at].is_))))
        s.take(at)
    keys["at_hz"] = [n for n in keys["at_hz"] if n not in told]


def _is_a_line_of_a_spectrum(s: Sentence, item: Item, told: list[int]) -> bool:
    """'spur -52 at 54 mhz', 'h2 -51 at 54.37 mhz': where it was seen, and not where the unit was; '2nd harmonic 54 down
    at 14.2 mhz' of a unit that is wanted there: where that was."""
    name = item.quantity or ""
    if not name.startswith("harmonic_"):
        return name.startswith(("spurious", "edge_"))
    wanted = [float(str(x["frequency_hz"])) for x in s.ground.lines if x["quantity"] == name and "frequency_hz" in x]
    wanted += [] if len(s.items) == 1 else s.ground.read_at  # 'harmonics -45 2nd -50 3rd at 5mhz'
    return not all(any(abs(float(str(s.facts[n].is_)) / hz - 1) < SAME_PLACE for hz in wanted) for n in told)


BEGIN, END = -1, 10_000  # of the facts


def beside_a_result(s: Sentence) -> None:
    """'7.1 none', 'nothing on 28.5': the only figure says where, the result what."""
    if len(s.items) != 1 or s.items[0].quantity is not None or not s.free("result"):
        return
    item = s.items[0]
    hz = s.ground.as_carrier(item.fact)
    said = item.fact.unit == "Hz" and item.fact.decimals <= MOST_SAID  # 'no output on 121.5 mhz': nobody counts nothing
    if hz is None or not (said or any(abs(hz / known - 1) < SAME_PLACE for known in s.ground.frequencies)):
        return
    s.shared["frequency_hz"] = s.ground.frequency_of(hz)
    s.drop(item)


def _is_no_carrier(s: Sentence, item: Item) -> bool:
    """Whether a figure in hertz is how far off, or how wide, and not where."""
    return _is_an_error(s, item) or (item.quantity in WIDTHS and item.fact.value < LEAST_CARRIER_HZ)


def _hertz_of(s: Sentence, item: Item, others: list[Item]) -> float | None:
    """The frequency that a figure says its neighbours stand at, in Hz, or None."""
    off = any(_is_an_error(s, i) for i in others) or (_are_all_signed(others) and not s.ground.is_a_count(item.fact))
    off = off or (len(others) == 1 and others[0].fact.signed and others[0].at == item.at + 1)
    counted = not off and _looks_counted(s, item, others)
    if item.quantity is not None or counted or not _says_what(s, others):
        return None
    known = s.ground.as_carrier(item.fact) or _whole_megahertz(s, item, others) or _whole_kilohertz(s, item, others)
    return known or _off_from(item, off=off) or _of_an_unknown_plan(s, item, others) or _amateur(s, item, others)


def _looks_counted(s: Sentence, item: Item, others: list[Item]) -> bool:
    """Whether a frequency has a counter's decimals; 'hi 4.9 lo 0.9w 477.0875' is a channel to the hertz, and no counter
    shows that of a carrier."""
    if s.ground.is_a_count(item.fact):
        return True
    if item.fact.decimals <= MOST_SAID or item.fact.unit is not None:
        return False
    on_a_channel = any(abs(item.fact.value * 1e6 - hz) < 1 for hz in s.ground.channel_hz.values())
    return not (on_a_channel and all(o.fact.unit in {"W", None} for o in others))


def _amateur(s: Sentence, item: Item, others: list[Item]) -> float | None:
    """'7.1 60w in 390w out', '4w in 285w out 7.1': megahertz of an amateur band beside watts, and nothing else that is
    wanted."""
    at_an_end = item.at in {0, len(s.facts) - 1} and len(others) > 1 and all(o.fact.unit == "W" for o in others)
    return item.fact.value * 1e6 if at_an_end and is_in_an_amateur_band(s, item.fact) else None


def _of_an_unknown_plan(s: Sentence, item: Item, others: list[Item]) -> float | None:
    """'carrier 1.4w 123.5', '145.5 .32uv' of a unit whose frequencies nobody listed: megahertz beside what is sent or
    heard there, and no volts of a supply."""
    fact = item.fact
    plain = fact.unit is None and not fact.signed and fact.decimals > 0 and fact.value > LEAST_SAID_MHZ
    units = {o.fact.unit for o in others}
    if plain and fact.value > LEAST_METRIC_MHZ and _is_of_metric_waves(s):
        return fact.value * 1e6 if units & {"W", "uV", "dBm"} and fact.value < MOST_MHZ else None
    sent_or_heard = bool(units & {"W", "uV", "dBm"}) and units <= {"W", "uV", "dBm", "dB", "%"}
    if not plain or s.ground.channel_hz or s.ground.frequencies or not sent_or_heard:
        return None
    return fact.value * 1e6 if fact.value < MOST_MHZ else None


def _is_of_metric_waves(s: Sentence) -> bool:
    """'433.5 36w 9.1a' of a unit whose lines are on VHF: no volts there are so many."""
    known = s.ground.frequencies
    return bool(known) and min(known) > LEAST_METRIC_MHZ * 1e6 and not s.ground.high_voltage


def _off_from(item: Item, *, off: bool) -> float | None:
    """'27.185 +600hz': what the error is from."""
    fact = item.fact
    said = off and fact.unit is None and fact.decimals > 0 and LEAST_MHZ < fact.value < MOST_MHZ
    return fact.value * 1e6 if said else None


def _says_what(s: Sentence, others: list[Item]) -> bool:
    """Whether the figures beside a frequency are read there."""
    if _are_all_signed(others):
        return True  # '27.205 usb +40 lsb -35'
    told = any(
        o.fact.unit in {"W", "dBc", "%", "A", "Hz", "uV", "dBm", "Ω"} or o.quantity or _is_an_error(s, o)
        for o in others
    )
    ratios = UNIT_OF.get(s.ground.wants or "") == "1" and all(
        o.fact.unit is None and o.fact.value > MOST_RATIO for o in others
    )
    return bool(others) and (told or ratios or s.ground.is_bare_power(others))


def _are_all_signed(others: list[Item]) -> bool:
    return bool(others) and all(o.fact.unit is None and o.fact.signed and not o.fact.decimals for o in others)


def _is_an_error(s: Sentence, item: Item) -> bool:
    """'+15hz', '15 hz high': how far off, and not where."""
    behind = s.fact(item.at + 1)
    told = item.fact.signed or item.quantity == "frequency_error" or (behind is not None and behind.kind == "side")
    return item.fact.unit in {"Hz", "k"} and told and abs(item.fact.value) < 1e5


def _whole_megahertz(s: Sentence, item: Item, others: list[Item]) -> float | None:
    """'145 48w': a whole number of megahertz that an open line is wanted at, beside watts."""
    watts = any(o.fact.unit == "W" for o in others)
    if item.fact.unit is not None or item.fact.signed or not watts or item.fact.value < 10:
        return None
    hz = item.fact.value * 1e6
    return next((known for known in s.ground.frequencies if abs(hz / known - 1) < 1e-3), None)


def _whole_kilohertz(s: Sentence, item: Item, others: list[Item]) -> float | None:
    """'receiver 2182 0.4uv', '2182.0 -12hz': kilohertz on short waves, beside what was heard or how far it is off."""
    beside = all(o.fact.unit in {"uV", "W"} or o.quantity in RATIOS or _is_an_error(s, o) for o in others)
    return s.ground.as_kilohertz(item.fact) if beside else None
