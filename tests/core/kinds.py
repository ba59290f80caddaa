"""Every kind of gesture there is, taken from the code, with values that fit what each asks for."""

from __future__ import annotations

import types
import uuid
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from annotated_types import Ge, Gt, Le, Lt
from hypothesis import find
from hypothesis import strategies as st
from pydantic import BaseModel
from pydantic.fields import FieldInfo

from zevlo.core.framing.gestures import GESTURES
from zevlo.core.framing.scout import IN_PICTURE, OF_SCOUT
from zevlo.core.shot.lens import Distortion, FisheyeLaw, Projection

SHOT_GESTURES: tuple[type, ...] = GESTURES
VIEW_GESTURES: tuple[type, ...] = (*IN_PICTURE, *OF_SCOUT)


BENT = Distortion(k1=-0.08, k2=0.02, k3=-0.003, p1=0.001, p2=-0.002)


def lenses() -> dict[str, dict[str, Any]]:
    """Settings of a lens for every law there is, by a name: each projection, each way a fisheye draws, and bent."""
    found: dict[str, dict[str, Any]] = {}
    for projection in get_args(Projection):
        if projection == "fisheye":
            found |= {law: {"projection": projection, "fisheye_law": law} for law in get_args(FisheyeLaw)}
        else:
            found[projection] = {"projection": projection, "scale_m": 2.5 if projection == "parallel" else None}
    return {**found, "bent": {"distortion": BENT}}


def kind_of(gesture: type) -> str:
    return gesture.model_fields["kind"].default


def bounds_of(metadata: Any) -> tuple[float | None, float | None]:
    low = high = None
    for one in [bound for each in metadata for bound in (each.metadata if isinstance(each, FieldInfo) else [each])]:
        if isinstance(one, Ge | Gt):
            low = one.ge if isinstance(one, Ge) else one.gt + 1e-6
        if isinstance(one, Le | Lt):
            high = one.le if isinstance(one, Le) else one.lt - 1e-6
    return low, high


def values(kind: Any, metadata: Any, parts: list[str], reach: float) -> st.SearchStrategy[Any]:
    """What a field of a type may hold: within its own limits, and mostly near the set (``reach``)."""
    if get_origin(kind) is Annotated:
        inner, *more = get_args(kind)
        return values(inner, [*metadata, *more], parts, reach)
    if get_origin(kind) in (Union, types.UnionType):
        return st.one_of(*[values(one, metadata, parts, reach) for one in get_args(kind)])
    if kind is type(None):
        return st.none()
    if get_origin(kind) is Literal:
        return st.sampled_from(get_args(kind))
    if get_origin(kind) is tuple and get_args(kind)[-1] is Ellipsis:
        return st.lists(values(get_args(kind)[0], (), parts, reach), max_size=3)
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        fields = kind.model_fields.items()
        return st.fixed_dictionaries({n: values(f.annotation, f.metadata, parts, reach) for n, f in fields})
    if get_origin(kind) is tuple:
        return st.tuples(*[values(one, (), parts, reach) for one in get_args(kind)])
    if kind is bool:
        return st.booleans()
    low, high = bounds_of(metadata)
    if kind is float:
        near_low = -reach if low is None else max(low, -reach)
        near_high = reach if high is None else min(high, reach)
        near = st.floats(near_low, max(near_low, near_high), allow_nan=False)
        ends = [end for end in (low, high) if end is not None]
        return st.one_of(near, near, near, st.sampled_from(ends)) if ends else near
    if kind is int:
        return st.integers(int(low or 0), int(high if high is not None else 1000))
    if kind is str:
        return st.sampled_from(parts)
    if kind is uuid.UUID:
        return st.uuids()
    raise TypeError(f"no values are known for {kind} ({metadata}): add them here")


def gestures_of(kind: type, parts: list[str], reach: float = 30.0) -> st.SearchStrategy[dict[str, Any]]:
    """Gestures of one kind as they come over the wire."""
    fields = {
        name: values(field.annotation, field.metadata, parts, reach)
        for name, field in kind.model_fields.items()
        if name != "kind"
    }
    return st.fixed_dictionaries({"kind": st.just(kind_of(kind)), **fields})


def another(usual: BaseModel) -> BaseModel:
    """Settings of the same kind that are other than these."""
    kind = type(usual)
    fields = {n: values(field.annotation, field.metadata, ["A"], 1.0) for n, field in kind.model_fields.items()}
    found = find(st.fixed_dictionaries(fields), lambda made: kind.model_validate(made) != usual)
    return kind.model_validate(found)
