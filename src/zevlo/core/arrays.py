"""What arrays hold: numbers in double and single precision, whole numbers."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


Floats32 = NDArray[np.float32]


Integers = NDArray[np.int32]
