"""A change to a shot as the keys a hand changed."""

import pytest
from hypothesis import given as with_values
from hypothesis import strategies as st
from pydantic import ValidationError

from zevlo.core.bases import Settings
from zevlo.core.shot import Shot
from zevlo.core.shot.patch import ShotPatch, differs_from, given, patched

START = Shot(focus={"blur_limit": {"mm": 0.03}}, back={"trim": {"left": 0.1}})


def patch(**keys):
    return ShotPatch.model_validate(keys)


def leaves(model=Shot, above=()):
    """Every key of a shot that holds no group, as the path to it."""
    for name, field in model.model_fields.items():
        kind = field.annotation
        if isinstance(kind, type) and issubclass(kind, Settings) and name != "blur_limit":
            yield from leaves(kind, (*above, name))
        elif name not in ("schema_",):
            yield (*above, name)


def test_only_the_keys_that_are_given_change():
    changed = patched(START, patch(lens={"focal_length_mm": 50}))
    assert changed.lens.focal_length_mm == 50
    assert changed.model_copy(update={"lens": START.lens}) == START
    assert patched(START, patch(back={"trim": {"top": 0.2}})).back.trim.model_dump() == {
        "left": 0.1,
        "right": 0,
        "top": 0.2,
        "bottom": 0,
    }
    assert patched(START, patch(focus={"blur_limit": {"px": 2}})).focus.blur_limit.mm is None, "one limit, not two"
    assert patched(START, patch(lens={"far_m": 20})).lens.far_m == 20
    assert patched(patched(START, patch(lens={"far_m": 20})), patch(lens={"far_m": None})).lens.far_m is None
    assert patched(START, patch()) == START


@pytest.mark.parametrize("path", sorted(leaves()), ids=".".join)
def test_every_key_of_a_shot_can_be_put_alone_and_a_strange_one_nowhere(path):
    whole = Shot(lens={"focal_length_mm": 60, "near_m": 0.2}, focus={"f_number": 4, "blades": 5}).as_json()
    value = whole
    for step in path:
        value = value[step]
    given = value
    for step in reversed(path):
        given = {step: given}
    assert ".".join(path) not in differs_from(patched(START, patch(**given)), patch(**given))
    strange = {"no_such_key": 1}
    for step in reversed(path[:-1]):
        strange = {step: strange}
    with pytest.raises(ValidationError, match="no_such_key"):
        patch(**strange)


@with_values(
    st.permutations(
        [
            {"lens": {"near_m": 0.2}},
            {"lens": {"focal_length_mm": 40}},
            {"back": {"trim": {"right": 0.3}}},
            {"name": "X"},
        ]
    )
)
def test_patches_of_different_keys_come_to_the_same_in_any_order(order):
    shot = START
    for keys in order:
        shot = patched(shot, patch(**keys))
    assert (shot.lens.near_m, shot.lens.focal_length_mm, shot.back.trim.left, shot.back.trim.right, shot.name) == (
        0.2,
        40,
        0.1,
        0.3,
        "X",
    )


def test_what_comes_of_it_is_checked_as_a_whole():
    with pytest.raises(ValidationError, match="far_m must be greater"):
        patched(START, patch(lens={"far_m": 0.01}))
    with pytest.raises(ValidationError, match="greater than or equal to 1"):
        patch(lens={"focal_length_mm": 0})
    assert differs_from(START, patch(lens={"focal_length_mm": 50, "near_m": 0.05}, name="Shot")) == [
        "lens.focal_length_mm"
    ]
    assert given(patch(lens={"far_m": None})) == {"lens": {"far_m": None}}


def test_a_whole_shot_is_a_patch_of_all_its_keys():
    other = Shot(name="Other", lens={"focal_length_mm": 24}, stand={"roll_deg": 3})
    assert patched(START, ShotPatch.model_validate(other.as_json())) == other
