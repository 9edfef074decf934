"""The chain as a graph, what each fault would show, and from evidence to suspicion to the next best probe."""

from young_spark.core.trace.chain import Chain, Probe
from young_spark.core.trace.chain_file import chain_from, chain_names, shipped_chain
from young_spark.core.trace.chain_tables import chain_tables
from young_spark.core.trace.findings import SlipLine, answers_of_words
from young_spark.core.trace.next_probe import STRATEGIES, Advice, Strategy, advised, expect, swap_instead
from young_spark.core.trace.suspicion import UNKNOWN, Contradiction, Engine, Seen, Weights, entropy_bits, seen_as
from young_spark.core.trace.words import likely, to_clear, what_it_did

__all__ = [
    "STRATEGIES",
    "UNKNOWN",
    "Advice",
    "Chain",
    "Contradiction",
    "Engine",
    "Probe",
    "Seen",
    "SlipLine",
    "Strategy",
    "Weights",
    "advised",
    "answers_of_words",
    "chain_from",
    "chain_names",
    "chain_tables",
    "drawing",
    "entropy_bits",
    "evidence",
    "expect",
    "findings",
    "hidden",
    "likely",
    "looks",
    "refining",
    "seen_as",
    "shipped_chain",
    "standing",
    "swap_instead",
    "to_clear",
    "what_it_did",
    "worth",
]
