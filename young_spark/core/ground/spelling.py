"""A mistyped word as it was meant: where one word of a list is the only one that one slip of a finger makes it of."""

import re
from collections.abc import Collection, Iterable
from functools import cache

from spellchecker import SpellChecker

from young_spark.core.ground.slips import by_how_it_slipped

SHORTEST = 4  # letters
WORD = re.compile(r"(?<![\w'./&])[A-Za-z]{4,}(?![\w'/&]|\.\w)")


class Spelling:
    """Words that hands mean, in groups of which the first counts where two are as near; `kept` are words besides that
    are none of them and stay. A word of common English is what it is."""

    def __init__(self, *groups: Iterable[str], kept: Collection[str] = ()) -> None:
        self._groups = tuple(_by_first_letter(group) for group in groups)
        self.words = frozenset(word for group in self._groups for words in group.values() for word in words)
        self._kept = frozenset(kept)
        self._found: dict[str, str] = {}

    def mended(self, text: str, names: frozenset[str] = frozenset()) -> str:
        """A text with such words as they were meant; `names` are words in small letters that stay."""
        return WORD.sub(lambda found: found[0] if found[0].lower() in names else self._in_its_place(found[0]), text)

    def is_a_word(self, word: str) -> bool:
        """Whether a word in small letters is one: of the list, also with an ending, or of English."""
        stems = (word, word.removesuffix("s"), word.removesuffix("ed"), word.removesuffix("ing"))
        listed = any(stem in self.words for stem in (*stems, word.removeprefix("re")))
        return listed or word in self._kept or word in english()

    def nearest(self, word: str) -> str:
        """The word that was meant; the same where it is one, or where none or several are as near."""
        if self.is_a_word(word):
            return word
        for group in self._groups:
            for slipped in by_how_it_slipped():
                near = [meant for meant in group.get(word[0], ()) if slipped(word, meant)]
                if near:
                    return near[0] if len(near) == 1 else word
        return word

    def _in_its_place(self, typed: str) -> str:
        word = typed.lower()
        if word not in self._found:
            if len(self._found) >= MOST_KEPT:
                self._found.clear()
            self._found[word] = self.nearest(word)
        meant = self._found[word]
        if meant == word:
            return typed
        return meant.upper() if typed.isupper() else meant.capitalize() if typed[0].isupper() else meant


MOST_KEPT = 4096  # words looked up before


@cache
def english() -> SpellChecker:
    """Common English."""
    return SpellChecker(language="en")


def _by_first_letter(words: Iterable[str]) -> dict[str, tuple[str, ...]]:
    table: dict[str, list[str]] = {}
    for word in sorted(set(words)):
        table.setdefault(word[0], []).append(word)
    return {letter: tuple(found) for letter, found in table.items()}
