"""Words in the cells of a CSV: a spreadsheet takes what begins with = + - @ for something to be worked out."""

from __future__ import annotations

import re

_WORKED_OUT = re.compile(r"'*[=+\-@\t\r]")
"""What a cell begins with that a spreadsheet works out, behind any marks of ours (OWASP, *CSV Injection*)."""


def as_cell(words: str) -> str:
    """Words as a cell that stays words: with a mark ``'`` before them where they need one."""
    return f"'{words}" if _WORKED_OUT.match(words) else words


def from_cell(cell: str) -> str:
    """The words of a cell as :func:`as_cell` writes it; whatever has no such mark is as it is."""
    return cell[1:] if cell.startswith("'") and _WORKED_OUT.match(cell) else cell
