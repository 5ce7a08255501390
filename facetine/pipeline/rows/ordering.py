"""Orders of levels that follow the data, and levels that are pooled: settled before anything is numbered by them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, FloatArray, IntArray
from facetine.core.columns import Columns
from facetine.core.scales.position import in_natural_order
from facetine.core.stats.centers import center
from facetine.core.stats.seriation import similar_order
from facetine.data.table import Column, Levels, Table
from facetine.grammar.aesthetics import POSITIONS, TURNED
from facetine.grammar.facet import Facet
from facetine.grammar.scale import ScaleSpec
from facetine.grammar.sentence import Pool, Sentence
from facetine.messages.errors import OptionError, listed
from facetine.messages.findings import Remark, Remarks, Saying, so_many, so_many_rows
from facetine.pipeline.rows.runs import LayerRun, Runs

_BY_VALUE = ("rising", "falling", "similar")


class Standing(NamedTuple):
    """A column that an aesthetic shows, in the layer that shows it first."""

    column: Column
    table: Table


def wants_order(sentence: Sentence) -> bool:
    """Whether an order follows the data, or levels are pooled."""
    facet = sentence.facet
    said = any(isinstance(spec.order, str) or spec.top is not None for spec in sentence.scales.values())
    return said or (facet is not None and any(isinstance(facet.order_of(name), str) for name in facet.names))


def asks_values(sentence: Sentence) -> bool:
    """Whether an order follows what layers compute."""
    facet = sentence.facet
    if any(spec.order in _BY_VALUE and spec.by is None for spec in sentence.scales.values()):
        return True
    return facet is not None and facet.of is None and any(facet.order_of(name) in _BY_VALUE for name in facet.names)


def seen_as(sentence: Sentence, aesthetic: str) -> str:
    """An aesthetic as the reader sees it, where axes are swapped."""
    return TURNED.get(aesthetic, aesthetic) if sentence.swapped else aesthetic


def without_orders(sentence: Sentence) -> Sentence:
    """The sentence as it stands before any order follows the data."""
    scales = {
        name: replace(spec, order=None if isinstance(spec.order, str) else spec.order, by=None, of=None, top=None)
        for name, spec in sentence.scales.items()
    }
    facet = sentence.facet
    if facet is not None and any(isinstance(facet.order_of(name), str) for name in facet.names):
        facet = replace(facet, order=None, of=None)
    return replace(sentence, scales=scales, facet=facet)


def in_order(
    sentence: Sentence,
    standing: Mapping[str, Standing],
    facets: Mapping[str, Standing],
    levels: Mapping[str, Levels],
    runs: Runs,
) -> Saying[Sentence]:
    """The sentence with a list of levels in the place of each order that follows the data.

    Args:
        sentence: What the figure says.
        standing: The discrete columns by aesthetic.
        facets: Those that make panels, by name.
        levels: Their levels as they would stand without any of it.
        runs: The layers computed so; none where no order asks for their values.

    Raises:
        OptionError: An order has nothing to go by.
    """
    scales, pools = dict(sentence.scales), dict(sentence.pools)
    for aesthetic, spec in sentence.scales.items():
        if not isinstance(spec.order, str) and spec.top is None:
            continue
        where, seen = f"figure.scale({aesthetic!r})", seen_as(sentence, aesthetic)
        found = standing.get(seen)
        if found is None:
            raise OptionError(where, f"order and top are for categories, and {aesthetic} shows none", "kinds(…) reads numbers so")
        every = [level for level in levels.get(seen, ()) if level in found.column.levels]
        ordered = _ordered(every, spec.order or "frequent", found, spec, seen, runs, where)
        if spec.order == "similar":
            said = f"{found.column.name!r} stands by likeness: average linkage, with the closest leaves beside each other"
            yield Remark("order-by-likeness", where, said)
        scales[aesthetic] = replace(spec, order=tuple(ordered), by=None, of=None, top=None, rest_as="all others")
        if spec.top is not None and len(ordered) > spec.top:
            # The largest stay, whichever way they then stand; where the order goes by no size, the most frequent.
            sized = "falling" if spec.order in ("rising", "falling") else "frequent"
            largest = _ordered(every, sized, found, spec, seen, runs, where)[: spec.top]
            kept = tuple(level for level in ordered if level in largest)
            pools[aesthetic] = Pool(kept, spec.rest_as)
            shown = (*kept, *([spec.rest_as] if spec.rest_as is not None else []))
            scales[aesthetic] = replace(scales[aesthetic], order=shown)
            yield from _say_pooled(found.column, [level for level in ordered if level not in kept], spec, where)
    return replace(sentence, scales=scales, pools=pools, facet=_facet_in_order(sentence, facets, levels, runs))


def _facet_in_order(sentence: Sentence, facets: Mapping[str, Standing], levels: Mapping[str, Levels], runs: Runs) -> Facet | None:
    facet = sentence.facet
    if facet is None or not any(isinstance(facet.order_of(name), str) for name in facet.names):
        return facet
    orders: dict[str, Levels] = {}
    for name in facet.names:
        word = facet.order_of(name)
        found = facets.get(name)
        if word is None or found is None:
            continue
        if not isinstance(word, str):
            orders[name] = word
            continue
        spec = ScaleSpec(order=word, by="median" if facet.of is not None else None, of=facet.of)
        key = "" if facet.crossed else "facet"
        every = list(found.column.levels) if facet.crossed else list(levels["facet"])
        orders[name] = tuple(_ordered(every, word, found, spec, key, runs, "figure.facet"))
    return replace(facet, order=orders if facet.crossed else next(iter(orders.values())), of=None)


def _ordered(
    every: Sequence[object], order: Levels | str, found: Standing, spec: ScaleSpec, aesthetic: str, runs: Runs, where: str
) -> list[object]:
    """The levels in the order that was said."""
    column = found.column
    if not isinstance(order, str):
        first = [level for word in order for level in every if str(level) == str(word)]
        return [*first, *(level for level in every if level not in first)]
    if order == "natural":
        return in_natural_order(every)
    codes = column.values.astype(np.int64)
    if order == "seen":
        places = {column.levels[code]: place for place, code in reversed(list(enumerate(codes.tolist()))) if code >= 0}
        return sorted(every, key=lambda level: places.get(level, len(codes)))
    if order == "frequent":
        values = dict(zip(column.levels, np.bincount(codes[codes >= 0], minlength=len(column.levels)).tolist(), strict=True))
    elif spec.by is not None:
        values = _by_statistic(found, spec, where)
    elif order == "similar":
        return [every[place] for place in similar_order(_cells_of(every, runs, aesthetic, where)).tolist()]
    else:
        values = _drawn(every, runs, aesthetic, where)
    # Levels alike stay as they stood; those without a value come last.
    sign = 1 if order == "rising" else -1
    known = {level: value for level, value in values.items() if value == value}
    return sorted(every, key=lambda level: (level not in known, sign * known.get(level, 0.0)))


def _by_statistic(found: Standing, spec: ScaleSpec, where: str) -> dict[object, float]:
    """A statistic of a column for each level."""
    column, how = found.column, str(spec.by)
    codes = column.values.astype(np.int64)
    if how == "count":
        counts = np.bincount(codes[codes >= 0], minlength=len(column.levels))
        return dict(zip(column.levels, counts.astype(float).tolist(), strict=True))
    of = found.table.need(str(spec.of), where, "of=")
    if of.kind not in ("number", "time"):
        raise OptionError(where, f"of={spec.of!r} holds no numbers", f"by={how!r} is a statistic of numbers")
    values = of.values.astype(float)
    return {level: _statistic(values[(codes == code) & ~np.isnan(values)], how) for code, level in enumerate(column.levels)}


def _statistic(values: FloatArray, how: str) -> float:
    if not len(values):
        return float("nan")
    if how in ("mean", "median"):
        return float(center(values, how))
    return float(values.sum() if how == "sum" else values.min() if how == "min" else values.max())


def _drawn(every: Sequence[object], runs: Runs, aesthetic: str, where: str) -> dict[object, float]:
    """The value of each level as the first layer draws it that has one: heights in all, medians of rows, last values of lines."""
    for run in runs:
        found = _values(run, aesthetic)
        if found is None:
            continue
        codes, values, how, along = found
        drawn: dict[object, float] = {}
        for code, level in enumerate(every):
            chosen = (codes == code) & np.isfinite(values)
            part = values[chosen]
            if not len(part):
                continue
            drawn[level] = float(part[np.argmax(along[chosen])]) if how == "last" else _statistic(part, how)
        return drawn
    raise OptionError(where, "order has no drawn value to go by", 'by="median", of="…" says a statistic of a column')


def _cells_of(every: Sequence[object], runs: Runs, aesthetic: str, where: str) -> FloatArray:
    """What the first layer of cells shows of each level, shape (levels, cells along the other axis in all panels).

    Raises:
        OptionError: There are no cells.
    """
    run = next((one for one in runs if one.layer.color_is_value and "color" in one.table), None)
    other = {"x": "y", "y": "x"}.get(aesthetic)
    codes = None if run is None or other is None else _codes(run.table, aesthetic)
    if run is None or other is None or codes is None or run.context.discrete("color"):
        raise OptionError(
            where, 'order="similar" compares rows or columns of cells of numbers, and there are none', ".cells() draws them"
        )
    counted = "color" not in run.columns
    across, place = np.unique(np.column_stack([run.table.panel, run.table[other]]), axis=0, return_inverse=True)
    made = np.full((len(every), len(across)), 0.0 if counted else np.nan)
    known = (codes >= 0) & (codes < len(every))
    made[codes[known], place.reshape(-1)[known]] = run.table["color"][known]
    return made


def _values(run: LayerRun, aesthetic: str) -> tuple[IntArray, FloatArray, str, FloatArray] | None:
    """Codes of the levels, what is drawn of each, how it is summed up, and places along x."""
    layer = run.layer
    if layer.stands_alone or layer.borrows is not None:
        return None
    table: Columns = run.table.renamed(TURNED) if run.horizontal else run.table
    own = run.own(aesthetic) if aesthetic in POSITIONS else aesthetic
    heights = layer.amounts
    summed = layer.averages or getattr(layer, "aggregate", "none") != "none"
    rows = table if heights or summed else run.rows
    if own == "y" and not layer.color_is_value:
        return None
    codes = _codes(rows, own)
    if codes is None:
        return None
    if layer.color_is_value:
        name = "count" if "count" in rows and "color" not in run.columns else "color"
        return codes, rows[name].astype(float), "sum", codes.astype(float)
    if heights and "y_high" in rows and "y_low" in rows:
        return codes, rows["y_high"] - rows["y_low"], "sum", codes.astype(float)
    if "y" not in rows or run.context.discrete("y"):
        return None
    along = rows["x"].astype(float) if "x" in rows else codes.astype(float)
    how = "sum" if heights else "last" if layer.ends_count and aesthetic not in POSITIONS else "median"
    return codes, rows["y"].astype(float), how, along


def _codes(rows: Columns, own: str) -> IntArray | None:
    if own == "facet":
        return rows.panel
    name = f"{own} value" if f"{own} value" in rows else own
    if name not in rows:
        return None
    codes: AnyArray = np.rint(rows[name].astype(float))
    return np.where(np.isfinite(codes), codes, -1).astype(np.int64)


def _say_pooled(column: Column, others: Sequence[object], spec: ScaleSpec, where: str) -> Remarks:
    """What became of the levels beyond the largest."""
    codes = {code for code, level in enumerate(column.levels) if level in others}
    rows = so_many_rows(int(np.isin(column.values, list(codes)).sum()))
    said = f"{so_many(len(others), 'level')} of {column.name!r} ({listed(map(str, others), 3)}), {rows}"
    if spec.rest_as is None:
        yield Remark("levels-left-out", where, f"{said}, left out", 'rest_as="all others" pools them')
    else:
        yield Remark("levels-pooled", where, f"{said}, pooled as {spec.rest_as!r}", "rest_as=None leaves them out")


def pooled(column: Column, pool: Pool | None) -> Column:
    """A column with its levels beyond those kept made one, or missing."""
    if pool is None or not column.discrete:
        return column
    kept = [level for level in column.levels if level in pool.kept]
    levels: Levels = (*kept, pool.rest) if pool.rest is not None else tuple(kept)
    places = {level: place for place, level in enumerate(kept)}
    rest = len(kept) if pool.rest is not None else -1
    lookup = np.array([*(places.get(level, rest) for level in column.levels), -1], np.int64)
    return replace(column, values=lookup[column.values.astype(np.int64)], levels=levels, kind="category", own_order=True)


def held(table: Table, sentence: Sentence, columns: Mapping[str, Column]) -> BoolArray | None:
    """Where rows stay whose levels are left out by rest_as=None; None for everywhere."""
    keep = np.ones(table.height, bool)
    for aesthetic, column in columns.items():
        pool = sentence.pools.get(POSITIONS.get(aesthetic, aesthetic))
        if pool is not None and pool.rest is None and column.discrete:
            kept = np.array([*(level in pool.kept for level in column.levels), True], bool)
            keep &= kept[column.values.astype(np.int64)]
    return None if keep.all() else keep
