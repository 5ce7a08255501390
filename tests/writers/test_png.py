"""PNG files, read back by another library."""

import io
import zlib

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from facetine.writers.png import png_file


def opened(content):
    image = Image.open(io.BytesIO(content))
    image.load()
    return image


@settings(max_examples=60, deadline=None)
@given(
    st.integers(1, 40),
    st.integers(1, 40),
    st.sampled_from([1, 3, 4]),
    st.sampled_from([1, 2, 17, 256, 257, 2000]),
    st.integers(0, 99),
)
def test_pixels_come_back_as_they_were(height, width, channels, colors, seed):
    rng = np.random.default_rng(seed)
    palette = rng.integers(0, 256, (colors, channels), dtype=np.uint8)
    pixels = palette[rng.integers(0, colors, (height, width))]
    pixels = pixels[..., 0] if channels == 1 else pixels
    image = opened(png_file(pixels, 300))
    modes = {1: "L", 3: "RGB", 4: "RGBA"}
    assert np.array_equal(np.asarray(image.convert(modes[channels])), pixels)
    few = channels == 3 and len(np.unique(pixels.reshape(-1, 3), axis=0)) <= 256
    assert (image.mode == "P") == few


def test_few_colors_make_a_palette_also_where_a_look_at_some_rows_finds_fewer():
    pixels = np.zeros((640, 30, 3), np.uint8)
    pixels[1, :, 0] = np.arange(30)
    assert opened(png_file(pixels, 72)).mode == "P"
    for offset, channel in ((3, 1), (5, 2), (6, 0)):
        rows = pixels[offset::7]
        rows[..., channel] = 60 + np.arange(len(rows))[:, None]
    assert len(np.unique(pixels.reshape(-1, 3), axis=0)) > 256
    assert np.array_equal(np.asarray(opened(png_file(pixels, 72)).convert("RGB")), pixels)


@pytest.mark.parametrize("dpi", [72, 96.5, 300, 1200])
def test_it_knows_its_resolution_and_its_words(dpi):
    image = opened(png_file(np.zeros((2, 3, 3), np.uint8), dpi, "Käse & <rind>", b"a profile"))
    assert image.info["dpi"] == pytest.approx((dpi, dpi), abs=0.02)
    assert image.info["Description"] == "Käse & <rind>"
    assert image.info["icc_profile"] == b"a profile"
    assert image.size == (3, 2)


def test_every_chunk_has_its_sum():
    content, at, names = png_file(np.zeros((9, 9), np.uint8), 72), 8, []
    while at < len(content):
        size = int.from_bytes(content[at : at + 4], "big")
        body = content[at + 4 : at + 8 + size]
        assert zlib.crc32(body) == int.from_bytes(content[at + 8 + size : at + 12 + size], "big")
        names.append(body[:4])
        at += 12 + size
    assert names == [b"IHDR", b"pHYs", b"IDAT", b"IEND"]
