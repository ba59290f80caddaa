"""Loads the demonstration project: the set through the same door as any model, and its five shots."""

from __future__ import annotations

from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session

from zevlo.core.light.setup import LightSetup, Sky, Sun
from zevlo.core.shot import Back, Exposure, Focus, Guides, Lens, Movements, Shot, Stand
from zevlo.demo.glb import pottery_glb
from zevlo.demo.pottery import PLACES
from zevlo.files.door import Taken, take_in
from zevlo.files.scratch import scratch
from zevlo.store.database import transaction
from zevlo.store.projects import create_project
from zevlo.store.shots import add_shot
from zevlo.store.tables import Change, Project

FILE_NAME = "tide-tower-pottery.glb"
LIGHT = LightSetup(sun=Sun(height_deg=31.0, heading_deg=248.0), sky=Sky(luminance_cd_m2=6500.0))

SHOTS = (
    Shot(
        name="Tower from the slip",
        stand=Stand(position=(20.6, -15.2, -0.78), aim=(14.9, 2.9, -0.78)),
        lens=Lens(focal_length_mm=24.0),
        back=Back(width_mm=24.0, height_mm=36.0, output_px=(2160, 2700)),
        movements=Movements(rise_mm=7.2, image_circle_mm=60.0),
        focus=Focus(distance_m=18.0, f_number=11.0),
        exposure=Exposure(shutter_s=1 / 125, iso=100),
    ),
    Shot(
        name="Wheel room, looking NW",
        stand=Stand(position=(6.9, 0.55, 1.6), aim=(3.3, 4.3, 1.6)),
        lens=Lens(focal_length_mm=28.0),
        back=Back(output_px=(3840, 2160)),
        focus=Focus(distance_m=3.2, f_number=5.6),
        exposure=Exposure(shutter_s=1 / 30, iso=100),
    ),
    Shot(
        name="Shelf wall, square on",
        stand=Stand(position=(4.95, 0.9, 1.42), aim=(4.95, 5.8, 1.42)),
        lens=Lens(focal_length_mm=35.0),
        back=Back(output_px=(3840, 1600)),
        focus=Focus(distance_m=4.75, f_number=8.0),
        exposure=Exposure(shutter_s=1 / 13, iso=100),
    ),
    Shot(
        name="Teapot hero",
        stand=Stand(position=(4.42, 0.86, 4.42), aim=(4.08, 2.68, 4.035)),
        lens=Lens(focal_length_mm=85.0),
        back=Back(width_mm=36.0, height_mm=24.0, output_px=(2400, 2400)),
        focus=Focus(distance_m=1.86, f_number=8.0),
        exposure=Exposure(shutter_s=1 / 8, iso=100),
        guides=Guides(thirds=False, centre=True),
    ),
    Shot(
        name="Wheel by the window",
        stand=Stand(position=(3.3, 1.25, 1.25), aim=(0.95, 2.45, 0.82)),
        lens=Lens(focal_length_mm=50.0),
        back=Back(output_px=(3000, 2000)),
        focus=Focus(distance_m=2.66, f_number=2.0),
        exposure=Exposure(shutter_s=1 / 420, iso=100),
    ),
)


def load_demo(engine: Engine) -> bool:
    """Load the demo into a database where nothing was ever done; False where there is something already."""
    with transaction(engine) as session:
        if session.scalar(select(func.count()).select_from(Project)) or session.scalar(select(func.count(Change.seq))):
            return False
    with scratch("demo") as folder:
        source = folder / FILE_NAME
        source.write_bytes(pottery_glb())
        with take_in(source, FILE_NAME) as taken, transaction(engine) as session:
            _put(session, taken)
    return True


def _put(session: Session, taken: Taken) -> None:
    project = create_project(session, "Tide Tower Pottery", FILE_NAME, taken, LIGHT, PLACES)
    for shot in SHOTS:
        add_shot(session, project.id, shot, None, "New shot “{name}”")
    # What ships is the beginning: there is nothing of the artist's to take back yet.
    session.execute(Change.__table__.delete())
