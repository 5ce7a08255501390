"""Pages whose figures are computed of chosen rows, in browsers: brushes, readouts, views, and what is said of which rows."""

import base64
import io
import json

import numpy as np
import pandas as pd
import pytest
from page.browsers import errors, moved, opened, written
from page.test_browsers import chosen, pixels, readout

import facetine as ft

pytestmark = pytest.mark.pages
WHEELS = ft.demo_data("wheels")
BASE = ft.figure(WHEELS)
AGES = BASE.map(x="age_days", y="mass_kg").points()
EVERY = f"#young=0:0-{len(WHEELS) - 1}"
COUNTS = BASE.map(x="rind").bars()
LOOKS = {
    "bars": BASE.map(x="rind", color="milk").bars(),
    "bordered": BASE.map(x="rind", y="mass_kg", color="milk").bars(aggregate="mean", outline="black"),
    "lying bars": BASE.map(y="rind", color="milk").bars(arrange="share"),
    "histogram": BASE.map(x="mass_kg", color="milk").histogram(measure="density").facet("milk", separate="xy"),
    "boxes": BASE.map(x="rind", y="firmness_n", color="milk").boxes(notches=True),
    "lying boxes": BASE.map(y="rind", x="firmness_n").boxes().scale("x", "log"),
    "cells": BASE.map(x="moisture_pct", y="ph", color="mass_kg").cells(aggregate="mean", bins=12),
    "classes": BASE.map(x="rind", y="cellar").cells().scale("color", "classed"),
    "tally": BASE.map(x="rind", y="cellar", color="milk").points(arrange="tally"),
    "cumulative": BASE.map(x="mass_kg", color="rind").cumulative(),
    "lines": BASE.map(x="age_days", y="firmness_n", dash="milk").lines(aggregate="mean", bins=10, steps=True),
    "names": BASE.map(x="rind", y="ph", color="milk").lines(aggregate="mean").points(aggregate="mean", shape="diamond"),
    "reference": BASE.map(x="age_days", y="ph", color="milk").points().reference(aggregate="mean", per="group"),
    "trend": BASE.map(x="age_days", y="firmness_n").trend().scale("x", "log").scale("y", "log"),
    "intervals": BASE.map(x="rind", y="firmness_n", color="milk").intervals(caps=4),
    "on bars": BASE.map(y="rind", x="firmness_n").bars(aggregate="mean").intervals(boxed=True),
    "highlight": BASE.map(x="rind", y="ph").bars(aggregate="mean").highlight("rind = 'washed'"),
    "rows": BASE.map(x="age_days", y="firmness_n").points(shape="open_disc").rug().facet("milk"),
}


def plate(figure, start=None, **how):
    return ft.plate([[AGES.choose("young", along="x", start=start), figure.respond("young", "keep", **how)]])


def caption(driver):
    return driver.execute_script("return document.getElementById('kept').textContent")


def heights(driver):
    """The lengths of the bars that are seen, from left to right."""
    found = driver.execute_script(
        "return [...document.querySelectorAll('g[aria-hidden] > path')].map((one) => [one.getAttribute('fill'), one.getAttribute('d')])"
    )
    bars = []
    for fill, path in found:
        for ring in path.split("M")[1:]:
            corners = np.array([[float(value) for value in corner.split()] for corner in ring.rstrip("Z").split("L")])
            bars.append((fill, corners[:, 0].min(), np.ptp(corners[:, 1])))
    return bars


