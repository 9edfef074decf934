"""Where on its way to the aerial a ratio was read: at the set, or at the aerial's base."""

from dataclasses import replace

from young_spark.core.entry.sentence import Sentence

REFLECTED = {"swr", "return_loss"}
BASE = "base"
OF_THE_SET = "power socket"  # what 'at the set' is of everything that feeds it
BASES = {"base", "at the base", "at base", "the base"}


def find_ends_of_a_feeder(s: Sentence) -> None:
    """'swr at the radio 3.1, at the base 2.9': no power socket and no transistor. At the set is where every SWR is
    read, and stays as words."""
    if {s.facts[n].of for n in s.free("quantity")} & REFLECTED == set():
        return
    at_the_set = [n for n in s.free("place") if s.facts[n].is_ == OF_THE_SET]
    for n in s.free("place", "item"):
        fact = s.facts[n]
        if fact.text in BASES or (at_the_set and fact.is_ == "aerial"):
            s.facts[n] = replace(fact, kind="place", of=BASE, is_=BASE, follows=False)
    s.take(*at_the_set)
    s.keep_words |= set(at_the_set)
