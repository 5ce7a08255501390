"""The schema of plans accepts every plan that is read, and flags every key that is misspelt."""

import copy
import json
import subprocess
import sys
import tomllib
from pathlib import Path

import jsonschema
import pytest

from facetine.batch.runner import figures_of_plan
from facetine.batch.schema import schema
from facetine.messages.errors import FacetineError

SCHEMA = schema()
VALIDATOR = jsonschema.Draft202012Validator(SCHEMA)


def tables(node, path=()):
    """Every closed table of the schema, with the path to it from the plan; each definition once a place that refers to it."""
    if "$ref" in node:
        name = node["$ref"].rpartition("/")[2]
        if name == "Inner" and "insets" in path[:-1]:
            return
        yield from tables(SCHEMA["$defs"][name], path)
    for one in node.get("anyOf", ()):
        yield from tables(one, path)
    if node.get("type") == "array" and isinstance(node.get("items"), dict):
        yield from tables(node["items"], (*path, 0))
    if isinstance(node.get("additionalProperties"), dict):
        yield from tables(node["additionalProperties"], (*path, "a_name"))
    if node.get("additionalProperties") is False:
        yield path, node
        for name, inner in node.get("properties", {}).items():
            if isinstance(inner, dict) and len(path) < 9:
                yield from tables(inner, (*path, name))


def laid_at(path, value):
    """A plan that holds a value at a path."""
    for step in reversed(path):
        value = [value] if step == 0 else {step: value}
    return value


CLOSED = dict(tables(SCHEMA))


def unknown_keys(plan):
    """The keys that the schema does not know, in the order of its errors."""
    found = set()
    left = list(VALIDATOR.iter_errors(plan))
    while left:
        error = left.pop()
        left += error.context or []
        if error.validator == "additionalProperties":
            found |= {key for key in error.instance if key not in error.schema.get("properties", {})}
    return found


def test_the_schema_is_one_and_closes_what_has_names_of_its_own():
    jsonschema.Draft202012Validator.check_schema(SCHEMA)
    ends = {path[-1] for path in CLOSED if path}
    for name in ("plan", "scale", "titles", "theme", "facet", "points", "trend", "second_axis", "map", "sheet", 0):
        assert name in ends, name
    assert len(CLOSED) > 100


@pytest.mark.parametrize("path", CLOSED, ids=lambda path: ".".join(map(str, path)) or "plan")
def test_every_key_that_is_misspelt_is_flagged_where_it_stands(path):
    for key in CLOSED[path].get("properties", {}):
        wrong = key[:-1] + "_" if len(key) > 1 else f"{key}_"
        if wrong not in CLOSED[path]["properties"]:
            assert wrong in unknown_keys(laid_at(path, {wrong: 1})), key
            # What is spelt right is not flagged.
            assert key not in unknown_keys(laid_at(path, {key: 1})), key


@pytest.mark.parametrize("path", [path for path in CLOSED if path[:2] == ("figure", "a_name") and len(path) < 7])
def test_the_reader_of_plans_flags_the_same_keys(tmp_path, path):
    """A key of the schema is one that is read: no figure says that there is no such option."""
    known = CLOSED[path].get("properties", {})
    (tmp_path / "w.csv").write_text("a,b\n1,2\n2,3\n")
    refused = []
    for key in [*known, "mispelt"]:
        value = "w" if path == ("figure", "a_name") and key in ("data", "like") else 1
        plan = laid_at(path, {key: value})
        plan["data"] = {"w": {"file": "w.csv"}}
        plan["figure"]["a_name"].setdefault("data", "w")
        (tmp_path / "plan.json").write_text(json.dumps(plan))
        try:
            found = [one for _, one, *_ in figures_of_plan(tmp_path / "plan.json")]
        except FacetineError as problem:
            found = [problem]
        said = " ".join(str(one) for one in found if isinstance(one, FacetineError))
        if any(f"no {what} {key!r}" in said for what in ("key", "option", "part", "setting", "step", "aesthetic", "scale for")):
            refused.append(key)
    assert [key for key in refused if key != "mispelt"] == []


def plans():
    root = Path(__file__).parents[2]
    return sorted([*root.glob("facetine/batch/*.toml"), *root.glob("examples/**/*.toml"), *root.glob("docs/**/*.toml")])


@pytest.mark.parametrize("path", plans(), ids=lambda path: path.name)
def test_plans_of_the_house_are_valid(path):
    said = tomllib.loads(path.read_text("utf-8"))
    if "figure" in said:
        assert [error.message for error in VALIDATOR.iter_errors(said)] == []


@pytest.mark.slow
def test_what_is_written_to_start_from_names_its_schema(tmp_path):
    for command in (["new", "paper"], ["demo", "demo", "--quiet"]):
        subprocess.run([sys.executable, "-m", "facetine.cli.main", *command], cwd=tmp_path, check=True, capture_output=True)
    for folder in ("paper", "demo"):
        first = (tmp_path / folder / "plan.toml").read_text().splitlines()[0]
        assert first == "#:schema plan.schema.json"
        beside = json.loads((tmp_path / folder / "plan.schema.json").read_text())
        said = tomllib.loads((tmp_path / folder / "plan.toml").read_text())
        jsonschema.Draft202012Validator(beside).validate(said)
        wrong = copy.deepcopy(said)
        next(iter(wrong["figure"].values()))["layers"] = [{"points": {"opacty": 0.5}}]
        assert "opacty" in unknown_keys(wrong)
