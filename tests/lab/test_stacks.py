"""Stacks through a real worker: printed as a set, merged to one that is sharp all over, taken up again where it stopped."""

import io
import time
import uuid

import numpy as np
import pytest
from PIL import Image
from scipy.ndimage import gaussian_filter, maximum_filter, minimum_filter, sobel
from tests.conftest import set_of, slab
from tests.lab.test_worker import _print, _until

from zevlo.core.camera.from_shot import Framing
from zevlo.core.camera.picking import seen_in
from zevlo.core.finals.recipe import Recipe
from zevlo.core.instruments.focus.stacks import frames_of
from zevlo.core.light.setup import LightSetup, Sky, Sun
from zevlo.core.light.site import PlacedLight
from zevlo.core.scene.model.set_model import Material
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Back, Focus, Lens, Movements, Shot, Stand
from zevlo.lab.develop import read_exr
from zevlo.lab.merge import SHARP_PX, SPARED_PX, enough, merged, middles, mixed, rays_of, shares, softness
from zevlo.lab.renderer import MitsubaRenderer
from zevlo.lab.stacked import gathered, pictures_in, rays_each, taken_in
from zevlo.store.database import engine_for, transaction
from zevlo.store.tables import Print

EVEN = LightSetup(sun=Sun(illuminance_lx=0), sky=Sky(luminance_cd_m2=1000, color=(1, 1, 1)))
WHITE, BLACK = Material("White", (0.8, 0.8, 0.8), roughness=1.0), Material("Black", (0.03, 0.03, 0.03), roughness=1.0)
WHOLE = (0.0, 0.0, 1.0, 1.0)
SIZE = (240, 160)


def striped():
    """A floor of stripes that goes away from the camera, and two posts on it, one near and one far."""
    meshes, inks = [], []
    for n in range(40):
        meshes.append(slab((-0.5, 0.25 + 0.02 * n, -0.01), (0.5, 0.25 + 0.02 * (n + 1), 0.0)))
        inks.append(n % 2)
    for x, y in ((-0.05, 0.35), (0.06, 0.6)):
        for n in range(8):
            meshes.append(slab((x - 0.02, y, 0.012 * n), (x + 0.02, y + 0.03, 0.012 * (n + 1))))
            inks.append((n + 1) % 2)
    return set_of(*meshes, materials=tuple((WHITE, BLACK)[ink] for ink in inks))


CLOSE = Shot(
    stand=Stand(position=(0, 0, 0.22), aim=(0, 0.45, 0.02)), lens=Lens(focal_length_mm=50, near_m=0.01), back=Back(output_px=SIZE),
    focus=Focus(distance_m=0.5, f_number=2.8, blur_limit={"px": 1.0}, stack={"from_m": 0.3, "to_m": 1.0, "overlap": 0.2}),
)  # fmt: skip


@pytest.mark.parametrize("tilt", [0.0, 3.0])
def test_a_merged_stack_is_as_sharp_as_a_picture_that_is_sharp_all_over(tilt):
    shot = CLOSE.with_groups(movements=Movements(tilt_deg=tilt))
    renderer, frames = MitsubaRenderer(striped(), EVEN), frames_of(Framing(shot))

    def printed(one):
        *_, film = renderer.passes(one, SIZE, [32] * 2, seed=3)
        return film.light

    sharp = printed(shot.with_groups(focus=shot.focus.model_copy(update={"f_number": None, "stack": None})))
    per_m = renderer.per_metre(shot, rays_of(shot, SIZE, WHOLE)).reshape(SIZE[::-1])
    pictures = [printed(one) for one in frames]
    taken = shares(renderer.per_metre, frames, SIZE, WHOLE)
    assert taken.sum(axis=0) == pytest.approx(1.0, abs=1e-5)
    one = merged(pictures, taken)
    assert len(frames) >= 8

    def off(picture):
        return np.abs(picture - sharp).mean() / sharp.mean()

    assert off(one) < 0.07
    assert min(off(picture) for picture in pictures) > 2.5 * off(one)
    steep = [np.hypot(sobel(seen.mean(axis=2), 0), sobel(seen.mean(axis=2), 1)).sum() for seen in (one, sharp)]
    assert steep[0] / steep[1] == pytest.approx(1.0, abs=0.05)
    # Where nothing stands before something else no step is seen from one picture to the next.
    ends = maximum_filter(per_m, 3) > 1.05 * minimum_filter(per_m, 3)
    even = (maximum_filter(ends, 31) == 0) & (per_m > 0)
    assert even.mean() > 0.2
    assert np.abs(gaussian_filter((one - sharp).mean(axis=2), 3.0))[even].max() < 0.03 * sharp.max()


