"""Where the panels of all figures of a sheet stand."""

from __future__ import annotations

from typing import NamedTuple

from facetine.pipeline.rows.panels import AxisTitle, Grid, Panels, Span


class Arranged(NamedTuple):
    """The panels of all figures of a sheet in one grid, numbered in the order of the figures."""

    panels: Panels
    grid: Grid
    titles: tuple[AxisTitle, ...]
    spans: tuple[Span, ...] = ()
