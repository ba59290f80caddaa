"""Names as a file writes them, made fit to be kept: a database takes no NUL, and no half of a surrogate pair."""

from __future__ import annotations

import re
from dataclasses import is_dataclass, replace
from typing import Any

from zevlo.files.reading import FromFile
from zevlo.text import models as say

UNFIT = re.compile("[\x00-\x08\x0b-\x1f\x7f\ud800-\udfff]")
STANDS_FOR_IT = "\ufffd"


def readable(name: str) -> str:
    """A name with a sign in place of each character that cannot be kept."""
    return UNFIT.sub(STANDS_FOR_IT, name)


def kept_readable(read: FromFile) -> FromFile:
    """A file's set with all its names fit to be kept; a remark says so where one was not."""
    changed: list[str] = []

    def fit(name: str) -> str:
        clean = readable(name)
        if clean != name:
            changed.append(clean)
        return clean

    def renamed(thing: Any, *fields: str) -> Any:
        new = {field: fit(getattr(thing, field)) for field in fields}
        if all(getattr(thing, field) == name for field, name in new.items()):
            return thing
        return (
            replace(thing, **new)
            if is_dataclass(thing) and not isinstance(thing, type)
            else thing.model_copy(update=new)
        )

    model = replace(
        read.model,
        parts=tuple(renamed(part, "name", "id") for part in read.model.parts),
        materials=tuple(renamed(material, "name") for material in read.model.materials),
    )
    levels = tuple(renamed(level, "name") for level in read.levels)
    rooms = tuple(renamed(room, "name", "level") for room in read.rooms)
    remarks = [readable(remark) for remark in read.remarks]
    if changed:
        remarks.append(say.some_names_have_characters(STANDS_FOR_IT))
    return replace(read, model=model, levels=levels, rooms=rooms, remarks=tuple(remarks))
