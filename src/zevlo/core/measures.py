"""Measures as people write them: ``5'6"``, ``1.65``, ``165cm``, ``3.2+0.1``, ``1/125``.

A sum of products of quantities. A quantity is a number, maybe a fraction, maybe with a unit; quantities set side by
side add up (``5 ft 6 in``, ``1 m 65 cm``). A number without a unit counts in the unit the field shows.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from math import inf, isfinite, pi
from typing import Literal

from zevlo.text import measures as say

Kind = Literal["length", "film", "angle", "time", "number", "pixels"]

LENGTHS_M = {
    "km": 1000.0, "m": 1.0, "metre": 1.0, "metres": 1.0, "meter": 1.0, "meters": 1.0, "cm": 0.01, "mm": 0.001,
    "in": 0.0254, "inch": 0.0254, "inches": 0.0254, '"': 0.0254, "″": 0.0254, "”": 0.0254, "ft": 0.3048,
    "foot": 0.3048, "feet": 0.3048, "'": 0.3048, "′": 0.3048, "’": 0.3048, "yd": 0.9144, "yard": 0.9144,
    "yards": 0.9144,
}  # fmt: skip
"""Inch, foot and yard by the international agreement of 1959 (NIST SP 811)."""
UNITS: dict[str, dict[str, float]] = {
    "length": LENGTHS_M,
    "film": {name: size * 1000.0 for name, size in LENGTHS_M.items()},
    "angle": {
        "°": 1.0, "deg": 1.0, "degree": 1.0, "degrees": 1.0, "'": 1 / 60, "′": 1 / 60, "’": 1 / 60, '"': 1 / 3600,
        "″": 1 / 3600, "”": 1 / 3600, "rad": 180.0 / pi, "turn": 360.0, "turns": 360.0,
    },
    "time": {"s": 1.0, "sec": 1.0, "second": 1.0, "seconds": 1.0, "ms": 0.001, "min": 60.0, "h": 3600.0},
    "number": {"%": 0.01},
    "pixels": {"px": 1.0, "pixel": 1.0, "pixels": 1.0},
}  # fmt: skip
OWN_UNIT = {"length": "m", "film": "mm", "angle": "deg", "time": "s", "number": "", "pixels": "px"}
USUAL_DPI = 300.0
_EXAMPLES = {
    "length": "1.65, 165 cm, 5'6\" or 3.2+0.1",
    "film": say.FILM_EXAMPLES,
    "angle": "45, 22.5+90 or 1/4 turn",
    "time": say.TIME_EXAMPLES,
    "number": "8, 5.6 or 2*1.4",
    "pixels": say.PIXEL_EXAMPLES,
}
_WHAT = {
    "length": say.A_LENGTH,
    "film": say.A_LENGTH,
    "angle": say.AN_ANGLE,
    "time": say.A_TIME,
    "number": say.A_NUMBER,
    "pixels": say.A_SIZE_OF_A_PICTURE,
}
_SMALLER = {"ft": "in", "foot": "in", "feet": "in", "'": "in", "′": "in", "’": "in", "°": "'", "deg": "'"}
"""What a bare number set behind counts in: the 6 of 5'6 is inches."""
_TOKEN = re.compile(
    r"\s*(?:(\d+(?:[.,]\d*)?(?:[eE][-+]?\d+)?|[.,]\d+)|([-+*/()×÷·])|(°|[\"'″′”’%]|[a-z]+))", re.IGNORECASE
)
MOST_LETTERS = 80


class NotAMeasure(ValueError):
    """What was written is no measure of this kind; the message says what would be."""


@dataclass(frozen=True)
class _Value:
    """A number in the kind's own unit, or one that has no unit yet."""

    size: float
    has_unit: bool
    unit: str | None = None


