// Panels that move with what a reader sees of their axes: marks, axes, lines behind them, and names at the ends of lines.

import { Band } from "./bands.js";
import { drawnOf } from "./looks.js";
import { MovedPart, clipOf, restore, shownWithin, textMover } from "./moved.js";

/** @typedef {import("./data.js").Said} Said */
/** @typedef {import("./data.js").PanelSaid} PanelSaid */
/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./views.js").View} View */
/** @typedef {import("./moved.js").Affine} Affine */
/** @typedef {import("./moved.js").Mover} Mover */
/** @typedef {import("./views.js").ViewTicks & { size: number }} FittedTicks */

/** Distance of names at the ends of lines, in sizes of their letters. */
const NAMES_APART = 1.15;
/** Points between the edge of an axis' texts and what stands beside them. */
const AROUND = 2;
/** How far they may stand over the left edge of the sheet, on the ground of the page. */
export const BEYOND = 24;

/**
 * How a place in points moves.
 * @param {View} view
 * @param {number} first Where the panel begins.
 * @param {number} length Negative where the axis runs upwards.
 * @returns {Affine}
 */
function affine(view, first, length) {
  if (view.whole) return { factor: 1, add: 0 };
  const [factor, add] = view.moved;
  return { factor, add: first * (1 - factor) + add * length };
}

/** A panel of the sheet, woken where a reader first looks closer. */
export class LivePanel {
  /**
   * @param {PanelSaid} said
   * @param {{ x: View, y: View }} views
   * @param {SVGSVGElement} sheet
   * @param {Layer[]} layers
   * @param {PanelSaid[]} panels
   */
  constructor(said, views, sheet, layers, panels) {
    this.said = said;
    this.views = views;
    const group = sheet.querySelector(`[data-panel="${said.member}-${said.number}"]`);
    const inside = [...(group?.children ?? [])];
    const named = (/** @type {RegExp} */ name) => inside.filter((one) => name.test(one.id));
    this.parts = layers.flatMap((layer) => layer.parts.filter((part) => part.panel === said).map((part) => {
      const { groups, shapes } = drawnOf(sheet, part);
      return new MovedPart(part, views.x, views.y, groups, shapes);
    }));
    const known = new Set(this.parts.flatMap((part) => part.groups));
    /** Layers of which no row is known, such as curves. */
    this.others = [...(group?.querySelectorAll("[data-marks]") ?? [])].filter((one) => !known.has(one));
    const beside = named(/-values-\d+-[a-z_]+(-others)?(-\d+)?$/).flatMap((one) => [...one.querySelectorAll("text[data-at]")]);
    this.values = beside.map((text) => textMover(text, (x, y) => shownWithin(text, said.box, x, y)));
    /** What lines show now, where they are computed anew. @type {import("./marks.js").Marks[] | null} */
    this.named = null;
    this.names = named(/-names(-\d+)?$/).map((one) => ({ group: one, home: [...one.childNodes] }));
    this.hairlines = named(/-hairlines$/).map((one) => one.querySelector("path"));
    this.lines = this.hairlines[0]?.getAttribute("d") ?? "";
    /** Whether a box in it, or lines to it, tie it to an inset. */
    this.inset = [...sheet.querySelectorAll('g[id$="-zoom"]')].some((one) => {
      const { x, y, width, height } = /** @type {SVGGElement} */ (one).getBBox();
      return overlap([x, y, x + width, y + height], said.box);
    });
    this.clip = clipOf(`closer-${said.member}-${said.number}`, said.box);
    sheet.append(this.clip);
    this.bands = this.bandsOf(named, sheet, panels);
  }

