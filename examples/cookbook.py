"""The figures of the cookbook, each as its recipe says it.

python examples/cookbook.py [FOLDER]
"""

from __future__ import annotations

import re
import sys
from pathlib import Path

import facetine as ft

PAGE = Path(__file__).parent.parent / "docs" / "cookbook.md"
DATA = {name: ft.demo_data(name) for name in ("wheels", "climate", "cultures", "cores", "sales")}


def recipes() -> dict[str, str]:
    """Headings and code of the page."""
    return dict(re.findall(r"^## (.+?)\n\n```python\n(.*?)```", PAGE.read_text("utf-8"), re.MULTILINE | re.DOTALL))


def figure(code: str) -> ft.Figure | ft.Plate:
    """The figure of a recipe, or its plate."""
    made = eval(code, {"ft": ft, **DATA})
    assert isinstance(made, ft.Figure | ft.Plate)
    return made


if __name__ == "__main__":
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else ".")
    for number, (name, code) in enumerate(recipes().items(), 1):
        figure(code).titles(name).theme("press", text_size=7).export(folder / f"{number:02}.pdf", width="80 mm", height="66 mm")
