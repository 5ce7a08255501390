"""The tables of a plan: each read once, and shared with the processes that draw from it."""

from __future__ import annotations

import contextlib
import os
import shutil
from collections.abc import Container, Mapping, Sequence
from functools import cache
from hashlib import blake2b
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from facetine.batch.books import books_of
from facetine.batch.models import Source
from facetine.batch.plan import Plain, Plan, with_password
from facetine.batch.stamps import Stamps, file_digest
from facetine.data.addresses import reaching
from facetine.data.codebook import Codebook
from facetine.data.mentions import Everything, Mentioned
from facetine.data.queries import TableSource, again, columns_of, files_behind, read_so_far
from facetine.data.questions import ends_in_order, keeps_order
from facetine.data.roworder import digest_of_rows, rank_order
from facetine.data.table import no_column
from facetine.data.wishes import known_beside
from facetine.messages.errors import DataError, FacetineError, PlanError, nearest

_DUCK = "duckdb:///"


class Sources:
    """The tables of a plan."""

    def __init__(self, plan: Plan, store: Path | None = None, whole: bool = False) -> None:
        self.plan = plan
        self.whole = whole
        """Whether all columns are wanted, and not those alone that figures may ask for."""
        self.store = store
        """A folder in which tables lie for other processes."""
        self.tables: dict[str, Any] = {}
        self.failed: dict[str, FacetineError] = {}

    def table(self, name: str) -> Any:
        """The columns of a source, or a frame.

        Raises:
            FacetineError: It can't be read; told again each time it is asked for.
        """
        if name in self.failed:
            raise self.failed[name]
        if name not in self.tables:
            found = self._shared(name) if self.store is not None else None
            try:
                self.tables[name] = self._read(name) if found is None else found
                # A figure holds what it needs, whatever becomes of the files.
                read_so_far(self.tables[name])
            except FacetineError as problem:
                self.failed[name] = problem
                raise
            except Exception as problem:
                # What a parser or a driver raises is this source's failure, and no other's.
                said = f"can't be read: {type(problem).__name__}: {str(problem)[:160]}"
                self.failed[name] = DataError(f"data.{name}", said, of_option=True)
                raise self.failed[name] from problem
        return self.tables[name]

    def share(self, names: list[str]) -> None:
        """Puts tables where other processes find them; what can't be read fails there again."""
        assert self.store is not None
        for name in names:
            try:
                table = self.table(name)
            except FacetineError:
                continue
            try:
                _saved(self.store / _safe(name), table, read_so_far(table))
            except OSError:
                # Without room on the disk, each process reads the table for itself.
                shutil.rmtree(self.store / _safe(name), ignore_errors=True)

    def _shared(self, name: str) -> Any:
        """A table that another process has put there; None for none."""
        assert self.store is not None
        found = _loaded(self.store / _safe(name))
        if not isinstance(found, _Part):
            return found

        @cache
        def whole() -> Any:
            return self._read(name)

        return again(found.names, found.read, found.height, f"data.{name}", whole, ordered=found.ordered)

    def expected(self, name: str) -> Container[str]:
        """The columns of a source that figures, or queries of other sources, may ask for."""
        asked_whole = (one for one in self.plan.data.values() if one.origin == name and not self._is_file(name))
        if self.whole or any(asked_whole):
            return Everything()
        figures = [one for one in self.plan.figure.values() if one.data == name]
        return Mentioned((one.model_dump(exclude_unset=True) for one in figures), self.books(name))

    def books(self, name: str) -> list[Codebook]:
        """The codebooks of all figures of a source, as far as they can be read: what is wrong is told by these figures."""
        figures = [one for one in self.plan.figure.values() if one.data == name]
        found = list[Codebook]()
        for book in (*books_of(self.plan), *(one.codebook for one in figures)):
            with contextlib.suppress(FacetineError, OSError):
                found.append(Codebook.of(book))
        return found

    def _is_file(self, name: str) -> bool:
        """Whether a query over a source asks its files themselves."""
        return self.plan.data[name].database is None and self.plan.data[name].sql is None

    def _read(self, name: str) -> Any:
        source = self.plan.data[name]
        if source.origin is not None:
            found = self._of_another(f"data.{name}", source.origin, str(source.sql))
        else:
            found = self._of_place(name, source, f"data.{name}", source.sql)
        by = source.sorted_by if source.table is None else []
        return _in_order(found, by, f"data.{name}") if by or not self._has_order(source) else found

    def _has_order(self, source: Source) -> bool:
        """Whether rows come in an order that is the same each time, or are sorted where they are read."""
        if source.sql is None:
            return True
        return ends_in_order(source.sql) if source.database is not None else keeps_order(source.sql)

    def orderless(self, name: str) -> bool:
        """Whether the order of a source's rows says nothing: it is that of a database, which has none."""
        source = self.plan.data[name]
        if source.sorted_by or (source.sql is not None and ends_in_order(source.sql)):
            return False
        first = source if source.origin is None else self.plan.data[source.origin]
        return first.database is not None or not self._has_order(source)

    def _of_another(self, where: str, origin: str, sql: str) -> Any:
        """What a query makes of another source: of its files themselves, where it has some."""
        if self._is_file(origin):
            return self._of_place(origin, self.plan.data[origin], where, sql)
        columns, functions = _columns(self.table(origin)), self.plan.allowed.functions
        return columns_of(TableSource(columns=columns, called=origin, sql=sql, functions=functions), where)

    def _of_place(self, name: str, source: Source, where: str, sql: str | None) -> Any:
        """What lies in files, at an address or in a database, or what a query makes of it."""
        text: Plain = known_beside(source.text(), self.books(name), where)
        place = TableSource(sql=sql, said=text, expected=self.expected(name), functions=self.plan.allowed.functions)
        if source.database is not None:
            address = _beside(with_password(source.database, where, self.plan.allowed.variables), self.plan.folder)
            place = place._replace(database=address, stored=str(source.table), by=source.sorted_by)
        else:
            text |= {"limit": source.limit, "timeout": source.timeout, "name": name, "names": source.names}
            place = place._replace(files=source.url if source.url is not None else self.files(source, where))
        with reaching(local=self.plan.allowed.local):
            return columns_of(place, where)

    def files(self, source: Source, where: str) -> list[str | Path]:
        """The files of a source; those of a pattern in the order of their names."""
        if source.glob is None:
            said = [source.file] if isinstance(source.file, str) else source.file or []
            return [str(self.plan.folder / name) for name in said]
        try:
            found: list[str | Path] = sorted(path for path in self.plan.folder.glob(source.glob) if path.is_file())
        except (ValueError, NotImplementedError, OSError) as problem:
            raise PlanError(where, f"glob {source.glob!r} is no pattern of files below the plan's folder") from problem
        if not found:
            raise PlanError(where, f"no file matches {source.glob!r}", "patterns begin at the plan's folder")
        return found

    def digest(self, name: str, stamps: Stamps) -> str:
        """What tells the content of a source from another one: that of its files, or of the table where it has none."""
        source = self.plan.data[name]
        made = blake2b(repr((name, source.sql, source.model_dump(exclude_none=True))).encode("utf-8", "replace"), digest_size=16)
        first = source if source.origin is None else self.plan.data[source.origin]
        if first is not source:
            made.update(repr(first.model_dump(exclude_none=True)).encode("utf-8", "replace"))
        try:
            if first.url is not None or first.database is not None:
                made.update(_content(self.table(name)))
            else:
                for file in self.files(first, f"data.{name}"):
                    for one in files_behind(file):
                        made.update(file_digest(one, stamps).encode())
        except FacetineError as problem:
            made.update(problem.line.encode("utf-8", "replace"))
        return made.hexdigest()


