"""Whether a print still shows its shot as it is, and which take it is of."""

from __future__ import annotations

from collections.abc import Sequence

from zevlo.core.instruments.back.cuts import same_cut
from zevlo.core.shows import shown_otherwise, stack_shown_otherwise
from zevlo.store.prints import recipe_of
from zevlo.store.projects import arrangement_of, lights_of
from zevlo.store.shot_rows import settings_of
from zevlo.store.tables import Print, Project, ShotRow, Take
from zevlo.store.takes import same_framing


def stale_words(entry: Print, row: ShotRow | None, project: Project) -> str | None:
    """What changed since a print was ordered; None where nothing did."""
    if row is None or row.deleted:
        return "The shot was deleted since"
    recipe, shot = recipe_of(entry), settings_of(row)
    changed = stack_shown_otherwise(recipe.shot, shot) if recipe.stack else shown_otherwise(recipe.shot, shot)
    if recipe.cut is not None and not same_cut(recipe.shot, shot, recipe.cut):
        changed.append("the cut")
    if not recipe.light.shines_as(lights_of(project).of(shot.light)):
        changed.append("light")
    if (recipe.revision, recipe.arrangement) != (project.revision_id, arrangement_of(project)):
        changed.append("the set")
    return None if not changed else f"Changed since: {', '.join(changed)}"


def take_of(entry: Print, takes: Sequence[Take]) -> int | None:
    """Number of the take a print is of; None where its framing was never kept."""
    return next((take.number for take in takes if same_framing(take.settings, entry.recipe["shot"])), None)
