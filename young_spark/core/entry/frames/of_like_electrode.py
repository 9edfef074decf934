"""Parts alike in a row, of which only the first says where on it: 'q1 c 810mv, q2 790mv' is of both collectors."""

import re
from collections.abc import Sequence
from dataclasses import replace

from young_spark.core.entry.facts.said import Said
from young_spark.core.entry.wording.places import ELECTRODES

_AT_AN_ELECTRODE = re.compile(rf"(?P<kind>[A-Z]{{1,2}})\d+ (?P<electrode>{'|'.join(sorted(set(ELECTRODES.values())))})")
_WHOLE_PART = re.compile(r"(?P<kind>[A-Z]{1,2})\d+")
ALIKE = 3.0  # times: what differs by more was rather read somewhere else on the part


def of_like_electrodes(said: Sequence[Said]) -> list[Said]:
    """The readings, those at a whole part at the electrode that was said of the part before."""
    found: list[Said] = []
    for one in said:
        electrode = _electrode_before(one, found[-1]) if found else None
        place = one.address.get("place")
        found.append(
            one if electrode is None else replace(one, address={**one.address, "place": f"{place} {electrode}"})
        )
    return found


def _electrode_before(one: Said, before: Said) -> str | None:
    there = _AT_AN_ELECTRODE.fullmatch(str(before.address.get("place")))
    here = _WHOLE_PART.fullmatch(str(one.address.get("place")))
    if there is None or here is None or there["kind"] != here["kind"] or one.quantity != before.quantity:
        return None
    if not one.value or not before.value or not 1 / ALIKE < one.value / before.value < ALIKE:
        return None
    return there["electrode"]
