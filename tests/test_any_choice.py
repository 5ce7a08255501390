"""Any sentence is computed of any chosen rows, on paper and for pages, on the scales that all rows have, or is refused."""

import warnings

from conftest import IN_CI
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from test_any_sentence import sentences

import facetine as ft
from facetine.export.export import built, rendered
from facetine.grammar.plate import left_to_readers
from facetine.messages.errors import FacetineError
from facetine.page.model import model_of

CHOSEN = (None, "whole > 2", "category = 'a'", "flag", "number > 0", "mass < 0.4", "number > 1000")


def beside(figure, start, show_all):
    """A plate of a figure that chooses rows, and of one that is computed of them."""
    frame = figure._sentence.table.given
    source = ft.figure(frame).map(x="share", y="mass").points().choose("some", along="x", start=start)
    return ft.plate([[source, figure.respond("some", "keep", show_all=show_all)]])


def laid_out(plate, *, live=False):
    said = left_to_readers(plate._sentence) if live else plate._sentence
    return built(said, "200 mm", None)


@settings(
    max_examples=20 if IN_CI else 12,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large, HealthCheck.filter_too_much],
)
@given(sentences(), st.sampled_from(CHOSEN), st.sampled_from([None, True, False]))
def test_any_sentence_is_computed_of_any_chosen_rows(figure, start, show_all):
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        try:
            every = laid_out(beside(figure, None, show_all))
        except FacetineError:
            return
        plate = beside(figure, start, show_all)
        refused: FacetineError | None = None
        try:
            some = laid_out(plate)
        except FacetineError as error:
            refused = error
        if refused is not None:
            # What all rows can be, some of them can be too, but for the room that the note takes.
            assert "height" in str(refused) or "width" in str(refused), str(refused)
            return
        for ours, theirs in zip(some.members[-1], every.members[-1], strict=True):
            for key, axis in theirs.scales.axes.items():
                assert ours.scales.axes[key].extent == axis.extent, key
            for name, scale in theirs.scales.looks.items():
                assert ours.scales.looks[name].values == scale.values
            for run in ours.runs:
                if run.whole is not None:
                    assert len(run.table) <= len(run.whole) or run.layer.results(run.context.columns)
        for suffix in ("svg", "pdf"):
            assert rendered(some, suffix, dpi=100, transparent=False, fonts="embed")
        model = model_of(laid_out(plate, live=True))
        assert model is not None
        kept = [layer for layer in model.said["layers"] if layer.get("kept") and layer["kept"]["finish"] != "rows"]
        for layer in kept:
            assert layer["kept"]["rows"]["count"] == layer["kept"]["of"]["count"]
