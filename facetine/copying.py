"""The clipboard, by the platform's own program."""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from facetine.errors import ExportError

SORTS = {"png": "image/png", "svg": "image/svg+xml"}
_SECONDS = 20
_WINDOWS_PICTURE = (
    "Add-Type -AssemblyName System.Windows.Forms, System.Drawing; "
    "[System.Windows.Forms.Clipboard]::SetImage([System.Drawing.Image]::FromFile('{path}'))"
)


def put(content: bytes, sort: str) -> None:
    """Puts a picture on the clipboard.

    Args:
        content: The file.
        sort: png or svg.

    Raises:
        ExportError: There is no program for it, no screen, or the program fails.
    """
    if sys.platform == "darwin":
        _from_file(
            content, sort, ["osascript", "-e", 'set the clipboard to (read (POSIX file "{path}") as «class PNGf»)'], ["pbcopy"]
        )
    elif os.name == "nt":
        shown = ["powershell", "-NoProfile", "-STA", "-Command", _WINDOWS_PICTURE]
        _from_file(content, sort, shown, ["powershell", "-NoProfile", "-Command", "$input | Set-Clipboard"])
    elif os.environ.get("WAYLAND_DISPLAY"):
        _run(["wl-copy", "--type", SORTS[sort]], content, "wl-clipboard")
    elif os.environ.get("DISPLAY"):
        _run(["xclip", "-selection", "clipboard", "-target", SORTS[sort]], content, "xclip")
        _wait_until_there(SORTS[sort])
    else:
        raise ExportError("figure.copy: there is no screen, and so no clipboard", "export(…) writes a file")


def text_on_clipboard(where: str) -> str:
    """The text that is on the clipboard.

    Raises:
        ExportError: There is no program for it, no screen, or no text.
    """
    if sys.platform == "darwin":
        command, package = ["pbpaste"], "pbpaste"
    elif os.name == "nt":
        command, package = ["powershell", "-NoProfile", "-Command", "Get-Clipboard -Raw"], "powershell"
    elif os.environ.get("WAYLAND_DISPLAY"):
        command, package = ["wl-paste", "--no-newline", "--type", "text"], "wl-clipboard"
    elif os.environ.get("DISPLAY"):
        command, package = ["xclip", "-selection", "clipboard", "-target", "UTF8_STRING", "-o"], "xclip"
    else:
        raise ExportError(f"{where}: there is no screen, and so no clipboard", "read(…) reads a file")
    if shutil.which(command[0]) is None:
        raise ExportError(f"{where}: the program {command[0]} is not installed", f"it comes with {package}")
    try:
        done = subprocess.run(command, capture_output=True, timeout=_SECONDS, check=False)
    except (OSError, subprocess.TimeoutExpired) as problem:
        raise ExportError(f"{where}: {command[0]} failed: {problem}") from problem
    text = done.stdout.decode("utf-8", "replace")
    if done.returncode or not text.strip():
        raise ExportError(f"{where}: there is no text on the clipboard", "copy a table with its header")
    return text


def _from_file(content: bytes, sort: str, shown: list[str], written: list[str]) -> None:
    """A picture by way of a file, a text as it is."""
    if sort == "svg":
        _run(written, content, written[0])
        return
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "figure.png"
        file.write_bytes(content)
        _run([part.replace("{path}", str(file)) for part in shown], b"", shown[0])


def _wait_until_there(target: str) -> None:
    """Until the clipboard offers what was put there: the program ends a moment before it does so."""
    asked = ["xclip", "-selection", "clipboard", "-target", "TARGETS", "-o"]
    for _ in range(100):
        with contextlib.suppress(OSError, subprocess.TimeoutExpired):
            told = subprocess.run(asked, capture_output=True, timeout=_SECONDS, check=False)
            if target.encode() in told.stdout.split():
                return
        time.sleep(0.02)


def _run(command: list[str], content: bytes, package: str) -> None:
    if shutil.which(command[0]) is None:
        raise ExportError(f"figure.copy: the program {command[0]} is not installed", f"it comes with {package}")
    try:
        # The program goes on in the background to hand the picture out: nothing of ours may stay open in it.
        done = subprocess.run(
            command, input=content, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, timeout=_SECONDS, check=False
        )
    except (OSError, subprocess.TimeoutExpired) as problem:
        raise ExportError(f"figure.copy: {command[0]} failed: {problem}") from problem
    if done.returncode:
        raise ExportError(f"figure.copy: {command[0]} ended with code {done.returncode}; is there a screen?")
