"""Columns that are read when they are asked for, and no others: damaged ones are no harm where nobody asks for them."""

import duckdb
import numpy as np
import pandas as pd
import pyarrow.parquet as pq
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.catalogs.samples import samples
from facetine.data.deferred import Deferred
from facetine.data.engine import asked, deferred_files
from facetine.data.mentions import Everything, Mentioned
from facetine.data.readers import deferred_columns, read_columns
from facetine.data.sql import columns_read
from facetine.messages.errors import DataError, MappingError, OptionError

WHEELS = ft.demo_data("wheels")
NAMES = list(WHEELS.columns)


def counted(columns, asked, **options):
    """A table that takes down what is read of it."""

    def fetch(names):
        asked.append(tuple(names))
        return {name: columns[name] for name in names}

    return Deferred(list(columns), fetch, "test", **options)


def spoilt(path, spared):
    """A Parquet file whose columns can't be read but for some."""
    metadata = pq.ParquetFile(path).metadata
    content = bytearray(path.read_bytes())
    for group in range(metadata.num_row_groups):
        for place in range(metadata.num_columns):
            column = metadata.row_group(group).column(place)
            if column.path_in_schema not in spared:
                start = min(at for at in (column.dictionary_page_offset, column.data_page_offset) if at)
                content[start : start + column.total_compressed_size] = b"\xff" * column.total_compressed_size
    path.write_bytes(content)


@pytest.fixture
def wide(tmp_path):
    """Three hundred columns, of which three can be read."""
    rng = np.random.default_rng(3)
    frame = pd.DataFrame({f"c{number:03}": rng.normal(size=500) for number in range(299)})
    frame["kind"] = np.array(["a", "b"], object)[rng.integers(0, 2, 500)]
    path = tmp_path / "wide.parquet"
    frame.to_parquet(path)
    spoilt(path, {"c007", "c008", "kind"})
    return path, frame


@given(
    st.lists(st.sampled_from("abcdef"), max_size=8),
    st.sets(st.sampled_from("abcdefgh")),
    st.booleans(),
)
def test_every_column_is_as_it_was_and_none_is_read_twice(asked_for, expected, ordered):
    columns = {name: np.arange(5) * place for place, name in enumerate("abcdef")}
    asked = []
    table = counted(columns, asked, expected=expected, ordered=ordered)
    for name in asked_for:
        assert np.array_equal(table[name], columns[name])
    assert (list(table), len(table), table.height) == (list(columns), 6, 5)
    if ordered:
        every = [name for names in asked for name in names]
        assert len(every) == len(set(every))
    if asked_for:
        assert set(asked[0]) == {asked_for[0], *(expected & set(columns))}


@given(st.lists(st.booleans(), min_size=4, max_size=4), st.lists(st.booleans(), min_size=4, max_size=4))
def test_rows_that_are_left_out_stay_out_of_what_is_read_later(first, second):
    columns = {"a": np.arange(4), "b": np.array(list("wxyz"), object)}
    asked = []
    once = counted(columns, asked).taken(np.array(first))
    twice = once.extended("c", np.arange(once.height)).taken(np.array(second)[np.array(first, bool)])
    kept = np.array(first) & np.array(second)
    assert asked == []
    assert twice["b"].tolist() == columns["b"][kept].tolist()
    assert twice.height == kept.sum() == len(twice["c"])
    assert asked == [("b",)]
    with pytest.raises(KeyError):
        twice["d"]


def test_rows_of_a_database_that_came_otherwise_are_refused():
    columns = {"a": np.array([1.0, np.nan]), "b": np.array(["x", None], object), "c": np.array([1, 2])}
    table = counted(columns, [], ordered=False)
    assert np.isnan(table["a"][1])
    assert table["b"].tolist() == ["x", None]
    columns["a"] = columns["a"][::-1]
    with pytest.raises(DataError, match="came in another order"):
        table["c"]


def test_a_figure_of_three_columns_reads_three_of_three_hundred(wide):
    path, frame = wide
    table = deferred_columns(path)
    figure = ft.figure(table).map(x="c007", y="c008", color="kind").points()
    like = ft.figure(frame[["c007", "c008", "kind"]]).map(x="c007", y="c008", color="kind").points()
    assert figure.keep("c007 > 0").numbers("points").equals(like.keep("c007 > 0").numbers("points"))
    assert set(table.read) == {"c007", "c008", "kind"}
    with pytest.raises(DataError):
        ft.read(path)
    with pytest.raises(DataError):
        figure.map(color="c009").numbers("points")


