"""Pages in browsers: what the pointer, the keys and the buttons do."""

import csv
import io
import json
import os
import random
import time
from pathlib import Path

import numpy as np
import pandas as pd
import pytest
from page.browsers import errors, moved, opened, status, written

import facetine as ft
from facetine.layers import LAYERS
from facetine.page.envelope import script_of
from facetine.page.words import DAY, MINUTE, SECOND, number_text, time_text

pytestmark = pytest.mark.pages
LEFT, RIGHT, UP, DOWN, HOME, END, ENTER, ESCAPE, TAB, PAGE_DOWN = (
    "\ue012", "\ue014", "\ue013", "\ue015", "\ue011", "\ue010", "\ue007", "\ue00c", "\ue004", "\ue00f",
)  # fmt: skip


WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points()
FACETED = BASE.facet("cellar")
PLATE = ft.plate([[BASE, BASE.map(x="ph", y="firmness_n")]], letters="A")


def stands(figure, row, driver, width="150 mm", sheet=0):
    """Where the mark of a row is in the window."""
    (x, y) = figure.at("points", rows=[row], width=width)[["x_mm", "y_mm"]].iloc[0]
    box = driver.execute_script(
        f"const s = document.querySelectorAll('.sheet > svg')[{sheet}];"
        "const b = s.getBoundingClientRect(); return [b.left, b.top, b.width / parseFloat(s.getAttribute('width'))]"
    )
    return box[0] + x * box[2], box[1] + y * box[2]


def readout(driver):
    """The lines that stand beside the mark."""
    lines = driver.execute_script(
        "const box = document.querySelector('.readout'); return box.hidden ? null :"
        " [...box.children].map((line) => [line.children[0].textContent, line.children[1].textContent])"
    )
    return None if lines is None else dict(lines)


def chosen(driver):
    return driver.execute_script("return document.getElementById('count').textContent")


def table(driver):
    found = driver.execute_script(
        "return [...document.querySelectorAll('#rows tr')].map((row) => [...row.children].map((cell) => cell.textContent))"
    )
    return pd.DataFrame(found[1:], columns=found[0]) if found else None


def test_the_pointer_reads_what_stands_in_the_data(browser, folder):
    opened(browser, written(FACETED, folder))
    for row in (0, 57, 133, 239):
        moved(browser, *stands(FACETED, row, browser))
        lines = readout(browser)
        there = WHEELS.iloc[row]
        # Where marks lie over each other, one of them is told; it stands within the reach of a point.
        assert float(lines["Age (days)"]) == pytest.approx(there["age_days"], abs=6)
        assert float(lines["Mass (kg)"]) == pytest.approx(there["mass_kg"], abs=0.4)
        assert lines["Panel"] == there["cellar"]
        assert lines["Group"] in set(WHEELS["rind"])
    moved(browser, 2, 2)
    assert readout(browser) is None
    assert not errors(browser)


NAMED = ft.plate(
    [
        [
            BASE.choose("ages", along="x", start={"age_days": (20, 80)}).choose("kind", by="milk"),
            BASE.map(x="ph", y="firmness_n").respond("ages").respond("kind"),
        ],
        [BASE.map(x="eye_mm").choose("few", multiple=True), BASE.map(x="moisture_pct", y="firmness_n")],
    ]
)


def loud(driver):
    """How many marks of each figure of the plate are loud; None where none are quiet."""
    return driver.execute_script(
        "return [0, 1, 2, 3].map((member) => { const group = document.querySelector(`[data-marks^='${member}-']`);"
        "return group.style.opacity === '' ? null : group.nextElementSibling.querySelectorAll('circle').length; })"
    )


def marks(driver, member):
    """The middles of the marks of a figure in the window, in the order of x."""
    found = driver.execute_script(
        f"document.querySelector(`[data-marks^='{member}-']`).scrollIntoView({{ block: 'center' }});"
        f"return [...document.querySelectorAll(`[data-marks^='{member}-'] circle`)].map((one) => one.getBoundingClientRect())"
        ".map((box) => [(box.left + box.right) / 2, (box.top + box.bottom) / 2])"
    )
    return np.array(sorted(found))


def drawn(frame, *columns):
    """How many of some rows a figure of these columns shows."""
    return len(frame.dropna(subset=list(columns)))


