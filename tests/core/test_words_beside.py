"""Lines of words in which numbers stand that nobody measured, by themselves and beside a reading, by rule."""

import random
from collections import Counter

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand
from young_spark.core.entry.facts.asides import asides_file
from young_spark.core.entry.facts.cutting import cut
from young_spark.core.entry.wording.tokens import folded

# written as hands tell such things, before they were tried
WORDS = (
    "ordered 2 x Q8, {n}.50 each", "parts arrived, {n}.20 with postage", "quoted {n}, customer agreed",
    "customer agreed to {n} max", "rang customer at 14:{n}, no answer", "spent {n} min so far",
    "{d}.5 h on this already",
    "invoice {n} sent", "job {n} was the same fault", "same fault as job {n}", "customer says it gave {d}w when new",
    "owner reckons it was {n}w before", "sticker says serviced in 20{n}", "made in 1992, date code {n}{n}",
    "someone fitted a {n}a fuse", "{d} screws missing", "charged overnight, {n} hours", 
    "left it running {d} h, no fault",
    "tried with another psu, {n}a one, same", "needs C41, 470uF 25V", "get 100uF 16V on next order",
    "collect after {d} pm", "paid {n} cash", "deposit {n} taken", "board rev {d}.2", "firmware {d}.{n}",
    "s/n {n}{n}{n}",
    "rated {n} w on the label", "manual page {n} says {d}.4 V", "spec is {d} w", "licence allows {n} w",
    "repeater on 145.{n} hears nothing", "look at R12 again tomorrow", "not tried on {n} m", "battery {d} years old",
    "dummy load is {n} w", "borrowed {n} w load from club", "aerial is {d} m up", "coax {n} m", "photo {n} taken",
    "came back after {d} weeks", "weight {d} kg", "drawer {n}", "parcel {n} from supplier", "helper did {d} hours",
    "customer pays {n} by card", "he bought it for {n}", "insurance claim {n}", "one of {d} from the fleet",
    "page {n} of the manual missing", "drawing {n} shows it", "marked {n} w max on the case", "maker says {d} w",
    "the book gives {d}.4 v there", "should do {d} w", "used to do {d} w", "friend measured {d} w",
    "seller claimed {n} w",
    "last time it was {d}.1 w", "try a {n} ohm in place of R12", "next: change R12 to {d}k", "could fit a {n}a relay",
    "will need a {n} uF for C41", "suspect C41, {d} legs dry", "took {d} attempts", "fails {d} times in {n}",
    "happens every {d} min", "only does it below {d} degrees", "limit set to {d} a", "scope on {d} v/div",
    "meter on the {n} w range", "battery is {n}v type", "takes {d} AA cells", "fitted with {n} channel board",
)  # fmt: skip
READINGS = {
    "3.8w on ch19": ("carrier_power", 3.8), "mod 85%": ("am_depth", 85.0), "freq +120hz": ("frequency_error", 120.0),
    "swr 1.3": ("swr", 1.3), "tx 1.2a": ("supply_current", 1.2), "q8 collector 12.8v": ("dc_voltage", 12.8),
    "2nd -62dbc": ("harmonic_2", -62.0),
}  # fmt: skip
KINDS = (("cb-am-mobile", "current-standby"), ("hf-solid-state", "current-standby"), ("valve-linear", "filament"))
BESIDE = {  # what a reading keeps although a number stands beside it
    "3.8w on a 50w dummy load": ("carrier_power", 3.8), "on a 50w dummy load 3.8w": ("carrier_power", 3.8),
    "3.8w on the 10w range": ("carrier_power", 3.8), "13.2v on the 30v range": ("supply_voltage", 13.2),
    "power 3.8w with 50w element": ("carrier_power", 3.8), "3.8w took 4 attempts": ("carrier_power", 3.8),
    "3.8w, friend measured 5w": ("carrier_power", 3.8), "3.8w sheet says 4w": ("carrier_power", 3.8),
    "0.5w through a 10 db pad": ("carrier_power", 5.0), "found C41 dried out, 3.8w": ("carrier_power", 3.8),
    "measured 3.8w, found C41 leaky; mod 85%": ("am_depth", 85.0), "burning smell, 3.8w": ("carrier_power", 3.8),
}  # fmt: skip

