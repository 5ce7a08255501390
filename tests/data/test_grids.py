"""Sheets and texts as people keep them: titles above, names over several rows, merged ranges, notes below."""

import datetime as dt
import warnings

import openpyxl
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import facetine as ft
from facetine.data.units import measured, unit_of
from facetine.messages.errors import DataError, FacetineFinding


def read(source, **options):
    with warnings.catch_warnings(record=True) as caught:
        warnings.simplefilter("always")
        frame = ft.read(source, **options)
    return frame, " | ".join(str(one.message) for one in caught if issubclass(one.category, FacetineFinding))


def book(path, rows, merged=()):
    made = openpyxl.Workbook()
    for number, row in enumerate(rows, 1):
        for column, cell in enumerate(row, 1):
            if cell is not None:
                made.active.cell(number, column, cell)
    for one in merged:
        made.active.merge_cells(one)
    made.save(path)
    return path


def test_a_sheet_of_a_report_is_read_as_its_table(tmp_path):
    rows = [
        ["Ripening of the spring wheels, 2031"],
        [None],
        ["Cellar", "Batch", "Mass", None, "Climate", None],
        [None, None, 2030, 2031, "Temperature", "Humidity"],
        [None, None, "kg", "kg", "°C", "%"],
        ["Loft", "A", 4.5, 4.75, 12.5, 88],
        [None, "B", 5, 5.25, 12.25, 87],
        ["Quarry", "A", 6, "n.b.", 10, 92],
        [None, "B", 6.5, 6.75, 10.5, 93],
        [None],
        ["n.b.: not weighed"],
        ["Source: books of the cooperative"],
    ]
    merged = ["A1:F1", "A3:A5", "B3:B5", "C3:D3", "E3:F3", "A6:A7", "A8:A9", "A12:F12"]
    frame, notes = read(book(tmp_path / "report.xlsx", rows, merged))
    assert list(frame) == [
        "Cellar", "Batch", "Mass 2030 (kg)", "Mass 2031 (kg)", "Climate Temperature (°C)", "Climate Humidity (%)"
    ]  # fmt: skip
    assert frame["Cellar"].tolist() == ["Loft", "Loft", "Quarry", "Quarry"]
    assert frame["Climate Humidity (%)"].tolist() == [88, 87, 92, 93]
    # One of four is more than one in ten.
    assert frame["Mass 2031 (kg)"].tolist() == ["4.75", "5.25", "n.b.", "6.75"]
    assert "1 row above the names left out: 'Ripening of the spring wheels, 2031'" in notes
    assert "2 rows below the table left out: 'n.b.: not weighed', 'Source: books" in notes
    assert "the names take 3 rows, which are joined: 'Cellar', 'Batch', 'Mass 2030 (kg)'" in notes
    assert "2 cells have the value of the merged range" in notes


names = st.lists(st.sampled_from(["mass", "ph", "salt", "eye", "rind", "crust"]), min_size=1, max_size=3, unique=True)


@given(st.lists(names, min_size=1, max_size=3), st.integers(2, 6), st.booleans(), st.booleans(), st.data())
def test_names_over_two_rows_titles_and_notes_leave_the_table_as_it_is(tmp_path_factory, below, height, titled, noted, data):
    groups = [f"group {number}" for number in range(len(below))]
    columns = {"cellar": data.draw(st.lists(st.sampled_from(["Loft", "Quarry"]), min_size=height, max_size=height))}
    head, second, merged, column = ["cellar"], [None], [], 2
    for group, inner in zip(groups, below, strict=True):
        head += [group, *[None] * (len(inner) - 1)]
        second += inner
        merged += [(column, column + len(inner) - 1)] if len(inner) > 1 else []
        column += len(inner)
        for name in inner:
            columns[f"{group} {name}"] = data.draw(st.lists(st.floats(-1e6, 1e6), min_size=height, max_size=height))
    rows = ([["A title of the sheet"], []] if titled else []) + [head, second]
    top = len(rows) - 1
    rows += [list(row) for row in zip(*columns.values(), strict=True)]
    rows += [[], ["a note below it"]] if noted else []
    letters = openpyxl.utils.get_column_letter
    ranges = [f"{letters(first)}{top}:{letters(last)}{top}" for first, last in merged]
    # Names of one row stand over both.
    ranges += [f"A{top}:A{top + 1}"]
    frame, notes = read(book(tmp_path_factory.getbasetemp() / "names.xlsx", rows, ranges))
    pd.testing.assert_frame_equal(frame, pd.DataFrame(columns), check_dtype=False)
    assert ("above the names left out" in notes) == titled
    assert ("below the table left out" in notes) == noted


def test_a_first_row_of_data_is_no_row_of_names(tmp_path):
    rows = [["site", "kind", "value"], ["North", "a", "n.b."], ["Loft", "b", 3], ["Quarry", "a", 4], *[["Loft", "a", 5]] * 8]
    frame, _ = read(book(tmp_path / "plain.xlsx", rows))
    assert list(frame) == ["site", "kind", "value"]
    assert frame["site"].tolist()[0] == "North"
    assert pd.isna(frame["value"].tolist()[0])


def test_the_last_values_of_a_table_are_no_notes(tmp_path):
    rows = [["site", "value", "other"], ["North", 1, 2], ["Loft", 2, 3], ["Quarry", None, None]]
    frame, notes = read(book(tmp_path / "plain.xlsx", rows))
    assert frame["site"].tolist() == ["North", "Loft", "Quarry"]
    assert "left out" not in notes


