"""Frames of a receiver: SINAD at a level, widths of a filter, its own meter."""

import math
import re
from dataclasses import replace

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Item, Said
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.frames.own_frames import Frame, hand, named, typed, use

SINAD_DB = 12.0
RATIOS_HEARD = ("sinad", "signal_to_noise")
USUAL_DB: dict[str | None, float] = {"sinad": SINAD_DB, "signal_to_noise": 10.0}  # that make a level a sensitivity
SENSITIVITIES = ("sensitivity_12db_sinad", "sensitivity_10db_sn")
OTHER_NAMES = ("sensitivity_12db_sinad", "squelch_open", "s_meter_reference", "sensitivity_10db_sn")
LEAST_SINAD_DB = 3.0  # that anybody says without its unit
OF_A_LEVEL = {SINAD_DB: "sensitivity_12db_sinad", 10.0: "sensitivity_10db_sn", 20.0: "sensitivity_20db_quieting"}


def _heard_at_a_level(s: Sentence) -> list[Said]:
    """'sinad 12 at -117', '0.5uv emf 12db', '2.1uv 6db s+n/n': 12 dB of SINAD, or 10 dB of (S+N)/N, make the level a
    sensitivity; any other ratio is read at it."""
    names = named(s, *RATIOS_HEARD)
    if (pair := _level_and_ratio(s, by_name=bool(names))) is None:
        return []
    level, ratio = pair
    heard = s.facts[names[0]].of if names else _heard_where_nobody_says(s)
    usual = ratio.fact.value == USUAL_DB.get(heard) or not names
    of_level = OF_A_LEVEL.get(ratio.fact.value) if usual else None
    if named(s, *OTHER_NAMES) and (names or heard is None or of_level is not None):
        return []
    if of_level is not None:
        _is_a_sensitivity(s, level, ratio, of_level)
    elif heard is not None:
        _is_heard(s, level, ratio, heard)
    return []


def _level_and_ratio(s: Sentence, *, by_name: bool) -> tuple[Item, Item] | None:
    """The two figures of a text, where one is a level and one so many decibels."""
    level = next((i for i in s.items if _is_a_level(i.fact)), None)
    ratio = next((i for i in s.items if i is not level and _is_a_ratio(i.fact)), None)
    if level is None or ratio is None or len(s.items) != 2 or not (by_name or ratio.fact.unit == "dB"):
        return None
    return level, ratio


def _is_a_sensitivity(s: Sentence, level: Item, ratio: Item, quantity: str) -> None:
    use(s, ratio)
    s.take(*named(s, *RATIOS_HEARD), *typed(s, "at", "for", "@"))
    level.quantity = quantity


def _is_heard(s: Sentence, level: Item, ratio: Item, quantity: str) -> None:
    ratio.quantity = ratio.quantity or quantity
    ratio.address["input_dbm"] = _dbm(level.fact)
    use(s, level)
    s.take(*named(s, *RATIOS_HEARD, *SENSITIVITIES), *typed(s, "at", "for", "@"))


def _heard_where_nobody_says(s: Sentence) -> str | None:
    """'sens 2.1uv at 6 db': of a receiver that is judged by its (S+N)/N, that; else SINAD; None of no receiver."""
    if not named(s, *SENSITIVITIES) and s.ground.wants not in SENSITIVITIES:
        return None
    by_noise = any(line.get("quantity") == "sensitivity_10db_sn" for line in s.ground.lines)
    return "signal_to_noise" if by_noise else "sinad"


def _is_a_ratio(fact: Fact) -> bool:
    """Decibels; in '0.22uv sinad ch16, 0.23 ch72' the last is a level: nobody says so little SINAD without its unit."""
    small = fact.unit is None and fact.value < LEAST_SINAD_DB
    return fact.unit in {None, "dB"} and not fact.signed and not small


def _is_a_level(fact: Fact) -> bool:
    small_volts = fact.unit == "V" and 0 < fact.value < 0.1
    return fact.unit in {"uV", "dBm"} or small_volts or (fact.unit is None and fact.value < -20)


def _dbm(fact: Fact) -> float:
    """A level at 50 ohms in dBm."""
    if fact.unit in {"uV", "V"}:
        volts = fact.value * (1e-6 if fact.unit == "uV" else 1.0)
        return 20 * math.log10(volts / math.sqrt(0.05)) if volts > 0 else -math.inf
    return fact.value


