"""What is seen of axes on pages: the same marks and ticks as in print with these limits, by whatever gesture."""

import json
import re
import time
from pathlib import Path

import numpy as np
import pytest
from page.browsers import errors, moved, opened, status, written

import facetine as ft
from facetine.layers import LAYERS

pytestmark = pytest.mark.pages
WHEELS = ft.demo_data("wheels")
CLIMATE = ft.demo_data("climate").query("cellar == 'Loft'")
BASE = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="rind").points()

# Where marks stand in their panels, as shares of these from the lower left corner: those that are seen.
SEEN = """
const [box, panel] = arguments;
const group = document.querySelector(`[data-panel="${panel}"]`);
const share = ([x, y]) => [(x - box[0]) / (box[2] - box[0]), (box[3] - y) / (box[3] - box[1])];
const found = [];
for (const one of group.querySelectorAll('[data-marks] circle, [data-marks] use, [data-marks] rect, [data-marks] path')) {
  if (one.closest('defs, clipPath') || one.getAttribute('display') === 'none') continue;
  const number = (name) => Number(one.getAttribute(name));
  if (one.tagName === 'circle') found.push(share([number('cx'), number('cy')]));
  if (one.tagName === 'use') found.push(share([number('x'), number('y')]));
  if (one.tagName === 'rect') {
    found.push(share([number('x'), number('y')]), share([number('x') + number('width'), number('y') + number('height')]));
  }
  if (one.tagName === 'path') {
    const places = one.getAttribute('d').split('m')[0].match(/-?[\\d.]+/g).map(Number);
    for (let at = 0; at + 1 < places.length; at += 2) found.push(share([places[at], places[at + 1]]));
  }
}
return found.filter((at) => at.every((side) => side > 0.002 && side < 0.998));
"""
TICKS = (
    'return [...document.querySelectorAll(`[data-panel="${arguments[0]}"] > g[id$="-${arguments[1]}-axis"] > text`)]'
    ".map((one) => one.textContent)"
)


def model(path):
    (carried,) = re.findall(r'id="figure-data">(.*?)</script>', path.read_text("utf-8"))
    return json.loads(carried)["said"]


def named(panel):
    return f"{panel['member']}-{panel['number']}"


def frame(driver):
    driver.execute_async_script("requestAnimationFrame(() => requestAnimationFrame(() => arguments[0]()))")


def look(driver, axis, low, high):
    """Says in the fields what is to be seen of an axis, by its number on the page."""
    driver.execute_script(
        "document.getElementById('axis').selectedIndex = arguments[0];"
        "document.getElementById('axis').dispatchEvent(new Event('change'));"
        "[document.getElementById('first').value, document.getElementById('last').value] = [arguments[1], arguments[2]];"
        "document.getElementById('see').click();",
        axis,
        low,
        high,
    )
    frame(driver)


def turn(driver, x, y, pixels, **keys):
    """Turns the wheel at a place of the window."""
    driver.execute_script(
        "const [x, y, pixels, keys] = arguments; document.getElementById('stage').dispatchEvent("
        "new WheelEvent('wheel', { deltaY: pixels, clientX: x, clientY: y, bubbles: true, cancelable: true, ...keys }))",
        x,
        y,
        pixels,
        keys,
    )
    frame(driver)


def settled(driver):
    time.sleep(0.45)
    frame(driver)


def view(driver):
    """The view in the address, by the numbers of axes."""
    state = driver.execute_script("return decodeURIComponent(location.hash.slice(1))")
    found = dict(part.split("=", 1) for part in state.split("&") if "=" in part).get("@", "")
    return {int(number): tuple(ends.split("~")) for number, ends in (part.split(":", 1) for part in found.split(";") if part)}


def inside(driver, x, y, panel=0):
    """A place of the window, from shares of a panel."""
    box = driver.execute_script(
        "return JSON.parse(document.getElementById('figure-data').textContent).said.panels[arguments[0]].box", panel
    )
    left, top, scale = driver.execute_script(
        "const s = document.querySelector('.sheet > svg'); const b = s.getBoundingClientRect(); return [b.left, b.top, b.width / s.viewBox.baseVal.width]"
    )
    return left + scale * (box[0] + x * (box[2] - box[0])), top + scale * (box[3] - y * (box[3] - box[1]))


