"""Words with a slip of the finger in them, and words and figures without the space between them."""

import pytest

from young_spark.core.entry import as_meant, words_of_the_bench
from young_spark.core.entry.wording.mistyped import spelling
from young_spark.core.ground import Spelling, english, is_slip

LONG = sorted(word for word in words_of_the_bench() if len(word) > 5)


def test_a_word_of_the_bench_is_found_again_from_each_slip_or_left_alone():
    """Two letters swapped, one left out, one twice, at every place inside of it."""
    lost = []
    for word in LONG:
        for at in range(1, len(word) - 2):
            slipped = {
                word[:at] + word[at + 1] + word[at] + word[at + 2 :],
                word[:at] + word[at + 1 :],
                word[:at] + word[at] + word[at:],
            }
            lost += [(typed, word) for typed in slipped if as_meant(f"3 {typed} 3") != f"3 {word} 3"]
    others = [(typed, word) for typed, word in lost if not spelling().is_a_word(typed)]
    assert len(lost) < 0.05 * 3 * sum(map(len, LONG))
    assert len(others) < 0.02 * 3 * sum(map(len, LONG)), others


@pytest.mark.parametrize("word", LONG)
def test_a_word_of_the_bench_stays(word):
    assert as_meant(f"q9 {word} 3v") == f"q9 {word} 3v"


@pytest.mark.parametrize(
    "text",
    [
        "cleaner audio now", "marker at 27 mhz", "driven with 5w", "c61 trimmer", "TP3 4.2", "relay3 ok", "pin14 5v",
        "q204 e .8", "2sx1307 fitted", "vr2 up", "0.1 uf", "s/n 04217", "rf-choke", "gate2 3.8v", "c-e short",
    ],
)  # fmt: skip
def test_another_word_or_a_name_is_left_alone(text):
    assert as_meant(text) == text


@pytest.mark.parametrize(
    ("typed", "meant"),
    [
        ("cathode12.4v", "cathode 12.4v"),
        ("plate520ma", "plate 520ma"),
        ("disc.38v", "disc .38v"),
        ("asdf3.8w", "asdf 3.8w"),
        ("reads510", "reads 510"),
        ("Carirer 3.8W", "Carrier 3.8W"),
        ("platecurrent 520ma", "plate current 520ma"),
        ("2nd -61dbc3rd -66dbc", "2nd -61dbc 3rd -66dbc"),
        ("39vppacross 50r", "39vpp across 50r"),
    ],
)
def test_what_stands_together_is_parted(typed, meant):
    assert as_meant(typed) == meant


def test_a_name_that_stands_for_something_here_is_no_slip():
    assert as_meant("drivr 3v", frozenset({"drivr"})) == "drivr 3v"


def test_of_two_words_as_near_none_is_meant():
    two = Spelling(["stander", "stinder"])
    assert two.nearest("stnder") == "stnder" and Spelling(["stander"]).nearest("stnder") == "stander"
    assert is_slip("stnder", "stander") and "stnder" not in english()
