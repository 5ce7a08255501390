"""Calls of public methods: what is misspelled is refused in our own words."""

from __future__ import annotations

import functools
import inspect
from collections.abc import Callable
from typing import ParamSpec, TypeVar

from facetine.errors import OptionError, unknown

P = ParamSpec("P")
R = TypeVar("R")


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
                    raise unknown(OptionError, f"figure.{method.__name__}", "no option", name, known, "options")
        try:
            signature.bind(*args, **options)
        except TypeError as problem:
            raise OptionError(f"figure.{method.__name__}: {problem}", f"options: {', '.join(known)}") from None
        return method(*args, **options)

    return checked
