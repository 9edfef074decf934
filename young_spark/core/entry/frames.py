"""What the facts of a text say together: readings with their places, what is only a remark, or nothing that is sure.

Names and places are bound to figures for the line as a whole: either they lead their figures or they trail, and a unit
that does not go with a quantity is never bound to it. What no frame explains stays as the remark."""

import math
import re
from collections.abc import Sequence
from dataclasses import replace

from young_spark.core.entry.address import filled
from young_spark.core.entry.facts import UNITS, Fact
from young_spark.core.entry.in_unit import in_unit
from young_spark.core.entry.said import UNIT_OF, Breath, Ground, Item, Said, follows_from
from young_spark.core.entry.vocabulary import vocabulary
from young_spark.core.entry.which_quantity import ELECTRODE_OF, by_its_side, by_its_unit, is_of_power, unnamed

LONELY_WORDS = {"a", "the", "is", "it", "at", "of", "on", "in", "and", "but", "to", "with", "reads", "reading"}
FALLS = {"drops", "dips", "falls", "fell", "dropped", "falls to", "drops to", "dips to", "to", "reads", "reading", "="}
BEHIND = {"ish", "tops", "and a bit", "max"}  # comparators that stand behind their figure
SENSITIVITIES = {"sensitivity_12db_sinad", "sensitivity_10db_sn", "squelch_open"}


class _Unexplained(Exception):
    """A fact that no frame explains, where dropping it would change what is meant."""


def read(facts: Sequence[Fact], ground: Ground) -> Breath:
    """The readings of a text's facts on this ground."""
    return _Reader(facts, ground).breath()


