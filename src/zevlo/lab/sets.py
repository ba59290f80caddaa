"""Sets as the lab needs them: out of the database, arranged. A machine elsewhere fetches each only once."""

from __future__ import annotations

import contextlib
import hashlib
import logging
import os
import tempfile
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.model.set_model import SetModel
from zevlo.files.arrays import unpack_set
from zevlo.store.blobs import open_blob
from zevlo.store.database import transaction
from zevlo.store.tables import Revision

MOST_KEPT_MB = 4096
KEPT_IN = "ZEVLO_CACHE"
"""Names the folder sets are kept in; without it the user's cache folder."""
_HERE = (None, "", "localhost", "127.0.0.1", "::1")
log = logging.getLogger("zevlo.lab")


@dataclass(frozen=True)
class SetsOnDisk:
    """Sets on this machine's disk, each by the SHA-256 of its bytes; those used longest ago go when there are too many
    bytes of them. Several workers may share it."""

    folder: Path
    most_bytes: int = MOST_KEPT_MB * 1024**2

    @contextlib.contextmanager
    def opened(self, session: Session, name: str) -> Iterator[IO[bytes]]:
        """A blob, from here where it is here unharmed, else out of the database and kept."""
        path = self.folder / name
        if not self._holds(path, name):
            self._fetch(session, path, name)
        os.utime(path)
        with path.open("rb") as file:
            yield file

    def _holds(self, path: Path, name: str) -> bool:
        try:
            with path.open("rb") as file:
                return hashlib.file_digest(file, "sha256").hexdigest() == name
        except FileNotFoundError:
            return False

    def _fetch(self, session: Session, path: Path, name: str) -> None:
        self.folder.mkdir(parents=True, exist_ok=True)
        with open_blob(session, name) as file, tempfile.NamedTemporaryFile(dir=self.folder, delete=False) as part:
            try:
                while chunk := file.read(1024**2):
                    part.write(chunk)
                part.flush()
                os.replace(part.name, path)
            except BaseException:
                Path(part.name).unlink(missing_ok=True)
                raise
        self._make_room(path)

    def _make_room(self, newest: Path) -> None:
        """Take away those used longest ago until the rest is no more than allowed; never the newest."""
        kept = []
        for path in self.folder.iterdir():
            with contextlib.suppress(FileNotFoundError):
                stat = path.stat()
                kept.append((stat.st_mtime, stat.st_size, path))
        total = sum(size for _, size, _ in kept)
        for _, size, path in sorted(kept):
            if total <= self.most_bytes:
                return
            if path != newest:
                path.unlink(missing_ok=True)
                total -= size


def cache_here() -> SetsOnDisk:
    """The cache of this machine."""
    usual = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "zevlo" / "sets"
    return SetsOnDisk(Path(os.environ.get(KEPT_IN) or usual))


def model_of(engine: Engine, revision_id: uuid.UUID, arrangement: Arrangement) -> SetModel:
    """A set as it stands. Raises LookupError where it is not there any more."""
    with transaction(engine) as session:
        revision = session.get(Revision, revision_id)
        if revision is None:
            raise LookupError("the set is not there any more")
        if engine.url.host not in _HERE:
            try:
                with cache_here().opened(session, revision.arrays) as file:
                    return arranged(unpack_set(file), arrangement)
            except OSError as reason:
                log.warning("sets cannot be kept on this machine: %s", reason)
        with open_blob(session, revision.arrays) as file:
            return arranged(unpack_set(file), arrangement)
