"""Labels: text from data, at its place or moved where it can be read."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Self

import numpy as np

from facetine.core.arrays import IntArray
from facetine.core.columns import Columns
from facetine.core.geometry.labels import placed_labels
from facetine.core.query import Source
from facetine.data.table import Table
from facetine.grammar.aesthetics import LookValue, Mapped
from facetine.grammar.lengths import shifts_option, shifts_points
from facetine.grammar.options import choice, flag, ink, number, option, text
from facetine.layers.base import DrawnLayer, PanelView
from facetine.layers.context import Context
from facetine.layers.example import Example
from facetine.layers.look import Look
from facetine.layers.placing import set_off
from facetine.layers.summary import in_their_places
from facetine.layers.values import VALUE_TEXT, template
from facetine.messages.errors import KindError, OptionError
from facetine.messages.findings import so_many_rows
from facetine.scene.marks import Mark, Stroke, segments
from facetine.scene.region import Region
from facetine.scene.typeset import set_text

_FEW = 200
_MOST, _MOST_MOVED = 20_000, 5_000
_SIDES = {"above": (0.5, -1), "below": (0.5, 1), "left": (1.0, 0), "right": (0.0, 0), "middle": (0.5, 0)}


@dataclass(frozen=True, kw_only=True)
class Labels(DrawnLayer):
    """The text of a column at x and y; or what another layer computed, at its marks."""

    verb: ClassVar[str] = "labels"
    chosen_says: ClassVar[str] = (
        "Follows: the texts of the chosen rows. Texts about what another layer computed follow on paper, and are of all rows on "
        "pages."
    )
    rows_alone: ClassVar[bool] = True
    examples: ClassVar[tuple[Example, ...]] = (
        Example(
            "Beside other layers",
            1,
            {"x": "age_days", "y": "mass_kg", "label": "wheel"},
            ["points", "labels"],
            keep="mass_kg > 9.2",
        ),
    )
    explains: ClassVar[bool] = True
    stands_level: ClassVar[bool] = True
    drawn_at_once: ClassVar[bool] = True
    takes: ClassVar[tuple[str, ...]] = ("x", "y", "label", "color", "group")
    required: ClassVar[tuple[str, ...]] = ()
    drops_outside: ClassVar[bool] = True
    thing: ClassVar[str] = "label"
    looks: ClassVar[tuple[str, ...]] = ("color",)
    usual: ClassVar[Mapping[str, LookValue]] = {"color": "text"}

    legend: bool | str = option(False, flag, "Of its colors: a text explains itself.")
    color: str | None = option(None, ink, "That of titles by default.")
    size: float | None = option(None, number(1, 300), "That of tick labels by default.")
    side: str | None = option(None, choice(*_SIDES, name="sides"))
    gap: float = option(3.0, number(0, 100))
    avoid: bool | None = option(
        None,
        flag,
    )
    priority: str | None = option(None, text)
    shift: tuple[str, str] | None = option(None, shifts_option)
    halo: bool | None = option(None, flag)
    layer: str | None = option(None, text)
    text: str | None = option(None, template, "Of another layer's marks.")

    @property
    def text_template(self) -> str | None:
        """What is written of the other layer's values."""
        return self.text if self.layer is not None else None

    @property
    def borrows(self) -> str | None:
        """The layer whose rows it takes."""
        return self.layer

    def lacks(self, mapped: Mapped) -> str | None:
        """x, y and label, unless another layer gives them."""
        if self.layer is not None:
            return None
        return next((name for name in ("x", "y", "label") if mapped.get(name) is None), None)

    def seeing(self, table: Table) -> Self:
        """With the priority of each row, by its number.

        Raises:
            KindError: The column holds what has no order.
        """
        if self.priority is None:
            return self
        column = table.need(self.priority, "figure.labels", "priority=")
        if column.kind == "category":
            raise KindError(
                "figure.labels",
                f"priority is a number, a time or in an order, but {column.name!r} holds categories",
                f'write .kinds({column.name}="ordered") if its values have one',
            )
        ranks = np.full(int(table.numbers.max(initial=-1)) + 1, -np.inf)
        ranks[table.numbers] = np.where(column.missing, -np.inf, column.values.astype(float))
        return replace(self, priority=ranks)  # type: ignore[arg-type]

    def compute(self, source: Source, context: Context) -> Columns:
        """The rows."""
        rows = source.rows()
        if len(rows) > (most := _MOST_MOVED if self.avoid else _MOST):
            said = f"{len(rows):,} labels, of which no one could be read"
            raise OptionError(
                context.where, said, f"{most:,} are the most; where=… names some rows, and .sample(1000) draws some"
            )
        if self.priority is not None and self.layer is not None:
            raise OptionError(context.where, f"priority is a column of the rows, and layer={self.layer!r} has its own marks")
        if self.layer is not None and self.text is None:
            raise OptionError(context.where, f"layer={self.layer!r}, but there is no text", 'such as text="{count:,}"')
        if self.avoid and self.shift is not None:
            raise OptionError(context.where, "avoid= finds places, and shift= moves labels off them", "leave one of them out")
        if self.layer is None and self.text is not None:
            raise OptionError(context.where, "text is what is written of another layer", 'layer="bars", or map={"label": "…"}')
        if self.layer is None and (without := sum(not line for line in self._said(rows))):
            # They stay, as places that other labels avoid.
            context.say("rows-unlabelled", f"{so_many_rows(without)} without a label left out")
        return rows

    def explaining(self, other: DrawnLayer, groups: int, horizontal: bool) -> Self:
        """Texts stand where they are said to, else where the marks want them."""
        return self if self.side is not None else replace(self, side=other.text_side(groups, horizontal))

    def draw(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        """Texts, with leaders below them."""
        yield from set_off(self._placed(rows, panel), panel, self.halo, shifts_points(self.shift))

    def scattered(self, rows: Columns, context: Context) -> Columns:
        """In the places of their groups, where these stand side by side."""
        return in_their_places(rows, context)

    def _placed(self, rows: Columns, panel: PanelView) -> Iterator[Mark]:
        lines = self._said(rows)
        shown = [row for row, line in enumerate(lines) if line]
        if not shown:
            return
        color, size = panel.looks["color"], self.size or panel.type.size
        types = [panel.type._replace(size=size, color=color.of(row)) for row in shown]
        blocks = [set_text(lines[row], type_) for row, type_ in zip(shown, types, strict=True)]
        # What has a place on one axis alone is named at the end of the other.
        right, top = np.full(len(rows), panel.box.right), np.full(len(rows), panel.box.y + size)
        at = np.column_stack([rows.values.get("x", right), rows.values.get("y", top)])
        by_hand = self.side is not None or self.shift is not None
        free = not by_hand and self.layer is None and "x" in rows and "y" in rows and len(shown) < _FEW
        if free if self.avoid is None else self.avoid:
            texts = [corner for box in panel.taken or () for corner in _corners(box)]
            standing = np.concatenate([at, panel.around(), np.array(texts).reshape(-1, 2)])
            yield from self._avoiding(at[shown], blocks, standing, panel, rows.numbers[shown])
            return
        if self.priority is not None:
            panel.say("priority-unused", "priority has no effect on labels that are all drawn where they are", "avoid=True")
        anchor, side = _SIDES[self.side or "above"]
        anchor = 1.0 if "x" not in rows else anchor
        for row, block in zip(shown, blocks, strict=True):
            x = at[row, 0] + {0.0: self.gap, 1.0: -self.gap}.get(anchor, 0.0)
            y = float(at[row, 1])
            cap, height = block.type.cap, block.height - 0.2 * size
            top_of = {-1: y - self.gap - height, 1: y + self.gap, 0: y - height / 2 if cap else y}[side]
            yield from block.placed(float(x), top_of, anchor, role="label", row=int(rows.numbers[row]))

    def _said(self, rows: Columns) -> list[str]:
        texts = rows.values[VALUE_TEXT if self.layer is not None else "label"]
        return ["" if value is None else str(value) for value in texts.tolist()]

    def _avoiding(self, at: Any, blocks: list[Any], obstacles: Any, panel: PanelView, numbers: IntArray) -> Iterator[Mark]:
        size = np.array([(block.width, block.height) for block in blocks])
        box = panel.box
        known: Any = self.priority
        ranks = known[numbers] if known is not None else None
        limits = (box.x, box.y - 4, box.right + 4, box.bottom)
        places = placed_labels(at, size + 1.0, obstacles, limits, self.gap, ranks)
        ends = []
        for place in np.flatnonzero(places.leader).tolist():
            center = places.center[place]
            start = center + np.clip(at[place] - center, -size[place] / 2, size[place] / 2)
            ends.append((*start, *(at[place] + (start - at[place]) * 0.12)))
        if ends:
            yield segments(np.array(ends), Stroke(panel.type.color, 0.35))
        for place in np.flatnonzero(places.clear).tolist():
            x, y = places.center[place].tolist()
            yield from blocks[place].placed(x, y - blocks[place].height / 2, 0.5, role="label", row=int(numbers[place]))
        if lost := int((~places.clear).sum()):
            panel.tally("labels-left-out", lost, self.thing, "left out, for which there is no space", "size=… sets them smaller")

    def draw_key(self, box: Region, looks: Mapping[str, Look]) -> Iterator[Mark]:  # noqa: ARG002
        """Nothing: a text explains itself."""
        yield from ()


def _corners(box: Region) -> list[tuple[float, float]]:
    """Places of a text that labels keep off: its corners and its middle."""
    across = (box.x, box.x + box.width / 2, box.right)
    return [(x, y) for x in across for y in (box.y, box.bottom)] + [(across[1], box.y + box.height / 2)]
