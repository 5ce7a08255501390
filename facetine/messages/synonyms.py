"""Plain words of the trade, and what is called so here: an unknown word is answered by its meaning before its spelling."""

from __future__ import annotations

from collections.abc import Iterable

_WORDS = {
    # Statistics.
    "std_dev": "sd std deviation sigma",
    "std_error": "se sem error",
    "confidence": "ci interval",
    "quartiles": "iqr quartile",
    "range": "extremes spread minmax",
    "mean": "avg average",
    "median": "middle",
    "count": "number frequency tally",
    "sum": "total",
    "share": "percent percentage proportion fraction relative",
    "linear": "line straight ols regression leastsquares normal identity plain",
    "loess": "smooth smoother smoothed lowess local curve",
    "polynomial": "quadratic cubic parabola",
    "logistic": "sigmoid binomial",
    "moving": "rolling running movingaverage",
    "density": "kde",
    # How marks share a place.
    "beeswarm": "swarm packed",
    "side_by_side": "sidebyside grouped beside adjacent abreast offset shifted",
    "stack": "stacked pile",
    "overlay": "overlaid overlap overlapping ontop",
    "jitter": "jittered noise scattered",
    # Appearance.
    "opacity": "alpha transparency transparent",
    "color": "colour ink fill",
    "outline": "border edge",
    "shape": "marker symbol glyph",
    "size": "diameter area radius",
    "dash": "linestyle pattern style",
    "label": "text",
    "text": "label caption annotation words labeltext",
    "second_axis": "second secondary secondaryaxis otheraxis dualaxis secondunit",
    "convert": "of factor conversion transform",
    "rest_as": "rest other othername othersas restlabel",
    "for_column": "of column variable",
    "layer": "of source",
    "text_at": "labelat labelposition position",
    "solid": "unbroken continuous",
    "dotted": "dots",
    "dashed": "dashes broken",
    "disc": "circle dot round",
    "square": "box rectangle",
    # Scales and titles.
    "guide_title": "label axistitle axislabel labels",
    "limits": "range extent domain bounds lim",
    "title": "label heading header name headline",
    "note": "caption footnote footer remark",
    "format": "formatter numberformat labels",
    "ticks": "marks tickvalues",
    "order": "sort sorted levels ordering",
    "reverse": "reversed inverted flip descending backwards",
    "log": "logarithmic log10 log2 ln logscale",
    "sqrt": "root squareroot",
    "signed_log": "symlog symmetriclog bisymmetriclog asinh signedlog",
    "category": "categorical discrete factor nominal text",
    "number": "numeric numerical float integer continuous",
    "time": "date datetime temporal",
    "ordered": "ordinal",
    "yes_no": "boolean logical truefalse binary",
    "palette": "colors colours ramp colormap colorscale colorscheme gradient",
    "ramp": "gradient sequential colormap colorscale",
    "middle": "center centre midpoint diverging centervalue",
    "missing": "na nan null none absent",
    "zone": "timezone",
    "top": "largest keep most",
    # Panels.
    "rows": "row down",
    "columns": "column cols across",
    "per_row": "wrap columnsperrow",
    "separate": "free independent",
    "heading": "strip label title",
    # Sheets and themes.
    "x": "xlabel xtitle labelx",
    "y": "ylabel ytitle labely",
    "width": "size unit",
    "height": "tall",
    "dpi": "resolution",
    "transparent": "background clear",
    "basalt": "dark black night darkmode",
    "bare": "empty blank void clean",
    "field": "grid gridlines",
    "ledger": "horizontal rules",
    "press": "print paper publication default classic light minimal",
    "lecture": "slides presentation talk projector",
    "text_size": "fontsize size",
    "font": "family typeface fontfamily",
    "ground": "background backgroundcolor",
    "legend_place": "legendposition legendlocation",
    # Options of layers.
    "level": "confidence confidencelevel ci conf conflevel",
    "hairlines": "grid gridlines showgrid",
    "bin_width": "binsize width",
    "bar_width": "width gap space spacing padding",
    "line_width": "thickness strokewidth width",
    "bandwidth": "smoothing kernelwidth bw",
    "method": "model kind fit type",
    "measure": "normalize norm statistic stat",
    "reach": "errors errortype spread interval",
    "around": "center centre estimator",
    "aggregate": "summary statistic stat function estimator",
    "arrange": "position placement layout stacking overlap",
    "where": "filter condition",
    "span": "range sizes",
    "value_labels": "labels text values showvalues annotate",
    "slot_share": "barwidth width",
    "equal": "same normalize scaleby",
    "peak": "width maximum height",
    "row_area": "count counts rows",
    "join_by": "follow connect sortby path",
    "expression": "function formula equation",
    "local_share": "span fraction neighbourhood",
    "quantile": "percentile tau share probability",
    "delimiter": "sep separator fieldseparator",
    "skip": "skiprows skiplines",
    "header": "columnnames hasheader",
    "encoding": "charset codec",
    "decimal": "decimalmark decimalsign",
    "thousands": "groupingmark thousandssign",
    "icc": "profile iccprofile colorprofile",
    "paper": "page pagesize papersize sheet",
    "parameters": "values params arguments bind bindings",
    "like": "look template",
    "fix": "mend repair correct autofix",
    "numbers": "values table tabledata",
    "words": "values codes recode mapping valuelabels",
    "sample": "subset thin",
    "over_variables": "vary variables repeat",
    "under_diagonal": "lower lowertriangle below",
    "over_diagonal": "upper uppertriangle above",
    "triangle_down": "spike downtriangle triangledown",
    "vertical_line": "upright verticalbar",
    "horizontal_line": "level horizontalbar dash",
    "open_disc": "ring opencircle hollowcircle circleopen",
    "legend_as": "legendlabel entry key legendname legendtitle label",
}
_VERBS = {
    "points": "scatter dot bubble strip point marker",
    'points(arrange="beeswarm")': "swarm beeswarm",
    "lines": "line timeseries series curve",
    "lines(steps=True)": "step staircase",
    "areas": "area stackedarea",
    "bands": "band ribbon envelope",
    "bars": "bar column count",
    'bars(arrange="share")': "pie donut doughnut",
    "histogram": "hist frequency distribution",
    "density": "kde kernel",
    "cumulative": "ecdf cdf cumulativedistribution",
    "qq": "quantilequantile normalquantile",
    "boxes": "box boxwhisker boxandwhisker",
    "violins": "violin",
    "ridgelines": "ridge ridgeline",
    "intervals": "error confidenceinterval interval",
    "trend": "smooth smoother regression fit fitted bestfit linearregression loess",
    "cells": "heatmap heat tile matrix",
    'cells(cell="hex")': "hex hexagon hexagonal",
    "contours": "contour isoline density2",
    "labels": "text label",
    "segments": "segment arrow vector dumbbell",
    "reference(y=…)": "horizontal horizontalline hline baseline",
    "reference(x=…)": "vertical verticalline vline",
    "reference(slope=…, intercept=…)": "diagonal",
    "region": "rectangle rect shade shading ellipse",
    "callout": "annotate annotation arrowtext",
    "function": "graph equation formula graphof curveof plotfunction",
    "export": "save write savefile render output print",
    'export("figure.pdf")': "pdf topdf",
    'export("figure.svg")': "svg tosvg",
    'export("figure.png")': "png topng",
    "show()": "display view preview draw open",
    "titles": "title caption subtitle heading headline",
    "titles(x=…)": "xlabel xtitle labelx labelsx",
    "titles(y=…)": "ylabel ytitle labely labelsy",
    'scale("x", limits=…)': "xlimit xrange limit range zoom",
    'scale("y", limits=…)': "ylimit yrange",
    'scale("x", "log")': "log logx xlog logarithmic logscale",
    'scale("y", "log")': "logy ylog",
    'scale("x", ticks=…)': "tick axis",
    'scale("x", order=…)': "sort order reorder orderby",
    'scale("x", reverse=True)': "reverse invert",
    'scale("color", palette=…)': "palette color colour",
    "map": "encode mapping aesthetic",
    'map(color="column")': "groupby group by split",
    "keep": "filter query select where only subset",
    "derive": "assign compute withcolumn addcolumn transform calculate",
    "facet": "panel subplot smallmultiple trellis grid wrap panelsby",
    "swap_axes": "flip transpose turn rotate swap",
    "theme": "style font background dark",
    "theme(legend_place=…)": "legend legendplace",
    "marginal": "joint",
    "over_variables": "repeat vary variables",
    "onto": "over overlay ontop superimpose",
    "behind": "before below under",
    "replace": "instead exchange switchlayer",
    "numbers": "values data computed getdata table",
    "difference": "diff compare",
    "sheet": "size figuresize resize width height dimension",
    "inset": "insetfigure",
    "check": "validate verify audit",
    "describe": "alt alttext summary summarize description",
    "copy": "clipboard toclipboard",
    "to_dict": "json tojson serialize spec",
    "kinds": "type astype cast dtype",
    "seed": "random randomstate",
    "sample": "subsample randomrows thin",
    "suggested": "suggest recommend auto guess",
    "export_each": "saveeach exportall foreach",
}
_FUNCTIONS = {
    "read": "readcsv readcolumns readbytes readparquet readexcel readtable readsql readfile load loaddata open import",
    "matrix": "scattermatrix pairs pairwise correlationmatrix",
    "plate": "compose composition arrange multipanel figuregrid grid",
    "inspect": "suggest suggestions info describe summary profile glimpse explore",
    "plan": "exportplan runplan batch project",
    "unpivot": "melt long tolong wide stack",
    "set_defaults": "options config configure settings settheme usetheme style theme",
    "defaults": "context with stylecontext",
    "catalog": "list palettes themes layers fonts formats",
    "demo_data": "data dataset datasets example sampledata loaddataset",
    "pasted": "clipboard paste readclipboard",
    "into_document": "word docx todocx document insert",
    "picture": "image photo photograph",
    "sql": "expr expression calc computed",
    "figure": "chart plot canvas new",
}
_BEFORE = ("set", "add", "draw", "make", "with")
_BEHIND = ("plot", "chart", "graph", "diagram", "bars", "bar")


