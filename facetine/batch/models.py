"""What a plan may say, part by part. A plan is data; nothing in it is run."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, ClassVar, TypeAlias

from pydantic import BaseModel, ConfigDict, Field

Plain: TypeAlias = dict[str, Any]
"""A table of a plan."""
Size: TypeAlias = str | int | float


class Part(BaseModel):
    """A table of a plan, which has these keys and no others."""

    model_config = ConfigDict(extra="forbid", strict=True, populate_by_name=True)
    owner: ClassVar[str]
    """What the glossary calls it."""


OF_TEXTS = ("delimiter", "encoding", "quote", "comment", "skip", "header")
"""What may be said of texts with separators alone."""
OF_CELLS = ("decimal", "thousands", "absent", "as_text")
"""What may be said of the cells of any table."""


class Settings(Part):
    """What holds for all figures of a plan."""

    owner: ClassVar[str] = "plan settings"

    out: str = "figures"
    formats: list[str] = ["pdf"]
    width: Size | None = None
    height: Size | None = None
    dpi: int | float | None = None
    theme: str | Plain | None = None
    codebook: str | list[str] | None = None
    include: list[str] = []


class Source(Part):
    """Where a table comes from: files, an address, a database, or another source through a query."""

    owner: ClassVar[str] = "plan data"

    file: str | list[str] | None = None
    glob: str | None = None
    names: str | None = None
    url: str | None = None
    limit: str | None = None
    timeout: int | float | None = None
    database: str | None = None
    table: str | None = None
    origin: str | None = Field(None, alias="from")
    sql: str | None = None
    delimiter: str | None = None
    decimal: str | None = None
    thousands: str | None = None
    encoding: str | None = None
    quote: str | None = None
    comment: str | None = None
    skip: int | None = None
    header: bool | None = None
    row_order: str | list[str] | None = None
    absent: list[str] | None = None
    as_text: list[str] | None = None

    def text(self) -> Plain:
        """What is said of how a table is written, for `facetine.read`."""
        names = (*OF_TEXTS, *OF_CELLS)
        return {name: value for name in names if (value := getattr(self, name)) is not None}

    @property
    def of_texts(self) -> list[str]:
        """What is said that only texts with separators have."""
        return [name for name in OF_TEXTS if getattr(self, name) is not None]

    @property
    def sorted_by(self) -> list[str]:
        """The columns by which rows are sorted, the first one first."""
        return [self.row_order] if isinstance(self.row_order, str) else self.row_order or []

    @property
    def origins(self) -> int:
        """From how many places it is said to come."""
        return sum(said is not None for said in (self.file, self.glob, self.url, self.database, self.origin))


BESIDE = (
    "data", "codebook", "width", "widths", "height", "formats", "file", "each", "alone", "silence", "change", "without",
    "numbers", "spreadsheet",
)  # fmt: skip
"""The parts of a figure that are none of its sentence: its data, its size and its files."""


class FigurePlan(Part):
    """One figure: its data, its sentence, and how it is written."""

    owner: ClassVar[str] = "plan figure"

    data: str | None = None
    steps: list[Plain] = []
    swap_axes: bool = False
    map: Plain = {}
    kinds: dict[str, str] = {}
    layers: list[object] = []
    facet: str | Plain | None = None
    matrix: Plain | None = None
    over_variables: Plain | None = None
    sample: int | Plain | None = None
    highlight: str | Plain | None = None
    choose: Plain | None = None
    respond: Plain | None = None
    insets: list[Plain] = []
    marginals: list[Plain] = []
    panel: Plain | None = None
    sheet: Plain | None = None
    scale: Plain = {}
    titles: str | Plain | None = None
    theme: str | Plain | None = None
    seed: int | None = None
    codebook: Plain = {}
    width: Size | None = None
    widths: list[Size] = []
    height: Size | None = None
    formats: list[str] | None = None
    file: str | None = None
    each: str | list[str] | None = None
    alone: bool = True
    silence: dict[str, str] = {}
    numbers: bool = False
    spreadsheet: bool = False
    change: dict[str, Plain] = {}
    without: list[str] = []

    def spec(self) -> Plain:
        """The sentence as `facetine.from_dict` takes it."""
        said = {name: getattr(self, name) for name in self.model_fields_set if name not in BESIDE}
        return {name: value for name, value in said.items() if value not in ("", [], {})}

    @property
    def each_of(self) -> tuple[str, ...]:
        """The columns of whose values it is repeated."""
        return (self.each,) if isinstance(self.each, str) else tuple(self.each or ())


class PlatePlan(Part):
    """Figures of the plan, and pictures beside it, on one sheet."""

    owner: ClassVar[str] = "plan plate"

    rows: list[list[Any]]
    letters: str | list[str] | None = None
    letter_place: str = "corner"
    letter_size: float | None = None
    letter_weight: float = 700
    widths: list[float] | None = None
    heights: list[float] | None = None
    gap_x: Size | None = None
    gap_y: Size | None = None
    share_legend: bool = False
    same_scale: list[str] = []
    sheet: Plain | None = None
    scale: Plain = {}
    titles: str | Plain | None = None
    theme: str | Plain | None = None
    width: Size | None = None
    height: Size | None = None
    formats: list[str] | None = None
    file: str | None = None
    silence: dict[str, str] = {}

    def options(self) -> Plain:
        """Those of `facetine.plate`."""
        names = ("letters", "letter_place", "letter_size", "letter_weight", "widths", "heights", "gap_x", "gap_y", "share_legend")
        return {name: getattr(self, name) for name in names}

    def members(self) -> Iterator[str]:
        """The names that stand in its rows."""
        left: list[Any] = list(self.rows)
        while left:
            one = left.pop(0)
            if isinstance(one, list):
                left = one + left
            elif isinstance(one, str):
                yield one

    def looks(self) -> Plain:
        """What is said of all its figures."""
        return {name: value for name in ("same_scale", "sheet", "titles", "theme", "scale") if (value := getattr(self, name))}


class DocumentPlan(Part):
    """Figures of the plan, placed in a document of a word processor."""

    owner: ClassVar[str] = "plan document"

    file: str
    figures: dict[str, str]


class WholePlan(Part):
    """A plan of data sources, codebook and figures."""

    owner: ClassVar[str] = "plan"

    plan: Settings = Settings()
    data: dict[str, Source] = {}
    codebook: Plain = {}
    figure: dict[str, FigurePlan] = {}
    plate: dict[str, PlatePlan] = {}
    document: dict[str, DocumentPlan] = {}