class _Reader:
    def __init__(self, text: str, kind: Kind, unit: str, dpi: float) -> None:
        self.kind, self.units, self.default = kind, UNITS[kind], UNITS[kind].get(unit, 1.0)
        if kind == "pixels":
            on_paper = {name: size / LENGTHS_M["in"] * dpi for name, size in LENGTHS_M.items()}
            self.units = {**on_paper, **self.units}
        self.tokens = _tokens(text)
        self.at = 0

    def peek(self) -> tuple[str, str] | None:
        return self.tokens[self.at] if self.at < len(self.tokens) else None

    def take(self) -> tuple[str, str]:
        token = self.tokens[self.at]
        self.at += 1
        return token

    def sign(self, *which: str) -> bool:
        token = self.peek()
        if token is not None and token[0] == "sign" and token[1] in which:
            self.at += 1
            return True
        return False

    def in_unit(self, value: _Value) -> _Value:
        return value if value.has_unit else _Value(value.size * self.default, True)

    def total(self) -> _Value:
        value = self.product()
        while True:
            if self.sign("+"):
                value = self.summed(value, self.product(), 1.0)
            elif self.sign("-"):
                value = self.summed(value, self.product(), -1.0)
            else:
                return value

    def summed(self, a: _Value, b: _Value, sign: float) -> _Value:
        if a.has_unit or b.has_unit:
            a, b = self.in_unit(a), self.in_unit(b)
        return _Value(a.size + sign * b.size, a.has_unit)

    def product(self) -> _Value:
        value = self.signed()
        while True:
            if self.sign("*", "×", "·"):
                other = self.signed()
                if value.has_unit and other.has_unit:
                    raise NotAMeasure
                value = _Value(value.size * other.size, value.has_unit or other.has_unit)
            elif self.sign("/", "÷"):
                other = self.signed()
                if other.size == 0.0 or (other.has_unit and not value.has_unit):
                    raise NotAMeasure
                value = _Value(value.size / other.size, value.has_unit and not other.has_unit)
                value = self.with_unit(value)
            else:
                return value

    def signed(self) -> _Value:
        if self.sign("-"):
            inner = self.signed()
            return _Value(-inner.size, inner.has_unit)
        if self.sign("+"):
            return self.signed()
        if self.sign("("):
            inner = self.total()
            if not self.sign(")"):
                raise NotAMeasure
            return self.with_unit(inner)
        return self.quantities()

    def quantities(self) -> _Value:
        """Quantities side by side, each in a smaller unit than the one before: 5 ft 6 in."""
        value = self.quantity()
        while (token := self.peek()) is not None and token[0] == "number":
            if not value.has_unit:
                # 5 1/2 is five and a half; two whole numbers side by side are nothing.
                value = self.mixed(value)
                continue
            other, last = self.quantity(), value.unit or ""
            if not other.has_unit and (after := self.peek()) is not None and after[0] == "number":
                other = self.mixed(other)
            if not other.has_unit:
                smaller = _SMALLER.get(last)
                if smaller is None:
                    raise NotAMeasure
                other = _Value(other.size * self.units[smaller], True, smaller)
            if self.units.get(other.unit or "", inf) >= self.units.get(last, 0.0):
                raise NotAMeasure
            value = _Value(value.size + other.size, True, other.unit)
        return value

    def mixed(self, whole: _Value) -> _Value:
        top = _number(self.take()[1])
        if not self.sign("/") or (token := self.peek()) is None or token[0] != "number":
            raise NotAMeasure
        bottom = _number(self.take()[1])
        if bottom == 0.0 or top >= bottom or whole.size != int(whole.size):
            raise NotAMeasure
        return self.with_unit(_Value(whole.size + top / bottom, False))

    def quantity(self) -> _Value:
        token = self.peek()
        if token is None or token[0] != "number":
            raise NotAMeasure
        value = _Value(_number(self.take()[1]), False)
        after = self.tokens[self.at : self.at + 3]
        if (
            [kind for kind, _ in after] == ["sign", "number", "unit"]
            and after[0][1] == "/"
            and after[2][1] in self.units
        ):
            # 1/2 in is half an inch, not 1 divided by two inches.
            self.at += 2
            bottom = _number(after[1][1])
            if bottom == 0.0:
                raise NotAMeasure
            value = _Value(value.size / bottom, False)
        return self.with_unit(value)

    def with_unit(self, value: _Value) -> _Value:
        token = self.peek()
        if token is None or token[0] != "unit":
            return value
        name = token[1]
        if name not in self.units or value.has_unit:
            raise NotAMeasure
        self.at += 1
        return _Value(value.size * self.units[name], True, name)


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _tokens(text: str) -> list[tuple[str, str]]:
    found, at = [], 0
    text = text.rstrip().replace("−", "-").replace("''", '"')
    while at < len(text):
        match = _TOKEN.match(text, at)
        if match is None:
            raise NotAMeasure
        number, sign, unit = match.groups()
        if number is not None:
            found.append(("number", number))
        elif sign is not None:
            found.append(("sign", sign))
        else:
            found.append(("unit", unit.lower()))
        at = match.end()
    return found


