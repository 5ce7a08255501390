"""Our palettes, as computed by scripts/make_palettes.py; change that script, not these lines."""

from __future__ import annotations

QUALITATIVE: dict[str, tuple[str, ...]] = {
    "orchard": ("#3448ae", "#07829e", "#ca8508", "#6b0059", "#494001", "#a76ee2", "#b94d01", "#824958"),
    "pantry": ("#749d5d", "#6d1339", "#4d5377", "#8e6350", "#5f4600", "#42859f", "#432a7a", "#ab7fd4"),
    "market": ("#9b365d", "#642900", "#4497ec", "#857803", "#0a6b9f", "#50257a", "#d5758f", "#3533b6"),
    "lantern": ("#a6bffe", "#a449a9", "#d78391", "#fce15a", "#4b89f2", "#74ffea", "#68821c", "#c6ba54"),
}
"""For categories: eight colors, in the order of use."""

SEQUENTIAL: dict[str, tuple[str, ...]] = {
    "cellar": ("#f9ecba", "#c8db98", "#8cca8a", "#43b68c", "#099b90", "#087d89", "#08617d", "#11466d", "#1f2d4c"),
    "meadow": ("#e9f1c3", "#c7da9e", "#a3c47f", "#7fae67", "#5c9755", "#3c8048", "#21673e", "#0f4f33", "#0a3627"),
    "hearth": ("#ffe9bb", "#fbc77e", "#f0a553", "#e08432", "#cb661f", "#b04c1d", "#913721", "#6f2822", "#4c1c1e"),
    "brine": ("#bef8fa", "#91e0ed", "#68c7e0", "#46acd0", "#2f91bd", "#2676a5", "#255c89", "#234469", "#1e2e48"),
    "plum": ("#ffe5dc", "#eecc8c", "#aec270", "#57b57e", "#129a94", "#067b99", "#2d5892", "#41396d", "#3b2340"),
    "slate": ("#e6ecf2", "#cad2da", "#afb9c2", "#96a0aa", "#7d8792", "#67707a", "#515961", "#3d434a", "#2a2e33"),
}
"""For numbers from low (light) to high (dark)."""

DIVERGING: dict[str, tuple[str, ...]] = {
    "sleet": (
        "#0a5998",
        "#2c76bb",
        "#5395d7",
        "#82b4e9",
        "#b6d3f2",
        "#f0f0f0",
        "#efc4b6",
        "#e39b83",
        "#ce7657",
        "#b15433",
        "#8d3918",
    ),
    "moss": (
        "#3a631e",
        "#548239",
        "#749f5c",
        "#99bc87",
        "#c2d7b8",
        "#f0f0f0",
        "#d9c7e7",
        "#c0a1d7",
        "#a47ec1",
        "#885ea5",
        "#694384",
    ),
    "heath": (
        "#574991",
        "#7365b4",
        "#9084cf",
        "#aea7e3",
        "#cecbee",
        "#f0f0f0",
        "#e3cbac",
        "#d0a871",
        "#b8863b",
        "#9a6703",
        "#754e02",
    ),
    "thaw": (
        "#046176",
        "#06809b",
        "#26a0bf",
        "#6dbdd5",
        "#add8e6",
        "#f0f0f0",
        "#eec3c5",
        "#e1999e",
        "#cb737b",
        "#ae525c",
        "#8b3742",
    ),
}
"""For numbers on both sides of a middle."""

CYCLIC: dict[str, tuple[str, ...]] = {
    "orbit": (
        "#e19d63",
        "#c3a550",
        "#91a452",
        "#519962",
        "#028675",
        "#077280",
        "#076798",
        "#4d61a4",
        "#7d63aa",
        "#ab6da6",
        "#d17c97",
        "#e58d7f",
        "#e19d63",
    ),
}
"""For directions, hours and months: the end meets the start."""
