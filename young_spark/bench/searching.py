"""What answers on the lines of this machine: the simulated bench, serial and USB."""

import contextlib
import json
import socket
from pathlib import Path

from young_spark.wire import SIMULATED_FILE, FoundLine

IQ_PORT = 1234  # where servers of such receivers listen until told otherwise
HEADER_BYTES, PATIENCE_S = 12, 0.5


def _streams(port: int) -> bool:
    """Whether what listens at a port of this machine sends the header of an IQ stream without being asked."""
    try:
        with socket.create_connection(("127.0.0.1", port), timeout=PATIENCE_S) as line:
            line.settimeout(PATIENCE_S)
            header = line.recv(HEADER_BYTES)
    except OSError:
        return False
    return len(header) == HEADER_BYTES and header[:4].isalnum()


def lines_of_this_machine(data: Path) -> tuple[FoundLine, ...]:
    """Every line found, and one in words where they cannot be searched. Takes seconds."""
    lines: list[FoundLine] = []
    with contextlib.suppress(OSError, ValueError):
        ports = json.loads((data / SIMULATED_FILE).read_text())
        lines += [
            FoundLine(address=f"simulated:{name}", words="simulated bench") for name in ports if name != "control"
        ]
    if _streams(IQ_PORT):
        lines.append(FoundLine(address=f"IQ::127.0.0.1::{IQ_PORT}", words="a receiver that streams IQ"))
    try:
        import pyvisa

        resources = pyvisa.ResourceManager("@py").list_resources()
        lines += [FoundLine(address=address, words="found on a line") for address in resources]
    except Exception as problem:  # a broken driver of one line must not hide the others
        lines.append(FoundLine(address="", words=f"lines cannot be searched: {problem}"[:160]))
    return tuple(lines)
