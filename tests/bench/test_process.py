"""The bench process at the web's door: what it cannot read it logs and answers, and hears what comes after."""

import asyncio
import contextlib
import json

from young_spark import wire
from young_spark.bench.process import BenchProcess


def test_an_order_that_is_none_is_logged_and_answered_and_the_next_one_is_done(tmp_path, caplog):
    told: list[wire.FromBench] = []

    async def web(reader, writer):
        told.append(wire.told_in(await reader.readline()))
        for line in (b'{"kind": "attention", "level": "asleep"}\n', b"not even this\n"):
            writer.write(line)
            told.append(wire.told_in(await reader.readline()))
        writer.write(wire.line_of(wire.AskTrace(id="1", instrument="loft-meter", trace="Envelope")))
        told.append(wire.told_in(await reader.readline()))
        writer.close()

    async def meet():
        server = await asyncio.start_server(web, "127.0.0.1", 0)
        door = {"port": server.sockets[0].getsockname()[1], "token": "t"}
        (tmp_path / wire.DOOR_FILE).write_text(json.dumps(door))
        running = asyncio.create_task(BenchProcess(tmp_path).run())
        async with asyncio.timeout(20):
            while len(told) < 4:
                await asyncio.sleep(0.01)
        running.cancel()
        with contextlib.suppress(asyncio.CancelledError):
            await running
        server.close()

    asyncio.run(meet())
    assert told[0] == wire.Hello(token="t")
    assert [type(m) for m in told[1:3]] == [wire.NotUnderstoodMessage] * 2 and (told[1].of, told[2].of) == (
        "attention",
        "",
    )
    assert told[3] == wire.Traced(id="1", sentence="it does not talk")
    assert caplog.text.count("was not understood") == 2
