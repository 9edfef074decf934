"""What is sure by itself stays what it is beside anything else that may stand in one line with it, in front and behind:
nobody's figure becomes another's, and none is lost where the program is sure."""

from collections import Counter
from itertools import permutations, product

import pytest

from tests.core.test_texts_of_kinds import ground_of_kind
from young_spark.core.entry import understand
from young_spark.core.entry.facts.meaning import EntryContext

KINDS = {
    "cb-am-fm-mobile": (
        "current-standby",
        ("3.9w", "85%", "1.2a tx", "180ma rx", "swr 1.3", "27.18503", "dev 1.8k", "2nd -58", "13.8v", ".3uv 10db",
         "hum -42db", "rx ok", "heatsink 71c", "s9 48uv", "tp3 4.1v", "q4 base .7v"),
    ),
    "hf-solid-state": (
        "current-standby",
        ("pep 102", "18.2a tx", "1.4a rx", "swr 1.3", "2nd -52", "imd3 -31", "13.6v", ".2uv 10db", "carrier supp 48",
         "71c", "alc 2.1v"),
    ),
    "valve-linear": (
        "filament",
        ("hv 2400", "plate 480ma", "grid 120ma", "610w out", "fil 5.05v", "20m", "input swr 1.4", "mains 231v",
         "exhaust 78c", "bias -52v"),
    ),
    "cb-valve-base": (
        "power-am-19", ("3.6w", "90%", "b+ 251v", "v3 cathode 2.1v", "r4 12v", "swr 1.2", "hum -38db"),
    ),
    "marine-vhf": (
        "current-standby", ("24.5w hi", "5.8a tx", "156.80031", "dev 4.1k", "-119dbm sinad", "13.5v", "2nd -68"),
    ),
    "uhf-cb": (
        "current-standby",
        ("4.9w", "1.2a tx", "90ma rx", "dev 2.2k", "476.52531", "sql .2uv", "-121dbm 12db", "2nd -66", "13.8v",
         "audio 2.1w"),
    ),
    "airband-handheld": (
        "current-standby",
        ("5.1w pep", "1.4w carrier", "82%", "121.50031", "1.1a tx", "60ma rx", "batt 7.9v", "2nd -55"),
    ),
    "ten-metre-mobile": (
        "current-standby",
        ("25w pep", "10w am", "28.40003", "3.1a tx", "88%", "dev 2k", "carrier supp 44", "swr 1.4", "2nd -51",
         "vr12 1.2v", "tp3 4.1v"),
    ),
    "home-built": ("current-standby", ("5.1w", "7.03004", "2nd -42", "12.1v", "swr 1.1", "tp2 3.1v")),
    "transverter": ("current-receive", ("5w in", "24w out", "3.2a tx", "lo 116.00012")),
}  # fmt: skip
# what follows from two figures, and what a count is beside its error
FOLLOWS = {"gain", "efficiency", "return_loss", "power_step", "carrier_frequency", "am_depth_positive"}

Read = Counter[tuple[str, str, str | None, str | None]]  # quantity, figure, result, point


def _read(text: str, context: EntryContext) -> Read | None:
    """The figures and results of a text, each with its point inside; None where it is asked."""
    meant = understand(text, context)
    if meant.sets:
        return Counter()
    if meant.chosen is None:
        return None
    meaning = meant.meanings[meant.chosen]
    each = [(r, meaning.conditions_of(n).place) for n, r in enumerate(meaning.readings)]
    return Counter((r.quantity, "" if r.value is None else f"{r.value:.4g}", r.result, place) for r, place in each)


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_sure_alone_is_the_same_beside_another(kind: str) -> None:
    """In both orders, with a comma and without; a line that the program asks about claims nothing."""
    row, texts = KINDS[kind]
    context = ground_of_kind(kind, row)
    alone = {text: read for text in texts if (read := _read(text, context)) is not None}
    assert len(alone) >= len(texts) - 1
    pairs = list(permutations(alone, 2))
    sure = 0
    for (one, other), between in product(pairs, (" ", ", ")):
        together = _read(f"{one}{between}{other}", context)
        if together is None:
            continue
        sure += 1
        wanted = alone[one] + alone[other]
        assert not wanted - together, f"{one}{between}{other}: lost"
        more = {said for said in together - wanted if said[0] not in FOLLOWS}
        assert not more, f"{one}{between}{other}: {more}"
    assert sure >= 0.9 * 2 * len(pairs)
