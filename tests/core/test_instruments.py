"""What all instruments have in common, over all there are, from the list they are derived from."""

from __future__ import annotations

import json
from inspect import isabstract

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from tests.core.kinds import bounds_of, gestures_of, kind_of, lenses, values
from tests.core.test_any_gesture import WORKING
from tests.core.test_patch import leaves

from zevlo.core.framing.differences import copied, differences
from zevlo.core.framing.gestures import GESTURES
from zevlo.core.framing.sheet import Sheet
from zevlo.core.framing.solve import solve
from zevlo.core.framing.staleness import shown
from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.instrument import Gesture
from zevlo.core.instruments.left_out import LEFT_OUT
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.back import Crop
from zevlo.core.shot.focus import BlurLimit
from zevlo.core.shot.patch import ShotPatch, patched

BY_KEY = {one.key: one for one in INSTRUMENTS if not one.settings}
BY_SETTING = {setting: one for one in INSTRUMENTS for setting in one.settings}
LEAVES = sorted(path for path in leaves() if path != ("name",))
ASKS_ONLY = {("focus", "probes")}
"""Keys that change nothing of a shot: what is asked about it."""
UNSEEN = {
    ("stand", "above_floor_m"), ("stand", "follow"), ("movements", "tilt_limit_deg"), ("movements", "keep_uprights"),
    ("movements", "before_straightening"), ("focus", "blur_limit"),
    ("focus", "probes"), ("back", "crops"), ("light",), *(path for path in LEAVES if path[0] == "guides"),
}  # fmt: skip
"""What no picture shows."""


def kinds_below(kind):
    for one in kind.__subclasses__():
        yield one
        yield from kinds_below(one)


def test_a_shot_and_its_sheet_are_the_instruments():
    assert list(Shot.model_fields) == ["schema_", "name", *BY_KEY], "one line in shot.py each, in the order of the list"
    parts = [one.part.key for one in INSTRUMENTS if one.part is not None]
    assert sorted(Sheet.model_fields) == sorted(["schema_", *parts, "drawings", "checks"])


def test_every_gesture_there_is_belongs_to_one_instrument():
    written = {kind for kind in kinds_below(Gesture) if not isabstract(kind)}
    assert written == set(GESTURES)
    assert len({kind_of(kind) for kind in GESTURES}) == len(GESTURES)


def field_at(path):
    kind = Shot
    for step in path[:-1]:
        kind = kind.model_fields[step].annotation
    return kind.model_fields[path[-1]]


@pytest.mark.parametrize("path", LEAVES, ids=".".join)
def test_every_setting_says_what_it_is(path):
    field = field_at(path)
    assert field.description or path[-2:-1] == ("trim",) or path == (LEFT_OUT.key,), (
        "a docstring, which reaches OpenAPI"
    )


def with_key(path, value):
    given = value
    for step in reversed(path):
        given = {step: given}
    return ShotPatch.model_validate(given)


@pytest.mark.parametrize("path", LEAVES, ids=".".join)
def test_a_change_is_told_by_its_instrument_alone_and_seen_or_not(path):
    """A print grows stale by what a picture shows, and nothing that was changed goes untold."""
    field = field_at(path)
    changes = []

    @settings(max_examples=30, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(values(field.annotation, field.metadata, ["Part 1", "Part 2"], 9.0))
    def tried(value):
        before = Shot(focus={"blades": 5, "distance_m": 6.0})
        try:
            after = patched(before, with_key(path, value))
        except ValidationError:
            return
        if after == before:
            return
        changes.append(value)
        own = BY_SETTING.get(".".join(path[:2]), BY_KEY[path[0]])
        found = differences(before, after)
        assert {one.group for one in found} <= {own.key}
        if own.key != "stand" and path not in ASKS_ONLY:
            assert found
        if path in UNSEEN:
            assert shown(after) == shown(before)

    tried()
    only_one = {("exposure", "white_k"), ("exposure", "tint"), ("lens", "projection"), ("lens", "scale_m"), ("focus", "blur_limit")}  # fmt: skip
    assert changes or path in only_one, "no other value was found for it"


def ends_of(metadata):
    """The numbers at the ends of what a field may be, and those next to them and to nothing."""
    found = {0.0, 5e-324, -5e-324, 1e-300, 1e-12, 1e300}
    for low_or_high in bounds_of(metadata):
        if low_or_high is not None:
            found |= {low_or_high, float(np.nextafter(low_or_high, np.inf)), float(np.nextafter(low_or_high, -np.inf))}
    return sorted(found)


NUMBERS = [path for path in LEAVES if field_at(path).annotation in (float, float | None)]


@pytest.mark.parametrize("path", NUMBERS, ids=".".join)
def test_every_number_at_its_ends_is_solved_in_numbers_or_refused(path):
    field, solved = field_at(path), 0
    for value in [field.default, *ends_of(field.metadata)]:
        for lens in lenses().values():
            base = Shot(lens=lens, focus={"probes": [(0, 4, 1), (0.3, 0.2, 1.7)], "distance_m": 60.0})
            try:
                shot = patched(base, with_key(path, value))
            except (ValidationError, Refused):
                continue
            json.dumps(solve(shot, WORKING).model_dump(mode="json"), allow_nan=False)
            solved += 1
    assert solved


@pytest.mark.parametrize(
    ("inner", "around"), [(BlurLimit, lambda told: {"focus": {"blur_limit": told}}), (Crop, lambda told: {"back": {"crops": [{"name": "A", "output_px": [9, 5], **told}]}})],
)  # fmt: skip
def test_numbers_within_settings_are_solved_at_their_ends_or_refused(inner, around):
    for name, field in inner.model_fields.items():
        for value in ends_of(field.metadata):
            given = {name: value}
            if name in ("print_width_mm", "seen_from_mm"):
                given = {"print_width_mm": value, "seen_from_mm": value}
            try:
                shot = Shot.model_validate(around(given))
            except ValidationError:
                continue
            json.dumps(solve(shot, WORKING).model_dump(mode="json"), allow_nan=False)


def test_settings_that_only_go_together_are_copied_together():
    far = Shot(lens={"focal_length_mm": 3000}, focus={"distance_m": 9.0})
    near = Shot(focus={"distance_m": 1.0})
    with pytest.raises(Refused, match="focuses no closer"):
        copied(far, near, ["lens"], WORKING)
    for groups in (["lens", "focus"], ["focus", "lens", "height"]):
        after = copied(far, near, groups, WORKING)
        assert (after.lens, after.focus) == (far.lens, far.focus)


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(GESTURES).flatmap(lambda kind: gestures_of(kind, ["Part 1"])))
def test_a_gesture_is_frozen_and_knows_its_own_keys(move):
    kind = next(kind for kind in GESTURES if kind_of(kind) == move["kind"])
    try:
        made = kind.model_validate(move)
    except ValidationError:
        return
    with pytest.raises(ValidationError, match="frozen"):
        made.kind = "another"
    with pytest.raises(ValidationError, match="Extra inputs"):
        kind.model_validate({**move, "nothing": 1})
