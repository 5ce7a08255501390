"""Messages on figures whose axes are swapped: they call scales as the sentence does, before x and y were exchanged."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import replace

from facetine.grammar.aesthetics import TURNED
from facetine.messages.errors import FacetineError
from facetine.messages.findings import Finding

_SCALE = re.compile(r"""scale\((['"])([xy])\1""")


@contextmanager
def spoken_of_as_said(swapped: bool) -> Iterator[None]:
    """Lets errors on a swapped figure call its scales as they were written.

    Args:
        swapped: Whether it is.

    Raises:
        FacetineError: What was raised inside, in those words.
    """
    try:
        yield
    except FacetineError as problem:
        if swapped:
            problem.where, problem.what, problem.help = map(_as_said, (problem.where, problem.what, problem.help))
        raise


def remarks_as_said(findings: Iterable[Finding], swapped: bool) -> tuple[Finding, ...]:
    """Remarks on a figure, which call its scales as they were written."""
    return tuple(
        replace(one, where=_as_said(one.where), text=_as_said(one.text), fix=_as_said(one.fix)) if swapped else one
        for one in findings
    )


def _as_said(text: str) -> str:
    return _SCALE.sub(lambda found: f"scale({found[1]}{TURNED[found[2]]}{found[1]}", text)
