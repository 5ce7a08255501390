"""Parts of a PDF document that are quick to make: deflated streams, and objects from their text.

Source: ISO 32000-1:2008, 7.3 and 7.4.4.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from facetine.writers.deflated import deflated

if TYPE_CHECKING:
    from pikepdf import Dictionary, Object, Pdf


def packed(document: Pdf, content: bytes, said: Dictionary | None = None) -> Object:
    """A stream that is deflated here, since the library would start a deflater of its own for the smallest ones too.

    Args:
        document: The document.
        content: The bytes before.
        said: What the stream's dictionary says beside its filter.
    """
    from pikepdf import Dictionary, Name

    said = Dictionary() if said is None else said
    said.Filter = Name.FlateDecode
    return document.make_stream(deflated(content), said)


def parsed(said: str) -> Object:
    """An object from its text, several times as quick as one that is put together."""
    from pikepdf import Object

    return Object.parse(said.encode("ascii"))


def parsed_all(document: Pdf, said: Iterable[str]) -> list[Object]:
    """Objects that others refer to, from their texts, read in one go."""
    return list(map(document.make_indirect, parsed(f"[{' '.join(said)}]")))


def text_of(text: str) -> str:
    """A text string as it is written, for any text."""
    if text.isascii() and text.replace(" ", "").isalnum():
        return f"({text})"
    return f"<feff{text.encode('utf-16-be', 'surrogatepass').hex()}>"
