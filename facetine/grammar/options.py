"""Options of verbs and layers: declared with a check and a sentence, refused with what would do."""

from __future__ import annotations

import inspect
import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import MISSING, field, fields
from itertools import islice
from typing import Any, TypeAlias, cast

from facetine.core.arrays import is_number, is_whole, plain
from facetine.core.color.names import hex_color
from facetine.data.table import Levels
from facetine.grammar.given import Ends, Options, Plain
from facetine.grammar.lengths import in_points
from facetine.messages.errors import OptionError, told, unknown

Check: TypeAlias = Callable[[Any, str], Any]
"""Takes a value and the place that asks; returns the value as it is kept, or raises an OptionError."""


MOST_NAMES = 200_000
"""Entries of a list that is given as an option: twice what an axis can hold."""


def option(default: Any, check: Check, detail: str = "", *, or_none: bool = False) -> Any:
    """A dataclass field that is an option.

    Args:
        default: Its value where nothing is said.
        check: What it must be.
        detail: What there is to say of it here, beside what the glossary says of the word: its default, say.
        or_none: Whether None is a value of its own, such as "no band", and does not mean the default.
    """
    known = {"check": check, "detail": detail, "or_none": or_none}
    return field(default_factory=dict, metadata=known) if isinstance(default, dict) else field(default=default, metadata=known)


def differing(record: Any) -> Plain:
    """The options of a record that differ from their defaults."""
    said: Plain = {}
    for entry in fields(record):
        value = getattr(record, entry.name)
        default = entry.default if entry.default_factory is MISSING else entry.default_factory()
        # An expression, for which there is no default but None, has no truth value when compared.
        if value is not default and (default is None or value != default):
            said[entry.name] = value
    return said


def same(one: object, other: object) -> bool:
    """Whether two values say the same; arrays and expressions, which have no truth value when compared, where they are one."""
    if one is other:
        return True
    try:
        return bool(one == other)
    except Exception:
        return False


def checked(made: type, options: Options, where: str) -> Plain:
    """Options of a dataclass, each through its check; None means the default but where it has a meaning of its own.

    Where None has one, such as "no band", False says the same: a plan has no word for nothing.

    Raises:
        OptionError: An option is unknown, or its value is refused.
    """
    known = {entry.name: entry for entry in fields(made)}
    values = {}
    for name, value in options.items():
        if name not in known:
            # Those of its own first, those that all have last: an error lists a dozen.
            own = [one for kind in made.__mro__ for one in inspect.get_annotations(kind) if one in known]
            raise unknown(OptionError, where, "no option", name, dict.fromkeys(own), "options")
        or_none = known[name].metadata.get("or_none")
        if value is None and known[name].default is not None and not or_none:
            continue
        if or_none and value is False:
            value = None
        check = known[name].metadata.get("check")
        values[name] = check(value, f"{where}: {name}") if check and value is not None else value
    return values


def number(low: float = -math.inf, high: float = math.inf) -> Check:
    """A finite number between two bounds."""

    def check(value: object, where: str) -> float:
        if not is_number(value) or not low <= value <= high:
            raise OptionError(where, f"is a number{_bounds(low, high)}, not {told(value)}", of_option=True)
        return float(value)

    return accepting(check, f"a number{_bounds(low, high)}")


def whole(low: int, high: int = 10**9) -> Check:
    """A whole number between two bounds."""

    def check(value: object, where: str) -> int:
        if not is_whole(value) or not low <= value <= high:
            raise OptionError(where, f"is a whole number{_bounds(low, high)}, not {told(value)}", of_option=True)
        return int(value)

    return accepting(check, f"a whole number{_bounds(low, high)}")


def _bounds(low: float, high: float) -> str:
    if high in (math.inf, 10**9):
        return "" if low == -math.inf else f" of at least {low:g}"
    return f" from {low:g} to {high:g}"


def choice(*words: str, name: str = "choices") -> Check:
    """One of some words."""

    def check(value: object, where: str) -> str:
        if not isinstance(value, str) or value not in words:
            raise unknown(OptionError, where, "can't be", value, words, name)
        return str(value)

    check.words = words  # type: ignore[attr-defined]
    return accepting(check, "one of " + ", ".join(f'"{word}"' for word in words))


def accepting(check: Check, words: str) -> Check:
    """A check that can tell what it lets through."""
    check.accepts = words  # type: ignore[attr-defined]
    return check


def words_of(check: Check | None) -> tuple[str, ...]:
    """The words that a choice is one of; none for other checks."""
    words: tuple[str, ...] = getattr(check, "words", ())
    return words


def accepted(check: Check | None) -> str:
    """What a check lets through, in words; empty where it can't tell."""
    words: str = getattr(check, "accepts", "")
    return words


def length(value: object, where: str) -> str | float:
    """A length as it was written: a text with a unit, or a number of millimetres."""
    in_points(value, where)
    return value if isinstance(value, str) else float(value)  # type: ignore[arg-type]


def flag(value: object, where: str) -> bool:
    """True or False."""
    if not isinstance(value, bool):
        raise OptionError(where, f"is True or False, not {told(value)}", of_option=True)
    return value


def text(value: object, where: str) -> str:
    """A text."""
    if not isinstance(value, str):
        raise OptionError(where, f"is a text, not {told(value)}", of_option=True)
    return value


def ink(value: object, where: str) -> str:
    """A color as #rrggbb."""
    return hex_color(value, where)


def colors(value: object, where: str) -> dict[str, str]:
    """Colors by category."""
    if not isinstance(value, Mapping):
        raise OptionError(where, f"is a dict of category and color, not {told(value)}", of_option=True)
    return {str(key): hex_color(shade, where) for key, shade in value.items()}


def names(value: object, where: str) -> Levels:
    """A list of levels."""
    if isinstance(value, str | bytes) or not isinstance(value, Iterable) or isinstance(value, Mapping):
        raise OptionError(where, f"is a list, not {told(value)}", of_option=True)
    if getattr(value, "ndim", 1) != 1:
        raise OptionError(where, f"is a list, not an array of {value.ndim} dimensions", of_option=True)  # type: ignore[attr-defined]
    levels = tuple(islice(value, MOST_NAMES + 1))
    if len(levels) > MOST_NAMES:
        raise OptionError(where, f"holds more than {MOST_NAMES:,} entries, which no figure can show", of_option=True)
    return tuple(plain(level) for level in levels)


def numbers(value: object, where: str) -> tuple[float, ...]:
    """A list of numbers, empty where it is none or holds anything else."""
    ends = () if is_number(value) else names(value, where)
    found = tuple(float(end) for end in ends if is_number(end))
    return found if len(found) == len(ends) else ()


def pair(value: object, where: str) -> Ends:
    """Two values, either of which may be None."""
    # A plan has no word for nothing: false leaves an end open.
    ends = tuple(None if end is False else end for end in names(value, where))
    if len(ends) != 2:
        raise OptionError(where, f"has two ends, such as (0, 10) or (None, 10), not {told(value)}", of_option=True)
    return cast("Ends", ends)


def anything(value: object, where: str) -> object:  # noqa: ARG001
    """Whatever it is; checked where it is used."""
    return value


ORDERS = ("natural", "seen", "rising", "falling", "frequent", "similar")


def order_option(value: object, where: str) -> Levels | str:
    """A list of levels, or a word for an order that follows the data."""
    if isinstance(value, str):
        return str(choice(*ORDERS, name="orders, beside a list of levels")(value, where))
    return names(value, where)
