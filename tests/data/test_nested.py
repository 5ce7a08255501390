"""Objects within objects, and lists, in JSON."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.data.readers import deferred_columns
from facetine.messages.errors import DataError

names = st.sampled_from(["a", "b", "geo", "x y", "deep"])
trees = st.recursive(
    st.integers(-1000, 1000), lambda inner: st.dictionaries(names, inner, min_size=1, max_size=3), max_leaves=5
).filter(lambda tree: isinstance(tree, dict))


def flat(tree, before=""):
    """The leaves of an object by their paths."""
    found = {}
    for name, value in tree.items():
        path = f"{before}.{name}" if before else name
        found |= flat(value, path) if isinstance(value, dict) else {path: value}
    return found


def shifted(tree, by):
    return {name: shifted(value, by) if isinstance(value, dict) else value + by for name, value in tree.items()}


@given(trees)
def test_objects_become_columns_with_points(tmp_path_factory, tree):
    file = tmp_path_factory.getbasetemp() / "rows.jsonl"
    file.write_text("".join(json.dumps(shifted(tree, row)) + "\n" for row in range(3)))
    expected = {path: [value + row for row in range(3)] for path, value in flat(tree).items()}
    assert {name: column.tolist() for name, column in ft.read(file).items()} == expected
    # One by one, too.
    deferred = deferred_columns(file)
    assert {name: deferred[name].tolist() for name in deferred} == expected


@pytest.fixture
def lists(tmp_path):
    rows = [{"id": row, "geo": {"district": "North"}, "tags": ["a", "b"][: row % 3]} for row in range(6)]
    (tmp_path / "rows.jsonl").write_text("".join(json.dumps(row) + "\n" for row in rows))
    return tmp_path / "rows.jsonl"


def test_lists_of_values_are_refused_by_name_where_they_are_asked_for_with_the_way_out(lists):
    frame = ft.read(lists)
    assert ft.figure(frame).map(x="geo.district").bars().numbers()["count"].tolist() == [6]
    with pytest.raises(DataError, match="column 'tags' holds lists of values") as caught:
        ft.figure(frame).map(x="tags").bars().numbers()
    way = caught.value.detail.partition('sql="')[2].rstrip('"').replace("…", "rows")
    each = ft.read(lists, sql=way)
    assert ft.figure(each).map(x="tags").bars().numbers()["count"].tolist() == [4, 2]


def test_a_look_at_a_table_goes_on_without_columns_that_can_not_be_read(lists, capsys):
    seen = ft.inspect(ft.read(lists))
    capsys.readouterr()
    assert [column.name for column in seen.columns] == ["id", "geo.district"]
    assert "hint: column 'tags' holds lists of values" in repr(seen)
    assert seen.suggestions
