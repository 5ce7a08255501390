"""Pages in another browser: the same words, choices and views."""

import json

import numpy as np
import pytest
from page.browsers import written

import facetine as ft
from facetine.layers import LAYERS

pytestmark = pytest.mark.pages
RIGHT, DOWN, END, ENTER, ESCAPE = "\ue014", "\ue015", "\ue010", "\ue007", "\ue00c"
WHEELS = ft.demo_data("wheels")
LOFT = ft.demo_data("climate").query("cellar == 'Loft'").head(2000)
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points()
SPAN = ft.figure(LOFT).map(x="time", y="temp_c").lines()


@pytest.fixture
def page(firefox, folder):
    firefox.get(written(BASE, folder, "firefox"))
    return firefox


def status(page):
    return page.run("document.getElementById('status').textContent")


def chosen(page):
    return page.run("document.getElementById('count').textContent")


def frame(page):
    page.run("new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done(1))))")


def view(page):
    return page.run("decodeURIComponent((/@=([^&]*)/.exec(location.hash) ?? ['', ''])[1])")


def inside(page, x, y, panel=0):
    """A place of the window, from shares of a panel."""
    box = json.loads(
        page.run(f"JSON.stringify(JSON.parse(document.getElementById('figure-data').textContent).said.panels[{panel}].box)")
    )
    left, top, scale = json.loads(
        page.run(
            "(() => { const s = document.querySelector('.sheet > svg'); const b = s.getBoundingClientRect();"
            " return JSON.stringify([b.left, b.top, b.width / s.viewBox.baseVal.width]); })()"
        )
    )
    return left + scale * (box[0] + x * (box[2] - box[0])), top + scale * (box[3] - y * (box[3] - box[1]))


def test_the_pointer_reads(page):
    place = json.loads(page.run("JSON.stringify(document.querySelectorAll('[data-marks] circle')[17].getBoundingClientRect())"))
    page.drag((place["left"] + place["width"] / 2, place["top"] + place["height"] / 2))
    words = page.run("document.querySelector('.readout').textContent")
    assert "Age (days)" in words
    assert "Mass (kg)" in words


def test_keys_read_and_choose(page):
    page.run("document.getElementById('stage').focus()")
    page.press(RIGHT)
    assert "Points: Group" in status(page)
    page.press(ENTER)
    assert chosen(page) == "1 of 240 rows"
    assert page.run("document.querySelectorAll('[data-marks] + g circle').length") == 1
    assert page.run("document.querySelectorAll('#rows tbody tr').length") == 1
    page.press(ESCAPE)
    assert chosen(page) == ""


def test_a_brush_chooses_and_stays(page):
    page.drag(inside(page, 0, 0), inside(page, 1, 1))
    assert chosen(page) == "240 of 240 rows"
    assert page.run("document.querySelector('.brush').hidden") is False
    page.drag(inside(page, 0.3, 0.02), inside(page, 0.3, 0.02))
    page.press(ESCAPE)


def test_an_address_opens_its_choice(firefox, folder):
    firefox.get(written(BASE, folder, "firefox"), "#rows=0:0-9")
    assert chosen(firefox) == "10 of 240 rows"
    assert float(firefox.run("document.querySelector('[data-marks]').style.opacity")) == pytest.approx(0.18)


def test_names_in_the_legend_and_buttons_choose_groups(page):
    page.run("[...document.querySelectorAll('#groups button')].find((one) => one.textContent === 'washed').click()")
    count = int((WHEELS["rind"] == "washed").sum())
    assert chosen(page) == f"{count} of 240 rows"
    page.run("document.getElementById('clear').click()")
    page.run(
        "[...document.querySelectorAll('g[id*=legend] text')].find((one) => one.textContent === 'washed').dispatchEvent(new Event('click', { bubbles: true }))"
    )
    assert chosen(page) == f"{count} of 240 rows"