@pytest.mark.parametrize("trim", [0.0, 0.2])
def test_tile_by_tile_a_stack_is_merged_as_in_one_piece(trim):
    """Silhouettes, and what lies before other things far beyond a tile's edge, fall on tiles of every kind."""
    own = CLOSE.back.model_copy(update={"trim": CLOSE.back.trim.model_copy(update={"left": trim})})
    shot = CLOSE.with_groups(back=own)
    renderer, frames, size = MitsubaRenderer(striped(), EVEN), frames_of(Framing(shot)), (300, 200)
    whole = shares(renderer.per_metre, frames, size, WHOLE)
    apart = np.zeros_like(whole)
    for left in range(0, 300, 75):
        for top in range(0, 200, 50):
            tile = (left, top, left + 75, top + 50)
            soft = softness(renderer.per_metre, frames, size, WHOLE, tile)
            apart[:, top : top + 50, left : left + 75] = mixed(soft, tile, size)
    assert np.isclose(apart, whole, atol=1e-3).mean() > 0.999, "but for rays along an edge"


def test_a_tile_of_a_stack_is_what_its_pictures_are_merged_to():
    renderer, size = MitsubaRenderer(striped(), EVEN), SIZE
    recipe = Recipe(
        shot=CLOSE, stack=tuple(one.focus.distance_m for one in frames_of(Framing(CLOSE))), size_px=size, samples=64,
        revision=uuid.uuid4(), light=PlacedLight(light=EVEN),
    )  # fmt: skip
    tile = (40, 100, 200, 160)
    takes = taken_in(renderer, recipe, tile, WHOLE)
    assert 1 < len(takes) < len(recipe.stack)
    assert 1.0 < rays_each(takes, tile) < 0.9 * len(takes), "each only where it is taken"
    assert rays_each(takes, tile) <= pictures_in(takes, tile) < rays_each(takes, tile) + 1.0
    made = [gathered(renderer, recipe, takes, tile, WHOLE, 32, (4, first), 1000.0) for first in (0, 32)]
    assert np.array_equal(made[0].planes, gathered(renderer, recipe, takes, tile, WHOLE, 32, (4, 0), 1000.0).planes)
    assert not np.array_equal(made[0].planes, made[1].planes), "each pass has its own light"
    both, alone = made[0] + made[1], renderer.tile(CLOSE, size, WHOLE, 64, 1, 1000.0).planes[100:160, 40:200]
    sharp = CLOSE.with_groups(focus=CLOSE.focus.model_copy(update={"f_number": None, "stack": None}))
    wanted, again = (renderer.tile(sharp, SIZE, WHOLE, 64, seed, 1000.0).planes[100:160, 40:200] for seed in (2, 3))
    off = [np.abs(planes[..., :3] - wanted[..., :3]).mean() for planes in (both.planes, again, alone)]
    assert off[0] < 1.1 * off[1], "no farther off what is sharp all over than another making of that is"
    assert off[2] > 2.0 * off[1]
    # What grain is told is what two makings differ by: by the root of two for each alone, and again for their mean.
    differ = (made[0].planes[..., 9] - made[1].planes[..., 9]).astype(np.float64)
    variance = (made[0].planes[..., 10] - made[0].planes[..., 9].astype(np.float64) ** 2).mean() / 32
    assert np.mean(differ**2) / 2.0 == pytest.approx(variance, rel=0.15)


def test_of_pictures_as_good_as_each_other_one_is_made():
    """However the stack is made: no place is softer by more than is said."""
    rng = np.random.default_rng(5)
    for _ in range(50):
        depths = 6 * rng.random((1, 8, 9))
        soft = (np.abs(np.linspace(0, 6, 9)[:, None, None] - depths) * rng.uniform(0.01, 3)).astype(np.float32)
        few = soft[enough(soft)].min(axis=0)
        assert ((few <= soft.min(axis=0) + SPARED_PX + 1e-6) | (few <= SHARP_PX)).all()
    assert len(enough(np.full((12, 4, 4), 3.0, dtype=np.float32))) == 1


def test_depths_are_those_a_pick_finds_and_what_is_left_out_has_none():
    model = striped()
    shot = CLOSE.model_copy(update={"left_out": (model.ids[40],)})
    uv = middles((36, 24))
    per_m = MitsubaRenderer(model, EVEN, shot.left_out).per_metre(shot, rays_of(shot, (36, 24), WHOLE))
    found = [seen_in(Framing(shot, WorkingSet(model)), *at) for at in uv.tolist()]
    wanted = np.array([0.0 if one is None else 1.0 / one.depth_m for one in found])
    assert (wanted > 0).sum() > 500
    assert np.isclose(per_m, wanted, rtol=1e-3).mean() > 0.995, "but for rays along an edge"


