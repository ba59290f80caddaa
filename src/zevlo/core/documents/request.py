"""What documents are asked for: of which shots, which kinds, on what paper, in which files."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Self, get_args

from pydantic import Field, model_validator

from zevlo.core.bases import Settings
from zevlo.core.documents.page.paper import PaperName
from zevlo.core.scene.places.levels import PlaceName
from zevlo.core.shot.upgrade import WithFormerKeys
from zevlo.text import documents as say
from zevlo.text import everywhere

MOST_SHOTS = 2000
Sides = Annotated[int, Field(ge=1, le=8)]
Ending = Literal["pdf", "png", "svg", "dxf", "csv", "xlsx"]


class _Kind(Settings):
    """A kind of document; its files are the first of each ending once."""

    @model_validator(mode="after")
    def _files_once(self) -> Self:
        endings = getattr(self, "files", ())
        if len(set(endings)) < len(endings):
            raise ValueError(say.A_KIND_OF_FILE)
        return self


class _OnSheets(_Kind, WithFormerKeys):
    """A kind on sheets that lie or stand."""

    former: ClassVar = {"lying": "landscape"}

    landscape: bool = True


class ContactSheet(_OnSheets):
    """Pictures of all shots on paper."""

    former: ClassVar = {"cuts": "crops", "lying": "landscape"}

    layout: Literal["grid", "one", "pairs"] = "grid"
    """Many on a page, one on each, or each shot before and after."""
    columns: Sides = 3
    """Of a grid: how many beside each other."""
    pictures: Literal["prints", "drawn"] = "prints"
    """The newest print that still holds, else a drawn picture; or drawn pictures alone."""
    before: Literal["print", "take"] = "print"
    """Of pairs: what was before is the print before the newest, or the take before the last."""
    crops: bool = False
    """Whether the crops of a shot follow it, as pictures of their own."""
    lens_data: bool = True
    """Whether lens and stand are told under each."""
    notes: bool = False
    """Whether there is room to write under each."""
    paper: PaperName = "A4"
    files: tuple[Literal["pdf", "png"], ...] = Field(("pdf",), min_length=1)
    dpi: Annotated[float, Field(ge=50.0, le=600.0)] = 150.0
    """Of PNG."""


class ShotListing(_OnSheets):
    """The shot list as a table."""

    pictures: bool = True
    """Whether XLSX and PDF have small pictures."""
    paper: PaperName = "A4"
    files: tuple[Literal["pdf", "csv", "xlsx"], ...] = Field(("pdf", "xlsx"), min_length=1)


class Plans(_OnSheets):
    """A plan of each level with the stands on it, to scale."""

    levels: Annotated[tuple[PlaceName, ...], Field(min_length=1)] | None = None
    """null: each on which a shot stands."""
    scale: Annotated[float, Field(ge=0.02, le=1.0e6)] | None = None
    """How many times larger the set is; null: as large as the paper holds."""
    thin_lines: bool = True
    """Whether what lies below the cut is drawn."""
    angles: bool = True
    """Whether what each lens sees is drawn."""
    paper: PaperName = "A3"
    files: tuple[Literal["pdf", "svg", "dxf"], ...] = Field(("pdf",), min_length=1)
    dxf_unit: Literal["m", "cm", "mm", "in", "ft"] = "mm"


class CameraCards(_Kind):
    """A card for each shot, with all one sets a camera by."""

    paper: Literal["A4", "Letter"] = "A4"
    apart: bool = False
    """Whether each is a file of its own."""
    files: tuple[Literal["pdf"], ...] = Field(("pdf",), min_length=1)


class Documents(Settings):
    """Documents of some shots, made together."""

    shots: tuple[uuid.UUID, ...] = Field(min_length=1, max_length=MOST_SHOTS)
    """In the order of the shot list, however they are named here."""
    contact_sheet: ContactSheet | None = None
    shot_list: ShotListing | None = None
    plans: Plans | None = None
    camera_cards: CameraCards | None = None

    @model_validator(mode="after")
    def _some(self) -> Self:
        if all(getattr(self, kind) is None for kind in KINDS):
            raise ValueError(say.NO_DOCUMENT_IS_ASKED)
        if len(set(self.shots)) < len(self.shots):
            raise ValueError(say.A_SHOT_IS_NAMED)
        return self

    @property
    def kinds(self) -> tuple[str, ...]:
        """The kinds that are asked for."""
        return tuple(kind for kind in KINDS if getattr(self, kind) is not None)


@dataclass(frozen=True)
class DocumentKind:
    """A kind of document: its key in :class:`Documents`, its name on the desk, what its files are called, how it is
    asked for, and how large the pictures on it are."""

    key: str
    name: str
    called: str
    asked: type[ContactSheet] | type[ShotListing] | type[Plans] | type[CameraCards]
    picture_px: int = 0
    """The longest side of a picture on its paper, where it is the largest that is asked for; 0: it has none."""

    @property
    def endings(self) -> tuple[Ending, ...]:
        """The kinds of files there are of it."""
        endings: tuple[Ending, ...] = get_args(get_args(self.asked.model_fields["files"].annotation)[0])
        return endings


DOCUMENT_KINDS = (
    DocumentKind("contact_sheet", say.CONTACT_SHEET, say.CONTACT_SHEET_FILE, ContactSheet, picture_px=1200),
    DocumentKind("shot_list", say.SHOT_LIST, say.SHOT_LIST_FILE, ShotListing, picture_px=300),
    DocumentKind("plans", say.PLANS_WITH_THE_STANDS, "plan", Plans),
    DocumentKind("camera_cards", say.CAMERA_CARDS, everywhere.CAMERA_CARDS, CameraCards, picture_px=800),
)
"""The kinds there are, in the order they are offered and made in."""
KINDS = {one.key: one for one in DOCUMENT_KINDS}
FILE_WORDS: dict[Ending, str] = {
    "pdf": "PDF", "png": say.PNG_A_PICTURE_OF_EACH, "svg": "SVG", "dxf": say.DXF_IN_THE_SETS,
    "csv": say.CSV_A_PLAIN_TABLE, "xlsx": say.XLSX_A_WORKBOOK,
}  # fmt: skip
"""What kinds of files are called where one is chosen."""
