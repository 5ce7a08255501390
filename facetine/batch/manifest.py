"""What a run has written, and of what: so that the next one makes again only what would come out otherwise."""

from __future__ import annotations

import contextlib
import json
import os
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from hashlib import blake2b
from pathlib import Path
from types import SimpleNamespace
from typing import TYPE_CHECKING, Any

from facetine.batch.books import books_of, entries_used
from facetine.batch.inputs import is_as_before, version
from facetine.batch.outcomes import Outcome
from facetine.batch.stamps import Stamps, file_digest
from facetine.data.mentions import Mentioned
from facetine.export.files import write_whole
from facetine.messages.errors import FacetineError
from facetine.messages.findings import Finding
from facetine.messages.version import VERSION

if TYPE_CHECKING:
    from facetine.batch.plan import Plan
    from facetine.batch.sources import Sources
    from facetine.batch.tasks import Task

NAME, JOURNAL = "manifest.json", ".facetine-journal"


@dataclass
class Manifest:
    """What lies in a folder of figures."""

    folder: Path
    figures: dict[str, Any] = field(default_factory=dict)
    """By name: the key of what went in, the files, the notes, the sentence."""
    sources: Stamps = field(default_factory=dict)
    """Files that were read, with their digests."""
    documents: dict[str, Any] = field(default_factory=dict)
    """By name: the digest of a document as it was written, and of what was placed in it."""
    run: Any = None
    """What the last run that made all figures was made of."""

    @classmethod
    def of(cls, folder: Path) -> Manifest:
        """That of the last run, with what an interrupted one has written since."""
        made = cls(folder)
        with contextlib.suppress(OSError, ValueError):
            said = json.loads((folder / NAME).read_text("utf-8"))
            if isinstance(said, dict):
                made.documents = dict(said.get("documents", {}))
                made.figures, made.run = dict(said.get("figures", {})), said.get("run")
                made.sources = {str(path): list(stamp) for path, stamp in said.get("sources", {}).items()}
        with contextlib.suppress(OSError):
            for line in (folder / JOURNAL).read_text("utf-8").splitlines():
                with contextlib.suppress(ValueError, TypeError):
                    name, entry = json.loads(line)
                    made.figures[name] = entry
        return made

    def as_before(self, plan: Path) -> list[Outcome] | None:
        """What a run that made all figures left, where nothing has changed since; None where something has."""
        if not is_as_before(self.run, plan):
            return None
        outcomes = []
        for name in self.run["names"]:
            entry = self.figures.get(name)
            if not isinstance(entry, dict) or not self._lies(entry):
                return None
            outcomes.append(self._outcome(name, entry))
        return outcomes

    def _lies(self, entry: dict[str, Any]) -> bool:
        """Whether all files of a figure are as they were written."""
        base = f"{self.folder}{os.sep}"
        for one in entry.get("files", []):
            try:
                found = os.stat(base + one["path"])
            except OSError:
                return False
            if [found.st_size, found.st_mtime_ns] != one["stamp"]:
                return False
        return True

    def unchanged(self, task: Task, key: str) -> Outcome | None:
        """What was written of a task, where it would be written again; None where it must be."""
        entry = self.figures.get(task.name)
        if not isinstance(entry, dict) or entry.get("key") != key or not self._lies(entry):
            return None
        if [self.folder / one["path"] for one in entry.get("files", [])] != task.files:
            return None
        return self._outcome(task.name, entry)

    def unchecked(self, task: Task, key: str, problem: FacetineError) -> Outcome | None:
        """What was written of a task whose data could not be looked at in time; None where it would be another figure anyway."""
        entry = self.figures.get(task.name)
        before = str(entry.get("key", "")) if isinstance(entry, dict) else ""
        same = before and before.partition(" ")[0] == key.partition(" ")[0]
        there = self.unchanged(task, before) if same else None
        if there is None:
            return None
        note = Finding(
            "source-not-checked", "warning", f"figure.{task.of}", f"stays as it was: {problem.headline}", problem.detail
        )
        return replace(there, state="not checked", findings=(note, *there.findings))

    def _outcome(self, name: str, entry: dict[str, Any]) -> Outcome:
        files = entry.get("files", [])
        written = tuple(_file(self.folder, one) for one in files if "width_mm" in one)
        notes = tuple(Finding(**note) for note in entry.get("findings", []))
        return Outcome(
            name, written, notes, state="unchanged", sentence=entry.get("sentence", ""),
            digests=tuple(one["digest"] for one in files if "digest" in one), of=entry.get("of", name),
        )  # fmt: skip

    def forget(self, name: str) -> None:
        """Takes down that a figure is to be drawn again; its files stay known as ours."""
        if isinstance(self.figures.get(name), dict):
            self.figures[name] = {**self.figures[name], "key": ""}

    def lost(self, names: Sequence[str]) -> dict[str, list[Path]]:
        """The files of figures that are none of these, by their names; those alone that lie as they were written."""
        kept = {path for name in names for path in self._paths(name)}
        found = {name: [path for path in self._paths(name) if path not in kept] for name in self.figures if name not in names}
        return {name: files for name, files in found.items() if files}

    def _paths(self, name: str) -> list[Path]:
        """The files of a figure that lie in the folder as they were written."""
        entry = self.figures.get(name)
        files = entry.get("files", []) if isinstance(entry, dict) else []
        root = self.folder.resolve()
        return [
            self.folder / one["path"]
            for one in files
            if self._lies({"files": [one]}) and (self.folder / one["path"]).resolve().is_relative_to(root)
        ]

    def keep(self, outcome: Outcome, key: str) -> None:
        """Takes down what was written, at once, so that an interrupted run can go on."""
        files: list[dict[str, Any]] = [
            {
                "path": os.path.relpath(file.path, self.folder), "bytes": file.size, "digest": digest,
                "width_mm": round(file.width_mm, 3), "height_mm": round(file.height_mm, 3), "stamp": _stamp(file.path),
            }
            for file, digest in zip(outcome.files, outcome.digests, strict=True)
        ]  # fmt: skip
        if outcome.numbers is not None:
            path, size = outcome.numbers.path, outcome.numbers.size
            files.append({"path": os.path.relpath(path, self.folder), "bytes": size, "stamp": _stamp(path)})
        said = ("code", "severity", "where", "text", "fix")
        notes = [{name: getattr(note, name) for name in said} for note in outcome.findings]
        entry = {"key": key, "of": outcome.of, "sentence": outcome.sentence, "files": files, "findings": notes}
        self.figures[outcome.name] = entry
        # On a full disk the next run draws the figure again; this one goes on.
        with contextlib.suppress(OSError), (self.folder / JOURNAL).open("a", encoding="utf-8") as journal:
            journal.write(json.dumps([outcome.name, entry], ensure_ascii=False) + "\n")

    def write(self, names: list[str] | None, run: Any = None) -> None:
        """Writes it whole, with the figures of these names alone; all where none are said.

        Args:
            names: Of the figures that the plan has.
            run: What all of them were made of, where all were made.
        """
        kept = {name: entry for name, entry in self.figures.items() if names is None or name in names}
        said = {"facetine": VERSION, "figures": kept, "documents": self.documents}
        said |= {"sources": dict(sorted(self.sources.items())), "run": run}
        write_whole(self.folder / NAME, json.dumps(said, ensure_ascii=False, indent=1).encode("utf-8"))
        with contextlib.suppress(OSError):
            (self.folder / JOURNAL).unlink()


