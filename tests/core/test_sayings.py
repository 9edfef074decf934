"""Every way of the trade to say something is said in the text that stands beside it, and in the order of the file."""

import re

import pytest

from young_spark.core.entry.wording import sayings
from young_spark.core.entry.wording.normal import as_signs
from young_spark.core.entry.wording.plain_signs import in_plain_signs
from young_spark.core.entry.wording.sayings import Saying, compiled, over_its_clauses, pattern_of, sayings_file
from young_spark.core.entry.wording.tokens import folded
from young_spark.core.ground import needed_letters

FILE = sayings_file()
EVERY = (*FILE.shorthand, *FILE.saying)


def left_for(saying: Saying, monkeypatch: pytest.MonkeyPatch) -> str:
    """The text beside a saying as those in front of it leave it."""
    before = EVERY[: EVERY.index(saying)]
    lists = {"shorthand": before[: len(FILE.shorthand)], "saying": before[len(FILE.shorthand) :]}
    monkeypatch.setattr(sayings, "_compiled", {which: compiled(mine) for which, mine in lists.items()}.__getitem__)
    return as_signs.__wrapped__(
        in_plain_signs(folded(saying.as_in))
    )  # what is left there is remembered for no other test


@pytest.mark.parametrize("saying", EVERY, ids=[s.as_in for s in EVERY])
def test_a_saying_is_said_in_the_text_beside_it(saying: Saying, monkeypatch: pytest.MonkeyPatch):
    assert not (saying.by and saying.means)
    found = pattern_of(saying).search(left_for(saying, monkeypatch))
    assert found, f"nothing is left of {saying.as_in!r} for it"
    assert needed_letters(pattern_of(saying).pattern) in found.string  # else it would never be tried


def test_no_saying_begins_in_a_figure():
    """Between a point and its decimals is a bound of a word: '.16uv' would be 16 µV."""
    bound_in_a_figure = re.compile(r"\\b\(?(?:\?:)?(?:\[\\d\.\]|\\d)")
    assert not [s.says for s in (*EVERY, *FILE.first) if bound_in_a_figure.search(s.says)]


@pytest.mark.parametrize("saying", FILE.first, ids=[s.as_in for s in FILE.first])
def test_what_is_said_over_clauses_is_in_the_text_beside_it(saying: Saying):
    assert over_its_clauses(in_plain_signs(folded(saying.as_in))) != in_plain_signs(folded(saying.as_in))


@pytest.mark.parametrize(
    ("pattern", "needed"),
    [
        (r"tunes? (\d+) ohms?\b", "tune"), (r"colou?r", "colo"), (r"a|b", ""), (r"(?:a|b)cd{2}e", "c"),
        (r"[a|(]left", "left"),
        (r"[]x]in", "in"), (r"no\.? go", " go"), (r"^keep\bit$", "keep"), (r"\d+", ""),
    ],
)  # fmt: skip
def test_what_a_pattern_needs_stands_in_all_that_it_finds(pattern: str, needed: str):
    assert needed_letters(pattern) == needed


def test_a_text_without_any_of_them_stays_as_it_is():
    for text in ("3.8w", "ch19 3.8w", "q3 collector 7.9v", "swr 1.4", "aerial plug loose"):
        plain = folded(text)
        assert as_signs(plain) == plain
