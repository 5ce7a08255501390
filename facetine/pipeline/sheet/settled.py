"""The figures on a sheet, taken through the steps side by side, so that what they share is settled once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TypeAlias

from facetine.core.scales.kinds.base import Transform
from facetine.data.kind_words import kind_words
from facetine.data.table import Levels
from facetine.grammar.aesthetics import LOOKS
from facetine.grammar.scale import NOTHING, ScaleSpec
from facetine.grammar.theme import Theme
from facetine.messages.errors import KindError, ScaleError
from facetine.messages.findings import Saying, each
from facetine.pipeline.composition.level_order import MISSING
from facetine.pipeline.composition.planned import Planned
from facetine.pipeline.guides.legend_entries import default_looks
from facetine.pipeline.rows.compute import computed
from facetine.pipeline.rows.order_passes import begun_in_order
from facetine.pipeline.rows.runs import Runs, Split
from facetine.pipeline.rows.split import Begun, split
from facetine.pipeline.scales.axes import Axis, settle_axes
from facetine.pipeline.scales.chosen import of_chosen
from facetine.pipeline.scales.clipping import inside
from facetine.pipeline.scales.highlighted import say_undivided
from facetine.pipeline.scales.look_scales import Scales
from facetine.pipeline.scales.look_settling import settle_looks
from facetine.pipeline.scales.member import Member, finished
from facetine.pipeline.scales.shades import default_color, keyed_colors, palette_colors
from facetine.pipeline.scales.texts import with_texts
from facetine.pipeline.scales.wording import axis_title
from facetine.pipeline.sheet.remarks import check_again, check_layers, check_looks, say_empty, say_near_empty, say_unseen

_Shared: TypeAlias = tuple[str, object]
"""Under what levels are known on a sheet: the aesthetic, and the axis or the column."""


def settled(planned: Sequence[Planned], width: float, height: float | None) -> Saying[list[Member]]:
    """Takes figures through all steps up to the layout.

    Args:
        planned: The figures; what they share is said by their numbers.
        width: Width of the sheet in points.
        height: Its height; None for the one that suits.

    Raises:
        FacetineError: One of them can't be drawn, or what they are to share is of two kinds.
    """
    begun = yield from each(begun_in_order(one.sentence) for one in planned)
    splits = yield from each(
        split(begin, width if one.width is None else one.width, height, one.owners)
        for begin, one in zip(_agreed(planned, begun), planned, strict=True)
    )
    runs_of = yield from each(map(computed, splits))
    splits = [whole._replace(runs=runs) for whole, runs in zip(splits, runs_of, strict=True)]
    axes = yield from settle_axes(splits)
    yield from say_empty([run for whole in splits for run in whole.runs])
    members = []
    for number, (whole, one) in enumerate(zip(splits, planned, strict=True)):
        keys = {panel.key(axis) for panel in whole.panels for axis in ("x", "y")}
        titled = yield from each(_titled(axis, whole, splits) for key, axis in axes.items() if key in keys)
        own = dict(zip((key for key in axes if key in keys), titled, strict=True))
        if one.role == "main":
            yield from say_near_empty(whole, own)
        within = yield from each(inside(own, whole.panels, run) for run in whole.runs)
        whole = whole._replace(runs=tuple(within))
        looks = yield from settle_looks(whole, splits)
        scales = Scales(own, looks)
        runs = tuple(finished(with_texts(run, whole.runs, scales, whole.panels)) for run in whole.runs)
        runs = _with_usual(runs, whole.sentence.theme)
        runs = tuple((yield from each(of_chosen(run, runs, scales, whole.panels) for run in runs)))
        yield from check_layers(runs)
        yield from say_unseen(whole.runs)
        yield from say_undivided(runs, whole.sentence.highlight)
        if one.role == "main":
            yield from check_again(whole.sentence.layers)
            yield from check_looks(whole, scales.looks)
        members.append(Member(number, one.role, whole._replace(runs=runs), scales, [], place=number))
    return members


def _titled(axis: Axis, whole: Split, splits: list[Split]) -> Saying[Axis]:
    """An axis under the title that a figure gives it, where several share it."""
    if len(splits) == 1:
        return axis
    title = yield from axis_title(whole, axis.name)
    return axis._replace(title=title)


def _with_usual(runs: Runs, theme: Theme) -> Runs:
    """The layers with the looks of their marks to which nothing is mapped."""
    palette = palette_colors(NOTHING, theme)
    colors = {run.number: default_color(run, runs, theme, palette[0]) for run in runs} | keyed_colors(runs, palette)
    return tuple(run._replace(usual=default_looks(run.layer, theme, colors[run.number])) for run in runs)


def _agreed(planned: Sequence[Planned], begins: list[Begun]) -> list[Begun]:
    """The figures with the same levels of what they share.

    Raises:
        KindError: An axis that they share has two kinds.
        ScaleError: It has two kinds of scales.
    """
    if len(begins) == 1:
        return begins
    known_as = [{name: _shared_as(name, begin, one) for name in begin.levels} for begin, one in zip(begins, planned, strict=True)]
    heads = _heads(begins, known_as)
    shared: dict[_Shared, Levels] = {}
    for begin, known in zip(begins, known_as, strict=True):
        for name, levels in begin.levels.items():
            at = heads[known[name]]
            shared[at] = _together(shared.get(at, ()), levels)
    _check_kinds(planned, begins)
    return [
        begin._replace(levels={name: shared[heads[at]] for name, at in known.items()})
        for begin, known in zip(begins, known_as, strict=True)
    ]


def _heads(begins: Sequence[Begun], known_as: Sequence[Mapping[str, _Shared]]) -> dict[_Shared, _Shared]:
    """Under what levels are kept: looks that share a legend in one figure have the same levels in all of them."""
    heads = {at: at for known in known_as for at in known.values()}
    for begin, known in zip(begins, known_as, strict=True):
        firsts: dict[object, _Shared] = {}
        for name in (look for look in LOOKS if look in known):
            first = firsts.setdefault((known[name][1], begin.levels[name]), known[name])
            kept, given_up = heads[first], heads[known[name]]
            heads = {at: kept if head == given_up else head for at, head in heads.items()}
    return heads


def _shared_as(name: str, begin: Begun, one: Planned) -> _Shared:
    """Under what levels are known on the sheet: those of places by their axis, those of looks by their column."""
    if name in ("x", "y"):
        return name, one.owners.x if name == "x" else one.owners.y
    if name.startswith("facet"):
        return name, begin.sentence.facet.names if begin.sentence.facet is not None else ()
    column = begin.columns.get(name)
    return name, column.name if column is not None else id(begin)


def _together(levels: Levels, others: Levels) -> Levels:
    """Levels of two figures, those of the first leading; rows without a value come last."""
    every = dict.fromkeys([*levels, *others])
    lost = every.pop(MISSING, True) is None
    return (*every, MISSING) if lost else tuple(every)


def _scale_said(spec: ScaleSpec, transform: Transform) -> str:
    """The kind of a scale, with its options."""
    options = ", ".join(f"{name}={getattr(transform, name)}" for name in transform.options())
    return f"{spec.kind or 'linear'}{f' ({options})' if options else ''}"


def _check_kinds(planned: Sequence[Planned], begins: list[Begun]) -> None:
    seen: dict[tuple[str, int], Begun] = {}
    for begin, one in zip(begins, planned, strict=True):
        for axis in ("x", "y"):
            column = begin.columns.get(axis)
            if column is None:
                continue
            first = seen.setdefault((axis, getattr(one.owners, axis)), begin)
            theirs = first.columns[axis]
            if (column.discrete, column.kind == "time") != (theirs.discrete, theirs.kind == "time"):
                raise KindError(
                    "figure",
                    f"{axis} is to be shared, but holds {kind_words(theirs)} ({theirs.name!r}) here and "
                    f"{kind_words(column)} ({column.name!r}) there",
                    "one axis shows one kind",
                )
            if begin.transforms[axis] != first.transforms[axis]:
                here, there = (_scale_said(one.sentence.scale(axis), one.transforms[axis]) for one in (first, begin))
                raise ScaleError(
                    "figure", f"{axis} is to be shared, but its scale is {here} here and {there} there", "one axis has one scale"
                )
