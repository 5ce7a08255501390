// Marks of a panel where a reader looks closer: places move, and what has a size of its own keeps it.

import { SVG, picture } from "./paint.js";

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./marks.js").Marks} Marks */
/** @typedef {import("./views.js").View} View */
/** @typedef {{ factor: number, add: number }} Affine */
/** @typedef {{ element: Element, move(x: Affine, y: Affine): void }} Mover */

/** How far printed coordinates are from places at most, in points. */
const PRINTED = 0.011;
/** Coordinates further away say nothing more to a browser. */
const FARTHEST = 1e6;
const STAMP = /^M(-?[\d.]+) (-?[\d.]+)(?=m)/;
/** How far outside of its panel a mark may stand and still be seen. */
const BESIDE = 0.05;

/** @param {number} value */
const printed = (value) => String(Math.round(Math.min(Math.max(value, -FARTHEST), FARTHEST) * 100) / 100);

/** @type {WeakMap<Element, [string, string | null][]>} */
const FIRST = new WeakMap();

/** @param {Element} element Keeps how an element stands at first. */
function remember(element) {
  FIRST.set(element, ["cx", "cy", "x", "y", "width", "height", "d", "transform", "display", "clip-path"].map((name) => [name, element.getAttribute(name)]));
}

/** @param {Element} element Puts it back to where it stands at first. */
export function restore(element) {
  for (const [name, value] of FIRST.get(element) ?? []) {
    if (value === null) element.removeAttribute(name);
    else if (element.getAttribute(name) !== value) element.setAttribute(name, value);
  }
}

/**
 * Hides what stands outside of a panel.
 * @param {Element} element
 * @param {number[]} box
 * @param {number} x Where it stands.
 * @param {number} y
 */
export function shownWithin(element, [left, top, right, bottom], x, y) {
  const seen = x >= left - BESIDE && x <= right + BESIDE && y >= top - BESIDE && y <= bottom + BESIDE;
  if (seen) element.removeAttribute("display");
  else element.setAttribute("display", "none");
}

/** @param {Affine} by @param {number} at */
const put = (by, at) => at * by.factor + by.add;

/** The marks that a layer has in a panel, at their places and where they are seen. */
export class MovedPart {
  /**
   * @param {Marks} part
   * @param {View} x
   * @param {View} y
   * @param {Element[]} groups What they are drawn in.
   * @param {SVGElement[]} shapes All shapes in it.
   */
  constructor(part, x, y, groups, shapes) {
    this.part = part;
    this.views = { x, y };
    this.groups = groups;
    this.layer = part.layer;
    const { layer } = this;
    this.columns = { x: this.columnsOn("x"), y: this.columnsOn("y") };
    const own = (/** @type {Float64Array} */ side) => side.slice(part.start, part.end);
    this.home = { left: own(layer.left), top: own(layer.top), right: own(layer.right), bottom: own(layer.bottom) };
    this.clips = groups.map((group) => group.getAttribute("clip-path"));
    this.refine();
    this.shapes = shapes;
    this.image = groups.map((group) => group.querySelector("image")).find((one) => one !== null) ?? null;
    /** What is seen instead of an image. @type {Element | null} */
    this.live = null;
    /** @type {Mover[]} */
    this.movers = this.image ? [] : this.moversOf();
    /** Whether each mark grows with its axes, as bars do and discs do not. */
    this.grows = Uint8Array.from({ length: part.end - part.start }, (_, at) => Number(this.isStretched(part.start + at)));
  }

  /** @returns {string | null} Why its marks can't move; null where they can. */
  get stuck() {
    const { inks, shapes, said } = this.layer;
    if (this.image && !(inks && said.image && (!shapes || shapes.every((one) => one >= 0)))) return "a layer is an image";
    return null;
  }

  /** @param {number} mark */
  isStretched(mark) {
    const { layer } = this;
    if (layer.inks && layer.said.inks && layer.said.image) return layer.said.inks.looks[layer.inks[mark]][4] === "box";
    const element = layer.shapes && layer.shapes[mark] >= 0 ? this.shapes[layer.shapes[mark]] : undefined;
    return !element || element.tagName === "rect";
  }

  /**
   * The place on the panel at first of a value of a column; NaN for none.
   * @param {"x" | "y"} axis
   * @param {number} value
   */
  placeOf(axis, value) {
    const view = this.views[axis];
    const [left, top, right, bottom] = this.part.panel.box;
    const share = view.share(view.time ? value : view.kind.forward(value), view.home);
    return axis === "x" ? left + share * (right - left) : bottom - share * (bottom - top);
  }