@pytest.mark.parametrize("layer", ["discs", "shapes", "cells"])
def test_marks_of_an_image_that_are_chosen_look_as_they_did(browser, folder, layer):
    from PIL import Image, ImageFilter

    rng = np.random.default_rng(3)
    data = pd.DataFrame({"a": rng.normal(0, 1, 6_000), "b": rng.normal(0, 1, 6_000), "c": rng.integers(0, 4, 6_000).astype(str)})
    points = ft.figure(data).map(x="a", y="b", color="c").theme(quiet_opacity=0.02)
    figure = {
        "discs": points.points(size=3, opacity=0.4, outline="#000000"),
        "shapes": points.map(shape="c").points(size=4),
        "cells": ft.figure(
            pd.DataFrame({"a": np.tile(np.arange(80), 80), "b": np.repeat(np.arange(80), 80), "v": rng.normal(0, 1, 6_400)})
        )
        .map(x="a", y="b", color="v")
        .cells()
        .theme(quiet_opacity=0.02),
    }[layer]
    path, seen = written(figure, folder, width="120 mm"), []
    for state in ("", "#rows=0:0-9999"):
        opened(browser, path, state)
        assert (state == "") == (chosen(browser) == "")
        stage = browser.find_element("css selector", ".sheet > svg")
        shot = Image.open(io.BytesIO(stage.screenshot_as_png)).convert("RGB")
        # What is painted for the screen is sharper than the image of print that a browser makes smaller.
        seen.append(np.asarray(shot.filter(ImageFilter.GaussianBlur(1)), np.int64))
    rest, after = seen
    assert rest.shape == after.shape
    # Anti-aliased edges may lie a fraction of a pixel aside; colors, shapes and sizes are the same.
    assert (abs(rest - after).max(axis=2) > 64).mean() < 0.01
    blocks = [
        one[: len(one) // 8 * 8, : one.shape[1] // 8 * 8].reshape(len(one) // 8, 8, -1, 8, 3).mean(axis=(1, 3)) for one in seen
    ]
    assert abs(blocks[0] - blocks[1]).max() < 30
    assert not errors(browser)


def test_a_named_choice_begins_as_said_and_is_seen_where_it_is_answered(browser, folder):
    opened(browser, written(NAMED, folder, width="200 mm"))
    young = WHEELS[WHEELS["age_days"].between(20, 80)]
    assert chosen(browser) == f"{len(young)} of 240 rows"
    assert loud(browser) == [len(young), drawn(young, "ph", "firmness_n"), None, None]
    assert browser.current_url.partition("#")[2].startswith("ages=0:")
    # A brush along x reaches over the whole height, wherever it is drawn.
    places = marks(browser, 0)
    left, right = places[0, 0], places[-1, 0]
    ages = WHEELS["age_days"]

    def across(age):
        return left + (right - left) * (age - ages.min()) / (ages.max() - ages.min())

    middle = places[:, 1].mean()
    moved(browser, across(100), middle, drag=(across(150), middle + 4))
    found = table(browser)["Age (days)"].astype(float)
    assert sorted(found) == sorted(ages[ages.between(found.min(), found.max())])
    assert (found.min(), found.max()) == (pytest.approx(100, abs=4), pytest.approx(150, abs=4))
    assert loud(browser)[2:] == [None, None]
    # What was drawn is in the address, and a link to it opens the same.
    state = browser.current_url.partition("#")[2]
    before = loud(browser)
    opened(browser, written(NAMED, folder, width="200 mm"), f"#{state}")
    assert loud(browser) == before
    assert not errors(browser)


def test_what_is_picked_by_a_value_is_all_of_it_and_two_choices_meet(browser, folder):
    opened(browser, written(NAMED, folder, width="200 mm"))
    young = WHEELS[WHEELS["age_days"].between(20, 80)]
    moved(browser, *marks(browser, 0)[120], click=True)
    # All wheels of one milk, and of them those of the ages that are chosen as well.
    kinds = dict(iter(WHEELS.groupby("milk")))
    assert chosen(browser) in {f"{len(rows)} of 240 rows" for rows in kinds.values()}
    (kind,) = {kind for kind, rows in kinds.items() if sorted(table(browser)["Row"].astype(int)) == sorted(rows.index)}
    both = young[young["milk"] == kind]
    assert loud(browser) == [len(both), drawn(both, "ph", "firmness_n"), None, None]
    # In the third figure each pick is put to those before; the fourth answers nothing and makes nothing.
    for count, place in enumerate(marks(browser, 2)[[0, 110, -1]], 1):
        moved(browser, *place, click=True)
        assert chosen(browser) == f"{count} of 240 rows"
    assert loud(browser)[2:] == [3, None]
    before = loud(browser)
    moved(browser, *marks(browser, 3)[50], click=True)
    assert loud(browser) == before
    assert not errors(browser)


def test_a_value_beyond_the_whiskers_is_a_row_that_can_be_picked(browser, folder):
    boxes = ft.figure(WHEELS).map(x="rind", y="age_days").boxes()
    opened(browser, written(boxes, folder))
    dots = "document.querySelectorAll('[data-marks] circle')"
    count = browser.execute_script(f"return {dots}.length")
    assert count > 3
    beyond = [
        rows.index[(rows > high + 1.5 * (high - low)) | (rows < low - 1.5 * (high - low))]
        for _, rows in WHEELS.groupby("rind")["age_days"]
        for low, high in [(rows.quantile(0.25), rows.quantile(0.75))]
    ]
    place = browser.execute_script(
        f"const box = {dots}[0].getBoundingClientRect(); return [(box.left + box.right) / 2, (box.top + box.bottom) / 2]"
    )
    moved(browser, *place, click=True)
    assert chosen(browser) == "1 of 240 rows"
    assert int(table(browser)["Row"][0]) in np.concatenate(beyond)
    loud = "return document.querySelector('[data-marks]').nextElementSibling.querySelectorAll('circle').length"
    assert browser.execute_script(loud) == 1
    assert not errors(browser)


def test_fields_choose_what_lies_between_two_values(browser, folder):
    from selenium.webdriver.support.ui import Select

    opened(browser, written(PLATE, folder))
    variables = Select(browser.find_element("id", "variable"))
    assert [one.text for one in variables.options] == ["Age (days)", "Mass (kg)", "pH", "Firmness n"]
    low, high, take = (browser.find_element("id", name) for name in ("low", "high", "between"))
    assert (low.get_attribute("placeholder"), high.get_attribute("placeholder")) == (
        str(WHEELS["age_days"].min()),
        str(WHEELS["age_days"].max()),
    )
    for title, column, first, last in (
        ("Mass (kg)", "mass_kg", "2.05", "4.5"),
        ("pH", "ph", "", "5.3"),
        ("Age (days)", "age_days", "90", ""),
    ):
        variables.select_by_visible_text(title)
        low.send_keys(first)
        high.send_keys(last, ENTER)
        ends = (float(first or "-inf"), float(last or "inf"))
        shown = WHEELS if column != "ph" else WHEELS.dropna(subset=["firmness_n"])
        assert chosen(browser) == f"{int(shown[column].between(*ends).sum())} of 240 rows"
    low.clear()
    low.send_keys("9999")
    take.click()
    assert chosen(browser) == ""
    # A figure that computes has no values of its rows to choose by.
    opened(browser, written(ft.figure(WHEELS).map(x="rind").bars(), folder))
    assert not browser.find_element("id", "range").is_displayed()
    # Of choices with a name, it is that of the figure in which the variable stands.
    opened(browser, written(NAMED, folder, width="200 mm"))
    Select(browser.find_element("id", "variable")).select_by_visible_text("Age (days)")
    browser.find_element("id", "high").send_keys("30", ENTER)
    assert browser.current_url.partition("#")[2].startswith("ages=0:")
    assert chosen(browser) == f"{int((WHEELS['age_days'] <= 30).sum())} of 240 rows"
    assert not errors(browser)


@pytest.mark.parametrize("axis", ["x", "y"])
@pytest.mark.parametrize("reverse", [False, True])
def test_bars_are_loud_as_far_as_their_rows_are_chosen(browser, folder, axis, reverse):
    """As in print, the part of the chosen rows stands at the end of the bar."""
    value = {"x": "y", "y": "x"}[axis]
    bars = ft.figure(WHEELS).map(**{axis: "rind"}).bars().scale(value, reverse=reverse)
    light = WHEELS["mass_kg"].between(2, 4.5)
    chooses = BASE.choose("light", along="y", start={"mass_kg": (2, 4.5)})
    opened(browser, written(ft.plate([[chooses, bars.respond("light")]]), folder, width="200 mm"))
    found = browser.execute_script(
        "const group = document.querySelector(`[data-marks^='1-']`);"
        "return [group, group.nextElementSibling].map((one) => [...one.querySelectorAll('rect')].map((rect) =>"
        " ['x', 'y', 'width', 'height'].map((name) => Number(rect.getAttribute(name)))))"
    )
    quiet, loud = (np.array(sorted(one, key=lambda box: box[0 if axis == "x" else 1])) for one in found)
    counts = pd.crosstab(WHEELS["rind"], light)
    length, place = (3, 1) if axis == "x" else (2, 0)
    np.testing.assert_allclose(loud[:, length] / quiet[:, length], counts[True] / counts.sum(axis=1), rtol=1e-3)
    at_start = (axis == "x") != reverse
    edges = [one[:, place] + (0 if at_start else one[:, length]) for one in (quiet, loud)]
    np.testing.assert_allclose(*edges, atol=0.01)


def test_a_named_choice_is_handed_back_as_its_start(browser, folder):
    opened(browser, written(NAMED, folder, width="200 mm"))
    said = browser.execute_async_script(
        "const done = arguments[0]; navigator.clipboard.writeText = async (text) => done(text); document.getElementById('sentence').click()"
    )
    (start,) = (line.removeprefix("start=") for line in said.splitlines() if line.startswith("start="))
    opened(browser, written(BASE.choose("ages", along="x", start=eval(start)), folder))
    assert chosen(browser) == f"{int(WHEELS['age_days'].between(20, 80).sum())} of 240 rows"


def test_lines_are_read_all_at_once(browser, folder):
    data = {"t": [1, 2, 3] * 2, "v": [1.5, 2.5, 4.0, 3.5, 1.0, 2.0], "who": ["a"] * 3 + ["b"] * 3}
    figure = ft.figure(data).map(x="t", y="v", color="who").lines()
    opened(browser, written(figure, folder))
    box = browser.execute_script(
        "const b = document.querySelector('[data-marks] path').getBoundingClientRect(); return [b.left, b.right, b.top, b.bottom]"
    )
    # Anywhere over the middle of the lines.
    moved(browser, (box[0] + box[1]) / 2, (box[2] + box[3]) / 2)
    assert readout(browser) == {"T": "2", "a": "2.5", "b": "1.0"}


def test_a_brush_chooses_rows_in_all_figures_of_the_sheet(browser, folder):
    opened(browser, written(PLATE, folder, width="180 mm"))
    box = browser.execute_script(
        "const b = document.querySelector('[data-marks=\"0-0-0\"]').getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom]"
    )
    # The left tenth of the first figure.
    moved(browser, box[0] - 3, box[1] - 3, drag=(box[0] + (box[2] - box[0]) / 10, box[3] + 3))
    rows = table(browser)
    assert chosen(browser) == f"{len(rows)} of 240 rows"
    picked = WHEELS.iloc[rows["Row"].astype(int)]
    assert picked["age_days"].max() < WHEELS.drop(picked.index)["age_days"].min()
    np.testing.assert_allclose(rows["Mass (kg)"].astype(float), picked["mass_kg"])
    assert rows["pH"].replace("", "nan").astype(float).to_numpy() == pytest.approx(picked["ph"].to_numpy(), nan_ok=True)
    for panel in ("0-0-0", "1-0-0"):
        loud, quiet = browser.execute_script(
            f"const g = document.querySelector('[data-marks=\"{panel}\"]'); const over = g.nextElementSibling;"
            "return [over.querySelectorAll('circle').length, g.style.opacity]"
        )
        assert quiet == "0.18"
        drawn = picked.dropna(subset=["ph", "firmness_n"]) if panel.startswith("1") else picked
        assert loud == len(drawn)
    assert not errors(browser)


def test_shift_adds_and_escape_gives_up(browser, folder):
    opened(browser, written(BASE, folder))
    moved(browser, *stands(BASE, 10, browser), click=True)
    assert chosen(browser) == "1 of 240 rows"
    moved(browser, *stands(BASE, 200, browser), click=True, shift=True)
    assert chosen(browser) == "2 of 240 rows"
    browser.execute_script("document.getElementById('stage').focus()")
    browser.switch_to.active_element.send_keys(ESCAPE)
    assert chosen(browser) == ""
    assert browser.execute_script("return document.querySelectorAll('[data-marks] + g[aria-hidden]').length") == 0


def test_the_legend_and_the_buttons_choose_groups(browser, folder):
    opened(browser, written(BASE, folder))
    name = "washed"
    expected = f"{int((WHEELS['rind'] == name).sum())} of 240 rows"
    browser.execute_script("[...document.querySelectorAll('#groups button')].find((one) => one.textContent === 'washed').click()")
    assert chosen(browser) == expected
    browser.find_element("id", "clear").click()
    texts = browser.find_elements("css selector", ".sheet svg text")
    next(one for one in texts if one.text == name).click()
    assert chosen(browser) == expected


def test_the_keyboard_alone_walks_reads_and_chooses(browser, folder):
    opened(browser, written(FACETED, folder))
    body = browser.find_element("css selector", "body")
    body.send_keys(TAB)
    assert browser.switch_to.active_element.get_attribute("id") == "stage"
    active = browser.switch_to.active_element
    loft = WHEELS[WHEELS["cellar"] == "Loft"]
    active.send_keys(RIGHT)
    assert status(browser).startswith("Points: Panel Loft, Group ")
    first = status(browser)
    ages = []
    group = readout(browser)["Group"]
    for _ in range(3):
        ages.append(float(readout(browser)["Age (days)"]))
        active.send_keys(RIGHT)
    assert ages == sorted(loft[loft["rind"] == group]["age_days"])[:3]
    active.send_keys(HOME)
    assert status(browser) == first
    active.send_keys(DOWN)
    assert readout(browser)["Group"] != group
    active.send_keys(PAGE_DOWN)
    assert readout(browser)["Panel"] != "Loft"
    active.send_keys(ENTER)
    assert chosen(browser) == "1 of 240 rows"
    active.send_keys(ENTER)
    assert chosen(browser) == ""


def test_the_address_keeps_the_choice(browser, folder):
    path = written(BASE, folder)
    opened(browser, path)
    moved(browser, *stands(BASE, 10, browser), click=True)
    first = table(browser)["Row"].tolist()
    state = browser.current_url.partition("#")[2]
    opened(browser, path, f"#{state}")
    assert table(browser)["Row"].tolist() == first
    for odd in ("#rows=9:1", "#rows=0:999999", "#rows=%3Cscript%3E", "#rows=0:5-2", "#x", "#rows=%", "#rows=%E0%A4%A"):
        opened(browser, path, odd)
        assert chosen(browser) == ""
    assert not errors(browser)


def test_chosen_rows_are_saved_as_text_and_said_as_verbs(browser, folder):
    data = pd.DataFrame({"a": [1.0, 2.0, 3.0, 1234.5], "b": [1.0, 4.0, 2.0, 3.0], "c": ["=1+1", "x,y", 'say "so"', "@z"]})
    figure = ft.figure(data).map(x="a", y="b", color="c").points()
    opened(browser, written(figure, folder))
    browser.execute_script(
        "document.getElementById('groups').querySelectorAll('button').forEach((one) => one.dispatchEvent(new MouseEvent('click', { shiftKey: true })))"
    )
    assert chosen(browser) == "4 of 4 rows"
    browser.find_element("id", "save").click()
    end = time.monotonic() + 5
    while not (folder / "rows.csv").exists() and time.monotonic() < end:
        time.sleep(0.05)
    rows = list(csv.reader(io.StringIO((folder / "rows.csv").read_text("utf-8"))))
    assert rows[0] == ["Row", "Group", "A", "B"]
    assert [row[2:] for row in rows[1:]] == [["1.0", "1"], ["2.0", "4"], ["3.0", "2"], ["1234.5", "3"]]
    # What a spreadsheet would take for a formula is quoted.
    assert [row[1] for row in rows[1:]] == ["'=1+1", "x,y", 'say "so"', "'@z"]
    opened(browser, written(BASE, folder), "#rows=0:3-3")
    ages = WHEELS[WHEELS["age_days"] <= 30]
    state = ",".join(map(str, ages.index))
    opened(browser, written(BASE, folder), f"#rows=0:{state}")
    said = browser.execute_async_script(
        "const done = arguments[0]; navigator.clipboard.writeText = async (text) => done(text); document.getElementById('sentence').click()"
    )
    line = next(one for one in said.splitlines() if one.startswith(".keep("))
    kept = eval(f"ft.figure(WHEELS){line.partition('#')[0]}", {"ft": ft, "WHEELS": WHEELS})
    limit = ages["age_days"].max()
    assert len(kept.map(x="age_days", y="mass_kg").points().numbers()) == int((WHEELS["age_days"] <= limit).sum())


def test_the_saved_view_is_what_is_seen(browser, folder):
    from lxml import etree

    opened(browser, written(BASE, folder), "#rows=0:0-9")
    drawing = browser.execute_async_script(
        "const done = arguments[0]; URL.createObjectURL = (blob) => { blob.text().then(done); return '#'; }; document.getElementById('view').click()"
    )
    root = etree.fromstring(drawing.encode())
    quiet = [one for one in root.iter("{*}g") if one.get("opacity") == "0.18"]
    assert len(quiet) == 1
    assert len(list(quiet[0].getnext().iter("{*}circle"))) == 10
    assert not [one for one in root.iter() if one.get("style")]


def test_the_saved_picture_has_the_size_of_print(browser, folder):
    from PIL import Image

    opened(browser, written(BASE, folder, width="127 mm", height="76.2 mm"))
    browser.find_element("id", "picture").click()
    end = time.monotonic() + 10
    while not (folder / "figure.png").exists() and time.monotonic() < end:
        time.sleep(0.05)
    with Image.open(folder / "figure.png") as picture:
        assert picture.size == (1500, 900)
        # Ink where the figure has it: text and marks, not a blank sheet.
        assert len(set(picture.convert("RGB").resize((150, 90)).get_flattened_data())) > 50


def test_settings_of_the_theme_say_how_quiet_marks_are(browser, folder):
    opened(browser, written(BASE.theme(quiet_opacity=0.4, readout_size=14), folder), "#rows=0:0-3")
    assert browser.execute_script("return getComputedStyle(document.querySelector('[data-marks]')).opacity") == "0.4"
    moved(browser, *stands(BASE, 10, browser))
    size = browser.execute_script("return parseFloat(getComputedStyle(document.querySelector('.readout')).fontSize)")
    assert size == pytest.approx(14 * 96 / 72, abs=0.01)


def test_nothing_is_in_the_way_of_screen_readers(browser, folder):
    """What axe-core finds, where the tests are told where it lies."""
    place = os.environ.get("FACETINE_AXE")
    if place is None or not Path(place).exists():
        pytest.skip("there is no axe-core: FACETINE_AXE says where")
    code = Path(place).read_text("utf-8")
    dark = BASE.theme("basalt")
    for figure, state in ((FACETED, ""), (FACETED, "#rows=0:0-9"), (dark, "#rows=0:0-9"), (PLATE, "")):
        opened(browser, written(figure, folder), state)
        browser.execute_script("document.querySelector('details').open = true")
        browser.execute_script(code)
        found = browser.execute_async_script("const done = arguments[0]; axe.run().then((all) => done(all.violations))")
        assert [(one["id"], one["nodes"][0]["html"][:120]) for one in found] == []


def test_prints_as_the_figure(browser, folder):
    import base64

    import pikepdf

    opened(browser, written(BASE, folder, width="150 mm", height="90 mm"), "#rows=0:0-9")
    options = {
        "printBackground": True,
        "paperWidth": 150 / 25.4,
        "paperHeight": 90 / 25.4,
        "marginTop": 0,
        "marginBottom": 0,
        "marginLeft": 0,
        "marginRight": 0,
    }
    content = base64.b64decode(browser.execute_cdp_cmd("Page.printToPDF", options)["data"])
    with pikepdf.open(io.BytesIO(content)) as document:
        assert len(document.pages) == 1
    assert b"Clear" not in content


def pixels(element):
    from PIL import Image

    return np.asarray(Image.open(io.BytesIO(element.screenshot_as_png)).convert("RGB"), np.int64)


WEEK = ft.demo_data("climate").query("time < '2030-01-08'")
SEEN = {
    "panels": FACETED,
    "plate": PLATE,
    "dark": BASE.theme("basalt"),
    "lines": ft.figure(WEEK).map(x="time", y="temp_c", color="cellar").lines(),
    "boxes": ft.figure(WHEELS).map(x="rind", y="firmness_n", color="rind").boxes(),
}
BEGUN = BASE.map(color=None).choose("ages", along="x", start={"age_days": (20, 80)})


@pytest.mark.parametrize("name", list(SEEN))
def test_the_page_at_rest_is_the_figure_to_the_pixel(browser, folder, name):
    figure = SEEN[name]
    opened(browser, written(figure, folder))
    sheet = browser.find_element("css selector", ".sheet > svg")
    page = pixels(sheet)
    box = sheet.rect
    figure.export(folder / "alone.svg", fonts="embed", width="150 mm")
    text = (folder / "alone.svg").read_text("utf-8")
    place = f"position: absolute; left: {box['x']}px; top: {box['y']}px; width: {box['width']}px; height: {box['height']}px"
    ground = browser.execute_script("return getComputedStyle(document.body).backgroundColor")
    style = f"body {{ margin: 0; background: {ground} }} body > svg {{ {place} }}"
    (folder / "alone.html").write_text(
        f"<!DOCTYPE html><html><style>{style}</style><body>{text[text.index('<svg') :]}</body></html>", "utf-8"
    )
    browser.get((folder / "alone.html").as_uri())
    browser.execute_async_script("document.fonts.ready.then(arguments[0])")
    assert np.array_equal(page, pixels(browser.find_element("css selector", "body > svg")))


def test_what_is_chosen_at_first_is_printed_and_nothing_that_was_chosen_since(browser, folder):
    opened(browser, written(BEGUN, folder))
    young = int(WHEELS["age_days"].between(20, 80).sum())
    browser.execute_script("document.getElementById('clear').click()")
    seen = "const one = document.querySelector('[data-marks]'); return one.style.opacity ? one.nextElementSibling.querySelectorAll('circle').length : -1"
    assert browser.execute_script(seen) == -1
    for event, count in (("beforeprint", young), ("afterprint", -1)):
        browser.execute_script(f"window.dispatchEvent(new Event('{event}'))")
        assert browser.execute_script(seen) == count


@pytest.mark.parametrize("name", list(SEEN))
def test_what_is_printed_is_what_our_pdf_shows(browser, folder, name):
    import base64
    import shutil
    import subprocess

    from PIL import Image

    if shutil.which("pdftoppm") is None:
        pytest.skip("there is no pdftoppm")
    files = SEEN[name].export([folder / "printed.html", folder / "ours.pdf"], width="150 mm").files
    opened(browser, folder / "printed.html", "#rows=0:0-9")
    sides = {f"margin{side}": 0 for side in ("Top", "Bottom", "Left", "Right")}
    # A sheet of paper that is a little higher: a page of exactly its height may break.
    paper = {"paperWidth": files[1].width_mm / 25.4, "paperHeight": (files[1].height_mm + 1) / 25.4}
    content = browser.execute_cdp_cmd("Page.printToPDF", {"printBackground": True, **paper, **sides})["data"]
    (folder / "theirs.pdf").write_bytes(base64.b64decode(content))
    seen = []
    for one in ("theirs", "ours"):
        subprocess.run(["pdftoppm", "-r", "96", "-png", "-singlefile", f"{one}.pdf", one], cwd=folder, check=True)
        seen.append(np.asarray(Image.open(folder / f"{one}.png").convert("L"), np.int64))
    height, width = np.minimum(seen[0].shape, seen[1].shape)
    assert abs(np.array(seen[0].shape) - seen[1].shape).max() <= 6
    theirs, ours = (one[:height, :width] for one in seen)
    assert (abs(theirs - ours) > 64).mean() < 0.01


def test_a_page_of_odd_texts_is_calm(browser, folder):
    odd = [
        "</script><script>document.title='x'</script>",
        "<img src=x onerror=\"document.title='x'\">",
        "{{a}}",
        "${a}",
        "\u202eback",
        "a\x00b",
        "日本",
    ]
    figure = (
        ft.figure({"a": range(len(odd)), "b": range(len(odd)), "c": odd}).map(x="a", y="b", color="c").points().titles("<b>&amp;")
    )
    opened(browser, written(figure, folder))
    browser.find_element("id", "stage").send_keys(RIGHT)
    browser.execute_script("[...document.querySelectorAll('#groups button')].forEach((one) => one.click())")
    assert browser.title == "<b>&amp;"
    assert not errors(browser)


FORMS = {
    "as it is": lambda figure, _: figure,
    "in panels": lambda figure, data: figure.facet("cellar" if "cellar" in data else "product"),
    "axes swapped": lambda figure, _: figure.swap_axes(),
    "x logarithmic": lambda figure, _: figure.scale("x", "log"),
    "y logarithmic": lambda figure, _: figure.scale("y", "log"),
}
READOUTS = Path(__file__).parents[2] / "docs" / "readouts.md"
HEAD = """# What readouts say

What a [page](pages.md) tells of the first mark of each layer: at the pointer, and by keys. Read in a browser, from the small figures of
[layers](layers.md); those that can't be drawn so are left out. `tests/page/test_browsers.py` reads it anew, and writes it where
`FACETINE_WRITE` is set.

| layer | figure | readout |
|---|---|---|
"""


def readable(example, data):
    """The figure of an example, with its variables under their own names."""
    steps = [{"keep": example.keep}] if example.keep is not None else []
    return ft.from_dict({"steps": steps, "map": example.mapped, "layers": example.layers}, data)


def test_every_layer_is_read_by_pointer_and_keys(browser, folder):
    """In panels, with its axes swapped, on log and on time axes: what is told stands in the docs."""
    climate = ft.demo_data("climate")
    frames = {"wheels": WHEELS, "sales": ft.demo_data("sales"), "climate": climate[climate["time"] < "2030-01-08"]}
    rows, unread = [], []
    for name in LAYERS.ours():
        title = name.capitalize()
        for example in LAYERS[name].examples:
            called = f"`{name}`" if example.called in (None, "", name) else f"`{name}`: {example.called}"
            for form, changed in FORMS.items():
                try:
                    figure = changed(readable(example, frames[example.data]), frames[example.data])
                    path = written(figure, folder, width="120 mm")
                except ft.FacetineError:
                    continue
                opened(browser, path)
                said = read_by_keys(browser, title)
                assert not errors(browser), (name, form)
                if said is None:
                    unread.append(name)
                    continue
                rows.append(f"| {called} | {form} | {said.partition(': ')[2]} |")
                pointed_at(browser, (name, form))
    # Marks that stand for no row and no number of their own.
    assert set(unread) <= {"reference", "region", "callout", "function"}
    made = HEAD + "\n".join(rows) + "\n"
    if "FACETINE_WRITE" in os.environ:
        READOUTS.write_text(made, "utf-8")
    assert READOUTS.read_text("utf-8") == made


def read_by_keys(browser, title):
    """What the keys come to first in a layer; None where they never reach it."""
    browser.execute_script("document.getElementById('stage').focus()")
    stage = browser.switch_to.active_element
    stage.send_keys(RIGHT)
    for _ in range(12):
        if status(browser).startswith(f"{title}: "):
            return status(browser)
        stage.send_keys(DOWN)
    return None


def pointed_at(browser, what):
    """The pointer at the mark of the keys tells the same, or of another mark that lies there as well."""
    lines = readout(browser)
    ring = "const box = document.querySelector('.ring').getBoundingClientRect(); return [box.x, box.y, box.width, box.height]"
    x, y, width, height = browser.execute_script("document.querySelector('.ring').scrollIntoView({ block: 'center' });" + ring)
    moved(browser, x + width / 2, y + height / 2)
    found = readout(browser)
    assert found, what
    if np.allclose(browser.execute_script(ring), (x, y, width, height), atol=0.5):
        assert found == lines, what


NUMBERS = random.Random(7)


def test_the_browser_writes_numbers_and_times_as_python_does(browser, folder):
    opened(browser, written(BASE, folder))
    doubles = [NUMBERS.uniform(-1, 1) * 10 ** NUMBERS.randint(-12, 20) for _ in range(20_000)]
    doubles += [0.0, 5e-324, 1.7976931348623157e308, 1234565.0, 2.5, 1e15, 999999.5, 9999995.0, 1e-5, 9.9999995e-6]
    wholes = [(NUMBERS.randint(-(10**9), 10**9), NUMBERS.randint(0, 6)) for _ in range(20_000)]
    times = [(NUMBERS.randint(-(10**11), 10**11), unit) for unit in (DAY // 10**6, MINUTE, SECOND) for _ in range(5)]
    times = [(NUMBERS.randint(-40_000, 40_000), DAY) for _ in range(7000)]
    times += [(NUMBERS.randint(-(10**8), 10**8), MINUTE) for _ in range(7000)] + [
        (NUMBERS.randint(-(10**10), 10**10), SECOND) for _ in range(6000)
    ]
    code = script_of().partition("const LONGEST_STATE")[0]
    read = browser.execute_script(
        f"{code}\nconst [doubles, decimals, times] = JSON.parse(arguments[0]);"
        "return [doubles.map(numberText), decimals.map(([whole, places]) => decimalText(whole, places)), times.map(([count, unit]) => timeText(count, unit))]",
        json.dumps([doubles, wholes, times]),
    )
    assert read[0] == [number_text(value, None) for value in doubles]
    assert read[1] == [number_text(whole / 10**places, places) for whole, places in wholes]
    assert read[2] == [time_text(count, unit) for count, unit in times]
