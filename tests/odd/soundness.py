"""Whether what came back is sound: a file that its readers can parse, with all on the sheet, or one clear error."""

from __future__ import annotations

import io
import math
import re
import time
import warnings
from collections.abc import Callable
from decimal import Decimal
from typing import Any

import lxml.etree
import pikepdf
from PIL import Image

import facetine as ft
from facetine.export.export import built, rendered
from facetine.messages.errors import FacetineError

FORMATS = ("svg", "pdf", "png")
SECONDS = 5.0
"""Of the processor's time, which other work of the machine does not change."""
PLACES = {"d", "x", "y", "x1", "x2", "y1", "y2", "cx", "cy", "r", "rx", "ry", "width", "height", "transform", "points", "viewBox",
          "opacity", "fill-opacity", "stroke-opacity", "stroke-width", "stroke-dasharray", "font-size", "offset"}  # fmt: skip
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?|nan|inf", re.IGNORECASE)


def sound(figure: Callable[[], Any], suffix: str = "svg") -> bool:
    """Whether a figure comes out; an AssertionError where its file, or the error in its place, is not sound."""
    started = time.process_time()
    refused: FacetineError | None = None
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        warnings.simplefilter("ignore", ft.FacetineFinding)
        try:
            made = built(figure()._sentence, "90 mm", None)
            content = rendered(made, suffix, dpi=50, transparent=False, fonts="name")
        except FacetineError as error:
            refused = error
    taken = time.process_time() - started
    assert taken < SECONDS, f"took {taken:.1f} s"
    if refused is not None:
        assert_clear(refused)
        return False
    {"svg": assert_svg, "pdf": assert_pdf, "png": assert_png}[suffix](content)
    assert_on_sheet(made.scene)
    return True


def assert_clear(error: FacetineError) -> None:
    """An error says one thing in at most 600 letters, which can be printed, and blames nobody inside."""
    said = str(error)
    assert error.headline
    assert len(said) <= 600, len(said)
    assert "fault of Facetine" not in said, said
    said.encode("utf-8")


def assert_svg(content: bytes) -> None:
    """Well formed, and every number in it is finite."""
    for element in lxml.etree.fromstring(content).iter():
        for name, value in element.attrib.items():
            if name in PLACES:
                for number in NUMBER.findall(value):
                    assert math.isfinite(float(number)), (element.tag, name, value[:80])


def assert_pdf(content: bytes) -> None:
    """Readable, one page, and its content is operators and finite numbers."""
    with pikepdf.open(io.BytesIO(content)) as pdf:
        assert len(pdf.pages) == 1
        assert not pdf.check_pdf_syntax() if hasattr(pdf, "check_pdf_syntax") else not pdf.check()
        for operands, operator in pikepdf.parse_content_stream(pdf.pages[0]):
            assert not re.search(r"nan|inf", str(operator), re.IGNORECASE)
            for operand in operands:
                if isinstance(operand, int | float | Decimal):
                    assert math.isfinite(operand)


def assert_png(content: bytes) -> None:
    """A picture that can be decoded whole."""
    with Image.open(io.BytesIO(content)) as picture:
        picture.load()
        assert picture.width > 10


def assert_on_sheet(scene: Any) -> None:
    """Every text stands on the sheet."""
    for text in scene.texts():
        box = text.box
        assert all(math.isfinite(side) for side in box), (text.role, text.content[:40])
        assert min(box.x, box.y) >= -1, (text.role, text.content[:40])
        assert box.right <= scene.width + 1, (text.role, text.content[:40])
        assert box.bottom <= scene.height + 1, (text.role, text.content[:40])
