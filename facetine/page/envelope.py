"""The page around a figure: one HTML file that opens anywhere, reaches nothing, and runs no script but its own."""

from __future__ import annotations

import base64
import hashlib
import json
import re
from collections.abc import Iterable
from functools import lru_cache
from html import escape
from pathlib import Path
from typing import NamedTuple

from facetine.core.color.spaces import is_dark
from facetine.page.model import Model

_RUNTIME = Path(__file__).parent / "runtime"
KEPT_MODULES = (
    "asked", "recipe", "drawn", "labels", "finish/stacked", "finish/straight", "finish/student", "finish/bars", "finish/boxes",
    "finish/cells", "finish/cumulative", "finish/histogram", "finish/intervals", "finish/lines", "finish/reference",
    "finish/tally", "finish/trend", "keptlayer", "kept",
)  # fmt: skip
"""Those that compute layers of chosen rows."""
MODULES = (
    "data", "words", "numerals", "scales", "calendar", "views", "grid", "order", "mixing", "marks", "rows", "choice", "paint",
    "looks", "readout", "table", "range", "bands", "moved", "closer", "zoom", *KEPT_MODULES, "brush", "pinch", "pointer",
    "looking", "verbs", "start",
)  # fmt: skip
"""Those of the page's script, each after all that it uses."""
_IMPORT = re.compile(r"^import [^;]*;\n", re.MULTILINE)
_COMMENT = re.compile(r"^[ ]*(//[^\n]*|/\*\*(?:(?!\*/).)*\*/)\n|(?<![\"'])/\*\* @[^*]*\*/ ?", re.MULTILINE | re.DOTALL)
"""Those that take whole lines, and the sorts of values within them."""
_EXPORT = re.compile(r"^export ", re.MULTILINE)
_STYLE = re.compile(r"<style[^>]*>(.*?)</style>", re.DOTALL)
_LIGHT = {
    "ink": "#1d2227",
    "soft": "#5a6570",
    "edge": "#a3adb6",
    "card": "#ffffff",
    "veil": "rgba(29, 34, 39, 0.08)",
    "focus": "#1f5fa8",
}
_DARK = {
    "ink": "#eef1f3",
    "soft": "#b4bec7",
    "edge": "#6d7881",
    "card": "#20262b",
    "veil": "rgba(238, 241, 243, 0.14)",
    "focus": "#8fc1ff",
}
_CHOOSE = (
    "drag over a panel, or click a mark, a name in the legend or a button, or say two values in the fields, "
    "to choose rows (with Shift, more of them)"
)
_KEYS = (
    "With the keyboard: Tab to the figure, then the arrow keys from mark to mark and from group to group, "
    "Page Up and Page Down from panel to panel, Enter to choose, Escape to give it up."
)


class Words(NamedTuple):
    """What a page says of its figure."""

    title: str
    description: str


class Looks(NamedTuple):
    """How a page looks around its figure."""

    wide: float
    """The width of a sheet in points."""
    ground: str | None
    """The color of the sheet; None for none."""
    readout_size: float
    """Of the texts beside a mark, in points."""
    quiet_opacity: float
    """Of marks that are not chosen."""

    @property
    def variables(self) -> dict[str, str]:
        """As its style calls them."""
        inks = _DARK if self.ground is not None and is_dark(self.ground) else _LIGHT
        sizes = {"wide": f"{self.wide:g}pt", "readout": f"{self.readout_size:g}pt", "quiet": f"{self.quiet_opacity:g}"}
        return {"ground": self.ground or "#ffffff", **sizes, **inks}


@lru_cache(maxsize=8)
def script_of(modules: tuple[str, ...] = MODULES) -> str:
    """The page's script: its modules, one after the other, without what is for their readers."""
    parts = []
    for name in modules:
        text = (_RUNTIME / f"{name}.js").read_text("utf-8")
        parts.append(_EXPORT.sub("", _IMPORT.sub("", _COMMENT.sub("", text))))
    lines = (line.strip() for line in "\n".join(parts).split("\n"))
    return "\n".join(line for line in lines if line)


def _needed(model: Model) -> tuple[str, ...]:
    """The modules that a page has work for: times need the calendar, figures that keep chosen rows what computes them."""
    layers = model.said["layers"]
    times = any(axis["kind"] == "time" for axis in model.said["axes"]) or any(
        column["sort"] == "time" for layer in layers for column in layer["columns"]
    )
    kept = _keeps(model)
    return tuple(name for name in MODULES if (times or name != "calendar") and (kept or name not in KEPT_MODULES))


def _keeps(model: Model) -> bool:
    """Whether some figure is computed of chosen rows."""
    return any("kept" in layer for layer in model.said["layers"])


