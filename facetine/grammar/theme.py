"""The looks of a figure: a flat list of settings, lengths in points."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from pathlib import Path

from facetine.core.color.palettes import SEQUENTIAL
from facetine.data.toml import at_line, read_toml
from facetine.errors import OptionError, unknown
from facetine.grammar.given import Options
from facetine.grammar.lengths import shifts_option
from facetine.grammar.options import checked, choice, flag, ink, number, option, text, whole
from facetine.grammar.scale import palette_option, ramp_option
from facetine.registry import Registry


@dataclass(frozen=True, kw_only=True)
class Theme:
    """All settings of a theme. Lengths and sizes are in points; colors are #rrggbb or CSS names."""

    font: str = option("Source Sans Pro", text, "Family of all text: one that `facetine catalog fonts` lists.")
    text_size: float = option(8.0, number(2, 200), "Size of axis titles, legends and labels, in points.")
    tick_size: float | None = option(None, number(2, 200), "Size of tick labels, in points; 0.9 of the text where it is not set.")
    value_size: float | None = option(
        None, number(2, 200), "Size of the values written on marks, in points; that of tick labels where it is not set."
    )
    title_size: float | None = option(None, number(2, 300), "Size of the title, in points; 1.25 of the text where it is not set.")
    title_weight: float = option(700.0, number(200, 900), "Weight of the title from 200 to 900: 400 is regular, 700 bold.")
    heading_weight: float = option(600.0, number(200, 900), "Weight of panel headings from 200 to 900.")
    text_color: str = option("#1c1f24", ink, "Ink of titles and legends.")
    tick_color: str = option("#4a5059", ink, "Ink of tick labels, subtitle and note.")
    line_height: float = option(1.2, number(0.8, 3), "Distance of baselines, in shares of the text size.")
    ground: str = option("#ffffff", ink, "The sheet.")
    panel_ground: str | None = option(None, ink, "What lies behind the marks of each panel; the sheet where it is not set.")
    panel_frame: str | None = option(None, ink, "Ink of a line around each panel; none where it is not set.")
    panel_frame_width: float = option(0.6, number(0, 20), "Width of that line, in points.")
    margin: float = option(4.0, number(0, 200), "Room between the sheet's edge and everything on it, in points.")
    axis_color: str = option("#4a5059", ink, "Ink of axis lines and ticks.")
    axis_width: float = option(0.6, number(0, 20), "Width of axis lines and ticks, in points.")
    tick_length: float = option(3.0, number(0, 50), "Length of ticks, outwards, in points.")
    axes: bool = option(True, flag, "Whether axes, ticks and their titles are drawn.")
    hairlines: str = option(
        "none", choice("none", "across", "both"), 'Thin lines at the ticks behind the marks: "none", "across" or "both".'
    )
    hairline_color: str = option("#d9dce0", ink, "Ink of hairlines.")
    hairline_width: float = option(0.4, number(0, 20), "Width of hairlines, in points.")
    gap: float = option(3.0, number(0, 100), "Room between texts that belong together, and from tick to label, in points.")
    block_gap: float = option(7.0, number(0, 200), "Room between title, legend, panels and note, in points.")
    panel_gap: float = option(12.0, number(0, 200), "Room between panels, in points.")
    legend_place: str = option(
        "auto",
        choice("auto", "top", "right", "bottom", "left", "inside", "none"),
        'Where legends go: "auto", "top", "right", "bottom", "left", "inside" (in the emptiest corner of a panel) or "none".',
    )
    legend_shift: tuple[str, str] | None = option(
        None, shifts_option, 'How far the legends are moved from there, to the right and down, such as ("2 mm", "-1 mm").'
    )
    legend_columns: int | None = option(
        None,
        whole(1, 100),
        "At most so many entries of a legend stand beside each other; if not set, as many as fit above the panels, else one.",
    )
    point_size: float = option(3.6, number(0.1, 200), "Diameter of points, in points.")
    line_width: float = option(1.1, number(0.05, 50), "Width of drawn lines, in points.")
    bar_width: float = option(0.72, number(0.01, 1), "Share of its slot that a bar fills, from 0.01 to 1.")
    palette: str | tuple[str, ...] = option(
        "orchard", palette_option, "Colors of categories: a palette's name, or a list of colors."
    )
    ramp: str | tuple[str, ...] = option("cellar", ramp_option, "Colors of numbers: a ramp's name, or a list of colors.")
    missing_color: str = option("#a3a8ae", ink, "Marks of rows without a value, where they are shown.")

    @property
    def ground_below(self) -> str:
        """What lies behind the marks."""
        return self.ground if self.panel_ground is None else self.panel_ground

    @property
    def tick_text_size(self) -> float:
        """The size of tick labels."""
        return self.tick_size if self.tick_size is not None else round(self.text_size * 0.9, 2)

    @property
    def value_text_size(self) -> float:
        """The size of values on marks."""
        return self.value_size if self.value_size is not None else self.tick_text_size

    @property
    def title_text_size(self) -> float:
        """The size of the title."""
        return self.title_size if self.title_size is not None else round(self.text_size * 1.25, 2)