def _filter_at_db(s: Sentence) -> list[Said]:
    """'filter 6db 2.35k 60db 4.9k', '2.4k at -6db, 4.1k at -60db': widths, each at so many dB down."""
    names = named(s, "filter_bandwidth")
    if names and any(i.fact.unit == "dB" for i in s.items):
        _in_decibels_too(s)
    both = [i for i in s.items if i.fact.unit in {"dB", "k", "Hz"}]
    pairs = list(zip(both[::2], both[1::2], strict=False))
    if not names or not pairs or len(both) % 2 or not all(_is_a_width(s, *pair) for pair in pairs):
        return []
    for pair in pairs:
        down, width = pair if pair[0].fact.unit == "dB" else reversed(pair)
        width.quantity = "filter_bandwidth"
        width.address["at_db"] = abs(down.fact.value)
        s.take(*[n for n in range(pair[0].at + 1, pair[1].at) if s.item_at(n) is None])
        use(s, down)
    s.take(*names)
    return []


def _in_decibels_too(s: Sentence) -> None:
    """'2.7k -6db 4.8k -60': the second is as far down in the same unit."""
    for item in s.items:
        if item.fact.unit is None and item.fact.signed and item.fact.value < 0:
            item.fact = replace(item.fact, unit="dB")


def _is_a_width(s: Sentence, first: Item, last: Item) -> bool:
    """Whether two figures beside each other are a width and how far down it was read."""
    beside = all(s.has_text(n, "at", "@") for n in range(first.at + 1, last.at))
    return beside and (first.fact.unit == "dB") is not (last.fact.unit == "dB")


def _filter_edges(s: Sentence) -> list[Said]:
    """'300 to 2650 at -6': both edges, and the width between them."""
    at = typed(s, "at")
    down = s.item_at(at[-1] + 1) if at else None
    edges = [i for i in s.items if i is not down]
    if (
        down is None
        or abs(down.fact.value) not in {3.0, 6.0}
        or len(edges) != 2
        or not s.is_link(edges[0].at + 1, "to")
    ):
        return []
    low, high = (i.fact.value for i in edges)
    if not 50 <= low < high or any(i.fact.unit not in {None, "Hz", "k"} for i in edges):
        return []
    db = abs(down.fact.value)
    for item in (*edges, down):
        use(s, item)
    s.take(edges[0].at + 1, *at)
    name = f"{db:g}db"
    return [
        Said(f"edge_low_{name}", value=low, unit="Hz", step=edges[0].fact.step),
        Said(f"edge_high_{name}", value=high, unit="Hz", step=edges[1].fact.step),
        Said("filter_bandwidth", value=high - low, unit="Hz", address={"at_db": db}),
    ]


def _s_meter(s: Sentence) -> list[Said]:
    """'s9+20 at -51', 's7 with 12uv', 's1 1uv s5 8uv': what the unit's own meter says of levels that are known."""
    return [said for n in range(len(s.facts)) if (said := _of_a_known_level(s, n)) is not None]


def _of_a_known_level(s: Sentence, n: int) -> Said | None:
    fact = s.facts[n]
    found = re.fullmatch(r"s ?(\d)(?:\+(\d+))?(?:db)?", fact.text)
    if found is None or n in s.taken:
        return None
    over = s.item_at(n + 1) if fact.text.startswith("s9") else None
    behind = [i for i in s.items if _is_a_level(i.fact) and i is not over and i.at > n and i.at not in s.taken]
    level = min(behind, key=lambda i: i.at, default=None)
    is_over = over is not None and over.fact.signed and over.fact.value > 0
    if level is None or (fact.kind == "quantity" and not is_over):
        return None
    address: dict[str, object] = {**hand(s), "input_dbm": _dbm(level.fact)}
    if over is not None and is_over:
        address["over_db"] = over.fact.value
        use(s, over)
    use(s, level)
    s.take(n, *typed(s, "at", "with", "in", "for"))
    return Said("s_meter_reading", value=float(found[1]), unit="1", address=address)


def _modulated_with(s: Sentence) -> list[Said]:
    """'rx 10db 0.8uv 30% am', '0.8uv 10db s/n 30% mod 1k': how the generator was modulated, and no depth here."""
    levels = [i for i in s.items if _is_a_level(i.fact) and i.fact.unit in {"uV", "dBm"}]
    shares = [i for i in s.items if i.fact.unit == "%" and i.fact.value in OF_A_GENERATOR]
    ratio = any(i.fact.unit == "dB" for i in s.items) or named(s, *OTHER_NAMES, "sinad")
    if len(levels) != 1 or len(shares) != 1 or not ratio:
        return []
    tones = [i for i in s.items if i.fact.unit in {"Hz", "k"} and i.fact.value in TONES_HZ]
    for item in (*shares, *tones):
        s.items = [i for i in s.items if i is not item]  # it stays in the remark
    names = named(s, "am_depth")
    s.take(*names)
    s.keep_words |= set(names)
    return []


OF_A_GENERATOR = {30.0, 50.0, 60.0, 80.0}
TONES_HZ = {400.0, 1000.0}
FRAMES: tuple[Frame, ...] = (_modulated_with, _heard_at_a_level, _filter_at_db, _filter_edges, _s_meter)
