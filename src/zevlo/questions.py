"""Questions and pictures from the command line, without a server or a database: solve, ask, print."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, NoReturn, TypeVar

from pydantic import TypeAdapter, ValidationError

from zevlo.core.bases import Settings
from zevlo.core.camera.camera import Frame
from zevlo.core.camera.from_shot import Framing, cutting_of
from zevlo.core.framing.apply import apply_gesture
from zevlo.core.framing.differences import differences
from zevlo.core.framing.gestures import ShotGesture
from zevlo.core.framing.solve import solve
from zevlo.core.instruments.back.crops import picture_of
from zevlo.core.instruments.focus.stacks import frames_of
from zevlo.core.light.setup import LightSetup
from zevlo.core.plain_words import in_words
from zevlo.core.refused import Refused
from zevlo.core.scene.arrangement import Arrangement, arranged
from zevlo.core.scene.as_shown import as_shown, model_as_shown
from zevlo.core.scene.lit import light_set
from zevlo.core.scene.model.placing import UNITS_M, Placing, corrected
from zevlo.core.scene.model.set_model import EMPTY, SetModel
from zevlo.core.scene.working import WorkingSet
from zevlo.core.shot import Shot
from zevlo.files.arrays import unpack_set
from zevlo.files.json_text import KeyTwice, parsed
from zevlo.files.refusal import CannotRead
from zevlo.files.sandbox import import_model
from zevlo.lab.renderer import Image, Renderer

LONG_SIDE_PX = 960
"""Of a picture whose size is not told, as of a proof."""


Model = TypeVar("Model")


class Question(Settings):
    """A shot, and what a hand does to it."""

    shot: Shot
    gesture: ShotGesture


class CannotAnswer(ValueError):
    """What was asked cannot be answered, with one line that says why."""


def _parser(command: str) -> argparse.ArgumentParser:
    """What a command of this module may be told."""
    words = {
        "solve": "Prints the sheet of a shot, or of a list of shots.",
        "ask": "Prints what comes of a gesture: a shot, its sheet, what was refused.",
        "print": "Makes one picture of a shot.",
    }
    parser = argparse.ArgumentParser(prog=f"zevlo {command}", description=words[command])
    if command == "ask":
        parser.add_argument("question", help='a JSON file with {"shot": …, "gesture": …} or a list of such, or -')
    else:
        parser.add_argument("shot", help="a JSON file, or - for standard input")
    if command == "print":
        parser.add_argument("--out", type=_file("a PNG", ".png"), required=True, help="the picture, a PNG")
        parser.add_argument("--film", type=_file("an OpenEXR", ".exr"), help="the light on the film too, as OpenEXR")
        parser.add_argument("--size", type=_size, help="pixels, as 960x540; else 960 on the long side")
        parser.add_argument("--crop", help="the name of one of its back's crops, instead of the whole frame")
        parser.add_argument("--stack", action="store_true", help="its stack of pictures, merged to one")
        parser.add_argument("--samples", type=int, default=32, help="rays for each pixel (32)")
    parser.add_argument("--set", type=Path, required=command == "print", help="the model it looks at")
    add_placing(parser)
    if command != "solve":
        parser.add_argument("--light", type=Path, help="a JSON file of sun and sky")
    return parser


def add_placing(parser: argparse.ArgumentParser) -> None:
    """How a model that was named is placed."""
    parser.add_argument("--unit", choices=sorted(UNITS_M), help="unit of the model, else as it says or is guessed")
    parser.add_argument("--up", choices=("y", "z"), help="its upright axis, else as it says or is guessed")
    parser.add_argument("--turn", type=float, help="degrees it is turned clockwise, seen from above")


def run(command: str, arguments: list[str]) -> int:
    """Answer one command; exit code 2 with one line for what cannot be answered."""
    chosen = _parser(command).parse_args(arguments)
    answers: dict[str, Callable[[argparse.Namespace], None]] = {"solve": _solve, "ask": _ask, "print": _print}
    try:
        answers[command](chosen)
    except (CannotAnswer, CannotRead) as reason:
        print(f"zevlo {command}: {reason}", file=sys.stderr)
        return 2
    except OSError as error:
        print(f"zevlo {command}: {error.filename}: {error.strerror}", file=sys.stderr)
        return 2
    return 0


def _file(kind: str, ending: str) -> Callable[[str], Path]:
    def named(text: str) -> Path:
        path = Path(text)
        if path.suffix.lower() != ending:
            raise argparse.ArgumentTypeError(f"{text}: what is written is {kind}; its name ends in {ending}")
        return path

    return named


def _size(text: str) -> tuple[int, int]:
    wide, _, high = text.partition("x")
    if not (wide.isdigit() and high.isdigit() and 0 < int(wide) <= 8192 and 0 < int(high) <= 8192):
        raise argparse.ArgumentTypeError(f"{text} is no size; it is written 960x540, up to 8192 each way")
    return int(wide), int(high)


def _refuse(words: str) -> NoReturn:
    raise CannotAnswer(" ".join(words.split()))


def _read_json(name: str | Path) -> Any:
    try:
        return parsed(sys.stdin.read() if str(name) == "-" else Path(name).read_text())
    except OSError as error:
        _refuse(f"{name}: {error.strerror}")
    except KeyTwice as error:
        _refuse(f"{name}: {error}")
    except (ValueError, RecursionError) as error:
        _refuse(f"{name} is not JSON: {error}")


def _checked(kind: TypeAdapter[Model], given: Any) -> Model:
    try:
        return kind.validate_json(json.dumps(given))
    except ValidationError as error:
        _refuse(in_words(error))


_SHOT: TypeAdapter[Shot] = TypeAdapter(Shot)
_QUESTION: TypeAdapter[Question] = TypeAdapter(Question)
_LIGHT: TypeAdapter[LightSetup] = TypeAdapter(LightSetup)


def _light(name: Path | None) -> LightSetup:
    return LightSetup() if name is None else _checked(_LIGHT, _read_json(name))


def _model(chosen: argparse.Namespace) -> SetModel | None:
    """The set that is looked at, read in the sandbox every model is read in."""
    if chosen.set is None:
        return None
    read, placing = set_of(chosen)
    return arranged(read, Arrangement(placing=placing))


def set_of(chosen: argparse.Namespace) -> tuple[SetModel, Placing]:
    """The set that was named, as its file has it, and how it is placed. Raises :class:`CannotAnswer`."""
    if not chosen.set.is_file():
        _refuse(f"{chosen.set}: there is no such file")
    with import_model(chosen.set, chosen.set.name) as taken, taken.arrays.open("rb") as file:
        read = unpack_set(file)
        placing = Placing.model_validate(taken.summary.get("placing", {}))
    unit = None if chosen.unit is None else UNITS_M[chosen.unit]
    try:
        return read, corrected(placing, unit, chosen.up, chosen.turn)
    except Refused as reason:
        _refuse(str(reason))
    except ValidationError as error:
        _refuse(in_words(error))


def _show(answers: Sequence[Any], one: bool) -> None:
    print(json.dumps(answers[0] if one else list(answers), indent=2, ensure_ascii=False))


def _solve(chosen: argparse.Namespace) -> None:
    given = _read_json(chosen.shot)
    shots = [_checked(_SHOT, one) for one in (given if isinstance(given, list) else [given])]
    model = _model(chosen)
    working = None if model is None else WorkingSet(model)
    _show([solve(shot, working).as_json() for shot in shots], not isinstance(given, list))


@dataclass(frozen=True)
class _Answered:
    shot: Shot
    refused: str | None


def _followed(question: Question, working: WorkingSet, light: LightSetup) -> _Answered:
    try:
        lit = None
        if question.gesture.needs_light:
            lit = light_set(as_shown(working, question.shot.left_out, cutting_of(question.shot)), light)
        return _Answered(apply_gesture(question.shot, question.gesture, working, lit), None)
    except Refused as reason:
        return _Answered(reason.nearest or question.shot, str(reason))
    except ValidationError as error:
        return _Answered(question.shot, in_words(error))


def _ask(chosen: argparse.Namespace) -> None:
    given = _read_json(chosen.question)
    questions = [_checked(_QUESTION, one) for one in (given if isinstance(given, list) else [given])]
    model, light = _model(chosen), _light(chosen.light)
    working = WorkingSet(EMPTY if model is None else model)
    answers = []
    for question in questions:
        answered = _followed(question, working, light)
        answers.append(
            {
                "shot": answered.shot.as_json(),
                "sheet": solve(answered.shot, None if model is None else working).as_json(),
                "refused": answered.refused,
                "says": [one.words for one in differences(question.shot, answered.shot)],
            }
        )
    _show(answers, not isinstance(given, list))


def _single(renderer: Renderer, shot: Shot, size: tuple[int, int], plan: list[int], frame: Frame) -> Image:
    """The light on the film of one picture."""
    from zevlo.lab.develop import clean

    *_, film = renderer.passes(shot, size, plan, 1, frame)
    return clean(film)


def _stacked(renderer: Renderer, shot: Shot, size: tuple[int, int], plan: list[int], frame: Frame) -> Image:
    """That of a stack of pictures, merged."""
    from zevlo.lab.merge import merged, shares

    frames = frames_of(Framing(shot))
    taken = shares(renderer.per_metre, frames, size, frame)
    return merged((_single(renderer, one, size, plan, frame) for one in frames), taken)


def _print(chosen: argparse.Namespace) -> None:
    from zevlo.lab.develop import expose, exr, png
    from zevlo.lab.history import words_of
    from zevlo.lab.mitsuba_setup import NoRenderer
    from zevlo.lab.proof import passes_for
    from zevlo.lab.renderer import MitsubaRenderer

    shot, light = _checked(_SHOT, _read_json(chosen.shot)), _light(chosen.light)
    if chosen.samples < 1:
        _refuse("--samples: at least 1")
    for out in (chosen.out, chosen.film):
        if out is not None and not out.absolute().parent.is_dir():
            _refuse(f"{out}: there is no such folder")
    model = _model(chosen)
    assert model is not None, "--set is required"
    try:
        frame, (columns, rows) = picture_of(shot, chosen.crop)
    except Refused as reason:
        _refuse(str(reason))
    share = LONG_SIDE_PX / max(columns, rows)
    size = chosen.size or (max(1, round(columns * share)), max(1, round(rows * share)))
    try:
        shown = model_as_shown(WorkingSet(model), cutting_of(shot))
        plan = passes_for(chosen.samples, size[0] * size[1])
        renderer = MitsubaRenderer(shown, light, shot.left_out)
        light_on_film = (_stacked if chosen.stack else _single)(renderer, shot, size, plan, frame)
    except NoRenderer as missing:
        _refuse(str(missing))
    except (Refused, ValueError) as reason:
        _refuse(str(reason))
    white = solve(shot).exposure.white_cd_m2
    linear, words = expose(light_on_film, white), words_of(shot)
    chosen.out.write_bytes(png(linear, words))
    if chosen.film is not None:
        chosen.film.write_bytes(exr(linear, white, {"comments": shot.name, "zevloShot": words["Description"]}))
