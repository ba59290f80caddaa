"""The open format: its example, its refusals, its round trip."""

import json
import subprocess
import sys
from contextlib import suppress
from typing import Annotated

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import Field, TypeAdapter, ValidationError
from tests.core.kinds import SHOT_GESTURES, VIEW_GESTURES, gestures_of, kind_of

from zevlo.core.framing.solve import solve
from zevlo.core.shot import Back, Shot

EXAMPLE = {
    "schema": "zevlo.shot/2",
    "name": "Wheel room, looking NW",
    "stand": {"position": [6.9, 0.55, 1.6], "aim": [3.3, 4.3, 1.6], "roll_deg": 0.0},
    "lens": {"focal_length_mm": 28.0, "projection": "perspective", "focus_breathing": False, "near_m": 0.05,
             "far_m": None, "scale_m": None},
    "back": {"width_mm": 36.0, "height_mm": 24.0, "fit": "inside", "output_px": [3840, 2160], "enlarge": 1.0,
             "trim": {"left": 0, "right": 0, "top": 0, "bottom": 0}},
    "movements": {"rise_mm": 0.0, "cross_mm": 0.0, "tilt_deg": 0.0, "swing_deg": 0.0, "image_circle_mm": None},
    "focus": {"distance_m": 3.2, "f_number": 5.6, "blur_limit": {"mm": 0.03}, "blades": 0,
              "blade_rotation_deg": 0, "rim_weight": 0},
    "exposure": {"shutter_s": 0.025, "iso": 200, "white_k": 6504, "tint": 0.0},
}  # fmt: skip


def test_sheet_of_the_example():
    sheet = solve(Shot.model_validate(EXAMPLE)).as_json()
    assert sheet["schema"] == "zevlo.sheet/2"
    assert sheet["pose"]["heading_deg"] == pytest.approx(316.17, abs=5e-3)
    assert sheet["pose"]["pitch_deg"] == 0.0
    assert len(sheet["pose"]["view"]) == len(sheet["lens"]["projection"]) == 16
    assert sheet["lens"]["angle_deg"] == pytest.approx({"horizontal": 65.47, "vertical": 39.76, "diagonal": 72.83}, abs=7e-3)  # fmt: skip
    assert sheet["lens"]["equivalent_focal_length_mm"] == pytest.approx(29.33, abs=5e-3)
    assert sheet["lens"]["window_mm"] == {"left": -18.0, "right": 18.0, "bottom": -10.125, "top": 10.125}
    assert sheet["back"]["fitted_mm"] == [36.0, 20.25]
    assert sheet["back"]["pixel_mm"] == 0.009375
    assert sheet["movements"]["circle_used_mm"] == pytest.approx(41.3, abs=5e-3)
    assert sheet["focus"]["hyperfocal_m"] == pytest.approx(4.69, abs=5e-3)
    assert sheet["focus"]["sharp_from_m"] == pytest.approx(1.905, abs=5e-4)
    assert sheet["focus"]["sharp_to_m"] == pytest.approx(9.99, abs=5e-3)
    assert sheet["focus"]["diffraction_mm"] == pytest.approx(0.0075, abs=1e-4)
    assert sheet["exposure"]["ev100"] == pytest.approx(9.29, abs=5e-3)
    assert sheet["exposure"]["white_cd_m2"] == pytest.approx(752.6, abs=0.06)
    assert set(sheet["drawings"]) == {"plan", "section", "cap"}


def test_defaults_and_round_trip():
    shot = Shot.model_validate(EXAMPLE)
    assert Shot.model_validate(shot.as_json()) == shot
    assert set(EXAMPLE) <= set(shot.as_json())
    assert Shot.model_validate({}).as_json()["focus"]["blur_limit"]["px"] == 1.5
    assert solve(Shot.model_validate({"focus": {"f_number": None}})).focus.sharp_to_m is None


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"lense": {}}, "lense"),
        ({"lens": {"focal_length_mm": "wide"}}, "lens.focal_length_mm"),
        ({"lens": {"focal_length_mm": -4}}, "lens.focal_length_mm"),
        ({"lens": {"projection": "cubist"}}, "lens.projection"),
        ({"stand": {"position": [0, 0, 1], "aim": [0, 0, 1]}}, "aim must be"),
        ({"stand": {"position": [0, 0, float("nan")]}}, "stand.position"),
        ({"stand": {"position": [0, 0, 1e300]}}, "stand.position"),
        ({"focus": {"distance_m": 0.02}}, "focuses no closer than"),
        ({"focus": {"blur_limit": {"px": 1, "mm": 1}}}, "exactly one"),
        ({"focus": {"blur_limit": {"print_width_mm": 100}}}, "belong together"),
        ({"back": {"trim": {"left": 0.6, "right": 0.5}}}, "opposite sides"),
        ({"back": {"output_px": [0, 100]}}, "back.output_px"),
        ({"movements": {"tilt_deg": 46}}, "movements.tilt_deg"),
        ({"movements": {"tilt_deg": 5}, "lens": {"projection": "cylindrical"}}, "belong to perspective"),
        ({"lens": {"near_m": 2, "far_m": 1}}, "far_m must be greater"),
        ({"schema": "zevlo.shot/9"}, "schema"),
    ],
)
def test_refusals_name_the_key(change, words):
    from zevlo.core.plain_words import in_words

    with pytest.raises(ValidationError) as refused:
        Shot.model_validate({**EXAMPLE, **change})
    assert words in in_words(refused.value)


