"""The files that a plan is made of, and whether any of them has changed since a run that made all of its figures."""

from __future__ import annotations

import contextlib
import os
import re
import sys
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.batch.stamps import stamps_of
from facetine.data.plain import plain_text
from facetine.data.queries import files_behind
from facetine.messages.errors import FacetineError
from facetine.messages.version import VERSION

if TYPE_CHECKING:
    from facetine.batch.plan import Plan
    from facetine.batch.sources import Sources

_OUT = re.compile(r'^\s*"?out"?\s*[=:]\s*"([^"\\]*)"', re.MULTILINE)


def files_of(plan: Plan, sources: Sources) -> list[Path]:
    """The plan, what it includes, its data, codebooks, themes and pictures."""
    found = list(plan.said.files)
    for name, source in plan.data.items():
        if source.file is not None or source.glob is not None:
            with contextlib.suppress(FacetineError):
                found += [one for file in sources.files(source, name) for one in files_behind(file)]
    settings = plan.settings
    found += [
        plan.folder / name for name in ([settings.codebook] if isinstance(settings.codebook, str) else settings.codebook or [])
    ]
    themes = [settings.theme, *(one.theme for one in plan.figure.values()), *(one.theme for one in plan.plate.values())]
    for theme in themes:
        named = theme.get("name") if isinstance(theme, dict) else theme
        if isinstance(named, str) and named.endswith(".toml"):
            found.append(plan.folder / named)
    for plate in plan.plate.values():
        found += [plan.folder / one for one in _pictures(plate.rows)]
    return list(dict.fromkeys(found))


def _pictures(rows: Any) -> list[str]:
    found: list[str] = []
    for one in rows if isinstance(rows, list) else []:
        if isinstance(one, list):
            found += _pictures(one)
        elif isinstance(one, dict) and isinstance(one.get("picture"), str):
            found.append(one["picture"])
    return found


def run_of(plan: Plan, sources: Sources, names: Sequence[str]) -> dict[str, Any] | None:
    """What a later run compares before anything else; None where files do not tell all."""
    if plan.document or any(one.url is not None or one.database is not None for one in plan.data.values()):
        return None
    try:
        globs = {
            one.glob: [str(file) for file in sources.files(one, name)] for name, one in plan.data.items() if one.glob is not None
        }
    except FacetineError:
        return None
    return {"version": version(), "inputs": stamps_of(files_of(plan, sources)), "globs": globs, "names": list(names)}


def is_as_before(run: Any, plan: Path) -> bool:
    """Whether nothing of what a run was made of has changed."""
    if not isinstance(run, dict) or run.get("version") != version():
        return False
    inputs = run.get("inputs", [])
    if not inputs or inputs[0][0] != str(plan) or stamps_of([Path(one[0]) for one in inputs]) != inputs:
        return False
    for pattern, files in run.get("globs", {}).items():
        if sorted(str(path) for path in plan.parent.glob(pattern) if path.is_file()) != files:
            return False
    return True


def folder_of(plan: Path) -> Path | None:
    """Where a plan writes to, by a glance at its text; a wrong guess only costs a moment."""
    try:
        found = _OUT.search(plain_text(plan))
    except (OSError, UnicodeDecodeError):
        return None
    return plan.parent / (found[1] if found else "figures")


@lru_cache(maxsize=1)
def version() -> str:
    """Facetine itself, and the fonts that come with it: a figure may come out otherwise where these have changed."""
    from hashlib import blake2b

    root = Path(__file__).parents[1]
    made = blake2b(VERSION.encode(), digest_size=12)
    for folder, inner, files in os.walk(root):
        inner.sort()
        for name in sorted(files):
            if name.endswith((".py", ".toml")):
                # By content: a copy that is installed anew draws the same.
                with open(os.path.join(folder, name), "rb") as stream:
                    made.update(name.encode() + stream.read())
    fonts = []
    for place in sys.path:
        with contextlib.suppress(OSError):
            fonts += [one for one in os.listdir(place or ".") if one.startswith(("font_", "fontpkg_")) and one.endswith("-info")]
    made.update(repr(sorted(fonts)).encode())
    return made.hexdigest()