def _file(folder: Path, said: dict[str, Any]) -> Any:
    return SimpleNamespace(
        path=folder / said["path"], width_mm=said["width_mm"], height_mm=said["height_mm"], size=said["bytes"], seconds=0.0
    )


def _stamp(path: Path) -> list[int]:
    found = os.stat(path)
    return [found.st_size, found.st_mtime_ns]


class Keys:
    """What tells a figure that would come out otherwise from one that would not."""

    def __init__(self, plan: Plan, sources: Sources, stamps: Stamps) -> None:
        self.plan, self.sources, self.stamps = plan, sources, stamps
        self._sources: dict[str, str] = {}
        settings = plan.settings
        files = [settings.theme] if isinstance(settings.theme, str) and settings.theme.endswith(".toml") else []
        contents = [file_digest(plan.folder / name, stamps) for name in files]
        own = {name: value for name, value in settings.model_dump().items() if name not in ("out", "include", "codebook")}
        self._common = repr((version(), own, contents))

    def key(self, task: Task) -> str:
        """The key of a task: of its part of the plan, codebook, theme, fonts and Facetine itself; and of its data."""
        parts, data = (
            [
                self._common,
                repr(dict(task.each)),
                repr([(width, [file.name for file in files]) for width, files in task.targets]),
            ],
            list[str](),
        )
        parts += [repr(task.height), str(task.table)]
        figures = self.plan.said.tables.get("figure", {})
        if task.of in self.plan.plate:
            plate = self.plan.said.tables["plate"][task.of]
            parts.append(repr(plate))
            for cell in _cells(plate.get("rows", [])):
                if isinstance(cell, dict) and isinstance(cell.get("picture"), str):
                    parts.append(file_digest(self.plan.folder / cell["picture"], self.stamps))
                elif isinstance(cell, str) and cell in figures:
                    self._add_figure(cell, parts, data)
        else:
            self._add_figure(task.of, parts, data)
        return f"{_digest(parts)} {_digest(data)}"

    def late(self, task: Task) -> FacetineError | None:
        """What says that a source of a task took longer than it may, so that nobody knows whether it has changed."""
        cells = self.plan.plate[task.of].members() if task.of in self.plan.plate else (task.of,)
        sources = [self.plan.figure[cell].data for cell in cells if cell in self.plan.figure]
        failed = [self.sources.failed[name] for name in sources if name is not None and name in self.sources.failed]
        return next((problem for problem in failed if problem.late), None)

    def _add_figure(self, name: str, parts: list[str], data: list[str]) -> None:
        said = self.plan.said.tables["figure"][name]
        source, theme = said.get("data"), said.get("theme")
        parts.append(repr(said))
        with contextlib.suppress(FacetineError, OSError):
            # What is wrong with a codebook is told by the figures that have it.
            books = books_of(self.plan, said.get("codebook"))
            parts.append(repr(entries_used(self.plan, said.get("codebook") or {}, Mentioned([said], books))))
        if isinstance(source, str) and source in self.plan.data:
            data.append(self.source(source))
        file = theme if isinstance(theme, str) else theme.get("name") if isinstance(theme, dict) else None
        if isinstance(file, str) and file.endswith(".toml"):
            parts.append(file_digest(self.plan.folder / file, self.stamps))

    def source(self, name: str) -> str:
        """The digest of a source."""
        if name not in self._sources:
            self._sources[name] = self.sources.digest(name, self.stamps)
        return self._sources[name]


def _digest(parts: list[str]) -> str:
    return blake2b("\n".join(parts).encode("utf-8", "replace"), digest_size=16).hexdigest()


def _cells(rows: Any) -> list[Any]:
    found: list[Any] = []
    for one in rows if isinstance(rows, list) else []:
        found += _cells(one) if isinstance(one, list) else [one]
    return found
