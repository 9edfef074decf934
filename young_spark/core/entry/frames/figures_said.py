"""What belongs to one figure: corrections, ranges, comparators, forms."""

import re
from dataclasses import replace

from young_spark.core.entry.facts.cutting import SIGNS, TOUCHING, UNITS
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import LEAST_VHF_MHZ, MOST_MHZ, UNIT_OF, Item
from young_spark.core.entry.facts.sentence import LONELY_WORDS, Sentence, Unexplained
from young_spark.core.entry.wording.changes import FALLS, RISES

BEHIND = {"ish", "tops", "and a bit", "max", "plus"}  # comparators that stand behind their figure
SAME_RAIL = 0.15
COUNTED = 3  # decimals of a frequency in megahertz
OHMS = {"k", "Ω", "m"}
VOLTS_OF = {"screen_voltage", "supply_voltage", "bias_voltage", "filament_voltage"}
FALLING = {*FALLS, *RISES}  # two readings, no bounce
CEILING = re.compile(r"(?:wo|ca|will |can)n'?t|will not|can ?not|not")


def join_units(s: Sentence) -> None:
    """A unit that stands alone behind its figure: '3.8  w' is one figure; '2 5 10 w' is cut that way."""
    for n, fact in enumerate(s.facts[:-1]):
        behind = s.facts[n + 1]
        units = UNITS | {"k": TOUCHING["k"]}
        if fact.kind == "figure" and fact.unit is None and behind.kind == "word" and behind.text in units:
            unit, factor = units[behind.text]
            s.facts[n] = replace(fact, unit=unit, value=fact.value * factor, factor=factor)
            s.take(n + 1)
        elif fact.kind == "figure" and fact.unit is None and behind.text in LENGTHS:
            s.facts[n] = replace(fact, kind="word")  # 'plates 0.9 mm gap': nothing that is read here


LENGTHS = {"mm", "cm", "inch", "inches", "millimetres", "metres", "meters"}


def seventy(s: Sentence) -> None:
    """'70 hi 34.5', 'h2 2m -66, 70 -70' of a set for two bands: seventy centimetres."""
    dual = any(LEAST_VHF_HZ < hz < MOST_UHF_HZ for hz in s.ground.frequencies) or any(f.is_ == "2m" for f in s.facts)
    for n, fact in enumerate(s.facts[:-1]):
        behind = s.facts[n + 1]
        bare = fact.kind == "figure" and fact.text == "70" and (n == 0 or fact.fresh)
        if dual and bare and (behind.kind in {"figure", "side"} or behind.of == "setting_word") and not behind.fresh:
            s.facts[n] = Fact("where", fact.text, of="frequency_hz", is_=SEVENTY_HZ, fresh=fact.fresh)

    if any(f.kind == "where" and f.of == "frequency_hz" for f in s.facts):
        _bands_as_frequencies(s)


def _bands_as_frequencies(s: Sentence) -> None:
    """'2m 9.6 70cm 9.1': a band beside one that only its frequency says is told the same way."""
    for n, fact in enumerate(s.facts):
        if fact.kind == "where" and fact.of == "band" and str(fact.is_).rstrip("m").isdigit():
            hz = s.ground.frequency_of_band(str(fact.is_))
            s.facts[n] = Fact("where", fact.text, of="frequency_hz", is_=hz, fresh=fact.fresh)


SEVENTY_HZ = 433.5e6
LEAST_VHF_HZ, MOST_UHF_HZ = 100e6, 500e6


def correct(s: Sentence) -> None:
    """'3.6 no 3.8w': the last figure stands; '58 not 48': the one before 'not'; 'was 2.1 now 3.8w': what is now."""
    _taken_back(s)
    _was_and_now(s)
    _before_and_after(s)
    _was_at_the_end(s)
    for n, fact in enumerate(s.facts):
        earlier = s.item_at(n + 1)
        if fact.text == "was" and n not in s.taken and earlier is not None and _now_follows(s, n + 1):
            leave_as_words(s, earlier)
            s.take(*[m for m in range(n + 2, len(s.facts)) if s.facts[m].text == "now"][:1])


TAKES_BACK = {"no", "sorry", "correction", "oops", "rather"}


