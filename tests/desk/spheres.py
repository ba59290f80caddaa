"""A set of glowing balls in a dark room, as the finder paints it."""

from __future__ import annotations

import io
from hashlib import sha256

import httpx
import numpy as np
import trimesh
from PIL import Image
from tests.desk.hands import settled
from tests.files.test_import_model import glb_of

from zevlo.store.database import engine_for

SMALL = {"width": 1100, "height": 700}
"""A window small enough for pictures that take long to paint without a graphics card."""


def sphere(point, radius=0.06, glow=1.0):
    """A glowing ball at a place given Z up, in the file's Y-up coordinates."""
    x, y, z = point
    ball = trimesh.creation.icosphere(subdivisions=2, radius=radius).apply_translation([x, z, -y])
    material = trimesh.visual.material.PBRMaterial(
        baseColorFactor=[0, 0, 0, 255], emissiveFactor=[glow] * 3, metallicFactor=0.0
    )
    ball.visual = trimesh.visual.TextureVisuals(material=material, uv=np.zeros((len(ball.vertices), 2)))
    return ball


def dark_room():
    """A black box around it all, seen from within."""
    back = trimesh.creation.box(extents=[60, 60, 60])
    back.invert()
    back.visual = trimesh.visual.TextureVisuals(
        material=trimesh.visual.material.PBRMaterial(
            baseColorFactor=[0, 0, 0, 255], metallicFactor=0.0, roughnessFactor=1.0
        ),
        uv=np.zeros((8, 2)),
    )
    return back


def seen(page, clip):
    return np.asarray(Image.open(io.BytesIO(page.screenshot(clip=clip))).convert("RGB"), dtype=float)


def frame_on_screen(page):
    """Where the frame lies on the page, in CSS pixels."""
    finder = page.get_by_label("Finder, through the lens")
    left, top, width, height = map(float, finder.locator("svg").get_attribute("data-frame").split(","))
    box = finder.bounding_box()
    return {"x": box["x"] + left, "y": box["y"] + top, "width": width, "height": height}


def shown_spheres(page, served, brought_in, points, glow, change):
    """A set of spheres in a dark room, and a shot of it as ``change`` makes it: its settings, its frame, and that as
    it is painted."""
    with httpx.Client(base_url=served.address, timeout=60, limits=httpx.Limits(max_keepalive_connections=0)) as api:
        parts = glb_of(dark_room(), *[sphere(p, glow=glow) for p in points])
        called = f"spheres-{sha256(parts).hexdigest()[:16]}.glb"
        project = brought_in(engine_for(served.url), called, "Spheres", lambda at: at.write_bytes(parts))
        how = {"kind": "from_plan", "stand": [0, 0], "aim": [0.2, 5]}
        made = api.post(f"/api/projects/{project}/shots", json={"how": how}).json()
        shot = {**made["shot"], "guides": {"thirds": False, "centre": False}}
        shot["back"]["output_px"] = [1500, 1000]
        change(shot)
        answer = api.patch(f"/api/shots/{made['id']}", json={"version": made["version"], "patch": shot})
        assert answer.status_code == 200, answer.text
    page.goto(f"/{project}/frame/{made['id']}")
    page.wait_for_selector("[data-finder=ready]")
    page.wait_for_selector("canvas[data-drawn]")
    settled(page)
    clip = frame_on_screen(page)
    return shot, clip, seen(page, clip).mean(axis=2)
