"""Frames of modulation: swings of a needle, peaks, a null of the carrier, a subtone, tones and the volts in."""

from dataclasses import replace

from young_spark.core.entry.facts.fact import Fact
from young_spark.core.entry.facts.said import Item, Said
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.frames.own_frames import OF_A_DEPTH, Frame, hand, named, typed, use
from young_spark.core.entry.wording.places import NUMBERED_POINT

MOST_BENCH_V = 15.5
LEAST_PITCH_HZ, MOST_PITCH_HZ = 200.0, 5000.0
WITH_AUDIO = {
    *OF_A_DEPTH, "fm_deviation", "fm_deviation_positive", "fm_deviation_negative", "audio_distortion",
    "opposite_sideband_suppression", "carrier_suppression", "sinad", "hum_and_noise", "modulation_sensitivity",
}  # fmt: skip
NULLS = (2.404826, 5.520078, 8.653728)  # zeros of the Bessel function J0: deviation over tone at a null


def _carrier_null(s: Sentence) -> list[Said]:
    """'1st carrier null at 873hz tone': the deviation at a null of the carrier."""
    nulls = typed(s, "null")
    hz = next((i for i in s.items if i.fact.unit in {"Hz", "k"}), None)
    tone = next((s.facts[n] for n in s.free("how") if s.facts[n].of in {"at_hz", "tone_hz"}), None)
    if not nulls or (hz is None and tone is None):
        return []
    order = next((n for n, w in enumerate(("1st", "2nd", "3rd")) if w[0] in str(s.facts[0].text)[:1]), 0)
    f = hz.fact.value if hz is not None else float(tone.is_) if tone is not None else 0.0
    for item in list(s.items):
        use(s, item)
    s.take(*range(len(s.facts)))
    address = {**hand(s), "mode": "fm", "modulation": "on", "audio": "tone", "tone_hz": f}
    return [Said("fm_deviation", value=NULLS[order] * f, unit="Hz", address=address)]


def _subtone(s: Sentence) -> list[Said]:
    """'ctcss 88.5 dev 380': a subtone, and its deviation in Hz."""
    tones, deviations = named(s, "subtone_frequency"), named(s, "fm_deviation")
    if not tones or not deviations or len(s.items) != 2:
        return []
    frequency, deviation = sorted(s.items, key=lambda i: i.fact.value)
    if not LEAST_SUBTONE_HZ < frequency.fact.value <= MOST_SUBTONE_HZ:
        return []  # 'dev 2.4k ctcss .3k': how far each of them goes
    frequency.quantity, deviation.quantity = "subtone_frequency", "subtone_deviation"
    s.take(*tones, *deviations)
    return []


def _tone_of_a_subtone(s: Sentence) -> list[Said]:
    """'dev 2.1khz tone 91.5 350hz': a standard tone by its figure, and the hertz behind it are its deviation."""
    for item in s.items:
        if _is_a_little_deviation(s, item):
            item.fact = replace(item.fact, unit="k", value=item.fact.value * 1e3, factor=1e3)
            item.quantity = "subtone_deviation"
            s.take(item.at - 1)
        standard = item.fact.unit in {None, "Hz"} and round(item.fact.value, 1) in SUBTONES_HZ
        if not standard or not s.has_text(item.at - 1, "tone", "pl", "sub", "subtone", "ctcss"):
            continue
        if not ({"fm"} & {*s.ground.modes, s.ground.hand.get("mode"), s.ground.current_mode}):
            continue
        item.quantity = "subtone_frequency"
        s.take(item.at - 1)
        behind = s.item_at(item.at + 1)
        if behind is not None and behind.quantity is None and behind.fact.unit == "Hz":
            behind.quantity = "subtone_deviation"
    return []


def _is_a_little_deviation(s: Sentence, item: Item) -> bool:
    """'dev 2.3 total, tone .35': the part of it that the subtone has."""
    bare = item.fact.unit is None and not item.fact.signed and LEAST_SUBTONE_KHZ <= item.fact.value < 1
    return bare and s.has_text(item.at - 1, "tone", "pl", "sub", "subtone", "ctcss") and bool(named(s, "fm_deviation"))


