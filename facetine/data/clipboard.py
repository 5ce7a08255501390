"""The clipboard, by the platform's own program."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Mapping
from pathlib import Path

from facetine.messages.errors import ExportError

SORTS = {"svg": "image/svg+xml", "pdf": "application/pdf", "emf": "image/x-emf", "png": "image/png"}
"""What a clipboard may hold, and its media type; a program takes the first that it knows."""
_SECONDS = 20
_MAC_TYPES = {"png": "public.png", "pdf": "com.adobe.pdf", "svg": "public.svg-image"}
_NO_SCREEN = 'export("figure.svg", "figure.png") writes files, which any program can insert'


def offered() -> tuple[str, ...]:
    """The forms that the clipboard of this platform can hold at once, the best first."""
    if sys.platform == "darwin" or os.name == "nt":
        return ("svg", "pdf", "png")
    return tuple(SORTS) if os.environ.get("DISPLAY") else ("png",)


def put(forms: Mapping[str, bytes]) -> None:
    """Puts a picture on the clipboard, in several forms of which each program takes the one that it can edit.

    Args:
        forms: Files by their format.

    Raises:
        ExportError: There is no screen, no program for its clipboard, or it fails.
    """
    if sys.platform == "darwin":
        _by_files(forms, _for_mac)
    elif os.name == "nt":
        _by_files(forms, _for_windows)
    elif os.environ.get("DISPLAY"):
        _on_x(forms)
    elif os.environ.get("WAYLAND_DISPLAY"):
        sort = next(iter(forms))
        _run(["wl-copy", "--type", SORTS[sort]], forms[sort], "wl-clipboard")
    else:
        raise ExportError("figure.copy", "there is no screen, and so no clipboard", _NO_SCREEN)


def _on_x(forms: Mapping[str, bytes]) -> None:
    from facetine.data.clipboard_owner import give_out

    try:
        give_out({SORTS[sort]: content for sort, content in forms.items()})
    except OSError as problem:
        raise ExportError("figure.copy", f"the screen gives no clipboard: {problem}", _NO_SCREEN) from problem


def _by_files(forms: Mapping[str, bytes], command: Callable[[Mapping[str, Path]], list[str]]) -> None:
    """Forms handed to a program of the platform by way of files."""
    with tempfile.TemporaryDirectory() as folder:
        files = {sort: Path(folder) / f"figure.{sort}" for sort in forms}
        for sort, file in files.items():
            file.write_bytes(forms[sort])
        made = command(files)
        _run(made, b"", made[0])


def _for_mac(files: Mapping[str, Path]) -> list[str]:
    """Source: NSPasteboard, setData:forType:, in Apple's AppKit reference."""
    lines = ["ObjC.import('AppKit'); var board = $.NSPasteboard.generalPasteboard; board.clearContents;"]
    for sort, file in files.items():
        lines.append(f"board.setDataForType($.NSData.dataWithContentsOfFile({json.dumps(str(file))}), '{_MAC_TYPES[sort]}');")
    return ["osascript", "-l", "JavaScript", "-e", " ".join(lines)]


def _for_windows(files: Mapping[str, Path]) -> list[str]:
    """Source: System.Windows.Forms.DataObject in the reference of .NET."""
    lines = ["Add-Type -AssemblyName System.Windows.Forms; $held = New-Object System.Windows.Forms.DataObject;"]
    for sort, file in files.items():
        name = "PNG" if sort == "png" else SORTS[sort]
        quoted = str(file).replace("'", "''")
        lines.append(f"$held.SetData('{name}', $false, [IO.MemoryStream]::new([IO.File]::ReadAllBytes('{quoted}')));")
    lines.append("[System.Windows.Forms.Clipboard]::SetDataObject($held, $true)")
    return ["powershell", "-NoProfile", "-STA", "-Command", " ".join(lines)]


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
        raise ExportError(where, "there is no screen, and so no clipboard", "read(…) reads a file")
    if shutil.which(command[0]) is None:
        raise ExportError(where, f"the program {command[0]} is not installed", f"it comes with {package}")
    try:
        done = subprocess.run(command, capture_output=True, timeout=_SECONDS, check=False)
    except (OSError, subprocess.TimeoutExpired) as problem:
        raise ExportError(where, f"{command[0]} failed: {problem}") from problem
    text = done.stdout.decode("utf-8", "replace")
    if done.returncode or not text.strip():
        raise ExportError(where, "there is no text on the clipboard", "copy a table with its header")
    return text


def _run(command: list[str], content: bytes, package: str) -> None:
    if shutil.which(command[0]) is None:
        raise ExportError("figure.copy", f"the program {command[0]} is not installed", f"it comes with {package}")
    try:
        # The program goes on in the background to hand the picture out: nothing of ours may stay open in it.
        done = subprocess.run(
            command, input=content, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, timeout=_SECONDS, check=False
        )
    except (OSError, subprocess.TimeoutExpired) as problem:
        raise ExportError("figure.copy", f"{command[0]} failed: {problem}") from problem
    if done.returncode:
        raise ExportError("figure.copy", f"{command[0]} ended with code {done.returncode}; is there a screen?")
