"""Break the core on purpose in many places, one at a time, and see which places the tests notice.

    .zevlo/venv/bin/python -m tests.mutate --places 200 [--seed 9] [--jobs 2] [--only scene/rooms.py] [--at FILE:LINE:COL]

One operator or number is changed, ``tests/core`` and ``tests/published`` run until one fails, in a fork of this
process that reads the changed source from memory: nothing on disk is touched. Not part of ./zevlo test.
"""

from __future__ import annotations

import argparse
import ast
import importlib.machinery
import os
import random
import signal
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

# What every child needs and nobody changes is loaded once, before the forks.
import hypothesis  # noqa: F401
import numba
import pytest
import scipy.spatial  # noqa: F401
import trimesh  # noqa: F401

from zevlo.settings import ROOT

CORE = ROOT / "src" / "zevlo" / "core"
TESTS = ["tests/core/test_results.py", "tests/core", "tests/published"]
SECONDS = 240
"""A change may make a loop endless; that is noticed too."""

OPERATORS: dict[type[ast.AST], tuple[str, type[ast.AST]]] = {
    ast.Add: ("+ → -", ast.Sub), ast.Sub: ("- → +", ast.Add), ast.Mult: ("* → /", ast.Div), ast.Div: ("/ → *", ast.Mult),
    ast.FloorDiv: ("// → *", ast.Mult), ast.Mod: ("% → *", ast.Mult), ast.MatMult: ("@ → *", ast.Mult),
    ast.Pow: ("** → *", ast.Mult), ast.BitAnd: ("& → |", ast.BitOr), ast.BitOr: ("| → &", ast.BitAnd),
    ast.Lt: ("< → >=", ast.GtE), ast.LtE: ("<= → >", ast.Gt), ast.Gt: ("> → <=", ast.LtE), ast.GtE: (">= → <", ast.Lt),
    ast.Eq: ("== → !=", ast.NotEq), ast.NotEq: ("!= → ==", ast.Eq), ast.Is: ("is → is not", ast.IsNot),
    ast.IsNot: ("is not → is", ast.Is), ast.In: ("in → not in", ast.NotIn), ast.NotIn: ("not in → in", ast.In),
    ast.And: ("and → or", ast.Or), ast.Or: ("or → and", ast.And),
}  # fmt: skip


@dataclass(frozen=True)
class Change:
    """One place in the core and what is made of it."""

    path: Path
    line: int
    column: int
    number: int
    what: str

    def __str__(self) -> str:
        source = self.path.read_text().splitlines()[self.line - 1].strip()
        return f"{self.path.relative_to(CORE)}:{self.line}:{self.column} {self.what}   {source[:110]}"


class Changer(ast.NodeTransformer):
    """Counts the places of a module, and changes the one that is ``wanted``."""

    def __init__(self, wanted: int = -1) -> None:
        self.wanted, self.count = wanted, 0
        self.found: list[tuple[int, int, str]] = []

    def _here(self, node: ast.AST, what: str) -> bool:
        self.found.append((node.lineno, node.col_offset, what))  # type: ignore[attr-defined]
        self.count += 1
        return self.count - 1 == self.wanted

    def visit_AnnAssign(self, node: ast.AnnAssign) -> ast.AST:
        if node.value is not None:
            node.value = self.visit(node.value)
        return node  # what an annotation says is not run

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        node.args.defaults = [self.visit(one) for one in node.args.defaults]
        node.body = [self.visit(one) for one in node.body]
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        text = isinstance(node.left, ast.JoinedStr) or (
            isinstance(node.left, ast.Constant) and isinstance(node.left.value, str)
        )
        if type(node.op) in OPERATORS and not text and self._here(node, OPERATORS[type(node.op)][0]):
            node.op = OPERATORS[type(node.op)][1]()  # type: ignore[assignment]
        return node

    def visit_BoolOp(self, node: ast.BoolOp) -> ast.AST:
        self.generic_visit(node)
        if self._here(node, OPERATORS[type(node.op)][0]):
            node.op = OPERATORS[type(node.op)][1]()  # type: ignore[assignment]
        return node

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        if self._here(node, OPERATORS[type(node.ops[0])][0]):
            node.ops[0] = OPERATORS[type(node.ops[0])][1]()  # type: ignore[call-overload]
        return node

    def visit_UnaryOp(self, node: ast.UnaryOp) -> ast.AST:
        self.generic_visit(node)
        if isinstance(node.op, ast.USub | ast.Not | ast.Invert) and self._here(node, "no minus or not"):
            return node.operand
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        if isinstance(node.value, bool):
            if self._here(node, f"{node.value} → {not node.value}"):
                return ast.copy_location(ast.Constant(not node.value), node)
        elif isinstance(node.value, int | float):
            other = node.value + 1 if isinstance(node.value, int) else node.value * 1.5 + 0.25 * (node.value == 0.0)
            if self._here(node, f"{node.value} → {other}"):
                return ast.copy_location(ast.Constant(other), node)
        return node

    def visit_FormattedValue(self, node: ast.FormattedValue) -> ast.AST:
        node.value = self.visit(node.value)
        return node  # how many digits are printed is not a rule

    def visit_Subscript(self, node: ast.Subscript) -> ast.AST:
        if isinstance(node.value, ast.Name) and node.value.id in ("Literal", "Annotated"):
            return node
        return self.generic_visit(node)


