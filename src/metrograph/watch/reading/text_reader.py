"""Reads lines of text, each once: what was read is known again by its pixels. The engine is replaceable."""

from __future__ import annotations

import atexit
import os
import shutil
import sys
import tempfile
import threading
from collections.abc import Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

import msgspec
import numpy as np

from metrograph.core.errors import MetrographError
from metrograph.watch.inputs.frames import Grey
from metrograph.watch.reading.lines import Line

if TYPE_CHECKING:
    from tesserocr import PyTessBaseAPI

_MARGIN = 4  # pixels around a line: descenders and accents that were found as pieces of their own
_READ_AT = 36  # pixels: the engine was trained on lines of about this height
_KNOWN_AT = 12  # rows of the small picture by which a line is known again
_ALIKE = 0.06  # part of the small picture's points that may differ: coding moves a few at the edges
_KEPT = 200  # lines of one length that are remembered: a counter that runs for hours is not kept whole
_THREADS = 2  # lines are read at once: a film has other work for further cores
_NO_LANGUAGE = {"osd", "equ"}  # data of scripts and formulas
_DATA = ("share/tessdata", "share/tesseract-ocr/5/tessdata", "share/tesseract-ocr/4.00/tessdata")


class ReadLine(msgspec.Struct, frozen=True):
    """The words of a line. sure: 0 to 1, as the engine has it."""

    text: str
    sure: float


class Engine(Protocol):
    """Reads pictures of single lines, dark on light, ``_READ_AT`` pixels high."""

    def read(self, pictures: Sequence[Grey], language: str) -> list[ReadLine]:
        """The text of each picture of a line, and how sure it is."""

    def languages(self) -> Sequence[str]:
        """The languages that it can read."""


class Tesseract:
    """The engine that the extra brings; its language data lies in the environment, or where the system has it."""

    def __init__(self) -> None:
        """Raises MetrographError when there is no language data at all."""
        # One line is too little for the engine's own threads; two lines at a time are read here instead.
        os.environ.setdefault("OMP_THREAD_LIMIT", "1")
        self.found = language_data()
        if "eng" not in self.found:
            raise MetrographError(
                "there is no language data to read screens with; pip install 'metrograph[watch]' brings it"
            )
        # The engine takes one folder only, and languages may lie in several.
        self._folder = tempfile.mkdtemp(prefix="metrograph-")
        atexit.register(shutil.rmtree, self._folder, ignore_errors=True)
        for name, file in self.found.items():
            (Path(self._folder) / f"{name}.traineddata").symlink_to(file)
        self._own = threading.local()
        self._pool = ThreadPoolExecutor(_THREADS)

    def read(self, pictures: Sequence[Grey], language: str) -> list[ReadLine]:
        """The text of each picture of a line, those that were read before as they were."""
        if len(pictures) < 2:
            return [self._one(picture, language) for picture in pictures]
        return list(self._pool.map(lambda picture: self._one(picture, language), pictures))

    def languages(self) -> Sequence[str]:
        """The languages whose data is here."""
        return sorted(set(self.found) - _NO_LANGUAGE)

    def _one(self, picture: Grey, language: str) -> ReadLine:
        engine = self._engine(language)
        height, width = picture.shape
        engine.SetImageBytes(np.ascontiguousarray(picture).tobytes(), width, height, 1, width)
        text = " ".join(engine.GetUTF8Text().split())
        return ReadLine(text, engine.MeanTextConf() / 100 if text else 0.0)

    def _engine(self, language: str) -> PyTessBaseAPI:
        from tesserocr import OEM, PSM, PyTessBaseAPI

        engines = self._own.__dict__
        if language not in engines:
            # Umlauts and accents are kept where the other language stands before English.
            wanted = "eng" if language == "eng" or language not in self.found else f"{language}+eng"
            engines[language] = PyTessBaseAPI(self._folder, wanted, PSM.SINGLE_LINE, oem=OEM.LSTM_ONLY)
            engines[language].SetVariable("debug_file", os.devnull)
        return engines[language]


def language_data() -> dict[str, Path]:
    """The language data that is here, by its code of three letters."""
    roots = [Path(sys.prefix), Path("/usr/local"), Path("/usr")]
    folders = [Path(os.environ.get("TESSDATA_PREFIX", "/nowhere")), *(root / data for root in roots for data in _DATA)]
    found: dict[str, Path] = {}
    for folder in folders:
        for file in sorted(folder.glob("*.traineddata")):
            found.setdefault(file.stem, file.resolve())
    return found


class LineReader:
    """Reads lines with an engine, and remembers them.

    language: the code of three letters in which is read; it may change on the way.
    """

    def __init__(self, engine: Engine, language: str = "eng") -> None:
        self.engine = engine
        self.language = language
        self.asked = self.read_anew = 0
        self._known: dict[tuple[int, int, str], list[tuple[Grey, ReadLine]]] = {}

    def read(self, grey: Grey, lines: Sequence[Line]) -> list[ReadLine]:
        """What the lines of a picture say, in their order."""
        small = [_small(grey, line) for line in lines]
        readings = [self._remembered(picture) for picture in small]
        missing = [number for number, reading in enumerate(readings) if reading is None]
        fresh = self.engine.read([for_engine(grey, lines[number]) for number in missing], self.language)
        for number, reading in zip(missing, fresh, strict=True):
            alike = self._known.setdefault(self._key(small[number]), [])
            alike.append((small[number], reading))
            del alike[:-_KEPT]
            readings[number] = reading
        self.asked += len(lines)
        self.read_anew += len(missing)
        return [reading for reading in readings if reading is not None]

    def _key(self, small: Grey) -> tuple[int, int, str]:
        rows, columns = small.shape
        return rows, columns, self.language

    def _remembered(self, small: Grey) -> ReadLine | None:
        rows, columns, language = self._key(small)
        for width in (columns, columns - 1, columns + 1):
            for known, reading in self._known.get((rows, width, language), ()):
                least = min(width, columns)
                if np.count_nonzero(known[:, :least] != small[:, :least]) <= _ALIKE * small.size * 0.5:
                    return reading
        return None


def for_engine(grey: Grey, line: Line) -> Grey:
    """A line as the engine wants it: dark on light, with a margin, of the height that it knows."""
    from PIL import Image, ImageOps

    picture = grey[
        max(line.top - _MARGIN, 0) : line.bottom + _MARGIN, max(line.left - _MARGIN, 0) : line.right + _MARGIN
    ]
    image = ImageOps.autocontrast(Image.fromarray(255 - picture if line.light else picture), cutoff=(1, 5))
    scale = _READ_AT / max(line.height + 4, 8)
    size = max(round(image.width * scale), 8), max(round(image.height * scale), 8)
    image = image.resize(size, Image.Resampling.BICUBIC)
    return np.asarray(ImageOps.expand(image, 8, 255))


def _small(grey: Grey, line: Line) -> Grey:
    """A line by few points, each ink or ground."""
    from PIL import Image

    place = grey[line.top : line.bottom, line.left : line.right]
    columns = max(round(line.width * _KNOWN_AT / line.height), 4)
    small = np.asarray(Image.fromarray(place).resize((columns, _KNOWN_AT), Image.Resampling.BOX))
    low, high = int(small.min()), int(small.max())
    dark: Grey = (small < (low + high) / 2).astype(np.uint8)
    return 1 - dark if line.light else dark


def texts(readings: Iterable[ReadLine]) -> list[str]:
    """The texts alone, without how sure they are."""
    return [reading.text for reading in readings]
