"""Parts of a PDF document that are quick to make: deflated streams, and objects from their text.

Source: ISO 32000-1:2008, 7.3 and 7.4.4.
"""

from __future__ import annotations

import zlib
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pikepdf import Dictionary, Object, Pdf

_LEVEL, _WINDOW, _MEMORY = 6, 15, 9


def packed(document: Pdf, content: bytes, said: Dictionary | None = None, *, digits: bool = False) -> Object:
    """A stream that is deflated here, since the library would start a deflater of its own for the smallest ones too.

    Args:
        document: The document.
        content: The bytes before.
        said: What the stream's dictionary says beside its filter.
        digits: Whether most of it is digits, in which short repetitions are chance: these pack better without them.
    """
    from pikepdf import Dictionary, Name

    strategy = zlib.Z_FILTERED if digits else zlib.Z_DEFAULT_STRATEGY
    deflater = zlib.compressobj(_LEVEL, zlib.DEFLATED, _WINDOW, _MEMORY, strategy)
    said = Dictionary() if said is None else said
    said.Filter = Name.FlateDecode
    return document.make_stream(deflater.compress(content) + deflater.flush(), said)


def parsed(said: str) -> Object:
    """An object from its text, several times as quick as one that is put together."""
    from pikepdf import Object

    return Object.parse(said.encode("ascii"))


def text_of(text: str) -> str:
    """A text string as it is written, for any text."""
    if text.isascii() and text.replace(" ", "").isalnum():
        return f"({text})"
    return f"<feff{text.encode('utf-16-be', 'surrogatepass').hex()}>"