def _beside(address: str, folder: Path) -> str:
    """A database's address; a file of SQLite begins at the plan's folder."""
    for begin in ("sqlite:///", _DUCK):
        if address.startswith(begin) and not os.path.isabs(address[len(begin) :]) and address[len(begin) :] != ":memory:":
            return f"{begin}{(folder / address[len(begin) :]).absolute()}"
    return address if "://" in address else str(folder / address)


def _in_order(columns: Mapping[str, Any], by: Sequence[str], where: str) -> dict[str, Any]:
    """Rows of a database in an order that does not depend on how they came: by some columns, and by all others after these.

    Raises:
        MappingError: There is no such column.
    """
    for name in by:
        if name not in columns:
            raise no_column(name, list(columns), where, "row_order")
    names = [*by, *(name for name in columns if name not in by)]
    order = rank_order([columns[name] for name in names]) if names else None
    return {name: columns[name][order] for name in columns}


def _columns(table: Any) -> Mapping[str, Any]:
    return table if isinstance(table, Mapping) else {name: table[name].to_numpy() for name in table.columns}


def _content(table: Any) -> bytes:
    read = read_so_far(table)
    return digest_of_rows(_columns(table) if read is None else read)


def _safe(name: str) -> str:
    return blake2b(name.encode("utf-8", "replace"), digest_size=8).hexdigest()


