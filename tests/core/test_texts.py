"""Each side says its texts in one place, in an area of their own, so that they can be read through and translated."""

import ast
import json
import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

import pytest
from tests.core.test_any_gesture import SHOTS

from zevlo.settings import ROOT

DESK = ROOT / "desk" / "src"
ENGLISH = sorted(path for path in (DESK / "text" / "en").glob("*.ts") if path.stem != "index")


def test_every_text_of_the_desk_is_said_somewhere():
    """ESLint sees to it that nothing is said which is not here."""
    said = {found for one in DESK.rglob("*.ts*") for found in re.findall(r"\b(\w+)\.(?=(\w+))", one.read_text())}
    texts = {(path.stem, key) for path in ENGLISH for key in re.findall(r"^  (\w+):", path.read_text(), re.M)}
    assert len(texts) > 500
    assert texts <= said


@pytest.mark.parametrize("path", ENGLISH, ids=lambda path: path.stem)
def test_every_text_of_the_desk_stands_by_itself(path: Path):
    """A text that begins or ends with a gap is a piece of a sentence, which no other language puts together so."""
    said = [found[2] for found in re.finditer(r"""(["`])((?:(?!\1).)+)\1""", path.read_text()) if found[2][:2] != "./"]
    assert said
    assert not [text for text in said if re.search(r"^[ ,;.·]|[ ,;·]$", text)]


SERVER = ROOT / "src" / "zevlo"
AREAS = sorted(path for path in (SERVER / "text").glob("*.py") if path.stem != "__init__")
SAID = re.compile(r"\b(say|everywhere)\.(\w+)")


def _said() -> dict[str, set[str]]:
    """Texts that are said by the server, by their area: ``say`` is the area a file is of."""
    found: dict[str, set[str]] = {path.stem: set() for path in AREAS}
    for path in SERVER.rglob("*.py"):
        source = path.read_text()
        own = re.search(r"from zevlo\.text import .*?(\w+) as say", source)
        for area, name in SAID.findall(source) if path.parent != SERVER / "text" else ():
            found[own[1] if area == "say" and own else area].add(name)
    return found


def test_every_text_of_the_server_is_said_somewhere():
    said = _said()
    for path in AREAS:
        names = {name for name in vars(import_module(f"zevlo.text.{path.stem}")) if not name.startswith("_")}
        assert names == said[path.stem], path.stem


@pytest.fixture(scope="module")
def spoken(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The server with a second language, which says everything between « and »."""
    home = tmp_path_factory.mktemp("spoken") / "zevlo"
    home.mkdir()
    # All but the texts is the very same, with what is compiled of it.
    for path in SERVER.iterdir():
        if path.name not in ("text", "__pycache__"):
            (home / path.name).symlink_to(path)
    shutil.copytree(SERVER / "text", home / "text", ignore=shutil.ignore_patterns("__pycache__"))
    (home / "text" / "xx").mkdir()
    for path in AREAS:
        tree = ast.parse(path.read_text())
        for node in ast.walk(tree):
            if (isinstance(node, ast.Return) and node.value is not None) or (
                isinstance(node, ast.Assign) and isinstance(node.value, ast.Constant)
            ):
                node.value = _marked(node.value)
        (home / "text" / "xx" / path.name).write_text(ast.unparse(ast.fix_missing_locations(tree)))
    return home.parent


def _marked(value: ast.expr) -> ast.expr:
    left, right = ast.Constant("«"), ast.Constant("»")
    return ast.BinOp(ast.BinOp(left, ast.Add(), value), ast.Add(), right)


def _in(language: str, home: Path, code: str) -> object:
    asked = {**os.environ, "PYTHONPATH": str(home), "ZEVLO_LANGUAGE": language}
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, cwd=home, env=asked)
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


TOLD = """
import json
from zevlo.core.framing.solve import solve
from zevlo.core.shot import Shot
print(json.dumps([solve(Shot.model_validate(one)).model_dump(mode="json") for one in json.loads(SHOTS)]))
"""


def test_another_language_is_a_folder_beside_and_is_spoken_by_the_whole_server(spoken: Path):
    shots = json.dumps([shot.as_json() for shot in SHOTS.values()])
    found = _in("xx", spoken, TOLD.replace("SHOTS", repr(shots)))
    plain = _in("en", spoken, TOLD.replace("SHOTS", repr(shots)))
    assert json.loads(json.dumps(found, ensure_ascii=False).replace("«", "").replace("»", "")) == plain
    assert not {text for text in _texts(found) if re.search(r"[a-z]{3,} [a-z]{2,}", _between_marks(text))}


WRITTEN = """
import hashlib, json, tempfile, zipfile
from pathlib import Path
from zevlo.core.exchange.camera_record import camera_record_of
from zevlo.core.exchange.receiver import Receiver
from zevlo.core.scene.model.set_model import EMPTY
from zevlo.core.scene.stand_ins.made import new_stand_in
from zevlo.core.shot import Shot
from zevlo.core.documents.page.paper import PAPERS
from zevlo.files.cameras.formats import FORMATS, write_cameras

def digest(path):
    if not zipfile.is_zipfile(path):
        return hashlib.sha256(path.read_bytes()).hexdigest()
    # A workbook tells when it was made.
    with zipfile.ZipFile(path) as archive:
        return [hashlib.sha256(archive.read(one)).hexdigest() for one in archive.namelist() if "core.xml" not in one]

cameras = [camera_record_of(Shot.model_validate(one)) for one in json.loads(SHOTS)]
found = {"shot": Shot().as_json(), "papers": [one.name for one in PAPERS], "set": [one.name for one in EMPTY.parts]}
for kind in ("sweep", "standing", "seated", "panel"):
    found[kind] = new_stand_in(kind, 0.0, 0.0, 0.0, (), "a1").part_id
with tempfile.TemporaryDirectory() as room:
    for kind in FORMATS:
        for ending in kind.endings:
            path = Path(room) / f"cameras{ending}"
            write_cameras(cameras, path, Receiver())
            found[ending] = digest(path)
print(json.dumps(found))
"""


def test_what_is_kept_and_what_others_read_is_the_same_in_any_language(spoken: Path):
    """Names that are data (ids, columns, defaults of the format) are no texts."""
    shots = json.dumps([shot.as_json() for shot in SHOTS.values()])
    code = WRITTEN.replace("SHOTS", repr(shots))
    assert _in("xx", spoken, code) == _in("en", spoken, code)


def _between_marks(text: str) -> str:
    """What of a text no area says."""
    while (left := re.sub(r"«[^«»]*»", "", text)) != text:
        text = left
    return text


def _texts(given: object) -> Iterator[str]:
    """Every text in an answer: what stands in it, not what it is called by."""
    if isinstance(given, str):
        yield given
    elif isinstance(given, dict):
        for value in given.values():
            yield from _texts(value)
    elif isinstance(given, list):
        for value in given:
            yield from _texts(value)


def test_a_language_that_is_not_there_is_told(spoken: Path):
    asked = {**os.environ, "PYTHONPATH": str(spoken), "ZEVLO_LANGUAGE": "../etc"}
    done = subprocess.run([sys.executable, "-c", "import zevlo.text"], capture_output=True, text=True, env=asked)
    assert "which is not spoken here" in done.stderr
