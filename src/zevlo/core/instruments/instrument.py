"""What an instrument is to the core, what its part of the sheet is made of, and what its gestures are made of."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar

from pydantic import Field

from zevlo.core.bases import Settings, SheetGroup
from zevlo.core.camera.from_shot import Framing
from zevlo.core.scene.lit import LitSet
from zevlo.core.scene.places.levels import NO_CONTEXT, SetContext
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot


@dataclass(frozen=True)
class Scene:
    """What a gesture is followed in: the whole set, its light where it was asked for, where it is and its north."""

    working: WorkingSet
    lit: LitSet | None = None
    where: SetContext = NO_CONTEXT


class Gesture(Settings):
    """What a hand does to a shot, as data: what was taken hold of and where it was put.

    Shares are of the output frame's width or height; points are metres.
    """

    needs_light: ClassVar[bool] = False
    """Whether it asks for the light in the set, which takes a while to be known."""
    settles: ClassVar[bool] = True
    """Whether the stand is put back, after it, to the height above the floor and the point it holds on to."""
    sets_attitude: ClassVar[bool] = False
    """Whether it says itself how the camera is turned, or shifts the film or turns the lens for that: what was ordered
    is not undone to keep uprights true."""

    kind: str
    """What is done."""

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        """The places in the frame that are pressed on."""
        return ()

    @abstractmethod
    def apply(self, framing: Framing, scene: Scene) -> Shot:
        """The shot after it. Raises :class:`~zevlo.core.refused.Refused` where it cannot be followed, and pydantic's
        ``ValidationError`` where the result would not be a valid shot."""


class PressedInPicture(Gesture):
    """A gesture that presses on what is seen at a place in the frame, (0, 0) bottom left to (1, 1) top right."""

    x: float = Field(ge=0.0, le=1.0)
    """Share of the frame's width from its left edge."""
    y: float = Field(ge=0.0, le=1.0)
    """Share of the frame's height from its bottom edge."""

    @property
    def pressed(self) -> tuple[tuple[float, float], ...]:
        return ((self.x, self.y),)


Called = Callable[[str], str]
"""The name of a part by its id."""
StalenessKey = tuple[object, ...]
"""What is seen of an instrument's settings; equal where no picture would be other."""


@dataclass(frozen=True)
class SheetContext:
    """What a part of the sheet is worked out from. Without a set there is no floor and nothing in the way."""

    framing: Framing
    where: SetContext = NO_CONTEXT

    @property
    def shot(self) -> Shot:
        return self.framing.shot

    @property
    def working(self) -> WorkingSet | None:
        return self.framing.working


@dataclass(frozen=True)
class SheetPart:
    """An instrument's part of the sheet: its key there, how it is told, and whether it goes by where the camera
    stands; what does not is worked out once while only the stand moves."""

    key: str
    compute_sheet: Callable[[SheetContext], SheetGroup | list[SheetGroup]]
    goes_by_stand: Callable[[Shot], bool] = lambda _: False


@dataclass(frozen=True)
class Copied:
    """Settings that can be copied from one shot to others: what that is called, and how it is done.

    ``put(source, target, working)`` raises :class:`~zevlo.core.refused.Refused` where it cannot be.
    """

    name: str
    words: str
    put: Callable[[Shot, Shot, WorkingSet], Shot]


@dataclass(frozen=True)
class Instrument:
    """All that is one instrument's own.

    ``key``: of its settings in the shot; ``name``: as the desk calls it; ``noun``: the same within a sentence.
    ``settings``: where its settings are some of another group's, those; else all of the group of its key are its own.
    ``differs``: in words what of a shot is other than it was. ``staleness_key``: what a picture shows of it, if any;
    ``sharp_too``: whether a picture that is sharp all over and exposed for itself shows that as well.
    ``alternatives(framing, asked, scene)``: each a :class:`~zevlo.core.instruments.remedy.Remedy` that does what was
    ``asked`` and refused, from the shot that came nearest.
    """

    key: str
    name: str
    differs: Callable[[Shot, Shot, Called], list[str]]
    gestures: tuple[type[Gesture], ...] = ()
    part: SheetPart | None = None
    staleness_key: Callable[[Shot], StalenessKey] | None = None
    sharp_too: bool = False
    copied: tuple[Copied, ...] = ()
    noun: str = ""
    settings: tuple[str, ...] = ()
    alternatives: Callable[[Framing, object, Scene], Sequence[Any]] = lambda *_: ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "noun", self.noun or self.name.lower())


def group_copied(name: str, words: str) -> Copied:
    """Copying an instrument's settings as they are."""

    def put(source: Shot, target: Shot, _: WorkingSet) -> Shot:
        return target.model_copy(update={name: getattr(source, name)})

    return Copied(name, words, put)


SharePlace = tuple[Annotated[float, Field(ge=0.0, le=1.0)], Annotated[float, Field(ge=0.0, le=1.0)]]