def test_fields_choose_rows(page):
    page.run(
        "document.getElementById('low').value = '50'; document.getElementById('high').value = '90'; document.getElementById('between').click()"
    )
    count = int(WHEELS["age_days"].between(50, 90).sum())
    assert chosen(page) == f"{count} of 240 rows"


def test_the_wheel_and_the_keys_look_closer(page):
    x, y = inside(page, 0.5, 0.5)
    page.run(
        f"document.getElementById('stage').dispatchEvent(new WheelEvent('wheel', {{ deltaY: -200, clientX: {x}, clientY: {y}, bubbles: true, cancelable: true }}))"
    )
    page.run("new Promise((done) => setTimeout(() => done(1), 600))")
    assert view(page).startswith("0:")
    assert ";1:" in view(page)
    assert status(page).startswith("Seen: Age (days) from ")
    page.run("document.getElementById('stage').focus()")
    page.press("0")
    frame(page)
    assert view(page) == ""


def test_a_box_and_a_drag_look_closer_and_move(page):
    page.run("document.getElementById('drag').value = 'closer'")
    page.drag(inside(page, 0.25, 0.25), inside(page, 0.75, 0.75))
    frame(page)
    first = view(page)
    assert first
    page.run("document.getElementById('drag').value = 'move'")
    page.drag(inside(page, 0.4, 0.5), inside(page, 0.6, 0.5))
    frame(page)
    assert view(page) not in ("", first)
    page.run("document.getElementById('back').click()")
    frame(page)
    assert view(page) == first


def test_ticks_are_those_of_another_browser(firefox, folder, browser):
    from page.browsers import opened
    from page.test_views import TICKS, look

    path = written(SPAN, folder, "ticks")
    opened(browser, path)
    look(browser, 0, "2030-01-10", "2030-01-20 12:00")
    firefox.get(path)
    firefox.run(
        "document.getElementById('first').value = '2030-01-10'; document.getElementById('last').value = '2030-01-20 12:00'; document.getElementById('see').click()"
    )
    frame(firefox)
    found = json.loads(
        firefox.run(
            "JSON.stringify([...document.querySelectorAll(`[data-panel='0-0'] > g[id$='-x-axis'] > text`)].map((one) => one.textContent))"
        )
    )
    assert found == browser.execute_script(TICKS, "0-0", "x")
    assert "Jan 2030" in found


def test_an_overview_sets_its_detail(firefox, folder):
    start = {"time": ("2030-01-10", "2030-01-20")}
    plate = ft.plate([[SPAN.respond("span", "limits")], [SPAN.choose("span", along="x", start=start)]])
    firefox.get(written(plate, folder, "overview", height="110 mm"))
    frame(firefox)
    assert view(firefox) == "0:2030-01-10~2030-01-20"
    firefox.drag(inside(firefox, 0.6, 0.5, 1), inside(firefox, 0.8, 0.5, 1))
    frame(firefox)
    assert view(firefox) > "0:2030-02"


@pytest.mark.parametrize("name", sorted(LAYERS.ours()))
def test_every_layer_is_read_by_keys(name, firefox, folder, monkeypatch):
    import sys
    from pathlib import Path

    monkeypatch.setattr(sys, "path", [*sys.path, str(Path(__file__).parents[2] / "examples")])
    import layers

    firefox.get(written(layers.figure(name), folder, "layer", width="90 mm"))
    firefox.run("document.getElementById('stage').focus()")
    firefox.press(RIGHT)
    said = status(firefox)
    marks = firefox.run("JSON.parse(document.getElementById('figure-data').textContent).said.layers.length")
    assert bool(said) == bool(marks)
    if said:
        ring = json.loads(firefox.run("JSON.stringify(document.querySelector('.ring').getBoundingClientRect())"))
        middle = ring["left"] + ring["width"] / 2, ring["top"] + ring["height"] / 2
        firefox.drag(middle)
        assert firefox.run("document.querySelector('.readout').hidden") is False
        assert np.isfinite(middle).all()
