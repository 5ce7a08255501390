"""The seam between scenes and formats: what a writer is given, and what it says where it lacks a method."""

import pytest
from conftest import laid_out

import facetine as ft
from facetine.scene.marks import Group, Writer
from facetine.scene.play import play
from facetine.scene.recorder import Recorder
from facetine.writers import emf, eps, pdf, svg

FIGURE = (
    ft.figure(ft.demo_data("wheels"))
    .map(x="age_days", y="mass_kg", color="firmness_n")
    .points()
    .trend("linear")
    .callout("old", x=200, y=4)
    .facet("rind")
)


def walked(group, within=()):
    """The marks of a group, and the names of the groups that hold them, in drawing order."""
    for item in group.items:
        if isinstance(item, Group):
            yield from walked(item, (*within, item.name))
        else:
            yield item, within


def test_a_writer_is_given_every_mark_once_in_drawing_order_within_its_groups():
    scene, recorder = laid_out(FIGURE).scene, Recorder()
    play(scene, recorder)
    every = {id(mark) for mark, _ in walked(scene.root)}
    halos = [one for one in recorder.marks if id(one.mark) not in every]
    drawn = [(id(one.mark), one.groups) for one in recorder.marks if id(one.mark) in every]
    assert drawn == [(id(mark), within) for mark, within in walked(scene.root)]
    assert {one.method for one in halos} == {"paths"}, "letters of a callout stand on their halos, which are outlines"
    assert len(halos) == sum(text.halo is not None for text in scene.texts() if text.content.strip())
    assert {one.method for one in recorder.marks} >= {"markers", "paths", "text", "gradient"}
    assert all(type(one.mark).__name__.lower() == one.method for one in recorder.marks)


@pytest.mark.parametrize("method", ["markers", "rects", "paths", "gradient", "bitmap", "text", "group"])
def test_a_writer_without_a_method_says_which(method):
    class Outline(Writer):
        pass

    with pytest.raises(NotImplementedError, match=rf"Outline has no method {method}\(…\)"):
        getattr(Outline(), method)(None)


@pytest.mark.parametrize("kind", [svg._Svg, pdf._Pdf, emf._Emf, eps._Eps, Recorder])
def test_every_writer_has_every_method(kind):
    assert issubclass(kind, Writer)
    assert all(getattr(kind, name) is not getattr(Writer, name) for name in vars(Writer) if not name.startswith("_"))


def test_a_format_of_another_package_that_lacks_a_mark_is_told_by_it():
    from facetine.writers.formats import Format, Written
    from facetine.writers.trial import lacking

    class Boxes(Recorder):
        def text(self, mark):
            Writer.text(self, mark)

    form = Format("boxes alone", lambda scene, options: (play(scene, Boxes()), Written(b""))[1])
    assert lacking(lambda scene: form.write(scene, None)) == ("text (NotImplementedError: Boxes has no method text(…) for Text)")
