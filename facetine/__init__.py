"""Facetine: publication charts from data frames by a grammar of graphics.

>>> import facetine as ft
>>> fig = ft.figure(ft.demo_data("wheels")).map(x="moisture_pct", y="firmness_n", color="rind").points()
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from facetine.messages.version import VERSION

__version__ = VERSION

# Every public name and the module that holds it. They are loaded when first used, so that `import facetine` is quick
# and a name can be had without what the others need. The imports below, which type checkers read, are made from this list by
# `scripts/make_verbs.py`.
_HOMES = {
    "figure": "facetine.figures.start",
    "from_dict": "facetine.figures.start",
    "matrix": "facetine.figures.start",
    "plate": "facetine.figures.plate",
    "picture": "facetine.figures.plate",
    "Plate": "facetine.figures.plate",
    "Figure": "facetine.figures.figure",
    "set_defaults": "facetine.export.defaults",
    "defaults": "facetine.export.defaults",
    "demo_data": "facetine.data.demo",
    "read": "facetine.data.readers",
    "sql": "facetine.grammar.aesthetics",
    "pasted": "facetine.data.pasted",
    "unpivot": "facetine.data.reshape",
    "inspect": "facetine.inspection.inspection",
    "catalog": "facetine.catalogs.catalog",
    "into_document": "facetine.export.documents",
    "reopen": "facetine.figures.reopened",
    "plan": "facetine.batch.planfile",
    "FacetineError": "facetine.messages.errors",
    "MappingError": "facetine.messages.errors",
    "KindError": "facetine.messages.errors",
    "ScaleError": "facetine.messages.errors",
    "OptionError": "facetine.messages.errors",
    "DataError": "facetine.messages.errors",
    "PlanError": "facetine.messages.errors",
    "ExportError": "facetine.messages.errors",
    "VerbError": "facetine.messages.errors",
    "FacetineFinding": "facetine.messages.errors",
}

if TYPE_CHECKING:
    from facetine.batch.planfile import plan as plan
    from facetine.catalogs.catalog import catalog as catalog
    from facetine.data.demo import demo_data as demo_data
    from facetine.data.pasted import pasted as pasted
    from facetine.data.readers import read as read
    from facetine.data.reshape import unpivot as unpivot
    from facetine.export.defaults import defaults as defaults
    from facetine.export.defaults import set_defaults as set_defaults
    from facetine.export.documents import into_document as into_document
    from facetine.figures.figure import Figure as Figure
    from facetine.figures.plate import Plate as Plate
    from facetine.figures.plate import picture as picture
    from facetine.figures.plate import plate as plate
    from facetine.figures.reopened import reopen as reopen
    from facetine.figures.start import figure as figure
    from facetine.figures.start import from_dict as from_dict
    from facetine.figures.start import matrix as matrix
    from facetine.grammar.aesthetics import sql as sql
    from facetine.inspection.inspection import inspect as inspect
    from facetine.messages.errors import DataError as DataError
    from facetine.messages.errors import ExportError as ExportError
    from facetine.messages.errors import FacetineError as FacetineError
    from facetine.messages.errors import FacetineFinding as FacetineFinding
    from facetine.messages.errors import KindError as KindError
    from facetine.messages.errors import MappingError as MappingError
    from facetine.messages.errors import OptionError as OptionError
    from facetine.messages.errors import PlanError as PlanError
    from facetine.messages.errors import ScaleError as ScaleError
    from facetine.messages.errors import VerbError as VerbError

__all__ = [*_HOMES]


def __getattr__(name: str) -> Any:
    if name not in _HOMES:
        from facetine.layers import LAYERS
        from facetine.messages.errors import VerbError, nearest
        from facetine.messages.synonyms import function_for, verb_for

        made, does, close = function_for(name), name if name in LAYERS else verb_for(name), nearest(name, _HOMES)
        way = f"; {made} does that" if made else f"; figure(data).map(…).{does} does that" if does else ""
        said, names = f"facetine has no name {name!r}{way}", f"its names: {', '.join(_HOMES)}"
        raise VerbError("", said, names, given=name, proposed="" if way or not close else close)
    from importlib import import_module

    found = getattr(import_module(_HOMES[name]), name)
    if not isinstance(found, type):
        from facetine.figures.verb import verb

        found = verb(found)
    globals()[name] = found
    return found


def __dir__() -> list[str]:
    return sorted([*globals(), *_HOMES])