def _taken_back(s: Sentence) -> None:
    for n, fact in enumerate(s.facts):
        before, after = s.item_at(n - 1), s.item_at(n + 1)
        if fact.text in TAKES_BACK and after is None and _is_said_again(s, n):
            after = s.item_at(n + 2)  # 'usb -10 sorry usb -15'
            s.take(n - 2)
        if before is None or after is None:
            continue
        if fact.text in TAKES_BACK and before.fact.unit in (None, after.fact.unit):
            leave_as_words(s, before)
        elif fact.text == "not" and after.fact.unit in (None, before.fact.unit):
            leave_as_words(s, after)


def _is_said_again(s: Sentence, n: int) -> bool:
    """Whether what led the figure that is taken back leads the other too."""
    led, leads = s.fact(n - 2), s.fact(n + 1)
    return led is not None and leads is not None and led.kind in {"where", "how", "quantity"} and led.text == leads.text


def _was_and_now(s: Sentence) -> None:
    """'hum -32 was, -49 now'; '28c now, was 95c'."""
    for n, fact in enumerate(s.facts):
        earlier = s.item_at(n + 1)
        if fact.text == "was" and s.has_text(n - 1, "now") and s.item_at(n - 2) is not None and earlier is not None:
            leave_as_words(s, earlier)
            s.take(n - 1)
            continue
        before, after = s.item_at(n - 1), s.item_at(n + 1)
        if fact.text == "was" and before is not None and after is not None and s.has_text(n + 2, "now"):
            leave_as_words(s, before)
            s.take(n, n + 2)


def _before_and_after(s: Sentence) -> None:
    """'sens 0.6uv before 2.2', 'chirp before 220 after 15': what it was before stays as words."""
    for n, fact in enumerate(s.facts):
        first, then = s.item_at(n - 1), s.item_at(n + 1)
        if fact.text == "before" and first is not None and then is not None and s.has_text(n + 2, "after"):
            leave_as_words(s, first)  # 'pa current 19.5a before 21a after'
            s.take(n, n + 2)
            return
    for n, fact in enumerate(s.facts):
        if fact.text in THEN and not _before_at_the_end(s, n):
            _before_in_front(s, n)


def _before_at_the_end(s: Sentence, n: int) -> bool:
    """'sens .9uv before, .22 now': behind its figure, and at the end of its clause."""
    earlier = s.item_at(n - 1)
    if earlier is None or not _ends_its_clause(s, n):
        return False
    if _alike_beside(s, earlier) is not None:
        leave_as_words(s, earlier)
        s.take(*[m for m in range(n + 1, len(s.facts)) if s.facts[m].text in {"now", "after"}][:1])
    return True


def _before_in_front(s: Sentence, n: int) -> None:
    earlier, later = s.item_at(n + 1), s.item_at(n - 1)
    if earlier is None:
        return
    after = later or (s.item_at(n + 3) if s.has_text(n + 2, "after", "now") else None)
    if after is not None and alike(earlier.fact, after.fact):
        leave_as_words(s, earlier)
        if later is None:
            s.take(n + 2)


THEN = {"before", "previously", "originally"}


def _ends_its_clause(s: Sentence, n: int) -> bool:
    """Whether nothing of the clause stands behind a position."""
    behind = s.fact(n + 1)
    return behind is None or behind.fresh


def _alike_beside(s: Sentence, item: Item) -> Item | None:
    """The last other figure that may be of the same."""
    return next((o for o in reversed(s.items) if o is not item and alike(o.fact, item.fact)), None)


def _was_at_the_end(s: Sentence) -> None:
    """'12 pep ssb, was 9': a clause of its own that says what it was before."""
    for n, fact in enumerate(s.facts):
        earlier = s.item_at(n + 1)
        if fact.text != "was" or not fact.fresh or earlier is None or not _ends_its_clause(s, n + 1):
            continue
        if any(o.at < n and alike(o.fact, earlier.fact) for o in s.items):
            leave_as_words(s, earlier)


def _now_follows(s: Sentence, n: int) -> bool:
    return s.has_text(n + 1, "now") and s.item_at(n + 2) is not None


def leave_as_words(s: Sentence, item: Item) -> None:
    """A figure that was taken back by the hand itself stays in the remark."""
    s.items = [i for i in s.items if i is not item]


