"""What commands say: a line for each written file on stdout, remarks on stderr."""

from __future__ import annotations

from typing import Any

from facetine.cli.lines import tell, to_error, to_output
from facetine.cli.wording import worded
from facetine.grammar.given import Plain
from facetine.messages.errors import FacetineError, PlanError, trace_of
from facetine.messages.findings import as_notes


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
            said |= self._file(file, notes)
            self._out(json.dumps(said, ensure_ascii=False))
        elif not self.quiet:
            # A document has no size of its own, and is written when all figures are.
            size = f"  {file.width_mm:.0f}×{file.height_mm:.0f} mm" if file.width_mm else ""
            spent = f"  {1000 * file.seconds:.0f} ms" if file.width_mm else ""
            self._out(f"wrote {file.path}{size}  {_bytes(file.size)}{spent}")

    def wrote_table(self, table: Any, figure: str | None = None) -> None:
        """One written table of the numbers behind a figure."""
        if self.as_json:
            import json

            said: Plain = {"figure": figure} if figure is not None else {}
            self._out(json.dumps({**said, "path": str(table.path), "rows": table.rows, "bytes": table.size}, ensure_ascii=False))
        elif not self.quiet:
            self._out(f"wrote {table.path}  {table.rows:,} rows  {_bytes(table.size)}")

    def removed(self, path: Any) -> None:
        """One file of a figure that there is no more."""
        if not self.quiet:
            self._out(f"removed {path}")

    def outcome(self, outcome: Any) -> None:
        """What became of one figure of a plan, as JSON."""
        import json

        said: Plain = {"figure": outcome.name, "state": outcome.state}
        if outcome.state == "removed":
            for file in outcome.files:
                self._out(json.dumps({**said, "path": str(file.path)}, ensure_ascii=False))
            return
        if not outcome.files and outcome.findings:
            self._out(json.dumps({**said, "findings": list(map(worded, as_notes(outcome.findings)))}, ensure_ascii=False))
        for number, file in enumerate(outcome.files):
            notes = as_notes(outcome.findings) if number == 0 else ()
            self._out(json.dumps(said | self._file(file, notes), ensure_ascii=False))
        if outcome.numbers is not None:
            self.wrote_table(outcome.numbers, outcome.name)
        if outcome.error is not None:
            self._out(json.dumps(said | {"error": worded(outcome.error.line)}, ensure_ascii=False))

    def errors(self, lines: list[str]) -> None:
        """Errors that stop a command, as JSON."""
        import json

        for line in lines:
            self._out(json.dumps({"error": worded(line)}, ensure_ascii=False))

    @staticmethod
    def _file(file: Any, notes: tuple[str, ...]) -> Plain:
        return {
            "path": str(file.path), "width_mm": round(file.width_mm, 2), "height_mm": round(file.height_mm, 2),
            "bytes": file.size, "milliseconds": round(1000 * file.seconds, 1), "findings": list(map(worded, notes)),
        }  # fmt: skip

    def failed(self, figure: str, error: FacetineError) -> None:
        """One figure that could not be drawn, with all that is wrong with it."""
        to_error(trace_of(error))
        for line in error.lines if isinstance(error, PlanError) else [error.line]:
            tell(f"facetine: {figure}: {line}\n")

    def notes(self, notes: tuple[str, ...], figure: str | None = None) -> None:
        """Remarks, which JSON lines hold already."""
        if not self.as_json and not self.quiet:
            for note in notes:
                tell(f"finding: {figure}: {note}\n" if figure else f"finding: {note}\n")

    def _out(self, line: str) -> None:
        to_output(f"{line}\n")


def _bytes(size: int) -> str:
    if size < 1000:
        return f"{size} B"
    return f"{size / 1000:.0f} kB" if size < 1e6 else f"{size / 1e6:.1f} MB"
