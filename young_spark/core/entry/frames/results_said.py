"""Results in words: of a quantity, of a part or a point, of a function of the unit, or of what is wanted here."""

import re
from collections.abc import Callable
from dataclasses import replace

from young_spark.core.entry.facts.address import FREQUENCY_KEYS, NOT_AT_A_CHANNEL, OF_A_SUPPLY
from young_spark.core.entry.facts.by_unit import POWERS, SENT, SIDEBANDS, power_there
from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import UNIT_OF, Said
from young_spark.core.entry.facts.sentence import LONELY_WORDS, Sentence
from young_spark.core.entry.naming.pointing import value_of
from young_spark.core.entry.wording.vocabulary import manner, vocabulary

VOLTS = {"volts", "voltage"}
NOT_THERE = ("rf", "output", "tx", "volts", "voltage", "drive")  # behind a 'no'
OF_A_LOOP = {"locked", "out of lock", "unlocked"}
CONDITION = "condition"  # the quantity of a result that is no result of any other
OF_NOTHING = {"none", "dead"}
FREQUENCIES = {"frequency_error", "carrier_frequency"}
OF_DEPTH = {"am_depth", "fm_deviation"}
# the whole address of a result of a quantity, from its position and what is said around it
Address = Callable[[str, int, dict[str, object]], dict[str, object]]
SO_TOO = ("also", "too", "likewise", "same", "as well")
# what hands do to a part to see whether anything changes
STIRS = {
    "cooled", "cold", "spray", "sprayed", "freeze", "froze", "freezer", "tap", "tapped", "tapping", "flexed", "warmed",
    "heated", "moved", "wiggled", "pressed", "bent", "knocked",
}  # fmt: skip
INDICATORS = ("lamp", "light", "led", "indicator", "warning", "alarm", "beep", "icon")
NOT_SENT = {"none", "dead", "weak", "low"}
NOT_OF_A_CHANNEL = {*OF_A_SUPPLY, *NOT_AT_A_CHANNEL, None}  # which no channel is named for
ONLY_OF_PARTS = {"open", "short"}
WANTED_ALONE = {"none", "dead", "weak", "ok", "over_range", "low", "high", "bad"}


def find_results(s: Sentence, said: list[Said], at: Address) -> list[Said]:
    """The readings that words alone give; `at` fills in the address of a quantity."""
    return _Results(s, said, at).found()


