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


@pytest.mark.parametrize(
    "first",
    [
        b"", b"\n", b"\xff\xfe\n", b"x" * 5000 + b"\n", b"[" * 900 + b"\n", b"GET / HTTP/1.1\r\n\r\n",
        '{"kind": "hello", "token": "sch\u00f6n"}\n'.encode(), b'{"kind": "hello", "token": 7}\n',
        b'{"kind": "values", "instrument": "m", "at": 1, "values": {}}\n', b'{"kind": "hello"}\n',
    ],
)  # fmt: skip
def test_whatever_comes_first_the_door_lets_the_bench_process_in(door, heard, tmp_path, first):
    """Silent lines included: `b""` says nothing and stays."""
    while not (tmp_path / DOOR_FILE).exists():
        time.sleep(0.01)
    port = json.loads((tmp_path / DOOR_FILE).read_text())["port"]
    strangers = [socket.create_connection(("127.0.0.1", port)) for _ in range(8)]
    for stranger in strangers:
        stranger.sendall(first)
    with come(tmp_path) as peer:
        assert heard.get(timeout=2).kind == "hello"  # no waiting for those who say nothing
        peer.sendall(wire.line_of(STATE))
        assert heard.get(timeout=5) == STATE
    assert heard.get(timeout=5) == "gone" and heard.empty()
    for stranger in strangers:
        stranger.close()


def test_a_bench_process_that_was_not_heard_to_go_gives_way_to_the_next(door, heard, tmp_path):
    with come(tmp_path):
        assert heard.get(timeout=30).kind == "hello"  # each is let in by a thread of its own: the older one first
        with come(tmp_path) as newer:
            assert heard.get(timeout=30).kind == "hello"
            newer.sendall(wire.line_of(STATE))
            assert heard.get(timeout=30) == STATE
            door.order(wire.FindLines())
            assert wire.order_in(newer.makefile("rb").readline()) == wire.FindLines()
    assert heard.get(timeout=5) == "gone" and heard.empty()


def test_once_the_server_stops_nothing_is_heard(door, heard, tmp_path):
    with come(tmp_path) as peer:
        assert heard.get(timeout=5).kind == "hello"
        door.close()
        peer.sendall(wire.line_of(STATE))
    door.join(timeout=5)
    assert not door.is_alive() and heard.empty()
