"""The palettes keep what the design promises of them."""

import numpy as np
import pytest

from facetine.core.color.names import NAMED, hex_color
from facetine.core.color.palettes import CYCLIC, DIVERGING, QUALITATIVE, SEQUENTIAL
from facetine.core.color.spaces import blend, contrast, distances, from_hex, from_oklab, luminance, oklab, to_hex
from facetine.core.color.vision import grayed, simulated
from facetine.grammar.theme import THEMES
from facetine.messages.errors import OptionError

WHITE = np.ones(3)


@pytest.mark.parametrize("name", QUALITATIVE)
def test_all_colors_stand_out_on_their_ground(name):
    colors = from_hex(QUALITATIVE[name])
    # One palette is made for the theme with a dark ground.
    ground = from_hex([THEMES["basalt"].ground])[0] if name == "lantern" else WHITE
    assert len(colors) == 8
    assert (contrast(colors, ground) >= 3.0).all()


@pytest.mark.parametrize("name", QUALITATIVE)
@pytest.mark.parametrize("view", ["normal", "protan", "deutan", "tritan"])
def test_every_pair_is_apart_in_every_vision(name, view):
    colors = from_hex(QUALITATIVE[name])
    seen = colors if view == "normal" else simulated(colors, view)
    apart = distances(seen)[np.triu_indices(8, 1)].min()
    assert apart >= 0.08, f"{apart:.3f}"


@pytest.mark.parametrize("name", QUALITATIVE)
def test_the_first_four_are_distinct_in_gray(name):
    light = np.sort(oklab(grayed(from_hex(QUALITATIVE[name][:4])))[:, 0])
    assert np.diff(light).min() >= 0.06


@pytest.mark.parametrize("name", SEQUENTIAL)
def test_sequential_ramps_darken_in_even_steps(name):
    light = oklab(from_hex(SEQUENTIAL[name]))[:, 0]
    steps = -np.diff(light)
    assert steps.min() > 0
    assert steps.max() - steps.min() < 0.012


@pytest.mark.parametrize("name", SEQUENTIAL)
@pytest.mark.parametrize("view", ["protan", "deutan", "tritan"])
def test_sequential_ramps_keep_their_order_in_every_vision(name, view):
    seen = luminance(simulated(from_hex(SEQUENTIAL[name]), view))
    assert (np.diff(seen) < 0).all()


@pytest.mark.parametrize("name", DIVERGING)
def test_diverging_ramps_have_a_neutral_middle_and_even_arms(name):
    lab = oklab(from_hex(DIVERGING[name]))
    middle = len(lab) // 2
    assert np.hypot(*lab[middle, 1:]) < 0.005
    assert np.abs(lab[:, 0] - lab[::-1, 0]).max() < 0.01
    assert (np.diff(lab[: middle + 1, 0]) > 0).all()


@pytest.mark.parametrize("name", DIVERGING)
@pytest.mark.parametrize("view", ["protan", "deutan", "tritan"])
def test_the_ends_of_diverging_ramps_are_apart_in_every_vision(name, view):
    seen = simulated(from_hex([DIVERGING[name][0], DIVERGING[name][-1]]), view)
    assert distances(seen)[0, 1] > 0.08


def test_the_cyclic_ramp_closes():
    colors = CYCLIC["orbit"]
    assert colors[0] == colors[-1]
    steps = np.diagonal(distances(from_hex(colors)), 1)
    assert steps.max() < 2.2 * steps.min()


def test_oklab_goes_there_and_back():
    rgb = np.random.default_rng(1).random((200, 3))
    assert np.allclose(from_oklab(oklab(rgb)), rgb, atol=1e-6)


def test_oklab_has_the_published_values():
    # Ottosson (2020) and CSS Color 4: white is L = 1 without chroma, pure red is (0.62796, 0.22486, 0.12585).
    assert np.allclose(oklab(np.array([[1.0, 1, 1]])), [[1, 0, 0]], atol=1e-4)
    assert np.allclose(oklab(np.array([[1.0, 0, 0]])), [[0.62796, 0.22486, 0.12585]], atol=1e-4)


def test_contrast_is_that_of_the_standard():
    assert contrast(np.array([[0.0, 0, 0]]), WHITE)[0] == pytest.approx(21.0)
    assert contrast(from_hex(["#767676"]), WHITE)[0] == pytest.approx(4.54, abs=0.01)


def test_a_blend_holds_its_ends():
    assert blend(["#000000", "#ffffff"], 3)[::2] == ["#000000", "#ffffff"]
    assert to_hex(from_hex(["#12ab9f"])) == ["#12ab9f"]


def test_gray_stays_what_it_is_in_every_vision():
    gray = from_hex(["#808080"])
    for view in ("protan", "deutan", "tritan"):
        assert np.allclose(simulated(gray, view), gray, atol=0.01)


def test_colors_are_named_as_in_the_standard():
    assert hex_color("Teal", "here") == NAMED["teal"] == "#008080"
    assert hex_color("#AbC", "here") == "#aabbcc"


@pytest.mark.parametrize("bad", ["teel", "#12", "#gggggg", 7, None, ""])
def test_what_is_no_color_is_refused(bad):
    with pytest.raises(OptionError, match="color"):
        hex_color(bad, "figure.points: color")


def test_a_misspelled_color_is_answered_with_the_nearest():
    with pytest.raises(OptionError, match="Did you mean 'teal'"):
        hex_color("teall", "figure.points: color")
