"""./zevlo test: the fast checks first, then pytest; `fast`: of the tests only those that need nothing but Python.

Other arguments go to pytest.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent


def check(name: str, command: list[str], where: Path = ROOT) -> None:
    started = time.monotonic()
    done = subprocess.run(command, cwd=where, check=False, capture_output=True, text=True)
    print(f"{'ok  ' if done.returncode == 0 else 'FAIL'} {name} ({time.monotonic() - started:.1f} s)", flush=True)
    if done.returncode:
        print(done.stdout + done.stderr)
        raise SystemExit(1)


def types_are_current() -> None:
    """The desk's types and limits are the API's: made anew, they are what is committed."""
    npx, node = shutil.which("npx") or "npx", shutil.which("node") or "node"
    with tempfile.TemporaryDirectory() as folder:
        description = Path(folder) / "openapi.json"
        with description.open("w") as out:
            subprocess.run([sys.executable, "-m", "zevlo.cli", "openapi"], check=True, stdout=out)
        made = {name: str(Path(folder) / name) for name in ("schema.ts", "limits.ts")}
        types = [npx, "openapi-typescript", str(description), "-o", made["schema.ts"]]
        limits = [node, "limits.js", str(description), made["limits.ts"]]
        for command in (types, limits):
            subprocess.run(command, cwd=ROOT / "desk", check=True, capture_output=True)
        for name, written in made.items():
            if Path(written).read_text() != (ROOT / "desk/src/api" / name).read_text():
                print(f"FAIL desk/src/api/{name} is not what the API says; see docs/architecture.md, Types")
                raise SystemExit(1)
    print("ok   the desk's types and limits are the API's", flush=True)


def python_checks() -> None:
    check("ruff", [str(BIN / "ruff"), "check", "."])
    check("ruff format", [str(BIN / "ruff"), "format", "--check", "."])
    check("mypy", [str(BIN / "mypy"), "-p", "zevlo"])
    check("import-linter", [str(BIN / "lint-imports"), "--no-cache"])


def desk_checks() -> None:
    check("tsc, ESLint and Prettier", [shutil.which("npm") or "npm", "run", "--silent", "check"], ROOT / "desk")
    types_are_current()


def main() -> int:
    arguments = sys.argv[1:]
    fast = arguments[:1] == ["fast"]
    if fast:
        arguments = ["-m", "fast", *arguments[1:]]
    if not arguments or fast:
        # Each side's take one core.
        with ThreadPoolExecutor(2) as both:
            for side in [both.submit(python_checks), both.submit(desk_checks)]:
                side.result()
    if not arguments:
        # Three at a time on two cores: a third of the time a test waits, for a picture, a page or a clock.
        arguments = ["-n", "3", "--dist", "worksteal"]
    return subprocess.call([sys.executable, "-m", "pytest", *arguments], cwd=ROOT, env={**os.environ})


if __name__ == "__main__":
    raise SystemExit(main())
