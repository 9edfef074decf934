"""What a shop says for words of the program: its own word beside the one that is known."""

import re
from collections.abc import Mapping
from typing import Annotated

from pydantic import AfterValidator, Field

from young_spark.core.entry.wording.vocabulary import vocabulary
from young_spark.core.ground import Frozen

OF_NOTHING = frozenset({"word", "link"})  # kinds of words that nothing of a reading hangs on
PLAIN = re.compile(r"[^\W\d_][\w'-]*(?: [\w'-]+){0,3}")
MOST_WORDS = 300


def _own(word: str) -> str:
    if not PLAIN.fullmatch(word) or word != word.lower():
        raise ValueError("small letters, beginning with one, of at most four words")
    if word in vocabulary().facts:
        raise ValueError("a word that the program knows: it stays what it is")
    return word


def _known(word: str) -> str:
    known = vocabulary().facts
    if word not in known or known[word][0] in OF_NOTHING:
        raise ValueError(f"'{word}' is none of the program's words for a quantity, a place, a state or a result")
    return word


class OwnWords(Frozen):
    """A shop's words: each with the word of the program that it stands for."""

    words: dict[Annotated[str, AfterValidator(_own)], Annotated[str, AfterValidator(_known)]] = Field(
        {}, max_length=MOST_WORDS
    )


def in_known_words(plain: str, own: Mapping[str, str]) -> str:
    """A text with the shop's words in those of the program; the longest phrase counts where two begin alike."""
    there = [word for word in sorted(own, key=len, reverse=True) if word in plain]
    if not there:
        return plain
    found = re.compile(rf"(?<![\w-])(?:{'|'.join(map(re.escape, there))})(?![\w-])")
    return found.sub(lambda match: own[match[0]], plain)
