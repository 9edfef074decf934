"""The program as a process of its own, run as a person runs it, and a client to it."""

import contextlib
import json
import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
import urllib.request
import uuid
from collections.abc import Sequence
from http.cookiejar import CookieJar
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
FIRST_PERSON = {"YOUNG_SPARK_NAME": "Wren", "YOUNG_SPARK_PASSWORD": "a long way up"}


def spark(*words: str, data: Path, **environment: str) -> subprocess.CompletedProcess[str]:
    kept = {name: value for name, value in os.environ.items() if not name.startswith("YOUNG_SPARK")}
    command = [sys.executable, "-m", "young_spark.cli", *words, *(["--data", str(data)] if data else [])]
    return subprocess.run(
        command,
        cwd=ROOT,
        capture_output=True,
        text=True,
        env={**kept, **environment},
        stdin=subprocess.DEVNULL,
        timeout=240,
    )


def start(*words: str, data: Path) -> subprocess.Popen[bytes]:
    """A command that is not waited for."""
    command = [sys.executable, "-m", "young_spark.cli", *words, "--data", str(data)]
    return subprocess.Popen(command, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


class Served:
    """'serve' or 'demo' as a process, with a signed-in opener."""

    def __init__(self, command: str, data: Path, port: int, *, more: Sequence[str] = (), **environment: str) -> None:
        env = {**os.environ, "PYTHONPATH": str(ROOT), **environment}
        words = [sys.executable, "-m", "young_spark.cli", command, "--data", str(data), "--port", str(port), *more]
        handle, kept = tempfile.mkstemp(prefix="complaints")  # a pipe that nobody reads would stop it
        self.complaints = Path(kept)
        self.process = subprocess.Popen(words, cwd=ROOT, stdout=subprocess.PIPE, stderr=handle, text=True, env=env)
        os.close(handle)
        self.data = data
        self.address = self.entry = ""
        for line in self.process.stdout:
            if found := re.search(r"(https?://[\w.]+:\d+)(/\S*)", line):
                self.address, self.entry = found[1], found[0]
                break
        self.cookies = CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies))

    def get(self, path: str):
        with self.opener.open(self.address + path, timeout=120) as answer:
            return json.loads(answer.read() or "null")

    def post(self, path: str, body: object):
        token = next((c.value for c in self.cookies if c.name == "csrftoken"), "")
        request = urllib.request.Request(
            self.address + path, json.dumps(body).encode(), {"Content-Type": "application/json", "X-CSRFToken": token}
        )
        with self.opener.open(request, timeout=120) as answer:
            return json.loads(answer.read() or "null")

    def sign_in(self, name: str, password: str) -> None:
        """Sign in by password, as on a browser that is new."""
        self.opener.open(self.address + "/").close()  # the page brings the token for the forms
        self.post("/api/sign-in", {"name": name, "password": password})

    def picture(self, job: str, data: bytes, line: str | None = None) -> str:
        """Put a picture onto a job's slip; returns the id of its line."""
        line = line or str(uuid.uuid4())
        edge = uuid.uuid4().hex
        parts = [f'--{edge}\r\nContent-Disposition: form-data; name="id"\r\n\r\n{line}\r\n'.encode()]
        parts += [
            f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="a.jpg"\r\n\r\n'.encode(),
            data,
            f"\r\n--{edge}--\r\n".encode(),
        ]
        token = next((c.value for c in self.cookies if c.name == "csrftoken"), "")
        headers = {"Content-Type": f"multipart/form-data; boundary={edge}", "X-CSRFToken": token}
        request = urllib.request.Request(f"{self.address}/api/jobs/{job}/pictures", b"".join(parts), headers)
        self.opener.open(request, timeout=120).close()
        return line

    def complained(self) -> str:
        """What it said on its second channel so far."""
        return self.complaints.read_text(errors="replace")

    def __enter__(self) -> "Served":
        return self

    def __exit__(self, *failure: object) -> None:
        """Nothing is left running, whatever happened in between."""
        self.end()

    def end(self, how: signal.Signals = signal.SIGINT) -> None:
        """End it, and whatever it started; once is enough."""
        if self.process.poll() is None:
            self.process.send_signal(how)
            with contextlib.suppress(subprocess.TimeoutExpired):
                self.process.wait(timeout=60)
            self.process.kill()
            self.process.wait()
        self.process.stdout.close()
        self.complaints.unlink(missing_ok=True)


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]