def test_a_misspelt_column_is_told_from_all_that_there_are(wide):
    table = deferred_columns(wide[0])
    with pytest.raises(MappingError, match=r"no column 'kidn' for y\. Did you mean 'kind'\?"):
        ft.figure(table).map(x="c007", y="kidn").points().numbers("points")
    assert table.read == {}


def test_a_query_of_a_file_reads_the_columns_and_rows_that_it_names(wide):
    path, frame = wide
    found = read_columns(path, sql="SELECT c007 FROM wide WHERE kind = 'a' AND c008 > 1 ORDER BY c007")
    wanted = frame[(frame["kind"] == "a") & (frame["c008"] > 1)]["c007"].sort_values()
    assert found["c007"].tolist() == wanted.tolist()
    for query in ("SELECT * FROM wide", "SELECT c009 FROM wide"):
        with pytest.raises(DataError):
            read_columns(path, sql=query)


@pytest.mark.parametrize(
    "query",
    [
        "SELECT * FROM read_csv('{other}')",
        "SELECT * FROM '{other}'",
        "SELECT * FROM read_text('{folder}/*')",
        "COPY (SELECT 1) TO '{own}'",
        "COPY (SELECT 1) TO '{folder}/new.csv'",
        "SELECT 1; SELECT * FROM '{other}'",
        "ATTACH '{folder}/new.db'",
        "SET enable_external_access = true",
    ],
)
def test_a_query_that_sees_a_file_reaches_no_other_and_writes_none(tmp_path, query):
    own, other = tmp_path / "w.parquet", tmp_path / "o.csv"
    WHEELS.head(3).to_parquet(own)
    other.write_text("secret\n1\n")
    before = own.read_bytes()
    try:
        found = read_columns(own, sql=query.format(other=other, own=own, folder=tmp_path))
    except (DataError, OptionError):
        found = {}
    assert not {"secret", "content"} & set(found)
    assert own.read_bytes() == before
    assert sorted(path.name for path in tmp_path.iterdir()) == ["o.csv", "w.parquet"]


def test_a_row_number_of_the_database_is_still_there_for_queries(tmp_path):
    WHEELS.head(3).to_parquet(tmp_path / "w.parquet")
    assert read_columns(tmp_path / "w.parquet", sql="SELECT rowid AS row FROM w")["row"].tolist() == [0, 1, 2]


@pytest.fixture(scope="module")
def stored(tmp_path_factory):
    """The demo's wheels in every form that is read by column."""
    folder = tmp_path_factory.mktemp("stored")
    WHEELS.to_parquet(folder / "w.parquet")
    WHEELS.to_feather(folder / "w.feather")
    WHEELS.to_json(folder / "w.jsonl", orient="records", lines=True)
    with duckdb.connect(str(folder / "w.duckdb")) as connection:
        connection.register("given", WHEELS)
        connection.execute("CREATE TABLE wheels AS SELECT * FROM given")
    big = pd.concat([WHEELS] * 80, ignore_index=True)
    big.to_csv(folder / "w.csv", index=False)
    assert (folder / "w.csv").stat().st_size > 1 << 20
    return folder


@pytest.mark.parametrize("form", ["w.parquet", "w.feather", "w.jsonl", "w.duckdb", "w.csv"])
def test_what_is_read_by_column_is_what_is_read_as_a_whole(stored, form):
    whole = read_columns(stored / form)
    table = deferred_columns(stored / form, expected={"rind", "ph", "nothing"})
    assert isinstance(table, Deferred)
    assert list(table) == list(whole)
    for name in NAMES:
        one, other = table[name], whole[name]
        assert one.dtype == other.dtype
        assert np.ma.allequal(np.ma.getmaskarray(one), np.ma.getmaskarray(other))
        assert [str(value) for value in np.ma.filled(one, 0)] == [str(value) for value in np.ma.filled(other, 0)]
    assert table.height == len(whole["ph"])


OF_WHEELS = {
    f"{kind}, {name}": sample for kind, some in samples().items() for name, sample in some.items() if sample.data == "wheels"
}


@pytest.mark.parametrize("name", OF_WHEELS)
def test_figures_of_columns_read_one_by_one_have_the_same_bytes(stored, name, tmp_path):
    sample = OF_WHEELS[name]
    spec = {"map": sample.mapped, "layers": sample.layers} | ({"steps": [{"keep": sample.keep}]} if sample.keep else {})
    table = deferred_columns(stored / "w.parquet")
    for data, file in ((table, "one.svg"), (read_columns(stored / "w.parquet"), "other.svg")):
        ft.from_dict(spec, data).export(tmp_path / file)
    assert (tmp_path / "one.svg").read_bytes() == (tmp_path / "other.svg").read_bytes()
    assert 0 < len(table.read) <= 5


