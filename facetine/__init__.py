"""Facetine: publication charts from data frames by a grammar of graphics.

>>> import facetine as ft
>>> fig = ft.figure(ft.demo_data("wheels")).map(x="moisture_pct", y="firmness_n", color="rind").points()
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from facetine.messages.version import VERSION

__version__ = VERSION

# Every public name and the module that holds it. They are loaded when first used, so that `import facetine` is quick
# and a name can be had without what the others need.
_HOMES = {
    "figure": "facetine.opening",
    "from_dict": "facetine.opening",
    "matrix": "facetine.opening",
    "plate": "facetine.plates",
    "picture": "facetine.plates",
    "Plate": "facetine.plates",
    "Figure": "facetine.public",
    "set_defaults": "facetine.session",
    "defaults": "facetine.session",
    "demo_data": "facetine.data.demo",
    "read": "facetine.data.readers",
    "sql": "facetine.grammar.aesthetics",
    "pasted": "facetine.pasting",
    "unpivot": "facetine.data.reshape",
    "inspect": "facetine.inspecting",
    "catalog": "facetine.catalogs",
    "into_document": "facetine.documents",
    "reopen": "facetine.reopened",
    "plan": "facetine.planned",
    "FacetineError": "facetine.errors",
    "MappingError": "facetine.errors",
    "KindError": "facetine.errors",
    "ScaleError": "facetine.errors",
    "OptionError": "facetine.errors",
    "DataError": "facetine.errors",
    "PlanError": "facetine.errors",
    "ExportError": "facetine.errors",
    "VerbError": "facetine.errors",
    "FacetineFinding": "facetine.errors",
}

if TYPE_CHECKING:
    from facetine.catalogs import catalog as catalog
    from facetine.data.demo import demo_data as demo_data
    from facetine.data.readers import read as read
    from facetine.data.reshape import unpivot as unpivot
    from facetine.documents import into_document as into_document
    from facetine.errors import DataError as DataError
    from facetine.errors import ExportError as ExportError
    from facetine.errors import FacetineError as FacetineError
    from facetine.errors import FacetineFinding as FacetineFinding
    from facetine.errors import KindError as KindError
    from facetine.errors import MappingError as MappingError
    from facetine.errors import OptionError as OptionError
    from facetine.errors import PlanError as PlanError
    from facetine.errors import ScaleError as ScaleError
    from facetine.errors import VerbError as VerbError
    from facetine.grammar.aesthetics import sql as sql
    from facetine.inspecting import inspect as inspect
    from facetine.opening import figure as figure
    from facetine.opening import from_dict as from_dict
    from facetine.opening import matrix as matrix
    from facetine.pasting import pasted as pasted
    from facetine.planned import plan as plan
    from facetine.plates import Plate as Plate
    from facetine.plates import picture as picture
    from facetine.plates import plate as plate
    from facetine.public import Figure as Figure
    from facetine.reopened import reopen as reopen
    from facetine.session import defaults as defaults
    from facetine.session import set_defaults as set_defaults

__all__ = [*_HOMES]


def __getattr__(name: str) -> Any:
    if name not in _HOMES:
        from facetine.errors import VerbError, nearest
        from facetine.layers import LAYERS
        from facetine.synonyms import function_for, verb_for

        made, does, close = function_for(name), name if name in LAYERS else verb_for(name), nearest(name, _HOMES)
        hint = f". Did you mean {close!r}?" if close else ""
        hint = f"; {made} does that" if made else f"; figure(data).map(…).{does} does that" if does else hint
        raise VerbError(f"facetine has no name {name!r}{hint}", f"its names: {', '.join(_HOMES)}")
    from importlib import import_module

    found = getattr(import_module(_HOMES[name]), name)
    if not isinstance(found, type):
        from facetine.calls import verb

        found = verb(found)
    globals()[name] = found
    return found


def __dir__() -> list[str]:
    return sorted([*globals(), *_HOMES])
