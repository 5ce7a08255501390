"""From what a plan says to figures and plates."""

from __future__ import annotations

from typing import Any

from facetine.batch.books import books_of
from facetine.batch.plan import Plain, Plan
from facetine.batch.sources import Sources
from facetine.figures.figure import Figure
from facetine.figures.partition import Parts, part_of, parts_of
from facetine.figures.plate import picture, plate
from facetine.figures.start import from_dict
from facetine.messages.errors import FacetineError, PlanError, told, unknown


class Figures:
    """The figures of a plan; those of plates are made once, so that one in neighbouring places spans them."""

    def __init__(self, plan: Plan, sources: Sources) -> None:
        self.plan, self.sources = plan, sources
        self._bases: dict[str, Any] = {}
        """Figures of which there is one for each value."""

    def made(self, name: str, each: dict[str, str] | None = None) -> Any:
        """A figure or a plate by its name; with `each` that of some values alone.

        Raises:
            FacetineError: It can't be said; the message names the file and the line.
        """
        if name in self.plan.wrong:
            raise self.plan.wrong[name]
        kind = "plate" if name in self.plan.plate else "figure"
        try:
            if not each:
                return self._plate(name) if kind == "plate" else self.figure(name)
            made = self._base(name)
            columns = self.plan.figure[name].each_of
            one = next((one for one in self.parts(name).every if dict(one.values) == each), None)
            if one is None:
                raise PlanError(
                    f"figure.{name}", f"no rows have {', '.join(map(told, each.values()))}", f"columns: {', '.join(columns)}"
                )
            return Figure(part_of(made._sentence, one, f"figure.{name}: each"))
        except FacetineError as problem:
            raise self.placed(problem, kind, name) from problem

    def _base(self, name: str) -> Any:
        if name not in self._bases:
            self._bases[name] = self.figure(name)
        return self._bases[name]

    def parts(self, name: str) -> Parts:
        """The values of whose rows a figure is made, each a file."""
        return parts_of(self._base(name)._sentence, self.plan.figure[name].each_of, f"figure.{name}: each")

    def placed(self, problem: FacetineError, kind: str, name: str) -> FacetineError:
        """An error with the file and the line of what it is about, of the same class."""
        if problem.at:
            return problem
        said = self.plan.said.tables.get(kind, {}).get(name)
        return problem.but(at=self.plan.said.places.blamed(problem, said, kind, name))

    def figure(self, name: str) -> Any:
        """A figure by its name."""
        said = self.plan.figure[name]
        data = self.sources.table(said.data) if said.data is not None else None
        spec = said.spec() | self._theme(self.plan.settings.theme, said.theme)
        figure = from_dict(spec, data, codebook=books_of(self.plan, said.codebook))
        for layer, options in said.change.items():
            figure = figure.change(layer, **options)
        figure = figure.without(*said.without) if said.without else figure
        if said.data is not None and any(getattr(one, "join_by", "") == "rows" for one in figure._sentence.layers):
            self._must_have_order(name, said.data)
        return figure

    def _must_have_order(self, name: str, source: str) -> None:
        """Refuses rows that are joined as they come where they come in no order.

        Raises:
            PlanError: They do.
        """
        if self.sources.orderless(source):
            said = f"join_by joins rows as they come, and a database gives those of {source!r} in any order"
            raise PlanError(
                f"figure.{name}", said, f'row_order = "…" in [data.{source}] says by which columns, or ORDER BY in its query'
            )

    def _plate(self, name: str) -> Any:
        from facetine.figures.plate import with_looks

        said, made = self.plan.plate[name], dict[str, Any]()
        rows = [[self._cell(cell, made, f"plate.{name}") for cell in row] for row in said.rows]
        return with_looks(plate(rows, **said.options()), said.looks() | self._theme(said.theme))

    def _theme(self, *said: str | Plain | None) -> Plain:
        """Themes laid over each other, where there are any; a theme's file stands beside the plan."""
        laid: Plain = {}
        for theme in said:
            laid |= {"name": theme} if isinstance(theme, str) else theme or {}
        if str(laid.get("name", "")).endswith(".toml"):
            laid["name"] = str(self.plan.folder / laid["name"])
        return {"theme": laid} if laid else {}

    def _cell(self, said: Any, made: dict[str, Any], where: str) -> Any:
        if said == "":
            return None
        if isinstance(said, list):
            return [self._cell(inner, made, where) for inner in said]
        if isinstance(said, dict):
            options = {str(name): value for name, value in said.items()}
            path = options.pop("picture", None)
            if not isinstance(path, str):
                raise PlanError(where, "a table in rows is a picture", 'such as { picture = "rind.png", scale_bar = "5 mm" }')
            key = repr(said)
            if key not in made:
                made[key] = picture(self.plan.folder / path, **options)
            return made[key]
        if said in self.plan.wrong:
            raise PlanError(where, f"figure {said!r} is wrong itself", self.plan.wrong[said].headline)
        if said not in self.plan.figure:
            raise unknown(PlanError, where, "no figure", said, self.plan.figure, "figures")
        if said not in made:
            made[said] = self.figure(said)
        return made[said]
