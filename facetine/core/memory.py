"""Rows in memory that answer questions, by NumPy."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from facetine.core.arrays import AnyArray, BoolArray, FloatArray
from facetine.core.columns import Columns, joined
from facetine.core.query import (
    Aggregate,
    Between,
    Bins,
    Derived,
    Filter,
    InBins,
    Moment,
    OnAxis,
    Products,
    Quantiles,
    Query,
    Reach,
    Sampled,
    Scaled,
    Total,
    shuffle_keys,
)
from facetine.core.stats.binning import counted, counted_evenly
from facetine.core.stats.cells import counted_squares
from facetine.core.stats.groups import Groups, aggregated, all_of, grouped
from facetine.core.stats.quantiles import quantiles, weighted_quantiles
from facetine.core.stats.weights import effective_size

_WEIGHT = "weight"


@dataclass(frozen=True, slots=True)
class InMemory:
    """Rows as columns; how they are grouped is remembered, since several questions ask for the same groups."""

    columns: Columns
    _known: dict[tuple[str, ...], Groups] = field(default_factory=dict)

    def __contains__(self, name: str) -> bool:
        return name in self.columns

    def rows(self, *filters: Filter, keys: tuple[str, ...] = ()) -> Columns:
        """The rows that pass the filters."""
        found = self.columns
        for one in filters:
            found = found.take(self._passing(one, keys))
        return found

    def keeping(self, *filters: Filter) -> InMemory:
        """The same without rows that do not pass."""
        return InMemory(self.rows(*filters)) if filters else self

    def without(self, name: str) -> InMemory:
        """The same without a column."""
        return InMemory(self.columns.dropped(name), self._known) if name in self.columns else self

    def with_constant(self, name: str, value: float) -> InMemory:
        """The same with a column that holds one value."""
        return InMemory(self.columns.put(**{name: np.full(len(self.columns), value)}))

    def parts(self, *keys: str) -> Iterator[InMemory]:
        """The rows of each group."""
        names = ("panel", "group", *keys)
        groups = self._groups(names)
        if len(groups.starts) == 1:
            # All rows are one group: they stand as they are.
            yield self
            return
        for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
            one = all_of(size)
            known = {(): one, ("panel",): one, ("panel", "group"): one, names: one}
            yield InMemory(self.columns.take(groups.order[start : start + size]), known)

    def ask(self, query: Query) -> Columns:
        """The answer to a question."""
        source = self
        names = tuple(name for name, wanted in (("panel", query.by_panel), ("group", query.by_group)) if wanted) + query.keys
        for one in query.filters:
            source = InMemory(source.columns.take(source._passing(one, query.keys)))
        if query.derived:
            rows = source.columns
            for said in query.derived:
                rows = rows.put(**{said.into: _derived(said, rows)})
            # Groups stay as they were unless what is derived divides them.
            kept = {} if any(said.into in query.keys for said in query.derived) else source._known
            source = InMemory(rows, kept)
        if query.bins:
            return source._counted(query, names)
        groups = source._groups(names)
        answer = source.columns.take(groups.first)
        for aggregate in query.aggregates:
            answer = answer.put(**_summed(aggregate, source.columns, groups))
        return answer

    def _groups(self, names: tuple[str, ...]) -> Groups:
        if names not in self._known:
            rows = self.columns
            keys = [getattr(rows, name) if name in ("panel", "group") else rows[name] for name in names]
            self._known[names] = grouped(*keys) if keys else all_of(len(rows))
        return self._known[names]

    def _passing(self, said: Filter, keys: tuple[str, ...]) -> AnyArray:
        """Which rows pass a filter: a mask, or their places."""
        if isinstance(said, Sampled):
            order = np.argsort(shuffle_keys(self.columns.numbers, said.seed), kind="stable")
            return np.sort(order[: said.count])
        values = self.columns[said.of]
        if isinstance(said, Between):
            inside: BoolArray = (values >= said.low) & (values <= said.high)
        else:
            number = self._groups(("panel", "group", *keys)).number
            inside = (values >= said.low[number]) & (values <= said.high[number])
        return ~inside if said.outside else inside

    def _counted(self, query: Query, names: tuple[str, ...]) -> Columns:
        """Counts of the bins of each group, also of empty ones."""
        groups, parts = self._groups(names), []
        for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
            # One group is all rows as they stand: nothing need be copied.
            part = self.columns if len(groups.starts) == 1 else self.columns.take(groups.order[start : start + size])
            counts = _counts(part, query.bins)
            first = part.take(np.zeros(counts.size, np.int64))
            places = np.indices(counts.shape).reshape(len(query.bins), -1)
            bins = {f"bin of {said.of}": place for said, place in zip(query.bins, places, strict=True)}
            parts.append(
                first.put(**bins, **{total.into: counts.ravel() for total in query.aggregates if isinstance(total, Total)})
            )
        if parts:
            return joined(parts)
        none = {f"bin of {said.of}": np.zeros(0, np.int64) for said in query.bins}
        return self.columns.put(**none, **{said.into: np.zeros(0) for said in query.aggregates if isinstance(said, Total)})


def _counts(part: Columns, bins: tuple[Bins, ...]) -> FloatArray:
    """Rows or sums of weights in the bins of one column, shape (k,), or of two, shape (k, m)."""
    weights, first = part.get(_WEIGHT), bins[0]
    if len(bins) == 2:
        return counted_squares(part[first.of], part[bins[1].of], first.edges, bins[1].edges, weights).T
    if first.even:
        low, high = float(first.edges[0]), float(first.edges[-1])
        return counted_evenly(part[first.of], low, high, len(first.edges) - 1, weights)
    return counted(part[first.of], first.edges, weights).weight


def _derived(said: Derived, rows: Columns) -> AnyArray:
    if isinstance(said, OnAxis):
        return said.transform.forward(rows[said.of])
    if isinstance(said, Scaled):
        return rows[said.of] * said.factor
    if isinstance(said, InBins):
        values, edges = rows[said.of], said.edges
        place = np.clip(np.searchsorted(edges, values, side="right") - 1, 0, len(edges) - 2)
        return np.where((values < edges[0]) | (values > edges[-1]), -1, place)
    scaled = (rows[said.x] - said.center) / said.scale
    return rows[said.y] - said.offset - np.polynomial.legendre.legval(scaled, said.coefficients)


def _summed(said: Aggregate, rows: Columns, groups: Groups) -> dict[str, AnyArray]:
    """The columns that an aggregate adds, each of shape (k,)."""
    weights = rows.get(_WEIGHT)
    if isinstance(said, Total):
        return {said.into: _total(said, rows, groups, weights)}
    if isinstance(said, Moment):
        about = said.about[groups.number] if len(groups.starts) > 1 else said.about
        powers = (rows[said.of] - about) ** said.power
        return {said.into: aggregated(powers, groups, "mean", weights)}
    if isinstance(said, Quantiles):
        return _quantiles(said, rows[said.of], groups, weights)
    return _reach(said, rows, groups) if isinstance(said, Reach) else _products(said, rows, groups, weights)


def _reach(said: Reach, rows: Columns, groups: Groups) -> dict[str, AnyArray]:
    line = rows[said.of][groups.order]
    low, high = np.repeat(said.low, groups.sizes), np.repeat(said.high, groups.sizes)
    if not len(line):
        return dict.fromkeys(said.into, line)
    least = np.minimum.reduceat(np.where(line >= low, line, np.inf), groups.starts)
    most = np.maximum.reduceat(np.where(line <= high, line, -np.inf), groups.starts)
    return dict(zip(said.into, (least, most), strict=True))


def _total(said: Total, rows: Columns, groups: Groups, weights: FloatArray | None) -> AnyArray:
    if said.how == "rows" or (weights is None and said.how in ("count", "effective")):
        return groups.sizes.astype(float)
    if said.how == "count" and weights is not None:
        return aggregated(weights, groups, "count", weights)
    if said.how == "effective" and weights is not None:
        return np.array([effective_size(part) for part in _divided(weights, groups)])
    values = rows[said.of]
    if said.how in ("distinct", "whole"):
        return np.array([_of_part(said.how, part) for part in _divided(values, groups)])
    return aggregated(values.astype(float, copy=False), groups, said.how, weights)


def _of_part(how: str, values: AnyArray) -> float:
    return float(len(np.unique(values))) if how == "distinct" else float((values == np.rint(values)).all())


def _divided(values: AnyArray, groups: Groups) -> Iterator[AnyArray]:
    """The values of each group, in the order of the rows."""
    if len(groups.starts) == 1:
        yield values
        return
    line = values[groups.order]
    for start, size in zip(groups.starts.tolist(), groups.sizes.tolist(), strict=True):
        yield line[start : start + size]


def _quantiles(said: Quantiles, values: FloatArray, groups: Groups, weights: FloatArray | None) -> dict[str, AnyArray]:
    count, own = len(groups.starts), np.asarray(said.shares, float)
    shares = own if own.ndim == 2 else np.broadcast_to(own, (count, len(own)))
    if weights is None:
        pairs = zip(_divided(values, groups), shares, strict=True)
        found = [quantiles(part, wanted) for part, wanted in pairs]
    else:
        every = zip(_divided(values, groups), _divided(weights, groups), shares, strict=True)
        found = [weighted_quantiles(part, mass, wanted) for part, mass, wanted in every]
    table = np.array(found).reshape(count, len(said.into))
    return dict(zip(said.into, table.T, strict=True))


def _products(said: Products, rows: Columns, groups: Groups, weights: FloatArray | None) -> dict[str, AnyArray]:
    basis = np.polynomial.legendre.legvander((rows[said.x] - said.center) / said.scale, said.degree)
    number = groups.number if len(groups.starts) > 1 else None

    def summed(values: FloatArray) -> FloatArray:
        if number is None:
            return np.array([values.sum()])
        return np.bincount(number, values, minlength=len(groups.starts)).astype(float)

    made: dict[str, AnyArray] = {}
    mass = np.ones(len(rows)) if weights is None else weights
    for first in range(said.degree + 1):
        column = basis[:, first] * mass
        made |= {f"{first} {second}": summed(column * basis[:, second]) for second in range(first, said.degree + 1)}
        made[f"{first} y"] = summed(column * rows[said.y])
    return made
