"""Pictures from files that nobody vouches for: opened within bounds, and kept as nothing but what is seen.

Beside its pixels a file may hold where and by whom it was taken, texts, a picture of itself before it was cut, and
colours below what is transparent. None of it is a reviewer's to give away.
"""

from __future__ import annotations

import io
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import numpy as np
    import numpy.typing as npt
    from PIL import Image

    Pixels = npt.NDArray[np.uint8]

_BEGINNINGS = {
    b"\x89PNG\r\n\x1a\n": "PNG",
    b"\xff\xd8\xff": "JPG",
    b"GIF8": "GIF",
    b"BM": "BMP",
    b"P6": "PPM",
    b"RIFF": "WEBP",
}
KINDS = tuple(sorted(_BEGINNINGS.values()))
"""The kinds of pictures that are known."""
_DECODERS = ("PNG", "JPEG", "GIF", "BMP", "PPM", "WEBP")
_KEPT_AS: dict[str | None, tuple[str, str, dict[str, Any]]] = {
    "JPEG": (".jpg", "JPEG", {"quality": 90}),
    "WEBP": (".webp", "WEBP", {"quality": 80}),
}
_LOSSLESS: tuple[str, str, dict[str, Any]] = (".png", "PNG", {})
LARGEST_SIDE = 8192
"""Pixels each way of a picture that is opened."""


def looks_like_picture(beginning: bytes) -> bool:
    """Whether a file that begins so is a picture, whatever its name says."""
    return beginning.startswith(tuple(_BEGINNINGS))


def pixels_of(data: bytes) -> Pixels:
    """A picture's colours as they are seen, upright and on white: height x width x 3.

    Raises ValueError with a reason when it is none, is not whole, or is larger than ``LARGEST_SIDE``.
    """
    with _opened(data) as image:
        return _seen(image)


def bare(data: bytes) -> tuple[bytes, str]:
    """A picture made anew of what is seen of it, and the ending of its name.

    What was lossless stays so, as PNG. Raises ValueError as ``pixels_of`` does.
    """
    from PIL import Image

    with _opened(data) as image:
        ending, form, options = _KEPT_AS.get(image.format, _LOSSLESS)
        pixels = _seen(image)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, form, **options)
    return out.getvalue(), ending


@contextmanager
def _opened(data: bytes) -> Iterator[Image.Image]:
    from PIL import Image

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of odd files; sizes are looked at below
            image = Image.open(io.BytesIO(data), formats=_DECODERS)
    except Exception as error:  # decoders raise whatever they come upon
        raise ValueError("it cannot be read") from error
    with image:
        if max(image.size) > LARGEST_SIDE:
            raise ValueError(f"it is {image.width} x {image.height} pixels; expected at most {LARGEST_SIDE} each way")
        yield image


def _seen(image: Image.Image) -> Pixels:
    import numpy as np
    from PIL import Image, ImageOps

    try:
        upright = ImageOps.exif_transpose(image)
        if upright.mode.startswith("I"):  # sixteen bits of grey
            upright = Image.fromarray((np.asarray(upright) >> 8).astype(np.uint8))
        white = Image.new("RGBA", upright.size, "white")
        pixels: Pixels = np.asarray(Image.alpha_composite(white, upright.convert("RGBA")).convert("RGB"))
    except Exception as error:  # as above
        raise ValueError("it is not whole") from error
    return pixels
