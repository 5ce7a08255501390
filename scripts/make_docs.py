"""Write docs/words.md, layers.md, settings.md, formats.md and checks.md: what there is, with its options and reasons.

    python scripts/make_docs.py

`tests/test_docs.py` fails where a page is not what the code says.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Iterable
from dataclasses import Field, fields
from pathlib import Path
from typing import Any

from facetine.checks.profile import profiles
from facetine.checks.rules import every_rule
from facetine.core.scales.kinds import SCALES
from facetine.data.allowed import EXPRESSIONS, SERVERS, SQLITE
from facetine.data.codebook import Entry
from facetine.grammar.aesthetics import AESTHETICS
from facetine.grammar.scale import OTHER_KINDS, ScaleOptions, SecondAxisSpec
from facetine.grammar.theme import THEME_WORDS, THEMES, Theme
from facetine.layers import LAYERS, layer_class
from facetine.layers.helping import ToldOption, told_options
from facetine.messages.glossary import glossary, help_text
from facetine.writers.formats import FORMATS

DOCS = Path(__file__).parent.parent / "docs"
sys.path.insert(0, str(DOCS.parent / "examples"))
from layers import SENTENCES  # noqa: E402

sys.path.insert(0, str(Path(__file__).parent))
from public_words import owners_of_words  # noqa: E402


def _default(value: Any) -> str:
    return "" if value is None else f"`{value!r}`".replace("'", '"')


def _says(entry: Field[Any], owner: str) -> str:
    return help_text(entry.name, owner, entry.metadata["detail"])


def _options(entries: Iterable[Field[Any]], owner: str) -> list[str]:
    return [f"| `{entry.name}` | {_default(entry.default)} | {_says(entry, owner)} |" for entry in entries]


def _where(sort: str) -> str:
    return {"x": " In the unit of x.", "y": " In the unit of y.", "count": " A whole number without weights."}.get(sort, "")


def layers() -> str:
    """The page of layers and aesthetics."""
    lines = [
        "# Layers",
        "",
        "Made by `scripts/make_docs.py` from the layers themselves; `help(ft.Figure.trend)` says the same.",
        "",
    ]
    lines += ["![A small figure of each layer](screenshots/layers.png)", ""]
    lines += ["What follows the data is mapped, what is fixed is an option. What each computes, and how, stands in", ""]
    lines[-2] += " [statistics](statistics.md). All take:"
    lines += ["| option | default | is | |", "|---|---|---|---|"]
    lines += [_told(one) for one in told_options(layer_class("points")) if one.shared]
    lines.append("")
    for verb in LAYERS:
        kind = layer_class(verb)
        first = f" The first argument may be `{kind.first}`." if kind.first else ""
        lines += [f"## {verb}", "", f"{kind.__doc__}{first}", ""]
        if verb in SENTENCES:
            lines += ["```python", SENTENCES[verb], "```", ""]
        if kind.because:
            where = "the data" if kind.computes_in == "data" else "places on the axes"
            lines += [f"Computes from {where}: {kind.because}.", ""]
        if kind.takes:
            lines += [f"Aesthetics: {', '.join(f'`{name}`' for name in kind.takes)}.", ""]
        lines += [f"Missing values: {kind.missing_says[0].lower()}{kind.missing_says[1:]}", ""]
        lines += [f"Weights: {kind.weighs}." if kind.weighs else "Weights: have no use here.", ""]
        if kind.all_names(kind()):
            lines += ["What it computes, for templates:", "", "| name | |", "|---|---|"]
            lines += [
                f"| `{name}` | {help_text(name, 'computed', entry.detail)}{_where(entry.sort)} |"
                for name, entry in kind.all_names(kind()).items()
            ]
            lines.append("")
        lines += ["| option | default | is | |", "|---|---|---|---|"]
        lines += [*(_told(one) for one in told_options(kind) if not one.shared), ""]
    lines += ["# Aesthetics", "", "| aesthetic | |", "|---|---|"]
    lines += [f"| `{name}` | {says} |" for name, says in AESTHETICS.items()]
    return "\n".join(lines) + "\n"


def _told(one: ToldOption) -> str:
    default = "" if one.name == "map" else _default(one.default)
    accepts = re.sub(r'"([^"]*)"', r"`\1`", one.accepts.removeprefix("one of "))
    return f"| `{one.name}` | {default} | {accepts} | {one.says} |"


def settings() -> str:
    """The page of scales, themes and the codebook."""
    lines = ["# Settings", "", "Made by `scripts/make_docs.py` from the code itself.", "", "## Kinds of scales", ""]
    kinds = {name: SCALES[name].says for name in SCALES.all_names()} | OTHER_KINDS
    lines += ["| kind | for |", "|---|---|", *(f"| `{name}` | {says} |" for name, says in kinds.items()), ""]
    lines += ["## Options of a scale", "", "| option | |", "|---|---|"]
    lines += [f"| `{entry.name}` | {_says(entry, 'scale')} |" for entry in fields(ScaleOptions) if entry.name != "kind"]
    lines += ["", "## Options of a second axis", "", "| option | |", "|---|---|"]
    lines += [f"| `{entry.name}` | {_says(entry, 'second_axis')} |" for entry in fields(SecondAxisSpec)]
    lines += ["", "## Themes", "", "| theme | | differs from `press` in |", "|---|---|---|"]
    press = THEMES["press"]
    for name, theme in THEMES.items():
        own = [entry.name for entry in fields(Theme) if getattr(theme, entry.name) != getattr(press, entry.name)]
        lines.append(f"| `{name}` | {THEME_WORDS[name]} | {', '.join(own)} |")
    lines += ["", "## Settings of a theme", "", "| setting | default | |", "|---|---|---|", *_options(fields(Theme), "theme")]
    lines += ["", "## Keys of a codebook's entry", "", "| key | |", "|---|---|"]
    keys = ["from" if entry.name == "origin" else entry.name for entry in fields(Entry)]
    lines += [f"| `{key}` | {help_text(key, 'codebook')} |" for key in keys]
    return "\n".join(lines) + "\n"


def words() -> str:
    """The page of the glossary."""
    found, owners = glossary(), owners_of_words()
    lines = [
        "# Words",
        "",
        "Made by `scripts/make_docs.py` from the glossary: every option, key of a plan or a codebook, and computed name.",
        "",
    ]
    lines += ["| word | holds | | of |", "|---|---|---|---|"]
    for name, entry in found.words.items():
        lines.append(f"| `{name}` | {entry.sort} | {entry.says} | {', '.join(owners.get(name, []))} |")
    lines += ["", "## Words with more than one meaning", "", "| word | of | holds | | because |", "|---|---|---|---|---|"]
    for name, several in found.several.items():
        for owner, entry in several.meanings.items():
            lines.append(f"| `{name}` | {owner} | {entry.sort} | {entry.says} | {several.reason} |")
    return "\n".join(lines) + "\n"


def formats() -> str:
    """The page of formats."""
    lines = [
        "# Formats",
        "",
        'Made by `scripts/make_docs.py` from the formats themselves; `ft.catalog("formats")` lists them too.',
        "",
    ]
    lines += ["| suffix | | suits | loses | options |", "|---|---|---|---|---|"]
    for name, form in FORMATS.items():
        options = sorted({*form.takes, *(("dpi", "icc", "paper") if form.pixels else ())})
        lines.append(f"| `.{name}` | {form.says} | {form.suits} | {form.loses} | {', '.join(f'`{one}`' for one in options)} |")
    return "\n".join(lines) + "\n\n" + (DOCS / "parts" / "formats.md").read_text("utf-8")


def checks() -> str:
    """The page of the check's rules."""
    lines = ["# The check", "", "Made by `scripts/make_docs.py` from the rules themselves.", ""]
    lines += [(DOCS / "parts" / "checks.md").read_text("utf-8"), "## Profiles", ""]
    lines += ["| profile | | sheet | texts | lines | contrast of texts, marks | gray |", "|---|---|---|---|---|---|---|"]
    for name, one in profiles().items():
        sizes = f"{one.width_mm:g} × {one.height_mm:g} mm | {one.text_points:g} pt | {one.line_points:g} pt"
        lines.append(
            f"| `{name}` | {one.says} | {sizes} | {one.text_contrast:g}, {one.ink_contrast:g} | {'yes' if one.gray else 'no'} |"
        )
    lines += ["", "## Rules", "", "| code | what is found | why | after |", "|---|---|---|---|"]
    lines += [f"| `{rule.code}` | {rule.says} | {rule.reason} | {rule.source} |" for rule in every_rule()]
    return "\n".join(lines) + "\n"


