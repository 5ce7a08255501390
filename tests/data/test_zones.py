"""Times with a zone keep it from file to axis, and no clock of the machine gets into a query."""

import os
import subprocess
import sys

import duckdb
import numpy as np
import pandas as pd
import polars as pl
import pytest
from conftest import laid_out
from hypothesis import given, settings
from hypothesis import strategies as st

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.core.arrays import in_zone, zone_of
from facetine.data.intake import taken_in
from facetine.data.readers import deferred_columns, read_columns
from facetine.messages.errors import ScaleError

# Over the night in which clocks go forward there.
ROWS = pd.DataFrame({"time": pd.date_range("2031-03-29", periods=72, freq="h", tz="Europe/Berlin"), "v": np.arange(72.0)})
ROWS.loc[3, "time"] = pd.NaT
ZONES = ["Europe/Berlin", "America/New_York", "Asia/Kathmandu", "Australia/Lord_Howe", "UTC"]


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    """The same rows in every form that has times with a zone."""
    made = tmp_path_factory.mktemp("zones")
    ROWS.to_parquet(made / "rows.parquet")
    ROWS.to_feather(made / "rows.feather")
    pl.from_pandas(ROWS).write_parquet(made / "bare.parquet")
    with duckdb.connect(str(made / "rows.duckdb")) as connection:
        connection.register("given", ROWS)
        connection.execute("CREATE TABLE rows AS SELECT * FROM given")
    return made


FORMS = {"rows.parquet": "Europe/Berlin", "rows.feather": "Europe/Berlin", "bare.parquet": "UTC", "rows.duckdb": "UTC"}


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("read", [read_columns, deferred_columns, ft.read])
def test_times_are_the_instants_that_they_were_in_their_zone(folder, form, read):
    column = taken_in(read(folder / form)).column("time")
    wanted = (ROWS["time"].dt.tz_convert("UTC").dt.tz_localize(None) - pd.Timestamp(0)) / pd.Timedelta(microseconds=1)
    assert column.zone == FORMS[form]
    assert np.array_equal(column.values, wanted.to_numpy(), equal_nan=True)
    assert ft.read(folder / form)["time"].equals(ROWS["time"].dt.tz_convert(FORMS[form]).astype(f"datetime64[us, {FORMS[form]}]"))


@pytest.mark.parametrize("rows", [40, 60_000])
def test_texts_of_times_with_offsets_are_instants_in_small_files_and_in_large_ones(rows, tmp_path):
    times = pd.date_range("2031-03-29", periods=rows, freq="h", tz="Europe/Berlin")
    pd.DataFrame({"time": times, "v": np.arange(rows)}).to_csv(tmp_path / "r.csv", index=False)
    assert ((tmp_path / "r.csv").stat().st_size > 1 << 20) == (rows > 40)
    column = taken_in(read_columns(tmp_path / "r.csv")).column("time")
    assert (column.kind, column.zone) == ("time", "UTC")
    assert np.array_equal(column.values, ((times - pd.Timestamp(0, tz="UTC")) / pd.Timedelta(microseconds=1)).to_numpy())
    assert ft.read(tmp_path / "r.csv")["time"].dt.tz is not None
    found = read_columns(tmp_path / "r.csv", sql="SELECT hour(time) AS h FROM r ORDER BY v LIMIT 3")
    assert found["h"].tolist() == [23, 0, 1]


def test_rows_of_several_files_keep_their_zone(folder):
    found = read_columns([folder / "rows.parquet", folder / "rows.parquet"], names="from")
    assert zone_of(found["time"]) == "Europe/Berlin"
    assert taken_in(found).column("time").zone == "Europe/Berlin"


