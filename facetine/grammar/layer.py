"""What every layer says: its own mapping, data and name, and the constants of its marks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from facetine.data.expressions import Expression
from facetine.data.table import Table
from facetine.grammar.aesthetics import LookValue, Mapped, MapValue
from facetine.grammar.given import Plain
from facetine.grammar.options import anything, choice, differing, flag, names, number, option, text


def _legend(value: object, where: str) -> bool | str:
    if isinstance(value, bool):
        return value
    return str(choice("direct", "auto", name="words, beside True and False")(value, where))


def _panels(value: object, where: str) -> tuple[str, ...] | dict[str, tuple[str, ...]]:
    if isinstance(value, Mapping):
        return {str(name): _values(inner, f"{where}[{name!r}]") for name, inner in value.items()}
    return _values(value, where)


def _values(value: object, where: str) -> tuple[str, ...]:
    return tuple(str(one) for one in ((value,) if isinstance(value, str | bool | float | int) else names(value, where)))


def checked_rasterize(value: object, where: str) -> bool | float | str:
    """Whether something becomes an image: a truth value, "auto" or pixels an inch."""
    if isinstance(value, bool):
        return value
    if isinstance(value, str):
        return str(choice("auto", name="words, beside True, False and pixels an inch")(value, where))
    return float(number(36, 2400)(value, where))


@dataclass(frozen=True, kw_only=True)
class Layer:
    """One kind of mark drawn from the data, over the layers before it."""

    verb: ClassVar[str]
    """Its method's name."""
    takes: ClassVar[tuple[str, ...]]
    """The aesthetics that can be mapped for it."""
    required: ClassVar[tuple[str, ...]]
    """The aesthetics without which it can't be drawn."""

    map: Mapping[str, MapValue] = option({}, anything)
    data: Table | None = option(None, anything)
    where: Expression | None = option(None, anything)
    legend: bool | str | None = option(
        None,
        _legend,
        '"direct" names lines at their ends, "auto" up to three.',
    )
    legend_as: str | None = option(None, text)
    name: str | None = option(None, text)
    backdrop: bool = option(False, flag)
    panels: tuple[str, ...] | Mapping[str, tuple[str, ...]] | None = option(
        None,
        _panels,
    )

    rasterize: bool | float | str | None = option(
        None,
        checked_rasterize,
        "What the export says by default.",
    )

    @property
    def value_template(self) -> str | None:
        """The template of what is written on every mark; an option of the layers that compute."""
        template: str | None = getattr(self, "value_labels", None)
        return template

    @property
    def text_template(self) -> str | None:
        """The template of what it writes anywhere."""
        return self.value_template

    def said(self) -> Plain:
        """The options that differ from their defaults."""
        return differing(self)

    def lacks(self, mapped: Mapped) -> str | None:
        """The aesthetic that must be mapped and is not, None where all is there."""
        return next((name for name in self.required if mapped.get(name) is None), None)

    def constant(self, aesthetic: str) -> LookValue:
        """The fixed value of an aesthetic, None where it is not said."""
        return getattr(self, aesthetic, None)