def find_ranges(s: Sentence) -> None:
    """'3.4..3.8w', 'between 3.3 and 3.8', '3.4-3.8w'."""
    for n in range(len(s.facts)):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        falls = any(s.facts[m].text in FALLING for m in range(n))
        if (
            left is None
            or right is None
            or n in s.taken
            or falls
            or s.ground.as_carrier(left.fact) is not None
            or not _spans(s, n)
            or not alike(left.fact, right.fact)
        ):
            continue
        _join(s, left, right, n)
        if s.is_link(n - 2, "between"):
            s.take(n - 2)
        s.take(*[m for m in range(n) if s.facts[m].text in {"bounces", "wanders", "varies"}])
    _join_glued(s)
    s.items = [i for i in s.items if not i.used]


def _join_glued(s: Sentence) -> None:
    for left, right in list(zip(s.items, s.items[1:], strict=False)):
        if right.at == left.at + 1 and _is_glued(left.fact, right.fact) and not _are_levels(s, left):
            right.fact = replace(right.fact, value=-right.fact.value, signed=False)
            _join(s, left, right, left.at)


def share_a_unit(s: Sentence) -> None:
    """'-1.5/+1.4k': what stands behind the second of two sides is meant for both."""
    for n in range(len(s.facts)):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        if left is None or right is None or not s.is_link(n, "/") or left.fact.unit is not None:
            continue
        if left.fact.signed and right.fact.signed and right.fact.unit is not None:
            s.take(n)
            left.fact = replace(
                left.fact, unit=right.fact.unit, value=left.fact.value * right.fact.factor, factor=right.fact.factor
            )


def _spans(s: Sentence, n: int) -> bool:
    """Whether a link stands between the two ends of a range; between volts by their name also a stroke."""
    if s.is_link(n, "/") and any(f.of in VOLTS_OF for f in s.facts[:n]):
        left, right = s.item_at(n - 1), s.item_at(n + 1)
        alike = left is not None and right is not None and {left.fact.unit, right.fact.unit} <= {None, "V"}
        return alike and bool(left and right and abs(right.fact.value / (left.fact.value or 1) - 1) < SAME_RAIL)
    return s.is_link(n, "..", "...", "to") or (s.is_link(n, "and") and s.is_link(n - 2, "between"))


def _join(s: Sentence, left: Item, right: Item, link: int) -> None:
    unit = right.fact.unit or left.fact.unit
    factor = right.fact.factor if left.fact.unit is None else 1.0
    left.fact = replace(left.fact, unit=unit, value=left.fact.value * factor, factor=right.fact.factor)
    left.upper = replace(right.fact, unit=unit)
    right.used = True
    s.take(link, right.at)


LEAST_CARRIER_MHZ = 1.6


def _is_glued(left: Fact, right: Fact) -> bool:
    """'3.4-3.8w': the sign between two figures is a dash."""
    falls = right.signed and right.value < 0 < left.value and not left.signed
    near = left.unit in (None, right.unit) and -right.value > left.value / max(right.factor, 1e-12)
    return falls and near and not _is_off_from(left, right)


def _are_levels(s: Sentence, left: Item) -> bool:
    """'h2 14.2 -51': a minus behind the name of a level is its sign, and what stands in front of it says where."""
    named = (f for f in s.facts[: left.at] if f.kind == "quantity")
    return any(UNIT_OF.get(f.of) in {"dBc", "dB", "dBm"} for f in named)


def _is_off_from(left: Fact, right: Fact) -> bool:
    """'freq 121.5 -310hz', 'freq 26.965 -4.1k', '145.500 -180', '433.5 -610': where, and how far off."""
    if left.unit is not None:
        return False
    if right.unit in {"Hz", "ppm"}:
        return left.decimals > 0
    if right.unit == "k":
        return left.decimals > 1 and left.value > LEAST_CARRIER_MHZ
    vhf = left.decimals > 0 and LEAST_VHF_MHZ < left.value < MOST_MHZ
    return right.unit is None and not right.decimals and (left.decimals >= COUNTED or vhf)


def alike(left: Fact, right: Fact) -> bool:
    """Whether two figures may be of one thing, by their units."""
    if {left.unit, right.unit} <= OHMS:
        return True
    return left.unit == right.unit or left.unit is None or right.unit is None


