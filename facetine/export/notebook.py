"""Figures shown: in a notebook, or in the system's viewer."""

from __future__ import annotations

from html import escape

from facetine.export.export import built, rendered
from facetine.grammar.given import Length, Plain
from facetine.grammar.plate import Plate
from facetine.grammar.sentence import Sentence
from facetine.messages.findings import Finding
from facetine.pipeline.sheet.built import Built

_DPI = 220
"""Of the picture that stands in for the drawing: that of a screen of many pixels."""
_BELOW = 320
"""Pixels below a sheet in a frame, for what a reader chooses."""
_NOTES = "font: 12px/1.5 sans-serif; color: #4a5059; margin: 4px 0 0; padding-left: 18px; max-width: 60em"


def mime_bundle(sentence: Sentence | Plate, limit: int, width: Length = None, height: Length = None) -> tuple[Plain, Plain]:
    """What a notebook can show, by type, and how large: the figure at the size of its export, with its notes below it.

    Args:
        sentence: The figure.
        limit: The largest SVG in bytes; of a larger one the picture is shown alone.
        width: Width of the sheet, as for an export.
        height: Its height.
    """
    made = built(sentence, width, height, "figure.show")
    drawing = rendered(made, "svg", dpi=150, transparent=False, fonts="embed")
    picture = rendered(made, "png", dpi=_DPI, transparent=False, fonts="name")
    # A screen has 96 pixels an inch by its own account.
    size = {"width": round(made.scene.sheet[0] * 96 / 72), "height": round(made.scene.sheet[1] * 96 / 72)}
    bundle: Plain = {"image/png": picture}
    text = drawing.decode("utf-8") if len(drawing) <= limit else None
    if text is not None:
        bundle["image/svg+xml"] = text
    notes = list(dict.fromkeys(map(str, _said(made))))
    if notes:
        bundle["text/html"] = _with_notes(text, picture, size, made.scene.description, notes)
    return bundle, {"image/png": size}


def _with_notes(drawing: str | None, picture: bytes, size: Plain, words: str, notes: list[str]) -> str:
    """The figure as part of a page, and its notes as a list."""
    if drawing is not None:
        shown = drawing[drawing.index("<svg") :]
    else:
        import base64

        coded = base64.b64encode(picture).decode("ascii")
        sides = f'width="{size["width"]}" height="{size["height"]}"'
        shown = f'<img src="data:image/png;base64,{coded}" alt="{escape(words)}" {sides}>'
    items = "".join(f"<li>{escape(note)}</li>" for note in notes)
    return f'<div class="facetine">{shown}<ul style="{_NOTES}">{items}</ul></div>'


def _said(made: Built) -> tuple[Finding, ...]:
    """What a figure has to say, and that only one of its pages is shown."""
    count = len(made.pages)
    more = Finding("first-page", "info", "figure.show", f"page 1 of {count} is shown", ".export(…) writes all of them")
    return made.findings if count == 1 else (*made.findings, more)


def framed(sentence: Sentence | Plate, width: Length = None, height: Length = None) -> tuple[Plain, tuple[Finding, ...]]:
    """A figure as a page in a frame of a notebook, by type: the bytes of its file, which reach nothing of the notebook.

    Args:
        sentence: The figure.
        width: Width of the sheet, as for an export.
        height: Its height.
    """
    made = built(sentence, width, height, "figure.show")
    page = rendered(made, "html", dpi=_DPI, transparent=False, fonts="name").decode("utf-8")
    # The sheet is half as large again there as in print, and what stands below it needs room.
    high = round(made.scene.sheet[1] * 96 / 72 * 1.5) + _BELOW
    frame = (
        f'<iframe sandbox="allow-scripts allow-downloads" title="{escape(made.scene.title or "Figure")}" width="100%" '
        f'height="{high}" frameborder="0" srcdoc="{escape(page)}"></iframe>'
    )
    return {"text/html": frame}, made.findings


def show(sentence: Sentence | Plate, width: Length, height: Length, *, interactive: bool = False) -> tuple[Finding, ...]:
    """Shows a figure and returns the notes that were not shown with it.

    Args:
        sentence: The figure.
        width: Width of the sheet, as for an export.
        height: Its height.
        interactive: Whether as a page that is read by hand.
    """
    import sys

    shell = sys.modules.get("IPython")
    if shell is not None and shell.get_ipython() is not None:
        if interactive:
            bundle, notes = framed(sentence, width, height)
            shell.display.display(bundle, raw=True)
            return notes
        bundle, sizes = mime_bundle(sentence, 1_500_000, width, height)
        shell.display.display(bundle, metadata=sizes, raw=True)
        return ()
    import tempfile
    import webbrowser
    from pathlib import Path

    made, suffix = built(sentence, width, height, "figure.show"), "html" if interactive else "svg"
    # The viewer opens the file after this call has returned, so it can't be removed here.
    with tempfile.NamedTemporaryFile("wb", suffix=f".{suffix}", prefix="facetine-", delete=False) as stream:
        stream.write(rendered(made, suffix, dpi=150, transparent=False, fonts="embed"))
    webbrowser.open(Path(stream.name).as_uri())
    return made.findings if interactive else _said(made)
