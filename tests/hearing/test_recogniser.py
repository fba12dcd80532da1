"""What is said in a sound becomes words with their moments; without a model, or with half of one, that is said."""

import importlib.util
import tempfile
import unittest
import wave
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from metrograph.core.errors import MetrographError
from metrograph.hearing.stream.captions import read_words
from metrograph.hearing.stream.recogniser import ModelRecogniser, SpokenPiece, recognise
from tests.hearing.tiny_model import make_tiny_model

WHOLE = importlib.util.find_spec("faster_whisper") is not None


class Spoken:
    """A recogniser that understands what it is told to."""

    def __init__(self, *pieces: SpokenPiece) -> None:
        self._pieces = pieces

    def pieces(self, _sound: Path, _language: str) -> Iterator[SpokenPiece]:
        yield from self._pieces

    def length(self) -> float:
        return 10.0


class Recognising(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.sound = self.folder / "talk.wav"
        with wave.open(str(self.sound), "wb") as sound:
            sound.setparams((1, 2, 16000, 0, "NONE", "NONE"))
            sound.writeframes(np.random.default_rng(0).normal(0, 3000, 64000).astype("<i2").tobytes())

    def test_what_is_recognised_is_read_like_any_recognisers_words(self) -> None:
        told: list[tuple[int, int]] = []
        said = recognise(
            Spoken(SpokenPiece(1.0, 1.4, "Memory"), SpokenPiece(1.5, 3.0, "six hundred.")), self.sound, "en",
            lambda done, whole: told.append((done, whole)),
        )  # fmt: skip
        words = read_words(said, "talk")
        self.assertEqual([word.text for word in words], ["Memory", "six", "hundred."])
        self.assertEqual((words[0].at, words[1].at), (1.0, 1.5))
        self.assertEqual(told, [(1, 10), (3, 10)])
        with self.assertRaisesRegex(MetrographError, "nothing is said in talk.wav"):
            recognise(Spoken(), self.sound, "en")

    def test_a_folder_without_a_whole_model_is_refused_and_nothing_is_fetched(self) -> None:
        with self.assertRaisesRegex(MetrographError, "no model.bin and no tokenizer.json.*none is fetched"):
            ModelRecogniser(self.folder)
        (self.folder / "model.bin").write_bytes(b"no model")
        with self.assertRaisesRegex(MetrographError, "it has no tokenizer.json"):
            ModelRecogniser(self.folder)
        (self.folder / "tokenizer.json").write_text("{}")
        with self.assertRaisesRegex(MetrographError, "cannot be used as a model" if WHOLE else "metrograph.speech"):
            ModelRecogniser(self.folder)

    @unittest.skipUnless(WHOLE, "the extra that recognises speech is not installed")
    def test_a_model_is_loaded_and_says_words_within_the_sound(self) -> None:
        # It has learnt nothing, so that what it says means nothing; that it says it from sound to words is all.
        make_tiny_model(self.folder / "model")
        recogniser = ModelRecogniser(self.folder / "model")
        pieces = list(recogniser.pieces(self.sound, "en"))
        self.assertAlmostEqual(recogniser.length(), 4.0)
        self.assertTrue(pieces)
        self.assertTrue(all(0 <= each.start < 4 and each.start <= each.end <= 4 and each.text for each in pieces))
        (self.folder / "no sound.mkv").write_bytes(b"nothing")
        with self.assertRaisesRegex(MetrographError, "the sound of no sound.mkv cannot be understood"):
            list(recogniser.pieces(self.folder / "no sound.mkv", "en"))