  /**
   * The columns of values that stand on an axis, times in microseconds.
   * @param {"x" | "y"} axis
   */
  columnsOn(axis) {
    if (!this.views[axis].moves) return [];
    const own = this.layer.columns.filter((column) => column.said.name.split("_")[0] === axis && column.said.sort !== "words");
    const ahead = [...new Set(this.views[axis].said.clocks?.ahead ?? [0])];
    return own.map((column) => ({
      values: column.values,
      unit: column.said.sort === "time" ? column.said.unit ?? 1 : 1,
      // Values with a zone are what its clocks show.
      ahead: column.said.zone ? ahead : [0],
    }));
  }

  /** Exact places in the stead of printed ones: where a value of the row stands there, it is that value's. */
  refine() {
    if (this.layer.exact) return;
    const { part, home } = this;
    for (let mark = part.start; mark < part.end; mark += 1) {
      const at = mark - part.start;
      for (const [axis, low, high] of /** @type {["x" | "y", Float64Array, Float64Array][]} */ ([["x", home.left, home.right], ["y", home.top, home.bottom]])) {
        const middle = (low[at] + high[at]) / 2;
        const exact = this.exact(axis, mark, middle);
        low[at] = this.exact(axis, mark, low[at] + exact - middle);
        high[at] = this.exact(axis, mark, high[at] + exact - middle);
      }
    }
  }

  /**
   * The exact place of what is printed at one.
   * @param {"x" | "y"} axis
   * @param {number} mark
   * @param {number} at
   */
  exact(axis, mark, at) {
    for (const { values, unit, ahead } of this.columns[axis]) {
      for (const before of ahead) {
        const place = this.placeOf(axis, values[mark] * unit - before);
        if (Math.abs(place - at) < PRINTED) return place;
      }
    }
    return at;
  }

  /** What moves each of the shapes. */
  moversOf() {
    const { layer, part } = this;
    /** @type {Map<number, number>} */
    const marks = new Map();
    for (let mark = part.start; mark < part.end; mark += 1) if (layer.shapes && layer.shapes[mark] >= 0) marks.set(layer.shapes[mark], mark);
    const corners = layer.cornersIn(part);
    return this.shapes.flatMap((element, shape) => this.moverOf(element, marks.get(shape), corners.get(shape)) ?? []);
  }

  /**
   * @param {Element} element
   * @param {number | undefined} mark Which it shows.
   * @param {number[] | undefined} corners Which marks its corners show.
   * @returns {Mover | null}
   */
  moverOf(element, mark, corners) {
    remember(element);
    const number = (/** @type {string} */ name) => Number(element.getAttribute(name));
    const set = (/** @type {string} */ name, /** @type {number} */ value) => element.setAttribute(name, printed(value));
    const exact = (/** @type {"x" | "y"} */ axis, /** @type {number} */ at) => (mark === undefined ? at : this.exact(axis, mark, at));
    const [x, y] = element.tagName === "circle" ? ["cx", "cy"] : ["x", "y"];
    if (element.tagName === "circle" || element.tagName === "use") {
      const at = [exact("x", number(x)), exact("y", number(y))];
      return { element, move: (across, down) => { set(x, put(across, at[0])); set(y, put(down, at[1])); this.clear(element, put(across, at[0]), put(down, at[1])); } };
    }
    if (element.tagName === "rect") {
      const at = [number("x"), number("y"), number("x") + number("width"), number("y") + number("height")].map((side, place) => exact(place % 2 ? "y" : "x", side));
      return {
        element,
        move: (across, down) => {
          const [left, top, right, bottom] = at.map((side, place) => put(place % 2 ? down : across, side));
          set("x", left); set("y", top); set("width", right - left); set("height", bottom - top);
        },
      };
    }
    if (element.tagName === "text") return textMover(element, (at, down) => this.clear(element, at, down));
    const about = element.tagName === "path" ? this.textOf(element, corners) : null;
    if (about) return besideText(element, about);
    return element.tagName === "path" ? this.pathMover(element, mark, corners) : null;
  }

  /**
   * The text to which a path belongs: its halo, or what leads to it.
   * @param {Element} element
   * @param {number[] | undefined} corners
   * @returns {Element | null}
   */
  textOf(element, corners) {
    const next = element.nextElementSibling;
    if (!corners) return next?.tagName === "text" && next.hasAttribute("data-at") ? next : null;
    const text = this.layer.shapes ? this.shapes[this.layer.shapes[corners[0]]] : undefined;
    return text?.tagName === "text" && text.hasAttribute("data-at") ? text : null;
  }