def test_numbers_with_the_format_of_a_date_are_times(tmp_path):
    made = openpyxl.Workbook()
    made.active.append(["day", "clock", "took"])
    for row, (day, hour) in enumerate([(47604, 0.5), (47605.25, 0.75)], 2):
        made.active.cell(row, 1, day).number_format = "DD.MM.YYYY"
        made.active.cell(row, 2, hour).number_format = "hh:mm"
        made.active.cell(row, 3, hour).number_format = "[h]:mm"
    made.save(tmp_path / "dates.xlsx")
    frame, _ = read(tmp_path / "dates.xlsx")
    # Day 1 of a workbook is the first of January of 1900, whose 29th of February it counts too.
    assert frame["day"].tolist() == [pd.Timestamp("2030-05-01"), pd.Timestamp("2030-05-02 06:00")]
    assert frame["clock"].tolist() == [pd.Timedelta(hours=12), pd.Timedelta(hours=18)]
    assert frame["took"].tolist() == frame["clock"].tolist()
    assert ft.figure(frame).map(x="day", y="took").points().numbers()["y"].tolist() == [43200, 64800]


def test_merged_ranges_that_lie_over_each_other_are_refused(tmp_path):
    path = book(tmp_path / "odd.xlsx", [["a", "b"], *[[row, row] for row in range(50)]])
    import zipfile

    with zipfile.ZipFile(path) as source:
        parts = {one: source.read(one) for one in source.namelist()}
    ranges = b"".join(b'<mergeCell ref="A1:B%d"/>' % row for row in range(2, 50))
    sheet = parts["xl/worksheets/sheet1.xml"].replace(b"</sheetData>", b"</sheetData><mergeCells>" + ranges + b"</mergeCells>")
    with zipfile.ZipFile(path, "w") as target:
        for name, content in {**parts, "xl/worksheets/sheet1.xml": sheet}.items():
            target.writestr(name, content)
    with pytest.raises(DataError, match="merged ranges that lie over each other"):
        ft.read(path)


@pytest.mark.parametrize("sign", [",", ";", "\t"])
def test_a_title_padded_with_signs_is_left_out_and_told(tmp_path, sign):
    rows = [["Nitrate of the wells", "", ""], ["well", "day", "mg/l"], ["W1", "2030-01-02", "1.5"], ["W2", "2030-01-03", "2.5"]]
    (tmp_path / "t.csv").write_text("".join(sign.join(row) + "\n" for row in rows), encoding="utf-8")
    frame, notes = read(tmp_path / "t.csv")
    assert list(frame) == ["well", "day", "mg/l"]
    assert frame["mg/l"].tolist() == [1.5, 2.5]
    assert "1 line before the table" in notes
    again, notes = read(tmp_path / "t.csv", skip=1)
    pd.testing.assert_frame_equal(frame, again)


NAMES = {
    "Nitrat mg/l": ("Nitrat", "mg/l"), "Temperatur (°C)": ("Temperatur", "°C"), "no2_ugm3": ("no2", "µg/m³"),
    "wind_ms": ("wind", "m/s"), "Ertrag [t/ha]": ("Ertrag", "t/ha"), "Preis in EUR": ("Preis", "EUR"),
    "Leitfähigkeit, uS/cm": ("Leitfähigkeit", "µS/cm"), "Wind speed (m s-1)": ("Wind speed", "m s⁻¹"),
    "yield_kg_per_ha": ("yield", "kg/ha"), "heat (kWh/(m2 a))": ("heat", "kWh/(m² a)"), "mass_kg": ("mass", "kg"),
    "reaction_ms": ("reaction", "ms"), "Anteil %": ("Anteil", "%"), "Höhe m": ("Höhe", "m"),
}  # fmt: skip
NO_UNIT = ["Plan a", "group A", "Vitamin C", "cellar", "sold_per_ha", "plan_b", "year", "Site (north)", "n", "mg"]


@pytest.mark.parametrize("name", NAMES)
def test_units_in_names_are_found(name):
    found = measured(name)
    assert (found.label, found.unit) == NAMES[name]


@pytest.mark.parametrize("name", NO_UNIT)
def test_words_that_are_no_units_stay_words(name):
    assert measured(name) is None


def test_units_in_names_are_proposed_and_never_taken_in_silence(tmp_path):
    frame = pd.DataFrame({"Nitrat mg/l": [1.0, 2.0, 3.0], "wind_ms": [4.0, 5.0, 7.0]})
    figure = ft.figure(frame).map(x="Nitrat mg/l", y="wind_ms").points()
    found = [one for one in figure.check() if one.code == "axis-without-unit"]
    assert [next(unit for unit in ("mg/l", "m/s") if f'"unit": "{unit}"' in str(one.fix)) for one in found] == ["mg/l", "m/s"]
    content = figure.export(tmp_path / "t.svg").files[0].path.read_text()
    assert "(ms)" not in content
    assert "(m/s)" not in content


@given(st.text(max_size=12))
def test_any_text_is_a_unit_or_none(text):
    found = unit_of(text)
    assert found is None or (found and found == found.strip())
    measured(text)


def test_days_are_told_apart_from_hours(tmp_path):
    made = openpyxl.Workbook()
    made.active.append(["clock"])
    made.active.append([dt.time(8, 30)])
    made.save(tmp_path / "t.xlsx")
    assert ft.read(tmp_path / "t.xlsx")["clock"].tolist() == [pd.Timedelta(hours=8.5)]
