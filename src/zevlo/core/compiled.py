"""Loops over single numbers, compiled. For the few places where whole-array steps would do many times the work."""

from __future__ import annotations

from collections.abc import Callable
from functools import update_wrapper
from typing import Any, Generic, ParamSpec, TypeVar

Given = ParamSpec("Given")
Answer = TypeVar("Answer")


class _Compiled(Generic[Given, Answer]):
    """A function that is compiled when it is first called: loading the compiler takes half a second, which who only
    reads a file of cameras, or asks what a command may be told, does not wait for."""

    def __init__(self, function: Callable[Given, Answer]) -> None:
        self._function = function
        self._quick: Callable[Given, Answer] | None = None
        update_wrapper(self, function)

    def __call__(self, *given: Given.args, **named: Given.kwargs) -> Answer:
        return (self._quick or self.machine_code())(*given, **named)

    @property
    def signatures(self) -> list[object]:
        """The kinds of numbers and arrays it is compiled for; none until it is called."""
        return [] if self._quick is None else list(self._quick.signatures)  # type: ignore[attr-defined]

    def machine_code(self) -> Callable[Given, Answer]:
        """The function, compiled."""
        if self._quick is None:
            import numba

            around: dict[str, Any] = self._function.__globals__
            # What is compiled can only call what is compiled.
            for name in self._function.__code__.co_names:
                called = around.get(name)
                if isinstance(called, _Compiled) and called is not self:
                    around[name] = called.machine_code()
            self._quick = numba.njit(cache=True, nogil=True)(self._function)
        return self._quick


def compiled(function: Callable[Given, Answer]) -> Callable[Given, Answer]:
    """``function`` (numbers and arrays only) as machine code, kept on disk; other threads run meanwhile."""
    return _Compiled(function)