FIGURES = {
    "two layers": (ft.figure(WHEELS).map(x="age_days", y="mass_kg").points().trend().scale("x", "log"), "x", (30, 200)),
    "two uneven": (BASE.trend().scale("y", "sqrt").scale("x", "log"), "y", (2, 8)),
    "swapped lines": (
        ft.figure(CLIMATE.head(900)).map(x="time", y="temp_c").lines().swap_axes(),
        "y",
        ("2030-01-05", "2030-01-15"),
    ),
    "swapped bins": (ft.figure(WHEELS).map(x="firmness_n").histogram(edges=list(range(0, 100, 5))).swap_axes(), "y", (20, 61)),
    "groups": (ft.figure(WHEELS).map(y="ph", color="milk").qq(), "y", (5.1, 5.5)),
    "points": (BASE, "x", (50, 130)),
    "points up": (BASE, "y", (3, 7.5)),
    "log": (BASE.scale("x", "log"), "x", (30, 200)),
    "root": (BASE.scale("y", "sqrt"), "y", (2, 9)),
    "signed log": (BASE.scale("y", "signed_log"), "y", (2, 9)),
    "reversed": (BASE.scale("x", reverse=True), "x", (50, 130)),
    "percent": (
        ft.figure(WHEELS).derive(s="moisture_pct / 100").map(x="s", y="ph").points().scale("x", format="percent"),
        "x",
        (0.4, 0.5),
    ),
    "facets": (BASE.facet("cellar"), "x", (50, 130)),
    "histogram": (ft.figure(WHEELS).map(x="firmness_n").histogram(edges=list(range(0, 100, 5))), "x", (20, 61)),
    "times": (ft.figure(CLIMATE).map(x="time", y="temp_c").lines(), "x", ("2030-03-01", "2030-03-20 12:00")),
    "trend": (ft.figure(WHEELS).map(x="age_days", y="mass_kg").trend(), "x", (60, 200)),
    "intervals": (ft.figure(WHEELS).map(x="rind", y="firmness_n").intervals(), "y", (20, 50)),
    "shapes": (BASE.map(shape="milk"), "x", (50, 130)),
    "swapped": (BASE.swap_axes(), "y", (50, 130)),
    "many": (
        ft.figure({"a": np.arange(6_000) % 97, "b": np.arange(6_000) % 89}).map(x="a", y="b").points(rasterize=False),
        "x",
        (20, 40),
    ),
}


def touched(driver, sort, *places):
    """Fingers at places of the window, as a screen tells them."""
    points = [{"x": x, "y": y, "id": finger} for finger, (x, y) in enumerate(places)]
    driver.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": sort, "touchPoints": points})


def test_two_fingers_look_closer_and_one_still_draws_a_brush(browser, folder):
    figure = ft.figure(ft.demo_data("wheels")).map(x="age_days", y="mass_kg").points()
    opened(browser, written(figure, folder, width="150 mm"))
    box = browser.execute_script(
        "const b = document.querySelector('.sheet > svg').getBoundingClientRect(); return [b.left, b.top, b.width, b.height]"
    )

    def at(across, down):
        return box[0] + across * box[2], box[1] + down * box[3]

    touched(browser, "touchStart", at(0.4, 0.5))
    touched(browser, "touchStart", at(0.4, 0.5), at(0.6, 0.5))
    for step in (0.65, 0.7, 0.75, 0.8):
        touched(browser, "touchMove", at(0.4, 0.5), at(step, 0.5))
    touched(browser, "touchEnd", at(0.4, 0.5))
    touched(browser, "touchEnd")
    browser.execute_async_script("requestAnimationFrame(() => requestAnimationFrame(arguments[0]))")
    seen = browser.execute_script("return document.getElementById('status').textContent")
    assert seen.startswith("Seen: Age (days) from ")
    low, high = (float(value) for value in seen.removeprefix("Seen: Age (days) from ").split(";")[0].split(" to "))
    # Twice as far apart is twice as close, about the finger that rests.
    whole = 553 + 5
    assert high - low == pytest.approx(whole / 2, rel=0.06)
    assert browser.execute_script("return document.getElementById('count').textContent") == ""
    browser.execute_script("document.getElementById('whole').click()")
    touched(browser, "touchStart", at(0.3, 0.5))
    for step in (0.35, 0.45, 0.5):
        touched(browser, "touchMove", at(step, 0.55))
    touched(browser, "touchEnd")
    assert "rows" in browser.execute_script("return document.getElementById('count').textContent")


@pytest.mark.parametrize("name", list(FIGURES))
def test_marks_and_ticks_of_a_view_are_those_of_print_with_these_limits(name, browser, folder):
    figure, axis, ends = FIGURES[name]
    said = {"x": "y", "y": "x"}[axis] if name.startswith("swapped") else axis
    limited = figure.scale(said, limits=ends)
    pages = [written(one, folder, f"{name} {number}", height="90 mm") for number, one in enumerate((limited, figure))]
    found = []
    for number, page in enumerate(pages):
        known = model(page)
        panel = known["panels"][-1]
        opened(browser, page)
        if number:
            look(browser, panel["axes"][axis], *map(str, ends))
            assert status(browser).startswith("Seen: ")
        at = np.array(browser.execute_script(SEEN, panel["box"], named(panel)))
        found.append(
            (
                at[np.lexsort(np.round(at, 3).T[::-1])],
                browser.execute_script(TICKS, named(known["panels"][0]), axis),
                panel["box"],
            )
        )
    (printed, ticks, box), (seen, own, other) = found
    if name == "two uneven":
        # Print draws a bent band through more places where it is cut; each place of the page is one of them.
        assert len(printed) > len(seen) > 400
        assert max(np.abs(printed - at).sum(axis=1).min() for at in seen) < 0.004
        assert max(np.abs(seen - at).sum(axis=1).min() for at in printed) < 0.012
        printed = seen
    assert len(seen) == len(printed) > 2
    if name not in ("trend", "times", "swapped lines", "groups") and not name.startswith("two"):
        # What an axis beside has for room moves panels by points; marks stay where they are in them.
        assert np.abs(printed - seen).max() < 0.004
    else:
        far = np.abs(printed[:, None] - seen[None]).sum(axis=2).min(axis=1)
        assert far.max() < 0.004
    if abs((box[2] - box[0]) - (other[2] - other[0])) < 1:
        assert own == ticks
    assert not errors(browser)


