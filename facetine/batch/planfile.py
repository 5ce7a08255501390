"""A plan at hand: its figures, and their export."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from concurrent.futures import Executor

    from facetine.batch.outcomes import Outcome


class PlanFile:
    """A plan that has been read; made by `facetine.plan`."""

    def __init__(self, path: Path, plan: Any, allowed: Mapping[str, Any]) -> None:
        self.path = path
        self._plan = plan
        self._allowed = dict(allowed)

    @property
    def figures(self) -> list[str]:
        """The names of its figures and plates."""
        return list(self._plan.names)

    def figure(self, name: str) -> Any:
        """A figure or a plate of the plan, to go on from.

        Args:
            name: Its name.

        Raises:
            PlanError: There is none of that name.
            FacetineError: It is impossible.
        """
        from facetine.batch.making import Figures
        from facetine.batch.sources import Sources
        from facetine.data.allowed import apart_too
        from facetine.messages.errors import PlanError, unknown

        if name not in self._plan.names:
            raise unknown(PlanError, f"{self.path.name}: figure", "no figure", name, self._plan.names, "figures")
        with apart_too():
            return Figures(self._plan, Sources(self._plan)).made(name)

    def table(self, name: str) -> Any:
        """The table of a source of the plan, as `facetine.figure` takes it.

        Args:
            name: Its name.

        Raises:
            PlanError: There is none of that name.
            DataError: It can't be read.
        """
        from facetine.batch.sources import Sources
        from facetine.messages.errors import PlanError, unknown

        if name not in self._plan.data:
            raise unknown(PlanError, f"{self.path.name}: data", "no source", name, self._plan.data, "sources")
        table = Sources(self._plan, whole=True).table(name)
        return dict(table) if isinstance(table, Mapping) else table

    def export(
        self,
        *,
        only: str | None = None,
        out: str | Path | None = None,
        jobs: int | None = None,
        force: bool = False,
        strict: bool = False,
        prune: bool = False,
        progress: bool = False,
        executor: Executor | None = None,
    ) -> list[Outcome]:
        """Exports its figures that would come out otherwise than they lie there; as `facetine.plan(…).export`.

        Args:
            only: The name of one figure.
            out: Another folder to write to.
            jobs: How many processes draw.
            force: Whether figures that would come out the same are drawn too.
            strict: Whether a figure with a warning is a failed one.
            prune: Whether files of figures that the plan has no more are removed.
            progress: Whether each figure is reported on the standard error as it is done.
            executor: What runs the batch in the place of our processes.

        Raises:
            FacetineError: As `facetine.plan(…).export`.
        """
        from facetine.batch.runner import export_plan

        done: list[int] = [0, 0]

        def begun(count: int) -> None:
            done[1] = count

        def told(outcome: Outcome) -> None:
            import sys

            done[0] += 1
            failed = f": {outcome.error.line}" if outcome.error is not None else ""
            sys.stderr.write(f"{done[0]:>{len(str(done[1]))}} of {done[1]}  {outcome.state:<9}  {outcome.name}{failed}\n")

        tell = told if progress else None
        return export_plan(
            self.path,
            only=only,
            out=out,
            told=tell,
            jobs=jobs,
            force=force,
            strict=strict,
            prune=prune,
            executor=executor,
            begun=begun,
            **self._allowed,
        )

    def __repr__(self) -> str:
        return f"plan({str(self.path)!r}): {len(self._plan.names)} figures: {', '.join(self._plan.names[:8])}"


def plan(
    path: str | Path,
    *,
    allow_functions: list[str] | None = None,
    password_env: list[str] | None = None,
    allow_local_addresses: bool = False,
) -> PlanFile:
    """A plan from its file.

    Args:
        path: A TOML or JSON file.
        allow_functions: Names of functions that its queries may call, besides those that all may.
        password_env: Names of variables of the environment that it may use as a database's password.
        allow_local_addresses: Whether its addresses may be of this machine and its private network.

    Raises:
        PlanError: It is missing or no plan, or its settings, data or codebook are wrong: all of that is reported.

    Example:
        >>> import facetine as ft
        >>> ft.plan("paper.toml").export(jobs=2, progress=True)  # doctest: +SKIP
    """
    from facetine.batch.plan import read_plan
    from facetine.data.allowed import allowed_of

    said: dict[str, Any] = {
        "allow_functions": allow_functions,
        "password_env": password_env,
        "allow_local_addresses": allow_local_addresses,
    }
    return PlanFile(Path(path), read_plan(Path(path), allowed_of("plan", **said)), said)
