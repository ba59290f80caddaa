"""A package manager somebody else is using, as in a new machine's first minutes: it is waited for, with words."""

import importlib.util
import os
import sys
from importlib.machinery import SourceFileLoader

import pytest

from zevlo.settings import ROOT

BUSY = "E: Could not get lock /var/lib/dpkg/lock-frontend. It is held by process 42 (apt-get)"
LISTS = "E: Could not get lock /var/lib/apt/lists/lock. It is held by process 42 (apt-get)\nE: Unable to lock directory /var/lib/apt/lists/"
"""As apt-get 2.6 says it (Debian 12)."""


@pytest.fixture
def script(monkeypatch):
    """The script, as a module; it waits no longer than it must."""
    monkeypatch.setattr(sys, "path", list(sys.path))
    loader = SourceFileLoader("zevlo_script", str(ROOT / "zevlo"))
    module = importlib.util.module_from_spec(importlib.util.spec_from_loader("zevlo_script", loader))
    monkeypatch.setattr(sys, "dont_write_bytecode", True)
    loader.exec_module(module)
    monkeypatch.setattr(module, "LOOKS_EVERY_S", 0.01)
    return module


def manager(tmp_path, words, times):
    """A package manager that is busy so often, and how often it was asked."""
    asked = tmp_path / "asked"
    program = tmp_path / "apt-get"
    program.write_text(f"""#!/bin/sh
echo x >> {asked}
if [ $(wc -l < {asked}) -le {times} ]; then printf '%s\\n' "{words}" >&2; exit 100; fi
""")
    program.chmod(0o755)
    return [str(program)], lambda: len(asked.read_text().splitlines())


@pytest.mark.parametrize("words", [BUSY, LISTS])
def test_it_is_waited_for_and_said(script, tmp_path, capsys, words):
    command, asked = manager(tmp_path, words, 3)
    script.packages(command, "Installing system packages")
    assert asked() == 4
    assert capsys.readouterr().err.count("another program is installing packages") == 1


def test_another_trouble_is_told_at_once(script, tmp_path, capsys):
    command, asked = manager(tmp_path, "E: Unable to locate package libllvm19", 9)
    with pytest.raises(SystemExit):
        script.packages(command, "Installing system packages")
    assert asked() == 1
    assert "Unable to locate package" in capsys.readouterr().err
    script.packages(command, "Reading what packages there are", needed=False)


def test_one_that_is_busy_for_ever_is_given_up(script, tmp_path, monkeypatch):
    monkeypatch.setattr(script, "PACKAGES_WAIT_S", 0.05)
    command, asked = manager(tmp_path, BUSY, 10**6)
    with pytest.raises(SystemExit):
        script.packages(command, "Installing system packages")
    assert asked() > 1
    assert os.environ.get("LC_ALL") != "C"
