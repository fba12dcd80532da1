"""A model of speech with random weights, in the form that recognisers load: small, and it has learnt nothing."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

_WIDTH, _INNER, _BANDS, _HEADS = 16, 32, 80, 2
_LANGUAGES = [
    "en",
    "zh",
    "de",
    "es",
    "ru",
    "ko",
    "fr",
    "ja",
    "pt",
    "tr",
    "pl",
    "ca",
    "nl",
    "ar",
    "sv",
    "it",
    "id",
    "hi",
    "fi",
    "vi",
    "he",
    "uk",
    "el",
    "ms",
    "cs",
    "ro",
    "da",
    "hu",
    "ta",
    "no",
    "th",
    "ur",
    "hr",
    "bg",
    "lt",
    "la",
    "mi",
    "ml",
    "cy",
    "sk",
    "te",
    "fa",
    "lv",
    "bn",
    "sr",
    "az",
    "sl",
    "kn",
    "et",
    "mk",
    "br",
    "eu",
    "is",
    "hy",
    "ne",
    "mn",
    "bs",
    "kk",
    "sq",
    "sw",
    "gl",
    "mr",
    "pa",
    "si",
    "km",
    "sn",
    "yo",
    "so",
    "af",
    "oc",
    "ka",
    "be",
    "tg",
    "sd",
    "gu",
    "am",
    "yi",
    "lo",
    "uz",
    "fo",
    "ht",
    "ps",
    "tk",
    "nn",
    "mt",
    "sa",
    "lb",
    "my",
    "bo",
    "tl",
    "mg",
    "as",
    "tt",
    "haw",
    "ln",
    "ha",
    "ba",
    "jw",
    "su",
]
_SPECIAL = ("endoftext", "startoftranscript", *_LANGUAGES, "translate", "transcribe", "startoflm", "startofprev",
            "nospeech", "notimestamps")  # fmt: skip


def make_tiny_model(folder: Path) -> None:
    """Writes the model, its words and how its sound is cut."""
    folder.mkdir()
    words = _words(folder)
    spec = _spec(len(words))
    spec.register_vocabulary(words)
    spec.config.suppress_ids, spec.config.suppress_ids_begin = [], []
    spec.config.alignment_heads = [(0, 0)]
    spec.config.lang_ids = [words.index(f"<|{each}|>") for each in _LANGUAGES]
    spec.validate()
    spec.optimize()
    spec.save(str(folder))
    cut = {"feature_size": _BANDS, "sampling_rate": 16000, "hop_length": 160, "chunk_length": 30, "n_fft": 400}
    (folder / "preprocessor_config.json").write_text(json.dumps(cut))


def _words(folder: Path) -> list[str]:
    from tokenizers import AddedToken, Tokenizer, decoders, models, pre_tokenizers

    letters = {letter: number for number, letter in enumerate(sorted(pre_tokenizers.ByteLevel.alphabet()))}
    tokenizer = Tokenizer(models.BPE(vocab=letters, merges=[]))
    tokenizer.pre_tokenizer = pre_tokenizers.ByteLevel(add_prefix_space=False)
    tokenizer.decoder = decoders.ByteLevel()
    tokenizer.add_special_tokens([f"<|{each}|>" for each in _SPECIAL])
    moments = [f"<|{number * 0.02:.2f}|>" for number in range(1501)]
    tokenizer.add_tokens([AddedToken(each, special=True, normalized=False) for each in moments])
    tokenizer.save(str(folder / "tokenizer.json"))
    return [word for word, _ in sorted(tokenizer.get_vocab().items(), key=lambda pair: pair[1])]


def _spec(words: int) -> Any:
    from ctranslate2.specs.whisper_spec import WhisperSpec

    random = np.random.default_rng(1)

    def some(*shape: int) -> Any:
        return random.normal(0, 0.02, shape).astype(np.float32)

    def linear(part: Any, out: int, of: int) -> None:
        part.weight, part.bias = some(out, of), np.zeros(out, np.float32)

    def norm(part: Any) -> None:
        part.gamma, part.beta = np.ones(_WIDTH, np.float32), np.zeros(_WIDTH, np.float32)

    def attention(part: Any, *outs: int) -> None:
        for layer, out in zip(part.linear, outs, strict=True):
            linear(layer, out, _WIDTH)
        norm(part.layer_norm)

    def inner(part: Any) -> None:
        linear(part.linear_0, _INNER, _WIDTH)
        linear(part.linear_1, _WIDTH, _INNER)
        norm(part.layer_norm)

    spec = WhisperSpec(1, _HEADS, 1, _HEADS)
    _ends(spec, some, words)
    for half in (spec.encoder, spec.decoder):
        norm(half.layer_norm)
        for layer in half.layer:
            attention(layer.self_attention, 3 * _WIDTH, _WIDTH)
            inner(layer.ffn)
    for layer in spec.decoder.layer:
        attention(layer.attention, _WIDTH, 2 * _WIDTH, _WIDTH)
    return spec


def _ends(spec: Any, some: Callable[..., Any], words: int) -> None:
    """What sound comes in by, and words go out by."""
    for part, of in ((spec.encoder.conv1, _BANDS), (spec.encoder.conv2, _WIDTH)):
        part.weight, part.bias = some(_WIDTH, of, 3), np.zeros(_WIDTH, np.float32)
    spec.encoder.position_encodings.encodings = some(1500, _WIDTH)
    spec.decoder.position_encodings.encodings = some(448, _WIDTH)
    spec.decoder.embeddings.weight = spec.decoder.projection.weight = some(words, _WIDTH)
    spec.decoder.scale_embeddings = False
