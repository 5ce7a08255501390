"""Calls of public methods: what is misspelled is refused in our own words."""

from __future__ import annotations

import functools
import inspect
import re
from collections.abc import Callable, Iterable, Mapping
from functools import cached_property
from typing import Any, NamedTuple, ParamSpec, TypeVar

from facetine.grammar.given import NOT_GIVEN
from facetine.messages.errors import OptionError, unknown

P = ParamSpec("P")
R = TypeVar("R")


def _name(method: Callable[..., object], args: tuple[object, ...]) -> str:
    """What was called, as the analyst knows it: figure.facet, plate.theme, read."""
    if next(iter(inspect.signature(method).parameters), "") != "self":
        return method.__name__
    what = getattr(args[0], "_what", "figure") if args else "figure"
    return f"{what}.{method.__name__}"


def verb(method: Callable[P, R]) -> Callable[P, R]:
    """A method, or a function, whose misspelled options are refused with the nearest one, not with a TypeError."""
    signature = inspect.signature(method)
    known = [name for name in signature.parameters if name != "self"]
    open_ended = any(parameter.kind is parameter.VAR_KEYWORD for parameter in signature.parameters.values())
    fits = _quick_check(signature)

    @functools.wraps(method)
    def checked(*args: P.args, **options: P.kwargs) -> R:
        if fits(len(args), options):
            return method(*args, **options)
        if not open_ended:
            for name in options:
                if name not in known:
                    raise unknown(OptionError, _name(method, args), "no option", name, known, "options")
        try:
            signature.bind(*args, **options)
        except TypeError as problem:
            raise OptionError(_name(method, args), f"{problem}", f"options: {', '.join(known)}") from None
        return method(*args, **options)

    return checked


def _quick_check(signature: inspect.Signature) -> Callable[[int, Mapping[str, object]], bool]:
    """Tells calls that surely fit a signature: binding takes longer than many a verb."""
    parameters = list(signature.parameters.values())
    placed = [one.name for one in parameters if one.kind is one.POSITIONAL_OR_KEYWORD]
    named = {one.name for one in parameters if one.kind in (one.POSITIONAL_OR_KEYWORD, one.KEYWORD_ONLY)}
    needed = {one.name for one in parameters if one.name in named and one.default is one.empty}
    simple = all(one.kind in (one.POSITIONAL_OR_KEYWORD, one.KEYWORD_ONLY, one.VAR_KEYWORD) for one in parameters)
    open_ended = len(named) < len(parameters)

    def fits(count: int, options: Mapping[str, object]) -> bool:
        if not simple or count > len(placed):
            return False
        given = placed[:count]
        if not options.keys().isdisjoint(given) or not (open_ended or options.keys() <= named):
            return False
        return needed.issubset((*given, *options))

    return fits


class Spelled(NamedTuple):
    """One of many options of a verb, which are declared elsewhere."""

    name: str
    type: str
    says: str


class SpelledOut:
    """A verb with the options of a record, such as those of a scale: its signature and its help list each of them.

    The record is loaded when the verb is first looked at.
    """

    def __init__(self, method: Callable[..., Any], options: Callable[[], Iterable[Spelled]]) -> None:
        self.plain, self.options = method, options

    def __get__(self, figure: object, owner: type | None = None) -> Callable[..., Any]:
        return self.method if figure is None else self.method.__get__(figure, owner)

    @cached_property
    def method(self) -> Callable[..., Any]:
        """The function, with every option in its signature and its help."""
        method, spelled = verb(self.plain), list(self.options())
        signature = inspect.signature(self.plain)
        parameters = [one for one in signature.parameters.values() if one.kind is not one.VAR_KEYWORD]
        parameters += [
            inspect.Parameter(one.name, inspect.Parameter.KEYWORD_ONLY, default=NOT_GIVEN, annotation=one.type) for one in spelled
        ]
        method.__signature__ = signature.replace(parameters=parameters)  # type: ignore[attr-defined]
        method.__doc__ = _with_options(inspect.getdoc(self.plain) or "", spelled)
        return method


_OPEN = re.compile(r"^    \*\*\w+:.*(?:\n {8,}.*)*\n", re.MULTILINE)
"""The entry of a docstring that stands for all options."""


def _with_options(doc: str, spelled: Iterable[Spelled]) -> str:
    """A docstring with an entry for each option in the place of the one for all of them."""
    entries = "".join(f"    {one.name}: {one.says}\n" for one in spelled)
    before, _, after = _OPEN.sub("\0", doc, count=1).partition("\0")
    return before + entries + after


def spelled_out(options: Callable[[], Iterable[Spelled]]) -> Callable[[Callable[..., Any]], SpelledOut]:
    """Makes a verb of a method that takes the options of a record.

    Args:
        options: Lists them.
    """
    return lambda method: SpelledOut(method, options)
