"""The command line as a person meets it: first start, help, wrong words, a server that is killed at any moment."""

import json
import os
import random
import re
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
import uuid
from http.cookiejar import CookieJar
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]


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
        timeout=60,
    )


class Served:
    """'serve' or 'demo' as a process, with a signed-in opener."""

    def __init__(self, command: str, data: Path, port: int, **environment: str) -> None:
        env = {**os.environ, "PYTHONPATH": str(ROOT), **environment}
        words = [sys.executable, "-m", "young_spark.cli", command, "--data", str(data), "--port", str(port)]
        self.process = subprocess.Popen(
            words, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, env=env
        )
        self.address = self.entry = ""
        for line in self.process.stdout:
            if found := re.search(r"(http://[\d.:]+)(/\S*)", line):
                self.address, self.entry = found[1], found[0]
                break
        self.cookies = CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies))

    def get(self, path: str):
        with self.opener.open(self.address + path, timeout=5) as answer:
            return json.loads(answer.read() or "null")

    def post(self, path: str, body: object):
        token = next((c.value for c in self.cookies if c.name == "csrftoken"), "")
        request = urllib.request.Request(
            self.address + path, json.dumps(body).encode(), {"Content-Type": "application/json", "X-CSRFToken": token}
        )
        with self.opener.open(request, timeout=5) as answer:
            return json.loads(answer.read() or "null")

    def end(self, how: signal.Signals = signal.SIGINT) -> None:
        self.process.send_signal(how)
        self.process.wait(timeout=10)
        self.process.stdout.close()
        self.process.stderr.close()


def free_port() -> int:
    import socket

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def test_help_and_did_you_mean(tmp_path):
    assert "Start with the demo workshop" in spark("--help", data=None).stdout
    assert "127.0.0.1" in spark("serve", "--help", data=None).stdout
    wrong = spark("demmo", data=None)
    assert wrong.returncode == 2 and "Did you mean 'demo'" in wrong.stderr


@pytest.mark.parametrize(
    ("name", "password", "words"),
    [("", "", "nobody is known yet"), ("Wren", "short", "too short"), ("Wren", "password", "too common")],
)
def test_the_first_start_refuses_what_will_not_do_in_one_sentence(tmp_path, name, password, words):
    refused = spark("serve", data=tmp_path / "shop", YOUNG_SPARK_NAME=name, YOUNG_SPARK_PASSWORD=password)
    assert refused.returncode == 2 and words in refused.stderr and "Traceback" not in refused.stderr


def test_the_first_person_comes_from_the_environment_signs_in_and_adds_another(tmp_path):
    shop = tmp_path / "shop"
    served = Served("serve", shop, free_port(), YOUNG_SPARK_NAME="Wren", YOUNG_SPARK_PASSWORD="a long way up")
    served.opener.open(served.address + "/api/me").close()
    with served.opener.open(served.address + "/"):
        pass  # the page brings the token for the forms
    me = served.post("/api/sign-in", {"name": "Wren", "password": "a long way up"})
    assert me["person"]["role"] == "technician" and served.get("/api/shelf")["total"] == 0
    assert (shop / "secret-key").stat().st_mode & 0o077 == 0
    added = spark("person", "Moss", "--role", "reader", data=shop, YOUNG_SPARK_PASSWORD="another long way")
    assert added.returncode == 0 and {p["name"] for p in served.get("/api/me")["people"]} == {"Wren", "Moss"}
    assert "known already" in spark("person", "Moss", data=shop, YOUNG_SPARK_PASSWORD="x").stderr
    began = time.monotonic()
    served.end()
    assert time.monotonic() - began < 3


def test_nothing_acknowledged_is_lost_and_nothing_is_doubled_when_the_server_is_killed(tmp_path):
    """Lines are written while the server is killed at random moments; unanswered ones are sent again with the same id."""
    dice, port, data = random.Random(3), free_port(), tmp_path / "demo"
    served = Served("demo", data, port)
    served.opener.open(served.entry).close()
    job = served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Tarnbeck M27, kill: weak"})["id"]
    acknowledged: list[str] = []
    for _ in range(5):
        killer = threading.Timer(dice.uniform(0.05, 0.6), served.end, [signal.SIGKILL])
        killer.start()
        unanswered = None
        for n in range(200):
            line = {"id": str(uuid.uuid4()), "text": f"{1 + n / 100:.2f}w", "job": job}
            try:
                served.post("/api/lines", line)
                acknowledged.append(line["id"])
            except (urllib.error.URLError, ConnectionError, OSError, ValueError):
                unanswered = line
                break
        killer.join()
        cookies = served.cookies
        served = Served("demo", data, port)
        served.cookies = cookies
        served.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(cookies))
        if unanswered is not None:
            served.post("/api/lines", unanswered)
            served.post("/api/lines", unanswered)
            acknowledged.append(unanswered["id"])
    lines = [line for line in served.get(f"/api/jobs/{job}")["lines"] if line["kind"] == "reading"]
    served.end()
    assert [line["id"] for line in lines] == acknowledged and len(acknowledged) > 5
    assert all(len(line["readings"]) == 1 for line in lines)
    assert [line["number"] for line in lines] == list(range(lines[0]["number"], lines[0]["number"] + len(lines)))