  /**
   * The axes around the panel, and those in other units.
   * @param {(name: RegExp) => Element[]} named What is in it under a name.
   * @param {SVGSVGElement} sheet
   * @param {PanelSaid[]} panels
   * @returns {{ x?: Band, y?: Band, second: { x?: Band, y?: Band } }}
   */
  bandsOf(named, sheet, panels) {
    const { box, page } = this.said;
    const [, top, right, bottom] = box;
    const next = panels.filter((one) => one.page === page && one.box[0] >= right && one.box[1] < bottom && one.box[3] > top).map((one) => one.box[0] - right);
    const between = next.length ? Math.min(...next) : null;
    const away = this.views.y.said.tick + this.views.y.said.gap;
    /** @type {{ x?: Band, y?: Band, second: { x?: Band, y?: Band } }} */
    const found = { second: {} };
    for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
      for (const own of /** @type {SVGGElement[]} */ (named(new RegExp(`-${axis}-axis$`)))) {
        const far = own.id.endsWith(`-second-${axis}-axis`);
        const room = far ? (between ?? sheet.viewBox.baseVal.width - right + BEYOND) - away : roomBeside(own, box, sheet, away);
        const band = new Band(own, this.views[axis], box, axis === "x", far, room, between);
        if (far) found.second[axis] = band;
        else found[axis] = band;
      }
    }
    return found;
  }

  /** @returns {string | null} Why it stays as it is; null where it moves. */
  get stuck() {
    if (this.inset) return "an inset shows a part of it";
    return this.others.length ? "a layer of it has no rows that a page knows" : this.parts.map((part) => part.stuck).find((why) => why !== null) ?? null;
  }

  /**
   * Shows the panel as its axes are seen.
   * @param {{ x: FittedTicks | null, y: FittedTicks | null }} ticks
   */
  show(ticks) {
    const [left, top, right, bottom] = this.said.box;
    const x = affine(this.views.x, left, right - left);
    const y = affine(this.views.y, bottom, top - bottom);
    const home = this.views.x.whole && this.views.y.whole;
    for (const part of this.parts) {
      part.move(x, y);
      for (const group of part.groups) part.cut(group, home ? null : `url(#${this.clip.id})`);
    }
    for (const mover of this.values) {
      if (home) restore(mover.element);
      else mover.move(x, y);
    }
    for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
      const found = ticks[axis];
      if (this.views[axis].whole || !found) this.bands[axis]?.restore();
      else this.bands[axis]?.draw(found);
      const second = this.bands.second[axis];
      const beyond = this.views[axis].whole ? null : second?.fitted();
      if (beyond) second?.draw(beyond);
      else second?.restore();
    }
    this.hair(ticks);
    this.ends(home && !this.named);
  }

  /** @param {{ x: FittedTicks | null, y: FittedTicks | null }} ticks Lines behind the marks, at the ticks of axes that have any. */
  hair(ticks) {
    const [path] = this.hairlines;
    if (!path) return;
    const [left, top, right, bottom] = this.said.box;
    const pairs = [...this.lines.matchAll(/M(-?[\d.]+) (-?[\d.]+)L(-?[\d.]+) (-?[\d.]+)/g)].map((found) => found.slice(1).map(Number));
    const [level, upright] = [pairs.filter((pair) => pair[1] === pair[3]), pairs.filter((pair) => pair[1] !== pair[3])];
    const { x, y } = this.views;
    const across = y.whole || !level.length ? level : (ticks.y?.at ?? []).map((place) => bottom - y.share(place) * (bottom - top)).map((at) => [left, at, right, at]);
    const up = x.whole || !upright.length ? upright : (ticks.x?.at ?? []).map((place) => left + x.share(place) * (right - left)).map((at) => [at, top, at, bottom]);
    path.setAttribute("d", x.whole && y.whole ? this.lines : [...across, ...up].map((pair) => pair.map((value) => Math.round(value * 100) / 100)).map((pair) => `M${pair[0]} ${pair[1]}L${pair[2]} ${pair[3]}`).join(""));
  }

  /** @param {boolean} home Whether all is seen. Names stand beside the last place of their line that is seen. */
  ends(home) {
    const [, top, right, bottom] = this.said.box;
    for (const { group, home: first } of this.names) {
      const elements = /** @type {Element[]} */ (first.filter((one) => one instanceof Element));
      const titles = elements.filter((one) => one.tagName === "title");
      if (home) { group.replaceChildren(...first); continue; }
      const placed = elements.filter((one) => one.tagName === "text").flatMap((text) => {
        const at = this.lastOf(text.textContent ?? "");
        return at === null ? [] : [{ text: /** @type {Element} */ (text.cloneNode(true)), at }];
      }).sort((a, b) => a.at - b.at);
      const size = Number(placed[0]?.text.getAttribute("font-size") ?? 0);
      placed.forEach((one, place) => { if (place) one.at = Math.max(one.at, placed[place - 1].at + NAMES_APART * size); });
      const over = placed.length ? placed[placed.length - 1].at - bottom : 0;
      placed.forEach(({ text, at }) => {
        text.setAttribute("y", String(Math.round((Math.max(at - Math.max(over, 0), top) + this.views.y.said.cap / 2) * 100) / 100));
        text.setAttribute("x", String(Math.round((right + 2 * this.views.y.said.gap) * 100) / 100));
      });
      group.replaceChildren(...titles, ...placed.map(({ text }) => text));
    }
  }

  /** @param {string} name Where the line of a group is seen last; null where it is not seen. */
  lastOf(name) {
    const [left, top, right, bottom] = this.said.box;
    let [last, found] = [-Infinity, /** @type {number | null} */ (null)];
    for (const part of this.named ?? this.parts.map((one) => one.part)) {
      const { layer } = part;
      for (let mark = part.start; mark < part.end; mark += 1) {
        const [x, y] = [(layer.left[mark] + layer.right[mark]) / 2, (layer.top[mark] + layer.bottom[mark]) / 2];
        if (x > last && x >= left && x <= right && y >= top && y <= bottom && layer.said.line && layer.group(mark) === name) [last, found] = [x, y];
      }
    }
    return found;
  }
}

/** @param {number[]} one @param {number[]} other @returns {boolean} Whether two boxes have a place in common. */
function overlap(one, other) {
  return one[0] < other[2] && one[2] > other[0] && one[1] < other[3] && one[3] > other[1];
}

/**
 * How much room the texts of an axis at the left have.
 * @param {Element} group
 * @param {number[]} box
 * @param {SVGSVGElement} sheet
 * @param {number} away How far they begin from the panel.
 */
function roomBeside(group, box, sheet, away) {
  const around = sheet.getBoundingClientRect();
  const scale = sheet.viewBox.baseVal.width / around.width;
  const start = box[0] - away;
  let edge = -BEYOND;
  for (const one of sheet.querySelectorAll('text, g[id*="-panel-"] > g[data-marks]')) {
    if (group.contains(one)) continue;
    const own = one.getBoundingClientRect();
    const [right, top, bottom] = [(own.right - around.left) * scale, (own.top - around.top) * scale, (own.bottom - around.top) * scale];
    if (right <= box[0] && bottom > box[1] && top < box[3]) edge = Math.max(edge, right);
  }
  return start - edge - AROUND;
}
