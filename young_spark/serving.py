"""Running it: the data folder and its lock, the web, and beside it the bench process and the simulated bench."""

import contextlib
import errno
import fcntl
import gc
import os
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

from young_spark import steady_clock
from young_spark.keeping import (
    DATABASE,
    WHAT_TO_DO,
    CannotKeep,
    finish_restore,
    gather,
    make_spare_room,
    mark_begun,
    must_be_sound,
    sweep,
    use_spare_room,
)
from young_spark.listening import ALONE, Listening

LOCK_FILE = "running.lock"
RESTART_S = 1.0
GREATEST_PORT = 65535
SWITCH_S = 5e-4  # a key's request comes back from each query without waiting 5 ms for every other request that computes


class CannotServe(Exception):
    """Why it cannot run, as one sentence."""


def use_folder(folder: Path) -> None:
    """Make sure of the data folder, its owner's alone with all that is in it. Raises CannotServe when it cannot be
    written; when its disk is full, that is said, and it is opened for reading in the room that was spared."""
    os.umask(0o077)
    probe = folder / "writable.partial"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        _private(folder)
        probe.write_bytes(b"0123456789" * 1000)
        probe.unlink()
    except OSError as problem:
        if problem.errno in {errno.ENOSPC, errno.EDQUOT} and (folder / DATABASE).exists():
            probe.unlink(missing_ok=True)
            use_spare_room(folder)
            print(
                f"spark: the disk of {folder} is full: it can be read, and nothing written until there is room",
                file=sys.stderr,
                flush=True,
            )
            return
        raise CannotServe(
            f"the data folder {folder} cannot be written: {(problem.strerror or str(problem)).lower()}"
        ) from problem


def _private(folder: Path) -> None:
    """Take from everybody else what an older version, or a copy, left them."""
    with contextlib.suppress(PermissionError):  # of another owner, who lets this one write: that is their affair
        for file in (folder, *folder.glob("*"), *folder.glob("*/*")):
            if file.stat().st_mode & 0o077:
                file.chmod(file.stat().st_mode & 0o700)


