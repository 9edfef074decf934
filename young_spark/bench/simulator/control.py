"""The control port: what hands do to the simulated unit, as a small page and as JSON."""

import asyncio
import json
from dataclasses import asdict, fields
from pathlib import Path

from young_spark.bench.simulator.insides import BUILDS, builds_of, faults_of, opened
from young_spark.bench.simulator.iq_receiver import FAULTS as IQ_FAULTS
from young_spark.bench.simulator.iq_receiver import IqLine
from young_spark.bench.simulator.lines import LINE_FAULTS, SimLine
from young_spark.bench.simulator.unit import FAULTS, HOT, KINDS, Hands, Unit

HERE = Path(__file__).resolve().parent
PAGES = {"/": ("control.html", "text/html; charset=utf-8"), "/control.js": ("control.js", "text/javascript")}
LARGEST_BODY = 10_000
POLICY = "default-src 'none'; script-src 'self'; style-src 'unsafe-inline'; connect-src 'self'; frame-ancestors 'none'"


class Control:
    """Turns requests into what hands do. Answers only on its own host name, so that no other page's script can reach
    it."""

    def __init__(self, unit: Unit, lines: dict[str, SimLine | IqLine]) -> None:
        self.unit, self.lines = unit, lines

    def state(self) -> dict[str, object]:
        """Everything there is to see."""
        return {
            "hands": asdict(self.unit.hands) | {"heat": round(self.unit.heat, 3)},
            "out": asdict(self.unit.output()),
            "kinds": list(KINDS),
            "faults": list(FAULTS),
            "modes": list(self.unit.kind.modes),
            "builds": {name: BUILDS[name].name for name in builds_of(self.unit.hands.kind)},
            "insides": ["whole", *faults_of(self.unit.hands.build)],
            "points": self._points(),
            "adjusters": {name: self.unit.hands.turned.get(name, 0.0) for name in self.unit.kind.adjusters},
            "own_meter_w": round(self.unit.own_meter_w, 2),
            "receiver": asdict(now) if (now := self.unit.heard) is not None else {},
            "amplifier": asdict(self.unit.driven) if self.unit.hands.kind == "amplifier" else {},
            "lines": {name: line.fault for name, line in self.lines.items()},
            "line_faults": list(dict.fromkeys((*LINE_FAULTS, *IQ_FAULTS))),
        }

    def _points(self) -> dict[str, str]:
        """What a hand would read inside of it."""
        hands = self.unit.hands
        return opened(hands.build, self.unit.gone_now, hot=self.unit.heat > HOT).points(keyed=hands.keyed)

    async def do(self, wanted: dict[str, object]) -> dict[str, object]:
        """Do what is wanted; raises ValueError for what hands cannot do."""
        wanted = dict(wanted)
        if wanted.pop("tap", False):
            self.unit.tap()
        if "warm" in wanted:
            self.unit.warm(_number(wanted.pop("warm")))
        if "turn" in wanted:
            self._turn(wanted.pop("turn"))
        if "line" in wanted:
            name = str(wanted.pop("line"))
            if name not in self.lines:
                raise ValueError(f"no line '{name}': {', '.join(self.lines)}")
            await self.lines[name].set_fault(str(wanted.pop("fault_of_line", "none")))
        known = {f.name: f.type for f in fields(Hands)}
        if unknown := set(wanted) - set(known):
            raise ValueError(f"hands cannot do '{', '.join(sorted(unknown))}'")
        if wanted:
            self.unit.set(**{name: _as(known[name], value) for name, value in wanted.items()})
        return self.state()

    def _turn(self, wanted: object) -> None:
        """So many turns of the driver's core, or of each adjuster that is named."""
        if not isinstance(wanted, dict):
            self.unit.set(drive_core=self.unit.hands.drive_core + _number(wanted))
            return
        for adjuster, by in wanted.items():
            self.unit.turn(str(adjuster), _number(by))

    async def serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """One HTTP request."""
        try:
            head = await asyncio.wait_for(reader.readuntil(b"\r\n\r\n"), 5)
            lines = head.decode("latin-1").split("\r\n")
            method, path, _ = lines[0].split(" ", 2)
            headers = {k.lower(): v.strip() for k, _, v in (line.partition(":") for line in lines[1:])}
            body = await reader.readexactly(min(int(headers.get("content-length", 0)), LARGEST_BODY))
            status, kind, answer = await self._answer(method, path, headers, body)
        except (ValueError, asyncio.IncompleteReadError, asyncio.LimitOverrunError, TimeoutError, ConnectionError):
            status, kind, answer = 400, "text/plain", b"not understood"
        writer.write(
            f"HTTP/1.1 {status} -\r\nContent-Type: {kind}\r\nContent-Length: {len(answer)}\r\nConnection: close\r\n"
            f"Content-Security-Policy: {POLICY}\r\nX-Content-Type-Options: nosniff\r\n\r\n".encode()
            + answer
        )
        try:
            await writer.drain()
            writer.close()
        except ConnectionError:
            pass

    async def _answer(self, method: str, path: str, headers: dict[str, str], body: bytes) -> tuple[int, str, bytes]:
        if headers.get("host", "").partition(":")[0] not in {"127.0.0.1", "localhost"}:
            return 403, "text/plain", b"this bench answers on 127.0.0.1"
        if method == "GET" and path in PAGES:
            name, kind = PAGES[path]
            return 200, kind, (HERE / name).read_bytes()
        if method == "GET" and path == "/state":
            return 200, "application/json", json.dumps(self.state()).encode()
        if method == "POST" and path == "/do" and headers.get("content-type", "").startswith("application/json"):
            try:
                wanted = json.loads(body or b"{}")
                if not isinstance(wanted, dict):
                    raise ValueError("an object is wanted")
                return 200, "application/json", json.dumps(await self.do(wanted)).encode()
            except ValueError as problem:
                return 400, "application/json", json.dumps({"problem": str(problem)}).encode()
        return 404, "text/plain", b"no such thing"


def _number(value: object) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise ValueError(f"a number is wanted, not {value!r}")
    return float(value)


def _as(kind: object, value: object) -> object:
    if kind in {bool, "bool"}:
        if not isinstance(value, bool):
            raise ValueError(f"true or false is wanted, not {value!r}")
        return value
    if kind in {int, "int"}:
        return int(_number(value))
    if kind in {float, "float"}:
        return _number(value)
    if value is None:
        return None
    if kind == float | None:
        return _number(value)
    if isinstance(value, dict):
        return {str(name): _number(turns) for name, turns in value.items()}
    return str(value)
