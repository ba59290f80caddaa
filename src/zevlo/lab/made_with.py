"""What pictures are made with, and whether this machine has the same: another version of any of it makes others."""

from __future__ import annotations

import ctypes
import functools
import hashlib
from collections.abc import Mapping
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

from sqlalchemy import Engine

import zevlo
from zevlo.lab.mitsuba_setup import find_llvm
from zevlo.store import machines
from zevlo.store.database import transaction
from zevlo.text import lab as say

PACKAGES = {"Mitsuba": "mitsuba", "Dr.Jit": "drjit", "Open Image Denoise": "pyoidn", "NumPy": "numpy", "SciPy": "scipy"}
"""What has a say in a picture, and the packages it comes in."""
OWN = ("core", "lab")
"""The parts of this program that have one."""


class TurnedAway(Exception):
    """This machine cannot work for a database; the message says why."""


@functools.cache
def versions() -> dict[str, str]:
    """The versions of all that has a say in a picture, as this machine has them."""
    found = {"Zevlo": f"{zevlo.__version__}, {_own_text()}"}
    for name, package in PACKAGES.items():
        try:
            found[name] = version(package)
        except PackageNotFoundError:
            found[name] = "none"
    found["LLVM"] = _llvm_version()
    return found


def _llvm_version() -> str:
    """As the library itself tells it."""
    path = find_llvm()
    if path is None:
        return "none"
    parts = [ctypes.c_uint() for _ in range(3)]
    ctypes.CDLL(path).LLVMGetVersion(*map(ctypes.byref, parts))
    return ".".join(str(part.value) for part in parts)


def _own_text() -> str:
    """What tells the text of this program from another."""
    root, digest = Path(zevlo.__file__).parent, hashlib.sha256()
    for path in sorted(one for part in OWN for one in (root / part).rglob("*.py")):
        digest.update(str(path.relative_to(root)).encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:12]


def others(here: Mapping[str, str], there: Mapping[str, str]) -> str | None:
    """Why a machine does not go with the others, in words; None where it does."""
    for name in sorted(here.keys() | there.keys()):
        own, wanted = here.get(name, "none"), there.get(name, "none")
        if own != wanted:
            return say.pictures_of_this_database(name, wanted, own)
    return None


def made_here(engine: Engine) -> None:
    """From now on pictures of a database are made as this machine makes them: it is the one that serves."""
    with transaction(engine) as session:
        machines.make_with(session, versions(), anew=True)


def require_same(engine: Engine) -> None:
    """Raises :class:`TurnedAway` where a database's pictures are made with something else. Where nothing is known of
    that yet, they are made as here."""
    with transaction(engine) as session:
        there = machines.make_with(session, versions(), anew=False)
    why = others(versions(), there)
    if why is not None:
        raise TurnedAway(why)