  /** @param {Element} element @param {number | undefined} mark @param {number[] | undefined} corners @returns {Mover} */
  pathMover(element, mark, corners) {
    const path = element.getAttribute("d") ?? "";
    const stamp = STAMP.exec(path);
    if (stamp) {
      const at = [stamp[1], stamp[2]].map(Number);
      if (mark !== undefined) at.splice(0, 2, this.exact("x", mark, at[0]), this.exact("y", mark, at[1]));
      const rest = path.slice(stamp[0].length);
      return {
        element,
        move: (across, down) => {
          const [x, y] = [put(across, at[0]), put(down, at[1])];
          element.setAttribute("d", `M${printed(x)} ${printed(y)}${rest}`);
          this.clear(element, x, y);
        },
      };
    }
    if (this.layer.said.edges) return this.edgeMover(element, path, corners ?? []);
    const words = path.split(/(-?[\d.]+)/);
    const places = new Float64Array((words.length - 1) / 2);
    for (let at = 0; at < places.length; at += 1) places[at] = Number(words[2 * at + 1]);
    if (corners && 2 * corners.length === places.length) {
      corners.forEach((own, at) => {
        places[2 * at] = this.exact("x", own, places[2 * at]);
        places[2 * at + 1] = this.exact("y", own, places[2 * at + 1]);
      });
    }
    return {
      element,
      move: (across, down) => {
        for (let at = 0; at < places.length; at += 1) words[2 * at + 1] = printed(put(at % 2 ? down : across, places[at]));
        element.setAttribute("d", words.join(""));
        // Its group is not cut where marks are dropped whole.
        if (this.layer.said.drops) element.setAttribute("clip-path", `url(#closer-${this.part.panel.member}-${this.part.panel.number})`);
      },
    };
  }

  /**
   * Ticks at edges move along theirs, and are left out beyond it.
   * @param {Element} element
   * @param {string} path
   * @param {number[]} corners
   * @returns {Mover}
   */
  edgeMover(element, path, corners) {
    const [left, top, right, bottom] = this.part.panel.box;
    const ticks = [...path.matchAll(/M(-?[\d.]+) (-?[\d.]+)L(-?[\d.]+) (-?[\d.]+)/g)].map((found) => found.slice(1).map(Number));
    const upright = ticks.map((tick) => tick[0] === tick[2]);
    const places = ticks.map((tick, at) => (corners[2 * at] === undefined ? tick[upright[at] ? 0 : 1] : this.exact(upright[at] ? "x" : "y", corners[2 * at], tick[upright[at] ? 0 : 1])));
    return {
      element,
      move: (across, down) => {
        const made = ticks.map((tick, at) => {
          const place = put(upright[at] ? across : down, places[at]);
          const [low, high] = upright[at] ? [left, right] : [top, bottom];
          if (place < low - BESIDE || place > high + BESIDE) return "";
          return upright[at] ? `M${printed(place)} ${tick[1]}L${printed(place)} ${tick[3]}` : `M${tick[0]} ${printed(place)}L${tick[2]} ${printed(place)}`;
        });
        element.setAttribute("d", made.join(""));
      },
    };
  }

  /** @param {Element} group @param {string | null} clip Cuts its marks at the edges of the panel, or gives back how they were cut. */
  cut(group, clip) {
    const own = this.clips[this.groups.indexOf(group)];
    const used = clip === null || this.layer.said.drops ? own : clip;
    if (used === null) group.removeAttribute("clip-path");
    else group.setAttribute("clip-path", used);
  }

  /** @param {Element} element @param {number} x @param {number} y Hides what stands outside of the panel. */
  clear(element, x, y) {
    if (!this.layer.said.drops && element.tagName !== "text") return;
    shownWithin(element, this.part.panel.box, x, y);
  }

  /**
   * Moves all marks.
   * @param {Affine} x
   * @param {Affine} y
   */
  move(x, y) {
    const across = this.layer.said.moves.includes("x") ? x : { factor: 1, add: 0 };
    const down = this.layer.said.moves.includes("y") ? y : { factor: 1, add: 0 };
    const still = across.factor === 1 && across.add === 0 && down.factor === 1 && down.add === 0;
    for (const mover of this.movers) {
      if (still) restore(mover.element);
      else mover.move(across, down);
    }
    const { layer, part, home } = this;
    for (let mark = part.start; mark < part.end; mark += 1) {
      const at = mark - part.start;
      if (this.grows[at]) {
        layer.left[mark] = put(across, home.left[at]);
        layer.right[mark] = put(across, home.right[at]);
        layer.top[mark] = put(down, home.top[at]);
        layer.bottom[mark] = put(down, home.bottom[at]);
      } else {
        const wide = put(across, (home.left[at] + home.right[at]) / 2) - (home.left[at] + home.right[at]) / 2;
        const high = put(down, (home.top[at] + home.bottom[at]) / 2) - (home.top[at] + home.bottom[at]) / 2;
        layer.left[mark] = home.left[at] + wide;
        layer.right[mark] = home.right[at] + wide;
        layer.top[mark] = home.top[at] + high;
        layer.bottom[mark] = home.bottom[at] + high;
      }
    }
    part.grid = null;
    part.order = null;
    if (this.image) this.paint(this.image, across, down);
  }

