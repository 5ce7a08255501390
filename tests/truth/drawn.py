"""The marks and legends of a drawn file, as a stranger reads them: nothing of the library is asked what it meant."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from dataclasses import dataclass, field

import numpy as np

SVG = "{http://www.w3.org/2000/svg}"
_INHERITED = ("fill", "stroke", "fill-opacity", "stroke-opacity", "opacity", "stroke-width", "stroke-dasharray")


@dataclass
class Mark:
    """One shape on the paper."""

    figure: int
    """0 where the sheet is one figure; insets have the number of their host."""
    inset: bool
    panel: str
    """What its panel is called."""
    layer: int
    verb: str
    title: str
    """Of its own group, such as the category; empty for none."""
    at: tuple[float, float]
    points: np.ndarray
    looks: dict[str, object]


@dataclass
class Drawn:
    """What a file shows."""

    marks: list[Mark] = field(default_factory=list)
    legends: list[Legend] = field(default_factory=list)


@dataclass
class Legend:
    """A legend on the paper."""

    figure: int | None
    """None for one of the whole sheet."""
    inset: bool
    title: str
    letters: tuple[str, ...]
    """The figures for which it stands, where its title says so."""
    aesthetics: tuple[str, ...]
    entries: dict[str, dict[str, object]]


def read(root: ET.Element) -> Drawn:
    """All marks of layers and all legends."""
    found = Drawn()
    _walk(root, {}, {"figure": 0, "inset": False, "panel": "", "layer": 0, "verb": "", "title": "", "sheet": True}, found)
    return found


def _walk(element: ET.Element, inherited: dict[str, str], place: dict, found: Drawn) -> None:
    own = {**inherited, **{name: element.get(name) for name in _INHERITED if element.get(name) is not None}}
    name = (element.get("id") or "").partition("-")[2]
    if element.tag == f"{SVG}g" and name:
        place = _placed(name, element, place)
        if re.search(r"legends-legend-[a-z_-]+$", name) and "entry" not in name:
            found.legends.append(_legend(name, element, own, place))
            return
    if place["layer"] and element.tag in (f"{SVG}circle", f"{SVG}path", f"{SVG}rect", f"{SVG}polyline", f"{SVG}line"):
        mark = _mark(element, own, place)
        if mark is not None:
            found.marks.append(mark)
    for child in element:
        _walk(child, own, place, found)


def _placed(name: str, element: ET.Element, place: dict) -> dict:
    title = next((child.text or "" for child in element if child.tag == f"{SVG}title"), "")
    if found := re.search(r"(?:^|-)figure-(\d+)$", name):
        return {**place, "figure": int(found[1]) - 1, "sheet": False}
    if re.search(r"inset(-\d+)?$", name):
        return {**place, "inset": True, "layer": 0}
    if re.search(r"panel-\d+$", name):
        return {**place, "panel": title, "layer": 0}
    if found := re.search(r"layer-(\d+)-([a-z_]+)$", name):
        return {**place, "layer": int(found[1]), "verb": found[2], "title": ""}
    if place["layer"] and title:
        return {**place, "title": title}
    return place


def _mark(element: ET.Element, own: dict[str, str], place: dict) -> Mark | None:
    points, shape, size = _geometry(element)
    if not len(points):
        return None
    looks = {"shape": shape, "size": size, **_painted(element, own)}
    middle = (float(points[:, 0].min() + points[:, 0].max()) / 2, float(points[:, 1].min() + points[:, 1].max()) / 2)
    if element.tag == f"{SVG}circle":
        middle = (float(element.get("cx")), float(element.get("cy")))
    elif element.tag == f"{SVG}path" and (begun := re.match(r"M(\S+) (\S+?)m", element.get("d", ""))):
        middle = (float(begun[1]), float(begun[2]))
    return Mark(
        place["figure"], place["inset"], place["panel"], place["layer"], place["verb"], place["title"], middle, points, looks
    )


def _painted(element: ET.Element, own: dict[str, str]) -> dict[str, object]:
    fill, stroke = own.get("fill"), own.get("stroke")
    body = fill if fill not in (None, "none") else stroke
    width = float(own.get("stroke-width", 1))
    dashes = own.get("stroke-dasharray")
    dash = () if dashes in (None, "none") else tuple(round(float(one) / width, 1) for one in re.split(r"[ ,]+", dashes))
    opacity = own.get("fill-opacity" if body == fill else "stroke-opacity", own.get("opacity", "1"))
    return {"color": body, "line": stroke, "dash": dash, "opacity": round(float(opacity), 3), "line_width": width}


def _geometry(element: ET.Element) -> tuple[np.ndarray, object, float]:
    if element.tag == f"{SVG}circle":
        x, y, r = (float(element.get(name)) for name in ("cx", "cy", "r"))
        return np.array([[x - r, y - r], [x + r, y + r]]), "circle", r
    if element.tag == f"{SVG}rect":
        x, y, wide, high = (float(element.get(name)) for name in ("x", "y", "width", "height"))
        return np.array([[x, y], [x + wide, y + high]]), "rect", wide
    points = _vertices(element.get("d") or element.get("points") or "")
    if not len(points):
        return points, "", 0.0
    reach = np.abs(points - points.mean(axis=0)).max() or 1.0
    signature = tuple(np.round((points - points.mean(axis=0)) / reach, 1).ravel().tolist()) if len(points) < 60 else len(points)
    return points, signature, float(reach)


def _vertices(path: str) -> np.ndarray:
    """The vertices of a path of absolute and relative lines."""
    at, found = np.zeros(2), []
    for letter, inside in re.findall(r"([A-Za-z])([^A-Za-z]*)", path):
        numbers = [float(one) for one in re.findall(r"-?\d*\.?\d+(?:e-?\d+)?", inside)]
        if letter in "Zz":
            continue
        if letter in "Hh":
            steps = [(one, 0.0 if letter == "h" else at[1]) for one in numbers]
        elif letter in "Vv":
            steps = [(0.0 if letter == "v" else at[0], one) for one in numbers]
        else:
            steps = list(zip(numbers[::2], numbers[1::2], strict=False))
        for step in steps:
            at = at + step if letter.islower() else np.array(step, float)
            if letter not in "Mm" or path[path.find(letter) + 1 :].find("m") < 0:
                found.append(at)
    return np.array(found).reshape(-1, 2)


def _legend(name: str, element: ET.Element, own: dict[str, str], place: dict) -> Legend:
    title = next((child.text or "" for child in element if child.tag == f"{SVG}title"), "")
    written = ["".join(child.itertext()) for child in element if child.tag == f"{SVG}text"]
    title = " ".join(written) or title
    letters = re.search(r" \(([A-Z](?:, [A-Z])*|figure \d+(?:, figure \d+)*)\)$", title)
    entries: dict[str, dict[str, object]] = {}
    for child in element.iter(f"{SVG}g"):
        if re.search(r"entry-\d+$", child.get("id") or ""):
            inner = Drawn()
            _walk(child, own, {**place, "layer": 1, "verb": "key"}, inner)
            label = " ".join("".join(text.itertext()) for text in child.iter(f"{SVG}text"))
            looks: dict[str, object] = {}
            for mark in inner.marks:
                looks = {**mark.looks, **looks}
                looks.setdefault("all", [])
                looks["all"].append(mark.looks)
            entries[label] = looks
    aesthetics = tuple(re.sub(r"^.*legends-legend-", "", name).split("-"))
    return Legend(
        None if place["sheet"] else place["figure"],
        place["inset"],
        title[: letters.start()] if letters else title,
        tuple(letters[1].split(", ")) if letters else (),
        aesthetics,
        entries,
    )
