"""The door of the bench process: only who has the token is heard, its going is told, and nothing at all once the
server stops."""

import json
import queue
import socket
import time

import pytest

from young_spark import wire
from young_spark.server.live.door import Door
from young_spark.wire import DOOR_FILE


@pytest.fixture
def heard():
    return queue.Queue()


@pytest.fixture
def door(tmp_path, heard):
    door = Door(tmp_path, heard.put, lambda: heard.put("gone"))
    door.start()
    yield door
    door.close()


def come(folder, token=None):
    while not (folder / DOOR_FILE).exists():
        time.sleep(0.01)
    there = json.loads((folder / DOOR_FILE).read_text())
    peer = socket.create_connection(("127.0.0.1", there["port"]))
    peer.sendall(json.dumps({"kind": "hello", "token": token or there["token"]}).encode() + b"\n")
    return peer


STATE = wire.LineState(instrument="loft-meter", connected=True)


def test_who_has_the_token_is_heard_and_missed(door, heard, tmp_path):
    stranger = come(tmp_path, "guessed")
    assert heard.get(timeout=5) == "gone"
    with come(tmp_path) as peer:
        assert heard.get(timeout=5).kind == "hello"
        peer.sendall(wire.line_of(STATE))
        assert heard.get(timeout=5) == STATE
        door.order(wire.FindLines())
        assert wire.order_in(peer.makefile("rb").readline()) == wire.FindLines()
    assert heard.get(timeout=5) == "gone"
    stranger.close()


@pytest.mark.parametrize(
    ("line", "of", "why"),
    [
        (b'{"kind": "state", "instrument": "loft-meter"}', "state", "connected"),
        (b'{"kind": "weather"}', "weather", "does not match"),
        (b'{"kind": "values", "instrument": "m", "at": 1, "values": {"smell": 2}}', "values", "smell"),
        (b"[]", "", "should be an object"),
        (b"\xff{", "", "JSON"),
    ],
)
def test_what_is_no_message_is_logged_and_answered_and_the_next_one_is_heard(
    door, heard, tmp_path, caplog, line, of, why
):
    with come(tmp_path) as peer:
        assert heard.get(timeout=5).kind == "hello"
        peer.sendall(line + b"\n")
        answer = wire.order_in(peer.makefile("rb").readline())
        assert isinstance(answer, wire.NotUnderstoodMessage) and answer.of == of and why in answer.why
        peer.sendall(wire.line_of(STATE))
        assert heard.get(timeout=5) == STATE
    assert "was not understood" in caplog.text


def test_once_the_server_stops_nothing_is_heard(door, heard, tmp_path):
    with come(tmp_path) as peer:
        assert heard.get(timeout=5).kind == "hello"
        door.close()
        peer.sendall(wire.line_of(STATE))
    door.join(timeout=5)
    assert not door.is_alive() and heard.empty()
