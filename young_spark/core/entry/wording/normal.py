"""A folded text as the facts are cut from it: each label with its figure, numbers in figures, what the trade says in
its own way said plainly."""

import re
from functools import lru_cache

from young_spark.core.entry.wording.bands_in_megahertz import bands_named, swept_over_a_band
from young_spark.core.entry.wording.labels_and_figures import each_by_its_turn
from young_spark.core.entry.wording.points_said import points_said
from young_spark.core.entry.wording.sayings import in_plain_words
from young_spark.core.entry.wording.shorthand import in_words
from young_spark.core.entry.wording.spoken_numbers import in_figures
from young_spark.core.entry.wording.units_in_front import behind_their_figures

SPACED_BAND = re.compile(r"\b(160|80|60|40|30|20|17|15|12|10|6) m (?=\d)")
LEAST_BANDS = 2  # so many of them are a row; one may be metres


@lru_cache(maxsize=1024)  # a line and each of its clauses are asked for several times
def as_signs(plain: str) -> str:
    """A folded text with such words written as signs."""
    plain = behind_their_figures(in_figures(in_words(points_said(each_by_its_turn(plain)))))
    if len(SPACED_BAND.findall(plain)) >= LEAST_BANDS:  # '40 m 490 20 m 480'
        plain = SPACED_BAND.sub(r"\1m ", plain)
    return swept_over_a_band(bands_named(in_plain_words(plain)))