def changed(change: Change) -> str:
    tree = Changer(change.number).visit(ast.parse(change.path.read_text()))
    return ast.unparse(ast.fix_missing_locations(tree))


def places() -> list[Change]:
    """Every place of the core that can be changed."""
    found = []
    for path in sorted(CORE.rglob("*.py")):
        counter = Changer()
        counter.visit(ast.parse(path.read_text()))
        found += [Change(path, *where, n, what) for n, (*where, what) in enumerate(counter.found)]
    return found


def run_tests(change: Change, folder: str) -> None:
    """In a child: the tests on the changed source; leaves with pytest's code."""
    source = changed(change)
    if "compiled" in change.path.read_text():
        # Compiled code is kept by the file's name: a changed file must not find the whole one's.
        numba.config.CACHE_DIR = folder

    class Loader(importlib.machinery.SourceFileLoader):
        def get_code(self, name: str) -> object:
            if Path(self.path) == change.path:
                return compile(source, self.path, "exec")
            return super().get_code(name)

    hooks = [(importlib.machinery.ExtensionFileLoader, importlib.machinery.EXTENSION_SUFFIXES), (Loader, [".py"])]
    sys.path_hooks.insert(0, importlib.machinery.FileFinder.path_hook(*hooks))
    sys.path_importer_cache.clear()
    importlib.invalidate_caches()
    out = os.open(os.devnull, os.O_WRONLY)
    os.dup2(out, 1)
    os.dup2(out, 2)
    deselected = "--deselect=tests/core/test_shot_format.py::test_solve_on_the_command_line"  # another process
    os._exit(pytest.main(["-x", "-q", "-p", "no:cacheprovider", deselected, *TESTS]))


def noticed(change: Change) -> bool:
    started = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        child = os.fork()
        if child == 0:
            run_tests(change, folder)
        while True:
            done, status = os.waitpid(child, os.WNOHANG)
            if done:
                return status != 0
            if time.monotonic() > started + SECONDS:
                os.kill(child, signal.SIGKILL)
                os.waitpid(child, 0)
                return True
            time.sleep(0.05)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--places", type=int, default=200)
    parser.add_argument("--seed", type=int, default=9)
    parser.add_argument("--skip", type=int, default=0, help="go on after so many of them")
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--only", default="", help="files whose path in the core contains this")
    parser.add_argument("--at", default="", help="one place, as a line of an earlier run names it")
    arguments = parser.parse_args()
    sys.path.insert(0, str(ROOT))
    os.chdir(ROOT)
    if any(name.startswith("zevlo.core") for name in sys.modules):
        raise SystemExit("the core is loaded already: no change would be seen")
    whole = Change(CORE / "shot.py", 1, 0, -1, "nothing")
    if noticed(whole):
        raise SystemExit("the tests do not pass on the whole core: python -m pytest " + " ".join(TESTS))
    every = [one for one in places() if arguments.only in str(one.path.relative_to(CORE))]
    if arguments.at:
        chosen = [
            one for one in every if str(one).startswith(arguments.at + " ") or str(one).startswith(arguments.at + ":")
        ]
    else:
        chosen = random.Random(arguments.seed).sample(every, min(arguments.places, len(every)))[arguments.skip :]
    print(f"{len(chosen)} of {len(every)} places", flush=True)
    count = 0
    with ThreadPoolExecutor(arguments.jobs) as pool:
        for change, found in zip(chosen, pool.map(noticed, chosen), strict=True):
            count += found
            print(f"{'noticed' if found else 'MISSED '} {change}", flush=True)
    print(f"noticed {count} of {len(chosen)}, {100 * count / max(len(chosen), 1):.0f} %")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
