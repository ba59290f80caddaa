"""Whether prints still show their shots as they are, and which takes they are of."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from functools import cached_property

from zevlo.core.finals.recipe import Recipe
from zevlo.core.framing.staleness import shown_otherwise, stack_shown_otherwise
from zevlo.core.instruments.back.crops import same_crop
from zevlo.core.light.site import Lights
from zevlo.core.shot import Shot
from zevlo.store.projects import arrangement_of, lights_of
from zevlo.store.shot_rows import settings_of
from zevlo.store.tables import Project, ShotRow, Take
from zevlo.store.takes import same_framing
from zevlo.text import store as say


class StalenessCheck:
    """A project, its shots and their takes as they are, read once for however many prints are held against them."""

    def __init__(self, project: Project) -> None:
        self._project = project
        self._shots: dict[uuid.UUID, Shot] = {}

    @cached_property
    def _set(self) -> tuple[object, object]:
        return self._project.revision_id, arrangement_of(self._project)

    @cached_property
    def _lights(self) -> Lights:
        return lights_of(self._project)

    def _shot(self, row: ShotRow | Take) -> Shot:
        if row.id not in self._shots:
            self._shots[row.id] = settings_of(row)
        return self._shots[row.id]

    def stale_words(self, recipe: Recipe, row: ShotRow | None) -> str | None:
        """What changed since a print was ordered; None where nothing did."""
        if row is None or row.deleted:
            return say.THE_SHOT_WAS_DELETED
        shot = self._shot(row)
        changed = stack_shown_otherwise(recipe.shot, shot) if recipe.stack else shown_otherwise(recipe.shot, shot)
        if recipe.crop is not None and not same_crop(recipe.shot, shot, recipe.crop):
            changed.append(say.THE_CROP)
        if not recipe.light.shines_as(self._lights.of(shot.light)):
            changed.append("light")
        if (recipe.revision, recipe.arrangement) != self._set:
            changed.append(say.THE_SET)
        return None if not changed else say.changed_since(", ".join(changed))

    def take_of(self, recipe: Recipe, takes: Sequence[Take]) -> int | None:
        """Number of the take a print is of; None where its framing was never kept."""
        return next((take.number for take in takes if same_framing(self._shot(take), recipe.shot)), None)
