"""Whether bare figures of a row are frequencies: megahertz or kilohertz at which the others were read."""

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import SAME_BAND, SHORT_WAVE_HZ, Item
from young_spark.core.entry.facts.sentence import Sentence

MOST_OVER = 1.5  # of what the unit can give


MOST_MHZ = 1300.0
LEAST_VHF_MHZ = 100.0
LEAST_KHZ = 1600.0
LEAST_ROW = 2  # pairs in a row without a name
# allocations to the amateur service, at their widest (ITU Radio Regulations, article 5)
AMATEUR_MHZ = (
    (1.8, 2.0), (3.5, 4.0), (5.25, 5.45), (7.0, 7.3), (10.1, 10.15), (14.0, 14.35), (18.068, 18.168), (21.0, 21.45),
    (24.89, 24.99), (28.0, 29.7), (50.0, 54.0), (70.0, 70.5), (144.0, 148.0), (430.0, 450.0),
)  # fmt: skip


def frequencies_in(s: Sentence, places: list[Item], figures: list[Item]) -> list[float]:
    """What every other figure is in Hz, where all of them are frequencies of what stands between them."""
    if are_megahertz(s, places, figures):
        return [i.fact.value * (1e6 if i.fact.decimals or _is_vhf(i) else 1e3) for i in places]
    if is_swept(s, places, figures):
        return [i.fact.value * 1e6 for i in places]
    again = [_where_it_was_read(s, i.fact) for i in places]
    if all(again) and len(again) >= LEAST_ROW and _are_watts_again(s, figures):
        return [hz for hz in again if hz is not None]
    if _are_read_at_megahertz(places, figures) or _are_amateur_bands(s, places, figures):
        return [s.ground.frequency_of(i.fact.value * 1e6) for i in places]
    hertz = [hz for i in places if (hz := _hertz_of(s, i.fact)) is not None]
    if len(hertz) < len(places) or any(s.ground.as_carrier(i.fact) for i in figures):
        return []
    return [s.ground.frequency_of(hz) for hz in hertz]


def _where_it_was_read(s: Sentence, fact: Fact) -> float | None:
    """'4125' behind '4125 22w': a frequency in Hz that something was read at before."""
    said = [fact.value * 1e3, fact.value * 1e6] if fact.unit is None and not fact.signed else []
    return next((hz for hz in said if any(abs(hz / known - 1) < 1e-9 for known in s.ground.read_at)), None)


def _are_watts_again(s: Sentence, figures: list[Item]) -> bool:
    """Bare figures at those places are the power that was read there."""
    if not s.ground.powers or any(i.fact.unit not in {None, "W"} or i.fact.signed for i in figures):
        return False
    for figure in figures:
        figure.quantity = figure.quantity or s.ground.powers[-1].quantity
    return True


def _are_amateur_bands(s: Sentence, places: list[Item], figures: list[Item]) -> bool:
    """'3.6 470, 7.1 465, 28.5 400w': megahertz of those bands, and watts whose unit stands at one of them."""
    watts = {i.fact.unit for i in figures} <= {"W", None} and any(i.fact.unit == "W" for i in figures)
    if not watts or not all(is_in_an_amateur_band(s, i.fact) for i in places):
        return False
    for figure in figures:
        if figure.fact.unit is None:
            figure.quantity = figure.quantity or "carrier_power"
    return True


def is_in_an_amateur_band(s: Sentence, fact: Fact) -> bool:
    """Whether a bare figure is megahertz of such a band: '14.2 930w 21.2 860w' of gear that no channel plan fits."""
    bare = fact.unit is None and fact.decimals > 0 and not fact.signed and not s.ground.channel_hz
    return bare and any(low <= fact.value <= high for low, high in AMATEUR_MHZ)


def are_megahertz(s: Sentence, places: list[Item], figures: list[Item]) -> bool:
    """'125.0 5.9w 130.0 5.6': more than the unit could give, in front of what it gives."""
    most = s.ground.greatest_power_w
    kilohertz = all(not i.fact.decimals and i.fact.value >= LEAST_KHZ for i in places)
    written = kilohertz or all((i.fact.decimals or _is_vhf(i)) and i.fact.value < MOST_MHZ for i in places)
    written = written and (kilohertz or any(i.fact.decimals for i in places))
    if most is None or not written or any(i.fact.unit is not None for i in places):
        return False
    watts = all(i.fact.unit in {"W", None} and i.fact.value <= MOST_OVER * most for i in figures)
    watts = watts and any(i.fact.unit == "W" for i in figures)
    return watts and (_are_of_the_short_waves(s, places) or _are_beyond_its_watts(places, figures, MOST_OVER * most))


