"""Escapes: whatever text there is comes back as it was, on both levels."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.escapes import decode, encode, join_list, split_bars, split_list

AWKWARD = st.text("\\|,:n\n ab", max_size=12)


class Escapes(unittest.TestCase):
    def test_a_backslash_before_anything_else_is_itself(self) -> None:
        self.assertEqual(decode(r"grep '\.conf' \| wc"), r"grep '\.conf' | wc")
        self.assertEqual(encode(r"grep '\.conf' | wc"), r"grep '\.conf' \| wc")

    def test_bars_in_a_line_of_their_own_stay(self) -> None:
        self.assertEqual(encode("dmesg | tail", bars=False), "dmesg | tail")

    def test_lists(self) -> None:
        self.assertEqual(split_list(r"none, file\, fast, , partition"), ("none", "file, fast", "partition"))

    @given(AWKWARD, st.booleans())
    def test_decode_undoes_encode(self, text: str, bars: bool) -> None:
        self.assertEqual(decode(encode(text, bars)), text)

    @given(st.lists(AWKWARD, min_size=1, max_size=4))
    def test_parts_come_apart_where_they_were_joined(self, parts: list[str]) -> None:
        line = " | ".join(encode(part) for part in parts)
        self.assertEqual([decode(part.strip(" ")) for _, part in split_bars(line)], [part.strip(" ") for part in parts])

    @given(st.lists(AWKWARD.map(str.strip).filter(bool), max_size=4).map(tuple))
    def test_lists_round_trip(self, items: tuple[str, ...]) -> None:
        self.assertEqual(split_list(join_list(items)), items)
