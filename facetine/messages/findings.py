"""What the reader of a figure should know: remarks with a code, a place, and what fixes them."""

from __future__ import annotations

from collections.abc import Generator, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple, TypeAlias, TypeVar

from facetine.messages.errors import printable

_T = TypeVar("_T")

Severity: TypeAlias = Literal["info", "hint", "warning"]
"""A note says what was done; a hint, what could be better; a warning, that what is drawn may mislead."""
SEVERITIES: tuple[Severity, ...] = ("info", "hint", "warning")


class Call(NamedTuple):
    """A call of a verb of looks, as a value: what does it and what is written are the same."""

    of: str
    """Whose verb it is: figure or plate."""
    verb: str
    values: tuple[object, ...] = ()
    options: tuple[tuple[str, object], ...] = ()
    """Names and values, in pairs."""

    @classmethod
    def to(cls, of: str, verb: str, *values: object, **options: object) -> Call:
        """A call with these values and options."""
        return cls(of, verb, values, tuple(options.items()))

    def __str__(self) -> str:
        """As an analyst writes it.

        >>> str(Call.to("figure", "sheet", "85 mm")), str(Call.to("plate", "theme", text_size=8.0))
        ('figure.sheet("85 mm")', 'plate.theme(text_size=8)')
        """
        given = [*map(_written, self.values), *(f"{name}={_written(value)}" for name, value in self.options)]
        return f"{self.of}.{self.verb}({', '.join(given)})"


def _written(value: object) -> str:
    if isinstance(value, float):
        return f"{value:g}"
    quoted = isinstance(value, str) and value.isprintable() and not set(value) & {'"', "\\"}
    return f'"{value}"' if quoted else repr(value)


@dataclass(frozen=True, slots=True)
class Finding:
    """One remark on a figure."""

    code: str
    """What it is about, in words joined by dashes, such as "rows-missing": the same for the same remark anywhere."""
    severity: Severity
    where: str
    """The verb that it speaks of, such as "figure.bars"."""
    text: str
    """What was found, in words; with the panel and the group where it is not about all of them."""
    fix: str = ""
    """What to write where that is not meant; empty for nothing."""
    group: str = ""
    """The group of the drawing that it is about, by its id in the SVG without the figure's prefix; empty for none."""
    at: tuple[float, float] | None = None
    """The place on the first page where it is best seen, in points from the upper left; None where its group says it."""
    call: Call | None = None
    """The call that `fix` is in words; None where there is no one right call."""

    def __str__(self) -> str:
        return printable(f"{self.where}: {self.text}" + (f"; {self.fix}" if self.fix else ""))


def as_notes(findings: Iterable[Finding]) -> tuple[str, ...]:
    """Remarks as an analyst reads them: one for each cause, with all the layers that make it.

    >>> one = Finding("rows-missing", "info", "figure.points", "9 rows without ph left out")
    >>> as_notes([one, replace(one, where="figure.trend")])
    ('figure.points, trend: 9 rows without ph left out',)
    """
    causes: dict[tuple[str, str, str], Finding] = {}
    for one in findings:
        cause = (one.code, one.text, one.fix)
        first = causes.setdefault(cause, one)
        verb = one.where.removeprefix("figure.")
        if one.where != first.where and verb.isidentifier() and verb not in first.where.removeprefix("figure.").split(", "):
            causes[cause] = replace(first, where=f"{first.where}, {verb}")
    return tuple(map(str, causes.values()))


class Remark(NamedTuple):
    """What a step says of one panel or group; those of one code on one layer become one finding."""

    code: str
    """What it is about."""
    where: str
    """The verb that it speaks of."""
    text: str
    """What was found; of a count, what became of the things."""
    fix: str = ""
    """What to write where that is not meant."""
    severity: Severity = "info"
    place: str = ""
    """The panel and group that it is about, in words; remarks that differ in this alone are counted."""
    counted: tuple[int, str] | None = None
    """How many there are in this place, and of what, in the singular; None where nothing is counted."""


Saying: TypeAlias = Generator[Remark, None, _T]
"""What a step does: it makes its remarks as it goes, and returns its result."""
Remarks: TypeAlias = Iterator[Remark]


def heard(step: Saying[_T]) -> tuple[_T, tuple[Remark, ...]]:
    """The result of a step with the remarks that it made.

    >>> def halved(count):
    ...     if count % 2:
    ...         yield Remark("odd", "figure", "one is left")
    ...     return count // 2
    >>> heard(halved(7))[0], len(heard(halved(7))[1]), heard(halved(6))
    (3, 1, (3, ()))
    """
    remarks = []
    while True:
        try:
            remarks.append(next(step))
        except StopIteration as end:
            return end.value, tuple(remarks)


def each(steps: Iterable[Saying[_T]]) -> Saying[list[_T]]:
    """Steps one after the other: all their remarks, and the list of their results."""
    results: list[_T] = []
    for step in steps:
        results += [(yield from step)]
    return results


def as_findings(remarks: Iterable[Remark]) -> tuple[Finding, ...]:
    """What remarks say, each once, in the order in which they came up.

    Those of one code that one layer makes of several panels or groups become one, which counts the others; those that
    count things, their sum.

    >>> [str(one) for one in as_findings([
    ...     Remark("few", "figure.boxes", "few rows", place=f"panel {name!r}") for name in ("North", "Loft", "Quarry")
    ... ])]
    ["figure.boxes: few rows (panel 'North' and 2 others alike)"]
    >>> [str(one) for one in as_findings([Remark("lost", "figure.labels", "left out", counted=(n, "label")) for n in (3, 4)])]
    ['figure.labels: 7 labels left out']
    """
    found: dict[tuple[str, str, str], Finding] = {}
    places: dict[tuple[str, str, str], dict[str, None]] = {}
    amounts: dict[tuple[str, str, str], int] = {}
    for remark in remarks:
        code, where, text, fix, severity, place, counted = remark
        if counted is not None:
            amount, thing = counted
            key = (code, where, f"{thing} {text}")
            amounts[key] = amounts.get(key, 0) + amount
            found[key] = Finding(code, severity, where, f"{so_many(amounts[key], thing)} {text}", fix)
        else:
            key = (code, where, "" if place else text)
            found.setdefault(key, Finding(code, severity, where, text, fix))
        places.setdefault(key, {}).setdefault(place)
    return tuple(_alike_counted(finding, list(places[key])) for key, finding in found.items())


def _alike_counted(finding: Finding, places: list[str]) -> Finding:
    first, *others = places
    if not first:
        return finding
    more = f" and {len(others)} other{'s' if len(others) > 1 else ''} alike" if others else ""
    return replace(finding, text=f"{finding.text} ({first}{more})")


def so_many_rows(count: int) -> str:
    """So many rows, in words.

    >>> so_many_rows(1), so_many_rows(1200)
    ('1 row', '1,200 rows')
    """
    return so_many(count, "row")


def so_many(count: int, thing: str) -> str:
    """A number of things, in words.

    >>> so_many(1, "box"), so_many(3, "box"), so_many(2, "value")
    ('1 box', '3 boxes', '2 values')
    """
    if count == 1:
        return f"1 {thing}"
    return f"{count:,} {thing}{'es' if thing.endswith(('x', 's', 'ch')) else 's'}"
