"""A month's report from messy sources: what stands in its files is what SQL and pandas say of the same rows."""

import datetime as dt
import gzip
import json
import sqlite3
import warnings
from collections import Counter
from xml.etree import ElementTree as ET

import duckdb
import numpy as np
import openpyxl
import pandas as pd
import pytest

from facetine.batch.runner import export_plan

CELLARS = ["North", "Quarry", "Tunnel", "Loft"]
RNG = np.random.default_rng(31)
ROWS = 240
TRUE = pd.DataFrame(
    {
        "well": [f"{number:03d}" for number in RNG.integers(1, 20, ROWS)],
        "cellar": RNG.choice(CELLARS, ROWS),
        "day": [dt.date(2031, 1, 1) + dt.timedelta(days=int(day)) for day in RNG.integers(0, 300, ROWS)],
        "nitrate": np.where(np.arange(ROWS) % 24 == 5, np.nan, RNG.gamma(3, 8, ROWS).round(2)),
        "filled": RNG.integers(10, 99, ROWS),
        "sold": RNG.integers(1, 60, ROWS),
        "price": RNG.gamma(4, 400, ROWS).round(2),
    }
)


def german(value, digits=2):
    return "n.b." if np.isnan(value) else f"{value:,.{digits}f}".translate(str.maketrans({",": ".", ".": ","}))


def text(folder):
    lines = ["Nitrat der Quellen;;;;", "Quelle;Keller;Datum;Nitrat mg/l;Füllung"]
    lines += [f"{row.well};{row.cellar};{row.day:%d.%m.%Y};{german(row.nitrate)};{row.filled} %" for row in TRUE.itertuples()]
    (folder / "wells.csv").write_text("\n".join(lines), encoding="cp1252")


def book(folder):
    made = openpyxl.Workbook()
    sheet = made.active
    for line in (["Sold wheels"], [], ["Cellar", "Well", "Trade", None], [None, None, "sold", "price"], [None, None, "-", "EUR"]):
        sheet.append(line)
    for one in ("A1:D1", "A3:A5", "B3:B5", "C3:D3"):
        sheet.merge_cells(one)
    row = 6
    for cellar, rows in TRUE.groupby("cellar", sort=False):
        for number, one in enumerate(rows.itertuples()):
            sheet.append([cellar if not number else None, one.well, one.sold, one.price])
        sheet.merge_cells(f"A{row}:A{row + len(rows) - 1}")
        row += len(rows)
    sheet.append([])
    sheet.append(["Source: the books of the cooperative"])
    made.save(folder / "trade.xlsx")


def others(folder):
    with (folder / "rows.jsonl").open("w") as file:
        for row in TRUE.itertuples():
            said = {"place": {"cellar": row.cellar, "well": row.well}, "sold": str(row.sold), "tags": ["a", "b"]}
            file.write(json.dumps(said) + "\n")
    opened = sqlite3.connect(folder / "stock.db")
    opened.execute("CREATE TABLE stock (cellar TEXT, well TEXT, price TEXT, day TEXT, sold INTEGER)")
    rows = [(row.cellar, row.well, german(row.price), f"{row.day:%d.%m.%Y}", row.sold) for row in TRUE.itertuples()]
    opened.executemany("INSERT INTO stock VALUES (?, ?, ?, ?, ?)", rows)
    opened.commit()
    opened.close()
    with duckdb.connect(str(folder / "deep.duckdb")) as connection:
        connection.register("rows", TRUE.drop(columns="day"))
        connection.execute("CREATE SCHEMA deep; CREATE TABLE deep.deep.wheels AS SELECT * FROM rows")
    TRUE.assign(day=pd.to_datetime(TRUE["day"])).to_parquet(folder / "rows.parquet")
    with gzip.open(folder / "visits.csv.gz", "wt") as file:
        TRUE.assign(filled=TRUE["filled"].map("{}%".format)).to_csv(file, index=False)
    wide = TRUE.pivot_table(index="well", columns="cellar", values="sold", aggfunc="sum", fill_value=0).reset_index()
    wide.to_csv(folder / "wide.tsv", sep="\t", index=False)


SOURCES = """
[plan]
formats = ["svg"]
width = "180 mm"
[data.wells]
file = "wells.csv"
[data.trade]
file = "trade.xlsx"
[data.rows]
file = "rows.jsonl"
[data.stock]
database = "sqlite:///stock.db"
table = "main.stock"
[data.deep]
database = "duckdb:///deep.duckdb"
table = "deep.wheels"
[data.parquet]
file = "rows.parquet"
[data.visits]
file = "visits.csv.gz"
[data.wide]
file = "wide.tsv"
[data.asked]
from = "stock"
sql = "SELECT cellar, sum(price) AS price FROM stock GROUP BY cellar"
"""


def by(column, what, how, form):
    """What pandas says of groups, as it is written on bars."""
    found = TRUE.groupby(column)[what].agg(how)
    return [format(value, form) for value in found]


def asked(sql, form):
    """What SQL says of the rows, in an engine that has them as they are."""
    with sqlite3.connect(":memory:") as opened:
        TRUE.to_sql("t", opened, index=False)
        return [format(value, form) for (value,) in opened.execute(sql)]