class _Reader:
    def __init__(self, facts: Sequence[Fact], ground: Ground) -> None:
        self.facts = list(facts)
        self.ground = ground
        self.taken: set[int] = set()
        self.items: list[Item] = []

    def breath(self) -> Breath:
        try:
            self._trim_units()
            self._channels_that_look_like_parts()
            self.items = [Item(f, n) for n, f in enumerate(self.facts) if f.kind == "figure"]
            self._corrected()
            self._ranges()
            self._comparators()
            self._forms()
            self._marked()
            self._drive_to_output()
            self._names()
            self._address()
            self._sides()
            said = self._readings()
            return Breath(tuple(said), self._remark(), sure=bool(said))
        except _Unexplained:
            return Breath(sure=False)

    # figures --------------------------------------------------------------------------------------------------------

    def _trim_units(self) -> None:
        """A lone figure before a frequency of the lines, or a unit that stands alone behind it."""
        for n, fact in enumerate(self.facts[:-1]):
            if fact.kind == "figure" and fact.unit is None and self.facts[n + 1].text in UNITS:
                unit, factor = UNITS[self.facts[n + 1].text]
                self.facts[n] = replace(fact, unit=unit, value=fact.value * factor)
                self.taken.add(n + 1)

    def _channels_that_look_like_parts(self) -> None:
        """'c40 3.35w': a channel where watts are read on it, a capacitor otherwise."""
        watts = any(f.kind == "figure" and f.unit == "W" for f in self.facts)
        for n, fact in enumerate(self.facts):
            number = re.fullmatch(r"C(\d{1,2})", fact.of) if fact.kind == "place" else None
            if number is not None and watts and int(number[1]) in self.ground.channel_hz:
                self.facts[n] = Fact("where", fact.text, of="channel", is_=float(number[1]))

    def _link(self, n: int, *kinds: str) -> bool:
        return 0 <= n < len(self.facts) and self.facts[n].kind == "link" and self.facts[n].of in kinds

    def _corrected(self) -> None:
        """'3.6 no 3.8w': the last figure stands."""
        for n, fact in enumerate(self.facts):
            if fact.text == "no" and 0 < n < len(self.facts) - 1:
                before, after = self.facts[n - 1], self.facts[n + 1]
                if before.kind == after.kind == "figure" and before.unit in (None, after.unit):
                    self.items = [i for i in self.items if i.at != n - 1]
                    self.taken |= {n - 1, n}

    def _ranges(self) -> None:
        by_at = {i.at: i for i in self.items}
        for n in range(len(self.facts)):
            left, right = by_at.get(n - 1), by_at.get(n + 1)
            if left is None or right is None or left.used or not self._spans(n) or not _same(left.fact, right.fact):
                continue
            self._join(left, right, n)
            if self._link(n - 2, "between"):
                self.taken.add(n - 2)
        for left, right in zip(self.items, self.items[1:], strict=False):
            if right.at == left.at + 1 and _is_glued(left.fact, right.fact):
                right.fact = replace(right.fact, value=-right.fact.value, signed=False)
                self._join(left, right, left.at)
        self.items = [i for i in self.items if not i.used]

    def _spans(self, n: int) -> bool:
        """Whether a link stands between the two ends of a range."""
        return self._link(n, "..", "...", "to") or (self._link(n, "and") and self._link(n - 2, "between"))

    def _join(self, left: Item, right: Item, link: int) -> None:
        unit = right.fact.unit or left.fact.unit
        factor = right.fact.factor if left.fact.unit is None else 1.0
        left.fact = replace(left.fact, unit=unit, value=left.fact.value * factor)
        left.upper = replace(right.fact, unit=unit)
        right.used = True
        self.taken |= {link, right.at}

    def _comparators(self) -> None:
        for item in self.items:
            item.bound = item.fact.bound
            for n in (item.at - 1, item.at - 2):
                if self._link(n, "upper", "lower", "about") and n not in self.taken and self._adjacent(n, item.at):
                    self._compare(item, n)
            after = item.at + 1
            if self._link(after, "about", "upper", "lower") and self.facts[after].text in {
                "ish",
                "tops",
                "and a bit",
                "max",
            }:
                self._compare(item, after)

    def _adjacent(self, n: int, at: int) -> bool:
        return all(f.kind == "word" and f.text in LONELY_WORDS for f in self.facts[n + 1 : at])

    def _compare(self, item: Item, n: int) -> None:
        kind = self.facts[n].of
        if kind == "about":
            item.about = True
        else:
            item.bound = kind
        self.taken.add(n)

    def _forms(self) -> None:
        for n, fact in enumerate(self.facts):
            if fact.kind != "form":
                continue
            near = min(self.items, key=lambda i: abs(i.at - n), default=None)
            if near is None:
                continue
            self.taken.add(n)
            if fact.of == "rf":
                near.is_rf = True
            else:
                near.form = str(fact.is_)

    def _marked(self) -> None:
        """'61uf of 100uf': what it measures, and what is printed on it; 'should be': what is due."""
        by_at = {i.at: i for i in self.items}
        for n, fact in enumerate(self.facts):
            left, right = by_at.get(n - 1), by_at.get(n + 1)
            if fact.kind != "link" or left is None or right is None or right.used:
                continue
            if fact.of == "of" and left.fact.unit == right.fact.unit and left.fact.unit in {"F", "Ω"}:
                left.address["marked"] = right.fact.value
            elif fact.of == "should be" and not right.used and _same(left.fact, right.fact):
                left.address["due"] = right.fact.value * (1 if right.fact.unit else left.fact.factor)
            else:
                continue
            right.used = True
            self.taken |= {n, right.at}
        self.items = [i for i in self.items if not i.used]

    def _drive_to_output(self) -> None:
        """'5w -> 120w' on an amplifier: in and out."""
        if not any(line.get("quantity") == "drive_power" for line in self.ground.lines):
            return
        by_at = {i.at: i for i in self.items}
        for n in range(len(self.facts)):
            left, right = by_at.get(n - 1), by_at.get(n + 1)
            if self._link(n, "->", "to") and left and right and {left.fact.unit, right.fact.unit} <= {"W", None}:
                left.quantity, right.quantity = "drive_power", "carrier_power"
                self.taken.add(n)

    # names ----------------------------------------------------------------------------------------------------------

    def _names(self) -> None:
        names = [n for n, f in enumerate(self.facts) if f.kind == "quantity" and n not in self.taken]
        best = max((self._bound(names, leads) for leads in (True, False)), key=lambda b: b[0])
        for name, item in best[1].items():
            item.quantity = self.facts[name].of
            self.taken.add(name)
        for name in names:  # two words for one figure: 'carrier … suppression', 'power output'
            if name not in self.taken and self._says_the_same(name):
                self.taken.add(name)

    def _bound(self, names: list[int], leads: bool) -> tuple[float, dict[int, Item]]:
        """Bind every name to a figure, leading or trailing; the other side where that one has none that fits."""
        bound: dict[int, Item] = {}
        score = 0.0
        free = {i.at: i for i in self.items}
        for name in names if leads else reversed(names):
            after = sorted(at for at in free if at > name)
            before = sorted((at for at in free if at < name), reverse=True)
            for first, sides in ((True, after if leads else before), (False, before if leads else after)):
                at = next((a for a in sides[:2] if self._goes_with(name, free[a].fact)), None)
                if at is not None and not self._crosses(name, at, names):
                    bound[name] = free.pop(at)
                    score += (10.0 if first else 6.0) - 0.1 * abs(at - name)
                    break
        return score, bound

    def _crosses(self, name: int, at: int, names: list[int]) -> bool:
        low, high = sorted((name, at))
        return any(low < other < high and self._goes_with(other, self.facts[at]) for other in names)

    def _goes_with(self, name: int, figure: Fact) -> bool:
        told = vocabulary().file.quantity.get(self.facts[name].of)
        units = told.units if told else ("dBc", "dB")
        unit = figure.unit
        if unit is None:
            return True
        if unit == "k":
            return bool({"Hz", "Ω"} & set(units))
        if unit == "m":
            return "Hz" in units or "A" in units
        if unit in {"Vpp", "Vrms"}:
            return bool({"V", "Vpp", unit} & set(units))
        return unit in units or self._family(name, unit)

    def _family(self, name: int, unit: str) -> bool:
        """'plate 2.4kv', 'screen 12ma': the electrode is named, the unit says volts or current."""
        return self.facts[name].of in ELECTRODE_OF and unit in {"V", "A"}

    def _says_the_same(self, name: int) -> bool:
        told = self.facts[name].of
        return any(i.quantity == told or (told == "carrier_power" and is_of_power(i.quantity)) for i in self.items)

    # where and how --------------------------------------------------------------------------------------------------

    def _address(self) -> None:
        keys: dict[str, list[int]] = {}
        for n, fact in enumerate(self.facts):
            if n in self.taken or fact.kind not in {"where", "how", "place"}:
                continue
            key = "place" if fact.kind == "place" else fact.of
            keys.setdefault(key, []).append(n)
        self._own_frequency()
        for key, found in keys.items():
            if key in {"after_s", "load_ohm"} and self.items:
                self.items[-1].address.setdefault(key, self.facts[found[-1]].is_)
            elif len(found) == 1 or len({self.facts[n].is_ for n in found}) == 1:
                for item in self._concerned(key):
                    item.address.setdefault(key, self.facts[found[0]].is_)
            else:
                self._paired(key, found)
            self.taken |= set(found)
        for n, fact in enumerate(self.facts):  # 'high 3.6w low 0.4w' where the unit has such settings
            if fact.kind == "side" and n not in self.taken and fact.is_ in self.ground.power_settings:
                self._setting(n)

    def _setting(self, n: int) -> None:
        wanted = is_of_power(self.ground.wants)
        watts = [i for i in self.items if i.fact.unit == "W" or (i.fact.unit is None and wanted)]
        if not watts:
            return
        near = min(watts, key=lambda i: (abs(i.at - n), i.at < n))
        near.address["power_setting"] = str(self.facts[n].is_)
        self.taken.add(n)

    def _concerned(self, key: str) -> list[Item]:
        """Which figures a place that is said once belongs to."""
        if key == "state":
            currents = [i for i in self.items if i.fact.unit in {"A", "V", None} or i.quantity in {"supply_current"}]
            return currents or self.items
        if key == "place":
            return [i for i in self.items if i.fact.unit not in {"W"}] or self.items
        return self.items

    def _paired(self, key: str, found: list[int]) -> None:
        """Several of the same kind: each leads its figures, or each trails them."""
        concerned = self._concerned(key)
        leads = bool(concerned) and found[0] < concerned[0].at
        for item in concerned:
            if leads:
                mine = max((n for n in found if n < item.at), default=found[0])
            else:
                mine = min((n for n in found if n > item.at), default=found[-1])
            item.address.setdefault(key, self.facts[mine].is_)

    def _own_frequency(self) -> None:
        """A frequency that says where, beside a figure that says what: '7.1M 91w', '92w 21.2'."""
        if len(self.items) < 2:
            return
        for item in list(self.items):
            hz = self.ground.as_carrier(item.fact)
            others = [i for i in self.items if i is not item and i.fact.unit not in {"Hz", "k", "m"}]
            if hz is None or item.quantity is not None or not others:
                continue
            if any(o.fact.unit in {"W", "dBc", "%", "A"} or o.quantity for o in others):
                for other in others:
                    other.address.setdefault("frequency_hz", self.ground.frequency_of(hz))
                self.items.remove(item)
                self.taken.add(item.at)

    def _sides(self) -> None:
        """High and low of a frequency, up and down of peaks, 'down' of a level below another."""
        for n, fact in enumerate(self.facts):
            if fact.kind != "side" or n in self.taken:
                continue
            near = min(self.items, key=lambda i: (abs(i.at - n), i.at > n), default=None)
            if near is not None and abs(near.at - n) <= 2 and near.side is None:
                near.side = str(fact.is_)
                self.taken.add(n)

    # readings -------------------------------------------------------------------------------------------------------

    def _readings(self) -> list[Said]:
        said: list[Said] = []
        for item in self.items:
            quantity = item.quantity or unnamed(item, self.ground, self.items)
            if quantity is None:
                raise _Unexplained
            said.append(self._reading(item, quantity))
        said += self._results(said)
        return said + follows_from(said, self.ground)

    def _reading(self, item: Item, quantity: str) -> Said:
        quantity = by_its_side(by_its_unit(quantity, item, self.ground), item, self.items)
        value = in_unit(item, item.fact, quantity, self.ground)
        if not math.isfinite(value):
            raise _Unexplained
        others = [i for i in self.items if i is not item]
        one = Said(
            quantity,
            value=value,
            unit=UNIT_OF.get(quantity, ""),
            bound=_bound_of(item, quantity),
            about=item.about,
            address=filled(quantity, item, self.ground, others=others),
        )
        if item.upper is None:
            return one
        low, high = sorted((value, in_unit(item, item.upper, quantity, self.ground)))
        return replace(one, value=None, low=low, high=high)

    # results --------------------------------------------------------------------------------------------------------

    def _results(self, said: list[Said]) -> list[Said]:
        """'none', 'weak', 'open' …: of a quantity that is named, of a part, or of what the current line wants."""
        made: list[Said] = []
        for n, fact in enumerate(self.facts):
            if fact.kind != "result" or n in self.taken:
                continue
            names = [m for m, f in enumerate(self.facts) if f.kind == "quantity" and m not in self.taken]
            name = min(names, key=lambda m: abs(m - n), default=None)
            place = next((f.is_ for f in self.facts if f.kind == "place"), None)
            if name is not None:
                self.taken |= {name, n}
                made.append(self._result(str(fact.is_), self.facts[name].of, n))
            elif place is not None and not said:
                self.taken.add(n)
                made.append(Said(None, result=str(fact.is_), address={"place": place}))
            elif self.ground.wants and not said and fact.is_ in {"none", "weak"}:
                self.taken.add(n)
                made.append(self._result(str(fact.is_), self.ground.wants, n))
        return made

    def _result(self, result: str, quantity: str, n: int) -> Said:
        if quantity == "am_depth" and self.ground.modes == ("fm",):
            quantity = "fm_deviation"
        if result == "dead":
            result = "ok" if quantity == "frequency_error" else "none"
        item = Item(self.facts[n], n, quantity, self._shared())
        address = filled(quantity, item, self.ground, others=[])
        return Said(quantity, result=result, unit=UNIT_OF.get(quantity, ""), address=address)

    def _shared(self) -> dict[str, object]:
        """Where and how, as the text says it for the whole line."""
        shared: dict[str, object] = {}
        for fact in self.facts:
            if fact.kind in {"where", "how"}:
                shared.setdefault(fact.of, fact.is_)
        return shared

    # what is left ---------------------------------------------------------------------------------------------------

    def _remark(self) -> str:
        used = {i.at for i in self.items} | self.taken
        left = [f.text for n, f in enumerate(self.facts) if n not in used and f.text not in FALLS]
        words = " ".join(left)
        kept = [w for w in re.findall(r"[\w'%.-]+", words) if w not in LONELY_WORDS]
        return " ".join(kept)


def _bound_of(item: Item, quantity: str) -> str | None:
    """At most or at least, of the signed value: better is less for a level that is below another, and for a
    sensitivity."""
    better_is_less = UNIT_OF.get(quantity) == "dBc" or quantity in SENSITIVITIES
    if item.bound is None or not better_is_less:
        return item.bound
    if quantity in SENSITIVITIES:
        return "upper"
    return "upper" if item.bound == "lower" else "lower"


def _is_glued(left: Fact, right: Fact) -> bool:
    """'3.4-3.8w': the sign between two figures is a dash."""
    falls = right.signed and right.value < 0 < left.value and not left.signed
    return falls and left.unit is None and -right.value > left.value


def _same(left: Fact, right: Fact) -> bool:
    return left.unit == right.unit or left.unit is None or right.unit is None