def test_the_wheel_looks_closer_and_the_place_under_it_stays(browser, folder):
    opened(browser, written(BASE, folder))
    x, y = inside(browser, 0.3, 0.6)
    home = model(folder / "page.html")["axes"]
    value = [axis["low"] + share * (axis["high"] - axis["low"]) for axis, share in zip(home, (0.3, 0.6), strict=True)]
    turn(browser, x, y, -300)
    settled(browser)
    for number, (low, high) in view(browser).items():
        low, high = float(low), float(high)
        length = home[number]["high"] - home[number]["low"]
        assert high - low == pytest.approx(length * np.exp(-250 * 0.0022), rel=0.01)
        assert (value[number] - low) / (high - low) == pytest.approx((0.3, 0.6)[number], abs=0.01)
    assert len(view(browser)) == 2
    for _ in range(12):
        turn(browser, x, y, 300)
    settled(browser)
    assert view(browser) == {}
    # Over an axis, and with Shift or Alt, one of the two.
    turn(browser, *inside(browser, 0.5, -0.05), -200)
    settled(browser)
    assert list(view(browser)) == [0]
    browser.execute_script("document.getElementById('whole').click()")
    turn(browser, x, y, -200, altKey=True)
    settled(browser)
    assert list(view(browser)) == [1]
    assert not errors(browser)


def test_a_box_looks_closer_a_drag_moves_and_back_goes_back(browser, folder):
    opened(browser, written(BASE, folder))
    home = model(folder / "page.html")["axes"]
    browser.execute_script("document.getElementById('drag').value = 'closer'")
    moved(browser, *inside(browser, 0.25, 0.25), drag=inside(browser, 0.75, 0.75))
    settled(browser)
    first = view(browser)
    for number, axis in enumerate(home):
        length = axis["high"] - axis["low"]
        assert [float(end) for end in first[number]] == pytest.approx(
            [axis["low"] + 0.25 * length, axis["low"] + 0.75 * length], abs=0.006 * length
        )
    browser.execute_script("document.getElementById('drag').value = 'move'")
    moved(browser, *inside(browser, 0.5, 0.5), drag=inside(browser, 0.7, 0.5))
    settled(browser)
    second = view(browser)
    length = home[0]["high"] - home[0]["low"]
    assert float(second[0][0]) == pytest.approx(float(first[0][0]) - 0.1 * length, abs=0.006 * length)
    assert second[1] == pytest.approx(first[1])
    for expected in (first, {}):
        browser.execute_script("document.getElementById('back').click()")
        frame(browser)
        assert {number: tuple(map(float, ends)) for number, ends in view(browser).items()} == {
            number: pytest.approx(tuple(map(float, ends)), rel=0.01) for number, ends in expected.items()
        }
    assert browser.execute_script("return document.getElementById('back').disabled && document.getElementById('whole').disabled")
    # A narrow box says something along one axis alone.
    browser.execute_script("document.getElementById('drag').value = 'closer'")
    moved(browser, *inside(browser, 0.25, 0.5), drag=inside(browser, 0.75, 0.505))
    settled(browser)
    assert list(view(browser)) == [0]


def test_all_is_as_it_was_where_all_is_seen_again(browser, folder):
    figure = ft.plate([[BASE.facet("cellar"), ft.figure(WHEELS).map(x="rind", y="firmness_n").boxes()]])
    opened(browser, written(figure, folder, width="200 mm"))
    drawn = "return document.querySelector('.sheet > svg').innerHTML.replace(/<clipPath id=\"closer.*?<\\/clipPath>/g, '')"
    before = browser.execute_script(drawn)
    for place in ((0.4, 0.5, 0), (0.5, 0.5, 3)):
        turn(browser, *inside(browser, *place), -200)
    settled(browser)
    assert browser.execute_script(drawn) != before
    # A link opens the same view; print shows all.
    state = browser.execute_script("return location.hash")
    shown = browser.execute_script(drawn)
    browser.execute_script("window.dispatchEvent(new Event('beforeprint'))")
    assert browser.execute_script(drawn) == before
    browser.execute_script("window.dispatchEvent(new Event('afterprint'))")
    assert browser.execute_script(drawn) == shown
    browser.execute_script("document.getElementById('whole').click()")
    frame(browser)
    assert browser.execute_script(drawn) == before
    opened(browser, folder / "page.html", state)
    frame(browser)
    assert browser.execute_script(drawn) == shown
    for wrong in ("@=0:a~b", "@=9:1~2", "@=%", "@=0:5~1", "@="):
        opened(browser, folder / "page.html", f"#{wrong}")
        frame(browser)
        assert browser.execute_script(drawn) == before
    assert not errors(browser)