@contextmanager
def alone(folder: Path) -> Iterator[None]:
    """Hold the data folder's lock; the system lets go of it however this process ends. Raises CannotServe where
    another has it."""
    with open(folder / LOCK_FILE, "w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as problem:
            raise CannotServe(
                f"the data folder {folder} is in use by a Young Spark that runs; end that one first"
            ) from problem
        _finished(folder)  # a restore that was killed after everything was there
        sweep(folder)
        yield


def _finished(folder: Path) -> None:
    try:
        finish_restore(folder)
    except OSError as problem:
        raise CannotServe(
            f"a restore of {folder} cannot be finished: {(problem.strerror or str(problem)).lower()}"
        ) from problem


def migrate(folder: Path) -> None:
    """Bring the data file to this version. Raises CannotServe for one of a newer version, a locked or a damaged one;
    CannotKeep where data are missing."""
    must_be_sound(folder)
    import django
    from django.core.management import call_command
    from django.db import DatabaseError, connection
    from django.db.migrations.loader import MigrationLoader

    django.setup()
    try:
        loader = MigrationLoader(connection)
        if newer := sorted(set(loader.applied_migrations) - set(loader.disk_migrations)):
            app, name = newer[0]
            raise CannotServe(
                f"the data file was written by a newer Young Spark ({app} {name}); nothing was changed, "
                "use that version"
            )
        if loader.graph.leaf_nodes() and set(loader.graph.leaf_nodes()) - set(loader.applied_migrations):
            call_command("migrate", verbosity=0)
    except DatabaseError as problem:
        raise _cannot_be_used(folder, str(problem)) from problem
    mark_begun(folder)
    make_spare_room(folder)


def _cannot_be_used(folder: Path, said: str) -> Exception:
    if "malformed" in said or "not a database" in said:
        return CannotKeep(f"the data in {folder} are damaged: {said}. Nothing was changed. What to do: {WHAT_TO_DO}")
    words = "another program holds it locked" if "locked" in said else said
    return CannotServe(f"the data file cannot be used: {words}; nothing was changed")


def _free_port(address: str, wanted: int) -> int:
    """The wanted port of an address, or the next free one. Raises CannotServe, also where the address is not this
    machine's."""
    family = socket.AF_INET6 if ":" in address else socket.AF_INET
    for port in range(wanted, min(wanted + 50, GREATEST_PORT + 1)):
        with socket.socket(family) as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((address, port))
                return port
            except OSError as problem:
                if problem.errno == errno.EADDRNOTAVAIL:
                    raise CannotServe(f"{address} is no address of this machine") from problem
    raise CannotServe(f"no free port from {wanted} on")


class Beside(threading.Thread):
    """Keeps one process running beside the web. It ends when its input closes, so it never outlives this one."""

    def __init__(self, module: str, *arguments: str) -> None:
        super().__init__(name=module, daemon=True)
        self._command = [sys.executable, "-m", module, *arguments]
        self._process: subprocess.Popen[bytes] | None = None
        self._ended = threading.Event()

    def run(self) -> None:
        """Start it, and start it again when it dies."""
        while not self._ended.is_set():
            self._process = subprocess.Popen(
                self._command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, process_group=0
            )
            self._process.wait()
            if self._process.stdin is not None:
                self._process.stdin.close()
            self._ended.wait(RESTART_S)

    def end(self) -> None:
        """Let it end, and do not start it again."""
        self._ended.set()
        if self._process is not None and self._process.stdin is not None:
            with contextlib.suppress(OSError):
                self._process.stdin.close()
            with contextlib.suppress(subprocess.TimeoutExpired):
                self._process.wait(1)
            self._process.kill()


def _warm() -> None:
    """Load what the first page would otherwise wait for: the addresses, and the data files."""
    from django.urls import get_resolver

    from young_spark.core.entry import EntryContext, understand
    from young_spark.core.figure import instrument_classes
    from young_spark.core.gear import models
    from young_spark.core.job import dependencies
    from young_spark.core.judging import channel_plans, profiles
    from young_spark.core.live import definitions
    from young_spark.core.trace import chain_names, shipped_chain

    for load in (channel_plans, definitions, instrument_classes, profiles, models, dependencies):
        load()
    for name in chain_names():
        shipped_chain(name)
    understand("carrrier 1 w", EntryContext())  # a mistyped word is looked for in all of them
    get_resolver().url_patterns  # noqa: B018  reading it loads the API
    # none of it is ever garbage: looking through all of it again holds every request up for a tenth of a second
    gc.freeze()


def run_web(
    wanted_port: int, folder: Path, words: Callable[[int], str], *, simulated: bool, where: Listening = ALONE
) -> None:
    """Serve until Ctrl-C, or until the system ends it; everything is over within three seconds of it."""
    import uvicorn

    from young_spark.half_requests import TimedRequests
    from young_spark.server.bulletin import bulletin
    from young_spark.server.live.bench import LiveBench, install
    from young_spark.server.live.door import Door
    from young_spark.server.wholeness.idle import IdleCheck

    sys.setswitchinterval(SWITCH_S)
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))  # otherwise what is open is left as a kill leaves it
    port = _free_port(where.address, wanted_port)
    # threads of their own, for what was captured and for everything else that needs the disk; live values do not wait
    # for them
    threads = [ThreadPoolExecutor(1, thread_name_prefix=name) for name in ("captures", "bench")]
    bench = install(LiveBench(captures=threads[0].submit, others=threads[1].submit))
    door = Door(folder, bench.hear, bench.gone)
    bench.connect(door.order)
    bulletin.on_looking = bench.looking
    idle_check = IdleCheck(lambda: bench.clock.up)
    steady_clock.settle(folder)
    beside = [Beside("young_spark.bench.process", str(folder), str(steady_clock.anchor()))]
    if simulated:
        beside.insert(0, Beside("young_spark.bench.simulator.bench", str(folder / "simulated-bench.json")))

    class Server(uvicorn.Server):
        async def startup(self, sockets: list[socket.socket] | None = None) -> None:
            await super().startup(sockets)
            door.start()
            for process in beside:
                process.start()
            print(words(port), flush=True)
            idle_check.start()
            threading.Thread(target=_warm, name="warm up", daemon=True).start()

        async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
            bulletin.end()
            await super().shutdown(sockets)

    config = uvicorn.Config(
        "young_spark.server.config.asgi:application",
        host=where.address,
        port=port,
        http=TimedRequests,
        proxy_headers=bool(where.proxy),
        forwarded_allow_ips=where.proxy or None,
        ssl_certfile=where.certificate,
        ssl_keyfile=where.key,
        log_level="warning",
        timeout_graceful_shutdown=2,
    )
    try:
        Server(config).run()
    finally:
        idle_check.end()
        door.close()
        for process in beside:
            process.end()
        for pool in threads:
            pool.shutdown()
        gather(folder)
