"""What 'b+' is in gear that has no high tension: its supply, and 'ip' is what that gives. No plate is read in it."""

import re

from young_spark.core.entry.facts.meaning import EntryContext

B_PLUS = r"(?<![\w+])(?:b\+|b plus|ht|hv)(?: rail| line)?"
VOLTS = re.compile(rf"{B_PLUS}(?= (?!at |on )(?:[a-z]+ ){{0,3}}\d{{1,2}}(?:\.\d+)?(?: ?v\b|$| [a-z]))")
AT_A_PLACE = re.compile(rf"{B_PLUS} (?=\d{{1,2}}(?:\.\d+)? ?v (?:at|on) )")
OHMS = re.compile(rf"{B_PLUS}(?= [\d.]+ ?[km]?(?:ohms?|r)? ⟪to)")
DRAWN = re.compile(r"\bip(?= [\d.]+ ?m?a\b)")
OF_VALVES = {"plate_voltage", "plate_current", "grid_current", "filament_voltage"}


def of_low_tension(plain: str, context: EntryContext) -> str:
    """'b+ 13.2v' as 'supply 13.2v', where neither the unit nor its plan knows of high tension; volts at a place stay
    that place's."""
    if context.high_voltage or not context.points or any(p.quantity in OF_VALVES for p in context.points):
        return plain
    plain = DRAWN.sub("supply current", plain)
    return VOLTS.sub("supply", AT_A_PLACE.sub("", OHMS.sub("supply rail", plain)))
