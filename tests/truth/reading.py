"""Figures read back from their SVG as a reader would: places by the ticks of the axes, texts as they stand."""

from __future__ import annotations

import re
import warnings
import xml.etree.ElementTree as ET
from typing import Any

import numpy as np
from conftest import SVG, group, laid_out, own_id, svg_of

import facetine as ft


class Sheet:
    """The SVG of a figure, with its axes."""

    prefix = ""
    """What the ids of one figure of a plate begin with, such as "figure-2-"."""

    def __init__(self, figure: Any, width: str = "120 mm", height: str | None = None) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", ft.FacetineFinding)
            self.root = svg_of(figure, width, height)
        self.findings = laid_out(figure, width, height).findings

    def said(self, code: str) -> list[str]:
        """The findings of a code, as texts."""
        return [str(finding) for finding in self.findings if finding.code == code]

    def group(self, name: str, panel: int = 1) -> ET.Element:
        return group(self.root, f"{self.prefix}panel-{panel}-{name}")

    def has(self, name: str, panel: int = 1) -> bool:
        return any(own_id(element) == f"panel-{panel}-{name}" for element in self.root.iter(f"{SVG}g"))

    def layer(self, number: int, panel: int = 1) -> ET.Element:
        """The group of a layer, counted from 1."""
        for element in self.root.iter(f"{SVG}g"):
            if re.fullmatch(rf"{self.prefix}panel-{panel}-layer-{number}-\w+", own_id(element)):
                return element
        raise AssertionError(f"no layer {number}")

    def texts(self, inside: ET.Element | None = None) -> list[str]:
        within = self.root if inside is None else inside
        return ["".join(text.itertext()) for text in within.iter(f"{SVG}text")]

    def ticks(self, axis: str, panel: int = 1) -> tuple[list[str], list[float]]:
        """Labels and places of the ticks of an axis of numbers."""
        axes = self.group(f"{axis}-axis", panel)
        labels = self.texts(axes)
        path = axes.find(f"{SVG}path")
        assert path is not None
        ends = np.array(re.findall(r"M(\S+) (\S+)L(\S+) (\S+?)(?=M|$)", path.get("d", "")), float)
        ends = ends[len(ends) - len(labels) if len(ends) <= len(labels) else 1 :][: len(labels)]
        return labels, ends[:, 0 if axis == "x" else 1].tolist()

    def read(self, axis: str, places: Any, log: bool = False, panel: int = 1) -> np.ndarray:
        """Values that places on the sheet stand for, by the ticks."""
        labels, at = self.ticks(axis, panel)
        values = np.array([float(_number(label)) for label in labels])
        known = np.log10(values) if log else values
        slope, base = np.polyfit(at, known, 1)
        found = slope * np.asarray(places, float) + base
        return 10**found if log else found

    def words(self, axis: str, panel: int = 1) -> dict[str, float]:
        """Where the categories of an axis stand on the sheet."""
        found = {}
        for text in self.group(f"{axis}-axis", panel).iter(f"{SVG}text"):
            # A line of text stands on its foot, a third of its size below its middle.
            low = float(text.get("y", "")) - 0.33 * float(text.get("font-size", ""))
            found["".join(text.itertext())] = float(text.get("x", "")) if axis == "x" else low
        return found

    def circles(self, layer: int, panel: int = 1) -> np.ndarray:
        """Centers of the discs of a layer, shape (n, 2)."""
        found = [(disc.get("cx"), disc.get("cy")) for disc in self.layer(layer, panel).iter(f"{SVG}circle")]
        return np.array(found, float).reshape(-1, 2)

    def rects(self, layer: int, panel: int = 1) -> np.ndarray:
        """x, y, width, height of the rectangles of a layer, shape (n, 4)."""
        keys = ("x", "y", "width", "height")
        found = [[rect.get(key) for key in keys] for rect in self.layer(layer, panel).iter(f"{SVG}rect")]
        return np.array(found, float).reshape(-1, 4)

    def paths(self, layer: int, panel: int = 1) -> list[dict[str, Any]]:
        """The paths of a layer with their vertices under "at", shape (n, 2)."""
        made = []
        for path in self.layer(layer, panel).iter(f"{SVG}path"):
            numbers = re.findall(r"-?\d+\.?\d*(?:e-?\d+)?", path.get("d", ""))
            made.append({**path.attrib, "at": np.array(numbers, float).reshape(-1, 2)})
        return made

    def title(self, axis: str) -> str:
        """The title of an axis."""
        for element in self.root.iter(f"{SVG}g"):
            if own_id(element) == f"{axis}-title":
                return " ".join(self.texts(element))
        return ""


def _number(label: str) -> str:
    text = label.replace("−", "-").replace(",", "").replace(" %", "")
    found = re.fullmatch(r"(?:(.+) × )?10(-?\d+)", text)
    # Powers of ten are set with a raised exponent, which reads back as 10 and its digits.
    if found and (found[1] or text not in ("10", "100", "1000", "10000")):
        return f"{found[1] or 1}e{found[2]}"
    return text


def texts_of(figure: Any, width: str = "120 mm") -> list[str]:
    """All texts of a figure."""
    return Sheet(figure, width).texts()
