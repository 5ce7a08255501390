"""Plates as plain data, and spelled out for reading."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from facetine.grammar.given import Options, Plain
from facetine.grammar.picture import Picture
from facetine.grammar.plate import Content, Plate
from facetine.grammar.spec import plain_value, to_dict
from facetine.messages.errors import OptionError, told, unknown

OPTIONS = (
    "letters", "letter_place", "letter_size", "letter_weight", "widths", "heights", "gap_x", "gap_y", "share_legend",
)  # fmt: skip
PARTS = ("rows", "figures", *OPTIONS, "same_scale", "sheet", "titles", "theme", "scale")
"""What a plate's plain data may hold."""


def plate_to_dict(plate: Plate) -> Plain:
    """Plain data: the figures, and rows of their numbers, from 0 on; None for an empty place.

    Raises:
        OptionError: A callable or a frame stands in a figure, or a callable in a scale.
    """
    numbers: list[list[int | None]] = [[None] * plate.columns for _ in range(plate.rows)]
    for number, cell in enumerate(plate.cells):
        for row in cell.rows:
            for column in cell.columns:
                numbers[row][column] = number
    spec: Plain = {"rows": numbers, "figures": [_content_to_dict(cell.content) for cell in plate.cells]}
    spec |= {name: plain_value(value, f"plate: {name}") for name, value in options_said(plate).items()}
    if plate.same:
        spec["same_scale"] = list(plate.same)
    if plate.sheet.said():
        spec["sheet"] = plate.sheet.said()
    if titles := titles_said(plate):
        spec["titles"] = titles
    if plate.theme_name is not None or plate.theme_said:
        spec["theme"] = ({"name": plate.theme_name} if plate.theme_name else {}) | plain_value(plate.theme_said, "plate.theme")
    if plate.scales:
        spec["scale"] = {name: plain_value(one.said(), f"plate.scale({name!r})") for name, one in plate.scales.items()}
    return {"plate": spec}


def options_said(plate: Plate) -> Plain:
    """The options that differ from their defaults."""
    defaults = {entry.name: entry.default for entry in fields(Plate)}
    return {name: value for name in OPTIONS if (value := getattr(plate, name)) != defaults[name]}


def titles_said(plate: Plate) -> Plain:
    """The texts that were said."""
    said = plate.titles
    titles = {"title": said.title, "subtitle": said.subtitle, "note": said.note, "source": said.source}
    return {name: text for name, text in titles.items() if text is not None}


def _content_to_dict(content: Content) -> Plain:
    if isinstance(content, Plate):
        return plate_to_dict(content)
    return {"picture": picture_said(content)} if isinstance(content, Picture) else to_dict(content)


def picture_said(picture: Picture) -> Plain:
    """What was said of a picture."""
    said = {"path": picture.path, "scale_bar": picture.scale_bar, "pixels_per_mm": picture.pixels_per_mm}
    said |= {"title": picture.title or None, "alt": picture.alt or None}
    said |= {"fit": picture.fit if picture.fit != "inside" else None}
    return {name: value for name, value in said.items() if value is not None}


def checked_plate_spec(spec: Options, where: str) -> tuple[list[list[Any]], list[Any]]:
    """The rows and the figures of a plate's plain data.

    Raises:
        OptionError: A part is unknown, or rows name a figure that is not there.
    """
    for part in spec:
        if part not in PARTS:
            raise unknown(OptionError, where, "no part", part, PARTS, "parts of a plate")
    rows, figures = spec.get("rows"), spec.get("figures")
    if not isinstance(rows, list | tuple) or not isinstance(figures, list | tuple):
        raise OptionError(where, "a plate has rows and figures", "rows are lists of numbers of figures, from 0 on")
    lists = [list(row) if isinstance(row, list | tuple) else [row] for row in rows]
    for number in (number for row in lists for number in row if number is not None):
        if not isinstance(number, int) or isinstance(number, bool) or not 0 <= number < len(figures):
            raise OptionError(where, f"rows: no figure {told(number)}", f"figures have the numbers 0 to {len(figures) - 1}")
    return lists, list(figures)


def plate_spelled(plate: Plate) -> str:
    """The plate as an analyst would write it."""
    count = len(plate.contents())
    options = "".join(f", {name}={value!r}" for name, value in options_said(plate).items())
    lines = [f"plate({plate.rows} rows × {plate.columns} columns, {count} figure{'s' if count != 1 else ''}{options})"]
    if plate.same:
        lines.append(f"  .same_scale({', '.join(map(repr, plate.same))})")
    if size := plate.sheet.said():
        lines.append(f"  .sheet({', '.join(f'{name}={value!r}' for name, value in size.items())})")
    if titles := titles_said(plate):
        lines.append(f"  .titles({', '.join(f'{name}={text!r}' for name, text in titles.items())})")
    if plate.theme_name is not None or plate.theme_said:
        said = [repr(plate.theme_name)] if plate.theme_name else []
        lines.append(f"  .theme({', '.join([*said, *(f'{name}={value!r}' for name, value in plate.theme_said.items())])})")
    for name, spec in plate.scales.items():
        lines.append(f"  .scale({', '.join([repr(name), *(f'{key}={value!r}' for key, value in spec.said().items())])})")
    return "\n".join(lines)
