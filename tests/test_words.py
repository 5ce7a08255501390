"""Every word of the public names has one type and one sentence, and a reason where it has two."""

from collections import defaultdict
from pathlib import Path

import pytest

import facetine as ft
from facetine.batch.schema import schema
from facetine.grammar.aesthetics import AESTHETICS
from facetine.layers import LAYERS, layer_class
from facetine.layers.helping import told_options
from facetine.messages.glossary import glossary, word

REPO = Path(__file__).parent.parent
TYPES = {
    "codebook": (
        "Any",
        "dict[str, Any]",
        "object",
        "str | list[str]",
    ),
    "color": ("str",),
    "colors": (
        "str | Sequence[str]",
        "str | tuple[str, ...]",
    ),
    "colors by category": ("Mapping[str, str]", "Mapping[str, str] | tuple[str, ...]"),
    "column": ("str",),
    "column or columns": (
        "str | Sequence[str]",
        "str | list[str]",
    ),
    "columns": ("Sequence[str]",),
    "computed": ("computed",),
    "conversion": ("Conversion",),
    "ends": (
        "Ends",
        "tuple[float | None, float | None]",
    ),
    "ends or table": ("Ends | Mapping[str, Ends]",),
    "executor": ("Executor",),
    "expression": (
        "Any",
        "Expression",
        "str",
    ),
    "figure": (
        "Any",
        "Figure",
    ),
    "figures by name": (
        "Mapping[str, Any]",
        "dict[str, str]",
    ),
    "format": ("Format",),
    "frame": (
        "Any",
        "Frame",
        "Frame | Figure",
    ),
    "how many or width": ("int | str",),
    "layer": (
        "PairLayer",
        "str",
    ),
    "layer of the figure": (
        "str",
        "str | int",
    ),
    "layers": ("list[object]",),
    "length": (
        "Length",
        "str",
        "str | int | float",
    ),
    "lengths": (
        "list[str | int | float]",
        "tuple[str, str]",
    ),
    "list of ends": ("Levels",),
    "mapping": (
        "Mapping[str, MapValue]",
        "dict[str, Any]",
    ),
    "number": (
        "float",
        "int | float",
    ),
    "numbers": (
        "Sequence[float]",
        "list[float]",
        "tuple[float, ...]",
    ),
    "numbers or how many": (
        "int | tuple[float, ...]",
        "tuple[float, ...] | int",
    ),
    "numbers or table": (
        "Breaks | Mapping[str, Any]",
        "Sequence[float] | Mapping[str, Any]",
        "list[float] | dict[str, Any]",
    ),
    "pair of lists": ("Any",),
    "pair of widths": ("tuple[str | float, str | float]",),
    "paper": ("PaperSize",),
    "path": (
        "str",
        "str | Path",
        "str | os.PathLike[str]",
    ),
    "path or paths": (
        "Target",
        "Targets",
        "str | Path",
        "str | list[str]",
    ),
    "rows": ("Any",),
    "rows of figures": (
        "Rows",
        "list[list[Any]]",
    ),
    "source": ("str | Path | Iterable[str | Path] | Any",),
    "table": (
        "Any",
        "Mapping[str, Any]",
        "Mapping[str, str]",
        "Mapping[str, tuple[float | None, float | None]]",
        "Mapping[str, tuple[float, float]]",
        "Options",
        "Settings",
        "dict[str, Any]",
        "dict[str, dict[str, Any]]",
        "dict[str, str]",
    ),
    "table or text": ("str | dict[str, Any]",),
    "table or word": ("str | dict[str, Any]",),
    "tables": (
        "dict[str, Any]",
        "dict[str, DocumentPlan]",
        "dict[str, FigurePlan]",
        "dict[str, PlatePlan]",
        "dict[str, Source]",
        "list[dict[str, Any]]",
    ),
    "template": (
        "str",
        "str | Callable[[object], str]",
    ),
    "text": ("str",),
    "text or texts": (
        "str | Sequence[str]",
        "str | list[str]",
    ),
    "texts": (
        "list[str]",
        "tuple[str, ...]",
    ),
    "theme": (
        "str | Path",
        "str | Path | Plain",
        "str | dict[str, Any]",
    ),
    "ticks": (
        "tuple[float, ...] | int",
        "tuple[object, ...] | int | str",
    ),
    "value": ("Place",),
    "value or values": ("Place | Sequence[Place]",),
    "values in order": (
        "Levels | str",
        "Sequence[object] | str | Mapping[str, Sequence[object] | str]",
        "tuple[object, ...]",
    ),
    "values or table": ("tuple[str, ...] | Mapping[str, tuple[str, ...]]",),
    "variable": ("Variable",),
    "whole number": ("int",),
    "whole number or table": ("int | dict[str, Any]",),
    "whole numbers": ("Sequence[int]",),
    "width": ("str | float",),
    "width or word": ("str | float",),
    "width or yes or no": ("bool | float | str",),
    "word": (
        "str",
        "word",
    ),
    "word or color": ("str",),
    "word or ends": ("str | tuple[float, float]",),
    "word or number": ("str | float",),
    "word or table": ("str | Mapping[str, str]",),
    "words": (
        "Sequence[str] | str",
        "list[str]",
        "tuple[str, ...] | Mapping[str, str]",
    ),
    "yes or no": ("bool",),
    "yes or no, number or word": ("bool | float | str",),
    "yes or no, or path": ("bool | str | os.PathLike[str]",),
    "yes or no, or word": ("bool | str",),
}
"""How the code spells what a word holds: each spelling of a sort takes the same things."""


