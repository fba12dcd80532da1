"""Gives every reader of what comes from elsewhere inputs that nobody would write, and counts what it cannot bear.

    python -m bench.fuzzing [DOOR...] [--count N] [--seed N]

Inputs are changed by chance from those in tests/corpus, and from a few that are right. One that ends with anything but a
result or a sentence, or takes over a second per 100 kB, goes into tests/corpus, where a test gives it to its door again.
"""  # fmt: skip

from __future__ import annotations

import argparse
import hashlib
import json
import random
import resource
import struct
import sys
import tempfile
import time
import zlib
from collections.abc import Callable, Sequence
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from metrograph.archive.parts import catalogue, list_path
from metrograph.archive.place import ArchivePlace
from metrograph.archive.shared_logs import log_path
from metrograph.core.bare_pictures import bare
from metrograph.core.errors import MetrographError
from metrograph.hearing.heard_cues import cue_of
from metrograph.hearing.listening import Ears, listen
from metrograph.hearing.stream.captions import read_words
from metrograph.intake.notes import read_notes
from metrograph.intake.probe import Probe
from metrograph.intake.probed import read_probed, to_cues
from metrograph.intake.whole_logs import read_document
from metrograph.log.lexicon import load_lexicon
from metrograph.log.reader import read_log_bytes
from metrograph.privacy.mask import Mask
from metrograph.run.cards import Release
from metrograph.run.folding.fold import fold
from metrograph.store.local.card_files import parse_card
from metrograph.watch.inputs.display_pixels import Canvas
from metrograph.watch.inputs.display_wire import DisplayLostError
from metrograph.watch.inputs.terminal_sources import read_recording
from metrograph.watch.pages.terminal_pages import found_in_text

CORPUS = Path(__file__).parent.parent / "tests/corpus"
_DEMO = Path(__file__).parent.parent / "src/metrograph/demo/logbook"
_SLOW = 1.0  # seconds per 100 kB, and for anything shorter
_LARGEST = 100_000  # bytes of an input
_NAME = "a" * 64


class Door(NamedTuple):
    """A reader of what comes from elsewhere. take: gives it an input; right: some that it should bear; words: of its language."""

    take: Callable[[bytes, Path], object]
    right: Sequence[bytes]
    words: Sequence[bytes]


class _Bytes:
    """What a display sends, from its beginning to its end."""

    def __init__(self, data: bytes) -> None:
        self.data, self.at = data, 0

    def exactly(self, count: int) -> bytes:
        """So many bytes, as long as there are any."""
        if count > len(self.data) - self.at:
            raise DisplayLostError("the display closed the connection")
        self.at += count
        return self.data[self.at - count : self.at]

    def numbers(self, form: str) -> tuple[int, ...]:
        """Numbers in network order."""
        return struct.unpack(f">{form}", self.exactly(struct.calcsize(f">{form}")))


def _display(data: bytes, _folder: Path) -> None:
    canvas, wire = Canvas(64, 48), _Bytes(data)
    while True:
        canvas.take(wire)  # type: ignore[arg-type]


def _terminal(data: bytes, folder: Path) -> None:
    (folder / "a.cast").write_bytes(data)
    for _ in found_in_text(read_recording(folder / "a.cast"), lambda _: True):
        pass


def _log(data: bytes, _folder: Path) -> None:
    log, _ = read_log_bytes(data, "a.metro", load_lexicon)
    run = fold(log, "a-1")
    Mask([run]).apply(run)


def _probe(data: bytes, folder: Path) -> None:
    for path in (
        "etc/os-release",
        "etc/apt/sources.list",
        "usr/share/applications/a.desktop",
        "var/lib/dpkg/status",
        "etc/fstab",
    ):
        (folder / path).parent.mkdir(parents=True, exist_ok=True)
        (folder / path).write_bytes(data)
    Probe(str(folder)).run()


def _archive(data: bytes, folder: Path) -> None:
    place = ArchivePlace(str(folder))
    for path in (list_path(_NAME), log_path(_NAME)):
        (folder / path).parent.mkdir(parents=True, exist_ok=True)
        (folder / path).write_bytes(data)
    catalogue(place)


def _rectangle(encoding: int, body: bytes, size: tuple[int, int] = (16, 16)) -> bytes:
    return struct.pack(">HHHHi", 0, 0, *size, encoding) + body


