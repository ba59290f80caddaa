"""The worked examples of docs/api.md do what they say, on one shot and small, so that nobody waits."""

import re
import zipfile

import pytest
from pxr import Usd

from zevlo.settings import ROOT

SMALLER = {
    '"http://127.0.0.1:8420"': "ADDRESS", '["shots"]\n': '["shots"][:1]\n', '"px": 1600': '"px": 60', '"good"': '"draft"',
    "time.sleep(5)": "time.sleep(0.2)",
}  # fmt: skip


@pytest.mark.filterwarnings("ignore::ResourceWarning")
def test_the_worked_examples_do_what_they_say(served, tmp_path, monkeypatch):
    text = (ROOT / "docs" / "api.md").read_text()
    code = "\n".join(re.findall(r"```python\n(.*?)```", text, re.S))
    for usual, small in SMALLER.items():
        assert usual in code, usual
        code = code.replace(usual, small)
    monkeypatch.chdir(tmp_path)
    names = {"ADDRESS": served.address}
    with served.worker():
        exec(compile(code, "docs/api.md", "exec"), names)
    assert [one["state"] for one in names["finals"]] == ["done"]
    made = {path.suffix for path in tmp_path.iterdir()}
    assert {".png", ".exr", ".usda", ".zip"} <= made
    with zipfile.ZipFile("documents.zip") as folder:
        assert {name.rpartition(".")[2] for name in folder.namelist()} == {"pdf", "png", "dxf"}
    assert Usd.Stage.Open("shots.usda").GetDefaultPrim()
    assert all(one["changes"] == [] for one in names["came"]["cameras"])