# names of things, people and what is left of a pattern, in which something was measured all the same
MEASURED = {
    ("plate measured 2400v", KINDS[2]): ("plate_voltage", 2400.0), ("rev 0.2", KINDS[0]): ("reflected_power", 0.2),
    ("shop meter gives 3.8w", KINDS[0]): ("carrier_power", 3.8), ("pa board 12.9v", KINDS[0]): ("dc_voltage", 12.9),
    ("68 deg on the case", KINDS[2]): ("temperature", 68.0), ("aerial 20m swr 1.4", KINDS[1]): ("swr", 1.4),
    ("heatsink shows over 80c", KINDS[2]): ("temperature", 80.0), ("10 min on tx 68c", KINDS[1]): ("temperature", 68.0),
    ("back after 20 min 3.6w", KINDS[0]): ("carrier_power", 3.6),
    ("1.2a supply 13.2v", KINDS[0]): ("supply_current", 1.2),
    ("still 3.8w after 3 days", KINDS[0]): ("carrier_power", 3.8), ("12.9v lamp dims", KINDS[0]): ("dc_voltage", 12.9),
}  # fmt: skip


def filled(words: str, rng: random.Random) -> str:
    return words.format(n=rng.randint(11, 45), d=rng.randint(2, 9))


def became(text: str, kind: str, row: str, *wanted: tuple[str, float]) -> str:
    """What a text became: right, asked, only words, or wrong where a figure of it is none that was wanted."""
    meant = understand(text, ground_of_kind(kind, row))
    if meant.chosen is None:
        return "words" if meant.story is not None or meant.sets else "asked"
    read = [(r.quantity, r.value) for r in meant.meanings[meant.chosen].readings]
    return "right" if read == [(q, pytest.approx(v)) for q, v in wanted] else "wrong"


def test_a_number_that_nobody_measured_is_no_reading():
    rng = random.Random(1)
    texts = [(filled(words, rng), *rng.choice(KINDS)) for words in WORDS * 3]
    found = Counter(became(*text) for text in texts)
    assert found["wrong"] == 0 and found["words"] >= 0.97 * len(texts), found


def test_words_beside_a_reading_take_nothing_from_it():
    rng, found = random.Random(2), Counter[str]()
    for words in WORDS * 3:
        read, wanted = rng.choice(list(READINGS.items()))
        parts = [read, filled(words, rng)]
        text = rng.choice((", ", "; ", ". ", " - ")).join(parts if rng.random() < 0.7 else parts[::-1])
        found[became(text, *KINDS[0], wanted)] += 1
    assert found["wrong"] <= 0.02 * found.total() and found["right"] >= 0.8 * found.total(), found


@pytest.mark.parametrize("text", BESIDE)
def test_the_name_of_a_thing_with_a_number_in_it_is_no_second_figure(text):
    meant = understand(text, ground_of_kind(*KINDS[0]))
    assert meant.chosen is not None
    quantity, value = BESIDE[text]
    there = {r.quantity: r.value for r in meant.meanings[meant.chosen].readings}
    assert there[quantity] == pytest.approx(value)


@pytest.mark.parametrize(("text", "ground"), MEASURED)
def test_what_was_measured_is_no_aside(text, ground):
    meant = understand(text, ground_of_kind(*ground))
    assert meant.chosen is not None
    quantity, value = MEASURED[text, ground]
    assert [r.value for r in meant.meanings[meant.chosen].readings if r.quantity == quantity] == [pytest.approx(value)]


def test_words_that_hold_a_figure_of_the_bench_beside_a_reading_say_so():
    meant = understand("mod 85%; limit on the pa 5w", ground_of_kind(*KINDS[0]))
    assert meant.chosen is not None and [g.code for g in meant.guards] == ["in_words"]


@pytest.mark.parametrize("aside", asides_file().aside, ids=lambda aside: aside.as_in)
def test_every_aside_is_told_in_the_text_beside_it(aside):
    facts = cut(folded(aside.as_in))
    assert any(f.kind in {"word", "item"} and any(c.isdigit() for c in f.text) for f in facts)


