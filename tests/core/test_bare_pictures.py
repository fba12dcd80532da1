"""A picture that is kept is what is seen of it: whatever else its file carries goes."""

import io
import unittest
from collections.abc import Callable
from typing import Any

import numpy as np
from PIL import Image, PngImagePlugin

from metrograph.core.bare_pictures import LARGEST_SIDE, bare, pixels_of

HIDDEN = b"Mina Harbour Street 7"


def saved(image: Image.Image, form: str, **options: Any) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **options)
    return out.getvalue()


def red(mode: str = "RGB") -> Image.Image:
    return Image.new("RGB", (40, 30), "red").convert(mode)


def exif(turned: int = 1) -> Image.Exif:
    tags = Image.Exif()
    tags[0x010E], tags[0x0112] = HIDDEN.decode(), turned  # what is seen on it, and which way is up
    return tags


def texts() -> PngImagePlugin.PngInfo:
    told = PngImagePlugin.PngInfo()
    told.add_text("Author", HIDDEN.decode())
    told.add_itxt("XML:com.adobe.xmp", HIDDEN.decode())
    return told


def palette() -> Image.Image:
    """A picture with colours that no pixel has."""
    image = Image.new("P", (40, 30), 0)
    image.putpalette(bytes((255, 0, 0)) + HIDDEN + bytes(768 - 3 - len(HIDDEN)))
    return image


CARRIERS: dict[str, Callable[[], bytes]] = {
    "texts": lambda: saved(red(), "PNG", pnginfo=texts()),
    "exif of a PNG": lambda: saved(red(), "PNG", exif=exif()),
    "exif of a JPEG": lambda: saved(red(), "JPEG", exif=exif(), comment=HIDDEN),
    "exif of a WebP": lambda: saved(red(), "WEBP", exif=exif(), xmp=HIDDEN),
    "profile": lambda: saved(red(), "PNG", icc_profile=HIDDEN),
    "after the end": lambda: saved(red(), "PNG") + HIDDEN,
    "palette": lambda: saved(palette(), "PNG"),
    "comment of a GIF": lambda: saved(red("P"), "GIF", comment=HIDDEN),
    "after the end of a BMP": lambda: saved(red(), "BMP") + HIDDEN,
}


class Bare(unittest.TestCase):
    def test_nothing_that_nobody_sees_is_kept(self) -> None:
        for name, made in CARRIERS.items():
            kept, ending = bare(made())
            with Image.open(io.BytesIO(kept)) as image:
                self.assertEqual(image.size, (40, 30), name)
                self.assertLess(
                    {*image.info},
                    {"jfif", "jfif_version", "jfif_unit", "jfif_density", "loop", "background", "x"},
                    name,
                )
            self.assertNotIn(HIDDEN, kept, name)
            self.assertLessEqual(np.abs(pixels_of(kept).astype(int) - (255, 0, 0)).max(), 3, name)
            self.assertIn(ending, {".png", ".jpg", ".webp"}, name)

    def test_colours_below_what_is_transparent_are_white(self) -> None:
        image = Image.new("RGBA", (40, 30), (9, 8, 7, 0))
        self.assertEqual(np.unique(pixels_of(bare(saved(image, "PNG"))[0])).tolist(), [255])

    def test_only_the_first_of_many_pictures_is_kept(self) -> None:
        blue = Image.new("RGB", (40, 30), "blue")
        kept, _ = bare(saved(red(), "GIF", save_all=True, append_images=[blue]))
        with Image.open(io.BytesIO(kept)) as image:
            self.assertEqual(getattr(image, "n_frames", 1), 1)

    def test_it_stands_upright(self) -> None:
        kept, _ = bare(saved(red(), "JPEG", exif=exif(turned=6)))
        self.assertEqual(pixels_of(kept).shape, (40, 30, 3))

    def test_sixteen_bits_become_eight(self) -> None:
        grey = Image.fromarray(np.full((30, 40), 0x7F00, np.uint16))
        self.assertEqual(np.unique(pixels_of(saved(grey, "PNG"))).tolist(), [0x7F])

    def test_what_cannot_be_opened_says_why(self) -> None:
        whole = saved(red(), "PNG")
        large = saved(Image.new("L", (LARGEST_SIDE + 1, 1)), "PNG")
        for data, reason in (
            (b"\x89PNG\r\n\x1a\nnothing", "cannot be read"),
            (whole[:60], "not whole"),
            (large, "8193 x 1 pixels"),
        ):
            with self.assertRaisesRegex(ValueError, reason):
                bare(data)
