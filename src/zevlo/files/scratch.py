"""Folders for files on their way: gone when their work is done, and cleared at the next start if it was killed."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

_PREFIX = "zevlo-"


@contextmanager
def scratch(what: str) -> Iterator[Path]:
    """A folder of this process, named for what it is for."""
    with tempfile.TemporaryDirectory(prefix=f"{_PREFIX}{what}-{os.getpid()}-", ignore_cleanup_errors=True) as folder:
        yield Path(folder)


def clear_leftovers() -> int:
    """Take away the folders of processes that are not there any more; how many there were."""
    cleared = 0
    for folder in Path(tempfile.gettempdir()).glob(f"{_PREFIX}*-*-*"):
        owner = folder.name.removeprefix(_PREFIX).split("-")[-2]
        if owner.isdecimal() and folder.is_dir() and not _lives(int(owner)):
            shutil.rmtree(folder, ignore_errors=True)
            cleared += 1
    return cleared


def _lives(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
