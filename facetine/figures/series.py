"""A figure written for each value of a column, and as a part of a plan."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from facetine.figures.partition import check_template, file_names, part_of, parts_of, said_missing
from facetine.grammar.sentence import Sentence
from facetine.messages.errors import ExportError, OptionError, note, told

if TYPE_CHECKING:
    from facetine.export.export import ExportResult, WrittenFile
    from facetine.grammar.given import Options, Targets
    from facetine.messages.findings import Finding


def exported_each(sentence: Sentence, by: str | Sequence[str], path: Targets, options: Options) -> ExportResult:
    """A figure written for each value of some columns, under a name that says the value; findings are told once.

    Args:
        sentence: What the figure says.
        by: The columns.
        path: Files whose names say the value.
        options: As for `export`.

    Raises:
        OptionError: There are too many values, or the name does not tell them apart.
        FacetineError: As for `export`; what was written before it stays.
    """
    from facetine.export.export import ExportResult, export
    from facetine.figures.outlets import asked_of

    where = "figure.export_each"
    columns: tuple[Any, ...] = tuple(by) if isinstance(by, list | tuple) else (by,)
    if not columns or not all(isinstance(name, str) for name in columns):
        raise OptionError(where, f"by is a column, or several, not {told(by)}")
    given: Any = [path] if isinstance(path, str | os.PathLike) else path
    templates = [Path(os.fsdecode(one)) for one in given]
    parts = parts_of(sentence, columns, where)
    files: list[WrittenFile] = []
    notes: list[Finding] = []
    named: list[list[str]] = []
    said = said_missing(parts, columns)
    for template in templates:
        # Folders are the caller's; only what a value fills is made safe.
        check_template(str(template), columns, where)
        names, renamed = file_names(str(template), parts.every)
        named.append(names)
        said += [one for one in renamed if one not in said]
    formats, asked = asked_of(options, "figure.export")
    for number, one in enumerate(parts.every):
        done = export(part_of(sentence, one, where), [names[number] for names in named], formats, asked)
        files += done.files
        notes += [found for found in done.findings if found not in notes]
    note([*(f"{where}: {text}" for text in said), *notes])
    return ExportResult(tuple(files), tuple(notes))


def plan_part(sentence: Sentence, name: str, file: str | os.PathLike[str] | None, data: str | None) -> str:
    """The figure as a part of a plan, in TOML; in a file it takes the place of the figure of that name.

    Raises:
        OptionError: A callable stands in the figure, which a plan can't hold.
        ExportError: The plan can't be written, or is none.
    """
    from facetine.export.files import write_whole
    from facetine.grammar.options import text
    from facetine.grammar.plantext import figure_text, merged_text
    from facetine.grammar.spec import to_dict

    where = "figure.to_plan"
    called = text(name, f"{where}: name")
    if not called:
        raise OptionError(where, "name is a text of one letter at least")
    spec = to_dict(sentence)
    if data is not None:
        spec = {"data": text(data, f"{where}: data"), **spec}
    if file is not None:
        path = Path(file)
        try:
            before = path.read_text("utf-8") if path.exists() else ""
        except (OSError, UnicodeDecodeError) as problem:
            raise ExportError(where, f"can't read {str(path)!r}: {problem}") from problem
        write_whole(path, merged_text(before, called, spec, where).encode("utf-8"))
    return figure_text(called, spec)
