"""Files at addresses of the web, fetched when that is asked for: within a size and a time, and over a safe way."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.core.arrays import is_number
from facetine.data.sql import memory_bytes
from facetine.errors import DataError, OptionError, told

if TYPE_CHECKING:
    from urllib.request import OpenerDirector

LIMIT, TIMEOUT = "50 MB", 20.0
_PIECE = 1 << 16
_SIZE = re.compile(r"\d{1,6}(\.\d{1,3})? ?(MB|GB)")
_HERE = ("localhost", "127.0.0.1", "[::1]", "::1")
_SORTS = {
    "text/csv": ".csv", "text/tab-separated-values": ".tsv", "application/json": ".json", "application/x-ndjson": ".jsonl",
    "application/vnd.apache.parquet": ".parquet", "text/plain": ".txt",
}  # fmt: skip


def is_address(source: object) -> bool:
    """Whether a source is an address of the web."""
    return isinstance(source, str) and source.lower().startswith(("https://", "http://"))


@contextmanager
def fetched(address: str, limit: object, timeout: object, where: str) -> Iterator[Path]:
    """The file at an address, as one of this machine for as long as the context lasts.

    Args:
        address: "https://…", or "http://…" of this machine itself.
        limit: The most that is fetched, such as "50 MB".
        timeout: After how many seconds it is given up.
        where: Who asks, for the error.

    Raises:
        OptionError: The limit is no size, or the time no number above 0.
        DataError: The address can't be reached, or what it holds is larger or takes longer.
    """
    import tempfile
    from urllib.parse import unquote, urlsplit

    size, seconds = _checked(limit, timeout, where)
    _check_way(address, where)
    parts = urlsplit(address)
    name = Path(unquote(parts.path)).name or "data"
    with tempfile.TemporaryDirectory(prefix="facetine-") as folder:
        content, sort = _content(address, size, seconds, where)
        suffix = Path(name).suffix.lower() or _SORTS.get(sort, ".csv")
        stem = re.sub(r"[^\w-]", "_", Path(name).stem)[:60] or "data"
        file = Path(folder) / f"{stem}{suffix}"
        file.write_bytes(content)
        yield file


def _checked(limit: object, timeout: object, where: str) -> tuple[int, float]:
    size = LIMIT if limit is None else limit
    if not isinstance(size, str) or not _SIZE.fullmatch(size):
        raise OptionError(f"{where}: limit is a size, not {told(limit)}", 'such as "50 MB" or "2 GB"')
    seconds = TIMEOUT if timeout is None else timeout
    if not is_number(seconds) or not 0 < seconds <= 3600:
        raise OptionError(f"{where}: timeout is a number of seconds above 0, at most 3600, not {told(timeout)}")
    return memory_bytes(size), float(seconds)


def _check_way(address: str, where: str) -> None:
    """Refuses a way on which others could change what comes.

    Raises:
        DataError: It is one, or the address is none.
    """
    from urllib.parse import urlsplit

    try:
        parts = urlsplit(address)
        host = parts.hostname
    except ValueError:
        raise DataError(f"{where}: {told(address)} is no address") from None
    if not host or any(ord(letter) <= 32 for letter in address):
        raise DataError(f"{where}: {told(address)} is no address", 'such as "https://data.example/wheels.csv"')
    if parts.scheme.lower() != "https" and host not in _HERE:
        raise DataError(f"{where}: {told(address)} comes over a way on which others could change it", "https:// is read")


def _content(address: str, size: int, seconds: float, where: str) -> tuple[bytes, str]:
    """What an address holds, and what kind of file its server calls it."""
    from http.client import HTTPException
    from urllib.error import HTTPError, URLError

    ends, pieces, got = time.monotonic() + seconds, list[bytes](), 0
    try:
        with _opener(where).open(address, timeout=seconds) as answer:
            sort = answer.headers.get_content_type()
            while piece := answer.read1(_PIECE):
                pieces.append(piece)
                got += len(piece)
                if got > size:
                    raise DataError(f"{where}: {told(address)} holds more than {size / 1e6:g} MB", 'limit="…" allows more')
                if time.monotonic() > ends:
                    raise TimeoutError
            said = answer.headers.get("Content-Length")
    except HTTPError as problem:
        problem.close()
        raise DataError(f"{where}: the server of {told(address)} answers {problem.code} ({problem.reason})") from None
    except TimeoutError:
        raise _late(address, seconds, where) from None
    except URLError as problem:
        if isinstance(problem.reason, TimeoutError):
            raise _late(address, seconds, where) from None
        raise DataError(f"{where}: {told(address)} can't be reached: {problem.reason}") from None
    except (OSError, HTTPException, ValueError) as problem:
        raise DataError(f"{where}: {told(address)} can't be read: {str(problem) or type(problem).__name__}") from None
    if said is not None and said.isdigit() and int(said) != got:
        raise DataError(f"{where}: {told(address)} broke off after {got:,} of {int(said):,} bytes", "once more")
    return b"".join(pieces), sort


def _late(address: str, seconds: float, where: str) -> DataError:
    return DataError(f"{where}: {told(address)} took more than {seconds:g} s", "timeout=… waits longer")


def _opener(where: str) -> OpenerDirector:
    """What opens addresses and follows those to which servers send it on, over safe ways alone."""
    from urllib.request import HTTPRedirectHandler, build_opener

    class Onward(HTTPRedirectHandler):
        def redirect_request(self, req: Any, fp: Any, code: int, msg: str, headers: Any, newurl: str) -> Any:
            try:
                _check_way(newurl, where)
            except DataError:
                fp.close()
                raise
            return super().redirect_request(req, fp, code, msg, headers, newurl)

    opener = build_opener(Onward)
    opener.addheaders = [("User-Agent", "Facetine"), ("Accept-Encoding", "identity")]
    return opener
