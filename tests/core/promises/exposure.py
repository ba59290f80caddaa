"""What metering promises."""

from __future__ import annotations

from tests.core.promises import of, only

from zevlo.core.instruments.exposure.gestures import Meter


@of(Meter)
def the_shutter_alone_gives_way(done):
    only(done, "exposure.shutter_s")