_PACKED = zlib.compress(bytes(16 * 16 * 4))
_LOGS = [path.read_bytes() for path in sorted((_DEMO / "runs").glob("*.metro"))[:4]]
_CARDS = [path.read_bytes() for path in sorted((_DEMO / "releases").glob("*.toml"))[:4]]
_HEADER = b'{"version": 2, "width": 80, "height": 25}\n'
_PROBED = {
    "metrograph-probe": 1,
    "taken": "2026-05-02T10:00:00+02:00",
    "state": None,
    "facts": [],
    "readings": [],
    "software": [],
    "layout": None,
    "missing": [],
}


def _heard(data: bytes) -> None:
    """A talk, understood and told in cues."""
    for said in listen(read_words(data, "a.vtt"), Ears()).statements:
        cue_of(said, {})


DOORS = {
    "terminal": Door(
        _terminal,
        [_HEADER + b'[0.5, "o", "Host name? "]\n[1.5, "r", "90x30"]\n[2.5, "o", "\\u001b[2J\\u001b[5;10HDisk"]\n'],
        [b"\\u001b[", b"\\u001b]", b"\\u0301", b"?5A", b";1;2;3m", b"9999", b'"r", "', b"[1e99", b"\\u001b#8", b"\\u001b(0", b"\xc2\xb2"],
    ),
    "display": Door(
        _display,
        [_rectangle(0, bytes(1024)), _rectangle(1, bytes(4)), _rectangle(5, b"\x1f" + bytes(20)), _rectangle(6, struct.pack(">I", len(_PACKED)) + _PACKED), _rectangle(-223, b"", (80, 60))],
        [struct.pack(">i", encoding) for encoding in (0, 1, 5, 6, -223)] + [b"\xff\xff", b"\0\0", _PACKED],
    ),
    "captions": Door(
        lambda data, _: read_notes(data, "a.srt"),
        [b"1\n00:00:05,000 --> 00:00:06,000\nscreen Disk\n\n", b"WEBVTT\n\n00:05.000 --> 00:06.000\nscreen Disk\n", b"0:05 screen Disk\n"],
        [b" --> ", b"99:99:99,999", b"WEBVTT", b"\n\n", b"0:05", b"screen "],
    ),
    "talk": Door(
        lambda data, _: _heard(data),
        [
            b"WEBVTT\n\n00:05.000 --> 00:09.000\nlarkmoor 9 memory at rest<00:06.000><c> is six hundred megabytes</c>\n\n00:09.000 --> 00:12.000\nkeyboard i take german\n",
            b'{"segments": [{"start": 1, "end": 2, "text": "kernel six point eighteen", "words": [{"word": "kernel", "start": 1, "end": 1.5}]}]}',
            b"0:05 the disk, erase disk. 12:44, half an hour\n",
        ],
        [b" --> ", b"<00:99:99.999>", b"six hundred and ", b"point ", b"\n\n", b'"start": ', b"1e999", b"null", b"[", b"12-", "§n1 §p9 ".encode(), b"in the 8 it was "],
    ),
    "log": Door(_log, _LOGS, [b"\n    ", b" | ", b"=", b"screen ", b"0:00 ", b"9999:59:59", b"wait\n", b"..", b"about "]),
    "card": Door(
        lambda data, _: parse_card(data.decode("utf-8", "replace"), Release, "a.toml"),
        _CARDS, [b"[minimum]\n", b"memory = ", b'"4 GiB"', b"[[", b"inf", b"\n", b"'''"],
    ),
    "document": Door(
        lambda data, _: read_document(data, "a.json"),
        [b'{"format": "metrograph", "version": 1, "runs": []}'], [b'"cues"', b"[", b"{", b"1e999", b'"at": '],
    ),
    "probed": Door(
        lambda data, _: to_cues(read_probed(data, "a.json")),
        [json.dumps(_PROBED).encode()], [b'"facts"', b"[", b"{", b"1e999", b'"name": ', b'"value": ', b"null"],
    ),
    "probe": Door(
        _probe,
        [b'ID=moor\nPRETTY_NAME="Moor 4"\n', b"deb http://host/x y z\n", b"[Desktop Entry]\nType=Application\nName=A\n", b"Package: a\nStatus: install ok installed\nVersion: 1\n\n"],
        [b"\n", b" ", b"deb [", b"://", b"URIs: ", b"[Desktop Entry]", b"Name=", b"\\040", b"Version: "],
    ),
    "archive": Door(
        _archive,
        [b'{"schema": 2, "derived_by": "x", "program": "0", "first": "' + b"a" * 64 + b'", "last": "' + b"b" * 64 + b'", "files": {}, "beside": []}'],
        [b'"schema"', b"99", b"null", b"../", b'"files": {"runs": ', b"{", b"a" * 64],
    ),
    "picture": Door(
        lambda data, _: bare(data),
        [b"\x89PNG\r\n\x1a\n" + struct.pack(">I4sIIBBBBB", 13, b"IHDR", 4, 4, 8, 2, 0, 0, 0), b"GIF89a\4\0\4\0", b"P6 4 4 255\n" + bytes(48), b"BM" + bytes(60)],
        [b"IHDR", b"IDAT", b"\xff\xd8\xff", b"RIFF", b"WEBP", b"eXIf", b"\xff\xff\xff\xff", b"P6 9999999 9999999 255\n"],
    ),
}  # fmt: skip


