"""``./zevlo start``: database, migrations, demo, a lab worker and the server, watched until stopped.

What dies is brought back, with growing pauses; what dies again and again is given up in words. Children end with this
process, however it ends; the database is found again by the next start if it was left.
"""

from __future__ import annotations

import argparse
import ctypes
import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass

from zevlo.settings import ROOT, is_loopback
from zevlo.store import cluster, machines
from zevlo.store.cluster import Cluster, NoServer, Shared
from zevlo.store.database import engine_for
from zevlo.store.worker_role import let_workers_in

_PR_SET_PDEATHSIG = 1
FIRST_PORT = 8420
LOOKS_EVERY_S = 0.25
SLOW_AFTER_S, WAITS_FOR_S = 30.0, 300.0
"""A server that takes as long to come up is said to; one that takes as long as the second is given up. A busy machine
takes many times the six seconds a quiet one does, and that alone is no trouble."""
FIRST_PAUSE_S, LONGEST_PAUSE_S = 0.5, 30.0
MOST_FALLS = 8
"""Falls in a row after which a program is given up."""
TRIED_AGAIN_S = 300.0
"""A program the others can do without is given up alone, and tried again so much later."""
STANDS_AFTER_S = 60.0
"""A program that stayed up as long has its earlier falls forgotten."""


def say(text: str) -> None:
    print(f"zevlo: {text}", file=sys.stderr, flush=True)


