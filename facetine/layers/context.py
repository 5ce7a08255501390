"""What a layer may know of its figure, and how it names what it computes and shows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from facetine.core.arrays import FloatArray
from facetine.core.columns import Columns
from facetine.core.scales.calendar import DAY
from facetine.core.scales.kinds.base import Transform
from facetine.core.scales.kinds.linear import Linear
from facetine.messages.findings import Remark, Severity

Space = Literal["data", "axis"]
"""Whether a layer computes on values as they are, or on places along the (perhaps logarithmic) axes."""
NUMERIC_LOOKS = ("color", "outline", "opacity", "size", "line_width")
"""Looks that can follow a number."""


class Computed(NamedTuple):
    """A value that a layer computes, under a name that templates may use."""

    sort: Literal["x", "y", "color", "number", "count", "words"] = "number"
    """Whether it is a value on one of the layer's axes, or else what kind of value."""
    detail: str = ""
    """What there is to say of it in this layer, beside what the glossary says of its name."""
    column: str = ""
    """The column of the layer's table that holds it; that of its own name where nothing is said."""


class Drawn(NamedTuple):
    """What a layer shows along an axis or in a look."""

    how: str = ""
    """The aggregate of the mapped column; empty for its values."""
    title: str = ""
    """The whole title where it is no value of the column, such as "Count"."""


class AxisSpace(NamedTuple):
    """What a layer may know of an axis before it is settled."""

    transform: Transform = Linear()
    kind: str = "number"
    """number, time, or a discrete one."""
    zone: str | None = None
    said: tuple[float, ...] = ()
    """Limits and included values that were said for it, as places."""

    @property
    def even(self) -> bool:
        """Whether places on the axis are the values themselves."""
        return self.transform.even

    @property
    def unit_length(self) -> float:
        """What densities are counted by, in the unit of the axis: a day of microseconds on times, one unit on all others."""
        return float(DAY) if self.kind == "time" else 1.0


class Title(NamedTuple):
    """What a column is called."""

    label: str
    unit: str

    @property
    def whole(self) -> str:
        """Label with unit in parentheses."""
        return f"{self.label} ({self.unit})" if self.unit else self.label

    @property
    def inside(self) -> str:
        """The label as it stands inside a sentence."""
        first = self.label[:1].lower() if self.label[1:2].islower() else self.label[:1]
        return first + self.label[1:]


class BinsBeside(NamedTuple):
    """The bins of another layer."""

    edges: FloatArray
    """Shape (k + 1,), in the unit of the data."""
    of_panel: bool
    """Whether its heights are densities of which those of all groups of a panel together hold one."""


class Shared(NamedTuple):
    """How groups stand side by side, the same in all layers that know the same groups."""

    groups: tuple[int, ...]
    """The numbers of all groups, in their order."""
    crowded: bool
    """Whether some slot holds more than one of them, so that each has a place of its own."""


@dataclass(frozen=True)
class Context:
    """What a layer may know of its figure while it computes. A horizontal layer sees x and y exchanged."""

    where: str
    """The verb, for errors and findings."""
    columns: Mapping[str, str] = field(default_factory=dict)
    """The column that each aesthetic is mapped to."""
    kinds: Mapping[str, str] = field(default_factory=dict)
    """The kind of each mapped aesthetic: number, time, or a discrete one."""
    remarks: list[Remark] = field(default_factory=list)
    """What the layer said in the step that asks it, which hands it on with its result."""
    axes: Mapping[str, AxisSpace] = field(default_factory=dict)
    titles: Mapping[str, Title] = field(default_factory=dict)
    """What the column of each aesthetic is called."""
    panels: tuple[str, ...] = ()
    """What the panels are called; empty for one without a name."""
    groups: Mapping[int, str] = field(default_factory=dict)
    """What the groups are called."""
    seed: int = 1
    room: tuple[float, float] = (200.0, 150.0)
    """Width and height of a panel in points, at most, before it is laid out."""
    shared: Shared | None = None
    """Where groups stand side by side."""
    beside: bool = False
    """Whether another layer draws boxes, bars or the like of the same groups side by side."""
    slot_share: float | None = None
    """The share of a slot within which that layer sets its groups."""
    half: str | None = None
    """The side of their slot that half violins of another layer fill."""
    bins: BinsBeside | None = None
    """The bins of a histogram of the figure along the same axis."""
    panel: str = ""
    """The only panel that it is about, where the axes of panels differ."""

    def say(self, code: str, text: str, fix: str = "", *, part: Columns | None = None, severity: Severity = "info") -> None:
        """Makes a remark.

        Args:
            code: What it is about, in words joined by dashes.
            text: What was found.
            fix: What to write where that is not meant.
            part: Rows of one panel and group, which are named.
            severity: "info" or "warning".
        """
        self.remarks.append(self.remark(code, text, fix, part=part, severity=severity))

    def remark(self, code: str, text: str, fix: str = "", *, part: Columns | None = None, severity: Severity = "info") -> Remark:
        """The remark that `say` makes, as a value."""
        if part is None and self.panel:
            text += f" (panel {self.panel!r})"
        return Remark(code, self.where, text, fix, severity, self.place(part) if part is not None else "")

    def place(self, part: Columns) -> str:
        """The panel and the group of some rows, in words; empty where there is one of each."""
        words = []
        if len(self.panels) > 1 and len(part):
            words.append(f"panel {self.panels[int(part.panel[0])]!r}")
        if len(self.groups) > 1 and len(part) and int(part.group[0]) in self.groups:
            words.append(f"group {self.groups[int(part.group[0])]!r}")
        return ", ".join(words)

    def discrete(self, aesthetic: str) -> bool:
        """Whether an aesthetic holds levels."""
        return self.kinds.get(aesthetic) in ("category", "ordered", "yes_no")

    def axis(self, name: str) -> AxisSpace:
        """What is known of an axis."""
        return self.axes.get(name, AxisSpace())

    def weight_title(self) -> str:
        """What a sum of weights is called."""
        return f"Sum of {self.titles['weight'].inside}" if "weight" in self.titles else "Count"

    def share_title(self, of: str = "") -> str:
        """What a share of rows, or of their weights, is called, and of which of them: "Share of rows", "Share of mass"."""
        return f"Share of {self.titles['weight'].inside if 'weight' in self.titles else 'rows'}{of}"

    def density_title(self, axis: str) -> str:
        """What a density along an axis is called, with its unit: "Density (per kg)", "Density (per decade)"."""
        space = self.axis(axis)
        if space.kind == "time":
            return "Density (per day)"
        if not space.even:
            return f"Density (per {space.transform.unit_word()})"
        title = self.titles.get(axis)
        if title is None:
            return "Density"
        return f"Density (per {title.unit})" if title.unit else f"Density (per unit of {title.inside})"
