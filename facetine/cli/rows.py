"""Options of commands that draw from a file: which of its rows, which columns besides, and what stands at the edges."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import wraps
from typing import Any, NamedTuple

import click

from facetine.cli.completing import complete
from facetine.cli.values import layer as read_layer
from facetine.cli.values import pairs

_NAMES = ("keep", "derive", "where", "sample", "marginal")


class Rows(NamedTuple):
    """What is said of the rows, as on a figure."""

    keep: Sequence[str] = ()
    derive: Sequence[str] = ()
    where: str | None = None
    sample: int | None = None
    marginal: Sequence[str] = ()

    @property
    def said(self) -> tuple[str, ...]:
        """All texts that may name columns."""
        return (*self.keep, *self.derive, *([self.where] if self.where is not None else []))

    def taken(self, figure: Any) -> Any:
        """A figure with the columns that are derived and the rows that are kept, before anything is mapped."""
        derived = pairs(self.derive, "--derive")
        figure = figure.derive(**derived) if derived else figure
        for expression in self.keep:
            figure = figure.keep(expression)
        return figure

    def finished(self, figure: Any) -> Any:
        """A figure with its layers, and what stands at its edges; of a part of the rows where that is said."""
        if self.where is not None:
            for place, layer in enumerate(figure._sentence.layers):
                # What a layer says itself goes before what is said for all of them.
                figure = figure if layer.where is not None else figure.change(place, where=self.where)
        for given in self.marginal:
            # Several may stand at one side.
            ((side, text),) = pairs([given], "--marginal").items()
            name, options = read_layer(text)
            figure = figure.marginal(side, name, **options)
        return figure if self.sample is None else figure.sample(self.sample)


def say_rows(command: Callable[..., int]) -> Callable[..., int]:
    """Puts the options on a command, which gets them together as `rows`."""

    @wraps(command)
    def gathered(*given: Any, **options: Any) -> int:
        rows = Rows(**{name: options.pop(name) for name in _NAMES})
        return command(*given, rows=rows, **options)

    for option in reversed(_OPTIONS):
        gathered = option(gathered)
    return gathered


_OPTIONS = (
    click.option(
        "--keep",
        multiple=True,
        metavar="EXPRESSION",
        shell_complete=complete("columns"),
        help='"age_days > 90": the rows that are drawn; repeatable.',
    ),
    click.option("--derive", multiple=True, metavar="NAME=EXPRESSION", help='g="mass_kg * 1000": a column more; repeatable.'),
    click.option(
        "--where",
        metavar="EXPRESSION",
        shell_complete=complete("columns"),
        help="The rows of the layers that are said, of those that are kept.",
    ),
    click.option("--sample", type=int, metavar="N", help="So many of the rows, by chance."),
    click.option(
        "--marginal",
        multiple=True,
        metavar="SIDE=LAYER",
        shell_complete=complete("marginals"),
        help="top=histogram: a distribution at an edge, with options of a layer.",
    ),
)
