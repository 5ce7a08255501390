"""What a plan asks, answered in a process of its own, whose memory has an end that nothing it runs can pass.

The process has imported its libraries before it is bounded; a question that takes more ends it, and it alone. Answers come
back in batches, which are counted while they come.
"""

from __future__ import annotations

import atexit
import contextlib
import os
import pickle
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator, Mapping
from importlib import import_module
from typing import Any, NamedTuple

import numpy as np

from facetine.core.arrays import AnyArray, in_zone, zone_of
from facetine.data.processes import begun, ended, heard, say
from facetine.data.sql import LIMITS, Limits, memory_bytes
from facetine.messages.errors import DataError, FacetineError, FacetineFinding, note, traced
from facetine.messages.errors import late as late_error

_SPARE = 1_500_000_000
"""Bytes that the process may map besides what it had mapped and what a question may take."""
_LATE = 15.0
"""Seconds after its limit at which a question that does not end is ended from outside."""
_BATCH = 1 << 24
_TEXTS = 20_000
_MORE = "set_defaults(query_memory=…) gives it more, --query-memory on the command line"


def apart(task: str, *given: Any, late: bool = True) -> dict[str, AnyArray]:
    """The columns that a question gives, asked in a process of its own.

    Args:
        task: What is done: a key of `_TASKS`.
        *given: What it is done with.
        late: Whether the limit of time holds for all of it, and not for its query alone.

    Raises:
        FacetineError: As where it is asked here; or it takes more memory or time than it may.
    """
    limits, folder = LIMITS.get(), os.getcwd()
    with _ONE:
        process = _process(limits)
        late_ones: list[bool] = []

        def end() -> None:
            late_ones.append(True)
            process.kill()

        watch = threading.Timer(limits.seconds + _LATE, end) if late else None
        if watch is not None:
            watch.daemon = True
            watch.start()
        try:
            assert process.stdin is not None
            assert process.stdout is not None
            _say(process.stdin, (task, given, limits, folder))
            columns, notes = _received(process.stdout, memory_bytes(limits.memory), limits.memory)
        except BaseException as problem:
            if not isinstance(problem, FacetineError | _duck_error()) or isinstance(problem, _TooMuchError):
                end_process()
            if not isinstance(problem, OSError | EOFError | pickle.UnpicklingError):
                raise
            if late_ones:
                said = f"the query took longer than {limits.seconds:g} seconds and was ended"
                raise late_error(DataError(given[-1], said, "set_defaults(query_seconds=…) gives it more")) from None
            said = f"the query ended the process that ran it; it may need more memory than {limits.memory}"
            raise DataError(given[-1], said, _MORE) from None
        finally:
            if watch is not None:
                watch.cancel()
    note(notes)
    return columns


def _duck_error() -> type[Exception]:
    import duckdb

    error: type[Exception] = duckdb.Error
    return error


class _TooMuchError(DataError):
    """An answer that is larger than it may be; the rest of it is not waited for."""


_ONE = threading.RLock()


class _Running(NamedTuple):
    """A process that answers."""

    owner: int
    """The process that began it; a copy of that one has none."""
    memory: str
    surroundings: dict[str, str]
    """The environment in which it was begun."""
    process: subprocess.Popen[bytes]


_RUNNING: list[_Running] = []


def _process(limits: Limits) -> subprocess.Popen[bytes]:
    """The process that answers, begun where there is none with these limits that belongs to this one."""
    surroundings = dict(os.environ)
    if _RUNNING:
        one = _RUNNING[0]
        if one._replace(owner=os.getpid(), memory=limits.memory, surroundings=surroundings) == one and one.process.poll() is None:
            return one.process
        end_process()
    process = begun("from facetine.data.apart import main; main()")
    _RUNNING.append(_Running(os.getpid(), limits.memory, surroundings, process))
    return process


@atexit.register
def end_process() -> None:
    """Ends the process that answers, whatever it does."""
    while _RUNNING:
        owner, *_, process = _RUNNING.pop()
        if owner != os.getpid():
            continue
        ended(process)


def _say(pipe: Any, value: object) -> None:
    say(pipe, pickle.dumps(value, 5))


def _heard(pipe: Any) -> tuple[Any, int]:
    """The next value, and how long it was."""
    content = heard(pipe)
    return pickle.loads(content), len(content)


def _received(pipe: Any, most: int, memory: str) -> tuple[dict[str, AnyArray], list[str]]:
    """An answer, put together from its batches.

    Raises:
        FacetineError: It is one, or larger than it may be.
        EOFError: There is no more of it.
    """
    columns: dict[str, AnyArray] = {}
    taken = 0
    while True:
        said, size = _heard(pipe)
        taken += size
        if taken > most:
            raise _TooMuchError(f"read: the query gives more than {memory}", _MORE)
        if isinstance(said, BaseException):
            raise said
        if said[0] == "end":
            return columns, said[1]
        _, name, parts, masks, zone = said[0], said[1], [], [], said[2]
        while True:
            part, size = _heard(pipe)
            taken += size
            if taken > most:
                raise _TooMuchError(f"read: the query gives more than {memory}", _MORE)
            if part is None:
                break
            parts.append(part[0])
            masks.append(part[1])
        whole: AnyArray = np.concatenate(parts) if len(parts) > 1 else parts[0]
        if masks[0] is not None:
            whole = np.ma.masked_array(whole, np.concatenate(masks))
        columns[name] = whole if zone is None else in_zone(whole, zone)


