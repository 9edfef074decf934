"""Where on its way to the aerial a ratio was read: at the set, or at the aerial's base."""

from dataclasses import replace

from young_spark.core.entry.facts.sentence import Sentence

REFLECTED = {"swr", "return_loss"}
BASE = "base"
OF_THE_SET = "power socket"  # what 'at the set' is of everything that feeds it
BASES = {"base", "at the base", "at base", "the base"}


def _may_be_ratios(s: Sentence) -> bool:
    """Whether bare figures are those of an aerial, which is fed by nothing: 'at the set ch1 3.2 ch20 2.9'."""
    ratios = all(i.fact.unit is None and not i.fact.signed and i.fact.decimals == 1 for i in s.items)
    return s.ground.wants in REFLECTED and ratios and not s.ground.wanted_at_all("supply_voltage")


def find_ends_of_a_feeder(s: Sentence) -> None:
    """'swr at the radio 3.1, at the base 2.9': no power socket and no transistor. At the set is where every SWR is
    read, and stays as words."""
    named = {s.facts[n].of for n in s.free("quantity")}
    if not named & REFLECTED and (named or not _may_be_ratios(s)):
        return
    at_the_set = [n for n in s.free("place") if s.facts[n].is_ == OF_THE_SET]
    for n in s.free("place", "item"):
        fact = s.facts[n]
        if fact.text in BASES or (at_the_set and fact.is_ == "aerial"):
            s.facts[n] = replace(fact, kind="place", of=BASE, is_=BASE, follows=False)
    s.take(*at_the_set)
    s.keep_words |= set(at_the_set)
