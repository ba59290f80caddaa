"""What leaves the house: documents of a hundred shots, and a thousand cameras in each kind of file."""

from __future__ import annotations

import io
import tempfile
import time
import uuid
from pathlib import Path

import numpy as np
from PIL import Image
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from serving import demo_database
from zevlo.core.documents.request import KINDS, Documents
from zevlo.core.exchange.camera_record import camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.demo.shots import SHOTS
from zevlo.files.cameras.formats import FORMATS, read_cameras, write_cameras
from zevlo.lab.documents import make_documents
from zevlo.store import documents
from zevlo.store.blobs import put_blob
from zevlo.store.database import engine_for, transaction
from zevlo.store.prints import PICTURE, order_proof
from zevlo.store.shots import add_shot
from zevlo.store.tables import Project

Row = tuple[str, str, str, str, str]
PAPER_SHOTS, CAMERAS = 100, 1000


def _proof_of(session: Session, row: uuid.UUID, number: int) -> None:
    entry = order_proof(session, row)
    width, height = entry.recipe["size_px"]
    grain = np.random.default_rng(number).integers(0, 255, (height, width, 3), dtype=np.uint8)
    out = io.BytesIO()
    Image.fromarray(grain // 4 + 60, "RGB").save(out, "PNG")
    entry.outputs = {PICTURE: {"blob": put_blob(session, out.getvalue(), "image/png"), "media_type": "image/png"}}
    entry.state = "done"


def _asked(engine: Engine, project: uuid.UUID, shots: list[uuid.UUID], **kinds: object) -> uuid.UUID:
    with transaction(engine) as session:
        return documents.ask_for(session, project, Documents(shots=shots, **kinds)).id  # type: ignore[arg-type]


def papers() -> list[Row]:
    """Documents of a hundred shots with their proofs, against the 10 s a contact sheet may take; and a thousand cameras
    written and read, against 3 s."""
    rows: list[Row] = []
    with demo_database() as url:
        engine = engine_for(url)
        with transaction(engine) as session:
            project = session.scalars(select(Project)).one().id
            made = []
            for n in range(PAPER_SHOTS):
                shot = SHOTS[n % len(SHOTS)].model_copy(update={"name": f"Shot {n}"})
                row = add_shot(session, project, shot, None, "New shot “{name}”")
                _proof_of(session, row.id, n)
                made.append(row.id)
        for kind in KINDS:
            # A worker has been at it before: what is compiled and read from disk at first is.
            make_documents(engine, _asked(engine, project, made[:1], **{kind: {}}))
            key = _asked(engine, project, made, **{kind: {}})
            begun = time.perf_counter()
            make_documents(engine, key)
            took = time.perf_counter() - begun
            with transaction(engine) as session:
                assert documents.documents_row(session, key).state == "done"
            name = f"Documents: {KINDS[kind].name} of {PAPER_SHOTS} shots"
            rows.append((name, f"{took:.1f} s", "10 s", f"{took / 10.0:.2f}", "under 1"))
    with tempfile.TemporaryDirectory() as folder:
        shots = [
            camera_record_of(SHOTS[n % len(SHOTS)].model_copy(update={"name": f"Shot {n}"}), str(uuid.uuid4()))
            for n in range(CAMERAS)
        ]
        for kind in FORMATS:
            path = Path(folder) / f"cameras{kind.endings[0]}"
            begun = time.perf_counter()
            write_cameras(shots, path, Receiver())
            out = time.perf_counter() - begun
            begun = time.perf_counter()
            read_cameras(path, Receiver())
            back = time.perf_counter() - begun
            name = f"{CAMERAS} cameras out, {kind.endings[0]}"
            rows.append((name, f"{out:.2f} s (in again {back:.2f} s)", "3 s", f"{out / 3.0:.2f}", "under 1"))
    return rows