def test_keys_alone_look_closer_move_and_come_back(browser, folder):
    from selenium.webdriver.common.action_chains import ActionChains
    from selenium.webdriver.common.keys import Keys

    opened(browser, written(BASE, folder))
    browser.execute_script("document.getElementById('stage').focus()")
    home = model(folder / "page.html")["axes"][0]
    ActionChains(browser).send_keys("+", "+").perform()
    settled(browser)
    low, high = map(float, view(browser)[0])
    assert high - low == pytest.approx((home["high"] - home["low"]) / 4, rel=0.01)
    assert status(browser).startswith("Seen: Age (days) from ")
    ActionChains(browser).key_down(Keys.SHIFT).send_keys(Keys.ARROW_RIGHT).key_up(Keys.SHIFT).perform()
    settled(browser)
    assert float(view(browser)[0][0]) == pytest.approx(low + 0.2 * (high - low), rel=0.01)
    # Only what is seen is walked.
    ActionChains(browser).send_keys(Keys.ARROW_RIGHT, Keys.END).perform()
    low, high = map(float, view(browser)[0])
    told = float(re.search(r"Age \(days\) (\d+)", status(browser))[1])
    assert low <= told <= high
    ActionChains(browser).send_keys("0").perform()
    settled(browser)
    assert view(browser) == {}
    assert status(browser) == "All is seen"


STILL = {
    "categories": (ft.figure(WHEELS).map(x="rind", y="ph").points(), 0, "Rind: it has categories"),
    "callable": (BASE.scale("x", format=lambda value: f"{value:.0f}!"), 0, "its format is a function, which a page can't call"),
    "second": (
        BASE.scale("x", second_axis={"convert": lambda value: value / 7, "title": "Weeks"}),
        0,
        "a page does not know how its second axis is converted or written",
    ),
    "uneven": (
        BASE.scale("x", second_axis={"convert": "value * value + 1000 * value", "title": "Squares"}),
        0,
        "a page does not know how its second axis is converted or written",
    ),
    "listed": (BASE.scale("x", ticks=[20, 100]), 0, "its ticks were listed"),
    "specification": (BASE.scale("x", format="08.2f"), 0, "a page does not write its format"),
}


@pytest.mark.parametrize("name", list(STILL))
def test_axes_that_stay_as_they_are_say_why(name, browser, folder):
    figure, number, why = STILL[name]
    opened(browser, written(figure, folder))
    options = browser.execute_script(
        "return [...document.getElementById('axis').options].map((one) => [one.textContent, one.disabled])"
    )
    assert why in options[number][0]
    assert options[number][1]
    turn(browser, *inside(browser, 0.5, 0.5), -200)
    settled(browser)
    assert list(view(browser)) == [1]
    assert not errors(browser)


def test_a_panel_of_which_an_inset_shows_a_part_says_that_it_stays(browser, folder):
    part = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points().scale("x", limits=(10, 60))
    opened(browser, written(BASE.inset(part, at=(0.55, 0.55, 0.98, 0.98), zoom=True), folder))
    turn(browser, *inside(browser, 0.3, 0.3), -200)
    settled(browser)
    assert view(browser) == {}
    assert "stays as it is: an inset shows a part of it" in browser.execute_script(
        "return document.getElementById('note').textContent"
    )
    assert browser.execute_script("return document.getElementById('back').disabled")


def test_bars_keep_their_zero_in_sight(browser, folder):
    opened(browser, written(ft.figure(WHEELS).map(x="firmness_n").histogram(), folder))
    turn(browser, *inside(browser, 0.4, 0.6), -250)
    settled(browser)
    found = view(browser)
    assert found[1][0] == "0"
    assert float(found[1][1]) < model(folder / "page.html")["axes"][1]["high"]
    look(browser, 1, "5", "20")
    assert view(browser)[1] == ("0", "20")


def test_what_is_seen_is_said_as_verbs_that_make_the_same_picture(browser, folder):
    figure = ft.figure(CLIMATE).map(x="time", y="temp_c").lines()
    opened(browser, written(figure, folder))
    look(browser, 0, "2030-03-01", "2030-04-01 06:00")
    look(browser, 1, "9", "15.5")
    browser.execute_script(
        "Object.defineProperty(navigator, 'clipboard', { value: { writeText: (text) => { window.copied = text; return Promise.resolve(); } } });"
        "document.getElementById('sentence').click()"
    )
    verbs = browser.execute_script("return window.copied")
    assert '.scale("x", limits=("2030-03-01", "2030-04-01 06:00"))' in verbs
    assert '.scale("y", limits=(9, 15.5))' in verbs
    eval("figure" + "".join(line for line in verbs.splitlines() if line.startswith(".")), {"figure": figure}).export(
        folder / "again.svg"
    )
    assert "scale.y.limits = [9, 15.5]" in verbs
    look(browser, 0, "soon", "later")
    assert status(browser).startswith("Two times are needed")
    look(browser, 1, "7", "7")
    assert status(browser).startswith("Two numbers are needed")


