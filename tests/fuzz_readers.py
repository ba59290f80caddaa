"""Mutated files against every reader: none may end in Python's words, in a crash, a hang, or in what cannot be stored.

    .zevlo/venv/bin/python -m tests.fuzz_readers --minutes 10 [--seed 1] [--keep folder]

Each file is read in a fork of this process, with limits, as the sandbox would; what is unclear is told by kind, with the
shortest file that showed it kept in the folder.
"""

from __future__ import annotations

import argparse
import io
import json
import os
import random
import re
import resource
import signal
import tempfile
import time
import traceback
from collections import Counter
from pathlib import Path

import trimesh

from tests.files import shed
from tests.files.test_formats import WRITTEN
from zevlo.files.arrays import pack_set
from zevlo.files.reading import Arrival, unheard
from zevlo.files.recognise import read_model
from zevlo.files.refusal import CannotRead
from zevlo.files.sandbox import Limits, why_it_ended
from zevlo.files.summary import summary_of
from zevlo.files.view import origin_of, view_files

SECONDS, MEMORY = 30, 3 * 1024**3
CRASHED = "crashed, and told so"
NUMBERS = [b"0", b"-1", b"1e308", b"-1e308", b"1e-320", b"nan", b"inf", b"65536", b"4294967296", b"99999999999999999999",
           b"0.5", b"", b"null", b"true", b"[]", b"{}", b'"x"', b"\xff", b"\0", b"\xed\xa0\x80"]  # fmt: skip
UNCLEAR = re.compile(
    r"Traceback|Error\b|NoneType|object has|<class|<built|0x[0-9a-f]{6}|Expected|dtype|numpy|\bkey\b|index out"
)


