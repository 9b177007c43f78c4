"""Photographs: upright, small, without place or camera; what is none is refused in words."""

from __future__ import annotations

import io
import struct
import zlib

import pytest
from PIL import Image

from inkthread.exchange.photos import PHOTO_BYTES_AT_MOST, SIDE_AT_MOST, NotAPhoto, clean_photo


def photo(wide: int = 640, high: int = 480, form: str = "JPEG", **more: object) -> bytes:
    picture = Image.new("RGB", (wide, high), "white")
    picture.paste("red", (0, 0, wide // 4, high // 4))
    out = io.BytesIO()
    picture.save(out, form, **more)
    return out.getvalue()


def with_place() -> bytes:
    """A JPEG held sideways, with a place in its data (Exif 2.3: 0x0112 orientation, 0x8825 GPS)."""
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x010F] = "some camera"
    exif.get_ifd(0x8825)[2] = (51.0, 30.0, 12.0)
    return photo(exif=exif)


def test_only_the_picture_is_kept_and_it_stands_upright():
    before = with_place()
    assert Image.open(io.BytesIO(before)).getexif().get_ifd(0x8825)
    kept = Image.open(io.BytesIO(clean_photo(before)))
    assert (kept.format, kept.size) == ("JPEG", (480, 640)), "turned as it was held"
    assert dict(kept.getexif()) == {}
    assert b"Exif" not in clean_photo(before)
    # Its red corner, top left as taken, is top right when turned a quarter clockwise.
    red, white = kept.getpixel((470, 10)), kept.getpixel((10, 10))
    assert red[0] > 200 > red[1]
    assert min(white) > 230


@pytest.mark.parametrize(("form", "size"), [("JPEG", (5000, 3000)), ("PNG", (3000, 5000)), ("PNG", (30, 20))])
def test_a_large_one_is_made_smaller_and_a_small_one_is_left(form, size):
    kept = Image.open(io.BytesIO(clean_photo(photo(*size, form=form))))
    assert max(kept.size) == min(max(size), SIDE_AT_MOST)
    assert kept.size[0] / kept.size[1] == pytest.approx(size[0] / size[1], rel=0.01)


def hollow_png(wide: int, high: int) -> bytes:
    """A PNG that says it is so large, and has next to nothing in it (ISO/IEC 15948, 11.2)."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", wide, high, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"")) + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "no whole picture"),
        (b"%PDF-1.4 not a picture", "no whole picture"),
        (photo()[:900], "no whole picture"),
        (photo(form="GIF"), "JPEG or PNG"),
        (hollow_png(20_000, 10_000), "200 megapixels|picture"),
        (hollow_png(9_000, 9_000), "81 megapixels"),
        (hollow_png(60_000, 60_000), "picture"),
        (b"\xff" * (PHOTO_BYTES_AT_MOST + 1), "MB"),
    ],
)
def test_what_is_no_photograph_is_refused_in_words(data, said):
    with pytest.raises(NotAPhoto, match=said):
        clean_photo(data)