def measure(text: str, kind: Kind, unit: str | None = None, dpi: float = USUAL_DPI) -> float:
    """What was written, in metres, millimetres of film, degrees, seconds or pixels.

    ``unit``: what a bare number counts in, by default the kind's own; ``dpi``: how many pixels an inch of print has.
    Raises :class:`NotAMeasure` in words.
    """
    plain = text.strip()
    if kind == "number":
        plain = re.sub(r"^f\s*/\s*", "", plain, flags=re.IGNORECASE)
    try:
        if not plain or len(plain) > MOST_LETTERS:
            raise NotAMeasure
        reader = _Reader(plain, kind, OWN_UNIT[kind] if unit is None else unit, dpi)
        value = reader.in_unit(reader.total())
        if reader.peek() is not None or not isfinite(value.size):
            raise NotAMeasure
    except (NotAMeasure, OverflowError, RecursionError):
        shown = plain if len(plain) <= 30 else plain[:29] + "…"
        raise NotAMeasure(say.is_not_write_for_example(shown, _WHAT[kind], _EXAMPLES[kind])) from None
    return float(f"{value.size:.12g}")


def feet_and_inches(metres: float) -> str:
    """``5 ft 6 in``, to the nearest half inch, for reading beside metres."""
    halves = round(abs(metres) / 0.0127)
    feet, rest = divmod(halves, 24)
    inches = f"{rest // 2}½" if rest % 2 and rest > 1 else "½" if rest % 2 else f"{rest // 2}"
    words = [f"{feet} ft"] if feet else []
    if rest or not feet:
        words.append(f"{inches} in")
    return ("-" if metres < 0 and halves else "") + " ".join(words)


TAPE_PARTS = 16
"""To how many parts of an inch a tape is read."""


def tape_words(metres: float) -> str:
    """``5 ft 6 3/16 in``: to the nearest sixteenth of an inch, as a tape is read."""
    parts = round(abs(metres) / LENGTHS_M["in"] * TAPE_PARTS)
    feet, rest = divmod(parts, 12 * TAPE_PARTS)
    whole, part = divmod(rest, TAPE_PARTS)
    inches = [] if part == 0 else [str(Fraction(part, TAPE_PARTS))]
    if whole or not inches:
        inches.insert(0, str(whole))
    words = ([f"{feet} ft"] if feet else []) + ([f"{' '.join(inches)} in"] if rest or not feet else [])
    return ("−" if metres < 0 and parts else "") + " ".join(words)


HAND_BREADTH_M = 0.1
"""Shorter lengths are told in millimetres."""


def length_words(metres: float) -> str:
    """``3.20 m``, or what is shorter than a hand is broad as ``7.5 mm``."""
    return f"{metres:.2f} m" if abs(metres) >= HAND_BREADTH_M or metres == 0.0 else f"{metres * 1000.0:.1f} mm"


def change_words(before: float, after: float) -> str:
    """``3.20 → 2.80 m``; each with its own unit where these differ."""
    one, other = length_words(before), length_words(after)
    unit = other.rsplit(" ", 1)[1]
    return f"{one.removesuffix(f' {unit}')} → {other}"
