"""Any panels, marginals, varied columns, plates and insets of any sentence are drawn soundly or refused kindly."""

from collections import Counter

from hypothesis import given, settings
from hypothesis import strategies as st
from test_any_sentence import CATEGORIES, NUMBERS, count_one, sentences, some

import facetine as ft

SIDES = ("top", "right", "bottom", "left")


@st.composite
def panels(draw, figure):
    """A figure in panels of any sort."""
    by = draw(st.sampled_from(["category", "flag", "mass > 1", ("category", "flag"), ("ordered", "category")]))
    options = {
        "per_page": draw(st.sampled_from([None, None, 2, 5])),
        "heading": draw(st.sampled_from([None, "{name}: {value} ({count})"])),
    }
    if draw(st.booleans()):
        crossing = {"rows": by, "columns": "ordered" if "ordered" not in by else "flag"}
        return figure.facet(**crossing, row_headings=draw(st.sampled_from(["left", "right"])), **options)
    return figure.facet(by, separate=draw(st.sampled_from([None, "x", "y"])), **options)


@st.composite
def composed(draw):
    """A figure, or a plate, with one or two of what composes."""
    figure = draw(sentences())
    for _ in range(draw(st.integers(1, 2))):
        what = draw(st.sampled_from(["panels", "marginal", "marginal", "over_variables", "panel", "inset", "matrix", "plate"]))
        if what == "panels":
            figure = draw(panels(figure))
        elif what == "marginal":
            layer = draw(st.sampled_from(["histogram", "density", "boxes", "rug", "bars", "cumulative", "violins", "points"]))
            figure = figure.marginal(draw(st.sampled_from(SIDES)), layer, panels=draw(st.sampled_from(["each", "each", "edge"])))
        elif what == "over_variables":
            columns = draw(st.lists(st.sampled_from([*NUMBERS, *CATEGORIES]), min_size=1, max_size=3, unique=True))
            figure = figure.over_variables(
                **{draw(st.sampled_from("xy")): columns}, by=draw(st.sampled_from([None, None, "dash"]))
            )
        elif what == "panel":
            figure = figure.panel(ratio=draw(st.sampled_from([0.3, 1, 2])))
        elif what == "inset":
            figure = figure.inset(draw(sentences()), at=(0.4, 0.4, 1, 1), zoom=draw(st.booleans()))
        elif what == "matrix":
            columns = draw(st.lists(st.sampled_from([*NUMBERS, *CATEGORIES]), min_size=2, max_size=4, unique=True))
            figure = ft.matrix(draw(sentences())._sentence.table.source, columns)
        else:
            other = draw(sentences())
            plate = ft.plate([[figure, other]] if draw(st.booleans()) else [[figure], [other]], letters="A")
            return plate.same_scale("x") if draw(st.integers(0, 3)) == 0 else plate
    return figure


@some("FACETINE_COMPOSITIONS", 80)
@given(st.data())
def test_any_composition_is_drawn_or_refused_in_our_own_words(data):
    count_one(data, composed(), Counter())


def test_most_compositions_are_drawn():
    """The same ones in every run: of few draws by chance, the share would be chance too."""
    counted = Counter()

    @settings(some("FACETINE_COMPOSITIONS", 60), derandomize=True)
    @given(st.data())
    def drawn(data):
        count_one(data, composed(), counted)

    drawn()
    assert counted[True] >= 0.4 * sum(counted.values()), counted
