"""``./zevlo schema``: the open format as JSON Schema, or as tables for ``docs/shot-format.md``, made of the models."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator
from typing import Any

from pydantic import TypeAdapter

from zevlo.core.framing.gestures import GESTURES, ShotGesture
from zevlo.core.framing.sheet import Sheet
from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.instrument import Gesture
from zevlo.core.shot import Shot

Json = dict[str, Any]
_UNITS = {
    "_mm": "mm", "_m": "m", "_deg": "°", "_px": "px", "_s": "s", "_k": "K", "_cd_m2": "cd/m²", "_per_m": "1/m",
    "dpi": "px per inch", "iso": "ISO",
}  # fmt: skip
"""What keys end in, and the unit that means."""
_KINDS = {
    "number": "number",
    "integer": "whole number",
    "string": "text",
    "boolean": "true or false",
    "object": "object",
}
_NOT_TOLD = ("schema", "kind")


def run(_: str, arguments: list[str]) -> int:
    """Print the schema, or the tables."""
    parser = argparse.ArgumentParser(prog="zevlo schema", description="The JSON Schema of shot, sheet and gestures.")
    parser.add_argument("--tables", action="store_true", help="the same as tables in Markdown, for docs/shot-format.md")
    chosen = parser.parse_args(arguments)
    print(tables() if chosen.tables else json.dumps(schema(), ensure_ascii=False, indent=2))
    return 0


def schema() -> Json:
    """JSON Schema (2020-12) of a shot, its sheet and every gesture, by those names."""
    return {
        "shot": Shot.model_json_schema(by_alias=True),
        "sheet": Sheet.model_json_schema(by_alias=True, mode="serialization"),
        "gestures": TypeAdapter(ShotGesture).json_schema(by_alias=True),
    }


def tables() -> str:
    """Markdown: a table for each group of the shot and of the sheet, and the gestures by instrument."""
    schemas = schema()
    parts = ["## The shot, key by key", "", *_groups(schemas["shot"], written=True)]
    parts += ["## The sheet, key by key", "", *_groups(schemas["sheet"], written=False)]
    parts += ["## Gestures by instrument", ""]
    for instrument in INSTRUMENTS:
        if instrument.gestures:
            parts += [f"### {instrument.name}", "", *(_gesture(kind) for kind in instrument.gestures), ""]
    return "\n".join(parts).rstrip()


def _gesture(kind: type[Gesture]) -> str:
    assert kind in GESTURES
    made: Json = kind.model_json_schema(by_alias=True)
    keys = []
    for name, one in made["properties"].items():
        if name in _NOT_TOLD:
            continue
        words = _kind(one, made)
        keys.append(f"`{name}` {words}" + ("" if "default" not in one else f" ({_value(one['default'])})"))
    meaning = _line(made.get("description", ""))
    return f"- `{made['properties']['kind']['const']}`: {meaning}" + (f" *{'; '.join(keys)}.*" if keys else "")


def _groups(whole: Json, written: bool) -> Iterator[str]:
    """The tables of a model's groups; what is no group stands in the first."""
    plain = {name: one for name, one in whole["properties"].items() if _model(one, whole) is None}
    yield from _table("", plain, whole, written)
    for name, one in whole["properties"].items():
        group = _model(one, whole)
        if group is not None:
            yield from (f"### `{name}`", "", _line(one.get("description") or group.get("description", "")), "")
            yield from _table("", group["properties"], whole, written)


def _table(_: str, keys: Json, whole: Json, written: bool) -> Iterator[str]:
    yield "| key | type | unit | " + ("range | default | " if written else "") + "meaning |"
    yield "|---|---|---|" + ("---|---|" if written else "") + "---|"
    for name, one in _flat(keys, whole):
        if name == "schema":
            continue
        cells = [f"`{name}`", _kind(one, whole), _unit(name)]
        if written:
            cells += [_range(one, whole), _value(one["default"]) if "default" in one else "needed"]
        yield "| " + " | ".join([*cells, _line(one.get("description", ""))]) + " |"
    yield ""


def _flat(keys: Json, whole: Json, above: str = "") -> Iterator[tuple[str, Json]]:
    """Keys with those within groups, by their paths."""
    for name, one in keys.items():
        within = _model(one, whole)
        yield f"{above}{name}", one
        if within is not None and "properties" in within and above.count(".") < 2:
            yield from _flat(within["properties"], whole, f"{above}{name}.")


def _resolved(one: Json, whole: Json) -> Json:
    return whole["$defs"][one["$ref"].rsplit("/", 1)[1]] if "$ref" in one else one


def _choices(one: Json) -> list[Json]:
    return one.get("anyOf") or one.get("oneOf") or [one]


def _model(one: Json, whole: Json) -> Json | None:
    """The group a key holds, where it holds one."""
    found = [_resolved(choice, whole) for choice in _choices(one)]
    groups = [group for group in found if "properties" in group]
    return groups[0] if len(groups) == 1 else None


def _kind(one: Json, whole: Json) -> str:
    words = [_plain_kind(_resolved(choice, whole), whole) for choice in _choices(one)]
    return " or ".join(dict.fromkeys(words))


def _plain_kind(one: Json, whole: Json) -> str:
    if "const" in one:
        return f"`{one['const']}`"
    if "enum" in one:
        return ", ".join(f"`{value}`" for value in one["enum"])
    if one.get("type") == "null":
        return "null"
    if one.get("type") == "array":
        fixed = one.get("prefixItems")
        if fixed:
            return f"{len(fixed)} × {_kind(fixed[0], whole)}"
        return f"list of {_kind(one.get('items', {}), whole)}"
    if one.get("anyOf") or one.get("oneOf"):
        return _kind(one, whole)
    return "text (UUID)" if one.get("format") == "uuid" else _KINDS.get(str(one.get("type")), "any")


def _unit(name: str) -> str:
    last = name.rsplit(".", 1)[-1]
    return next((unit for ending, unit in _UNITS.items() if last.endswith(ending)), "")


def _range(one: Json, whole: Json) -> str:
    for choice in _choices(one):
        found = _resolved(choice, whole)
        items = (found.get("prefixItems") or [found.get("items") or {}])[0] if found.get("type") == "array" else found
        low, high = items.get("minimum"), items.get("maximum")
        over, under = items.get("exclusiveMinimum"), items.get("exclusiveMaximum")
        words = []
        if low is not None or over is not None:
            words.append(f"{low:g}" if low is not None else f"over {over:g}")
        if high is not None or under is not None:
            words.append(f"{high:g}" if high is not None else f"under {under:g}")
        if words:
            return " to ".join(words)
        if found.get("type") == "array" and "maxItems" in found and "prefixItems" not in found:
            return f"up to {found['maxItems']}"
    return ""


def _value(value: object) -> str:
    return f"`{json.dumps(value, ensure_ascii=False)}`"


def _line(words: str) -> str:
    return " ".join(words.split()).replace("|", "\\|")
