"""Options of commands that run a plan: what its queries may take, and what it is allowed besides."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager, nullcontext
from functools import wraps
from typing import Any

import click

from facetine.grammar.given import Plain

_LIMITS = ("query_seconds", "query_memory")
_ALLOWS = {"allow_function": "allow_functions", "password_env": "password_env", "allow_local_addresses": "allow_local_addresses"}


def say_allowed(command: Callable[..., int]) -> Callable[..., int]:
    """Puts the options on a command, which gets them together as `allowed`."""

    @wraps(command)
    def gathered(*given: Any, **options: Any) -> int:
        allowed = {name: options.pop(name) for name in (*_LIMITS, *_ALLOWS)}
        return command(*given, allowed=allowed, **options)

    for option in reversed(_OPTIONS):
        gathered = option(gathered)
    return gathered


_OPTIONS = (
    click.option("--query-seconds", type=float, help="A query of a plan may take this long; 60 by default."),
    click.option("--query-memory", metavar="SIZE", help='And as much memory; "4 GB" by default.'),
    click.option(
        "--allow-function",
        multiple=True,
        metavar="NAME",
        help="A function that queries of the plan may call, besides those that all may; repeatable.",
    ),
    click.option(
        "--password-env",
        multiple=True,
        metavar="NAME",
        help="A variable of the environment that the plan may use as a database's password; repeatable.",
    ),
    click.option("--allow-local-addresses", is_flag=True, help="Addresses of the plan may be of this machine and its network."),
)


def parted_allowed(allowed: Plain) -> tuple[AbstractContextManager[Any], Plain]:
    """The limits of queries as a context, and what is allowed as options of `facetine.plan(…).export`."""
    limits: AbstractContextManager[Any] = nullcontext()
    said = {name: allowed[name] for name in _LIMITS}
    if any(value is not None for value in said.values()):
        # Only here: what it imports takes longer than to see that nothing has changed.
        from facetine.export.defaults import defaults

        limits = defaults(**said)
    return limits, {option: allowed[name] for name, option in _ALLOWS.items() if allowed[name]}