LEAST_SUBTONE_HZ = 50.0
MOST_SUBTONE_HZ = 255.0
LEAST_SUBTONE_KHZ = 0.1
# standard continuous tones (TIA-603, table of CTCSS tones)
SUBTONES_HZ = {
    67.0, 69.3, 71.9, 74.4, 77.0, 79.7, 82.5, 85.4, 88.5, 91.5, 94.8, 97.4, 100.0, 103.5, 107.2, 110.9, 114.8, 118.8,
    123.0, 127.3, 131.8, 136.5, 141.3, 146.2, 151.4, 156.7, 162.2, 167.9, 173.8, 179.9, 186.2, 192.8, 203.5, 210.7,
    218.1, 225.7, 233.6, 241.8, 250.3,
}  # fmt: skip


def _swings(s: Sentence) -> list[Said]:
    """'4 swings 9 pk on tone', '4 to 6w on whistle', '4w drops to 3 on voice': the carrier, and the needle on audio."""
    audio = [n for n in s.free("how") if s.facts[n].of == "audio" and s.facts[n].is_ != "two tones"]
    said = any(f.text.startswith("swing") for f in s.facts)
    if not (audio or said) or not _may_swing(s):
        return []
    carrier, needle = s.items
    links = _links_of_a_swing(s, carrier.at + 1, needle.at)
    if not links or any(n < needle.at for n in audio[:1]):
        return []
    peak = [n for n in named(s, "peak_envelope_power") if n > carrier.at]
    carrier.quantity, needle.quantity = "carrier_power", "peak_envelope_power" if peak else "needle_on_audio"
    carrier.address["modulation"] = "off"
    needle.address |= {"modulation": "on"} | ({"detector": "peak"} if peak else {})
    if audio:
        needle.address["audio"] = s.facts[audio[0]].is_
    _share_the_unit(carrier, needle)
    s.take(*links, *audio, *peak)
    return []


def _may_swing(s: Sentence) -> bool:
    """Whether two figures can be a carrier and its needle: in watts, of no FM, of no depth, and at no point inside ('8v
    reg 7.2 to 7.9 with speech')."""
    volts = all(i.fact.unit is None and i.fact.decimals and 10 < i.fact.value < MOST_BENCH_V for i in s.items)
    if volts and (s.ground.greatest_power_w or 0) > MOST_BENCH_V:
        return False  # '13.9 drops to 10.8 on voice peaks' of a set of 100 W
    of_another = s.ground.wanted_mode_is({"fm"}) or named(s, *OF_A_DEPTH, "fm_deviation") or s.free("place")
    return len(s.items) == 2 and {i.fact.unit for i in s.items} <= {None, "W"} and not of_another


def _links_of_a_swing(s: Sentence, begin: int, end: int) -> list[int]:
    kinds = {"to", "->", "drops to", "falls to", "..", "needle_on_audio"}
    return [n for n in range(begin, end) if s.facts[n].of in kinds or s.facts[n].text in {"drops", "falls", "dips"}]


def _share_the_unit(one: Item, two: Item) -> None:
    """The unit that stands at one of two powers is meant for both."""
    for item, other in ((one, two), (two, one)):
        if item.fact.unit is None and other.fact.unit is not None:
            item.fact = replace(item.fact, unit="W", value=item.fact.value * other.fact.factor)


def _modulator_at_rest(s: Sentence) -> list[Said]:
    """'mod ma 38 resting 155 on peaks', 'mod iq 42ma': the modulator's current, without and with audio."""
    names = named(s, "modulator_current")
    rest = named(s, "idle_current")
    plain = [n for n in named(s, "am_depth") if s.facts[n].text == "mod" and n + 1 in rest]
    drawn = [i for i in s.items if i.fact.unit in {None, "A"} and not s.ground.is_a_count(i.fact)]
    if not rest or not (names or plain) or not drawn:
        return []
    for item in drawn:
        item.quantity = "modulator_current"
    drawn[0].address["modulation"] = "off"
    if len(drawn) > 1 and typed(s, "peaks"):
        drawn[1].address["modulation"] = "on"
    s.take(*names, *rest, *plain)
    s.keep_words |= set(range(s.items[-1].at + 1, len(s.facts)))
    return []


