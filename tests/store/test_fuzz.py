"""Every reader of files takes any bytes: it gives a result, or says in a sentence what is wrong."""

import contextlib
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from metrograph.core.errors import MetrographError
from metrograph.intake.notes import Notes
from metrograph.intake.probed import read_probed
from metrograph.intake.whole_logs import logs_from_csv, read_document
from metrograph.ledgers.digests import cache
from metrograph.run.cards import Release, Rig
from metrograph.store.local.card_files import parse_card
from metrograph.store.local.checksums import published_checksum
from metrograph.store.memory import MemoryStore
from metrograph.store.settings import parse_settings

TOML = st.lists(
    st.sampled_from(
        [
            "a = 1",
            "[minimum]",
            "memory = ",
            '"4 GiB"',
            "released = 2026-01-01",
            "[[",
            "]",
            "sizes = 3",
            "\n",
            "=",
            "'",
            "inf",
            "-1",
        ]
    )
    | st.text(max_size=5)
).map("".join)
JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(st.sampled_from(["runs", "format", "cues", "at", "verb", "x"]), inner, max_size=4)
    ),
    max_leaves=8,
)


class AnyBytes(unittest.TestCase):
    @given(st.binary(max_size=200) | TOML.map(lambda text: text.encode("utf-8", "replace")))
    def test_settings_and_cards(self, data: bytes) -> None:
        with contextlib.suppress(MetrographError):
            parse_settings(data, "a.toml")
        text = data.decode("utf-8", "replace")
        parse_card(text, Release, "a.toml")
        parse_card(text, Rig, "a.toml")

    @given(st.binary(max_size=200) | JSON.map(lambda value: repr(value).encode("utf-8", "replace")))
    def test_documents_probes_notes_and_checksums(self, data: bytes) -> None:
        readers: tuple[Callable[[], object], ...] = (
            lambda: read_document(data, "a.json"), lambda: read_probed(data, "a.json"), lambda: Notes(data, "a.vtt").faults,
            lambda: list(Notes(data, "a.csv").events()), lambda: self.checksum(data),
        )  # fmt: skip
        for read in readers:
            with contextlib.suppress(MetrographError):
                read()

    def checksum(self, data: bytes) -> object:
        with mock.patch("metrograph.store.local.checksums.read_bytes", return_value=data):
            return published_checksum(Path("SHA256SUMS"), "x.iso")

    @given(st.text(max_size=100), st.text(max_size=100))
    def test_tables(self, headers: str, cues: str) -> None:
        with contextlib.suppress(MetrographError):
            logs_from_csv(headers, cues)

    @given(st.binary(max_size=100))
    def test_what_is_kept(self, data: bytes) -> None:
        store = MemoryStore()
        store.keep("digests", data)
        self.assertEqual(cache._load(store, "x"), {})
