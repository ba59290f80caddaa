"""What ``./zevlo`` can do: one list, which the script, its help and the program behind it all go by.

Only Python's standard library is used here: the script reads it before anything is installed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Needs = Literal["python", "system", "desk", "testing"]
"""What has to be set up: Python's packages alone; PostgreSQL and LLVM too; the desk too; what tests need too."""


@dataclass(frozen=True)
class Command:
    """A command, what it is for, what it needs, and where it is: a module with ``run(arguments)``, or a file of the
    checkout that is run as it is."""

    name: str
    words: str
    needs: Needs
    module: str = ""
    file: str = ""
    shown: bool = True
    """Whether an artist calls it; the others are called by ``start`` and by the tests."""


COMMANDS = (
    Command("start", "set up if needed, then run Zevlo and print its address", "desk", "zevlo.start"),
    Command("test", "every check and test, as CI runs them; test fast: those that need nothing but Python",
            "testing", file="tests/run.py"),
    Command("bench", "the benchmarks, each against its reference", "desk", file="bench/run.py"),
    Command("solve", "print the sheet of a shot.json (- for standard input); --set model", "python", "zevlo.questions"),
    Command("ask", "print what comes of a gesture, as on the desk; --set model", "python", "zevlo.questions"),
    Command("print", "make one picture of a shot: shot.json --set model --out picture.png", "system",
            "zevlo.questions"),
    Command("convert", "take shots from one kind of file to another", "python", "zevlo.convert"),
    Command("schema", "print the JSON Schema of shot, sheet and gestures", "python", "zevlo.reference"),
    Command("worker", "a lab worker for a database elsewhere: --database postgresql://…", "system", "zevlo.serving"),
    Command("serve", "run the server", "desk", "zevlo.serving", shown=False),
    Command("prepare", "migrate the database and load the demonstration set", "desk", "zevlo.serving", shown=False),
    Command("openapi", "print the API's description", "python", "zevlo.serving", shown=False),
)  # fmt: skip


def command_named(name: str) -> Command | None:
    """The command of that name; None where there is none."""
    return next((one for one in COMMANDS if one.name == name), None)


def help_words() -> str:
    """What an artist reads who asks what there is."""
    shown = [one for one in COMMANDS if one.shown]
    width = max(len(one.name) for one in shown)
    first = "./zevlo " + " · ".join(one.name for one in shown)
    lines = [f"  {one.name:<{width}}  {one.words}" for one in shown]
    return "\n".join([first, "", *lines, "", "./zevlo COMMAND --help tells what each may be told."])
