"""The looks of a figure: a flat list of settings, lengths in points."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from pathlib import Path

from facetine.core.color.palettes import SEQUENTIAL
from facetine.core.registry import Registry
from facetine.data.toml import at_line, read_toml
from facetine.grammar.given import Options
from facetine.grammar.lengths import shifts_option
from facetine.grammar.options import checked, choice, flag, ink, number, option, text, whole
from facetine.grammar.scale import palette_option, ramp_option
from facetine.messages.errors import OptionError, unknown


@dataclass(frozen=True, kw_only=True)
class Theme:
    """All settings of a theme. Lengths and sizes are in points; colors are #rrggbb or CSS names."""

    font: str = option("Source Sans Pro", text)
    text_size: float = option(8.0, number(2, 200))
    tick_size: float | None = option(None, number(2, 200))
    value_size: float | None = option(None, number(2, 200))
    title_size: float | None = option(None, number(2, 300))
    title_weight: float = option(700.0, number(200, 900))
    heading_weight: float = option(600.0, number(200, 900))
    text_color: str = option("#1c1f24", ink)
    tick_color: str = option("#4a5059", ink)
    line_height: float = option(1.2, number(0.8, 3))
    ground: str = option("#ffffff", ink)
    panel_ground: str | None = option(None, ink)
    panel_frame: str | None = option(None, ink)
    panel_frame_width: float = option(0.6, number(0, 20))
    margin: float = option(4.0, number(0, 200))
    axis_color: str = option("#4a5059", ink)
    axis_width: float = option(0.6, number(0, 20))
    tick_length: float = option(3.0, number(0, 50))
    axes: bool = option(True, flag)
    hairlines: str = option("none", choice("none", "across", "both"))
    hairline_color: str = option("#d9dce0", ink)
    hairline_width: float = option(0.4, number(0, 20))
    gap: float = option(3.0, number(0, 100))
    block_gap: float = option(7.0, number(0, 200))
    panel_gap: float = option(12.0, number(0, 200))
    legend_place: str = option(
        "auto",
        choice("auto", "top", "right", "bottom", "left", "inside", "none"),
    )
    legend_shift: tuple[str, str] | None = option(None, shifts_option)
    legend_columns: int | None = option(
        None,
        whole(1, 100),
    )
    point_size: float = option(3.6, number(0.1, 200))
    line_width: float = option(1.1, number(0.05, 50))
    bar_width: float = option(0.72, number(0.01, 1))
    palette: str | tuple[str, ...] = option("orchard", palette_option, "Of categories.")
    ramp: str | tuple[str, ...] = option("cellar", ramp_option)
    missing_color: str = option("#8a9097", ink)
    readout_size: float = option(10.0, number(4, 60))
    quiet_opacity: float = option(0.18, number(0.02, 0.9))

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
        raise OptionError(where, f"{path.name}: theme is a table")
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
