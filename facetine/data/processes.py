"""Processes of our own that are asked through pipes: begun, talked with, ended."""

from __future__ import annotations

import contextlib
import subprocess
import sys
from typing import Any


def begun(code: str) -> subprocess.Popen[bytes]:
    """A process that runs some code, in a group of its own: what is typed on a terminal is meant for the run that began it."""
    group = None if sys.platform == "win32" else 0
    return subprocess.Popen([sys.executable, "-c", code], stdin=subprocess.PIPE, stdout=subprocess.PIPE, process_group=group)


def ended(process: subprocess.Popen[bytes]) -> None:
    """Ends a process, whatever it does."""
    process.kill()
    for pipe in (process.stdin, process.stdout):
        if pipe is not None:
            with contextlib.suppress(OSError):
                pipe.close()
    process.wait()


def say(pipe: Any, content: bytes) -> None:
    """Writes a message, after its length."""
    pipe.write(len(content).to_bytes(8, "little"))
    pipe.write(content)
    pipe.flush()


def heard(pipe: Any) -> bytes:
    """The next message.

    Raises:
        EOFError: There is none, or the other end broke off.
    """
    head = pipe.read(8)
    size = int.from_bytes(head, "little")
    content: bytes = pipe.read(size) if len(head) == 8 else b""
    if len(head) < 8 or len(content) < size:
        raise EOFError
    return content