class _Part(NamedTuple):
    """A table of which some columns have been read."""

    names: list[str]
    read: dict[str, Any]
    height: int
    ordered: bool


def _saved(folder: Path, table: Any, read: Mapping[str, Any] | None) -> None:
    """A table as files: numbers as they lie in memory, so that all processes share them, texts by their distinct words.

    Args:
        folder: Where they lie.
        table: The table.
        read: The columns of it that have been read; None where it has no others.
    """
    import pickle

    folder.mkdir(parents=True, exist_ok=True)
    if not isinstance(table, Mapping):
        (folder / "frame.pickle").write_bytes(pickle.dumps(table, 5))
        return
    if read is not None:
        said: Any = table
        (folder / "names.pickle").write_bytes(pickle.dumps((list(said), said.height, said.ordered), 5))
    listed: list[tuple[str, str]] = []
    for number, (name, array) in enumerate((table if read is None else read).items()):
        masked = isinstance(array, np.ma.MaskedArray)
        if masked or array.dtype == object:
            words: dict[Any, int] = {}
            try:
                # One and true are equal, but not the same word.
                codes = np.array([words.setdefault((type(one), one), len(words)) for one in array.tolist()], np.int32)
            except TypeError:
                masked = True
            if masked:
                (folder / f"{number}.pickle").write_bytes(pickle.dumps(array, 5))
                listed.append((name, "whole"))
                continue
            np.save(folder / f"{number}.npy", codes)
            (folder / f"{number}.pickle").write_bytes(pickle.dumps([word for _, word in words], 5))
            listed.append((name, "words"))
        else:
            zone = (array.dtype.metadata or {}).get("zone", "")
            np.save(folder / f"{number}.npy", array.view(array.dtype.str))
            listed.append((name, f"numbers {zone}".strip()))
    (folder / "columns.pickle").write_bytes(pickle.dumps(listed, 5))


def _loaded(folder: Path) -> Any:
    """A table that another process has put there; None for none."""
    import pickle

    if (folder / "frame.pickle").exists():
        return pickle.loads((folder / "frame.pickle").read_bytes())
    if not (folder / "columns.pickle").exists():
        return None
    table: dict[str, Any] = {}
    for number, (name, form) in enumerate(pickle.loads((folder / "columns.pickle").read_bytes())):
        if form.startswith("numbers"):
            array, zone = np.load(folder / f"{number}.npy", mmap_mode="r"), form.removeprefix("numbers").strip()
            # The zone of times, which the file of an array has no place for.
            table[name] = array.view(np.dtype(array.dtype, metadata={"zone": zone})) if zone else array
        elif form == "words":
            words = np.array([*pickle.loads((folder / f"{number}.pickle").read_bytes()), None], object)[:-1]
            table[name] = words[np.load(folder / f"{number}.npy")]
        else:
            table[name] = pickle.loads((folder / f"{number}.pickle").read_bytes())
    if (folder / "names.pickle").exists():
        names, height, ordered = pickle.loads((folder / "names.pickle").read_bytes())
        return _Part(names, table, height, ordered)
    return table


def unknown_columns(plan: Plan, sources: Sources) -> list[str]:
    """What the codebooks know of columns that no source has; nothing where not all sources have been looked at.

    Columns that a codebook or a step of a figure makes are there.
    """
    if any(name not in sources.tables for name in plan.data):
        return []
    columns = {str(name) for name in plan.data for name in sources.tables[name]}
    made = {str(name) for figure in plan.figure.values() for step in figure.steps for name in _derived(step)}
    try:
        entries = Codebook.of(books_of(plan)).entries
    except FacetineError:
        return []
    lost = [name for name, entry in entries.items() if name not in columns | made and entry.origin is None and not entry.flags]
    remarks = []
    for name in lost:
        close = nearest(name, columns)
        remarks.append(f"codebook.{name}: no source has such a column" + (f". Did you mean {close!r}?" if close else ""))
    return remarks


def _derived(step: Any) -> list[Any]:
    said = step.get("derive") if isinstance(step, Mapping) else None
    return list(said) if isinstance(said, Mapping) else []
