"""The open format stands on the ground floor: whoever reads a shot loads no geometry."""

import ast
import json
import re
import subprocess
import sys
from graphlib import TopologicalSorter
from pathlib import Path

import zevlo.core
from zevlo.settings import ROOT

CORE = Path(zevlo.core.__file__).parent
DESK = ROOT / "desk" / "src"
ASK = "import json, sys; import zevlo.core.shot, zevlo.core.shot.patch; print(json.dumps(sorted(sys.modules)))"


def test_importing_the_shot_loads_its_settings_and_nothing_of_geometry():
    loaded = json.loads(subprocess.run([sys.executable, "-c", ASK], check=True, capture_output=True, text=True).stdout)
    own = {name for name in loaded if name.split(".")[0] == "zevlo"}
    assert len(own) <= 22
    assert {name for name in own if not name.startswith(("zevlo.core.shot", "zevlo.text"))} == {
        "zevlo",
        "zevlo.core",
        "zevlo.core.bases",
        "zevlo.core.refused",
    }
    assert not {"numpy", "numba", "shapely", "scipy", "embreex", "trimesh"} & {name.split(".")[0] for name in loaded}


def test_who_reads_cameras_or_asks_what_a_command_does_waits_for_no_compiler():
    asked = "import sys; import zevlo.convert, zevlo.questions; print('numba' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", asked], check=True, capture_output=True).stdout == b"False\n"


def test_no_folder_of_the_core_holds_more_than_one_finds_by_name():
    for folder in (CORE, *(path for path in CORE.rglob("*") if path.is_dir() and path.name != "__pycache__")):
        inside = [path.name for path in folder.iterdir() if path.name not in ("__init__.py", "__pycache__")]
        assert len(inside) <= 20, folder


def test_nothing_is_imported_for_type_checkers_alone():
    """Who reads imports, a person or a contract, sees all of them."""
    for path in CORE.parent.rglob("*.py"):
        tree = ast.parse(path.read_text())
        for branch in (node for node in ast.walk(tree) if isinstance(node, ast.If)):
            if "TYPE_CHECKING" in ast.unparse(branch.test):
                assert not [one for one in branch.body if isinstance(one, ast.Import | ast.ImportFrom)], path


def test_no_file_of_the_desk_imports_another_in_a_circle():
    """ESLint holds it for what runs; here for types as well, whose circles hide where a thing lives."""
    imports = {}
    for path in DESK.rglob("*.ts*"):
        asked = re.findall(r'(?:import|export)\s[^;"]*?from\s+"(\.[^"]+)"', path.read_text())
        places = [(path.parent / one).resolve() for one in asked]
        imports[path] = {
            found
            for at in places
            for found in (at.with_name(f"{at.name}.ts"), at.with_name(f"{at.name}.tsx"), at / "index.ts")
            if found.exists()
        }
    assert sum(map(len, imports.values())) > 200
    TopologicalSorter(imports).prepare()


def constants_of(tree):
    """The nodes that give a module its constants, each with their names."""
    for node in tree.body:
        targets = getattr(node, "targets", [getattr(node, "target", None)])
        given = [one for target in targets for one in getattr(target, "elts", [target])]
        names = {one.id for one in given if isinstance(one, ast.Name) and re.fullmatch(r"_?[A-Z][A-Z0-9_]+", one.id)}
        if names:
            yield node, names


def test_no_constant_stands_below_its_first_use():
    """But for tables of what a module defines, which can stand nowhere else."""
    for path in CORE.parent.rglob("*.py"):
        tree = ast.parse(path.read_text())
        defined = {one.name: one.lineno for one in tree.body if isinstance(one, ast.FunctionDef | ast.ClassDef)}
        read = [one for one in ast.walk(tree) if isinstance(one, ast.Name) and isinstance(one.ctx, ast.Load)]
        for node, names in constants_of(tree):
            first = min((one.lineno for one in read if one.id in names), default=node.lineno)
            of_the_module = {one.id for one in ast.walk(node.value) if isinstance(one, ast.Name)} & set(defined)
            defined |= dict.fromkeys(names, max((defined[one] for one in of_the_module), default=0))
            assert first >= node.lineno or any(defined[one] > first for one in of_the_module), f"{path}: {names}"


def test_who_calls_what_takes_much_is_told_of_each():
    """Of more than four arguments of the core a docstring names each."""
    for path in CORE.rglob("*.py"):
        for one in ast.walk(ast.parse(path.read_text())):
            if isinstance(one, ast.FunctionDef) and not one.name.startswith("_"):
                names = {arg.arg for arg in (*one.args.args, *one.args.kwonlyargs)} - {"self", "cls"}
                found = ast.get_docstring(one) or ""
                assert len(names) <= 4 or not {name for name in names if name not in found}, f"{path}: {one.name}"


def test_the_docs_name_files_that_are_there():
    named = [
        one
        for page in (ROOT / "docs").glob("*.md")
        for one in re.findall(r"[\w/]+/\w+\.(?:py|tsx?)\b", page.read_text())
    ]
    assert len(named) > 30
    roots = (ROOT, CORE.parent, CORE, ROOT / "desk", DESK)
    assert [one for one in named if not any((root / one).exists() for root in roots)] == []
