"""Where Zevlo keeps its things and how it listens; from the environment, with defaults for one desk."""

from __future__ import annotations

import ipaddress
import os
import socket
from dataclasses import dataclass
from pathlib import Path

from zevlo.files.limits import DEFAULT_SIZE_LIMIT

ROOT = Path(__file__).resolve().parents[2]


@dataclass(frozen=True)
class Settings:
    database_url: str
    host: str
    port: int
    upload_limit: int
    desk: Path
    demo_proofs: bool = True
    """Whether proofs of the demonstration are made when it is loaded."""
    names: frozenset[str] = frozenset()
    """What the server may be called by, beside loopback."""


def read_settings() -> Settings:
    """Settings from ZEVLO_* variables. Raises KeyError where no database is named."""
    host = os.environ.get("ZEVLO_HOST", "127.0.0.1")
    named = os.environ.get("ZEVLO_NAMES", "").replace(",", " ").split()
    return Settings(
        database_url=os.environ["ZEVLO_DATABASE_URL"],
        host=host,
        port=int(os.environ.get("ZEVLO_PORT", "8420")),
        upload_limit=int(os.environ.get("ZEVLO_UPLOAD_LIMIT_MB", DEFAULT_SIZE_LIMIT // 1024**2)) * 1024**2,
        desk=Path(os.environ.get("ZEVLO_DESK", ROOT / "desk" / "dist")),
        demo_proofs=os.environ.get("ZEVLO_DEMO_PROOFS", "1") != "0",
        names=frozenset(name.lower().strip("[]") for name in (*named, *own_names(host))),
    )


def is_loopback(host: str) -> bool:
    """Whether a server that listens on ``host`` is reached from this machine only."""
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return host.lower() == "localhost"


def own_names(host: str) -> list[str]:
    """What a server that listens on ``host`` is called by others: that address, or of all of them each, and the name
    of this machine."""
    if is_loopback(host):
        return []
    machine = socket.gethostname()
    if host not in ("0.0.0.0", "::", ""):
        return [host, machine]
    found = {machine}
    for name in (machine, socket.getfqdn()):
        try:
            found |= {str(entry[4][0]).partition("%")[0] for entry in socket.getaddrinfo(name, None)}
        except OSError:
            continue
    for family, far in ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1")):
        # The address this machine would send from; nothing is sent.
        with socket.socket(family, socket.SOCK_DGRAM) as probe:
            try:
                probe.connect((far, 9))
                found.add(str(probe.getsockname()[0]))
            except OSError:
                continue
    return sorted(found)