def find_comparators(s: Sentence) -> None:
    """About, at most, at least; under a 'wont' more is a ceiling; plus or minus is at most, on either side."""
    for item in s.items:
        item.bound = item.fact.bound
        item.about = item.fact.of in {"a rough word", "kept words"}
        for n in (item.at - 1, item.at - 2):
            if s.is_link(n, "upper", "lower", "about") and n not in s.taken and _adjacent(s, n, item.at):
                _compare(s, item, n)
        if s.is_link(item.at + 1, "about", "upper", "lower") and s.facts[item.at + 1].text in BEHIND:
            _compare(s, item, item.at + 1)
        item.about = item.about and not (item.bound and item.fact.of == "a rough word")
        if s.is_link(item.at - 1, "either side"):
            item.bound = "upper"
            s.take(item.at - 1)


def _adjacent(s: Sentence, n: int, at: int) -> bool:
    return all(f.kind == "word" and f.text in LONELY_WORDS for f in s.facts[n + 1 : at])


def _compare(s: Sentence, item: Item, n: int) -> None:
    kind = s.facts[n].of
    if s.facts[n].text == "within" and item.fact.unit not in {"Hz", "k", "ppm", None}:
        raise Unexplained  # 'flat within 0.3w': how far apart, and no figure of its own
    if kind == "about":
        item.about = True
    elif kind == "lower" and (none := _none_before(s, n)) is not None and item.fact.unit in {None, "dB", "dBc", "dBm"}:
        item.bound, item.by_sign = "upper", item.fact.signed  # 'none above -60': at most that
        s.take(none)
    else:
        ceiling = kind == "lower" and any(CEILING.match(f.text) for f in s.facts[:n])
        item.bound = "upper" if ceiling else kind
        item.by_sign = s.facts[n].text in SIGNS
    s.take(n)


def _none_before(s: Sentence, n: int) -> int | None:
    """The 'none' of 'none seen above -60'."""
    return next((m for m in s.free("result") if m < n and s.facts[m].is_ == "none" and n - m <= 2), None)


def _in_the_same_row(s: Sentence, n: int, first: Item) -> None:
    """'driver grid rf 15m 0.4v, 20m 3.1v': what leads a row is meant for all of it, up to another point or name."""
    for item in [i for i in s.items if n < first.at < i.at]:
        between = s.facts[first.at + 1 : item.at]
        if any(f.kind in {"place", "quantity", "form"} for f in between) or item.fact.unit != first.fact.unit:
            return
        item.is_rf = True


def _at_each_of_them(s: Sentence, n: int, first: Item) -> None:
    """'rf at driver 4.2v, at final base 0.3v': the word in front leads them all."""
    if n > 0 or not s.is_link(n + 1, "at"):
        return
    for item in s.items:
        if item.at > first.at and item.fact.unit == first.fact.unit and item.quantity is None:
            item.is_rf = True


def _is_missing_elsewhere(s: Sentence, n: int, near: Item) -> bool:
    """'collector 13.2, base no rf': of another clause than the figure's."""
    return s.has_text(n - 1, "no") and any(f.fresh for f in s.facts[near.at + 1 : n])


def _of_which_figure(s: Sentence, n: int) -> Item | None:
    """The one beside it; 'c 7.6, rf 240mv', 'base 0.68v rf 0.9v pp': the one that it leads."""
    behind, after = s.item_at(n + 1), s.fact(n + 2)
    swings = behind is not None and (behind.fact.unit in SWINGING or (after is not None and after.of == "form"))
    leads = behind if s.facts[n].fresh or (swings and s.facts[n].of == "rf") else None
    return leads or s.nearest_item(n)


SWINGING = {"Vpp", "Vrms", "Vp"}


def find_forms(s: Sentence) -> None:
    """Peak to peak, rms, RF, EMF: of the figure beside them."""
    for n in s.free("form"):
        near = _of_which_figure(s, n)
        if near is None:
            continue
        kind, form = s.facts[n].of, str(s.facts[n].is_)
        after = s.fact(n + 1)
        named = after is not None and after.kind in {"word", "place"} and s.item_at(n - 1) is None
        if kind == "rf" and named:
            continue  # 'rf amp', 'rf choke': a part's name
        if kind == "rf" and _is_missing_elsewhere(s, n, near):
            continue
        if kind == "rf" and near.fact.unit not in {"V", "Vpp", "Vrms", None}:
            continue
        s.take(n)
        if kind == "rf":
            near.is_rf = True
            _in_the_same_row(s, n, near)
            _at_each_of_them(s, n, near)
        elif near.fact.unit == "V" and form in {"pp", "rms"}:
            near.fact = replace(near.fact, unit=f"V{form}")
            near.form = form
        elif kind == "form":
            near.form = form
        else:
            near.marks.add(form)
