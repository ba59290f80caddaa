"""The exposure held: the shutter gives way."""

from __future__ import annotations

from zevlo.core.camera.from_shot import Framing
from zevlo.core.optics import exposure
from zevlo.core.refused import Refused
from zevlo.core.shot import Shot
from zevlo.core.shot.exposure import LONGEST_S, SHORTEST_S
from zevlo.text import constraints as say


def exposed(shot: Shot, ev: float) -> Shot:
    """The shot at another EV100; the shutter gives way. Raises :class:`~zevlo.core.refused.Refused` where no shutter is
    as quick or as slow; nearest is as far as one goes."""
    shutter = exposure.shutter_for(ev, Framing(shot).effective_f_number, shot.exposure.iso)
    held = min(max(shutter, SHORTEST_S), LONGEST_S)
    made = shot.with_groups(exposure=shot.exposure.model_copy(update={"shutter_s": held}))
    if held != shutter:
        raise Refused(
            say.that_takes_a_shutter(exposure.shutter_name(shutter), exposure.shutter_name(held)),
            nearest=made,
        )
    return made