def _is_vhf(item: Item) -> bool:
    """Whether a bare figure may be whole megahertz beyond the short waves, and no kilohertz."""
    return LEAST_VHF_MHZ <= item.fact.value < MOST_MHZ


def _are_read_at_megahertz(places: list[Item], figures: list[Item]) -> bool:
    """'121.5 +180 135 +200', '144.1 .2uv 145.9 .22uv': figures that are plainly no watts, each behind its megahertz."""
    bare = all(i.fact.unit is None and not i.fact.signed and 1 < i.fact.value < MOST_MHZ for i in places)
    if not bare or not any(i.fact.decimals for i in places) or len(places) < LEAST_ROW:
        return False
    errors = all(i.fact.unit in {None, "Hz"} and i.fact.signed and not i.fact.decimals for i in figures)
    return errors or (len({i.fact.unit for i in figures}) == 1 and figures[0].fact.unit in READ_AT)


READ_AT = {"uV", "dBm", "k", "dBc"}  # of what is heard, and of how it is sent


def _are_beyond_its_watts(places: list[Item], figures: list[Item], most_w: float) -> bool:
    volts = any(i.fact.may_feed for i in places)  # '13.6 keyed 3.8w'
    with_unit = all(i.fact.unit == "W" for i in figures) and all(i.fact.value >= LEAST_VHF_MHZ for i in places)
    return not volts and (with_unit or all(i.fact.value > most_w for i in places))


def _are_of_the_short_waves(s: Sentence, places: list[Item]) -> bool:
    """'12.29 145w 16.42 140 22.0 128' of a set that was read on short waves before: megahertz, going up."""
    mhz, read = [i.fact.value for i in places], s.ground.read_at
    short = bool(read) and max(read) < SHORT_WAVE_HZ and not s.ground.channel_hz and len(mhz) >= LEAST_ROW
    return short and mhz == sorted(set(mhz)) and all(LEAST_KHZ / 1e3 < f < SHORT_WAVE_HZ / 1e6 for f in mhz)


def is_swept(s: Sentence, places: list[Item], figures: list[Item]) -> bool:
    """'27.0 1.5 27.2 1.3 27.4 1.6': megahertz that go up around where an aerial is wanted, and ratios."""
    mhz = [i.fact.value for i in places]
    near = all(
        any(abs(f * 1e6 / known - 1) < SAME_BAND for known in (*s.ground.frequencies, *s.ground.channel_hz.values()))
        for f in mhz
    )
    plain = all(i.fact.unit is None for i in (*places, *figures))
    return (
        (s.ground.wants == "swr" or {s.facts[n].of for n in s.free("quantity")} == {"swr"})
        and plain
        and near
        and mhz == sorted(set(mhz))
        and all(1 <= i.fact.value < mhz[0] / 2 for i in figures)
    )


# bands as hands call them by their megahertz, where no band of so many metres is
IN_ITS_RANGE = 0.12  # how far from the frequencies of its plan such a set is tuned
WHOLE_MHZ = {14: 14.2e6, 18: 18.1e6, 21: 21.2e6, 24: 24.9e6, 28: 28.5e6, 50: 50.1e6, 144: 144.3e6, 432: 432.2e6}


def _hertz_of(s: Sentence, fact: Fact) -> float | None:
    return s.ground.as_carrier(fact) or whole_megahertz(s, fact)


def whole_megahertz(s: Sentence, fact: Fact) -> float | None:
    """'1.15 at 14': the frequency of a band that is called by its megahertz."""
    if fact.unit is not None or fact.decimals or s.ground.channel_hz:
        return None
    hz = fact.value * 1e6
    if fact.value > LEAST_VHF_MHZ and any(abs(hz / near - 1) < IN_ITS_RANGE for near in s.ground.frequencies):
        return hz  # '25w at 440, 24 at 455' of a set for 433.5 MHz
    known = WHOLE_MHZ.get(int(fact.value))
    before = [read for read in s.ground.read_at if abs(read - hz) < 1]  # '14 0.9uv' behind '14mhz 2.1uv'
    if before:
        return hz
    return None if known is None else s.ground.frequency_of(known, SAME_BAND)
