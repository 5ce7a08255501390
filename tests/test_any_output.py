"""Any figure goes out in any form: files stay whole, checks and descriptions speak of it, and what it carries is had again."""

import io
import re
import warnings
import xml.etree.ElementTree as ET
from pathlib import Path

import pikepdf
from hypothesis import given
from hypothesis import strategies as st
from test_any_composition import composed
from test_any_sentence import sentences, some
from writers.test_opaque import records

import facetine as ft
from facetine.export.export import built, contents
from facetine.messages.errors import FacetineError
from facetine.writers.formats import Options
from facetine.writers.inks import Inks


def tried(data, figures):
    """A figure and what it makes; None where it is refused."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ft.FacetineFinding)
        try:
            figure = data.draw(figures)
            return figure, built(figure._sentence, "180 mm", None)
        except FacetineError:
            return None


def sound_pdf(content):
    with pikepdf.open(io.BytesIO(content)) as document:
        for page in document.pages:
            depth = states = 0
            for _, operator in pikepdf.parse_content_stream(page):
                depth += {"BDC": 1, "BMC": 1, "EMC": -1}.get(str(operator), 0)
                states += {"q": 1, "Q": -1}.get(str(operator), 0)
                assert depth >= 0
                assert states >= 0
            assert depth == states == 0
        tree = document.Root.StructTreeRoot
        owners = [owner for place in range(1, len(tree.ParentTree.Nums), 2) for owner in tree.ParentTree.Nums[place]]
        assert all(isinstance(owner, pikepdf.Dictionary) for owner in owners)


def sound_svg(content):
    root = ET.fromstring(content)
    ids = [element.get("id") for element in root.iter() if element.get("id")]
    assert len(ids) == len(set(ids))
    assert all(one.startswith(root.get("id")) for one in ids)
    used = set(re.findall(r'(?:url\(#|href="#)([^)"]+)', content.decode()))
    assert used <= set(ids)
    return {one.partition("-")[2] for one in ids}


@some("FACETINE_OUTPUTS", 24)
@given(st.data())
def test_any_figure_goes_out_in_any_form(data):
    found = tried(data, st.one_of(sentences(), composed()))
    if found is None:
        return
    figure, made = found
    first = made._replace(pages=made.pages[:1])
    groups = sound_svg(contents(first, "svg", Options())[0].content)
    sound_svg(contents(first, "svg", Options(72, rasterize=True, fonts="outline"))[0].content)
    sound_pdf(contents(made, "pdf", Options(72, archive=True))[0].content)
    sound_pdf(contents(first, "pdf", Options(72, inks=Inks("cmyk"), rasterize=True))[0].content)
    eps = contents(first, "eps", Options(72))[0].content
    assert eps.isascii()
    assert eps.count(b"%%BeginObject") == eps.count(b"%%EndObject")
    assert records(contents(first, "emf", Options(72))[0].content)
    checked = figure.check("wide", width="180 mm")
    assert {finding.group for finding in checked} - {""} <= groups or len(made.pages) > 1
    assert repr(checked)
    assert figure.describe("long").startswith(made.scene.description[:20])


@some("FACETINE_OUTPUTS", 20)
@given(st.data())
def test_any_figure_that_can_carry_its_data_is_had_again(data):
    found = tried(data, sentences())
    if found is None:
        return
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ft.FacetineFinding)
        try:
            found[0].export("a.svg", width="120 mm", data="embed")
        except FacetineError as problem:
            refusal = str(problem)
        else:
            refusal = ""
        if refusal:
            assert "data='embed'" in refusal or "plain data" in refusal, refusal
            return
        ft.reopen("a.svg").figure.export("b.svg", data="embed")
    assert Path("a.svg").read_bytes() == Path("b.svg").read_bytes()
