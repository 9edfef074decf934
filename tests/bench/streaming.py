"""What live figures of a streaming receiver cost: how old they are, how far from what the unit sends, and the
processor. For './spark bench'."""

import json
import math
import statistics
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from young_spark.bench.iq_session import IqSession
from young_spark.bench.simulator.iq_receiver import REFERENCE_PPM
from young_spark.core.live import definitions

CHANNEL_19 = 27.185e6
STRETCHES = 60


def streaming(folder: Path) -> str:
    """Lines to be printed: the simulated bench runs as a process of its own, so that only the listening is counted."""
    ports_file = folder / "ports.json"
    bench = subprocess.Popen(
        [sys.executable, "-m", "young_spark.bench.simulator.bench", str(ports_file)],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE,
    )  # fmt: skip
    try:
        assert bench.stdout is not None
        ports = json.loads(bench.stdout.readline())
        return _heard(ports)
    finally:
        bench.communicate()


def _heard(ports: dict[str, int]) -> str:
    session = IqSession(f"IQ::127.0.0.1::{ports['iq-receiver']}", definitions()["plain-iq-stream"], REFERENCE_PPM)
    session.tune(CHANNEL_19, "am")
    session.open()
    _hands(ports, keyed=True, tone=True)
    ages, off_hz, off_depth = [], [], []
    began, used = time.monotonic(), time.process_time()
    while len(ages) < STRETCHES:
        _, at, values = session.values()
        age, out = time.monotonic() - at, _hands(ports)["out"]
        if values["frequency"] is not None and values["depth"]:
            ages.append(1e3 * age)
            off_hz.append(values["frequency"] - out["frequency_hz"])
            off_depth.append(values["depth"] - 100 * out["depth"])
    share = (time.process_time() - used) / (time.monotonic() - began)
    session.close()
    return (
        f"{STRETCHES} stretches of the simulated IQ stream: told {statistics.median(ages):.0f} ms after their end, the "
        f"slowest {max(ages):.0f} ms (aim 200); {share:.0%} of one core\n  frequency off by "
        f"{_rms(off_hz):.1f} Hz, depth by {_rms(off_depth):.2f} % (root mean square, drift of the unit included)"
    )


def _rms(values: list[float]) -> float:
    return math.sqrt(statistics.fmean(v * v for v in values))


def _hands(ports: dict[str, int], **what: object) -> dict[str, dict[str, float]]:
    """Tell the simulated unit, and hear how it stands."""
    request = urllib.request.Request(
        f"http://127.0.0.1:{ports['control']}/do", json.dumps(what).encode(), {"Content-Type": "application/json"}
    )
    with urllib.request.urlopen(request, timeout=5) as answer:
        told: dict[str, dict[str, float]] = json.load(answer)
    return told
