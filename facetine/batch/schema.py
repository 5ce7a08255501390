"""The JSON Schema of plans, for editors that complete and check: every table closed, so that each key is one that is read.

Source of the form: JSON Schema, draft 2020-12.
"""

from __future__ import annotations

import inspect
import json
from collections.abc import Callable, Iterable
from dataclasses import fields
from typing import Any

from facetine.batch.models import DocumentPlan, FigurePlan, PlatePlan, Settings, Source, WholePlan
from facetine.data.codebook import Entry
from facetine.data.table import KINDS
from facetine.figures.figure import Figure
from facetine.figures.start import matrix
from facetine.grammar.aesthetics import AESTHETICS
from facetine.grammar.choice import HOW
from facetine.grammar.options import words_of
from facetine.grammar.scale import KINDS as SCALE_KINDS
from facetine.grammar.scale import SCALED, ScaleOptions, SecondAxisSpec
from facetine.grammar.spec import PARTS
from facetine.grammar.theme import Theme
from facetine.layers import LAYERS, layer_class
from facetine.messages.errors import FacetineError
from facetine.messages.glossary import help_text

NAME = "plan.schema.json"
"""The file in which it lies beside a plan."""
Plain = dict[str, Any]
_OFF: Plain = {"const": False, "description": "Takes the part away that the figure it is like has."}
_LIKE = (
    "facet", "matrix", "over_variables", "sample", "highlight", "choose", "respond", "panel", "sheet", "titles", "theme",
    "codebook", "silence", "change", "without",
)  # fmt: skip
"""Parts of a figure that false takes away."""


def schema() -> Plain:
    """The schema of a plan."""
    made = WholePlan.model_json_schema(by_alias=True)
    definitions = made["$defs"]
    for part in (Settings, Source, FigurePlan, PlatePlan, DocumentPlan, WholePlan):
        properties = made["properties"] if part is WholePlan else definitions[part.__name__]["properties"]
        for name, entry in properties.items():
            entry["description"] = help_text(name, part.owner)
    definitions |= {"Layer": _layer(), "Scale": _scale(), "Theme": _theme(), "Titles": _titles(), "Entry": _entry()}
    figure = definitions["FigurePlan"]["properties"]
    figure |= {"like": {"type": "string", **_said("like", "plan figure")}}
    figure |= {name: {**figure[name], **said} for name, said in _parts().items()}
    for name in ("theme", "titles", "scale", "sheet"):
        kept = definitions["PlatePlan"]["properties"][name]["description"]
        definitions["PlatePlan"]["properties"][name] = {"description": kept, **_parts()[name]}
    definitions["FigurePlan"]["properties"] = {name: _offed(said) if name in _LIKE else said for name, said in figure.items()}
    inner = {name: said for name, said in definitions["FigurePlan"]["properties"].items() if name in PARTS}
    definitions["Inner"] = _closed(inner, "A figure that is set into another one.")
    made["properties"]["codebook"] |= {"additionalProperties": _ref("Entry")}
    definitions["Settings"]["properties"]["theme"] |= _ref("Theme")
    for said in (definitions["Settings"]["properties"]["theme"], *definitions["FigurePlan"]["properties"].values()):
        if "$ref" in said or "anyOf" in said:
            said.pop("type", None)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made}


def schema_text() -> str:
    """The schema as it is printed and written."""
    return json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"


def _ref(name: str) -> Plain:
    return {"$ref": f"#/$defs/{name}"}


def _closed(properties: Plain, description: str = "") -> Plain:
    """A table of these keys and no others."""
    made: Plain = {"type": "object", "properties": properties, "additionalProperties": False}
    return {"description": description, **made} if description else made


def _open(values: Plain) -> Plain:
    """A table whose keys are columns, categories or names."""
    return {"type": "object", "additionalProperties": values}


def _offed(said: Plain) -> Plain:
    """A part, or false."""
    kept = {key: said[key] for key in said if key not in ("description", "default", "title")}
    rest: Plain = {key: said[key] for key in ("description", "default", "title") if key in said}
    return {**rest, "anyOf": [*(kept["anyOf"] if set(kept) == {"anyOf"} else [kept]), _OFF]}


def _word(words: Iterable[str], description: str = "") -> Plain:
    """One of some words; false takes it away from a figure that is like another."""
    made: Plain = {"enum": [*words, False]}
    return {"description": description, **made} if description else made


def _said(name: str, owner: str) -> Plain:
    try:
        return {"description": help_text(name, owner)}
    except (FacetineError, KeyError):
        return {}


def _options(verb: str) -> Plain:
    """The options of a layer."""
    made: Plain = {}
    for one in fields(layer_class(verb)):
        words = words_of(one.metadata.get("check"))
        made[one.name] = {**_said(one.name, verb), **({"enum": [*words, False]} if words else {})}
    made["map"] = {**made["map"], **_closed({name: {} for name in AESTHETICS})}
    return made