def changed(chance: random.Random, door: Door, known: Sequence[bytes]) -> bytes:
    """An input that comes of others by a few changes."""
    data = bytearray(chance.choice(known))
    for _ in range(chance.randrange(1, 6)):
        at = chance.randrange(len(data) + 1)
        match chance.randrange(6):
            case 0:
                data[at : at + chance.randrange(1, 9)] = chance.randbytes(chance.randrange(5))
            case 1:
                data[at:at] = chance.choice(door.words)
            case 2:
                other = chance.choice(known)
                data[at:] = other[chance.randrange(len(other) + 1) :]
            case 3:
                piece = bytes(data[at : at + chance.choice((1, 2, 8, 60))]) or chance.choice(door.words)
                data[at:at] = piece * chance.choice((2, 10, 300, 5000))
            case 4:
                del data[at:]
            case 5 if data:
                place = min(at, len(data) - 1)
                data[place] ^= 1 << chance.randrange(8)
    return bytes(data[:_LARGEST])


def given(door: Door, data: bytes, timed: bool = True) -> tuple[str, float]:
    """What an input came to: nothing where it was borne, else what was wrong; and the seconds that it took.

    timed: whether it may be wrong to take long.
    """
    with tempfile.TemporaryDirectory() as folder:
        began, wrong = time.process_time(), ""
        try:
            door.take(data, Path(folder))
        except (MetrographError, ValueError) as error:
            if isinstance(error, ValueError) and door is not DOORS["picture"]:
                wrong = repr(error)[:200]
        except Exception as error:  # noqa: BLE001 - that is what is looked for
            wrong = repr(error)[:200]
        took = time.process_time() - began
    if timed and not wrong and took > _SLOW * max(len(data) / 1e5, 1.0):
        wrong = f"{took:.1f} s for {len(data)} bytes"
    return wrong, took


def inputs_of(name: str) -> list[bytes]:
    """All that is known of a door: what is right, and what it once could not bear."""
    kept = sorted((CORPUS / name).glob("*")) if (CORPUS / name).is_dir() else []
    return [*DOORS[name].right, *(path.read_bytes() for path in kept)]


def fuzz(name: str, count: int, seed: int) -> int:
    """Gives a door so many inputs, and prints what came of it; how many it could not bear."""
    door, chance = DOORS[name], random.Random(f"{seed}-{name}")
    known, bad, slowest = inputs_of(name), 0, 0.0
    for _ in range(count):
        data = changed(chance, door, known)
        wrong, took = given(door, data)
        slowest = max(slowest, took)
        if wrong:
            bad += 1
            (CORPUS / name).mkdir(parents=True, exist_ok=True)
            (CORPUS / name / hashlib.sha256(data).hexdigest()[:16]).write_bytes(data)
            print(f"{name}: {wrong}", file=sys.stderr, flush=True)
        elif chance.random() < 0.01 and len(data) < 5000 and len(known) < 300:
            known.append(data)  # from there on, further
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss >> 10
    print(f"| {name} | {count} | {bad} | {slowest:.2f} s | {memory} MiB |", flush=True)
    return bad


def main() -> None:
    """Reads what is asked for."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("doors", nargs="*", default=list(DOORS))
    parser.add_argument("--count", type=int, default=10_000)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    print("| door | inputs | not borne | slowest | most memory |\n|---|---|---|---|---|")
    with suppress(KeyboardInterrupt):
        sys.exit(sum(fuzz(name, asked.count, asked.seed) for name in asked.doors) > 0)


if __name__ == "__main__":
    main()
