"""What a picture's file tells of itself: the shot, and where it came from, read back from the file alone."""

from __future__ import annotations

import io
import json
import uuid
from dataclasses import asdict, dataclass
from xml.etree import ElementTree
from xml.sax.saxutils import escape

from PIL import Image
from pydantic import TypeAdapter

from zevlo import __version__
from zevlo.core.shot import Shot
from zevlo.store.prints import recipe_of
from zevlo.store.tables import Print
from zevlo.text import lab as say

SHOT_KEY, HISTORY_KEY = "Description", "Zevlo"
NAMESPACE = "urn:zevlo:shot:1"
MOST_BYTES = 4_000_000
MOST_IN_JPEG = 65_000
"""A JPEG's packet is not longer; where a shot is, the file tells only where it came from."""


@dataclass(frozen=True)
class History:
    """Where a print came from, by ids."""

    print: str
    shot: str
    project: str
    order: str | None
    revision: str
    light: str | None

    @classmethod
    def of(cls, entry: Print) -> History:
        """Of a print in the lab."""
        recipe = recipe_of(entry)
        order = None if entry.order_id is None else str(entry.order_id)
        return cls(
            print=str(entry.id), shot=str(entry.shot_id), project=str(entry.project_id), order=order,
            revision=str(recipe.revision), light=None if recipe.shot.light is None else recipe.shot.light.name,
        )  # fmt: skip


_HISTORY = TypeAdapter(History)


def words_of(shot: Shot, history: History | None = None) -> dict[str, str]:
    """What a picture tells of itself."""
    words = {"Title": shot.name, "Software": f"Zevlo {__version__}", SHOT_KEY: shot.model_dump_json(by_alias=True)}
    return words if history is None else {**words, HISTORY_KEY: json.dumps(asdict(history))}


def xmp_of(words: dict[str, str]) -> bytes:
    """The same as an XMP packet (ISO 16684-1), for files that carry no words of their own."""
    packet = _packet(words)
    return packet if len(packet) <= MOST_IN_JPEG else _packet({k: v for k, v in words.items() if k != SHOT_KEY})


def _packet(words: dict[str, str]) -> bytes:
    rows = f'<dc:title><rdf:Alt><rdf:li xml:lang="x-default">{escape(words["Title"])}</rdf:li></rdf:Alt></dc:title>'
    own = "".join(
        f"<zevlo:{name.lower()}>{escape(words[name])}</zevlo:{name.lower()}>"
        for name in (SHOT_KEY, HISTORY_KEY)
        if name in words
    )
    return (
        '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?><x:xmpmeta xmlns:x="adobe:ns:meta/">'
        '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about=""'
        ' xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/"'
        f' xmlns:zevlo="{NAMESPACE}"><xmp:CreatorTool>{escape(words["Software"])}</xmp:CreatorTool>{rows}{own}'
        '</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end="w"?>'
    ).encode()


class NotOurs(ValueError):
    """A file tells of no shot; the message says what it lacks."""


@dataclass(frozen=True)
class FromFile:
    """What a file tells: its shot, and where it came from where it says so."""

    shot: Shot | None
    history: History | None


def read_history(data: bytes) -> FromFile:
    """What a PNG, JPEG or OpenEXR tells of itself. Raises :class:`NotOurs`."""
    try:
        words = _exr_words(data) if data[:4] == b"\x76\x2f\x31\x01" else _picture_words(data)
    except Exception as reason:
        raise NotOurs(say.THIS_IS_NO_PNG) from reason
    shot, history = _shot(words.get(SHOT_KEY)), _history(words.get(HISTORY_KEY))
    if shot is None and history is None:
        raise NotOurs(say.THIS_PICTURE_DOES_NOT_TELL)
    return FromFile(shot, history)


def _shot(text: str | None) -> Shot | None:
    try:
        return Shot.model_validate_json(text or "")
    except ValueError:
        return None


def _history(text: str | None) -> History | None:
    try:
        found = _HISTORY.validate_json(text or "")
        for key in (found.print, found.shot, found.project, found.revision):
            uuid.UUID(key)
    except ValueError:
        return None
    return found


def _picture_words(data: bytes) -> dict[str, str]:
    with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as picture:
        if picture.format == "PNG":
            return {str(key): value for key, value in picture.info.items() if isinstance(value, str)}
        packet = picture.info.get("xmp", b"")
    return _xmp_words(packet)


def _xmp_words(packet: bytes) -> dict[str, str]:
    if not packet or len(packet) > MOST_BYTES or b"<!DOCTYPE" in packet or b"<!ENTITY" in packet:
        return {}
    tree = ElementTree.fromstring(packet)
    names = {f"{{{NAMESPACE}}}{name.lower()}": name for name in (SHOT_KEY, HISTORY_KEY)}
    return {names[one.tag]: one.text or "" for one in tree.iter() if one.tag in names}


def _exr_words(data: bytes) -> dict[str, str]:
    """Words of an OpenEXR's header, also of the beginning of a file: attributes follow each other, each its name, its
    kind, its length and itself (OpenEXR file layout)."""
    names = {"zevloShot": SHOT_KEY, "zevloHistory": HISTORY_KEY}
    words: dict[str, str] = {}
    at = 8
    while data[at] != 0:
        name, at = _until_zero(data, at)
        kind, at = _until_zero(data, at)
        length = int.from_bytes(data[at : at + 4], "little")
        value, at = data[at + 4 : at + 4 + length], at + 4 + length
        if kind == "string" and name in names and len(value) == length:
            words[names[name]] = value.decode()
    return words


def _until_zero(data: bytes, at: int) -> tuple[str, int]:
    end = data.index(b"\0", at)
    return data[at:end].decode(), end + 1
