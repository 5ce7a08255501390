"""What an analyst, or a codebook, says of how a table is written, as one value that can be trusted."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from facetine.data.dialect import Told
from facetine.messages.errors import OptionError, told, unknown

OF_ANY = ("decimal", "thousands", "absent", "as_text", "kept", "categories")
"""What may be said of the cells of any table, and not of texts with separators alone."""
_OPTIONS = tuple(name for name in Told._fields if name not in ("kept", "categories"))


def known_beside(text: Mapping[str, Any], codebook: object, where: str = "codebook") -> dict[str, Any]:
    """What is said of a table, and what a codebook says: its categories, and what it reads itself, stay as they are written.

    Raises:
        OptionError: The codebook says something impossible.
    """
    if codebook is None:
        return dict(text)
    from facetine.data.codebook import Codebook

    entries = Codebook.of(codebook, where).entries
    kept = [name for name, entry in entries.items() if entry.stays_text]
    known = [name for name, entry in entries.items() if not entry.stays_text and (entry.words or entry.order or entry.absent)]
    said = dict(text)
    if kept:
        said["kept"] = tuple(kept)
    return said | ({"categories": tuple(known)} if known else {})


_SUCH = {"absent": 'such as absent=["n.b.", "-999"]', "as_text": 'such as as_text=["plot"]'}


def told_of_any(text: Mapping[str, Any], where: str) -> Told:
    """What is said of a table, as one value.

    Raises:
        OptionError: There is no such option, or it has an impossible value.
    """
    said = dict(text)
    for name in said:
        if name not in Told._fields:
            raise unknown(OptionError, where, "no option", name, ("sql", *_OPTIONS), "options")
    for name in ("absent", "as_text"):
        value = said.get(name)
        if isinstance(value, str) or (value is not None and not isinstance(value, list | tuple)):
            raise OptionError(where, f"{name} is a list of texts, not {told(value)}", _SUCH[name])
        if value is not None:
            said[name] = tuple(str(one) if isinstance(one, int | float) and not isinstance(one, bool) else one for one in value)
    made = Told(**said)
    made.check(where)
    return made
