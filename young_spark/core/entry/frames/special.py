"""Frames of their own: figures that only together mean something, as the trade says them."""

from young_spark.core.entry.facts.said import Said
from young_spark.core.entry.facts.sentence import Sentence
from young_spark.core.entry.frames import (
    special_insulation,
    special_modulation,
    special_power,
    special_receiver,
    special_spectrum,
)

FRAMES = (
    *special_insulation.FRAMES, *special_receiver.FRAMES, *special_spectrum.FRAMES, *special_modulation.FRAMES,
    *special_power.FRAMES,
)  # fmt: skip


def find_special(s: Sentence) -> list[Said]:
    """The readings of every frame of this kind; what they use is taken."""
    made = [said for frame in FRAMES for said in frame(s)]
    s.items = [i for i in s.items if not i.used]
    return made