@pytest.mark.parametrize("name", LOOKS)
def test_what_is_computed_anew_of_all_rows_looks_as_print_does(name, browser, folder):
    path = written(plate(LOOKS[name], show_all=False), folder, width="200 mm", height="90 mm")
    seen = []
    for state in ("", EVERY):
        opened(browser, path, state)
        browser.execute_async_script("document.fonts.ready.then(arguments[0])")
        image = pixels(browser.find_element("css selector", ".sheet > svg"))
        seen.append(image[:, image.shape[1] // 2 :])
    assert chosen(browser) == f"{len(WHEELS)} of {len(WHEELS)} rows"
    assert browser.execute_script("return document.querySelectorAll('.sheet g[aria-hidden]').length") > 0
    off = np.abs(seen[0] - seen[1]).max(axis=2)
    # Shapes that share an edge are smoothed there together or apart.
    assert (off > 80).mean() < 2e-5
    assert (off > 20).mean() < 0.01
    assert errors(browser) == []


def drag(driver, low, high, release=True):
    """A brush over the first figure between two shares of its sheet."""
    from selenium.webdriver.common.action_chains import ActionChains

    box = driver.execute_script(
        "const b = document.querySelector('.sheet > svg').getBoundingClientRect(); return [b.left, b.top, b.width, b.height]"
    )
    place = [round(box[0] + share * box[2]) for share in (low, (low + high) / 2, high)]
    chain = ActionChains(driver, duration=20)
    pointer = chain.w3c_actions.pointer_action
    pointer.move_to_location(place[0], round(box[1] + box[3] / 2))
    chain.click_and_hold()
    for x in place[1:]:
        pointer.move_to_location(x, round(box[1] + box[3] / 2))
    if release:
        chain.release()
    chain.perform()
    driver.execute_async_script("requestAnimationFrame(() => requestAnimationFrame(arguments[0]))")
    return chain


def test_counts_follow_a_brush_while_it_is_drawn_and_all_rows_stay_in_sight(browser, folder):
    opened(browser, written(plate(COUNTS), folder, width="200 mm", height="90 mm"))
    assert caption(browser) == ""
    drag(browser, 0.08, 0.3, release=False)
    moving = caption(browser)
    assert moving.startswith("Of ")
    assert moving.endswith("Outlines: all rows.")
    browser.execute_script("document.getElementById('stage').dispatchEvent(new PointerEvent('pointercancel'))")
    drag(browser, 0.08, 0.2)
    rows = browser.execute_script(
        "return [...document.querySelectorAll('#rows tr')].slice(1).map((row) => Number(row.children[0].textContent))"
    )
    held = int(chosen(browser).split(" ")[0])
    assert f"Of {held} of {len(WHEELS)} rows (young)." in caption(browser)
    assert len(rows) == min(held, 200)
    every = WHEELS["rind"].value_counts()
    unit = max(length for fill, _, length in heights(browser) if fill == "#ffffff") / every.max()
    counts = WHEELS.loc[rows, "rind"].value_counts().sort_index()
    bars = [length / unit for fill, _, length in sorted(heights(browser), key=lambda one: one[1]) if fill != "#ffffff"]
    assert bars == pytest.approx(counts.tolist(), abs=0.05)


def test_readouts_say_of_how_many_rows_a_number_is_and_what_is_of_all(browser, folder):
    figure = BASE.map(x="rind", y="ph").violins().bars(aggregate="mean")
    opened(browser, written(plate(figure), folder, width="200 mm", height="90 mm"), "#young=0:0-59")
    assert caption(browser).startswith(f"Of 60 of {len(WHEELS)} rows (young).")
    assert "Of all rows: violins." in caption(browser)
    box = browser.execute_script(
        "const d = [...document.querySelectorAll('g[aria-hidden] path')].pop().getBoundingClientRect(); return [d.left, d.top, d.width, d.height]"
    )
    moved(browser, box[0] + 8, box[1] + box[3] - 8)
    said = readout(browser)
    assert said["Of"] == "60 chosen"
    violin = browser.execute_script(
        "const d = [...document.querySelectorAll('[id*=\"-violins\"] path')].pop().getBoundingClientRect(); return [d.left + d.width / 2, d.top + 4]"
    )
    moved(browser, *violin)
    assert readout(browser)["Of"] in ("all rows", "60 chosen")
    first = WHEELS.iloc[:60]
    assert float(said["pH"]) == pytest.approx(first.groupby("rind")["ph"].mean().iloc[0], abs=0.01)


def test_a_view_that_is_saved_says_of_which_rows_it_is_and_holds_no_hidden_marks(browser, folder):
    from lxml import etree

    opened(browser, written(plate(COUNTS), folder, width="200 mm", height="90 mm"), "#young=0:0-59")
    saved = browser.execute_async_script(
        "const done = arguments[0]; URL.createObjectURL = (blob) => { blob.text().then(done); return '#'; }; document.getElementById('view').click()"
    )
    root = etree.fromstring(saved.encode())
    assert f"Of 60 of {len(WHEELS)} rows (young). Outlines: all rows." in [one.text for one in root.iter("{*}text")]
    assert not [one for one in root.iter() if one.get("style") or one.get("display") == "none"]
    rectangles = [one for one in root.iter("{*}rect") if one.getparent().tag.endswith("}g") and one.get("fill") == "#3448ae"]
    assert rectangles == []
    picture = browser.execute_async_script(
        "const done = arguments[0]; URL.createObjectURL = (blob) => { if (blob.type !== 'image/png') return '#';"
        " const reader = new FileReader(); reader.onload = () => done(reader.result); reader.readAsDataURL(blob); return '#'; };"
        "document.getElementById('picture').click()"
    )
    from PIL import Image

    image = Image.open(io.BytesIO(base64.b64decode(picture.split(",")[1])))
    assert image.height > round(90 / 25.4 * 300) + 20


def test_what_is_chosen_at_first_is_printed(browser, folder):
    start = {"age_days": (20, 80)}
    opened(browser, written(plate(COUNTS, start), folder, width="200 mm", height="90 mm"))
    young = int(WHEELS["age_days"].between(20, 80).sum())
    assert f"Of {young} of {len(WHEELS)} rows" in caption(browser)
    assert not browser.execute_script("return document.querySelector('.brush').hidden")
    browser.execute_script("document.getElementById('clear').click()")
    assert caption(browser) == ""
    assert heights(browser) == []
    for event, said in (("beforeprint", f"Of {young} of"), ("afterprint", "")):
        browser.execute_script(f"window.dispatchEvent(new Event('{event}'))")
        assert caption(browser).startswith(said)
        assert bool(heights(browser)) == bool(said)


@pytest.mark.parametrize("rows", ["", "7", "0-4"])
def test_no_row_one_row_and_few_rows(rows, browser, folder):
    """Where nothing is chosen all is as it was; a line through one row is said to be none."""
    figure = BASE.map(x="age_days", y="firmness_n", color="milk").trend().facet("rind")
    opened(browser, written(plate(figure), folder, width="200 mm", height="90 mm"), f"#young=0:{rows}" if rows else "")
    assert caption(browser) == "" if not rows else caption(browser).startswith("Of ")
    if rows == "7":
        assert "Trend: 1 of too few rows." in caption(browser)
    assert errors(browser) == []


def test_looking_closer_moves_what_was_computed(browser, folder):
    figure = BASE.map(x="mass_kg", y="firmness_n").trend(level=None)
    opened(browser, written(plate(figure), folder, width="200 mm", height="90 mm"), "#young=0:0-99")

    def line():
        return browser.execute_script("return [...document.querySelectorAll('g[aria-hidden] > path')].pop().getAttribute('d')")

    before = [float(corner.split(" ")[0]) for corner in line()[1:].split("L")]
    browser.execute_script(
        "const s = document.getElementById('axis'); s.value = [...s.options].find((o) => o.textContent === 'Mass (kg) in figure 2').value;"
        "s.dispatchEvent(new Event('change')); document.getElementById('first').value = '2'; document.getElementById('last').value = '4';"
        "document.getElementById('see').click()"
    )
    browser.execute_async_script("requestAnimationFrame(() => requestAnimationFrame(arguments[0]))")
    after = [float(corner.split(" ")[0]) for corner in line()[1:].split("L")]
    assert np.ptp(after) > 2 * np.ptp(before)
    assert browser.execute_script(
        "return [...document.querySelectorAll('g[aria-hidden]')].some((one) => one.hasAttribute('clip-path'))"
    )


def test_of_very_many_rows_a_part_stands_for_all_while_the_brush_moves(browser, folder):
    rng = np.random.default_rng(3)
    many = 320_000
    frame = pd.DataFrame({"a": np.round(rng.normal(50, 12, many), 1), "kind": rng.choice(["one", "two"], many)})
    base = ft.figure(frame)
    source = base.map(x="a").histogram().choose("some", along="x")
    both = ft.plate([[source, base.map(x="kind").bars().respond("some", "keep")]])
    opened(browser, written(both, folder, width="200 mm", height="90 mm"))
    drag(browser, 0.15, 0.35, release=False)
    assert caption(browser).endswith("While the brush moves: one row in 2.")
    browser.execute_script("document.getElementById('stage').dispatchEvent(new PointerEvent('pointercancel'))")
    drag(browser, 0.15, 0.35)
    assert "While the brush" not in caption(browser)
    assert "Of " in caption(browser)


def test_figures_that_choose_of_each_other_meet_and_keep_their_brushes(browser, folder):
    ages = BASE.map(x="age_days").histogram().choose("ages", along="x").respond("hard", "keep")
    hard = BASE.map(x="firmness_n").histogram().choose("hard", along="x").respond("ages", "keep")
    both = BASE.map(x="rind", y="ph").boxes().respond("ages", "keep").respond("hard", "keep")
    opened(browser, written(ft.plate([[ages, hard], [both, None]]), folder, width="200 mm", height="160 mm"))
    box = browser.execute_script(
        "const b = document.querySelector('.sheet > svg').getBoundingClientRect(); return [b.left, b.top, b.width, b.height]"
    )
    for low, high in ((0.08, 0.2), (0.6, 0.8)):
        y = box[1] + 0.25 * box[3]
        moved(browser, box[0] + low * box[2], y, drag=(box[0] + high * box[2], y))
    rows = browser.execute_script("return new Map(location.hash.slice(1).split('&').map((one) => one.split('='))).size")
    assert rows == 2
    state = dict(part.split("=") for part in browser.execute_script("return location.hash.slice(1)").split("&"))

    def numbers(text):
        runs = [run.split("-") for run in text.split(":")[1].split(",")]
        return {row for run in runs for row in range(int(run[0]), int(run[-1]) + 1)}

    young, firm = numbers(state["ages"]), numbers(state["hard"])
    said = f"Of {len(firm)} of 240 rows (hard) in figure 1. Of {len(young)} of 240 rows (ages) in figure 2. "
    assert caption(browser).startswith(f"{said}Of {len(young & firm)} of 240 rows (ages, hard) in figure 3.")
    assert browser.execute_script("return [...document.querySelectorAll('.brush')].filter((one) => !one.hidden).length") == 2


def test_firefox_computes_the_same(firefox, folder):
    path = written(plate(BASE.map(x="rind", y="ph").boxes(outliers=False)), folder, "fox", width="200 mm", height="90 mm")
    firefox.get(path, "#young=0:0-119")
    drawn = json.loads(
        firefox.run("JSON.stringify([...document.querySelectorAll('g[aria-hidden] > path')].map((one) => one.getAttribute('d')))")
    )
    said = firefox.run("document.getElementById('kept').textContent")
    assert said == f"Of 120 of {len(WHEELS)} rows (young)."
    middles = [float(part.split("L")[0].split(" ")[1]) for part in drawn[-1].split("M")[1:]]
    medians = WHEELS.iloc[:120].groupby("rind")["ph"].median().to_numpy()
    fit = np.polyfit(medians, middles, 1)
    assert np.abs(np.polyval(fit, medians) - middles).max() < 0.02


def test_a_page_without_values_counts_and_leaves_what_needs_values_as_it_is(browser, folder):
    figure = BASE.map(x="rind", y="ph").boxes()
    both = ft.plate([[AGES.choose("young", along="x"), COUNTS.respond("young", "keep"), figure.respond("young", "keep")]])
    opened(browser, written(both, folder, width="200 mm", height="90 mm", data="positions"), "#young=0:0-59")
    assert caption(browser) == f"Of 60 of {len(WHEELS)} rows (young). Outlines: all rows. Of all rows: boxes."
    assert "of the rows" not in browser.execute_script("return document.querySelector('details').textContent")