SPAN = ft.figure(CLIMATE).map(x="time", y="temp_c").lines()


def test_a_brush_sets_the_limits_of_another_figure_and_a_wheel_scales_it(browser, folder):
    plate = ft.plate(
        [[SPAN.respond("span", "limits")], [SPAN.choose("span", along="x", start={"time": ("2030-03-01", "2030-04-01")})]]
    )
    opened(browser, written(plate, folder, height="120 mm"))
    frame(browser)
    assert view(browser) == {0: ("2030-03-01", "2030-04-01")}
    brush = "const box = document.querySelector('.brush').getBoundingClientRect(); return [box.left, box.right]"
    inner = [inside(browser, share, 0.5, 1)[0] for share in (0, 1)]
    home = model(folder / "page.html")["axes"][2]

    def instants():
        left, right = browser.execute_script(brush)
        return [home["low"] + (at - inner[0]) / (inner[1] - inner[0]) * (home["high"] - home["low"]) for at in (left, right)]

    # The rectangle stands over what the other figure shows.
    ends = [np.datetime64(one).astype("datetime64[us]").astype(float) for one in ("2030-03-01", "2030-04-01")]
    assert instants() == pytest.approx(ends, abs=0.01 * (home["high"] - home["low"]))
    middle = np.mean(browser.execute_script(brush)), inside(browser, 0, 0.5, 1)[1]
    turn(browser, *middle, -300)
    settled(browser)
    assert np.diff(instants())[0] == pytest.approx(np.diff(ends)[0] * np.exp(-250 * 0.0022), rel=0.1)
    shorter = view(browser)[0]
    assert "2030-03-01" < shorter[0] < shorter[1] < "2030-04-01"
    # It is moved by the pointer, and gone with a click beside it.
    moved(browser, *middle, drag=(middle[0] + 120, middle[1]))
    settled(browser)
    assert view(browser)[0][0] > shorter[1]
    moved(browser, *inside(browser, 0.02, 0.9, 1), click=True)
    settled(browser)
    assert view(browser) == {}
    moved(browser, *inside(browser, 0.5, 0.5, 1), drag=inside(browser, 0.75, 0.4, 1))
    settled(browser)
    assert view(browser)[0][0] > "2030-06-20"
    # What is printed is what was said to begin with.
    browser.execute_script("window.dispatchEvent(new Event('beforeprint'))")
    assert any("Mar" in text for text in browser.execute_script(TICKS, "0-0", "x"))
    browser.execute_script("window.dispatchEvent(new Event('afterprint'))")
    assert not any("Mar" in text for text in browser.execute_script(TICKS, "0-0", "x"))
    assert view(browser)[0][0] > "2030-06-20"
    # The other figure is looked at by itself.
    turn(browser, *inside(browser, 0.9, 0.9, 1), -200)
    settled(browser)
    assert set(view(browser)) == {0, 2, 3}
    assert not errors(browser)


def test_a_brush_stays_over_its_values_when_the_window_is_smaller_and_the_view_another(browser, folder):
    opened(browser, written(BASE, folder))
    moved(browser, *inside(browser, 0.1, 0.1), drag=inside(browser, 0.4, 0.9))
    frame(browser)
    box = (
        "const box = document.querySelector('.brush').getBoundingClientRect(); return [box.left, box.top, box.right, box.bottom]"
    )

    def corners():
        return [*inside(browser, 0.1, 0.9), *inside(browser, 0.4, 0.1)]

    assert browser.execute_script(box) == pytest.approx(corners(), abs=2)
    size = browser.get_window_size()
    browser.set_window_size(600, 700)
    try:
        frame(browser)
        assert browser.execute_script(box) == pytest.approx(corners(), abs=2)
    finally:
        browser.set_window_size(size["width"], size["height"])
    frame(browser)
    home = model(folder / "page.html")["axes"][0]
    ends = [home["low"] + share * (home["high"] - home["low"]) for share in (0, 0.5)]
    look(browser, 0, *map(str, ends))
    left, _, right, _ = browser.execute_script(box)
    assert (left, right) == pytest.approx((inside(browser, 0.2, 0)[0], inside(browser, 0.8, 0)[0]), abs=2)
    # One that holds nothing is no choice.
    browser.execute_script("document.getElementById('whole').click()")
    moved(browser, *inside(browser, 0.9, 0.02), drag=inside(browser, 0.95, 0.06))
    frame(browser)
    assert browser.execute_script("return document.querySelector('.brush').hidden")


