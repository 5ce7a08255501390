"""Choices that a reader of a page can make, each under a name, and what figures of the sheet do with them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, NamedTuple

from facetine.data.expressions import Expression
from facetine.grammar.given import Plain
from facetine.grammar.options import choice, flag, text
from facetine.messages.errors import OptionError, told, unknown

ALONG = ("x", "y", "xy")
HOW = ("highlight", "keep", "limits")
"""What a figure can do with a choice."""
_SUCH = 'such as (20, 80), ["cow", "ewe"] or "cow"'


@dataclass(frozen=True)
class Choice:
    """What a reader can choose in a figure."""

    along: str | None = None
    """The axes along which a brush is drawn; None where marks are picked."""
    by: str | None = None
    """The column whose value picked rows share; None for the rows of the mark alone."""
    multiple: bool = False
    """Whether what is picked is put to what was picked before."""
    start: Any = None
    """What is chosen at first, and on paper: an expression, or ranges and values by column."""

    def said(self) -> Plain:
        """What was said of it."""
        usual = Choice()
        return {name: value for name, value in vars(self).items() if value != getattr(usual, name)}

    @property
    def expression(self) -> Expression | None:
        """What holds for the rows that are chosen at first; None where none are."""
        if not isinstance(self.start, Mapping):
            started: Expression | None = self.start
            return started
        return " AND ".join(_condition(str(name), value) for name, value in self.start.items())


def _condition(column: str, value: Any) -> str:
    quoted = '"' + column.replace('"', '""') + '"'
    if isinstance(value, tuple):
        return f"{quoted} BETWEEN {_literal(value[0])} AND {_literal(value[1])}"
    if isinstance(value, list):
        return f"{quoted} IN ({', '.join(map(_literal, value))})"
    return f"{quoted} = {_literal(value)}"


def _literal(value: object) -> str:
    if isinstance(value, bool):
        return str(value).lower()
    return repr(value) if isinstance(value, int | float) else "'" + str(value).replace("'", "''") + "'"


def choice_said(name: object, along: object, by: object, multiple: object, start: object) -> tuple[str, Choice]:
    """A checked choice with its name.

    Raises:
        OptionError: It can't be.
    """
    where = "figure.choose"
    called = text(name, f"{where}: name")
    if not called.isidentifier():
        raise OptionError(where, f"{told(name)} is no name of a choice", "letters, digits and _, such as 'ages'", given=name)
    made = Choice(
        None if along is None else str(choice(*ALONG, name="axes")(along, f"{where}: along")),
        None if by is None else text(by, f"{where}: by"),
        flag(multiple, f"{where}: multiple"),
        _start(start, where),
    )
    if made.along is not None and (made.by is not None or made.multiple):
        both = "by" if made.by is not None else "multiple"
        raise OptionError(where, f"{both} is for marks that are picked, and along for a brush", "leave one of them out")
    return called, made


def _start(start: object, where: str) -> object:
    if isinstance(start, Mapping):
        if not start:
            raise OptionError(where, "start says no column", 'such as start={"age_days": (20, 80)}')
        return {str(name): _ends(value, f"{where}: start") for name, value in start.items()}
    if isinstance(start, bool | int | float | list | tuple) or (isinstance(start, str) and not start.strip()):
        raise OptionError(
            where, f"start is a dict of columns, or an expression, not {told(start)}", 'such as {"age_days": (20, 80)}'
        )
    return start


def _ends(value: object, where: str) -> object:
    """A value, two ends, or a list of values of a column."""
    if not isinstance(value, tuple | list):
        return _plain(value, where, "no value")
    if not value:
        raise OptionError(where, f"{told(value)} is neither two ends nor a list of values", _SUCH)
    values = [_plain(one, where, f"{told(value)} is neither two ends nor a list of values") for one in value]
    # Plain data know no tuples: what lies on a line tells two ends from two values.
    return tuple(values) if len(values) == 2 and all(map(_on_a_line, values)) else values


def _plain(value: object, where: str, problem: str) -> str | int | float | bool:
    if isinstance(value, date):
        return value.isoformat()
    if not isinstance(value, str | int | float | bool):
        raise OptionError(where, f"{told(value)} is {problem}" if problem == "no value" else problem, _SUCH)
    return value


def _on_a_line(value: object) -> bool:
    """Whether a value is a number or a date."""
    if isinstance(value, str):
        try:
            datetime.fromisoformat(value)
        except ValueError:
            return False
        return True
    return not isinstance(value, bool)


class Response(NamedTuple):
    """What a figure does with a choice."""

    how: str
    show_all: bool | None = None
    """Whether what all rows make is seen behind what the chosen ones do; None where counts alone show it."""


class ChosenRows(NamedTuple):
    """The rows that a figure is computed of, of those that it was settled by."""

    names: tuple[str, ...]
    """Of the choices that hold them."""
    numbers: tuple[int, ...]
    """Of the rows, increasing."""
    show_all: bool | None = None
    """Whether what all rows make is seen behind them; None where counts alone show it."""


def response_said(name: object, how: object, show_all: object = None, where: str = "figure.respond") -> tuple[str, Response]:
    """The name of a choice with what a figure does with it.

    Raises:
        OptionError: There is no such response, or an option that it does not take.
    """
    called = text(name, f"{where}: name")
    if not isinstance(how, str) or how not in HOW:
        raise unknown(OptionError, where, "no response", how, HOW, "responses")
    if show_all is not None and how != "keep":
        raise OptionError(where, f"show_all has no effect on {how!r}", 'respond(…, "keep") is computed of the chosen rows')
    return called, Response(how, None if show_all is None else flag(show_all, f"{where}: show_all"))


def response_read(name: object, said: object, where: str) -> tuple[str, Response]:
    """The same from plain data: a word, or a table of the verb's options.

    Raises:
        OptionError: It is neither.
    """
    if not isinstance(said, Mapping):
        return response_said(name, said, None, where)
    wrong = next((key for key in said if key not in ("how", "show_all")), None)
    if wrong is not None:
        raise unknown(OptionError, f"{where}.{name}", "no option", wrong, ("how", "show_all"), "options")
    return response_said(name, said.get("how", "highlight"), said.get("show_all"), where)
