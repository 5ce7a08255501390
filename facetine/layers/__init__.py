"""The layers, one file each. A new one is a new file and a line here."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import TypeAlias

from facetine.core.registry import Registry
from facetine.data.codebook import Codebook
from facetine.data.explained import explained
from facetine.data.intake import taken_in
from facetine.data.table import Table
from facetine.grammar.aesthetics import checked_mapping, with_computed
from facetine.grammar.given import Options, Plain
from facetine.grammar.options import Check, checked
from facetine.layers.base import DrawnLayer
from facetine.layers.values import check_names
from facetine.messages.errors import FacetineError, MappingError, OptionError, no_layer, told, unknown

_CLASSES = {
    "points": "Points",
    "lines": "Lines",
    "areas": "Areas",
    "bands": "Bands",
    "bars": "Bars",
    "histogram": "Histogram",
    "density": "Density",
    "cumulative": "Cumulative",
    "qq": "Qq",
    "boxes": "Boxes",
    "violins": "Violins",
    "ridgelines": "Ridgelines",
    "rug": "Rug",
    "intervals": "Intervals",
    "trend": "Trend",
    "cells": "Cells",
    "contours": "Contours",
    "correlation": "CorrelationLayer",
    "labels": "Labels",
    "segments": "Segments",
    "reference": "Reference",
    "region": "MarkedRegion",
    "callout": "Callout",
    "function": "Function",
}


def _is_layer(thing: object) -> bool:
    return isinstance(thing, type) and issubclass(thing, DrawnLayer)


def _lacking(thing: type[DrawnLayer]) -> str:
    """The methods of a layer that are not there: how it is drawn, and how its entry of a legend is."""
    return " and ".join(name for name in ("draw", "draw_key") if getattr(thing, name) is getattr(DrawnLayer, name))


LAYERS: Registry[type[DrawnLayer]] = Registry(
    "facetine.layers", "layer", {verb: f"facetine.layers.{verb}:{name}" for verb, name in _CLASSES.items()}, _is_layer, _lacking
)
"""By their verbs; those of other packages stand under the entry-point group `facetine.layers`."""


def layer_class(verb: str) -> type[DrawnLayer]:
    """The class of a layer.

    Raises:
        OptionError: There is no such layer.
    """
    if isinstance(verb, str) and verb not in LAYERS:
        raise no_layer(verb, LAYERS)
    return LAYERS.need(verb, "figure")


def made(verb: str, options: Options, table: Table | None, codebook: Codebook) -> DrawnLayer:
    """A checked layer.

    Args:
        verb: Its name.
        options: Its options as given.
        table: The figure's data, whose columns its mapping names where it has no data of its own.
        codebook: What is known of the columns, also of those of its own data.

    Raises:
        OptionError: An option is unknown or has an impossible value.
        MappingError: Its mapping names an unknown aesthetic or column, or one that it can't show.
    """
    kind = layer_class(verb)
    where = f"figure.{verb}"
    try:
        values = checked(kind, options, where)
    except OptionError as problem:
        raise _column_meant(kind, options, table, where) or problem from None
    if values.get("data") is not None:
        values["data"] = table = explained(taken_in(values["data"], where), codebook)
    given = values.get("map")
    if given is not None:
        if not isinstance(given, Mapping):
            raise OptionError(where, f"map is a dict of aesthetic and column, not {told(given)}")
        values["map"] = checked_mapping(given, table, where)
        if values.get("data") is not None:
            values["data"] = with_computed(values["data"], [values["map"]], where)
        for aesthetic in given:
            if aesthetic not in kind.takes and given[aesthetic] is not None:
                raise unknown(MappingError, where, "no use for", aesthetic, kind.takes, "aesthetics of this layer")
            if given[aesthetic] is not None and kind(**values).constant(aesthetic) is not None:
                raise OptionError(where, f"{aesthetic} is both mapped and fixed", "leave out one of the two")
    layer = kind(**values)
    for option in ("value_labels", "label"):
        form = values.get(option)
        if form is not None and form == layer.text_template:
            check_names(form, layer.names(), f"{where}: {option}")
    return layer


def _column_meant(kind: type[DrawnLayer], options: Options, table: Table | None, where: str) -> OptionError | None:
    """What to say where an option was refused that names a column, or an aesthetic that is only mapped; None for neither."""
    known = {entry.name: entry.metadata.get("check") for entry in fields(kind)}
    for name, value in options.items():
        if name not in kind.takes or not isinstance(value, str):
            continue
        column = table is not None and value in table.names
        check = known.get(name)
        if name in known and (not column or check is None or _passes(check, value, where)):
            continue
        said = (
            f"{name}={told(value)} names a column, and options are fixed"
            if column
            else f"{name} follows a column, and is no option"
        )
        return OptionError(where, f"{said}", f"write .map({name}={value!r}), or map={{{name!r}: {value!r}}} in the layer")
    return None


def _passes(check: Check, value: object, where: str) -> bool:
    try:
        check(value, where)
    except FacetineError:
        return False
    return True


PairLayer: TypeAlias = str | Options | None
"""A layer by its name, or as a dict of its name and options; "none" for nothing."""


def layer_said(given: PairLayer, table: Table | None, codebook: Codebook, where: str) -> DrawnLayer | None:
    """A layer that an option names.

    Raises:
        OptionError: It is neither a name nor a dict of one name and options.
    """
    if given is None or given == "none":
        return None
    if isinstance(given, str):
        return made(given, {}, table, codebook)
    if isinstance(given, Mapping) and len(given) == 1:
        name, options = next(iter(given.items()))
        if isinstance(options, Mapping):
            return made(str(name), {str(option): value for option, value in options.items()}, table, codebook)
    raise OptionError(
        where, f"is a layer, not {told(given)}", 'such as "points", or {"points": {"opacity": 0.3}}', of_option=True
    )


def with_first(verb: str, given: tuple[object, ...], options: Options) -> Plain:
    """Options with the one that may be given without its name, such as the method of a trend.

    Raises:
        OptionError: There is no such option, or it is given twice.
    """
    first = layer_class(verb).first
    if not given:
        return dict(options)
    if first is None or len(given) > 1:
        raise OptionError(
            f"figure.{verb}",
            f"options are given by their names, not {told(given[-1])} alone",
            layer_class(verb).alone.format(told(given[-1])) if first is None else f"only {first} may stand first",
        )
    if first in options:
        raise OptionError(f"figure.{verb}", f"{first} is given twice")
    return {first: given[0], **options}
