"""Windows that were said: of an axis of all panels, or of single ones."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import cast

from facetine.grammar.given import Ends
from facetine.grammar.scale import ScaleSpec
from facetine.messages.errors import OptionError, ScaleError, unknown
from facetine.pipeline.composition.level_order import level_name
from facetine.pipeline.rows.chosen import parts_of
from facetine.pipeline.rows.panels import AxisKey
from facetine.pipeline.rows.runs import Split


def ends_of(spec: ScaleSpec) -> Ends | None:
    """The window of a scale whose limits are those of one axis."""
    return cast("Ends | None", spec.limits)


def windowed(split: Split, key: AxisKey) -> ScaleSpec:
    """What was said of a scale, with the limits of one axis where those of single panels were said.

    Raises:
        OptionError: Limits name a panel that is not there.
        ScaleError: A panel that they name shares its axis with others.
    """
    spec = split.sentence.scale(key.axis)
    if not isinstance(spec.limits, Mapping):
        return spec
    where = f"figure.scale({key.axis!r}): limits"
    facet, levels = split.sentence.facet, split.levels.get("facet", ())
    if facet is None:
        raise OptionError(f"{where} of panels have no effect without panels", "add .facet(…), or give two ends")
    words: dict[str, set[int]] = {}
    for number, level in enumerate(levels):
        for name in (level_name(level), *(level_name(part(level)) for part in parts_of(facet).values())):
            words.setdefault(name, set()).add(number)
    standing = {panel.number for panel in split.panels if panel.key(key.axis) == key}
    own: Ends | None = None
    for name, ends in spec.limits.items():
        if name not in words:
            raise unknown(OptionError, where, "no panel", name, tuple(words), "panels")
        if standing <= words[name]:
            own = ends
        elif standing & words[name]:
            raise ScaleError(
                f"{where}: the panel {name!r} shares its {key.axis} axis with others",
                f'separate="{key.axis}" in .facet(…) gives each its own',
            )
    return replace(spec, limits=own)
