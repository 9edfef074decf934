"""What hands do to the simulated unit, from the command line."""

import json
import urllib.error
import urllib.request
from pathlib import Path


class CannotReach(Exception):
    """Why nothing was done, as one sentence."""


def do(ports: Path, what: list[str]) -> str:
    """Do what words like `keyed=true` say, and tell how the unit then stands. Raises CannotReach."""
    wanted: dict[str, object] = {}
    for word in what:
        name, _, value = word.partition("=")
        try:
            wanted[name] = json.loads(value)
        except ValueError:
            wanted[name] = value
    try:
        port = json.loads(ports.read_text())["control"]
        request = urllib.request.Request(
            f"http://127.0.0.1:{port}/do", json.dumps(wanted).encode(), {"Content-Type": "application/json"}
        )
        state = json.loads(urllib.request.urlopen(request, timeout=5).read())
    except urllib.error.HTTPError as refusal:
        raise CannotReach(json.loads(refusal.read())["problem"]) from refusal
    except (OSError, ValueError, KeyError) as problem:
        raise CannotReach("no simulated bench runs on that data folder; './spark demo' starts one") from problem
    return "\n".join(f"{name}: {value}" for name, value in {**state["hands"], **state["out"]}.items())