def _tone_of_a_figure(s: Sentence) -> list[Said]:
    """'1k tone 10mv dev 1.5', 'dev 2.4k at 1khz tone': the tone that a modulation was read with."""
    tone = next((n for n, f in enumerate(s.facts) if f.text in SENT_AS_A_TONE and n not in s.taken), None)
    if tone is None or not (_has_modulation(s) or _deviates_by(s, tone)):
        return []
    beside = _figure_of_a_tone(s, tone)
    at = s.fact(tone - 1)
    hz: object = None
    if beside is not None and _is_a_pitch(beside.fact) and len(s.items) > 1:
        hz = beside.fact.value
        use(s, beside)
    elif at is not None and at.of == "at_hz":
        hz = at.is_
        s.take(tone - 1)
    if hz is not None:
        s.everywhere |= {"tone_hz": hz, "audio": "tone", "modulation": "on"}
        s.take(tone)
    return []


def _figure_of_a_tone(s: Sentence, tone: int) -> Item | None:
    """The figure beside the word: behind it where the one before has a name of its own."""
    name = s.fact(tone - 2)
    named_before = name is not None and name.kind == "quantity" and s.item_at(tone + 1)
    return s.item_at(tone + 1) if named_before else s.item_at(tone - 1) or s.item_at(tone + 1)


def _deviates_by(s: Sentence, burst: int) -> bool:
    """'burst 1750 at 3.1k': what a call tone deviates, which needs no name."""
    kilohertz = [i for i in s.items if i.fact.unit == "k" and i.quantity is None]
    if s.facts[burst].text == "tone" or len(s.items) != 2 or len(kilohertz) != 1:
        return False
    kilohertz[0].quantity = "fm_deviation"
    s.take(*(n for n in (kilohertz[0].at - 1,) if s.has_text(n, "at", "@")))
    return True


SENT_AS_A_TONE = {"tone", "burst", "toneburst"}


def _subtone_with_its_deviation(s: Sentence) -> list[Said]:
    """'ctcss 77 at 250hz', 'subtone 88.5 480hz': the tone, and how far it deviates."""
    names = named(s, "subtone_frequency")
    tone = next((i for i in s.items if names and i.at == names[0] + 1), None)
    if tone is None or not tone.fact.value < HIGHEST_SUBTONE_HZ or tone.fact.unit not in {None, "Hz"}:
        return []
    at = s.fact(tone.at + 1)
    hertz = float(str(at.is_)) if at is not None and at.of == "at_hz" else 0.0
    if not LEAST_SUBTONE_DEVIATION_HZ <= hertz <= MOST_SUBTONE_DEVIATION_HZ:
        return []
    s.take(tone.at + 1)
    return [Said("subtone_deviation", value=hertz, unit="Hz", in_its_unit=True, named=True, address=hand(s))]


HIGHEST_SUBTONE_HZ = 300.0
LEAST_SUBTONE_DEVIATION_HZ, MOST_SUBTONE_DEVIATION_HZ = 80.0, 1200.0


def _tone_it_was_read_with(s: Sentence) -> list[Said]:
    """'fm 1.8 khz at 1k', 'opposite sideband -48 at 1k', 'thd 4% at 1000hz': the audio that was sent meanwhile."""
    for item in list(s.items) if len(s.items) > 1 else ():
        if not s.has_text(item.at - 1, "at", "@", "with", "on") or s.has_text(
            item.at + 1, "off", "out", "error", "dev"
        ):
            continue
        tone = item.fact.unit in {"k", "Hz"} and not item.fact.signed and _is_a_pitch(item.fact)
        heard = LEAST_PITCH_HZ <= item.fact.value <= MOST_PITCH_HZ
        if tone and heard and _is_of_audio(s, item):
            s.everywhere |= {"tone_hz": item.fact.value}
            s.take(item.at - 1)
            use(s, item)
    return []


