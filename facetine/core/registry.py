"""Registries: what Facetine has by a name, ours and what installed packages add.

Ours are named where the registry is made and loaded when they are asked for. Those of other packages stand under an
entry-point group, are looked for only when a name is none of ours or when all are listed, and are checked when loaded;
one that can't be loaded is named in a remark and stops nothing else.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from functools import cached_property
from importlib import import_module
from typing import Any, TypeVar, cast

from facetine.messages.errors import FacetineError, OptionError, told, unknown

T = TypeVar("T")


class Registry(Mapping[str, T]):
    """Things of one sort by their names.

    Args:
        group: The entry-point group of other packages' things, such as "facetine.layers".
        what: What one of them is called, such as "layer".
        own: Ours by their names: the things, or where they are, as in "facetine.layers.points:Points".
        good: Whether something is a thing of this sort.
        lacking: What a thing of another package lacks of what is asked of all; empty for nothing.
    """

    def __init__(
        self,
        group: str,
        what: str,
        own: Mapping[str, str | T],
        good: Callable[[Any], bool],
        lacking: Callable[[Any], str] = lambda _: "",
    ) -> None:
        self.group, self.what = group, what
        self._own, self._good, self._lacking = dict(own), good, lacking
        self._loaded: dict[str, T] = {}
        self._added: dict[str, T] = {}

    def __iter__(self) -> Iterator[str]:
        """Our names, and those held for now; others are in `all_names`."""
        return iter({**self._own, **self._added})

    def __len__(self) -> int:
        return len({**self._own, **self._added})

    def __contains__(self, name: object) -> bool:
        """Whether there is something of that name; other packages are asked only where it is none of ours."""
        return isinstance(name, str) and (name in self._own or name in self._added or name in self._strangers)

    def __getitem__(self, name: str) -> T:
        """The thing of that name.

        Raises:
            FacetineError: There is none, or the package that adds it is broken.
        """
        return self.need(name, f"facetine.{self.what}")

    def need(self, name: object, where: str, error: type[FacetineError] = OptionError) -> T:
        """The same, for a caller who says where it was asked for.

        Raises:
            FacetineError: There is none, or the package that adds it is broken.
        """
        if not isinstance(name, str):
            raise unknown(error, where, f"no {self.what}", name, self, f"{self.what}s")
        if name in self._added:
            return self._added[name]
        if name in self._own:
            if name not in self._loaded:
                own = self._own[name]
                self._loaded[name] = cast("T", _at(own)) if isinstance(own, str) else own
            return self._loaded[name]
        stranger = self._strangers.get(name)
        if stranger is None:
            raise unknown(error, where, f"no {self.what}", name, self, f"{self.what}s")
        return self._checked(name, stranger, where, error)

    def ours(self) -> tuple[str, ...]:
        """Our names alone."""
        return tuple(self._own)

    def all_names(self) -> tuple[str, ...]:
        """Our names, and those that other packages add."""
        return tuple({**self._own, **self._added, **self._strangers})

    def broken(self) -> dict[str, str]:
        """The names that other packages add but that can't be loaded, and why."""
        found = {}
        for name, stranger in self._strangers.items():
            try:
                self._checked(name, stranger, f"facetine.{self.what}", OptionError)
            except FacetineError as problem:
                found[name] = problem.line
        return found

    @contextmanager
    def holding(self, name: str, thing: T) -> Iterator[None]:
        """Has something under a name for a stretch of code, such as a trial.

        Raises:
            OptionError: The name is taken, or it is nothing of this sort.
        """
        if name in self or not name.isidentifier():
            raise OptionError(f"facetine.{self.what}", f"{told(name)} is taken, or is no name")
        if not self._good(thing):
            raise OptionError(f"facetine.{self.what}", f"{told(thing)} is no {self.what}")
        if lacks := self._lacking(thing):
            raise OptionError(f"facetine.{self.what}", f"{told(thing)} is not complete", f"it lacks {lacks}")
        self._added[name] = thing
        try:
            yield
        finally:
            del self._added[name]

    @cached_property
    def _strangers(self) -> dict[str, Any]:
        """The entry points of other packages, looked for once; ours can't be taken from us."""
        from importlib.metadata import entry_points

        return {point.name: point for point in entry_points(group=self.group) if point.name not in self._own}

    def _checked(self, name: str, stranger: Any, where: str, error: type[FacetineError]) -> T:
        if name not in self._loaded:
            package = stranger.dist.name if stranger.dist is not None else stranger.value
            try:
                thing = stranger.load()
            except Exception as problem:
                said = f"{type(problem).__name__}: {problem}"
                raise error(where, f"the {self.what} {name!r} of the package {package} can't be loaded", said) from problem
            if not self._good(thing):
                raise error(where, f"the {self.what} {name!r} of the package {package} is none", f"it is {told(thing)}")
            if lacks := self._lacking(thing):
                said = f"the {self.what} {name!r} of the package {package} is not complete"
                raise error(where, said, f"it lacks {lacks}")
            self._loaded[name] = thing
        return self._loaded[name]


def _at(place: str) -> Any:
    module, _, name = place.partition(":")
    return getattr(import_module(module), name)