def as_text(given):
    """Each way to tell one of the numbers, or truths, in some JSON as something that only reads like it."""
    if isinstance(given, dict):
        for key, one in given.items():
            yield from ({**given, key: other} for other in as_text(one))
    elif isinstance(given, list | tuple):
        for n, one in enumerate(given):
            yield from ([*given[:n], other, *given[n + 1 :]] for other in as_text(one))
    elif isinstance(given, bool):
        yield from (int(given), str(given).lower())
    elif isinstance(given, int | float):
        yield from (str(given), *([] if abs(given) == 1 else [True]))  # true and 1 are one choice of some


def test_a_number_told_as_text_is_refused_wherever_it_stands():
    whole = Shot.model_validate(EXAMPLE).as_json()
    whole["stand"]["follow"] = {"part": None, "point": [0.0, 1.0, 2.0]}
    whole["back"]["crops"] = [{"name": "Square", "output_px": [1080, 1080], "size": 0.5, "at": [0.5, 0.5]}]
    whole["focus"]["stack"] = {"from_m": 1.0, "to_m": 2.0}
    Shot.model_validate(whole)
    others = list(as_text(whole))
    assert len(others) > 120
    for other in others:
        with pytest.raises(ValidationError, match=r"valid (number|integer|boolean)"):
            Shot.model_validate(other)
        with pytest.raises(ValidationError):
            Shot.model_validate_json(json.dumps(other))


@pytest.mark.parametrize("kind", [*SHOT_GESTURES, *VIEW_GESTURES], ids=kind_of)
@settings(max_examples=5, deadline=None)
@given(data=st.data())
def test_so_it_is_in_every_gesture(kind, data):
    move = data.draw(gestures_of(kind, ["Part 1"]))
    with suppress(ValidationError):
        kind.model_validate(move)
        for other in as_text(move):
            with pytest.raises(ValidationError, match=r"valid (number|integer|boolean)|should be"):
                kind.model_validate(other)


def test_whole_numbers_may_have_a_point():
    given = {**EXAMPLE, "back": {**EXAMPLE["back"], "output_px": [3840.0, 2160.0]}}
    assert Shot.model_validate(given) == Shot.model_validate(EXAMPLE)


def _command(text, argument="-"):
    return subprocess.run(
        [sys.executable, "-m", "zevlo.cli", "solve", argument], input=text, capture_output=True, text=True, check=False
    )


def test_solve_on_the_command_line(tmp_path):
    file = tmp_path / "shot.json"
    file.write_text(json.dumps(EXAMPLE))
    one = _command("", str(file))
    assert one.returncode == 0
    assert json.loads(one.stdout)["schema"] == "zevlo.sheet/2"
    assert len(json.loads(_command(json.dumps([EXAMPLE, EXAMPLE])).stdout)) == 2
    wrong = _command(json.dumps({**EXAMPLE, "lens": {"focal_length_mm": 0}}))
    assert wrong.returncode == 2
    assert "lens.focal_length_mm: got 0" in wrong.stderr
    assert _command("{").returncode == 2
    assert _command("", str(tmp_path / "none.json")).returncode == 2


def test_a_crop_is_the_largest_of_its_ratio_where_it_is_put():
    """docs/shot-format.md: the square out of 3840 × 2160; others against shapely's rectangles."""
    square = {"name": "Square", "output_px": [2160, 2160]}
    sheet = solve(Shot(back={"output_px": [3840, 2160], "crops": [square]}))
    (found,) = sheet.back.model_dump()["crops"]
    assert found == {"name": "Square", "frame": (0.21875, 0.0, 0.78125, 1.0), "output_px": (2160, 2160), "film_px": (2160.0, 2160.0)}  # fmt: skip
    rng = np.random.default_rng(3)
    for _ in range(200):
        pixels, own = rng.integers(100, 4000, 2).tolist(), rng.integers(100, 4000, 2).tolist()
        size, at = float(rng.uniform(0.2, 1)), rng.uniform(0, 1, 2).tolist()
        trim = {"left": float(rng.uniform(0, 0.4)), "top": float(rng.uniform(0, 0.4))}
        back = {"output_px": pixels, "trim": trim, "crops": [{"name": "A", "output_px": own, "size": size, "at": at}]}
        sheet = solve(Shot(back=back)).back
        left, bottom, right, top = sheet.crops[0].frame
        width, height = sheet.fitted_mm
        assert (right - left) * width / ((top - bottom) * height) == pytest.approx(own[0] / own[1])
        assert max(right - left, top - bottom) == pytest.approx(size), "as large as its share of what the frame holds"
        assert 0 <= left <= right <= 1 + 1e-12
        assert 0 <= bottom <= top <= 1 + 1e-12
        assert left == pytest.approx(at[0] * (1 - right + left))
        assert bottom == pytest.approx(at[1] * (1 - top + bottom))
    with pytest.raises(ValidationError, match="two crops have the same name"):
        Shot(back={"crops": [square, square]})


def test_a_model_costs_the_same_however_often_it_is_asked_for():
    """Pydantic asks a model for its schema at each use; one that grew by that ended in too deep a recursion."""

    def depth(schema):
        inner = schema.values() if isinstance(schema, dict) else schema if isinstance(schema, list | tuple) else ()
        return 1 + max(map(depth, inner), default=0)

    def asked_for():
        return depth(TypeAdapter(Annotated[Back, Field(title="A back")]).core_schema)

    first = asked_for()
    assert [asked_for() for _ in range(20)] == [first] * 20