def test_chosen_rows_along_lines_are_lines(browser, folder):
    figure = ft.figure(CLIMATE.head(500)).map(x="time", y="temp_c").lines()
    opened(browser, written(figure, folder))
    moved(browser, *inside(browser, 0.3, 0.05), drag=inside(browser, 0.6, 0.95))
    frame(browser)
    path, dots = browser.execute_script(
        "const over = document.querySelector('[data-marks]').nextElementSibling;"
        "return [over.querySelector('path').getAttribute('d'), over.querySelectorAll('circle').length]"
    )
    count = int(browser.execute_script("return document.getElementById('count').textContent").split(" ")[0])
    assert len(re.findall("[ML]", path)) + dots == count > 100
    assert dots <= 2


def test_fields_choose_what_lies_between_two_times(browser, folder):
    figure = ft.figure(CLIMATE.head(300)).map(x="time", y="temp_c").lines()
    opened(browser, written(figure, folder))
    fields = "[document.getElementById('low').value, document.getElementById('high').value] = arguments; document.getElementById('between').click()"
    browser.execute_script(fields, "2030-01-03", "2030-01-05 12:00")
    count = browser.execute_script("return document.getElementById('count').textContent")
    held = CLIMATE.head(300).query("'2030-01-03' <= time <= '2030-01-05 12:00' and temp_c == temp_c")
    assert count.startswith(f"{len(held)} of ")
    browser.execute_script(fields, "soon", "")
    assert status(browser).startswith("Two times are needed")
    assert browser.execute_script("return document.getElementById('count').textContent") == count


@pytest.mark.parametrize(
    ("form", "expected"), [("percent", "42.5 %"), ("€{value:,.2f}", "€0.42"), (".1e", "0.425"), ("scientific", "4.25 × 10⁻¹")]
)
def test_readouts_write_values_as_their_axes_do(form, expected, browser, folder):
    figure = ft.figure({"a": [0.1, 0.425, 0.9], "b": [1.0, 2.0, 3.0]}).map(x="a", y="b").points().scale("x", format=form)
    opened(browser, written(figure, folder))
    browser.execute_script("document.getElementById('stage').focus()")
    from selenium.webdriver.common.action_chains import ActionChains
    from selenium.webdriver.common.keys import Keys

    ActionChains(browser).send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT).perform()
    assert f"A {expected}," in status(browser)
    # The table has them in full.
    ActionChains(browser).send_keys(Keys.ENTER).perform()
    assert browser.execute_script("return document.querySelector('#rows td:nth-child(2)').textContent") in ("0.425", "0.42")


LAYERS_SEEN = sorted(set(LAYERS.ours()) - {"cells", "correlation", "callout", "labels"})


@pytest.mark.parametrize("axis", ["x", "y"])
@pytest.mark.parametrize("layer", LAYERS_SEEN)
def test_a_view_of_every_layer_shows_what_print_shows_with_these_limits(layer, axis, browser, folder, monkeypatch):
    monkeypatch.syspath_prepend(str(Path(__file__).parents[2] / "examples"))
    import layers

    figure = layers.figure(layer)
    known = model(written(figure, folder, f"{layer} home", width="90 mm", height="70 mm"))
    number = known["panels"][0]["axes"][axis]
    said = known["axes"][number]
    if said["still"]:
        return
    opened(browser, folder / f"{layer} home.html")
    low, high = (said["low"] + share * (said["high"] - said["low"]) for share in (0.2, 0.7))
    if said["stands"]:
        low = 0.0
    ends = (
        [f"{np.datetime64(round(end), 'us').astype('datetime64[m]')}" for end in (low, high)]
        if said["kind"] == "time"
        else [low, high]
    )
    look(browser, number, *map(str, ends))
    assert list(view(browser)) == [number]
    seen = np.array(browser.execute_script(SEEN, known["panels"][0]["box"], named(known["panels"][0])))
    limits = tuple(np.datetime64(end) for end in ends) if said["kind"] == "time" else tuple(ends)
    path = written(figure.scale(axis, limits=limits), folder, f"{layer} limited", width="90 mm", height="70 mm")
    panel = model(path)["panels"][0]
    opened(browser, path)
    printed = np.array(browser.execute_script(SEEN, panel["box"], named(panel)))
    # Lines are cut at the edges in print and by the browser on the page: the places on them that both have are the same.
    for one, other in ((seen, printed), (printed, seen)):
        far = np.array([np.abs(other - at).sum(axis=1).min() for at in one])
        assert np.mean(far < 0.012) > 0.97, (layer, axis, far.max())
    assert not errors(browser)


