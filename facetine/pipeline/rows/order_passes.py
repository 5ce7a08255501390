"""The step between the statistics and the levels: orders that follow what layers compute of levels in their usual order."""

from __future__ import annotations

from facetine.grammar.aesthetics import POSITIONS
from facetine.grammar.sentence import Sentence
from facetine.messages.findings import Saying, heard
from facetine.pipeline.composition.planned import Owners
from facetine.pipeline.rows.compute import computed
from facetine.pipeline.rows.ordering import Standing, asks_values, in_order, wants_order, without_orders
from facetine.pipeline.rows.runs import Runs
from facetine.pipeline.rows.split import Begun, begun, split

_WIDTH, _HEIGHT = 480.0, 360.0
"""Of a sheet that is never drawn, in points."""


def begun_in_order(sentence: Sentence) -> Saying[Begun]:
    """A sentence begun, with its levels in their order.

    Raises:
        OptionError: An order has nothing to go by.
        FacetineError: As `begun`.
    """
    if not wants_order(sentence):
        return (yield from begun(sentence))
    # What is said of the usual order is said of the order that was asked for, too.
    plain, _ = heard(begun(without_orders(sentence)))
    runs: Runs = ()
    if asks_values(sentence):
        usual, _ = heard(split(plain, _WIDTH, _HEIGHT, Owners()))
        runs, _ = heard(computed(usual))
    standing: dict[str, Standing] = {}
    facets: dict[str, Standing] = {}
    for draft in plain.drafts:
        for aesthetic, column in {**draft.grouping, **draft.columns}.items():
            if column.discrete:
                standing.setdefault(POSITIONS.get(aesthetic, aesthetic), Standing(column, draft.table))
        if sentence.facet is not None and draft.facets:
            for name, column in zip(sentence.facet.names, draft.facets, strict=True):
                facets.setdefault(name, Standing(column, draft.table))
    ordered = yield from in_order(sentence, standing, facets, plain.levels, runs)
    return (yield from begun(ordered))
