"""What figures start from: the theme and the width that are said once for a session."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from facetine.core.color.registry import for_numbers
from facetine.data.sql import LIMITS, Limits, limits_changed
from facetine.grammar.given import Length, Plain
from facetine.grammar.lengths import in_points
from facetine.grammar.options import checked, choice, whole
from facetine.grammar.theme import THEMES, Theme, themed
from facetine.messages.errors import OptionError, told


@dataclass(frozen=True)
class Defaults:
    """What a figure starts from."""

    theme: Theme = THEMES["press"]
    width: Length = None
    """Of exported sheets; 85 mm where it is None."""
    codebook: object = None
    """What is known of the columns of all figures; a figure's own is laid over it."""
    notebook: str = "drawing"
    """How notebooks show figures: as a drawing, or "interactive", as a page in a frame."""
    page_values: int = 5_000_000
    """How many values a page carries at most."""


_NOW: ContextVar[Defaults] = ContextVar("facetine_defaults", default=Defaults())  # noqa: B039
KEYS = ("like", "theme", "width", "palette", "ramp", "codebook", "query_seconds", "query_memory", "notebook", "page_values")


def now() -> Defaults:
    """The defaults in force."""
    return _NOW.get()


def set_defaults(
    *,
    like: Any = None,
    theme: str | Path | Plain | None = None,
    width: Length = None,
    palette: str | Sequence[str] | None = None,
    ramp: str | Sequence[str] | None = None,
    codebook: Any = None,
    query_seconds: float | None = None,
    query_memory: str | None = None,
    notebook: str | None = None,
    page_values: int | None = None,
) -> None:
    """Sets for the rest of the session what every new figure starts from; what is not given stays as it was.

    Args:
        like: A figure or a plate whose theme, palettes and width are taken.
        theme: A name, a TOML file, or a dict of settings, with the theme that they start from under "name".
        width: Of the sheet.
        palette: Colors of categories: a palette's name, or a list of colors.
        ramp: Colors of numbers: a ramp's name, or a list of colors.
        codebook: What is known of columns; a figure's own codebook is laid over it.
        query_seconds: After how many seconds a query or an expression is ended; 60 at first.
        query_memory: The most memory that one may take; "4 GB" at first.
        notebook: How notebooks show figures: "drawing", or "interactive" for pages that are read by hand.
        page_values: How many values a page carries at most; 5,000,000 at first. A figure with more is shown alone.

    Raises:
        OptionError: There is no such default, or its value is impossible.

    Example:
        >>> import facetine as ft
        >>> ft.set_defaults(theme="press")
    """
    given = (like, theme, width, palette, ramp, codebook, query_seconds, query_memory, notebook, page_values)
    changed, limits = _changed(now(), dict(zip(KEYS, given, strict=True)), "set_defaults")
    _NOW.set(changed)
    LIMITS.set(limits)


@contextmanager
def defaults(
    *,
    like: Any = None,
    theme: str | Path | Plain | None = None,
    width: Length = None,
    palette: str | Sequence[str] | None = None,
    ramp: str | Sequence[str] | None = None,
    codebook: Any = None,
    query_seconds: float | None = None,
    query_memory: str | None = None,
    notebook: str | None = None,
    page_values: int | None = None,
) -> Iterator[None]:
    """The same for a block of code.

    Args:
        like: As for `set_defaults`, and so are all others.
        theme: A theme.
        width: Of the sheet.
        palette: Colors of categories.
        ramp: Colors of numbers.
        codebook: What is known of columns.
        query_seconds: The most seconds of a query.
        query_memory: The most memory of one.
        notebook: How notebooks show figures.
        page_values: The most values of a page.

    Raises:
        OptionError: There is no such default, or its value is impossible.

    Example:
        >>> import facetine as ft
        >>> with ft.defaults(theme="ledger", width="180 mm"):
        ...     fig = ft.figure({"a": [1], "b": [2]})
    """
    given = (like, theme, width, palette, ramp, codebook, query_seconds, query_memory, notebook, page_values)
    changed, limits = _changed(now(), dict(zip(KEYS, given, strict=True)), "defaults")
    token, token_of_limits = _NOW.set(changed), LIMITS.set(limits)
    try:
        yield
    finally:
        _NOW.reset(token)
        LIMITS.reset(token_of_limits)