def planned(client, shot, frames):
    """A small shot with a stack of so many pictures."""
    stop, wide = {"f_number": 2.0, "distance_m": 5.0, "blur_limit": {"mm": 0.02}}, {"output_px": [192, 108]}
    for far in np.geomspace(0.85, 60, 800):
        stack = {"from_m": 0.8, "to_m": float(far), "overlap": 0.2}
        found = Shot.model_validate(
            {**shot["shot"], "back": {**shot["shot"]["back"], **wide}, "focus": {**stop, "stack": stack}}
        )
        if len(frames_of(Framing(found))) == frames:
            break
    patch = {"back": wide, "focus": {**stop, "stack": stack}}
    changed = client.patch(f"/api/shots/{shot['id']}", json={"version": shot["version"], "patch": patch})
    assert changed.status_code == 200, changed.text
    return changed.json()


def order(client, shot):
    ordered = client.post(f"/api/shots/{shot['id']}/proof", json={"stacked": True})
    assert ordered.status_code == 201, ordered.text
    return ordered.json()


def test_a_stack_of_twelve_is_taken_up_again_where_its_worker_was_killed(client, served, shot):
    row = planned(client, shot, 12)
    ordered = order(client, row)
    assert (ordered["kind"], len(ordered["frames"])) == ("stack", 12)
    with served.worker_process():
        deadline = time.monotonic() + 240
        while sum(one["picture"] is not None for one in _print(client, shot, ordered["id"])["frames"]) < 3:
            assert time.monotonic() < deadline
            time.sleep(0.02)
    before = _print(client, shot, ordered["id"])
    made = [one["film"] for one in before["frames"] if one["film"]]
    assert before["state"] == "developing"
    assert 3 <= len(made) < 12
    with served.worker():
        done = _until(client, shot, ordered["id"], {"done", "failed"})
    assert done["state"] == "done", done["trouble"]
    assert [one["film"] for one in done["frames"]][: len(made)] == made, "what was there was not made again"
    assert all(one["picture"] and one["film"] for one in done["frames"])
    with transaction(engine_for(served.url)) as session:
        tries = [piece.tries for piece in session.get(Print, uuid.UUID(done["id"])).pieces]
    assert tries[: len(made)] == [1] * len(made)
    assert len(tries) == 13
    assert sum(tries) <= 14, "at most the one that was at work was begun again"
    assert Image.open(io.BytesIO(client.get(done["picture"]).content)).size == (192, 108)
    film = read_exr(client.get(done["film"]).content)
    first, last = (read_exr(client.get(done["frames"][n]["film"]).content) for n in (0, -1))
    assert not np.allclose(film, first, atol=1e-3)
    assert not np.allclose(first, last, atol=1e-3)
    named = client.get(done["frames"][2]["film"]).headers["content-disposition"]
    assert "frame-03" in named


def test_a_stack_goes_stale_by_its_plan_and_not_by_where_the_shot_is_focused(client, served, shot):
    row = planned(client, shot, 3)
    ordered = order(client, row)

    def change(**focus):
        nonlocal row
        row = client.patch(
            f"/api/shots/{row['id']}", json={"version": row["version"], "patch": {"focus": focus}}
        ).json()
        return _print(client, shot, ordered["id"])["stale"]

    assert change(distance_m=7.0) is None
    assert change(f_number=2.8) == "Changed since: focus"
    client.post(f"/api/projects/{shot['project']}/undo")
    row["version"] += 1
    assert _print(client, shot, ordered["id"])["stale"] is None
    assert change(stack={**row["shot"]["focus"]["stack"], "overlap": 0.5}) == "Changed since: the stack"


def test_a_stack_that_was_cancelled_goes_on_where_it_was(client, served, shot):
    row = planned(client, shot, 4)
    ordered = order(client, row)
    with served.worker_process():
        _until(client, shot, ordered["id"], {"developing"})
        deadline = time.monotonic() + 240
        while not _print(client, shot, ordered["id"])["frames"][0]["film"]:
            assert time.monotonic() < deadline
            time.sleep(0.02)
        cancelled = client.post(f"/api/prints/{ordered['id']}/cancel").json()
    assert cancelled["state"] == "cancelled"
    film = cancelled["frames"][0]["film"]
    again = client.post(f"/api/prints/{ordered['id']}/retry").json()
    assert again["state"] == "waiting"
    assert again["progress"] >= 0.19
    with served.worker():
        done = _until(client, shot, ordered["id"], {"done", "failed"})
    assert done["state"] == "done", done["trouble"]
    assert done["frames"][0]["film"] == film


def test_a_shot_without_a_stack_has_none_to_print(client, shot):
    refused = client.post(f"/api/shots/{shot['id']}/proof", json={"stacked": True})
    assert refused.status_code == 422
    assert "no stack" in refused.text
