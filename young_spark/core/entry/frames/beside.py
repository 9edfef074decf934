"""What only stands beside a figure: sides and 'low', the switch of a meter, 'no mod', words of a change, a share that
it was read at."""

from young_spark.core.entry.facts.said import UNIT_OF, Item
from young_spark.core.entry.facts.sentence import Sentence, Unexplained
from young_spark.core.entry.naming.bare_figure import in_hertz
from young_spark.core.entry.wording.changes import ARROWS, FALLS, FALLS_TO

LOW_OR_HIGH = {"W", "%"}  # units of what can be low or high in itself
TOO = {"low", "high", "too low", "too high"}
NEAREST, NEAREST_LEADING = 2, 3  # facts between a side and its figure
AUDIO = {"am_depth", "fm_deviation"}


def find_sides(s: Sentence) -> None:
    """High and low of a frequency, up and down of peaks, 'down' of a level below another, 'low' of a figure that is."""
    free = s.free("side")
    leads = {str(s.facts[n].is_) for n in free} == {"high", "low"} and bool(s.items) and free[0] < s.items[0].at
    for n in free:
        near = _figure_of(s, n, leads=leads)
        if near is None:
            continue
        if s.facts[n].text in TOO and _is_low_itself(s, near):
            near.result = str(s.facts[n].is_)
        elif _is_of_a_setting(s, near, s.facts[n].text):
            near.address["power_setting"] = s.facts[n].text
        else:
            near.side = str(s.facts[n].is_)
            _for_the_like(s, near)
        s.take(n)


def _for_the_like(s: Sentence, item: Item) -> None:
    """'carrier 45 down usb 46 lsb': what is down for the first of a name is for the next without one."""
    if item.quantity == "carrier_power" and item.side == "low" and item.fact.unit is None:
        for other in s.items:
            if other.quantity is None and other.fact.unit is None:
                other.quantity, other.side = item.quantity, item.side


def _figure_of(s: Sentence, n: int, *, leads: bool) -> Item | None:
    if s.is_link(n + 1, "to"):
        return None  # 'dev down to 2.4': where it went
    named = s.fact(n + 1)
    if named is not None and named.kind == "quantity" and n + 1 not in s.taken:
        return None  # 'high swr': a result of what follows
    near = next((i for i in s.items if i.at > n), None) if leads else s.nearest_item(n)
    within = NEAREST_LEADING if leads else NEAREST
    return near if near is not None and near.side is None and abs(near.at - n) <= within else None


def _is_low_itself(s: Sentence, item: Item) -> bool:
    """Whether 'low' says that the figure is too low, and not a side, a setting or a sign."""
    unit = item.fact.unit or UNIT_OF.get(item.quantity or s.ground.wants or "", "")
    return unit in LOW_OR_HIGH and not s.ground.power_settings


def _is_of_a_setting(s: Sentence, item: Item, side: str) -> bool:
    """'ch 77 low 0.85' of a set with settings of its power: a decimal that it can give, and no error in hertz."""
    settable = side in s.ground.power_settings and "power_setting" not in item.address
    watts = item.quantity in {None, "carrier_power"} and item.fact.unit is None and item.fact.decimals > 0
    most = s.ground.greatest_power_w
    return settable and watts and most is not None and item.fact.value <= NEARLY_ALL_OF * most


NEARLY_ALL_OF = 1.3  # of the power that a unit is made for: more is a figure of something else


def fallen_under_load(s: Sentence) -> None:
    """'bat 7.6 -> 7.1 on tx', 'hv 860 drops to 740': what feeds it at rest, and what is left of it under load."""
    for rest, loaded in zip(s.items, s.items[1:], strict=False):
        between = {s.facts[n].text for n in range(rest.at + 1, loaded.at)}
        names = {rest.quantity, loaded.quantity} - {None}
        fed = bool(names & FEEDS) or rest.address.get("item") == "battery"
        alike = names <= FEEDS and len(names) < 2 and rest.address == loaded.address
        if (
            not (between & FELL and fed and alike)
            or loaded.fact.value >= rest.fact.value
            or {"W", "A"} & units(rest, loaded)
        ):
            continue
        name = next(iter(names), "supply_voltage")
        rest.quantity = loaded.quantity = name
        behind = s.fact(loaded.at + 1)
        if behind is not None and behind.of == "state":
            loaded.address["state"] = str(behind.is_)
        if name == "supply_voltage":
            rest.address["state"] = "standby"
            loaded.address.setdefault("state", "transmit")
        elif "state" in loaded.address:
            rest.address["state"] = "standby"
        else:
            rest.address["setting"], loaded.address["setting"] = "off load", "on load"
        s.take(*[n for n in range(rest.at + 1, loaded.at) if s.facts[n].text in FELL])


