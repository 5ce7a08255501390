"""How a text holds a table, and its lines read so.

Source of the plain form: RFC 4180.
"""

from __future__ import annotations

import codecs
import csv
import io
from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

from facetine.data.digits import THOUSANDS, Signs
from facetine.data.table import no_column
from facetine.messages.errors import DataError, OptionError, listed, told

_SIGN_NAMES = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars", " ": "blanks"}
_MARKS = ((codecs.BOM_UTF8, "utf-8-sig"), (codecs.BOM_UTF16_LE, "utf-16"), (codecs.BOM_UTF16_BE, "utf-16"))
_NEVER = "\x1f"
"""What parts the cells of one column: nothing that a text holds."""


class Dialect(NamedTuple):
    """How a text holds a table."""

    encoding: str = "utf-8"
    delimiter: str = ","
    """Between cells; nothing where there is one column, a blank for any number of blanks."""
    quote: str = '"'
    """Around cells that hold other signs; doubled inside them."""
    escape: str = ""
    """Before a quote inside quotes, where it is not doubled."""
    decimal: str = "."
    thousands: str = ""
    """The signs between thousands."""
    comment: str = ""
    """What lines begin with that are no rows."""
    skip: int = 0
    """Lines before the table."""
    header: bool = True
    """Whether the first line holds the names."""
    names: tuple[str, ...] = ()
    """Those that a remark before the table holds."""
    sure: bool = True
    """Whether something tells a comma before decimals from one between thousands, where there is any."""

    def said(self, usual: str) -> tuple[str, str] | None:
        """What differs from the plain form, in words, and how it is written; None for nothing.

        Args:
            usual: The sign that the file's ending promises between cells.
        """
        sign = _SIGN_NAMES.get(self.delimiter, repr(self.delimiter))
        facts = {
            "delimiter": (self.delimiter not in (usual, ""), f"{sign} between cells"),
            "decimal": (self.decimal != ".", "a comma before decimals"),
            "thousands": (bool(self.thousands), f"{' or '.join(map(repr, self.thousands))} between thousands"),
            "encoding": (self.encoding not in ("utf-8", "utf-8-sig"), f"the encoding {self.encoding}"),
            "quote": (self.quote != '"', f"{self.quote} around cells"),
            "comment": (bool(self.comment), f"remarks after {self.comment}"),
            "skip": (self.skip > 0, f"{self.skip} line{'s' * (self.skip != 1)} before the table"),
        }
        found = {name: words for name, (true, words) in facts.items() if true}
        if not found:
            return None
        return listed(found.values()), ", ".join(f"{name}={getattr(self, name)!r}" for name in found)


