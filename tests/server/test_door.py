"""The door of the bench process: only who has the token is heard, its going is told, and nothing at all once the server stops."""

import json
import queue
import socket
import time

import pytest

from young_spark.server.live.door import DOOR_FILE, Door


@pytest.fixture
def heard():
    return queue.Queue()


@pytest.fixture
def door(tmp_path, heard):
    door = Door(tmp_path, heard.put)
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


def test_who_has_the_token_is_heard_and_missed(door, heard, tmp_path):
    stranger = come(tmp_path, "guessed")
    assert heard.get(timeout=5) == {"kind": "gone"}
    with come(tmp_path) as peer:
        assert heard.get(timeout=5)["kind"] == "hello"
        peer.sendall(b'{"kind": "state"}\n')
        assert heard.get(timeout=5) == {"kind": "state"}
        door.order({"kind": "read"})
        assert json.loads(peer.makefile("rb").readline()) == {"kind": "read"}
    assert heard.get(timeout=5) == {"kind": "gone"}
    stranger.close()


def test_once_the_server_stops_nothing_is_heard(door, heard, tmp_path):
    with come(tmp_path) as peer:
        assert heard.get(timeout=5)["kind"] == "hello"
        door.close()
        peer.sendall(b'{"kind": "state"}\n')
    door.join(timeout=5)
    assert not door.is_alive() and heard.empty()