def functions() -> str:
    """The page of functions that queries and expressions may call."""
    lists = (
        ("Expressions, and queries over files, tables and DuckDB", EXPRESSIONS),
        ("Queries of plans over SQLite", SQLITE),
        ("Queries of plans over other databases", SERVERS),
    )
    lines = ["# Functions that may be called", "", "Made by `scripts/make_docs.py` from the lists themselves.", ""]
    lines += [
        "What gives another figure tomorrow (chance, the clock, the session) or reaches out of the data is on no list; signs between",
        "values, `CASE`, `CAST`, `EXTRACT`, windows and the like are always there. `--allow-function NAME` lets the queries of a plan",
        'call one more of its database; in Python, `ft.plan("paper.toml", allow_functions=["name"])`. `age/2` is `age` with two values.',
        "",
    ]
    for title, names in lists:
        lines += [f"## {title}", "", " ".join(f"`{name}`" for name in sorted(names)), ""]
    return "\n".join(lines)


def pages() -> str:
    """The page of pages, whose table of layers comes from these."""
    text = (DOCS / "pages.md").read_text("utf-8")
    before, rest = text.split(f"{_CHOSEN}\n", 1)
    _, behind = rest.split("\n## ", 1)
    lines = [_CHOSEN, "", '| layer | with `respond(…, "keep")` |', "|---|---|"]
    lines += [f"| `{verb}` | {layer_class(verb).chosen_says} |" for verb in LAYERS]
    return before + "\n".join(lines) + f"\n\n## {behind}"


_CHOSEN = "## What each layer does with chosen rows"

PAGES = {
    "pages.md": pages,
    "words.md": words,
    "layers.md": layers,
    "settings.md": settings,
    "formats.md": formats,
    "checks.md": checks,
    "functions.md": functions,
}

if __name__ == "__main__":
    for name, page in PAGES.items():
        (DOCS / name).write_text(page(), encoding="utf-8")