class Told(NamedTuple):
    """What the analyst says of a table; None where it is to be found out."""

    delimiter: str | None = None
    decimal: str | None = None
    thousands: str | None = None
    encoding: str | None = None
    quote: str | None = None
    comment: str | None = None
    skip: int | None = None
    header: bool | None = None
    absent: tuple[str, ...] = ()
    """Texts that mean "no value"."""
    as_text: tuple[str, ...] = ()
    """Columns that are taken as they are written."""
    kept: tuple[str, ...] = ()
    """Columns that are taken so where there are such: a codebook may know columns of other tables too."""
    categories: tuple[str, ...] = ()
    """Columns of which more is known than can be seen: what few texts beside numbers mean is said elsewhere."""

    @property
    def signs(self) -> Signs:
        """How numbers are written, as far as it is said."""
        decimal = self.decimal or "."
        usual = THOUSANDS[decimal] if self.decimal is not None else ""
        return Signs(decimal, usual if self.thousands is None else self.thousands)

    def of_a_text(self) -> dict[str, Any]:
        """What is said that only texts with separators have, and of their numbers."""
        return {name: value for name, value in self._asdict().items() if name in Dialect._fields and value is not None}

    @property
    def texts(self) -> tuple[str, ...]:
        """The columns that are taken as they are written."""
        return (*self.as_text, *self.kept)

    def must_know(self, columns: Iterable[str], where: str) -> None:
        """Refuses a column that there is not.

        Raises:
            MappingError: There is none of that name.
        """
        known = list(columns)
        for name in self.as_text:
            if name not in known:
                raise no_column(name, known, where, "as_text")

    def check(self, where: str) -> None:
        """Refuses what can't be.

        Raises:
            OptionError: Something can't be.
        """
        such = {"delimiter": '";"', "quote": '"\'"', "comment": '"#"'}
        for name, example in such.items():
            value: Any = getattr(self, name)
            if value is not None and not (isinstance(value, str) and len(value) == 1 and value not in "\r\n"):
                raise OptionError(where, f"{name} is one sign, not {told(value)}", f"such as {name}={example}")
        if self.decimal not in (None, ".", ","):
            raise OptionError(where, f'decimal is "." or ",", not {told(self.decimal)}')
        if self.thousands is not None and not (
            isinstance(self.thousands, str) and set(self.thousands) <= set(",.'\u202f\u00a0 ")
        ):
            said = f"thousands holds the signs between thousands, not {told(self.thousands)}"
            raise OptionError(where, said, 'such as thousands="."')
        if self.decimal and self.decimal in (self.thousands or ""):
            raise OptionError(where, f"{self.decimal!r} can't stand before decimals and between thousands")
        if self.skip is not None and not (isinstance(self.skip, int) and not isinstance(self.skip, bool) and self.skip >= 0):
            raise OptionError(where, f"skip is a number of lines, not {told(self.skip)}")
        if self.header is not None and not isinstance(self.header, bool):
            raise OptionError(where, f"header is True or False, not {told(self.header)}")
        for name, of in (("absent", "texts"), ("as_text", "columns")):
            if not all(isinstance(word, str) for word in getattr(self, name)):
                raise OptionError(where, f"{name} is a list of {of}, not {told(getattr(self, name))}")
        if self.encoding is not None:
            try:
                codecs.lookup(self.encoding)
            except (LookupError, TypeError, ValueError) as problem:
                said = f"no encoding {told(self.encoding)}"
                raise OptionError(where, said, 'such as "utf-8", "latin-1" or "utf-16"') from problem


UNTOLD = Told()
"""What is said of a table of which nothing is said."""


def decoded(content: bytes, encoding: str | None, name: str, where: str) -> tuple[str, str]:
    """A text and its encoding: what is said, or a mark at its start tells; else UTF-8, else that of western offices.

    Raises:
        DataError: It is no text, or not in the encoding that is said.
    """
    known = encoding or next((found for mark, found in _MARKS if content.startswith(mark)), None)
    if known is None and b"\0" in content[:65536]:
        raise DataError(where, f"{name} is no text", "it holds zero bytes")
    try:
        return content.decode(known or "utf-8"), known or "utf-8"
    except (UnicodeError, LookupError) as problem:
        if known is not None:
            said = f"{name} is no text in {known}: {problem}"
            raise DataError(where, said[:200], "encoding= says another") from problem
    try:
        return content.decode("cp1252"), "cp1252"
    except UnicodeDecodeError:
        # Five bytes are no letters there.
        return content.decode("latin-1"), "latin-1"


def lines_of(text: str, dialect: Dialect) -> Iterator[tuple[int, list[str]]]:
    """The number of each line that is no remark and not blank, counted from 1, and its cells; names are not told apart.

    Lines of empty cells are rows between others, not at the beginning and at the end; of one column, blank lines are such.

    Raises:
        csv.Error: A line can't be parted.
    """
    last = 0

    def kept() -> Iterator[str]:
        nonlocal last
        for number, line in enumerate(io.StringIO(text, newline=""), 1):
            if number > dialect.skip and not (dialect.comment and line.startswith(dialect.comment)):
                last = number
                yield line.strip() if dialect.delimiter == " " else line

    csv.field_size_limit(1 << 30)
    made = csv.reader(
        kept(),
        delimiter=dialect.delimiter or _NEVER,
        quotechar=dialect.quote,
        doublequote=not dialect.escape,
        escapechar=dialect.escape or None,
        skipinitialspace=dialect.delimiter == " ",
    )
    waiting: list[tuple[int, list[str]]] = []
    begun = False
    for cells in made:
        if any(map(str.strip, cells)):
            yield from waiting
            yield last, cells
            waiting, begun = [], True
        elif begun and (len(cells) > 1 or not dialect.delimiter):
            waiting.append((last, cells or [""]))
