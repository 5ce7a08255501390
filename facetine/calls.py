"""Calls of public methods: what is misspelled is refused in our own words."""

from __future__ import annotations

import functools
import inspect
from collections.abc import Callable
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

    @functools.wraps(method)
    def checked(*args: P.args, **options: P.kwargs) -> R:
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