def test_what_is_chosen_and_seen_is_said_as_keys_of_a_plan(browser, folder, tmp_path):
    figure = ft.figure(CLIMATE.head(400)).map(x="time", y="temp_c").lines()
    opened(browser, written(figure, folder))
    moved(browser, *inside(browser, 0.2, 0.05), drag=inside(browser, 0.5, 0.95))
    look(browser, 1, "8", "9.5")
    verbs = browser.execute_async_script(
        "const done = arguments[0]; navigator.clipboard.writeText = async (text) => done(text); document.getElementById('sentence').click()"
    )
    count = int(browser.execute_script("return document.getElementById('count').textContent").split(" ")[0])
    keys = verbs.partition("# in a plan\n")[2]
    CLIMATE.head(400).to_csv(tmp_path / "climate.csv", index=False)
    said = '[data.c]\nfile = "climate.csv"\n[figure.f]\ndata = "c"\nmap = { x = "time", y = "temp_c" }\nlayers = ["lines"]\n'
    (tmp_path / "plan.toml").write_text(said + keys, "utf-8")
    plan = ft.plan(tmp_path / "plan.toml")
    (outcome,) = plan.export()
    assert outcome.files
    kept = ft.figure(CLIMATE.head(400)).keep(re.search(r"keep = (\".*\") }", keys)[1][1:-1].replace('\\"', '"'))
    assert len(kept.map(x="time", y="temp_c").lines().numbers()) == count


def test_two_tabs_keep_their_own_views(browser, folder):
    path = written(BASE, folder)
    opened(browser, path, "#rows=0:0-9")
    first = browser.current_window_handle
    browser.switch_to.new_window("tab")
    try:
        opened(browser, path, "#@=0:50~130")
        frame(browser)
        assert view(browser) == {0: ("50", "130")}
        assert browser.execute_script("return document.getElementById('count').textContent") == ""
        second = browser.current_window_handle
        browser.switch_to.window(first)
        assert view(browser) == {}
        assert browser.execute_script("return document.getElementById('count').textContent") == "10 of 240 rows"
        browser.switch_to.window(second)
        browser.close()
    finally:
        browser.switch_to.window(first)


def test_what_was_woken_is_at_rest_again_to_the_pixel(browser, folder):
    import io

    from PIL import Image

    rng = np.random.default_rng(6)
    many = {"a": rng.normal(size=8_000), "b": rng.normal(size=8_000), "c": rng.integers(0, 3, 8_000)}
    figure = ft.plate([[ft.figure(many).map(x="a", y="b", color="c").points(size=2), BASE]])
    opened(browser, written(figure, folder, width="200 mm"))
    shot = lambda: np.asarray(Image.open(io.BytesIO(browser.find_element("css selector", ".sheet > svg").screenshot_as_png)))  # noqa: E731
    before = shot()
    for panel in (0, 1):
        turn(browser, *inside(browser, 0.5, 0.5, panel), -250)
    settled(browser)
    assert (shot() != before).any()
    browser.execute_script("document.getElementById('whole').click()")
    frame(browser)
    browser.execute_script("document.activeElement.blur()")
    moved(browser, 2, 2)
    assert np.array_equal(shot(), before)


def test_a_view_of_very_many_marks_is_the_picture_of_print(browser, folder):
    import io

    from PIL import Image, ImageFilter

    rng = np.random.default_rng(6)
    many = {"a": rng.normal(size=9_000).round(3), "b": rng.normal(size=9_000).round(3)}
    figure = (
        ft.figure(many)
        .map(x="a", y="b")
        .points(size=3, opacity=0.5)
        .scale("y", limits=(-2, 2))
        .panel(width="100 mm", height="60 mm")
    )
    pages = [
        written(one, folder, name, width=None)
        for one, name in ((figure.scale("x", limits=(-1.5, 1.5)), "limited"), (figure, "all"))
    ]
    found = []
    for number, path in enumerate(pages):
        opened(browser, path)
        if number:
            look(browser, 0, "-1.5", "1.5")
            browser.execute_script("document.activeElement.blur()")
        (left, top), (right, bottom) = inside(browser, 0, 1), inside(browser, 1, 0)
        shot = Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("RGB").filter(ImageFilter.GaussianBlur(1))
        found.append(np.asarray(shot.crop((round(left) + 2, round(top) + 2, round(right) - 2, round(bottom) - 2)), np.int64))
    one, other = found
    wide, high = min(one.shape[1], other.shape[1]), min(one.shape[0], other.shape[0])
    far = np.abs(one[:high, :wide] - other[:high, :wide]).max(axis=2)
    assert (far > 48).mean() < 0.01


SECONDS = {
    "above": (BASE.scale("x", second_axis={"convert": "value / 7", "title": "Weeks"}), "x", (50, 130)),
    "right": (BASE.scale("y", second_axis={"convert": "value * 2.2046 + 1", "title": "Pounds", "format": ".1f"}), "y", (3, 7.5)),
    "falling": (BASE.scale("y", second_axis={"convert": "10 - value", "title": "Less"}), "y", (3, 7.5)),
    "log": (BASE.scale("x", "log", second_axis={"convert": "value * 24", "title": "Hours"}), "x", (30, 200)),
}


