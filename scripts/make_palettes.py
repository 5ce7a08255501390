"""Compute Facetine's palettes and write them to facetine/core/color/palettes.py.

    python scripts/make_palettes.py

Qualitative palettes are found by a seeded search in OKLCH: the worst distance between any two colors, in normal and in
simulated protan, deutan and tritan vision, is made as large as it gets, while all keep a contrast of 3:1 on their
ground and the first four stay apart in gray. Sequential ramps take even steps of lightness along a path of hue and
chroma that stays inside sRGB; diverging ramps join two such arms at a neutral middle. `tests/core/test_palettes.py`
checks all of this on the result.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np

from facetine.core.arrays import FloatArray
from facetine.core.color.spaces import contrast, distances, from_hex, from_oklch, luminance, oklab, to_hex
from facetine.core.color.vision import simulated

TARGET = Path(__file__).parent.parent / "facetine" / "core" / "color" / "palettes.py"
WHITE = np.ones(3)
DARK = from_hex(["#1d2126"])[0]
# For the theme with a dark ground.
LANTERN = ("lantern", (53, (0.07, 0.17), 250.0, True))

# Qualitative: name, seed, range of chroma, hue that the first color should have.
QUALITATIVE = {
    "orchard": (11, (0.08, 0.19), 250.0),
    "pantry": (23, (0.05, 0.13), 150.0),
    "market": (37, (0.11, 0.21), 20.0),
}
# Sequential: name, hue at the light and at the dark end, largest chroma.
SEQUENTIAL = {
    "cellar": (95.0, 265.0, 0.125),
    "meadow": (115.0, 165.0, 0.115),
    "hearth": (85.0, 20.0, 0.150),
    "brine": (200.0, 260.0, 0.110),
    "plum": (40.0, 320.0, 0.125),
    "slate": (250.0, 250.0, 0.020),
}
# Diverging: name, hue of the low and of the high arm, chroma.
DIVERGING = {
    "sleet": (250.0, 40.0, 0.130),
    "moss": (135.0, 310.0, 0.115),
    "heath": (290.0, 75.0, 0.120),
    "thaw": (220.0, 15.0, 0.120),
}


def shown(lch: FloatArray) -> FloatArray:
    """sRGB with the chroma lowered until every color lies inside the gamut."""
    lch = lch.copy()
    for _ in range(60):
        rgb = from_oklch(lch)
        outside = (rgb < -1e-9).any(axis=1) | (rgb > 1 + 1e-9).any(axis=1)
        if not outside.any():
            break
        lch[outside, 1] *= 0.97
    return np.clip(from_oklch(lch), 0, 1)


def worst(rgb: FloatArray) -> float:
    """The smallest distance of any pair in any vision; the first four weigh in with their gray distance too."""
    far = []
    for view in (rgb, simulated(rgb, "protan"), simulated(rgb, "deutan"), simulated(rgb, "tritan")):
        between = distances(view)
        far.append(between[np.triu_indices(len(rgb), 1)].min())
        far.append(1.0 * between[:4, :4][np.triu_indices(4, 1)].min() / 1.25)
    light = np.sort(oklab(np.repeat(luminance(rgb[:4])[:, None] ** (1 / 2.2), 3, axis=1))[:, 0])
    far.append(np.diff(light).min() * 1.1)
    return float(min(far[0] * 0.62, *far[1:]))


def qualitative(seed: int, chroma: tuple[float, float], hue: float, dark: bool = False) -> list[str]:
    """Eight colors, by random restarts and shrinking random steps; for a white or a dark ground."""
    rng = np.random.default_rng(seed)
    low = np.array([0.56 if dark else 0.36, chroma[0], 0.0])
    high = np.array([0.92 if dark else 0.84, chroma[1], 360.0])
    ground = DARK if dark else WHITE
    best, best_score = None, -1.0
    for _ in range(12):
        now = rng.uniform(low, high, (8, 3))
        now[0, 2] = hue
        score = -1.0
        for turn in range(5000):
            reach = 0.5 * (1 - turn / 5000) ** 2 + 0.01
            trial = now.copy()
            which = rng.integers(8)
            trial[which] += rng.normal(0, reach, 3) * (high - low) * np.array([0.5, 0.5, 0.3])
            trial[:, :2] = np.clip(trial[:, :2], low[:2], high[:2])
            trial[0, 2] = np.clip(trial[0, 2], hue - 20, hue + 20)
            rgb = from_hex(to_hex(shown(trial)))
            if (contrast(rgb[:6], ground) < 3.05).any() or (contrast(rgb[6:], ground) < 1.6).any():
                continue
            found = worst(rgb)
            if found > score:
                now, score = trial, found
        if score > best_score:
            best, best_score = now, score
    print(f"  worst distance {best_score:.3f}")
    assert best is not None
    return with_two_more(to_hex(shown(best))[:6], low, high, ground, seed)


def with_two_more(six: list[str], low: FloatArray, high: FloatArray, ground: FloatArray, seed: int) -> list[str]:
    """The first six colors and two that stand out as well, as far from them and each other as can be, in every vision."""
    rng = np.random.default_rng(seed)
    found = from_hex(to_hex(shown(rng.uniform(low, high, (6000, 3)))))
    found = found[contrast(found, ground) >= 3.05]
    visions = [lambda rgb: rgb, *(lambda rgb, one=one: simulated(rgb, one) for one in ("protan", "deutan", "tritan"))]
    first = from_hex(six)
    far = np.min([distances(np.vstack([see(first), see(found)]))[6:, :6].min(axis=1) for see in visions], axis=0)
    found, far = found[np.argsort(-far)[:400]], np.sort(far)[::-1][:400]
    between = np.min([distances(see(found)) for see in visions], axis=0)
    between = np.minimum(between, np.minimum(far[:, None], far[None, :]))
    np.fill_diagonal(between, 0)
    one, other = np.unravel_index(between.argmax(), between.shape)
    print(f"  two more at {between.max():.3f}")
    return [*six, *to_hex(found[[one, other]])]


def sequential(light_hue: float, dark_hue: float, chroma: float, count: int = 9) -> list[str]:
    """From light to dark in even steps of lightness."""
    at = np.linspace(0, 1, count)
    lightness = 0.94 - 0.64 * at
    hue = light_hue + (dark_hue - light_hue) * at**0.9
    bulge = chroma * (0.25 + 0.75 * np.sin(np.pi * np.clip(0.12 + 0.78 * at, 0, 1)))
    return to_hex(shown(np.column_stack([lightness, bulge, hue % 360])))


def diverging(low_hue: float, high_hue: float, chroma: float, count: int = 11) -> list[str]:
    """Two arms of even steps of lightness from a neutral middle."""
    at = np.linspace(-1, 1, count)
    lightness = 0.955 - 0.50 * np.abs(at)
    hue = np.where(at < 0, low_hue, high_hue)
    return to_hex(shown(np.column_stack([lightness, chroma * np.sin(np.abs(at) * 1.9).clip(0) ** 0.9, hue])))


def cyclic(chroma: float = 0.11, count: int = 12) -> list[str]:
    """Once round the hues, with one dark and one light side; the last color leads back to the first."""
    at = np.arange(count + 1) / count
    lightness = 0.62 + 0.13 * np.cos(2 * np.pi * at)
    return to_hex(shown(np.column_stack([lightness, np.full(count + 1, chroma), (60 + 360 * at) % 360])))


def table(name: str, says: str, palettes: dict[str, list[str]]) -> str:
    rows = "\n".join(
        f'    "{key}": ({", ".join(repr(c) for c in colors)}),'.replace("'", '"') for key, colors in palettes.items()
    )
    return f'{name}: dict[str, tuple[str, ...]] = {{\n{rows}\n}}\n"""{says}"""\n'


def main() -> None:
    found = {}
    for name, (seed, chroma, hue) in QUALITATIVE.items():
        print(name)
        found[name] = qualitative(seed, chroma, hue)
    print(LANTERN[0])
    found[LANTERN[0]] = qualitative(*LANTERN[1])
    text = '"""Our palettes, as computed by scripts/make_palettes.py; change that script, not these lines."""\n\n'
    text += "from __future__ import annotations\n\n"
    text += table("QUALITATIVE", "For categories: eight colors, in the order of use.", found) + "\n"
    text += (
        table(
            "SEQUENTIAL",
            "For numbers from low (light) to high (dark).",
            {n: sequential(*v) for n, v in SEQUENTIAL.items()},
        )
        + "\n"
    )
    text += table("DIVERGING", "For numbers on both sides of a middle.", {n: diverging(*v) for n, v in DIVERGING.items()}) + "\n"
    text += table("CYCLIC", "For directions, hours and months: the end meets the start.", {"orbit": cyclic()})
    TARGET.write_text(text, encoding="utf-8")


if __name__ == "__main__":
    main()
