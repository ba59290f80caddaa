"""The command line behind ``./zevlo``: each command loads what it needs and nothing else."""

from __future__ import annotations

import sys
from importlib import import_module

from zevlo.commands import command_named, help_words


def main(arguments: list[str] | None = None) -> int:
    """Run a command of :data:`~zevlo.commands.COMMANDS`; its exit code."""
    name, *rest = (sys.argv[1:] if arguments is None else arguments) or ["--help"]
    command = command_named(name)
    if command is None or not command.module:
        asked = name in ("-h", "--help")
        print(help_words(), file=sys.stdout if asked else sys.stderr)
        return 0 if asked else 2
    code: int = import_module(command.module).run(command.name, rest)
    return code


if __name__ == "__main__":
    raise SystemExit(main())
