"""The demonstration's first small pictures, which ship with it: nobody waits for them on a new machine.

Where the set, a shot or the way they are drawn has changed, they are made anew:

    .zevlo/venv/bin/python -m zevlo.demo.pictures
"""

from __future__ import annotations

import hashlib
from pathlib import Path

from sqlalchemy.orm import Session

from zevlo.core.scene.lit import light_set
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.demo.glb import pottery_glb
from zevlo.demo.shots import LIGHT, SHOTS
from zevlo.files.gltf import from_bytes
from zevlo.files.summary import in_world
from zevlo.lab.thumbnail import draw_thumbnail, picture_key, seen_of, thumbnail_key
from zevlo.store.tables import Project, Thumbnail

HERE = Path(__file__).parent
FOLDER = HERE / "pictures"
MODELLED_IN = ("glb.py", "pottery.py", "solids.py", "surfaces.py", "wares.py")


def picture_of(shot: Shot) -> Path:
    """Where the picture of a shot of the demonstration lies, known by all that it was made of: there is none where
    that has changed since."""
    script = hashlib.sha256(b"".join((HERE / name).read_bytes() for name in MODELLED_IN)).hexdigest()
    return FOLDER / f"{thumbnail_key(shot, script, LIGHT.model_dump_json())}.png"


def put_pictures(session: Session, project: Project) -> None:
    """Put the pictures that ship where the desk looks for those of a project that is new."""
    seen = seen_of(project)
    pictures = {picture_key(shot, *seen): picture_of(shot) for shot in SHOTS}
    for key, path in pictures.items():
        if path.exists():
            session.add(Thumbnail(key=key, png=path.read_bytes()))


def main() -> None:
    working = WorkingSet(in_world(from_bytes(pottery_glb())))
    FOLDER.mkdir(exist_ok=True)
    for old in FOLDER.glob("*.png"):
        old.unlink()
    for shot in SHOTS:
        shown = working.without(working.model.parts_at(shot.left_out)) if shot.left_out else working
        picture_of(shot).write_bytes(draw_thumbnail(shot, light_set(shown, LIGHT)))
    print(f"{len(list(FOLDER.glob('*.png')))} pictures of {len(SHOTS)} shots")


if __name__ == "__main__":
    main()
