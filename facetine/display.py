"""Figures shown: in a notebook, or in the system's viewer."""

from __future__ import annotations

from facetine.findings import Finding
from facetine.grammar.given import Length, Plain
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence
from facetine.output import built, rendered
from facetine.pipeline.built import Built
from facetine.session import now


def mime_bundle(
    sentence: Sentence | Plate, limit: int, width: Length = None, height: Length = None
) -> tuple[Plain, tuple[Finding, ...]]:
    """What a notebook can show, by type, and the figure's notes.

    Args:
        sentence: The figure.
        limit: The largest SVG in bytes; a larger one is shown as PNG.
        width: Width of the sheet; where neither it nor a default is said, 110 mm, which suits a screen.
        height: Its height.
    """
    usual = "110 mm" if sentence.sheet.width is None and now().width is None else None
    made = built(sentence, usual if width is None else width, height, "figure.show")
    drawing = rendered(made, "svg", dpi=150, transparent=False, fonts="embed")
    if len(drawing) <= limit:
        return {"image/svg+xml": drawing.decode("utf-8")}, _said(made)
    return {"image/png": rendered(made, "png", dpi=192, transparent=False, fonts="name")}, _said(made)


def _said(made: Built) -> tuple[Finding, ...]:
    """What a figure has to say, and that only one of its pages is shown."""
    count = len(made.pages)
    more = Finding("first-page", "note", "figure.show", f"page 1 of {count} is shown", ".export(…) writes all of them")
    return made.findings if count == 1 else (*made.findings, more)


def show(sentence: Sentence | Plate, width: Length, height: Length) -> tuple[Finding, ...]:
    """Shows a figure and returns its notes."""
    import sys

    shell = sys.modules.get("IPython")
    if shell is not None and shell.get_ipython() is not None:
        bundle, notes = mime_bundle(sentence, 1_500_000, width, height)
        shell.display.display(bundle, raw=True)
        return notes
    import tempfile
    import webbrowser
    from pathlib import Path

    made = built(sentence, width, height, "figure.show")
    # The viewer opens the file after this call has returned, so it can't be removed here.
    with tempfile.NamedTemporaryFile("wb", suffix=".svg", prefix="facetine-", delete=False) as stream:
        stream.write(rendered(made, "svg", dpi=150, transparent=False, fonts="embed"))
    webbrowser.open(Path(stream.name).as_uri())
    return _said(made)
