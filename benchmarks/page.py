"""What pages cost: to write beside their SVG, to open beside a blank page, to choose in beside a plain fill.

    python benchmarks/page.py

100,000 rows in headless Chromium, with its driver. Floors in the same run: the SVG of the same figure with the same image
inside; a blank page of as many bytes; and as many marks filled into a canvas from arrays, with nothing read or looked up.
Times are medians of several rounds.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
import warnings
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pandas as pd

import facetine as ft

sys.path.insert(0, str(Path(__file__).parent.parent / "tests" / "page"))

COUNT, ROUNDS = 100_000, 7
_FILL = """
const [count, done] = [arguments[0], arguments[arguments.length - 1]];
const canvas = document.createElement("canvas"); canvas.width = 1280; canvas.height = 900;
const pen = canvas.getContext("2d"); pen.fillStyle = "#22347f";
const at = Float64Array.from({ length: 2 * count }, (_, place) => (place * 7919) % 1000);
const start = performance.now();
for (let mark = 0; mark < count; mark += 1) {
  pen.beginPath(); pen.arc(at[2 * mark], at[2 * mark + 1], 1.8, 0, 6.2832); pen.fill();
}
pen.getImageData(0, 0, 1, 1); done(performance.now() - start);
"""
_CHOOSE = """
const done = arguments[arguments.length - 1];
const button = document.querySelector("#groups button");
const start = performance.now(); button.click(); const spent = performance.now() - start;
document.getElementById("clear").click(); done(spent);
"""
_POINT = """
const done = arguments[arguments.length - 1];
const stage = document.getElementById("stage"), box = stage.querySelector("svg").getBoundingClientRect();
const spent = [];
for (let at = 0; at < 200; at += 1) {
  const [across, down] = [37, 61].map((step) => 0.2 + (0.6 * ((at * step) % 100)) / 100);
  const place = { clientX: box.left + box.width * across, clientY: box.top + box.height * down };
  const start = performance.now();
  stage.dispatchEvent(new PointerEvent("pointermove", place));
  spent.push(performance.now() - start);
}
spent.sort((a, b) => a - b); done(spent[100]);
"""

_DECODE = """
const done = arguments[arguments.length - 1];
(async () => {
  const start = performance.now();
  const { said, arrays } = JSON.parse(document.getElementById("figure-data").textContent);
  const bytes = await unpacked(arrays);
  for (const { boxes, rows, shapes, columns, groups, inks } of said.layers) {
    const values = columns.map((column) => column.values);
    for (const one of [...boxes, rows, shapes, ...values, groups.codes, inks.codes].filter(Boolean)) numbers(bytes, one);
  }
  done(performance.now() - start);
})();
"""
_MOVE = """
const done = arguments[arguments.length - 1];
const stage = document.getElementById("stage"), box = stage.querySelector("svg").getBoundingClientRect();
const how = { bubbles: true, cancelable: true, pointerId: 1 };
const at = (x, y) => ({ clientX: box.left + box.width * x, clientY: box.top + box.height * y, ...how });
// Frames are drawn at once, so that what is measured is the work and not the wait for them.
window.requestAnimationFrame = (draw) => { draw(0); return 0; };
stage.setPointerCapture = () => {};
stage.dispatchEvent(new WheelEvent("wheel", { ...at(0.5, 0.5), deltaY: -60 }));
document.getElementById("drag").value = "move";
stage.dispatchEvent(new PointerEvent("pointerdown", { ...at(0.5, 0.5), button: 0 }));
const spent = [];
for (let step = 1; step <= 7; step += 1) {
  const start = performance.now();
  stage.dispatchEvent(new PointerEvent("pointermove", at(0.5 + step / 200, 0.5)));
  spent.push(performance.now() - start);
}
spent.sort((a, b) => a - b); done(spent[3]);
"""

_DRAG = """
const done = arguments[arguments.length - 1];
const stage = document.getElementById("stage"), box = stage.querySelector("svg").getBoundingClientRect();
const how = { clientY: box.top + box.height * 0.25, bubbles: true, cancelable: true, pointerId: 1 };
const at = (x) => ({ clientX: box.left + box.width * x, ...how });
// Frames are drawn at once, so that what is measured is the work and not the wait for them.
window.requestAnimationFrame = (draw) => { draw(0); return 0; };
stage.setPointerCapture = () => {};
const spent = [];
stage.dispatchEvent(new PointerEvent("pointerdown", { ...at(0.15), button: 0 }));
for (let step = 1; step <= 7; step += 1) {
  const start = performance.now();
  stage.dispatchEvent(new PointerEvent("pointermove", at(0.15 + step * 0.025)));
  spent.push(performance.now() - start);
}
const start = performance.now();
stage.dispatchEvent(new PointerEvent("pointerup", at(0.325)));
const release = performance.now() - start;
spent.sort((a, b) => a - b); done([spent[3], release]);
"""


def timed(call: Callable[[], object]) -> float:
    """Milliseconds of one call."""
    start = time.perf_counter()
    call()
    return 1e3 * (time.perf_counter() - start)


def main() -> None:
    from browsers import chromium, opened

    from facetine.page.envelope import script_of

    warnings.simplefilter("ignore")
    rng = np.random.default_rng(5)
    frame = pd.DataFrame({"a": np.round(rng.normal(50, 12, COUNT), 2), "b": np.round(rng.normal(20, 6, COUNT), 1)})
    frame["state"] = np.where(rng.random(COUNT) < 0.5, "sound", "cracked")
    figure = ft.figure(frame).map(x="a", y="b", color="state").points(size=2)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        page, drawing, blank = folder / "page.html", folder / "drawing.svg", folder / "blank.html"
        sizes = {"width": "150 mm", "height": "110 mm"}
        ours, svgs = [], []
        for _ in range(ROUNDS):
            svgs.append(timed(lambda: figure.export(drawing, fonts="embed", rasterize=True, **sizes)))
            ours.append(timed(lambda: figure.export(page, **sizes)))
        ratio = statistics.median(ours) / statistics.median(svgs)
        print(f"writing {COUNT:,} rows: {statistics.median(ours):.0f} ms, {ratio:.2f} times the SVG with its image (aim 3)")
        image = drawing.stat().st_size
        print(f"file: {page.stat().st_size / 1e3:,.0f} kB, of which the SVG with its image {image / 1e3:,.0f} kB")
        text = page.read_text("utf-8")
        filler = "x" * max(len(text.encode()) - 200, 0)
        body = f'<div id="stage" data-ready="yes"></div><script type="text/plain">{filler}</script>'
        blank.write_text(f"<!DOCTYPE html><html><body>{body}</body></html>")
        with chromium(folder) as driver:
            opened(driver, blank)
            driver.set_script_timeout(60)
            blanks = [timed(lambda: opened(driver, blank)) for _ in range(ROUNDS)]
            memory = heap(driver)
            readies = [timed(lambda: opened(driver, page)) for _ in range(ROUNDS)]
            grown = heap(driver) - memory
            decoding = f"{script_of(('data',))}\n{_DECODE}"
            decode = statistics.median(driver.execute_async_script(decoding) for _ in range(ROUNDS))
            fill = statistics.median(driver.execute_async_script(_FILL, COUNT // 2) for _ in range(ROUNDS))
            choose = statistics.median(driver.execute_async_script(_CHOOSE) for _ in range(ROUNDS))
            point = statistics.median(driver.execute_async_script(_POINT) for _ in range(ROUNDS))
            all_filled = statistics.median(driver.execute_async_script(_FILL, COUNT) for _ in range(ROUNDS))
            move = driver.execute_async_script(_MOVE)
        ready, plain = statistics.median(readies), statistics.median(blanks)
        rest = (ready - decode) / plain
        print(
            f"ready: {ready:.0f} ms; without {decode:.0f} ms of decoding {rest:.2f} times the blank page of as many bytes (aim 2)"
        )
        print(f"choosing half of the rows: {choose:.0f} ms, {choose / fill:.2f} times the plain fill of as many (aim 2)")
        print(f"moving what is seen: {move:.0f} ms a frame, {move / all_filled:.2f} times the plain fill (aim 2)")
        print(f"reading at the pointer: {point:.2f} ms (aim 1)")
        print(f"memory: {grown / 1e6:.0f} MB more than the blank page (aim 60)")


def linked(rows: int) -> ft.Plate:
    """A histogram that is brushed, with another one, boxes and a line that are computed of what is chosen."""
    rng = np.random.default_rng(5)
    frame = pd.DataFrame({"a": np.round(rng.normal(50, 12, rows), 2), "b": np.round(rng.normal(20, 6, rows), 1)})
    frame["step"] = rng.integers(0, 60, rows)
    frame["state"] = rng.choice(["sound", "cracked", "soft"], rows)
    base = ft.figure(frame)
    brushed = base.map(x="a").histogram().choose("some", along="x")
    bins = base.map(x="b").histogram().respond("some", "keep")
    boxes = base.map(x="state", y="b").boxes(outliers=False).respond("some", "keep")
    line = base.map(x="step", y="b").lines(aggregate="mean").respond("some", "keep")
    return ft.plate([[brushed, bins], [boxes, line]])


def kept(rows: int) -> None:
    """What it costs to compute figures of the rows of a brush."""
    from browsers import chromium, opened

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        page, blank = folder / "page.html", folder / "blank.html"
        blank.write_text('<!DOCTYPE html><html><body><div id="stage" data-ready="yes"></div></body></html>')
        plate, sizes = linked(rows), {"width": "180 mm", "height": "130 mm"}
        ft.set_defaults(page_values=20 * max(rows, 500_000))
        written = timed(lambda: plate.export(page, **sizes))
        with chromium(folder) as driver:
            driver.set_script_timeout(60)
            opened(driver, blank)
            memory = heap(driver)
            fill = statistics.median(driver.execute_async_script(_FILL, rows) for _ in range(3))
            opening = timed(lambda: opened(driver, page))
            # What waits for an idle moment is done before a reader begins.
            time.sleep(2.0)
            found = [driver.execute_async_script(_DRAG) for _ in range(ROUNDS)]
            grown = heap(driver) - memory
        moving, release = (statistics.median(values) for values in zip(*found, strict=True))
        print(f"linked, {rows:,} rows: page {page.stat().st_size / 1e3:,.0f} kB in {written:.0f} ms, opened in {opening:.0f} ms")
        aim = " (aim 3)" if rows == COUNT else ""
        print(f"  while the brush moves {moving:.0f} ms a frame, {moving / fill:.2f} times the plain fill of all rows{aim}")
        print(f"  let go {release:.0f} ms, {release / fill:.2f} times; memory {grown / 1e6:.0f} MB more than the blank page")


def heap(driver: object) -> float:
    """Bytes that the page's script holds, after what is garbage is gone."""
    driver.execute_cdp_cmd("HeapProfiler.collectGarbage", {})  # type: ignore[attr-defined]
    found = driver.execute_cdp_cmd("Runtime.getHeapUsage", {})  # type: ignore[attr-defined]
    return float(found["usedSize"] + found.get("backingStorageSize", 0))


if __name__ == "__main__":
    main()
    kept(COUNT)
    kept(10 * COUNT)
