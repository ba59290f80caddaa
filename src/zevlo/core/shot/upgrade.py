"""Shots of older formats, read for ever: ``zevlo.shot/1`` as ``zevlo.shot/2``.

What the second renamed: ``back.cut`` is ``fit``, ``back.cuts`` are ``crops``, ``movements.as_it_was`` is
``before_straightening``, ``movements.most_tilt_deg`` is ``tilt_limit_deg``, ``focus.on`` is ``follow``, the projection
``turn`` is ``equirectangular``, and ``light``, a name, is an object with ``id`` and ``name``. A shot that does not say
its format may have keys of either.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

from pydantic import model_validator

from zevlo.core.bases import Settings
from zevlo.text import shot as say

FIRST, NEWEST = "zevlo.shot/1", "zevlo.shot/2"
RENAMED: Mapping[str, Mapping[str, str]] = {
    "back": {"cut": "fit", "cuts": "crops"},
    "movements": {"as_it_was": "before_straightening", "most_tilt_deg": "tilt_limit_deg"},
    "focus": {"on": "follow"},
}
"""By group: keys of the first format, and what they are called now."""
_SAYS_ITS_FORMAT = ("schema", "schema_")
"""In files, and in recipes of prints."""
RENAMED_PROJECTIONS = {"turn": "equirectangular"}


def renamed(given: Any, names: Mapping[str, str], where: str = "") -> Any:
    """An object with older keys called as they are now; anything else as it is. Raises ``ValueError`` where it has a
    key by both names."""
    if not isinstance(given, dict) or not names.keys() & given.keys():
        return given
    for old, new in names.items():
        if old in given and new in given:
            raise ValueError(say.is_called_now_give(where, old, new))
    return {names.get(key, key): value for key, value in given.items()}


class WithFormerKeys(Settings):
    """Base of what is kept beside shots and has keys that were called otherwise: ``former`` tells what they are called
    now."""

    former: ClassVar[Mapping[str, str]] = {}

    @model_validator(mode="before")
    @classmethod
    def _by_their_names_of_now(cls, given: object) -> object:
        return renamed(given, cls.former)


def upgraded(given: Any) -> Any:
    """A shot, or some keys of one, as the newest format has them: what is not of an older format is handed on as it is.

    Raises ``ValueError`` where it has a key by both names."""
    if not isinstance(given, dict) or any(given.get(key, FIRST) != FIRST for key in _SAYS_ITS_FORMAT):
        return given
    made = {key: renamed(value, RENAMED.get(key, {}), f"{key}.") for key, value in given.items()}
    made |= {key: NEWEST for key in _SAYS_ITS_FORMAT if key in made}
    lens, light = made.get("lens"), made.get("light")
    if isinstance(lens, dict) and (known := RENAMED_PROJECTIONS.get(str(lens.get("projection")))):
        made["lens"] = {**lens, "projection": known}
    if isinstance(light, str):
        made["light"] = {"name": light}
    return made