def meant(given: object, possible: Iterable[str]) -> str | None:
    """The possible word that a word of the trade means; None where it is none, or means nothing here.

    >>> meant("sd", ["std_error", "std_dev"])
    'std_dev'
    >>> meant("side by side", ["stack", "side_by_side"])
    'side_by_side'
    """
    words = set(possible)
    for form in _forms(given):
        found = next((word for word in _MEANT.get(form, ()) if word in words), None)
        if found is not None:
            return found
    return None


def verb_for(given: str) -> str | None:
    """The verb of ours that does what another word asks for; None where there is none.

    >>> verb_for("scatter"), verb_for("pie chart")
    ('points', 'bars(arrange="share")')
    """
    return next((_DONE_BY[form][0] for form in _forms(given) if form in _DONE_BY), None)


def function_for(given: str) -> str | None:
    """The function of the package that does what another word asks for; None where there is none.

    >>> function_for("read_csv"), function_for("scatter_matrix")
    ('read', 'matrix')
    """
    word = _small(given)
    return next((_MADE_BY[form][0] for form in (word, word.removesuffix("s")) if form in _MADE_BY), None)


def _forms(given: object) -> list[str]:
    """A word as it may stand in the tables: in small letters alone, without what is often said with it."""
    if not isinstance(given, str):
        return []
    word = _small(given)
    forms = [word]
    for part in _BEHIND:
        forms += [form.removesuffix(part) for form in forms if form.endswith(part)]
    for part in _BEFORE:
        forms += [form.removeprefix(part) for form in forms if form.startswith(part)]
    return [form for form in dict.fromkeys(forms + [form.removesuffix("s") for form in forms]) if form]


def _small(word: str) -> str:
    return "".join(char for char in word[:80].casefold() if char.isalnum())


def _turned(table: dict[str, str]) -> dict[str, tuple[str, ...]]:
    found: dict[str, tuple[str, ...]] = {}
    for ours, theirs in table.items():
        for word in theirs.split():
            found[word] = (*found.get(word, ()), ours)
    return found


_MEANT, _DONE_BY, _MADE_BY = _turned(_WORDS), _turned(_VERBS), _turned(_FUNCTIONS)