  /**
   * Paints the marks of an image at their places; at first it is the image of print.
   * @param {Element} image
   * @param {Affine} x
   * @param {Affine} y
   */
  paint(image, x, y) {
    const { part, layer } = this;
    this.live?.remove();
    if (x.factor === 1 && x.add === 0 && y.factor === 1 && y.add === 0) {
      image.removeAttribute("display");
      return;
    }
    let [left, top, right, bottom] = part.panel.box;
    const seen = [];
    let reach = 0;
    for (let mark = part.start; mark < part.end; mark += 1) {
      if (layer.right[mark] < left || layer.left[mark] > right || layer.bottom[mark] < top || layer.top[mark] > bottom) continue;
      if (layer.said.drops) {
        // As in print, a mark is seen as a whole where its middle stands in the panel.
        const [across, down] = [(layer.left[mark] + layer.right[mark]) / 2, (layer.top[mark] + layer.bottom[mark]) / 2];
        if (across < left - BESIDE || across > right + BESIDE || down < top - BESIDE || down > bottom + BESIDE) continue;
        reach = Math.max(reach, layer.right[mark] - across);
      }
      seen.push(mark);
    }
    const over = Math.ceil(1.6 * reach);
    [left, top, right, bottom] = [left - over, top - over, right + over, bottom + over];
    const { shapes } = layer;
    if (shapes) seen.sort((a, b) => shapes[a] - shapes[b]);
    this.live = picture(layer, [left, top, right, bottom], seen, /** @type {SVGSVGElement} */ (/** @type {SVGElement} */ (image).ownerSVGElement));
    image.setAttribute("display", "none");
    image.after(this.live);
  }
}

/**
 * A text moves as the place that it tells of, or as its own where it tells of none.
 * @param {Element} element
 * @param {(x: number, y: number) => void} clear
 * @returns {Mover}
 */
export function textMover(element, clear) {
  remember(element);
  const at = ["x", "y"].map((name) => Number(element.getAttribute(name)));
  const about = (element.getAttribute("data-at") ?? at.join(" ")).split(" ").map((place) => (place === "-" ? NaN : Number(place)));
  const turned = /^rotate\((-?[\d.]+) /.exec(element.getAttribute("transform") ?? "");
  return {
    element,
    move: (across, down) => {
      const there = [put(across, about[0]), put(down, about[1])];
      const [x, y] = at.map((place, axis) => (Number.isNaN(about[axis]) ? place : place + there[axis] - about[axis]));
      element.setAttribute("x", printed(x));
      element.setAttribute("y", printed(y));
      if (turned) element.setAttribute("transform", `rotate(${turned[1]} ${printed(x)} ${printed(y)})`);
      clear(Number.isNaN(about[0]) ? x : there[0], Number.isNaN(about[1]) ? y : there[1]);
    },
  };
}

/**
 * What belongs to a text moves as far as that does, and is seen where that is.
 * @param {Element} element
 * @param {Element} text
 * @returns {Mover}
 */
function besideText(element, text) {
  const words = (element.getAttribute("d") ?? "").split(/(-?[\d.]+)/);
  const places = words.filter((_, at) => at % 2 === 1).map(Number);
  const copy = /** @type {Element} */ (text.cloneNode(false));
  const home = ["x", "y"].map((name) => Number(text.getAttribute(name)));
  const mover = textMover(copy, () => {});
  return {
    element,
    move: (across, down) => {
      mover.move(across, down);
      const far = ["x", "y"].map((name, axis) => Number(copy.getAttribute(name)) - home[axis]);
      places.forEach((place, at) => { words[2 * at + 1] = printed(place + far[at % 2]); });
      element.setAttribute("d", words.join(""));
      if (text.getAttribute("display") !== "none") element.removeAttribute("display");
      else element.setAttribute("display", "none");
    },
  };
}

/** @param {string} id @param {number[]} box @returns {Element} What cuts marks at the edges of a panel. */
export function clipOf(id, box) {
  const clip = document.createElementNS(SVG, "clipPath");
  clip.id = id;
  const [left, top, right, bottom] = box;
  const edge = document.createElementNS(SVG, "rect");
  [["x", left], ["y", top], ["width", right - left], ["height", bottom - top]].forEach(([name, value]) => edge.setAttribute(String(name), String(value)));
  clip.append(edge);
  return clip;
}
