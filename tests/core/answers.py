"""Answers of the core brought down to a few numbers each, as they are kept and compared."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import BaseModel, ValidationError

from zevlo.core.measures import NotAMeasure
from zevlo.core.refused import Refused

KEPT = Path(__file__).with_name("results")
QUESTIONS: dict[str, Callable[[], Any]] = {}
LONG = 24


def question(ask: Callable[[], Any]) -> Callable[[], Any]:
    QUESTIONS[ask.__name__] = ask
    return ask


def brief(answer: Any) -> Any:
    """An answer as JSON, without what is as it is by default: long lists of numbers by how many they are, their sum, their size and a mixed sum."""
    if isinstance(answer, BaseModel):
        return brief(answer.model_dump(mode="python", exclude_defaults=True))
    if is_dataclass(answer) and not isinstance(answer, type):
        return {one.name: brief(getattr(answer, one.name)) for one in fields(answer) if one.repr}
    if isinstance(answer, np.ndarray):
        numbers = answer.astype(float)
        if numbers.size <= LONG:
            return brief(numbers.tolist())
        flat = np.nan_to_num(numbers.ravel(), nan=7.0e5, posinf=9.0e5, neginf=-9.0e5)
        mixed = flat @ np.cos(0.37 * np.arange(len(flat)))
        return {"of": list(numbers.shape), "sum": brief(float(flat.sum())), "size": brief(float(np.abs(flat).sum())), "mixed": brief(float(mixed))}  # fmt: skip
    if isinstance(answer, dict):
        return {str(key): brief(value) for key, value in answer.items()}
    if isinstance(answer, list | tuple | set | frozenset):
        plain = sorted(answer, key=str) if isinstance(answer, set | frozenset) else list(answer)
        if len(plain) > LONG and all(isinstance(one, int | float) and not isinstance(one, bool) for one in plain):
            return brief(np.array(plain, dtype=float))
        if (
            len(plain) > LONG
            and all(isinstance(one, list | tuple) and len(one) == 2 for one in plain)
            and np.isfinite(np.array(plain, dtype=float)).all()
        ):
            return brief(np.array(plain, dtype=float))
        return [brief(one) for one in plain]
    if isinstance(answer, bool | str | int) or answer is None:
        return answer
    if isinstance(answer, float | np.floating):
        return float(f"{float(answer):.9g}") if np.isfinite(answer) else str(float(answer))
    if isinstance(answer, np.integer | np.bool_):
        return answer.item()
    raise TypeError(f"no brief form of {type(answer)}")


def answer_to(ask: Callable[[], Any]) -> Any:
    """The answer, or the words it is refused in."""
    try:
        return brief(ask())
    except ValidationError as wrong:
        return f"refused: {'; '.join(one['msg'] for one in wrong.errors())}"
    except (Refused, NotAMeasure, ValueError) as reason:
        return f"refused: {str(reason).splitlines()[0][:160]}"