def seeds(folder: Path) -> dict[str, tuple[bytes, str]]:
    """One small file of every kind that is read, by the writers the tests of the formats use."""
    found = {name: (make(folder), file) for name, (make, file, _, _) in WRITTEN.items()}
    plain = shed.scene()
    found["STL"] = (plain.export(file_type="stl"), "shed.stl")
    found["STL as text"] = (trimesh.exchange.stl.export_stl_ascii(plain.to_mesh()).encode(), "shed.stl")
    found["PLY"] = (plain.to_mesh().export(file_type="ply"), "shed.ply")
    found["PLY as text"] = (plain.to_mesh().export(file_type="ply", encoding="ascii"), "shed.ply")
    found["OBJ alone"] = (
        b"\n".join(b"v %d %d %d" % (n % 3, n // 3, n) for n in range(9)) + b"\nf 1 2 3\nf 4 5 6 7\n",
        "a.obj",
    )
    glb = found["glTF"][0]
    size = int.from_bytes(glb[12:16], "little")
    document = json.loads(glb[20 : 20 + size])
    document["buffers"][0]["uri"] = "data:application/octet-stream;base64," + _base64(glb[28 + size :])
    found["glTF as text"] = (json.dumps(document).encode(), "shed.gltf")
    return found


def _base64(raw: bytes) -> str:
    import base64

    return base64.b64encode(raw).decode()


def mutated(raw: bytes, chance: random.Random) -> bytes:
    """The file with one to four things wrong in it."""
    data = bytearray(raw)
    for _ in range(chance.choice([1, 1, 1, 2, 4])):
        if not data:
            break
        at = chance.randrange(len(data))
        how = chance.randrange(8)
        if how == 0:
            data[at] ^= 1 << chance.randrange(8)
        elif how == 1:
            del data[at : at + chance.choice([1, 2, 4, 30, 400])]
        elif how == 2:
            data[at:at] = data[at : at + chance.choice([1, 8, 60])] * chance.choice([1, 3])
        elif how == 3:
            data = data[:at]
        elif how == 4:
            data[at : at + 4] = chance.choice([b"\0\0\0\0", b"\xff\xff\xff\xff", b"\xff\xff\xff\x7f", b"\0\0\xc0\x7f"])
        else:
            # A number or a word of a text is another one.
            words = list(re.finditer(rb"[-+.\w]+", bytes(data[at : at + 200])))
            if words:
                word = chance.choice(words)
                new = chance.choice(NUMBERS) if how < 7 else chance.choice(words)[0]
                data[at + word.start() : at + word.end()] = new
    return bytes(data)


def read_whole(path: Path, name: str, unpacked: Path) -> None:
    """All the sandbox does with a file."""
    read = read_model(Arrival(path, name), unpacked, unheard)
    found = json.dumps(summary_of(read, 0.0), allow_nan=False)
    if "\\u0000" in found or re.search(r"\\ud[89a-f]", found):
        raise AssertionError("what cannot be stored")
    pack_set(read.model, io.BytesIO())
    for _ in view_files(read.model, origin_of(read.model)):
        pass


def outcome(path: Path, name: str, folder: Path) -> str:
    """``ok``, ``refused``, or what went wrong, in a fork of its own."""
    given, heard = os.pipe()
    child = os.fork()
    if child == 0:
        words = "crash"
        try:
            os.close(given)
            silent = os.open(os.devnull, os.O_WRONLY)
            os.dup2(silent, 1)
            os.dup2(silent, 2)
            resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
            resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
            read_whole(path, name, folder / "unpacked")
            words = "ok"
        except CannotRead as refusal:
            words = f"unclear words: {refusal}" if UNCLEAR.search(str(refusal)) else "refused"
        except MemoryError:
            words = "memory: " + traceback.format_exc().splitlines()[-3].strip()[:160]
        except BaseException as error:
            where = traceback.extract_tb(error.__traceback__)
            own = [one for one in where if "/zevlo/" in one.filename] or list(where)
            words = f"{type(error).__name__} at {Path(own[-1].filename).name}:{own[-1].name}: {str(error)[:90]}"
        finally:
            os.write(heard, words.encode("utf-8", "replace")[:4000])
            os._exit(0)
    os.close(heard)
    signal.alarm(0)
    deadline = time.monotonic() + SECONDS
    while True:
        done, status = os.waitpid(child, os.WNOHANG)
        if done:
            break
        if time.monotonic() > deadline:
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            os.close(given)
            return "hang"
        time.sleep(0.002)
    words = os.read(given, 5000).decode()
    os.close(given)
    if not words and os.WIFSIGNALED(status):
        # A library that crashes takes its process with it; what the artist is told then is the sandbox's to say.
        words = why_it_ended(-os.WTERMSIG(status), "", Limits(SECONDS, MEMORY, MEMORY))
        crash = "unclear words" if UNCLEAR.search(words) else CRASHED
        return f"{crash}: {signal.Signals(os.WTERMSIG(status)).name}"
    return words or f"ended with {status}"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=10.0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--keep", type=Path, default=Path(tempfile.gettempdir()) / "zevlo-fuzz")
    chosen = parser.parse_args()
    chosen.keep.mkdir(exist_ok=True)
    chance = random.Random(chosen.seed)
    counts: Counter[str] = Counter()
    shortest: dict[str, int] = {}
    with tempfile.TemporaryDirectory() as folder:
        known = seeds(Path(folder))
        for name, (raw, file) in known.items():
            path = Path(folder) / "came"
            path.write_bytes(raw)
            with tempfile.TemporaryDirectory() as own:
                read_whole(path, file, Path(own) / "unpacked")
            print(f"{name}: {len(raw)} bytes", flush=True)
    ends = time.monotonic() + 60.0 * chosen.minutes
    while time.monotonic() < ends:
        name = chance.choice(list(known))
        raw, file = known[name]
        wrong = mutated(raw, chance)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "came"
            path.write_bytes(wrong)
            words = outcome(path, file, Path(folder))
        counts[words if words in ("ok", "refused") else CRASHED if words.startswith(CRASHED) else "unclear"] += 1
        if words not in ("ok", "refused"):
            kind = f"{name}: {words}"
            key = re.sub(r"\d+|'[^']*'", "…", kind)
            counts[key] += 1
            if len(wrong) < shortest.get(key, 1 << 60):
                shortest[key] = len(wrong)
                if counts[key] == 1:
                    print(kind, flush=True)
                slug = re.sub(r"\W+", "-", key)[:120]
                (chosen.keep / f"{slug}.bin").write_bytes(wrong)
    print(json.dumps(counts, indent=1, ensure_ascii=False))
    return 1 if counts["unclear"] else 0


if __name__ == "__main__":
    raise SystemExit(main())
