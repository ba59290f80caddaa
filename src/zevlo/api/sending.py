"""Files that are sent: what the database keeps goes out piece by piece, many of them as one folder."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator, Mapping
from datetime import datetime
from urllib.parse import quote

from fastapi.responses import StreamingResponse
from sqlalchemy import Engine
from sqlalchemy.orm import Session

from zevlo.api.projects import NOT_KEPT
from zevlo.core.finals.naming import fit_for_file
from zevlo.store.blobs import CHUNK, blob_size, open_blob
from zevlo.store.database import transaction

AS_IT_IS = {"Content-Encoding": "identity"}
"""What is packed by its own format is not packed once more on its way."""


def attached(title: str, kind: str) -> str:
    """A file that is saved under its name, also where that has signs a header or a file's name cannot have (RFC
    6266)."""
    name = fit_for_file(title)
    plain = name.encode("ascii", "replace").decode().replace("?", "_")
    return f"attachment; filename=\"{plain}.{kind}\"; filename*=UTF-8''{quote(name, safe='')}.{kind}"


def sent(session: Session, engine: Engine, blob: str, media_type: str, headers: Mapping[str, str]) -> StreamingResponse:
    """A file that may be large. Raises KeyError where there is none."""
    headers_sent = {**AS_IT_IS, **headers, "Content-Length": str(blob_size(session, blob))}
    return StreamingResponse(_pieces(engine, blob), media_type=media_type, headers=headers_sent)


def sent_as_folder(engine: Engine, name: str, files: Mapping[str, str], made: datetime) -> StreamingResponse:
    """Files, their names and blobs, in one folder as ZIP, which is put together as it goes."""
    headers = {**AS_IT_IS, **NOT_KEPT, "Content-Disposition": attached(name, "zip")}
    return StreamingResponse(_packed(engine, name, files, made), media_type="application/zip", headers=headers)


def _pieces(engine: Engine, blob: str) -> Iterator[bytes]:
    # In a transaction of its own: that of the question has ended when this is asked for.
    with transaction(engine) as session:
        file = open_blob(session, blob)
    with file:
        while piece := file.read(CHUNK):
            yield piece


class _Outlet:
    """Where a ZIP is written that cannot be gone back in, until it is taken on."""

    def __init__(self) -> None:
        self._kept: list[bytes] = []

    def write(self, piece: bytes) -> int:
        self._kept.append(bytes(piece))
        return len(piece)

    def flush(self) -> None:
        """Nothing is held back."""

    def taken(self) -> bytes:
        """What was written since it was last asked for."""
        out = b"".join(self._kept)
        self._kept.clear()
        return out


def _packed(engine: Engine, name: str, files: Mapping[str, str], made: datetime) -> Iterator[bytes]:
    outlet = _Outlet()
    with zipfile.ZipFile(outlet, "w") as folder:  # type: ignore[call-overload]
        for own, blob in sorted(files.items()):
            entry = zipfile.ZipInfo(f"{name}/{own}", made.timetuple()[:6])
            # Pictures and PDF are packed already; drawings and tables are not.
            packed = own.endswith((".svg", ".dxf", ".csv"))
            entry.compress_type = zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED
            with folder.open(entry, "w", force_zip64=True) as into:
                for piece in _pieces(engine, blob):
                    into.write(piece)
                    yield outlet.taken()
    yield outlet.taken()
