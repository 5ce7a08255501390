"""A built figure as a page: the figure as it is in print, and a script that reads it out."""

from __future__ import annotations

from facetine.page.envelope import Looks, Words, page_of
from facetine.page.layer import LINES, MOST_VECTORS
from facetine.page.model import Model, model_of
from facetine.page.views import LETTERS
from facetine.pipeline.sheet.built import Built
from facetine.scene.marks import Scene
from facetine.writers.formats import Format, Options, Written
from facetine.writers.mixed import mixed
from facetine.writers.svg import svg


def page(built: Built, options: Options) -> Written:
    """A figure as a page.

    Args:
        built: The figure.
        options: How it is written; `interactive` says whether a script reads it out.
    """
    theme = built.members[0][0].theme
    model = model_of(built, values=options.values, most=options.most_values) if options.interactive else None
    notes = _still(model) if model is not None else []
    if options.interactive and model is None:
        notes.append(
            f"more than {options.most_values:,} values, which a page does not carry: it shows the figure alone; "
            "thin=… or .sample(…) leaves fewer, and ft.set_defaults(page_values=…) lets more travel"
        )
    return Written(_written(built.pages, options, model, (theme.readout_size, theme.quiet_opacity)), tuple(notes))


def _still(model: Model) -> list[str]:
    """What a page says of axes that should show the interval of a choice, and can't."""
    return [
        f"the {axis['said']} axis of figure {axis['member'] + 1} stays as it is where {name!r} is brushed: {axis['still']}"
        for member, limits in model.said["limits"].items()
        for name, pairs in limits.items()
        for axis in model.said["axes"]
        if axis["still"] is not None and axis["member"] == int(member) and axis["name"] in dict(pairs)
    ]


def _written(
    pages: tuple[Scene, ...], options: Options, model: Model | None = None, said: tuple[float, float] = (10.0, 0.18)
) -> bytes:
    first = pages[0]
    sheets = [_sheet(scene, options) for scene in pages]
    ground = first.ground if options.ground else None
    return page_of(sheets, Words(first.title, first.description), Looks(first.sheet[0], ground, *said), model)


def _sheet(scene: Scene, options: Options) -> str:
    """A sheet as an SVG element, with its letters; layers of very many marks are images."""
    if options.rasterize is False:
        scene, _ = mixed(scene, "auto", options.dpi, most=MOST_VECTORS, lines=LINES)
    letters = LETTERS if options.interactive else ""
    document = svg(scene, fonts="embed", ground=options.ground, web_fonts=True, marked=True, letters=letters).decode("utf-8")
    return document[document.index("<svg") :].strip()


FORMAT = Format(
    "a page to be read by hand: values at the pointer, rows to be chosen; prints as the figure",
    lambda scene, options: Written(_written((scene,), options)),
    write_pages=lambda scenes, options: Written(_written(scenes, options)),
    write_built=page,
    takes=frozenset({"positions", "interactive", "dpi"}),
    suits="browsers, reports, mail",
    loses="nothing; layers of more than 5,000 marks are images",
)
