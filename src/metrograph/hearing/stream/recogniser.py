"""Turns the sound of a film into words with their moments: by a recogniser of an extra, and a model on this machine."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any, Protocol

import msgspec

from metrograph.core.errors import MetrographError, needs

EXTRA = "speech"
_NEEDED = ("model.bin", "tokenizer.json")
"""Files of a model; where one is missing, the recogniser would fetch it."""


class SpokenPiece(msgspec.Struct, frozen=True):
    """A word, or a few where the recogniser tells no moments of words. start, end: seconds from the beginning."""

    start: float
    end: float
    text: str


class Recogniser(Protocol):
    """Whatever understands the words of a sound."""

    def pieces(self, sound: Path, language: str) -> Iterator[SpokenPiece]:
        """The words that are said, in their order, as they are understood.

        language: its code of two letters; empty where the model is to find out.
        """

    def length(self) -> float:
        """Seconds of the sound, once the first piece was given."""


def recognise(
    recogniser: Recogniser, sound: Path, language: str, tell: Callable[[int, int], None] = lambda _done, _all: None
) -> bytes:
    """What is said in a sound, as the JSON of a recogniser: ``read_words`` reads it, now or later.

    tell: is given how many seconds were heard, of how many.
    """
    found: list[SpokenPiece] = []
    for piece in recogniser.pieces(sound, language):
        found.append(piece)
        tell(round(piece.end), round(recogniser.length()))
    if not found:
        raise MetrographError(f"nothing is said in {sound.name}, or the model does not understand it")
    words = [{"start": round(each.start, 3), "end": round(each.end, 3), "word": each.text} for each in found]
    return json.dumps({"language": language, "words": words}, ensure_ascii=False, indent=0).encode()


class ModelRecogniser:
    """A speech model in a folder, on the processor; nothing is fetched."""

    def __init__(self, model: Path) -> None:
        """Raises MetrographError where the extra is missing, or the folder is no model."""
        missing = [name for name in _NEEDED if not (model / name).is_file()]
        if missing:
            raise MetrographError(
                f"{model} is no model of speech: it has no {' and no '.join(missing)}; expected: a folder with a model"
                " that is converted for faster-whisper. None comes with Metrograph, and none is fetched"
            )
        library = needs("faster_whisper", EXTRA)
        try:
            self._model: Any = library.WhisperModel(
                str(model), device="cpu", compute_type="int8", local_files_only=True
            )
        except (RuntimeError, ValueError, OSError) as error:
            raise MetrographError(f"{model} cannot be used as a model of speech: {error}") from error
        self._length = 0.0

    def length(self) -> float:
        """Seconds of the sound."""
        return self._length

    def pieces(self, sound: Path, language: str) -> Iterator[SpokenPiece]:
        """The words that are said; raises MetrographError where the file has no sound that can be read."""
        try:
            segments, info = self._model.transcribe(str(sound), language=language or None, word_timestamps=True)
            self._length = float(info.duration)
            yield from _within(_words(segments), self._length)
        except (OSError, RuntimeError, ValueError, IndexError) as error:
            # What decodes sound raises errors of its own, all of which are one of these.
            raise MetrographError(f"the sound of {sound.name} cannot be understood: {error}") from error


def _words(segments: Iterable[Any]) -> Iterator[SpokenPiece]:
    for segment in segments:
        if segment.words:
            yield from (SpokenPiece(float(each.start), float(each.end), each.word.strip()) for each in segment.words)
        else:
            yield SpokenPiece(float(segment.start), float(segment.end), segment.text.strip())


def _within(pieces: Iterable[SpokenPiece], length: float) -> Iterator[SpokenPiece]:
    """Pieces that say something, none of them behind the end: a model that hears noise may invent more."""
    for piece in pieces:
        if piece.text and piece.start < length:
            yield msgspec.structs.replace(piece, end=min(max(piece.end, piece.start), length))
