"""Calls of public methods: what is misspelled is refused in our own words."""

from __future__ import annotations

import functools
import inspect
from collections.abc import Callable, Mapping
from typing import ParamSpec, TypeVar

from facetine.errors import OptionError, unknown

P = ParamSpec("P")
R = TypeVar("R")


def _name(method: Callable[..., object], args: tuple[object, ...]) -> str:
    """What was called, as the analyst knows it: figure.facet, plate.theme."""
    what = getattr(args[0], "_what", "figure") if args else "figure"
    return f"{what}.{method.__name__}"


def verb(method: Callable[P, R]) -> Callable[P, R]:
    """A method whose misspelled options are refused with the nearest one, not with a TypeError."""
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
            raise OptionError(f"{_name(method, args)}: {problem}", f"options: {', '.join(known)}") from None
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