class _Results:
    MOST_WORDS = 0  # beside a result that only the slip says the quantity of

    def __init__(self, s: Sentence, said: list[Said], at: Address) -> None:
        self.s, self.said, self.at = s, said, at
        self.made: list[Said] = []

    def found(self) -> list[Said]:
        for n in self.s.free("result", "side"):
            if n in self.s.taken:
                continue
            fact = self.s.facts[n]
            if fact.kind == "side" and fact.text not in {"low", "high", "too low", "too high"}:
                continue
            if self._is_only_said(n):
                continue
            self._result(n, str(fact.is_), is_side=fact.kind == "side")
        self._so_too()
        return self.made

    def _so_too(self) -> None:
        """'q1 shorted, q3 also': a part that is said to be like the one before it."""
        read = {x.address.get("place") for x in (*self.said, *self.made)}
        for n, fact in enumerate(self.s.facts):
            told = [f for f in self.s.facts[:n] if f.kind in {"result", "figure"}][-1:]
            of_a_part = bool(_letters_of_a_part(fact)) and value_of(self.s, n) not in read
            if not of_a_part or not self.s.has_text(n + 1, *SO_TOO) or not told or told[0].kind != "result":
                continue
            self.s.take(n, n + 1)
            same = Said(CONDITION, result=_of_a_part(str(told[0].is_)), address={"place": value_of(self.s, n)})
            self.made.append(same)

    def _is_only_said(self, n: int) -> bool:
        """'no effect', 'not dead', 'no gain' beside the figures that show it: words, no result."""
        fact, after = self.s.facts[n], self.s.fact(n + 1)
        if self._is_of_something_else(n) or self._is_of_a_figure(n):
            return True
        if fact.text != "no" or after is None:
            return False
        gain = after.of == "gain" and {"drive_power", "carrier_power"} <= {x.quantity for x in self.said}
        if gain:
            self.s.take(n, n + 1)
            self.s.keep_words |= {n, n + 1}
        if after.kind == "place" and not self.s.has_text(n + 2, "rf", "output"):
            return True
        drive = after.text == "drive" and not any(f.kind == "place" for f in self.s.facts)
        plain = after.kind == "word" and after.text not in {"volts", "voltage"}
        part = after.of == "filter_bandwidth"  # 'no filter': of its making, and no figure
        return gain or plain or drive or part or after.text in {"change", "effect", "better", "difference"}

    def _is_of_a_figure(self, n: int) -> bool:
        """'3.9w into the load, fine': well is the figure, and what it was read into is not looked at; '320ma, no rise':
        what the figure does."""
        if self.s.facts[n].is_ == "no_rise" and self.s.item_at(n - 1) is not None:
            return True
        before, figure = self.s.fact(n - 1), self.s.item_at(n - 2)
        led_to = before is not None and before.kind == "item" and before.text.startswith(("into ", "on ", "with "))
        return self.s.facts[n].is_ == "ok" and led_to and figure is not None

    def _is_of_something_else(self, n: int) -> bool:
        """'not dead', 'l9 locked with wax', 'cold spray no change', 'open end', 'low lamp'."""
        fact, s = self.s.facts[n], self.s
        fixed = fact.text in OF_A_LOOP and s.has_text(n + 1, "with", "down", "by")
        stirred = fact.is_ == "no_rise" and any(f.text in STIRS for f in s.facts)
        stirred = stirred or (fact.text == "no change" and bool(s.items) and not any(f.of == "state" for f in s.facts))
        before = s.fact(n - 1)
        of_a_word = fact.is_ == "none" and fact.text != "no" and before is not None and self._is_a_stranger(before)
        return of_a_word or fixed or stirred or s.has_text(n - 1, "not") or s.has_text(n + 1, "end", *INDICATORS)

    def _is_a_stranger(self, fact: Fact) -> bool:
        """'de-sense none with tx on 25w': a word that nobody knows, whose the result is."""
        known = fact.text in manner() | LONELY_WORDS or fact.text in vocabulary().functions
        return fact.kind == "word" and not known and fact.text[:1].isalpha()

    def _result(self, n: int, result: str, *, is_side: bool) -> None:
        """File a result at the first of what it can be of."""
        ways = (self._as_no_rf, self._as_a_quantity, self._goes_on, self._in_another_mode, self._as_a_place,
                self._as_a_loop, self._as_deaf,
                self._as_a_function, self._as_a_current, self._as_what_is_wanted)  # fmt: skip
        any(way(n, result, is_side) for way in ways)

    def _as_a_quantity(self, n: int, result: str, is_side: bool) -> bool:
        name = self._name_of(n)
        hours = name is not None and re.fullmatch(r"\d+h", self.s.facts[name].text)  # '3h soak ok'
        if name is None or hours or result in ONLY_OF_PARTS or (result in OF_NOTHING and self._is_of_a_knob(name)):
            return False
        self._of_quantity(n, name, result)
        return True

    def _is_of_a_knob(self, name: int) -> bool:
        """'squelch open hiss none': how the knob stands, and no level that opens it."""
        return self.s.facts[name].of in {"squelch_open", "squelch_close"}

    def _as_a_place(self, n: int, result: str, is_side: bool) -> bool:
        place = self._place_of(n)
        if place is None or (is_side and self.s.items) or self._is_of_a_nearer_function(n, place):
            return False
        self._of_place(n, place, result)
        return True

    def _is_of_a_nearer_function(self, n: int, place: int) -> bool:
        """'rx dead, s meter zero': what the clause is of, where the place is that of another clause."""
        function = self._function_of(n)
        apart = self._a_comma_stands(*sorted((place, n)))
        return apart and function is not None and not self._a_comma_stands(*sorted((function, n)))

    def _as_a_loop(self, n: int, result: str, is_side: bool) -> bool:
        if self.s.facts[n].text not in OF_A_LOOP:
            return False
        self._made(n, Said(CONDITION, result=result, address={"place": "PLL", **self._near(n, "state")}))
        return True

    def _as_deaf(self, n: int, result: str, is_side: bool) -> bool:
        if self.s.facts[n].text != "deaf":
            return False
        around = {k: v for k, v in self._around(n).items() if k in {"channel", "band"}}
        self.s.take(*[m for m, f in enumerate(self.s.facts) if f.text == "rx"])
        self._made(n, Said(CONDITION, result="weak", address={"function": "receive", **around}))
        return True

    def _as_a_function(self, n: int, result: str, is_side: bool) -> bool:
        function = self._function_of(n)
        if function is None or is_side:
            return False
        self._of_function(n, function, result)
        return True

    def _as_a_current(self, n: int, result: str, is_side: bool) -> bool:
        """'no rise on key'; 'standby none' where nothing is wanted."""
        at_rest = self.s.ground.wants is None and "state" in self.s.shared and result in OF_NOTHING
        if result != "no_rise" and not at_rest:
            return False
        self._of(n, "supply_current", result)
        return True

    def _as_what_is_wanted(self, n: int, result: str, is_side: bool) -> bool:
        if not self._is_of_what_is_wanted(n, result):
            return False
        wanted = self._wanted_there(n)
        there = power_there(self._around(n), self.s.ground) if wanted in POWERS else None
        self._of(n, there or str(wanted), result)
        return True

    def _wanted_there(self, n: int) -> str | None:
        """What a result at a channel or a band is of: 'ch20 dead' is a carrier that is not sent there, also where the
        supply's current is wanted next; 'ch19 3.8w, ch20 dead' of what was read before it."""
        wants, others = self.s.ground.wants, [x.quantity for x in (*self.said, *self.made)]
        if self.s.facts[n].is_ not in NOT_SENT or FREQUENCY_KEYS.isdisjoint(self._around(n)):
            return wants
        sent = SENT.issuperset(others) if others else wants in NOT_OF_A_CHANNEL
        return [*others, "carrier_power"][0] if sent else wants

    def _as_no_rf(self, n: int, result: str, is_side: bool) -> bool:
        """'no rf': no output, or nothing at the place that was named."""
        if self.s.facts[n].text != "no" or not self.s.has_text(n + 1, *NOT_THERE):
            return False
        self.s.take(n + 1)
        what = self.s.facts[n + 1].text
        place = self._place_of(n)
        if place is not None and (place == n - 1 or what == "drive"):
            self._of_place(n, place, "none", quantity="dc_voltage" if what in VOLTS else None)
        elif what in {*VOLTS, "drive"}:
            self.s.keep_words |= {n, n + 1}
        else:
            powers = UNIT_OF.get(self.s.ground.wants or "") == "W"
            self._of(n, str(self.s.ground.wants) if powers else "carrier_power", "none")
        return True

    # of a quantity ----------------------------------------------------------------------------------------------------

    def _name_of(self, n: int) -> int | None:
        """The free name of a quantity that a result goes with: 'no power' leads, 'swr high' trails."""
        names = self.s.free("quantity")
        near = [m for m in names if abs(m - n) <= 3 and not self._between(m, n)]
        near = [
            m for m in near if self.s.facts[m].text not in {"in", "out"} or abs(m - n) == 1
        ]  # 'with it out rx fine'
        if self.s.facts[n].text == "no":
            near = [m for m in near if m > n]
        elif self.s.facts[n].is_ in {"ok", "flat"} and n > 0:
            near = [m for m in near if m < n]  # 'keys ok chirps a bit': well is said behind what is
        return min(near, key=lambda m: abs(m - n), default=None)

    def _between(self, m: int, n: int) -> bool:
        low, high = sorted((m, n))
        kinds = {"result", "figure", "place", "quantity"}
        between = self.s.facts[low + 1 : high]
        if self.s.facts[n].is_ == "ok" and any(_is_a_noun(f) for f in between):
            return True  # 'powers up, display ok': well is the display
        return any(f.kind in kinds for f in between)

    def _of_quantity(self, n: int, name: int, result: str) -> None:
        quantity = self.s.facts[name].of
        if result == "flat" and quantity not in {"swr", "input_swr"}:
            return  # of nothing else it is a word
        if quantity == "squelch_open" and result in {"ok", "bad", "dead"}:
            self._made(n, Said(CONDITION, result=result, address={"function": "squelch"}))
            self.s.take(name)
            return
        if quantity in OF_DEPTH and self._is_fm(quantity):
            quantity = "fm_deviation"
        self.s.take(name)
        self._of(n, quantity, result)

    def _is_fm(self, quantity: str) -> bool:
        return self.s.ground.modes == ("fm",) or quantity == "fm_deviation"

    def _of(self, n: int, quantity: str, result: str) -> None:
        if result == "dead":
            result = "ok" if quantity in FREQUENCIES else "none"
        if result == "flat" and quantity in {"swr", "input_swr"}:
            self._flat(n, quantity)
            return
        address = self.at(quantity, n, self._around(n))
        self._made(n, Said(quantity, result={"flat": "ok"}.get(result, result), address=address))

    def _flat(self, n: int, quantity: str) -> None:
        """A flat SWR is one that nobody can tell from 1."""
        address = self.at(quantity, n, self._around(n))
        self._made(n, Said(quantity, low=1.0, high=1.1, unit="1", address=address))

    def _around(self, n: int) -> dict[str, object]:
        """Where and how for this result: what is said once and not beyond another figure, or the nearest of several
        on the side that they lead or trail."""
        keys: dict[str, list[int]] = {}
        for m, fact in enumerate(self.s.facts):
            if fact.kind in {"where", "how", "place", "item"}:
                keys.setdefault(fact.kind if fact.kind in {"place", "item"} else fact.of, []).append(m)
        told: dict[str, object] = {}
        for key, found in keys.items():
            mine = self._mine(found, n)
            if len(found) > 1 or key in {"mode", "item"} or not self._claimed(mine, n):
                told[key] = value_of(self.s, mine)
        return {**{k: v for k, v in self.s.shared.items() if k not in keys}, **told}

    def _mine(self, rivals: list[int], n: int) -> int:
        figures = [k for k, f in enumerate(self.s.facts) if f.kind in {"figure", "result"}]
        leads = bool(figures) and rivals[0] < figures[0]
        side = [m for m in rivals if (m < n) == leads] or rivals
        return min(side, key=lambda m: abs(m - n))

    # of a place, a function, what is wanted -------------------------------------------------------------------------

    def _place_of(self, n: int) -> int | None:
        places = [m for m, f in enumerate(self.s.facts) if f.kind in {"place", "item"} and not self._claimed(m, n)]
        if self._function_of(n) == n - 1:  # 'rx ok tp3 4.1v': of the receiver, and the part has a figure of its own
            places = [m for m in places if m < n or not self._has_a_figure(m)]
        if self.s.facts[n].is_ == "ok" and n > 0 and self.s.facts[n - 1].kind == "figure":
            places = [m for m in places if not self._a_comma_stands(*sorted((m, n)))]  # 'speaker 8 ohm ok, …'
            places = self._of_the_figure_in_front(n) or places
        return min(places, key=lambda m: (self._a_comma_stands(*sorted((m, n))), abs(m - n), m > n), default=None)

    def _has_a_figure(self, m: int) -> bool:
        behind = self.s.fact(m + 1)
        return behind is not None and behind.kind == "figure"

    def _of_the_figure_in_front(self, n: int) -> list[int]:
        """'k4 coil 12v ok contacts open': the place that leads the figure in front of it, where the one behind has a
        result of its own."""
        leads, behind, next_one = self.s.fact(n - 2), self.s.fact(n + 1), self.s.fact(n + 2)
        own = behind is not None and behind.kind == "place" and next_one is not None and next_one.kind == "result"
        return [n - 2] if own and leads is not None and leads.kind == "place" else []

    def _claimed(self, m: int, n: int) -> bool:
        """A place whose own figure or result stands between it and this result."""
        low, high = sorted((m, n))
        kinds = {"figure", "result"}
        return any(f.kind in kinds for f in self.s.facts[low + 1 : high])

    def _of_place(self, n: int, m: int, result: str, *, quantity: str | None = None) -> None:
        fact = self.s.facts[m]
        address: dict[str, object] = {fact.kind: value_of(self.s, m)}
        if fact.kind == "place":
            address |= self._near(n, "state") | self._near(n, "direction") | self._near(n, "channel")
        self.s.take(m)
        if quantity is None:
            self._of_those_before_it(m, n, result)
            quantity = self._quantity_at(m, result)
        none = quantity == "dc_voltage" and result in OF_NOTHING
        self._made(n, Said(quantity, result="none" if none else _of_a_part(result), address=address))

    def _of_those_before_it(self, m: int, n: int, result: str) -> None:
        """'d11 d12 short': parts in a row before a result share it."""
        read = {x.address.get("place") for x in self.said}
        letters, first = _letters_of_a_part(self.s.facts[m]), m
        while m < n and letters and (fact := self.s.fact(first - 1)) is not None:
            if _letters_of_a_part(fact) != letters or fact.is_ in read:
                break
            first -= 1
        for at in range(first, m):
            self.s.take(at)
            self.made.append(Said(CONDITION, result=_of_a_part(result), address={"place": value_of(self.s, at)}))

    def _quantity_at(self, m: int, result: str) -> str:
        """What a result at a place is of: of the volts or ohms that were read there, or of its condition."""
        fact = self.s.facts[m]
        read = next((x for x in self.said if x.unit in {"V", "Ω"} and x.address.get("place")), None)
        if read is not None and read.unit == "V" and result in ONLY_OF_PARTS:
            return CONDITION
        elsewhere = read is not None and read.address.get("place") != value_of(self.s, m)
        if read is not None and elsewhere and result not in {"ok", "bad"} and fact.kind == "place":
            return read.quantity or CONDITION
        return "dc_voltage" if fact.follows and result in OF_NOTHING else CONDITION

    def _near(self, n: int, key: str) -> dict[str, object]:
        """A part of the address that is said beside the result."""
        near = [(k, f) for k, f in enumerate(self.s.facts) if f.of == key and abs(k - n) <= 2]
        found = next((f for k, f in near if not self._a_comma_stands(min(k, n), max(k, n))), None)
        if found is None:
            return {}
        return {key: int(float(str(found.is_))) if key == "channel" else found.is_}

    def _goes_on(self, n: int, result: str, is_side: bool) -> bool:
        """'bias rail 7.8v keyed none rx', 'd4 0.57 fwd ol rev': the same place, in another state or direction."""
        before = next((x for x in reversed(self.said) if x.address.get("place")), None)
        key = next(
            (f.of for k, f in enumerate(self.s.facts) if f.of in {"state", "direction"} and 0 < k - n <= 1), None
        )
        if before is None or key is None or self.made or key not in before.address:
            return False
        told = next(f.is_ for k, f in enumerate(self.s.facts) if f.of == key and 0 < k - n <= 1)
        self._made(n, Said(before.quantity, result=result, address={**before.address, key: told}))
        return True

    def _in_another_mode(self, n: int, result: str, is_side: bool) -> bool:
        """'lsb pep 11.5w usb nil': the same quantity, in the mode that stands before the result."""
        mode, before = self.s.fact(n - 1), self.said[-1] if self.said else None
        if is_side or mode is None or mode.of != "mode":
            return False
        named = before is not None and before.named
        if not named and result in OF_NOTHING and any(i.fact.unit == "W" for i in self.s.items):
            power = "peak_envelope_power" if mode.is_ in SIDEBANDS else "carrier_power"
            self._made(n, Said(power, result="none", address={"mode": mode.is_}))
            return True  # 'usb nothing, cw 50w'
        if before is None or not named:
            return False
        if before.address.get("mode") in {None, mode.is_} or result not in OF_NOTHING | {"weak", "low"}:
            return False
        said = "none" if result == "dead" else result
        self._made(n, Said(before.quantity, result=said, address={**before.address, "mode": mode.is_}))
        return True

    def _a_comma_stands(self, low: int, high: int) -> bool:
        return any(f.fresh for f in self.s.facts[low + 1 : high + 1])

    def _function_of(self, n: int) -> int | None:
        told = vocabulary().functions
        found = [
            m
            for m, f in enumerate(self.s.facts)
            if f.text.removeprefix("on ") in told and abs(m - n) <= 2 and not self._claimed(m, n)
        ]
        return min(found, key=lambda m: (abs(m - n), m > n), default=None)

    def _of_function(self, n: int, m: int, result: str) -> None:
        name = vocabulary().functions[self.s.facts[m].text.removeprefix("on ")]
        self.s.take(m)
        around = {k: v for k, v in self._around(n).items() if k in {"channel", "band", "heat"}}
        self._made(n, Said(CONDITION, result=result, address={"function": name, **around}))

    def _is_of_what_is_wanted(self, n: int, result: str) -> bool:
        if self._wanted_there(n) is None or result not in WANTED_ALONE:
            return False
        if (self.said or self.made) and not self._elsewhere(n):
            return False
        strange = [
            f for f in self.s.facts if f.kind in {"word", "quantity", "place", "item"} and f.text not in manner()
        ]
        return len(strange) <= self.MOST_WORDS and not any(x.address.get("place") for x in self.made)

    def _elsewhere(self, n: int) -> bool:
        """'ch1 none ch19 3.8': of the same quantity, at a point of its own."""
        around = {k: v for k, v in self._around(n).items() if k in {"channel", "band", "frequency_hz", "mode", "heat"}}
        others = [*self.said, *self.made]
        same = all(x.quantity == self._wanted_there(n) for x in others)
        return bool(around) and same and all(any(x.address.get(k) != v for k, v in around.items()) for x in others)

    def _made(self, n: int, said: Said) -> None:
        self.s.take(n)
        if self.s.facts[n].text == "flat" and said.address.get("item") == "battery":
            said = replace(said, result="weak")  # of an aerial it is well
        if said.quantity == CONDITION and str(said.address.get("band") or "").rstrip("m").isdigit():
            hz = self.s.ground.frequency_of_band(str(said.address["band"]))
            said = replace(said, address={k: v for k, v in said.address.items() if k != "band"} | {"frequency_hz": hz})
        if said.result == "over_range":
            self.s.take(*[m for m, f in enumerate(self.s.facts) if f.text in {"meter", "needle"}])
        self.made.append(said)


def _letters_of_a_part(fact: Fact) -> str:
    """'D' of D11; an empty string for what is no part by its number."""
    found = re.fullmatch(r"([A-Z]{1,3})\d{1,4}", str(fact.is_)) if fact.kind == "place" else None
    return found[1] if found else ""


def _is_a_noun(fact: Fact) -> bool:
    return fact.kind in {"word", "side"} and fact.text.isalpha() and fact.text not in LONELY_WORDS


def _of_a_part(result: str) -> str:
    return {"flat": "ok"}.get(result, result)