def bars(data, x, y, how, form, extra=""):
    label = "count" if how == "count" else how
    mapped = f'map = {{ x = "{x}" }}' if how == "count" else f'map = {{ x = "{x}", y = "{y}" }}'
    options = f'value_labels = "{{{label}:{form}}}"' + ("" if how == "count" else f', aggregate = "{how}"')
    return f'data = "{data}"\n{mapped}\n{extra}\nlayers = [{{ bars = {{ {options} }} }}]'


FIGURES = {
    "count_text": (bars("wells", "Keller", "", "count", ",.0f"), lambda: by("cellar", "sold", "size", ",.0f")),
    "mean_text": (bars("wells", "Keller", "Nitrat mg/l", "mean", ".3f"), lambda: by("cellar", "nitrate", "mean", ".3f")),
    "median_text": (bars("wells", "Keller", "Nitrat mg/l", "median", ".3f"), lambda: by("cellar", "nitrate", "median", ".3f")),
    "max_text": (bars("wells", "Keller", "Nitrat mg/l", "max", ".2f"), lambda: by("cellar", "nitrate", "max", ".2f")),
    "percents": (bars("wells", "Keller", "Füllung", "mean", ".4f"), lambda: by("cellar", "filled", "mean", ".4f")),
    "late": (
        bars("wells", "Keller", "", "count", ".0f", "steps = [{ keep = \"Datum >= '2031-06-01'\" }]"),
        lambda: asked("SELECT count(*) FROM t WHERE day >= '2031-06-01' GROUP BY cellar", ".0f"),
    ),
    "sum_book": (bars("trade", "Cellar", "Trade sold", "sum", ",.0f"), lambda: by("cellar", "sold", "sum", ",.0f")),
    "mean_book": (bars("trade", "Cellar", "Trade price (EUR)", "mean", ",.2f"), lambda: by("cellar", "price", "mean", ",.2f")),
    "wells_book": (bars("trade", "Well", "", "count", ".0f"), lambda: by("well", "sold", "size", ".0f")),
    "sum_nested": (bars("rows", "place.cellar", "sold", "sum", ",.0f"), lambda: by("cellar", "sold", "sum", ",.0f")),
    "max_nested": (bars("rows", "place.well", "sold", "max", ".0f"), lambda: by("well", "sold", "max", ".0f")),
    "sum_sqlite": (bars("stock", "cellar", "price", "sum", ",.2f"), lambda: asked("SELECT sum(price) FROM t GROUP BY cellar", ",.2f")),
    "min_sqlite": (bars("stock", "well", "price", "min", ",.2f"), lambda: asked("SELECT min(price) FROM t GROUP BY well", ",.2f")),
    "dear_sqlite": (
        bars("stock", "cellar", "", "count", ".0f", 'steps = [{ keep = "price > 1600" }]'),
        lambda: asked("SELECT count(*) FROM t WHERE price > 1600 GROUP BY cellar", ".0f"),
    ),
    "product": (
        bars("stock", "cellar", "worth", "sum", ",.1f", 'steps = [{ derive = { worth = "price * sold" } }]'),
        lambda: asked("SELECT sum(price * sold) FROM t GROUP BY cellar", ",.1f"),
    ),
    "query": (
        'data = "asked"\nmap = { x = "cellar", y = "price" }\nlayers = [{ bars = { value_labels = "{height:,.2f}" } }]',
        lambda: by("cellar", "price", "sum", ",.2f"),
    ),
    "schema": (bars("deep", "cellar", "price", "mean", ",.3f"), lambda: by("cellar", "price", "mean", ",.3f")),
    "parquet": (bars("parquet", "cellar", "filled", "median", ".1f"), lambda: by("cellar", "filled", "median", ".1f")),
    "months": (
        'data = "parquet"\nmap = { x = "month" }\nsteps = [{ derive = { month = "month(day)" } }]\nkinds = { month = "category" }\n'
        'layers = [{ bars = { value_labels = "{count}" } }]',
        lambda: [str(value) for value in pd.to_datetime(TRUE["day"]).dt.month.value_counts()],
    ),
    "packed": (bars("visits", "cellar", "filled", "max", ".0f"), lambda: by("cellar", "filled", "max", ".0f")),
    "wide": (
        'data = "wide"\nmap = { x = "Loft", y = "well", label = "Loft" }\nlayers = [{ labels = { avoid = false } }]',
        lambda: [format(value, ".0f") for value in TRUE[TRUE["cellar"] == "Loft"].groupby("well")["sold"].sum()],
    ),
}  # fmt: skip


@pytest.fixture(scope="module")
def files(tmp_path_factory):
    """Every figure's texts, by its name."""
    folder = tmp_path_factory.mktemp("month")
    for make in (text, book, others):
        make(folder)
    plan = SOURCES + "".join(f"\n[figure.{name}]\n{said}\n" for name, (said, _) in FIGURES.items())
    (folder / "plan.toml").write_text(plan, encoding="utf-8")
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        outcomes = export_plan(folder / "plan.toml")
    assert [(one.name, str(one.error)) for one in outcomes if one.error is not None] == []
    return {name: Counter(texts_of(folder / f"figures/{name}.svg")) for name in FIGURES}


def texts_of(path):
    svg = "{http://www.w3.org/2000/svg}"
    return ["".join(one.itertext()).replace("−", "-") for one in ET.parse(path).iter(f"{svg}text")]


@pytest.mark.parametrize("name", FIGURES)
def test_what_a_file_says_is_what_the_rows_say(files, name):
    expected = Counter(FIGURES[name][1]())
    assert len(expected) > 1
    assert expected - files[name] == Counter(), (expected, files[name])
