"""What was captured is held on disk until it is stored: over kills, and while the disk is full."""

import errno
import os
import uuid

import pytest

from young_spark import wire
from young_spark.bench.held import FILE, SLOTS, Held
from young_spark.core.figure import Conditions
from young_spark.core.live import Steady


def captured(at: float = 1.0) -> wire.CapturedMessage:
    place = wire.Place(job=uuid.uuid4(), item=uuid.uuid4(), by=1, conditions=Conditions(), row=None)
    return wire.CapturedMessage(
        id=uuid.uuid4(),
        place=place,
        row="power",
        quantity="carrier_power",
        values={"power": 3.8},
        steadiness=Steady(value=3.8, scatter=0.01, slope_per_s=0.0, seconds=0.4, count=5),
        instruments={"power": "wattmeter"},
        samples={"power": ((at, 3.8),)},
        at=at,
    )


def test_what_is_held_outlives_the_process_in_its_order_until_it_is_let_go(tmp_path):
    held = Held(tmp_path)
    messages = [captured(at) for at in (3.0, 1.0, 2.0)]
    assert all(held.keep(message) for message in messages)
    held.let_go(messages[2].id)
    again = Held(tmp_path)
    assert list(again.waiting.values()) == [messages[1], messages[0]]
    again.let_go(messages[0].id)
    again.let_go(messages[1].id)
    assert not Held(tmp_path).waiting


def test_it_is_held_though_nothing_more_fits_on_the_disk(tmp_path, monkeypatch):
    """Room was taken before: holding writes over it, and the file does not grow."""
    held = Held(tmp_path)
    size = (tmp_path / FILE).stat().st_size
    real = os.pwrite

    def full(handle, data, at):
        if at + len(data) > size:
            raise OSError(errno.ENOSPC, "No space left on device")
        return real(handle, data, at)

    monkeypatch.setattr(os, "pwrite", full)
    messages = [captured(n) for n in range(SLOTS + 1)]
    kept = [held.keep(message) for message in messages]
    assert kept == [True] * SLOTS + [False]  # the last one in memory only, and it says so
    assert len(held.waiting) == SLOTS + 1
    assert list(Held(tmp_path).waiting.values()) == messages[:-1]
    for done in messages[:2]:
        held.let_go(done.id)
    assert held.keep(captured(99)) and (tmp_path / FILE).stat().st_size == size


def test_without_any_room_it_is_held_in_memory_and_room_is_taken_later(tmp_path, monkeypatch):
    def full(handle, data, at):
        raise OSError(errno.ENOSPC, "No space left on device")

    with monkeypatch.context() as disk:
        disk.setattr(os, "pwrite", full)
        held = Held(tmp_path)
        assert not held.keep(captured(1)) and len(held.waiting) == 1
    assert held.keep(captured(2)) and len(Held(tmp_path).waiting) == 2


@pytest.mark.parametrize("damage", [b"\0" * 8, b"\xff" * 40, b"\0\0\0\x05abcdhello"])
def test_a_torn_slot_is_passed_over(tmp_path, damage):
    held = Held(tmp_path)
    first, second = captured(1), captured(2)
    held.keep(first)
    held.keep(second)
    with open(tmp_path / FILE, "r+b") as file:
        file.write(damage)
    assert list(Held(tmp_path).waiting.values()) == [second]
