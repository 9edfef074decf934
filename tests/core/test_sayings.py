"""Every way of the trade to say something is said in the text that stands beside it, and in the order of the file."""

import pytest

from young_spark.core.entry import sayings
from young_spark.core.entry.normal import as_signs
from young_spark.core.entry.sayings import Saying, over_its_clauses, pattern_of, sayings_file, written_by
from young_spark.core.entry.spelling import as_spelt
from young_spark.core.entry.tokens import folded

FILE = sayings_file()
EVERY = (*FILE.shorthand, *FILE.saying)


def left_for(saying: Saying, monkeypatch: pytest.MonkeyPatch) -> str:
    """The text beside a saying as those in front of it leave it."""
    before = EVERY[: EVERY.index(saying)]
    lists = {True: before[: len(FILE.shorthand)], False: before[len(FILE.shorthand) :]}
    compiled = {which: tuple((pattern_of(s), written_by(s)) for s in mine) for which, mine in lists.items()}
    monkeypatch.setattr(sayings, "_compiled", lambda shorthand: compiled[shorthand])
    return as_signs.__wrapped__(as_spelt(folded(saying.as_in)))  # what is left there is remembered for no other test


@pytest.mark.parametrize("saying", EVERY, ids=[s.as_in for s in EVERY])
def test_a_saying_is_said_in_the_text_beside_it(saying: Saying, monkeypatch: pytest.MonkeyPatch):
    assert not (saying.by and saying.means)
    assert pattern_of(saying).search(left_for(saying, monkeypatch)), f"nothing is left of {saying.as_in!r} for it"


@pytest.mark.parametrize("saying", FILE.first, ids=[s.as_in for s in FILE.first])
def test_what_is_said_over_clauses_is_in_the_text_beside_it(saying: Saying):
    assert over_its_clauses(as_spelt(folded(saying.as_in))) != as_spelt(folded(saying.as_in))


def test_a_text_without_any_of_them_stays_as_it_is():
    for text in ("3.8w", "ch19 3.8w", "q3 collector 7.9v", "swr 1.4", "aerial plug loose"):
        plain = folded(text)
        assert as_signs(plain) == plain
