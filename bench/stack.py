"""What a stack of twelve pictures costs beside twelve proofs, through the lab's own code and a database."""

from __future__ import annotations

import time
import uuid

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from serving import demo_database
from zevlo.core.camera.from_shot import Framing
from zevlo.core.instruments.focus.stacks import frames_of
from zevlo.core.shot import Shot
from zevlo.demo.shots import SHOTS
from zevlo.lab.proof import develop
from zevlo.store import prints
from zevlo.store.database import engine_for, transaction
from zevlo.store.tables import Print, ShotRow

Row = tuple[str, str, str, str, str]
PICTURES, SIZE = 12, (400, 300)


def _shot_of_twelve() -> Shot:
    """The demonstration's stack at another size, covering just so much that it takes twelve pictures."""
    found = next(shot for shot in SHOTS if shot.focus.stack is not None)
    assert found.focus.stack is not None
    limit = found.focus.blur_limit.model_copy(update={"px": 1.5 * SIZE[0] / found.back.output_px[0]})
    found = found.with_groups(back=found.back.model_copy(update={"output_px": SIZE}))
    for far in np.geomspace(1.05 * found.focus.stack.from_m, 20.0, 2000).tolist():
        stack = found.focus.stack.model_copy(update={"to_m": far})
        tried = found.with_groups(focus=found.focus.model_copy(update={"stack": stack, "blur_limit": limit}))
        if len(frames_of(Framing(tried))) == PICTURES:
            return tried
    raise SystemExit("no stack of twelve pictures was found")


def _made(session: Session, row: ShotRow, stacked: bool) -> uuid.UUID:
    return prints.order_proof(session, row.id, stacked=stacked).id


def stack() -> list[Row]:
    """Twelve proofs, and a stack of twelve with its merging."""
    with demo_database() as url:
        engine = engine_for(url)
        with transaction(engine) as session:
            row = session.scalars(select(ShotRow)).first()
            assert row is not None
            row.settings = _shot_of_twelve().as_json()
            proofs = [_made(session, row, False) for _ in range(PICTURES + 1)]
            stacks = [_made(session, row, True)]
        develop(engine, proofs.pop())  # compiles what there is to compile
        started = time.perf_counter()
        for key in proofs:
            develop(engine, key)
        single = time.perf_counter() - started
        started = time.perf_counter()
        for key in stacks:
            for number in range(PICTURES + 1):
                develop(engine, key, number)
        together = time.perf_counter() - started
        with transaction(engine) as session:
            states = set(session.scalars(select(Print.state)))
        engine.dispose()
    assert states == {"done"}, states
    return [
        (
            f"A stack of {PICTURES}",
            f"{together:.1f} s",
            f"{PICTURES} proofs {single:.1f} s",
            f"{together / single:.2f}",
            "under 1.1",
        )
    ]
