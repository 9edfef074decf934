"""What answers on the lines of this machine: the simulated bench, serial and USB."""

import contextlib
import json
from pathlib import Path

from young_spark.wire import SIMULATED_FILE, FoundLine


def lines_of_this_machine(data: Path) -> tuple[FoundLine, ...]:
    """Every line found, and one in words where they cannot be searched. Takes seconds."""
    lines: list[FoundLine] = []
    with contextlib.suppress(OSError, ValueError):
        ports = json.loads((data / SIMULATED_FILE).read_text())
        lines += [
            FoundLine(address=f"simulated:{name}", words="simulated bench") for name in ports if name != "control"
        ]
    try:
        import pyvisa

        resources = pyvisa.ResourceManager("@py").list_resources()
        lines += [FoundLine(address=address, words="found on a line") for address in resources]
    except Exception as problem:  # a broken driver of one line must not hide the others
        lines.append(FoundLine(address="", words=f"lines cannot be searched: {problem}"[:160]))
    return tuple(lines)