def page_of(sheets: Iterable[str], words: Words, looks: Looks, model: Model | None) -> bytes:
    """A page with its figure.

    Args:
        sheets: The figure's sheets as SVG elements.
        words: Its title and description.
        looks: How it looks around it.
        model: What the script knows of it; None for a page that is only seen.
    """
    every = list(sheets)
    variables = "".join(f"--{name}: {value};" for name, value in looks.variables.items())
    style = f":root {{ {variables} }}\n{(_RUNTIME / 'page.css').read_text('utf-8')}"
    styles = [style, *(found for sheet in every for found in _STYLE.findall(sheet))]
    code = script_of(_needed(model)) if model is not None else ""
    policy = _policy(styles, code)
    title, description = escape(words.title or "Figure"), escape(words.description)
    stage = "\n".join(f'<div class="sheet">{sheet}</div>' for sheet in every)
    live = ' tabindex="0" role="group" aria-describedby="how"' if model is not None else ""
    parts = [
        "<!DOCTYPE html>",
        '<html lang="en">',
        "<head>",
        '<meta charset="utf-8">',
        f'<meta http-equiv="Content-Security-Policy" content="{policy}">',
        '<meta name="viewport" content="width=device-width, initial-scale=1">',
        f"<title>{title}</title>",
        f"<style>{style}</style>",
        "</head>",
        "<body>",
        "<main>",
        f'<h1 class="hidden">{title}</h1>',
        "<figure>",
        f'<div class="stage" id="stage"{live} aria-label="{title}">',
        stage,
        "</div>",
        *(['<p class="kept" id="kept" aria-live="polite"></p>'] if model is not None and _keeps(model) else []),
        f'<figcaption class="hidden">{description}</figcaption>',
        "</figure>",
    ]
    if model is not None:
        parts += [_how(model), _TOOLS, _data(model), f'<script type="module">{code}</script>']
    return "\n".join([*parts, "</main>", "</body>", "</html>", ""]).encode("utf-8")


def _how(model: Model) -> str:
    carries = "values" if any(layer["columns"] for layer in model.said["layers"]) else "places"
    how = f"Point at a mark to read it; {_choosing(model)}. {_KEYS}"
    rows = ", and those of the rows of which its figures are computed" if carries == "values" and _keeps(model) else ""
    about = f'<p id="how">{how}</p><p>This file carries the {carries} of its marks{rows}.</p>'
    return f'<details class="how"><summary>How to read this page</summary>{about}</details>'


def _choosing(model: Model) -> str:
    """How rows are chosen: anywhere, or as the choices of the sheet say."""
    choices = model.said["choices"]
    if not choices:
        return _CHOOSE
    ways = [
        f"“{one['name']}” is chosen "
        + ("by clicking marks" if one["along"] is None else f"by dragging along {' and '.join(one['along'])}")
        + f" in figure {', '.join(str(other['member'] + 1) for other in choices if other['name'] == one['name'])}"
        for one in {one["name"]: one for one in choices}.values()
    ]
    return f"{', '.join(ways)}, by a name in the legend, by a button or in the fields, and seen in the figures that respond to it"


_TOOLS = """<div class="tools" id="tools" role="toolbar" aria-label="Chosen rows" hidden>
<div id="choosing"><span id="count"></span><div id="groups"></div>
<button type="button" id="clear" disabled>Clear</button>
<button type="button" id="copy" disabled>Copy rows</button>
<button type="button" id="save" disabled>Save .csv</button>
<button type="button" id="sentence" disabled>Copy as verbs</button></div>
<button type="button" id="view">Save the view (.svg)</button>
<button type="button" id="picture">Save as picture (.png)</button>
</div>
<div class="tools" id="range" role="group" aria-label="Rows between two values" hidden>
<select id="variable" aria-label="Variable"></select>
<label>from <input id="low" inputmode="text"></label>
<label>to <input id="high" inputmode="text"></label>
<button type="button" id="between">Choose rows between</button></div>
<div class="tools" id="looking" role="group" aria-label="What is seen" hidden>
<label>Dragging <select id="drag"><option value="choose">chooses rows</option><option value="closer">looks closer</option>
<option value="move">moves what is seen</option></select></label>
<select id="axis" aria-label="Axis"></select>
<label>from <input id="first" inputmode="text"></label>
<label>to <input id="last" inputmode="text"></label>
<button type="button" id="see">Show</button>
<button type="button" id="back" disabled>Back</button>
<button type="button" id="whole" disabled>Show all</button></div>
<noscript><p class="how">Scripts are off here: the figure is as it is in print.</p></noscript>
<p class="how" id="note" aria-hidden="true"></p>
<div class="hidden" id="status" role="status" aria-live="polite"></div>
<textarea id="text" aria-label="Text to copy" readonly hidden></textarea>
<section id="rows" aria-label="Chosen rows" tabindex="0" hidden></section>"""


def _data(model: Model) -> str:
    # Nothing in it can end the element that holds it.
    text = json.dumps({"said": model.said, "arrays": model.arrays}, ensure_ascii=False, separators=(",", ":"))
    safe = text.translate({ord(sign): f"\\u{ord(sign):04x}" for sign in "<>&\u2028\u2029"})
    return f'<script type="application/json" id="figure-data">{safe}</script>'


def _policy(styles: Iterable[str], code: str) -> str:
    """What the page may do: show what it holds, and run the one script that it was made with."""
    hashes = " ".join(_hash(style) for style in dict.fromkeys(styles))
    run = _hash(code) if code else "'none'"
    rest = "img-src data:; font-src data:; base-uri 'none'; form-action 'none'"
    return f"default-src 'none'; style-src {hashes}; script-src {run}; {rest}"


def _hash(text: str) -> str:
    return f"'sha256-{base64.b64encode(hashlib.sha256(text.encode('utf-8')).digest()).decode('ascii')}'"