def _layer() -> Plain:
    """A layer's name, or a table with its name and options."""
    tables = {verb: _closed(_options(verb), layer_class(verb).__doc__ or "") for verb in LAYERS}
    for said in tables.values():
        said["description"] = said["description"].partition("\n")[0]
    return {"anyOf": [{"enum": list(LAYERS)}, {**_closed(tables), "minProperties": 1, "maxProperties": 1}]}


def _record(record: type, owner: str) -> Plain:
    made: Plain = {}
    for one in fields(record):
        words = words_of(one.metadata.get("check"))
        made[one.name] = {**_said(one.name, owner), **({"enum": [*words, False]} if words else {})}
    return made


def _scale() -> Plain:
    """A kind of scale, or a table of what is said of it."""
    options = _record(ScaleOptions, "scale")
    kinds = SCALE_KINDS
    options["kind"] = _word(kinds, "The function from values to places, colors or sizes.")
    options["second_axis"] = {"anyOf": [_closed(_record(SecondAxisSpec, "second_axis")), _OFF]}
    one = [{"enum": list(kinds)}, _OFF]
    return {"anyOf": [*one, _closed({**options, "for_column": _open({"anyOf": [*one, _closed(options)]})})]}


def _theme() -> Plain:
    """A theme's name or file, or a table of settings."""
    settings = {"name": {"type": "string", **_said("name", "theme")}, **_record(Theme, "theme")}
    return {"anyOf": [{"type": "string"}, {"type": "null"}, _closed(settings)]}


def _titles() -> Plain:
    """The title, or a table of titles, each a text."""
    text: Plain = {"anyOf": [{"type": "string"}, _OFF]}
    names = ("title", "subtitle", "note", "source")
    made = {name: {**text, **_said(name, "titles")} for name in names}
    made |= {name: {**text, "description": f"The title of {name}."} for name in SCALED}
    return {"anyOf": [{"type": "string"}, {"type": "null"}, _closed(made)]}


def _entry() -> Plain:
    """A column's label, or a table of what is known of it."""
    made = {
        "from" if one.name == "origin" else one.name: _said("from" if one.name == "origin" else one.name, "codebook")
        for one in fields(Entry)
    }
    made["kind"] = {**made["kind"], "enum": list(KINDS)}
    return {"anyOf": [{"type": "string"}, _closed(made)]}


def _verb(function: Callable[..., Any], owner: str, leave: tuple[str, ...] = ("self",)) -> Plain:
    """The parameters of a verb, as keys of a table."""
    parameters = inspect.signature(function).parameters.values()
    named = [
        one.name for one in parameters if one.kind in (one.POSITIONAL_OR_KEYWORD, one.KEYWORD_ONLY) and one.name not in leave
    ]
    return {name: _said(name, owner) for name in named}


def _parts() -> Plain:
    """The parts of a figure that are tables, closed."""
    figure = Figure
    every_layer: Plain = {}
    for verb in LAYERS:
        every_layer |= {name: {} for name in _options(verb)}
    facet = {"anyOf": [{"type": "string"}, {"type": "null"}, _closed(_verb(figure.facet, "facet"))]}
    highlight = {"anyOf": [{"type": "string"}, {"type": "null"}, _closed(_verb(figure.highlight, "highlight"))]}
    sample = {"anyOf": [{"type": "integer"}, {"type": "null"}, _closed(_verb(figure.sample, "sample"))]}
    return {
        "layers": {"type": "array", "items": _ref("Layer")},
        "steps": {"type": "array", "items": _closed({"keep": {}, "derive": {"type": "object"}})},
        "map": _closed({name: {} for name in AESTHETICS}),
        "kinds": _open({"type": "string", "pattern": f"^({'|'.join(KINDS)}|time:.+)$"}),
        "facet": facet,
        "highlight": highlight,
        "choose": _open(_closed(_verb(figure.choose, "choose", ("self", "name")))),
        "respond": _open({"anyOf": [{"enum": list(HOW)}, _closed(_verb(figure.respond, "respond", ("self", "name")))]}),
        "sample": sample,
        "matrix": {"anyOf": [{"type": "null"}, _closed(_verb(matrix, "matrix", ("data", "map", "codebook")))]},
        "over_variables": {"anyOf": [{"type": "null"}, _closed(_verb(figure.over_variables, "over_variables"))]},
        "insets": {"type": "array", "items": _closed({**_verb(figure.inset, "inset"), "figure": _ref("Inner")})},
        "marginals": {
            "type": "array",
            "items": _closed({**every_layer, **_verb(figure.marginal, "marginal"), "layer": _word(LAYERS)}),
        },
        "panel": {"anyOf": [{"type": "null"}, _closed(_verb(figure.panel, "panel"))]},
        "sheet": {"anyOf": [{"type": "null"}, _closed(_verb(figure.sheet, "sheet"))]},
        "scale": _closed({name: _ref("Scale") for name in SCALED}),
        "titles": _ref("Titles"),
        "theme": _ref("Theme"),
        "codebook": _open(_ref("Entry")),
        "change": _open(_closed(every_layer)),
    }