def counted_twice(s: Sentence) -> None:
    """'key down 7.030 -> 7.02965': where it began stays beside where it went, megahertz both."""
    for began, went in zip(s.items, s.items[1:], strict=False):
        bare = all(i.quantity is None and i.fact.unit is None and i.fact.decimals >= COUNTED for i in (began, went))
        states = [s.fact(began.at + 1), s.fact(went.at + 1)]
        by_state = [f.is_ for f in states if f is not None and f.of == "state"]
        if bare and len(set(by_state)) == 2 and abs(went.fact.value / began.fact.value - 1) < LEAST_APART:
            for count in (began, went):  # '7.0305 key up 7.03038 key down'
                count.quantity = in_hertz(count, 1e6)
            return
        moved = went.at == began.at + 2 and s.is_link(began.at + 1, "->")
        if bare and moved and abs(went.fact.value / began.fact.value - 1) < LEAST_APART:
            went.quantity = "carrier_frequency"
            s.items = [i for i in s.items if i is not began]
            return


COUNTED = 3  # decimals of a frequency in MHz
LEAST_APART = 1e-3  # a share by which two readings of anything else differ


def units(*items: Item) -> set[str | None]:
    """The units that figures carry."""
    return {item.fact.unit for item in items}


FEEDS = {"supply_voltage", "plate_voltage", "screen_voltage"}
FELL = {*ARROWS, *FALLS, *FALLS_TO, "stays", "holds"}


def both_of_a_switch(s: Sentence) -> None:
    """'pk 13.5w avg 4.4w': the two differ, so that it is modulated."""
    if {"peak_envelope_power", "mean_power"} <= {i.quantity for i in s.items}:
        s.everywhere["modulation"] = "on"


def without_audio(s: Sentence) -> None:
    """'3.8w no mod' where the carrier is wanted says how it was read; 'but no mod' and '3.8w, no mod' tell a fault."""
    for n in s.free("quantity"):
        if s.facts[n].of not in AUDIO or not s.has_text(n - 1, "no") or not s.items or s.has_text(n - 2, "but", "and"):
            continue
        if s.facts[n - 1].fresh or s.item_at(n - 2) is None:
            continue
        named = s.has_text(
            n - 3, "carrier", "dead key", "deadkey", "unmod"
        )  # 'carrier 3.4w no mod', whatever is wanted
        if not named and (s.ground.wants in AUDIO or UNIT_OF.get(s.ground.wants or "") != "W"):
            raise Unexplained
        s.everywhere["modulation"] = "off"
        s.take(n - 1, n)


def words_of_a_change(s: Sentence) -> None:
    """'now' and 'then' between two figures, 'across' before its place, 'through' of what is bypassed."""
    for n in range(len(s.facts)):
        between = s.item_at(n - 1) is not None and s.item_at(n + 1) is not None
        after = s.fact(n + 2 if s.has_text(n + 1, "the") else n + 1)
        at_a_place = after is not None and after.kind in {"item", "place"}
        bypassed = any(f.is_ == "bypassed" for f in s.facts)
        if (
            (between and s.has_text(n, "now", "then"))
            or (at_a_place and s.has_text(n, "across"))
            or (bypassed and s.has_text(n, "through"))
        ):
            s.take(n)


def read_at_a_share(s: Sentence) -> None:
    """'dist 4% at 80%', 'limiter peak 2.45k 20db up': a share that another figure was read at stays a remark; beside an
    audio power it is the distortion."""
    for item in list(s.items):
        named = {i.quantity for i in s.items if i is not item and i.quantity}
        if item.fact.unit not in {"%", "dB"} or item.quantity is not None or not named:
            continue
        if s.has_text(item.at + 1, "up", "down"):
            _keep_as_words(s, item, item.at + 1)
        elif s.has_text(item.at - 1, "at") and "audio_power" in named:
            item.quantity = "audio_distortion"
        elif s.has_text(item.at - 1, "at"):
            _keep_as_words(s, item, item.at - 1)


def _keep_as_words(s: Sentence, item: Item, word: int) -> None:
    s.items = [i for i in s.items if i is not item]
    s.keep_words |= {item.at, word}
