"""The kinds of scales for numbers, one class in one file each. A new one is a new file and a line here."""

from __future__ import annotations

from facetine.core.registry import Registry
from facetine.core.scales.kinds.base import Transform

_HERE = "facetine.core.scales.kinds"


def _is_kind(thing: object) -> bool:
    return isinstance(thing, type) and issubclass(thing, Transform)


SCALES: Registry[type[Transform]] = Registry(
    "facetine.scales",
    "kind of scale",
    {
        "linear": f"{_HERE}.linear:Linear",
        "log": f"{_HERE}.log:Log",
        "sqrt": f"{_HERE}.power:SquareRoot",
        "signed_log": f"{_HERE}.signed_log:SignedLog",
        "logit": f"{_HERE}.logit:Logit",
        "power": f"{_HERE}.power:Power",
        "duration": f"{_HERE}.duration:Duration",
    },
    _is_kind,
)
"""By their names; those of other packages stand under the entry-point group `facetine.scales`."""
