"""Twenty figures that are one line each from a base, as the page on working with figures says them.

python examples/working.py [FOLDER]
"""

from __future__ import annotations

import re
import sys
from pathlib import Path

import facetine as ft

PAGE = Path(__file__).parent.parent / "docs" / "working.md"
WHEELS = ft.demo_data("wheels")


def lines() -> dict[str, str]:
    """What each figure is, and the code that makes it of the base."""
    return dict(re.findall(r"^\d+\. (.+?): `(.+)`$", PAGE.read_text("utf-8"), re.MULTILINE))


def figure(code: str) -> ft.Figure:
    """The figure of a line."""
    (base,) = re.findall(r"```python\nbase = (.*?)```", PAGE.read_text("utf-8"), re.DOTALL)
    known = {"ft": ft, "wheels": WHEELS}
    made = eval(code, known | {"base": eval(base, known)})
    assert isinstance(made, ft.Figure)
    return made


if __name__ == "__main__":
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else ".")
    for number, (name, code) in enumerate(lines().items(), 1):
        figure(code).titles(name).theme(text_size=7).export(folder / f"{number:02}.pdf", width="80 mm", height="66 mm")
