"""What commands say: a line for each written file on stdout, remarks on stderr."""

from __future__ import annotations

import sys
from typing import Any

from facetine.grammar.given import Plain


class Reporter:
    """Writes results for people, or as JSON lines for machines."""

    def __init__(self, as_json: bool, quiet: bool) -> None:
        self.as_json = as_json
        self.quiet = quiet

    def wrote(self, file: Any, notes: tuple[str, ...] = (), figure: str | None = None) -> None:
        """One written file."""
        if self.as_json:
            import json

            said: Plain = {"figure": figure} if figure is not None else {}
            said |= {
                "path": str(file.path),
                "width_mm": round(file.width_mm, 2),
                "height_mm": round(file.height_mm, 2),
                "bytes": file.size,
                "milliseconds": round(1000 * file.seconds, 1),
                "notes": list(notes),
            }
            self._out(json.dumps(said, ensure_ascii=False))
        elif not self.quiet:
            size = f"{file.width_mm:.0f}×{file.height_mm:.0f} mm"
            self._out(f"wrote {file.path}  {size}  {_bytes(file.size)}  {1000 * file.seconds:.0f} ms")

    def wrote_table(self, table: Any, figure: str | None = None) -> None:
        """One written table of the numbers behind a figure."""
        if self.as_json:
            import json

            said: Plain = {"figure": figure} if figure is not None else {}
            self._out(json.dumps({**said, "path": str(table.path), "rows": table.rows, "bytes": table.size}, ensure_ascii=False))
        elif not self.quiet:
            self._out(f"wrote {table.path}  {table.rows:,} rows  {_bytes(table.size)}")

    def failed(self, figure: str, line: str) -> None:
        """One figure that could not be drawn."""
        if self.as_json:
            import json

            self._out(json.dumps({"figure": figure, "error": line}, ensure_ascii=False))
        sys.stderr.write(f"facetine: {figure}: {line}\n")

    def notes(self, notes: tuple[str, ...], figure: str | None = None) -> None:
        """Remarks, which JSON lines hold already."""
        if not self.as_json and not self.quiet:
            for note in notes:
                sys.stderr.write(f"note: {figure}: {note}\n" if figure else f"note: {note}\n")

    def _out(self, line: str) -> None:
        sys.stdout.write(f"{line}\n")
        sys.stdout.flush()


def _bytes(size: int) -> str:
    if size < 1000:
        return f"{size} B"
    return f"{size / 1000:.0f} kB" if size < 1e6 else f"{size / 1e6:.1f} MB"
