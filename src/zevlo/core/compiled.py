"""Loops over single numbers, compiled. For the few places where whole-array steps would do many times the work."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar, cast

import numba

Function = TypeVar("Function", bound=Callable[..., object])


def compiled(function: Function) -> Function:
    """``function`` (numbers and arrays only) as machine code, kept on disk; other threads run meanwhile."""
    return cast(Function, numba.njit(cache=True, nogil=True)(function))