def _sent(pipe: Any, columns: Mapping[str, Any], notes: list[str]) -> None:
    for name, array in columns.items():
        masked = isinstance(array, np.ma.MaskedArray)
        values = np.ma.getdata(array) if masked else np.asarray(array)
        mask = np.ma.getmaskarray(array) if masked else None
        _say(pipe, ("column", name, zone_of(array)))
        step = _TEXTS if values.dtype == object else max(_BATCH // max(values.dtype.itemsize, 1), 1)
        for start in range(0, max(len(values), 1), step):
            part = values[start : start + step]
            _say(pipe, (np.ascontiguousarray(part), None if mask is None else mask[start : start + step]))
        _say(pipe, None)
    _say(pipe, ("end", notes))


def _of_database(address: str, sql: str, functions: Any, _where: str) -> dict[str, AnyArray]:
    from facetine.data.databases import from_database

    return from_database(address, sql, functions=functions)


def _tables(address: str, _where: str) -> dict[str, AnyArray]:
    from facetine.data.databases import tables_of

    found = tables_of(address)
    parts = ("schema", [schema for schema, _ in found]), ("table", [name for _, name in found])
    return {name: np.array([*values, None], object)[:-1] for name, values in parts}


def _of_files(files: Any, sql: str, said: Mapping[str, Any], where: str) -> dict[str, AnyArray]:
    from facetine.data.readers import read_columns

    return read_columns(files, sql=sql, where=where, **said)


def _of_table(columns: Any, sql: str, name: str, where: str) -> dict[str, AnyArray]:
    from facetine.data.engine import asked

    return asked(dict(columns), sql, name, where, None)


def _of_rows(columns: Any, query: str, where: str) -> dict[str, AnyArray]:
    from facetine.data.sql import answer, database

    with database() as connection:
        connection.register("given", columns)
        found = answer(connection, query, where)
        connection.unregister("given")
        return found


_OF_DATABASES = ("duckdb", "sqlalchemy", "facetine.data.containers", "facetine.data.databases")
_IMPORTS = {"database": _OF_DATABASES, "tables": _OF_DATABASES}
_TASKS: dict[str, Callable[..., dict[str, AnyArray]]] = {
    "database": _of_database,
    "tables": _tables,
    "files": _of_files,
    "table": _of_table,
    "rows": _of_rows,
}


def _bound(memory: str) -> None:
    """Bounds what this process may map, where the platform can."""
    try:
        import resource

        with open("/proc/self/statm", encoding="ascii") as file:
            mapped = int(file.read().split()[0]) * resource.getpagesize()
        most = mapped + memory_bytes(memory) + _SPARE
        resource.setrlimit(resource.RLIMIT_AS, (most, resource.getrlimit(resource.RLIMIT_AS)[1]))
    except (ImportError, OSError, ValueError):
        # The engine's own limit and the count of bytes hold alone there.
        return


def _answers(task: str, given: tuple[Any, ...]) -> tuple[dict[str, AnyArray], list[str]]:
    import warnings

    with warnings.catch_warnings(record=True) as caught:
        warnings.simplefilter("always", FacetineFinding)
        found = _TASKS[task](*given)
    return found, [str(one.message) for one in caught if issubclass(one.category, FacetineFinding)]


def _problem(problem: BaseException, where: str, memory: str) -> BaseException:
    """What is told of a question that failed: errors that another process can take over."""
    if isinstance(problem, MemoryError):
        return DataError(where, f"the query needs more memory than {memory}", _MORE)
    if isinstance(problem, FacetineError | _duck_error()):
        return problem
    return DataError(where, f"the query fails: {type(problem).__name__}: {str(problem)[:160]}")


def main() -> None:
    """Answers what it is asked until nobody asks any more."""
    import signal

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    given, answers = sys.stdin.buffer, os.fdopen(os.dup(1), "wb")
    # Nothing that is printed may come between the answers; what libraries say of their end is nobody's concern.
    os.dup2(2, 1)
    imported: set[str] = set()
    for task, arguments, limits, folder in _questions(given):
        if task not in imported:
            for name in _IMPORTS.get(task, ("duckdb",)):
                import_module(name)
            imported.add(task)
            _bound(limits.memory)
        LIMITS.set(limits)
        # Paths begin where whoever asks stands now.
        os.chdir(folder)
        try:
            found, notes = _answers(task, arguments)
            _sent(answers, found, notes)
            del found
        except (BrokenPipeError, EOFError):
            break
        except BaseException as problem:
            told = _problem(problem, str(arguments[-1]), limits.memory)
            if isinstance(told, FacetineError) and told is not problem:
                told.__cause__ = problem
            _say(answers, traced(told) if isinstance(told, FacetineError) else told)
    os._exit(0)


def _questions(pipe: Any) -> Iterator[tuple[str, tuple[Any, ...], Limits, str]]:
    with contextlib.suppress(EOFError, OSError):
        while True:
            yield _heard(pipe)[0]