@pytest.mark.parametrize("form", FORMS)
def test_a_query_reads_the_clock_of_the_data_and_not_that_of_the_machine(folder, form):
    asks = f"from facetine.data.readers import read_columns; c = read_columns({str(folder / form)!r}, sql='SELECT hour(time) AS h FROM {form.partition('.')[0]} ORDER BY v'); print(c['h'].filled(-1).tolist() if hasattr(c['h'], 'filled') else c['h'].tolist())"
    said = {
        subprocess.run(
            [sys.executable, "-c", asks], env={**os.environ, "TZ": zone}, capture_output=True, text=True, check=True
        ).stdout
        for zone in ("America/New_York", "Asia/Tokyo")
    }
    wanted = ROWS["time"].dt.tz_convert(FORMS[form]).dt.hour.fillna(-1).astype(int).tolist()
    assert said == {f"{wanted}\n"}


@settings(max_examples=10, deadline=None)
@given(
    st.sampled_from(ZONES),
    st.lists(st.datetimes(pd.Timestamp("1990-01-01"), pd.Timestamp("2040-01-01")), min_size=1, max_size=20, unique=True),
)
def test_expressions_see_the_clock_that_the_axis_shows(zone, moments):
    times = pd.Series(pd.DatetimeIndex(moments).tz_localize("UTC").tz_convert(zone))
    figure = ft.figure(pd.DataFrame({"time": times, "v": np.arange(len(times))}))
    made = figure.derive(h="hour(time)", d="day(time)").map(x="h", y="d").points()._sentence.table
    assert made.column("h").values.tolist() == times.dt.hour.tolist()
    assert made.column("d").values.tolist() == times.dt.day.tolist()
    middle = str(times.dt.tz_localize(None).sort_values().iloc[len(times) // 2])
    kept = figure.keep(f"time >= '{middle}'")._sentence.table
    assert kept.height == (times.dt.tz_localize(None) >= pd.Timestamp(middle)).sum()


def test_an_axis_in_utc_says_so_and_one_in_a_zone_can_be_had(folder):
    figure = ft.figure(ft.read(folder / "rows.duckdb")).map(x="time", y="v").points()

    def title(figure):
        return next(text.content for text in laid_out(figure).scene.texts() if text.content.startswith("Time"))

    assert title(figure) == "Time (UTC)"
    assert title(figure.scale("x", zone="Europe/Berlin")) == "Time (Europe/Berlin)"
    assert title(figure.titles(x="Time of day")) == "Time of day"
    local = ft.figure(ft.read(folder / "rows.parquet")).map(x="time", y="v").points()
    assert title(local) == "Time"
    plain = ROWS.assign(time=ROWS["time"].dt.tz_localize(None))
    with pytest.raises(ScaleError, match="no zone of their own"):
        ft.figure(plain).map(x="time", y="v").points().scale("x", zone="Asia/Tokyo").numbers("points")


def test_processes_of_a_run_share_times_with_their_zone(folder, tmp_path):
    plan = tmp_path / "plan.toml"
    figures = "".join(
        f'[figure.f{number}]\ndata = "d"\nmap = {{ x = "time", y = "v" }}\nlayers = ["points"]\n' for number in range(4)
    )
    plan.write_text(f'[plan]\nformats = ["svg"]\n[data.d]\nfile = "{folder / "rows.parquet"}"\n{figures}')
    for jobs in (1, 2):
        outcomes = export_plan(plan, out=tmp_path / str(jobs), jobs=jobs, force=True)
        assert [outcome.state for outcome in outcomes] == ["written"] * 4
    one, other = ((tmp_path / str(jobs) / "f3.svg").read_bytes() for jobs in (1, 2))
    assert one == other
    assert b"Time</" in one


def test_the_zone_of_an_array_can_be_said_anew():
    times = np.array(["2031-01-01", "NaT"], "M8[us]")
    assert zone_of(times) is None
    assert zone_of(in_zone(in_zone(times, "UTC"), "Asia/Tokyo")) == "Asia/Tokyo"
    assert zone_of(in_zone(times, "UTC")[[True, False]]) == "UTC"