@pytest.mark.parametrize("name", list(SECONDS))
def test_second_axes_follow_the_view_as_in_print(name, browser, folder):
    figure, axis, ends = SECONDS[name]
    ticks = (
        "return [...document.querySelectorAll('g[id$=\"-second-"
        + axis
        + "-axis\"] > text')].map((one) => [one.textContent, Number(one.getAttribute('x')), Number(one.getAttribute('y'))])"
    )
    found = []
    for number, one in enumerate((figure.scale(axis, limits=ends), figure)):
        path = written(one.panel(width="90 mm", height="60 mm"), folder, f"second {name} {number}", width=None)
        opened(browser, path)
        if number:
            look(browser, model(path)["panels"][0]["axes"][axis], *map(str, ends))
        box = model(path)["panels"][0]["box"]
        found.append([(text, (x - box[0], box[3] - y)[axis == "y"]) for text, x, y in browser.execute_script(ticks)])
    printed, seen = found
    assert [text for text, _ in seen] == [text for text, _ in printed]
    assert [at for _, at in seen] == pytest.approx([at for _, at in printed], abs=0.06)
    assert len(seen) >= 2
    assert not errors(browser)


def test_what_can_not_be_seen_is_said_to_who_sees_and_who_hears(browser, folder):
    opened(browser, written(BASE, folder))
    told = "return [document.getElementById('status').textContent, document.getElementById('note').textContent]"
    look(browser, 0, "7", "7")
    assert browser.execute_script(told) == ["Two numbers are needed, the first below the second"] * 2
    look(browser, 0, "50", "50.000001")
    assert browser.execute_script(told) == ["There is no closer look: its ticks would have no room"] * 2
    assert view(browser) == {}
    look(browser, 0, "50", "60")
    assert browser.execute_script(told)[1] == ""
    assert view(browser) == {0: ("50", "60")}
    # As close as one can: what is refused leaves what was seen.
    for _ in range(60):
        turn(browser, *inside(browser, 0.5, 0.5), -250)
    settled(browser)
    assert browser.execute_script(told)[1] in ("", "There is no closer look: its ticks would have no room")
    low, high = map(float, view(browser)[0])
    assert 0 < high - low < 1
    texts = browser.execute_script(TICKS, "0-0", "x")
    assert len(set(texts)) == len(texts) >= 2
    assert not errors(browser)


def test_a_swapped_figure_is_brushed_along_what_was_said(browser, folder):
    ages = ft.figure(WHEELS).map(x="age_days", y="mass_kg").points()
    plate = ft.plate([[ages.swap_axes().choose("span", along="x"), ages.map(y="ph").respond("span", "limits")]])
    opened(browser, written(plate, folder, width="200 mm"))
    # Ages stand on y, along which the brush reaches over all masses.
    moved(browser, *inside(browser, 0.4, 0.25), drag=inside(browser, 0.45, 0.75))
    settled(browser)
    (low, high) = map(float, view(browser)[2])
    home = model(folder / "page.html")["axes"][1]
    length = home["high"] - home["low"]
    assert (low, high) == pytest.approx((home["low"] + 0.25 * length, home["low"] + 0.75 * length), abs=0.01 * length)
    held = WHEELS["age_days"].between(low, high).sum()
    assert browser.execute_script("return document.getElementById('count').textContent").split(" ")[0] == pytest.approx(str(held))
    look(browser, 1, "100", "200")
    verbs = browser.execute_async_script(
        "const done = arguments[0]; navigator.clipboard.writeText = async (text) => done(text); document.getElementById('sentence').click()"
    )
    # Each figure of a plate has scales of its own, which are called as they were said.
    assert '.scale("x", limits=(100, 200))  # figure 1' in verbs
    assert "# figure 2" in verbs


def test_rows_that_are_chosen_without_a_brush_set_limits_as_in_print(browser, folder):
    ages = ft.figure(WHEELS).map(x="age_days", y="mass_kg", color="milk").points()
    plate = ft.plate([[ages.choose("span", along="x"), ages.map(y="ph").respond("span", "limits")]])
    opened(browser, written(plate, folder, width="200 mm"))
    browser.execute_script("[...document.querySelectorAll('#groups button')].find((one) => one.textContent === 'goat').click()")
    settled(browser)
    goats = WHEELS.loc[WHEELS["milk"] == "goat", "age_days"]
    assert [float(end) for end in view(browser)[2]] == pytest.approx([goats.min(), goats.max()], abs=0.5)
    assert not browser.execute_script("return document.querySelector('.brush').hidden")
    browser.execute_script("document.getElementById('clear').click()")
    settled(browser)
    assert view(browser) == {}


def test_back_leads_to_what_was_seen_and_to_nothing_else(browser, folder):
    opened(browser, written(BASE, folder))
    back = "return document.getElementById('back').disabled"
    look(browser, 0, "50", "50.0000001")
    browser.execute_script("document.getElementById('whole').click()")
    assert browser.execute_script(back)
    # A brush that the wheel makes longer is no view.
    moved(browser, *inside(browser, 0.1, 0.1), drag=inside(browser, 0.3, 0.9))
    turn(browser, *inside(browser, 0.2, 0.5), -100)
    settled(browser)
    assert browser.execute_script(back)
    turn(browser, *inside(browser, 0.8, 0.5), -200)
    settled(browser)
    assert view(browser)
    browser.execute_script("document.getElementById('back').click()")
    frame(browser)
    assert view(browser) == {}
    assert browser.execute_script(back)
