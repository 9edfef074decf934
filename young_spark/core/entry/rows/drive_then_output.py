"""What drives an amplifier and what comes out of it, said as two figures: '8w 190w', '1w 30, 2w 58, 4w 96'."""

from young_spark.core.entry.facts.said import Item
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.gear import BANDS_M

LEAST_ROW = 2  # pairs in a row without a name
LEAST_GAIN = 1.2  # times: of what an amplifier is, also a sick one
MOST_OVER = 1.5  # of what the unit can give


def find_drive_then_output(s: Sentence) -> None:
    """Pairs of watts in front, on an amplifier; what else was read then may stand behind them."""
    if s.ground.wanted_at_all("drive_power"):
        _pairs(s)
        _first_pair(s)
        _where_it_was_driven(s)


def pair_by_turns(s: Sentence) -> None:
    """'27w in 260w out 39w in 354w out': each drive with its own output, where they take turns; the last one needs no
    name."""
    last = s.items[-1] if s.items else None
    if last is not None and last.quantity is None and last.fact.unit in {"W", None} and len(s.items) == 2 * LEAST_ROW:
        turn = {i.quantity for i in s.items[1:-1:2]}
        last.quantity = turn.pop() if len(turn) == 1 and turn <= WATTS_BY_TURNS else None
    watts = [i for i in s.items if i.quantity in WATTS_BY_TURNS]
    first, second = watts[::2], watts[1::2]
    by_turns = len(first) == len(second) >= LEAST_ROW and len({i.quantity for i in first}) == 1
    if s.pairs or not by_turns or {i.quantity for i in second} != WATTS_BY_TURNS - {first[0].quantity}:
        return
    drives, outputs = (first, second) if first[0].quantity == "drive_power" else (second, first)
    s.pairs = list(zip(drives, outputs, strict=True))


WATTS_BY_TURNS = {"drive_power", "carrier_power"}


def _pairs(s: Sentence) -> None:
    """'1w 30, 2w 58, 4w 96', '2w 41 4w 76 6w 95': and no band of thirty metres."""
    rows = [[i for i in s.items if i.clause == clause] for clause in sorted({i.clause for i in s.items})]
    rows = _by_twos(rows[0]) if len(rows) == 1 else rows
    pairs = [(row[0], row[1]) for row in rows if len(row) == 2]
    if len(pairs) < LEAST_ROW or len(pairs) < len(rows) or s.free("where") or s.free("quantity", "place"):
        return
    amplified = all(
        drive.fact.unit == "W" and out.fact.unit in {"W", None} and out.fact.value > drive.fact.value
        for drive, out in pairs
    )
    for drive, out in pairs if amplified else ():
        drive.quantity, out.quantity = "drive_power", "carrier_power"


def _by_twos(items: list[Item]) -> list[list[Item]]:
    """One row of items cut into twos, where every first is in watts and each drives harder than the one before."""
    twos = [items[n : n + 2] for n in range(0, len(items), 2)]
    drives = [two[0].fact.value for two in twos]
    driven_up = all(two[0].fact.unit == "W" for two in twos) and drives == sorted(set(drives))
    return twos if driven_up else [items]


def _first_pair(s: Sentence) -> None:
    """'8w 190w ig 2', '3w 140w 6.2a', '1w 48': the pair leads, and other things than watts follow."""
    begins = int(bool(s.facts) and (s.facts[0].kind == "where" or 0 in s.taken))  # '15m 38w 60w ip 610', '14.2 4w 292w'
    strokes = (begins + 1,) if begins and s.is_link(begins + 1, "/") else ()  # '40m 55/440 ip 425'
    if len(s.items) < LEAST_ROW or (s.items[0].at, s.items[1].at) != (begins, begins + 1 + len(strokes)):
        return
    (drive, out), others = s.items[:2], s.items[2:]
    in_watts = drive.fact.unit == "W" or (bool(strokes) and drive.fact.unit is None)
    if not in_watts or _has_a_name(s, drive, out) or not _comes_out(s, drive, out):
        return
    if not any(i.fact.unit == "W" for i in others):
        drive.quantity, out.quantity = "drive_power", "carrier_power"
        s.take(*strokes)


def _has_a_name(s: Sentence, drive: Item, out: Item) -> bool:
    named = any(s.facts[n].of in WATTS for n in s.free("quantity"))
    return named or drive.quantity is not None or out.quantity is not None


def _where_it_was_driven(s: Sentence) -> None:
    """'8w 340' behind 'drive 4w 180w': the same amplifier driven harder where it was tuned, and not on the next band
    that is wanted."""
    drives = [i for i in s.items if i.quantity == "drive_power"]
    if not drives or s.ground.driven is None or s.free("where"):
        return
    before, hz = s.ground.driven
    harder = not 1 / SAME_DRIVE < drives[0].fact.value / max(before, 1e-9) < SAME_DRIVE
    for item in s.items if harder else ():
        if item.quantity in WATTS and not {"band", "frequency_hz"} & item.address.keys():
            item.address["frequency_hz"] = hz


SAME_DRIVE = 1.25  # times


def _comes_out(s: Sentence, drive: Item, out: Item) -> bool:
    """Whether a figure behind a drive is what comes out: watts, or a bare figure that is no band."""
    most = s.ground.greatest_power_w
    amplified = out.fact.value >= LEAST_GAIN * drive.fact.value and not out.fact.signed
    if most is None or not amplified or out.fact.value > MOST_OVER * most:
        return False
    band = out.fact.decimals == 0 and int(out.fact.value) in BANDS_M
    return out.fact.unit == "W" or (out.fact.unit is None and not band)


WATTS = {"drive_power", "carrier_power", "peak_envelope_power", "mean_power"}