def test_a_file_that_was_written_anew_meanwhile_is_told(stored, tmp_path):
    path = tmp_path / "w.parquet"
    WHEELS.to_parquet(path)
    table = deferred_files([path], ".parquet", "test")
    assert len(table["ph"]) == 240
    WHEELS.head(100).to_parquet(path)
    with pytest.raises(DataError, match="changed while it was read"):
        table["mass_kg"]


def test_what_is_said_of_figures_tells_the_columns_that_they_may_ask_for(tmp_path):
    book = {
        "age_class": {"from": "age_days", "classes": {"young": [0, 60], "old": [60, 1000]}},
        "care": {"flags": {"brushed": "brushed", "wrapped": "wrapped"}},
        "ph": {"label": "Acidity"},
    }
    (tmp_path / "book.toml").write_text('[grade_too]\nfrom = "grade"\n')
    said = [{"map": {"x": "age_class", "y": ["log(MASS_KG)", "milk"]}, "titles": "of {cellar}"}]
    named = Mentioned(said, [book, tmp_path / "book.toml", tmp_path / "missing.toml", 7])
    assert [name for name in NAMES if name in named] == ["cellar", "milk", "age_days", "mass_kg"]
    assert {"brushed", "wrapped"} <= {name for name in NAMES if name in Mentioned([{"map": {"x": "care"}}], [book])}
    assert "grade" in Mentioned(["grade_too"], [tmp_path / "book.toml"])
    assert all(name in Everything() for name in NAMES)


@settings(max_examples=30, deadline=None)
@given(st.recursive(st.text() | st.integers() | st.none(), lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner)))
def test_any_plain_data_can_be_looked_through(said):
    assert "a column of this name" not in Mentioned([said], [])


QUERIES = {
    "SELECT ph FROM w": ["ph"],
    "SELECT PH, w.Rind FROM w WHERE age_days > 90": ["rind", "age_days", "ph"],
    "SELECT rind, avg(ph) AS mean FROM w GROUP BY rind HAVING mean > 0 ORDER BY mean": ["rind", "ph"],
    "SELECT count(*) AS n FROM w": ["wheel"],
    "SELECT a.ph FROM w a JOIN w b USING (wheel) WHERE b.milk = 'goat'": ["wheel", "milk", "ph"],
    "WITH t AS (SELECT ph AS k, milk FROM w) SELECT max(k) AS k FROM t GROUP BY milk": ["milk", "ph"],
    "SELECT DISTINCT ON (rind) milk FROM w ORDER BY rind, wheel": ["wheel", "rind", "milk"],
    "SELECT rank() OVER (PARTITION BY milk ORDER BY ph) AS r FROM w": ["milk", "ph"],
    "SELECT ph FROM w WHERE mass_kg > (SELECT avg(mass_kg) FROM w)": ["mass_kg", "ph"],
    "SELECT ph FROM w UNION ALL SELECT firmness_n FROM w ORDER BY 1": ["ph", "firmness_n"],
    "SELECT * FROM w": None,
    "FROM w": None,
    "SELECT COLUMNS('m.*') FROM w": None,
    "SELECT w FROM w": None,
    "SELECT t FROM w AS t": None,
    "SELECT #3 FROM w": None,
    "SELECT a.ph FROM w a NATURAL JOIN w b": None,
    "SELECT q FROM w AS t(q)": None,
    "SUMMARIZE w": None,
    "SELECT nothing FROM w": None,
    "no query at all": None,
}


@pytest.mark.parametrize("query", QUERIES)
def test_a_query_is_told_which_columns_it_reads_and_gives_the_same_of_these_alone(query):
    named = columns_read(query, NAMES, "test")
    wanted = QUERIES[query]
    assert named == (None if wanted is None else [name for name in NAMES if name in wanted])
    if named is not None:
        whole = {name: WHEELS[name].to_numpy() for name in NAMES}
        every = asked(whole, query, "w", "test")
        some = asked({name: whole[name] for name in named}, query, "w", "test")
        assert {name: sorted(map(str, column)) for name, column in every.items()} == {
            name: sorted(map(str, column)) for name, column in some.items()
        }


def test_a_query_over_a_large_text_gives_what_it_gives_over_a_small_one(stored, tmp_path):
    WHEELS.to_csv(tmp_path / "w.csv", index=False)
    for query in ("SELECT DISTINCT rind, ph FROM w ORDER BY ph, rind", "SELECT DISTINCT ON (wheel) * FROM w ORDER BY wheel"):
        one, other = read_columns(stored / "w.csv", sql=query), read_columns(tmp_path / "w.csv", sql=query)
        assert {name: list(map(str, column)) for name, column in one.items()} == {
            name: list(map(str, column)) for name, column in other.items()
        }