def end_with_parent() -> None:
    """What a child does before it begins: it is told to stop when whoever started it has ended, however that was."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def _child(command: str, environment: dict[str, str]) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "zevlo.cli", command],
        env=environment,
        preexec_fn=end_with_parent,
        stdin=subprocess.DEVNULL,
        start_new_session=True,
    )


class GivenUp(RuntimeError):
    """A program that does not stay up; the message says which."""


@dataclass
class Watched:
    """A program that is to stay up: how to see that it lives, and how to bring it back. ``give_up``: of one the others
    can do without, what is told of it when it does not stay up; it is tried again now and then."""

    name: str
    lives: Callable[[], bool]
    revive: Callable[[], object]
    give_up: Callable[[str], None] | None = None
    falls: int = 0
    up_since: float = 0.0
    back_at: float | None = None

    def look(self, now: float) -> None:
        """See whether it lives; bring it back when its pause is over. Raises :class:`GivenUp` where the others cannot
        do without it."""
        if self.lives():
            if self.falls and now - self.up_since > STANDS_AFTER_S:
                self.falls = 0
            self.back_at = None
            return
        if self.back_at is None:
            self.falls += 1
            pause = min(FIRST_PAUSE_S * 2.0 ** min(self.falls - 1, MOST_FALLS), LONGEST_PAUSE_S)
            if self.falls > MOST_FALLS:
                pause = TRIED_AGAIN_S
                does_not = f"{self.name} does not stay up: it stopped {self.falls} times in a row"
                if self.give_up is None:
                    raise GivenUp(f"{does_not}. The lines above say why; everything that was written is kept.")
                self.give_up(f"{does_not}, and is tried again every {TRIED_AGAIN_S / 60.0:g} minutes")
            self.back_at = now + pause
            say(f"{self.name} stopped; it is started again in {pause:g} s")
        elif now >= self.back_at:
            self.back_at = None
            self.up_since = now
            try:
                self.revive()
            except (NoServer, OSError) as reason:
                say(f"{self.name}: {reason}")


def _port(host: str) -> int:
    """ZEVLO_PORT, or the first free one from 8420 on."""
    if "ZEVLO_PORT" in os.environ:
        return int(os.environ["ZEVLO_PORT"])
    for port in range(FIRST_PORT, FIRST_PORT + 50):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, port))
                return port
            except OSError:
                continue
    raise SystemExit("zevlo: no free port from 8420 to 8469; name one with --port")


def _await_answer(address: str, server: subprocess.Popen[bytes]) -> None:
    """Wait until the server answers, as long as it lives. Raises :class:`GivenUp` where it does not come up."""
    began, said = time.monotonic(), False
    while (ended := server.poll()) is None:
        try:
            with urllib.request.urlopen(f"{address}/api/offer", timeout=5):
                return
        except urllib.error.HTTPError:
            return
        except OSError:
            time.sleep(0.1)
        waited = time.monotonic() - began
        if waited > WAITS_FOR_S:
            raise GivenUp(f"the server does not answer at {address} after {waited:.0f} s, though it runs")
        if waited > SLOW_AFTER_S and not said:
            said = True
            say("the server is still coming up: this machine is busy")
    if ended < 0:
        raise GivenUp(f"the server did not come up: it was ended by {signal.Signals(-ended).name}")
    raise GivenUp(f"the server did not come up: it ended with {ended}; the lines above say why")


def _arguments(given: list[str]) -> argparse.Namespace:
    parser = argparse.ArgumentParser(
        prog="zevlo start",
        description="Runs Zevlo on this machine until Ctrl-C: PostgreSQL on loopback, the server, a lab worker.",
        epilog="ZEVLO_DATABASE_URL names a database elsewhere; ZEVLO_UPLOAD_LIMIT_MB the largest model taken in (512).",
    )
    parser.add_argument("--host", help="address to listen on (127.0.0.1: from this machine only)")
    parser.add_argument("--port", type=int, help="port to listen on (the first free one from 8420)")
    parser.add_argument("--name", action="append", default=[], help="another name the server is reached by; repeatable")
    parser.add_argument(
        "--workers-from", nargs="+", metavar="ADDRESS", default=[],
        help="let lab workers on other machines in: their addresses, or networks as 192.0.2.0/24",
    )  # fmt: skip
    parser.add_argument(
        "--without-sign-in", action="store_true",
        help="listen beyond this machine although whoever reaches the address may see and change everything",
    )  # fmt: skip
    return parser.parse_args(given)


def run(_: str, given: list[str]) -> int:
    """Run until Ctrl-C, or until something does not stay up."""
    return main(given)


def main(given: list[str] | None = None) -> int:
    """Run until Ctrl-C, or until something does not stay up."""
    chosen = _arguments(sys.argv[1:] if given is None else given)
    if chosen.host:
        os.environ["ZEVLO_HOST"] = chosen.host
    if chosen.port:
        os.environ["ZEVLO_PORT"] = str(chosen.port)
    if chosen.name:
        os.environ["ZEVLO_NAMES"] = " ".join([os.environ.get("ZEVLO_NAMES", ""), *chosen.name])
    host = os.environ.get("ZEVLO_HOST", "127.0.0.1")
    if not is_loopback(host):
        means = "there is no sign-in yet: whoever reaches that address may see and change every project"
        if not chosen.without_sign_in:
            say(f"not started on {host}: {means}. Add --without-sign-in if that is meant.")
            return 2
        say(f"listening on {host}: {means}")
    home = ROOT / ".zevlo"
    home.mkdir(exist_ok=True)
    lock = (home / "start.lock").open("a+")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.seek(0)
        say(f"already running here: {lock.read().strip() or 'still starting'}")
        return 1
    lock.truncate(0)
    signal.signal(signal.SIGTERM, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt()))
    own = None if "ZEVLO_DATABASE_URL" in os.environ else Cluster(cluster.home_for(ROOT))
    if own is None and chosen.workers_from:
        say("--workers-from is for a database of its own, and ZEVLO_DATABASE_URL names another: give workers that")
        return 2
    children: dict[str, subprocess.Popen[bytes]] = {}
    try:
        shared = Shared.with_workers(chosen.workers_from) if chosen.workers_from else None
        return _run(own, shared, children, lock, host)
    except KeyboardInterrupt:
        say("stopping")
        return 0
    except (NoServer, GivenUp) as reason:
        say(str(reason))
        return 1
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        for child in children.values():
            child.terminate()
        for child in children.values():
            try:
                child.wait(6)
            except subprocess.TimeoutExpired:
                child.kill()
        if own is not None:
            cluster.stop(own)


def _run(
    own: Cluster | None, shared: Shared | None, children: dict[str, subprocess.Popen[bytes]], lock: object, host: str
) -> int:
    environment = dict(os.environ)
    database_port = None
    if own is not None:
        others = "" if shared is None else f", and on {', '.join(shared.listens_at)} for workers"
        say(f"starting PostgreSQL on loopback{others}")
        database_port = cluster.start(own, shared=shared)
        environment["ZEVLO_DATABASE_URL"] = cluster.ensure_database(own, database_port)
    port = _port(host)
    environment["ZEVLO_PORT"] = str(port)
    say("bringing the database up to date (the first time also compiling and making the demo: half a minute)")
    prepared = subprocess.run([sys.executable, "-m", "zevlo.cli", "prepare"], env=environment, check=False)
    if prepared.returncode:
        say("the database could not be prepared; the lines above say why")
        return 1
    if own is not None and database_port is not None:
        password = None if shared is None else cluster.worker_password(own)
        let_workers_in(environment["ZEVLO_DATABASE_URL"], password)
    children["serve"] = _child("serve", environment)
    here = "127.0.0.1" if host in ("0.0.0.0", "") else f"[{host}]" if ":" in host else host
    address = f"http://{here}:{port}"
    _await_answer(address, children["serve"])
    children["worker"] = _child("worker", environment)
    lock.write(address)  # type: ignore[attr-defined]
    lock.flush()  # type: ignore[attr-defined]
    say("a lab worker is ready; Ctrl-C stops everything")
    print(f"\n  Zevlo is at {address}\n", flush=True)
    if own is not None and shared is not None and database_port is not None:
        print("  On each of the other machines, with this version of Zevlo:\n")
        for url in cluster.worker_urls(own, database_port, shared):
            print(f"    ./zevlo worker --database {url}")
        print("\n  Who knows that address may read every project; what goes over it is not encrypted.\n", flush=True)

    def again(command: str) -> Callable[[], object]:
        return lambda: children.update({command: _child(command, environment)})

    def without_lab(words: str) -> None:
        say(f"{words}. The lines above say why; until then no pictures are made")
        engine = engine_for(environment["ZEVLO_DATABASE_URL"])
        machines.say_turned_away(engine, f"{words}; what ./zevlo start printed last says why")
        engine.dispose()

    watched = [
        Watched("the server", lambda: children["serve"].poll() is None, again("serve")),
        Watched("the lab worker", lambda: children["worker"].poll() is None, again("worker"), without_lab),
    ]
    if own is not None:
        ours = own

        def database_again() -> object:
            return cluster.start(ours, port=database_port, shared=shared)

        watched.insert(0, Watched("PostgreSQL", lambda: cluster.lives(ours), database_again))
    while True:
        time.sleep(LOOKS_EVERY_S)
        for one in watched:
            one.look(time.monotonic())


if __name__ == "__main__":
    raise SystemExit(main())