# what was done, turned or found, as hands tell it, with the kind that it is filed as
CHANGED = {
    "did": (
        "fitted new q8", "c41 replaced", "resoldered the antenna socket", "cleaned the channel switch", "new fuse in",
        "bypassed r12", "put back the original crystal", "cut out the old mod", "new coax link to the lpf",
        "pulled and reseated the pa plug", "bridged the open track", "c41 470u fitted",
    ),
    "adjusted": (
        "peaked l14", "turned vr5 back", "retuned the driver", "netted it", "set the bias", "adjusted the alc",
        "readjusted the carrier null", "realigned the tx strip", "backed off the mic gain", "tuned for max",
    ),
    "found": ("c41 was dried out", "found dry joint at l14", "antenna plug loose", "relay contact pitted",
              "someone had cut the limiter", "burnt track by the fuse", "water in the socket"),
}  # fmt: skip
LED_TO = (
    "{w}, now {r}", "{w} -> {r}", "{w}: {r}", "{w}. {r}", "{w} - {r}", "{w}, {r}", "{w} and now {r}", "{w}; {r}",
    "{w}, {r} now", "{w} so {r}", "{w}, gives {r}", "{w} = {r}", "{w}, back to {r}",
)  # fmt: skip
PAIRS = {
    "3.8w and 85%": (("carrier_power", 3.8), ("am_depth", 85.0)), "3.8w, mod 85%": (("carrier_power", 3.8),
    ("am_depth", 85.0)), "power 3.8w": (("carrier_power", 3.8),), "ripple 20mv": (("ripple", 0.02),),
}  # fmt: skip


def test_what_was_done_is_filed_beside_what_was_read_then():
    rng, lost = random.Random(7), []
    wanted = {**{text: (one,) for text, one in READINGS.items()}, **PAIRS}
    for kind, phrases in CHANGED.items():
        for words in phrases * 8:
            read, readings = rng.choice(list(wanted.items()))
            text = rng.choice(LED_TO).format(w=words, r=read)
            meant = understand(text, ground_of_kind(*KINDS[0]))
            there = () if meant.chosen is None else meant.meanings[meant.chosen].readings
            got = [(r.quantity, pytest.approx(r.value)) for r in there if r.value is not None]
            told = meant.story is not None and meant.story.kind == kind
            assert not got or [q for q, _ in got] == [q for q, _ in readings], (text, got)  # never another one for sure
            if got != list(readings) or not told:
                lost.append((text, got, meant.story and meant.story.kind))
    assert len(lost) <= 0.02 * 8 * 29, lost


@pytest.mark.parametrize(
    ("text", "ground", "wanted", "kind"),
    [
        ("Customer says range is poor. Power on ch 12 measured 1.1 W. Sensitivity 0.25 uV.", ("uhf-cb", "frequency-20"),
         [("carrier_power", 1.1), ("sensitivity_12db_sinad", -119.03)], "said"),
        ("Found R12 open and Q8 shorted. Replaced both. Carrier now 3.8 W, modulation 92 %.", KINDS[0],
         [("carrier_power", 3.8), ("am_depth", 92.0)], "did"),
        ("After replacing the mic deviation went up from 0.8 to 1.9 kHz, power at 3.9 W.", ("cb-fm-mobile",
         "current-standby"), [("fm_deviation", 1900.0), ("carrier_power", 3.9)], "did"),
        ("found c41 leaky. 3.8w. replaced it", KINDS[0], [], "found"),  # read before it was done
    ],
)  # fmt: skip
def test_sentences_of_words_leave_those_that_were_read(text, ground, wanted, kind):
    meant = understand(text, ground_of_kind(*ground))
    there = () if meant.chosen is None else meant.meanings[meant.chosen].readings
    assert [(r.quantity, pytest.approx(r.value, rel=1e-3)) for r in there if r.value is not None] == wanted
    assert meant.story is not None and meant.story.kind == kind


def test_how_one_of_several_was_read_is_not_of_the_others():
    text = "Filament at the socket 5.05 V, HT no load 2250 V, idle current 60 mA after 3 minutes."
    meant = understand(text, ground_of_kind(*KINDS[2]))
    assert meant.chosen is not None
    how = [meant.meanings[meant.chosen].conditions_of(n) for n in range(3)]
    assert [(at.setting, at.after_s) for at in how] == [(None, None), ("off load", None), (None, 180.0)]