def _is_of_audio(s: Sentence, tone: Item) -> bool:
    """Whether what stands before a tone is read with audio on: a modulation, or what comes with it."""
    before = [f for f in s.facts[: tone.at] if f.kind in {"quantity", "figure", "how"}]
    said = {f.of for f in before if f.kind == "quantity"}
    unnamed_deviation = (
        not said
        and any(f.of == "mode" and f.is_ == "fm" for f in before)
        and any(f.kind == "figure" and f.unit in {"Hz", "k"} for f in before)
    )
    alternating = any(f.kind == "figure" and f.unit in {"V", "Vrms", "Vpp"} for f in before)  # '1.2v ac at 1k'
    return bool(said & WITH_AUDIO) or unnamed_deviation or alternating


def _is_a_pitch(fact: Fact) -> bool:
    """Whether a figure is a tone's: in hertz, or the bare 1750 of a call tone."""
    bare = fact.unit is None and fact.decimals == 0 and LEAST_PITCH_HZ <= fact.value <= MOST_PITCH_HZ
    return bare or fact.unit in {"k", "Hz"}


def _has_modulation(s: Sentence) -> bool:
    percent = any(f.kind == "figure" and f.unit == "%" for f in s.facts)
    return percent or bool(named(s, "fm_deviation", *OF_A_DEPTH))


def _volts_in(s: Sentence) -> list[Said]:
    """'10mv dev 1.5': the audio volts that a deviation was read with; '60% at 8mv in': those that a depth takes."""
    volts = next((i for i in s.items if i.fact.unit == "V" and i.fact.value < 1), None)
    if volts is None or len(s.items) < 2 or not _has_modulation(s):
        return []
    led = s.fact(volts.at - 1)
    if led is not None and led.kind == "place" and NUMBERED_POINT.match(str(led.is_)):
        return []  # 'dev 1.8k q4 base .7v': of that part
    if len(s.items) > 2:
        return _volts_of_all(s, volts)
    _volts_of_one(s, volts, next(i for i in s.items if i is not volts))
    return []


def _volts_of_one(s: Sentence, volts: Item, other: Item) -> None:
    named_depth = named(s, "am_depth")
    depth = other.fact.unit == "%" or (other.fact.unit is None and bool(named_depth))
    if depth and named_depth and s.has_text(volts.at - 1, "at"):
        other.quantity, other.address["input_v"] = "am_depth", volts.fact.value  # 'mod 35% at 30mv'
        behind = [volts.at + 1] if s.has_text(volts.at + 1, "in", "input", "mic") else []
        s.take(volts.at - 1, *named_depth, *behind)
        use(s, volts)
    elif depth and s.has_text(volts.at - 1, "at", "for"):
        use(s, other)
        volts.quantity = "modulation_sensitivity"
        s.take(volts.at - 1, *named(s, "am_depth", "drive_power"))
    elif other.quantity is None and named(s, "fm_deviation"):
        other.address["input_v"] = volts.fact.value
        use(s, volts)


def _volts_of_all(s: Sentence, volts: Item) -> list[Said]:
    """'pos 80 neg 95 at 5mv in': the audio volts that several figures of the modulation were read with."""
    others = [i for i in s.items if i is not volts]
    last = volts.at > max(i.at for i in others) and s.has_text(volts.at - 1, "at", "with", "for", "@")
    if last and all(i.fact.unit in {"%", "k", "Hz", None} for i in others):
        for other in others:
            other.address["input_v"] = volts.fact.value
        s.take(volts.at - 1, *(n for n in (volts.at + 1,) if s.has_text(n, "in", "input")))
        use(s, volts)
    return []


