"""Sets as the lab needs them: out of the database, arranged."""

from __future__ import annotations

import uuid

from sqlalchemy import Engine

from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.model import SetModel
from zevlo.files.arrays import unpack_set
from zevlo.store.blobs import open_blob
from zevlo.store.database import transaction
from zevlo.store.tables import Revision


def model_of(engine: Engine, revision_id: uuid.UUID, arrangement: Arrangement) -> SetModel:
    """A set as it stands. Raises LookupError where it is not there any more."""
    with transaction(engine) as session:
        revision = session.get(Revision, revision_id)
        if revision is None:
            raise LookupError("the set is not there any more")
        with open_blob(session, revision.arrays) as file:
            return arranged(unpack_set(file), arrangement)