def must_have_font(theme: Theme, where: str) -> None:
    """Nothing, where the font of a theme is there; those that come along are not asked for.

    Raises:
        OptionError: There is none of that name.
    """
    if theme.font != THEMES["press"].font:
        from facetine.scene.catalog import family

        family(theme.font, f"{where}: font")


def _changed(before: Defaults, said: Plain, where: str) -> tuple[Defaults, Limits]:
    """What is said put in the place of what was; the limits of queries lie with the queries."""
    if said.get("like") is not None:
        before = _like(before, said["like"], where)
    theme = said.get("theme")
    made = before.theme
    if isinstance(theme, str | Path):
        made = themed(made, theme, {}, where)
    elif isinstance(theme, dict):
        settings = dict(theme)
        made = themed(made, settings.pop("name", None), settings, where)
    elif theme is not None:
        raise OptionError(where, f"theme is a name, a file or a dict of settings, not {told(theme)}")
    if made.font != before.theme.font:
        must_have_font(made, where)
    looks = {key: said[key] for key in ("palette", "ramp") if said.get(key) is not None}
    made = replace(made, **checked(Theme, looks, where))
    if said.get("width") is not None:
        in_points(said["width"], f"{where}: width")
    from facetine.data.codebook import Codebook

    book = before.codebook if said.get("codebook") is None else Codebook.of(said["codebook"], f"{where}: codebook")
    limits = limits_changed(LIMITS.get(), said.get("query_seconds"), said.get("query_memory"), where)
    how = before.notebook
    if said.get("notebook") is not None:
        how = str(choice("drawing", "interactive", name="ways")(said["notebook"], f"{where}: notebook"))
    most = before.page_values
    if said.get("page_values") is not None:
        most = whole(1)(said["page_values"], f"{where}: page_values")
    return Defaults(made, said.get("width") or before.width, book, how, most), limits


def _like(before: Defaults, figure: Any, where: str) -> Defaults:
    """The defaults with the looks of a figure: its theme, the palette and the ramp of its colors, and its width.

    Raises:
        OptionError: It is no figure.
    """
    from facetine.grammar.plate import Plate
    from facetine.grammar.sentence import Sentence

    sentence = getattr(figure, "_sentence", None)
    if isinstance(sentence, Plate):
        inner = next((one for one in sentence.contents() if isinstance(one, Sentence)), None)
        theme = sentence.under(inner.theme if inner is not None else before.theme)
        scales = {**(inner.scales if inner is not None else {}), **sentence.scales}
    elif isinstance(sentence, Sentence):
        inner, theme, scales = sentence, sentence.theme, dict(sentence.scales)
    else:
        raise OptionError(where, f"like is a figure, not {told(figure)}", "theme= is a name or settings")
    looks: Plain = {}
    for aesthetic in ("outline", "color"):
        chosen = scales[aesthetic].palette if aesthetic in scales else None
        if chosen is not None:
            looks["ramp" if _of_numbers(chosen, inner, aesthetic) else "palette"] = chosen
    return replace(before, theme=replace(theme, **looks), width=sentence.sheet.width or before.width)


def _of_numbers(chosen: str | tuple[str, ...], sentence: Any, aesthetic: str) -> bool:
    """Whether the colors of a scale are those of numbers: by their name, else by the column that is mapped."""
    if isinstance(chosen, str):
        return for_numbers(chosen)
    column = sentence.mapping.get(aesthetic) if sentence is not None else None
    table = sentence.table if sentence is not None else None
    return isinstance(column, str) and table is not None and column in table.names and not table.column(column).discrete