@pytest.fixture(scope="module")
def words():
    import sys

    sys.path.insert(0, str(REPO / "scripts"))
    import public_words

    return public_words


def test_every_public_word_is_in_the_glossary_with_its_type(words):
    for use in words.uses():
        found = word(use.name, use.owner)
        assert found is not None, f"{use.owner}: {use.name} is in no glossary"
        assert words.plain_type(use.type) in TYPES[found.sort], f"{use.owner}: {use.name} is {use.type}, not {found.sort}"
    assert not [use for use in words.commands() if word(use.name, use.owner) is None]


def test_the_glossary_holds_no_word_that_nobody_has(words):
    every = [*words.uses(), *words.commands()]
    assert set(glossary().words) - {use.name for use in every} - set(AESTHETICS) == set()
    owners = defaultdict(set)
    for use in every:
        owners[use.name].add(use.owner)
    for name, several in glossary().several.items():
        # A meaning that all owners shared would be the first one.
        assert set(several.meanings) <= owners[name], name
        assert name in glossary().words
        assert several.reason


def test_a_sentence_is_one_and_ends(words):
    for entry in [
        *glossary().words.values(),
        *(one for several in glossary().several.values() for one in several.meanings.values()),
    ]:
        assert entry.says.endswith(".")
        assert entry.says[0].isupper() or entry.says[0] in '"-' or entry.says.startswith(("color,", "layers,", "top,"))


@pytest.mark.parametrize("verb", LAYERS.ours())
def test_help_begins_with_the_sentence_of_the_word(verb):
    for one in told_options(layer_class(verb)):
        assert one.says.startswith(word(one.name, verb).says)
        assert f"{one.name}: {one.says}" in getattr(ft.Figure, verb).__doc__


def test_the_schema_of_plans_takes_its_texts_from_the_glossary():
    made = schema()
    for part, owner in (
        ("FigurePlan", "plan figure"),
        ("PlatePlan", "plan plate"),
        ("Source", "plan data"),
        ("Settings", "plan settings"),
    ):
        for name, entry in made["$defs"][part]["properties"].items():
            assert entry["description"] == word(name, owner).says


def test_verbs_show_every_option_of_a_scale_and_a_theme():
    import inspect

    for verb, record in (("scale", "limits"), ("theme", "text_size"), ("titles", "color"), ("map", "x_low")):
        parameters = inspect.signature(getattr(ft.Figure, verb)).parameters
        assert record in parameters
        assert not [one for one in parameters.values() if one.kind is one.VAR_KEYWORD]
        assert f"    {record}: " in getattr(ft.Figure, verb).__doc__
    assert "palette" in inspect.signature(ft.Plate.scale).parameters