def _peaks_behind_their_figures(s: Sentence) -> list[Said]:
    """'mod 95 percent up 100 down': crest and trough, each behind its figure."""
    sides, names = [n for n in s.free("side") if s.facts[n].text in {"up", "down"}], named(s, "am_depth")
    bare = all(i.fact.unit in {None, "%"} for i in s.items)
    if not (bare and names) or len(sides) != PEAKS or [i.at + 1 for i in s.items] != sides:
        return []
    for item, n in zip(s.items, sides, strict=True):
        item.quantity = "am_depth_positive" if s.facts[n].text == "up" else "am_depth_negative"
    s.take(*sides, *names)
    return []


PEAKS = 2


def _both_peaks(s: Sentence) -> list[Said]:
    """'up 95 down 100': crest and trough, where a depth is wanted and nothing is named."""
    sides = [n for n in s.free("side") if s.facts[n].text in {"up", "down"}]
    bare = all(i.fact.unit in {None, "%"} for i in s.items) and len(s.items) == 2 and len(sides) == 2
    if not bare or s.free("quantity") or not s.ground.wanted_at_all("am_depth") or s.ground.wants == "fm_deviation":
        return []
    for n in sides:
        item = min((i for i in s.items if i.at > n), key=lambda i: i.at, default=s.items[-1])
        item.quantity = "am_depth_positive" if s.facts[n].text == "up" else "am_depth_negative"
    s.take(*sides)
    return []


def _sides_of_a_deviation(s: Sentence) -> list[Said]:
    """'1.8 pos 1.6 neg' where a deviation is wanted: how far it swings to either side, and no depth."""
    sides = named(s, *SIDES)
    kilohertz = all(i.fact.unit in {None, "k"} and i.fact.value < MOST_KHZ for i in s.items)
    if s.ground.wants == "fm_deviation" and len(sides) == len(s.items) == PEAKS and kilohertz:
        for n in sides:
            s.facts[n] = replace(s.facts[n], of=SIDES[s.facts[n].of])
    return []


SIDES = {"am_depth_positive": "fm_deviation_positive", "am_depth_negative": "fm_deviation_negative"}
MOST_KHZ = 16.0  # whoever swings farther says what he means


def _read_at_a_deviation(s: Sentence) -> list[Said]:
    """'dist 3% at 3k dev', 'sinad 26 at 60% mod': how far it was modulated meanwhile, which stays as words."""
    heard = named(s, "audio_distortion", "sinad", "hum_and_noise")
    for item in list(s.items) if heard else ():
        behind = s.fact(item.at + 1)
        name = behind is not None and behind.of in {"fm_deviation", "am_depth"}
        if name and s.has_text(item.at - 1, "at", "@", "with") and item.fact.unit in {"k", "Hz", "%"}:
            s.items = [i for i in s.items if i is not item]
            s.take(item.at + 1)
            s.keep_words |= {item.at, item.at + 1}
            tone = s.item_at(item.at + 2)
            if tone is not None and tone.fact.unit in {"k", "Hz"} and tone.fact.value in AUDIO_TONES_HZ:
                s.everywhere |= {"tone_hz": tone.fact.value}  # 'distortion 8% at 3k dev 1khz'
                use(s, tone)
    return []


AUDIO_TONES_HZ = {300.0, 400.0, 1000.0, 1250.0}


def _for_so_much_deviation(s: Sentence) -> list[Said]:
    """'mod sens 8 mv for 3 k': what it was turned up to stays beside it."""
    names = named(s, "modulation_sensitivity")
    for item in list(s.items):
        if names and s.has_text(item.at - 1, "for", "at", "gives") and item.fact.unit in {"k", "Hz", "%"}:
            s.items = [i for i in s.items if i is not item]
            s.keep_words |= {item.at}
    return []


FRAMES: tuple[Frame, ...] = (
    _subtone_with_its_deviation,
    _for_so_much_deviation,
    _read_at_a_deviation,
    _carrier_null,
    _subtone,
    _tone_of_a_subtone,
    _swings,
    _modulator_at_rest,
    _tone_of_a_figure,
    _tone_it_was_read_with,
    _volts_in,
    _sides_of_a_deviation,
    _peaks_behind_their_figures,
    _both_peaks,
)
