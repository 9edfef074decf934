"""Slips of the hand on a keyboard: which word of the trade a mistyped one was meant to be.

Only what fingers do is forgiven: two letters swapped, one left out, one doubled, a neighbouring key. Another word that
merely looks alike ('clear' for 'clar', 'place' for 'plate', 'chip' for 'chirp') is another word."""

from collections.abc import Callable

ROWS = ("qwertyuiop", "asdfghjkl", "zxcvbnm")
SHORTEST = 4
SHORTEST_SPELT = 8
SHORTEST_GUESSED = 5  # a shorter word is met by too many others: of those only swapped letters are forgiven


def is_slip(typed: str, meant: str, *, another_key: bool = True) -> bool:
    """Whether one slip of a finger makes `typed` of `meant`; never the first letter, which hands get right. A word of
    every sentence is met by too many others where `another_key` was hit: 'cleaner', 'cleaned'."""
    if len(typed) < SHORTEST or typed[:1] != meant[:1] or typed == meant:
        return False
    ways = by_how_it_slipped() if another_key else by_how_it_slipped()[:-1]
    return any(slipped(typed, meant) for slipped in ways)


def by_how_it_slipped() -> tuple[Callable[[str, str], bool], ...]:
    """The slips that are forgiven, as tests of what was typed against what was meant; the commonest first."""
    return _swapped, _left_out, _put_in, _instead


def _swapped(typed: str, meant: str) -> bool:
    pairs = (meant[:n] + meant[n + 1] + meant[n] + meant[n + 2 :] for n in range(1, len(meant) - 1))
    return typed in pairs


def _left_out(typed: str, meant: str) -> bool:
    if len(typed) != len(meant) - 1 or len(meant) < SHORTEST_GUESSED:
        return False
    return any(typed == meant[:n] + meant[n + 1 :] for n in range(1, len(meant) - 1))


def _put_in(typed: str, meant: str) -> bool:
    """A letter twice, or that of the key beside."""
    if len(typed) != len(meant) + 1 or len(meant) < SHORTEST_GUESSED:
        return False
    return any(
        typed[:n] + typed[n + 1 :] == meant and any(_near(typed[n], other) for other in typed[n - 1 : n + 2 : 2])
        for n in range(1, len(typed))
    )


def _instead(typed: str, meant: str) -> bool:
    """The key beside; or in a long word one vowel for another, which is spelling and no slip."""
    wrong = [(a, b) for a, b in zip(typed, meant, strict=False) if a != b]
    if len(typed) != len(meant) or len(wrong) != 1 or len(meant) < SHORTEST_GUESSED:
        return False
    spelt = len(meant) >= SHORTEST_SPELT and set(wrong[0]) <= set("aeiou")
    return spelt or _near(*wrong[0])


def _near(one: str, other: str) -> bool:
    """The same key, or one that lies beside it in its row or half a key away in the next."""
    at = {letter: (row, n) for row, letters in enumerate(ROWS) for n, letter in enumerate(letters)}
    if one not in at or other not in at:
        return False
    (row, n), (other_row, m) = at[one], at[other]
    return abs(row - other_row) <= 1 and abs(n + row / 2 - m - other_row / 2) <= 1
