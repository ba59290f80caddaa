"""What is different between two shots, in words; and settings copied by group from one to another."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal, TypeAlias

from pydantic import ValidationError

from zevlo.core.instruments import INSTRUMENTS
from zevlo.core.instruments.instrument import Copied
from zevlo.core.refused import Refused
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot

COPIED: dict[str, Copied] = {one.name: one for instrument in INSTRUMENTS for one in instrument.copied}
COPY_GROUPS = tuple(COPIED)

if TYPE_CHECKING:
    CopyGroup: TypeAlias = str
else:
    CopyGroup = Literal[COPY_GROUPS]


@dataclass(frozen=True)
class Difference:
    """One thing that is other: the group it belongs to, and how it was and is."""

    group: str
    words: str


def by_its_id(part: str) -> str:
    """What a part is called where its set is not at hand: the end of its id."""
    return part.rsplit("/", 1)[-1]


def differences(before: Shot, after: Shot, called: Callable[[str], str] = by_its_id) -> list[Difference]:
    """What of a shot is other than it was, in the order of the instruments; the name does not count.

    ``called``: the name of a part by its id.
    """
    return [Difference(one.key, words) for one in INSTRUMENTS for words in one.differs(before, after, called)]


def copied(source: Shot, target: Shot, groups: Iterable[CopyGroup], working: WorkingSet) -> Shot:
    """The target with chosen groups of the source's settings. Raises :class:`Refused` where they do not go together."""
    wanted, changed = set(groups), target
    try:
        for one in COPIED.values():
            if one.name in wanted:
                changed = one.put(source, changed, working)
        return changed.with_groups()
    except ValidationError as error:
        raise Refused("; ".join(str(e["msg"]).removeprefix("Value error, ") for e in error.errors())) from error