_OURS: dict[str, Theme] = {
    "press": Theme(),
    "ledger": Theme(hairlines="across"),
    "field": Theme(hairlines="both", axis_color="#8b929b"),
    "basalt": Theme(
        ground="#1d2126",
        text_color="#f1f2f4",
        tick_color="#b4bac2",
        axis_color="#8b929b",
        hairline_color="#3a4048",
        palette="lantern",
        ramp=tuple(reversed(SEQUENTIAL["cellar"])),
        missing_color="#7a828c",
    ),
    "bare": Theme(axes=False, margin=2.0),
    "lecture": Theme(
        text_size=16.0, axis_width=1.2, tick_length=6.0, point_size=7.5, line_width=2.4, margin=10.0, gap=6.0,
        block_gap=14.0, panel_gap=26.0, hairline_width=0.8,
    ),
}  # fmt: skip
"""Our own."""
THEME_WORDS = {
    "press": "for print: white ground, no lines but the axes",
    "ledger": "hairlines across, at the values",
    "field": "hairlines both ways",
    "basalt": "a dark ground, for screens and slides",
    "bare": "no axes: marks, titles and legends alone",
    "lecture": "everything twice as large, for a hall",
}
THEMES: Registry[Theme] = Registry("facetine.themes", "theme", _OURS, lambda thing: isinstance(thing, Theme))
"""By their names; those of other packages stand under the entry-point group `facetine.themes`."""


def themed(base: Theme, name: str | Path | None, settings: Options, where: str) -> Theme:
    """A theme with settings laid over it; a name, or a file, starts anew.

    Args:
        base: What holds so far.
        name: One of our themes, or a TOML file of settings, in which `name` says the theme that it starts from.
        settings: What is laid over it.
        where: Who asks, for the error.

    Raises:
        OptionError: There is no such theme, file or setting, or a setting has an impossible value.
    """
    if isinstance(name, Path) or (isinstance(name, str) and name.endswith(".toml")):
        base = _from_file(Path(name), where)
    elif name is not None:
        base = THEMES.need(name, where)
    known = [entry.name for entry in fields(Theme)]
    for setting in settings:
        if setting not in known:
            raise unknown(OptionError, where, "no setting", setting, known, "settings")
    return replace(base, **checked(Theme, settings, where))


def _from_file(path: Path, where: str) -> Theme:
    """A theme from a TOML file, as a table `theme` or as the whole file; an error names the line."""
    text, given = read_toml(path, where)
    settings = given.get("theme", given)
    if not isinstance(settings, dict):
        raise OptionError(f"{where}: {path.name}: theme is a table")
    begun = settings.get("name")
    if begun is not None and (not isinstance(begun, str) or begun not in THEMES):
        raise at_line(unknown(OptionError, where, "no theme", begun, THEMES, "themes"), path, text, "name")
    base = THEMES[begun or "press"]
    for key, value in settings.items():
        if key != "name":
            try:
                base = themed(base, None, {key: value}, where)
            except OptionError as problem:
                raise at_line(problem, path, text, key) from problem
    return base
