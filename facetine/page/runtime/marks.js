// The layers of the page: where their marks stand, what these say, and which of them is nearest to a place.

import { integers, numbers, raw } from "./data.js";
import { Grid } from "./grid.js";
import { mixedRanks } from "./mixing.js";
import { formatted } from "./numerals.js";
import { decimalText, numberText, timeText } from "./words.js";

/** @typedef {import("./data.js").LayerSaid} LayerSaid */
/** @typedef {import("./data.js").PanelSaid} PanelSaid */
/** @typedef {import("./data.js").ColumnSaid} ColumnSaid */

/** @type {Record<string, string>} */
const RAISED = { "\u2212": "\u207b", 0: "\u2070", 1: "\u00b9", 2: "\u00b2", 3: "\u00b3", 4: "\u2074", 5: "\u2075", 6: "\u2076", 7: "\u2077", 8: "\u2078", 9: "\u2079" };
/** Places of an axis, in points, that are one. */
const SAME = 0.05;

/** What a layer shows in a panel. */
export class Marks {
  /**
   * @param {Layer} layer
   * @param {PanelSaid} panel
   * @param {number} start The place of its first mark among those of the layer.
   * @param {number} count
   * @param {number} piece The place of its first part of a shape among those of the layer.
   * @param {number} pieces
   */
  constructor(layer, panel, start, count, piece, pieces) {
    this.layer = layer;
    this.panel = panel;
    this.start = start;
    this.end = start + count;
    this.pieces = [piece, piece + pieces];
    /** @type {number[] | null} */
    this.order = null;
    /** @type {Grid | null} */
    this.grid = null;
  }

  /** @param {number} at @returns {boolean} Whether a mark stands in its panel. */
  shows(at) {
    const { left, top, right, bottom } = this.layer;
    const [first, upper, last, lower] = this.panel.box;
    return right[at] >= first - SAME && left[at] <= last + SAME && bottom[at] >= upper - SAME && top[at] <= lower + SAME;
  }

  /** @returns {boolean} Whether any mark does. */
  isSeen() {
    for (let at = this.start; at < this.end; at += 1) if (this.shows(at)) return true;
    return false;
  }

  /**
   * The marks that are seen, from left to right, or from below where they stand along y.
   * @returns {number[]}
   */
  along() {
    if (this.order === null) {
      this.order = Array.from({ length: this.end - this.start }, (_, at) => this.start + at).filter((at) => this.shows(at));
      this.order.sort((a, b) => this.step(a) - this.step(b) || a - b);
    }
    return this.order;
  }

  /**
   * Where the middle of a mark stands along the axis, as a whole number of steps that grows the way its values are read.
   * @param {number} mark
   * @returns {number}
   */
  step(mark) {
    const { left, top, right, bottom, said } = this.layer;
    return Math.round((said.along === "y" ? -top[mark] - bottom[mark] : left[mark] + right[mark]) / 2 / SAME);
  }

  /**
   * The place in order of the first mark that stands at a step along the axis, or beyond it.
   * @param {number} step
   * @returns {number}
   */
  first(step) {
    const order = this.along();
    let [low, high] = [0, order.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.step(order[middle]) < step) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /**
   * The mark of a line that is nearest along its axis, wherever the pointer is across it.
   * @param {number} x
   * @param {number} y
   * @returns {{ mark: number, distance: number }}
   */
  nearestAlong(x, y) {
    const { left, top, right, bottom, said } = this.layer;
    const upright = said.along === "y";
    const order = this.along();
    const place = (upright ? -y : x) / SAME;
    const far = (/** @type {number} */ at) => this.step(order[at]) - place;
    const low = this.first(place);
    const distance = Math.min(low < order.length ? far(low) : Infinity, low > 0 ? -far(low - 1) : Infinity);
    let mark = -1;
    let beside = Infinity;
    const take = (/** @type {number} */ at) => {
      const own = order[at];
      const off = Math.abs(upright ? (left[own] + right[own]) / 2 - x : (top[own] + bottom[own]) / 2 - y);
      if (off < beside) [mark, beside] = [own, off];
    };
    for (let at = low; at < order.length && far(at) <= distance; at += 1) take(at);
    for (let at = low - 1; at >= 0 && -far(at) <= distance; at -= 1) take(at);
    return { mark, distance: distance * SAME };
  }

  /**
   * The mark that is nearest to a place, of those within reach; −1 where there are none.
   * @param {number} x In points.
   * @param {number} y
   * @param {number} reach
   * @returns {{ mark: number, distance: number }}
   */
  nearest(x, y, reach) {
    const { left, top, right, bottom } = this.layer;
    this.grid ??= new Grid(this.layer, this.start, this.end);
    let mark = -1;
    let distance = Infinity;
    let size = Infinity;
    for (const at of this.grid.near(x, y, reach)) {
      if (!this.shows(at)) continue;
      const across = Math.max(left[at] - x, x - right[at], 0);
      const down = Math.max(top[at] - y, y - bottom[at], 0);
      const far = Math.hypot(across, down);
      const own = (right[at] - left[at]) * (bottom[at] - top[at]);
      // Of marks that hold the place, the smallest is meant, and of those the first.
      const nearer = far < distance || (far === distance && (own < size || (own === size && at < mark)));
      if (far <= reach && nearer) [mark, distance, size] = [at, far, own];
    }
    return { mark, distance };
  }
}

/** A layer with its arrays. */
export class Layer {
  /**
   * @param {LayerSaid} said
   * @param {Uint8Array} bytes
   * @param {PanelSaid[]} panels All panels of the page.
   * @param {import("./views.js").View[]} views Of all axes.
   */
  constructor(said, bytes, panels, views) {
    this.said = said;
    this.columns = said.columns.map((column) => new Column(column, bytes));
    const sides = said.boxes.map((one) => numbers(bytes, one));
    const [width, height] = sides.slice(-2);
    /** Whether marks stand where their values do, to the last digit. */
    this.exact = sides.length === 2;
    const [left, top] = this.exact ? [width, height].map((size, side) => this.edges(side ? "y" : "x", size, panels, views)) : sides;
    this.left = left;
    this.top = top;
    this.right = width.map((own, mark) => left[mark] + own);
    this.bottom = height.map((own, mark) => top[mark] + own);
    this.rows = raw(bytes, said.rows);
    this.groups = said.groups ? raw(bytes, said.groups.codes) : null;
    /** @type {Float64Array | null} */
    this.lying = said.shapes ? raw(bytes, said.shapes) : null;
    /** Parts of shapes that show one row each: shape, part of it, row. */
    this.pieces = said.pieces.map((one) => raw(bytes, one));
    /** The corners of shapes that are drawn along rows: part, shape, mark. */
    this.corners = said.vertices ? said.vertices.map((one) => raw(bytes, one)) : null;
    this.inks = said.inks ? raw(bytes, said.inks.codes) : null;
    /** The frame of its rows, or of the rows behind its results; null where none can be told. */
    this.frame = said.frame ?? said.members?.frame ?? null;
    /** The rows of all results, one result after the other, and where those of each begin. @type {{ starts: Uint32Array, rows: Int32Array } | null} */
    this.members = said.members ? byResult(integers(bytes, said.members.rows), integers(bytes, said.members.of)) : null;
    /** Of which rows its marks tell, where not of all of them, or where others do not. */
    this.of = "";
    /** @type {Marks[]} */
    this.parts = [];
    let start = 0;
    let piece = 0;
    for (const part of said.parts) {
      const panel = panels.find((one) => one.member === said.member && one.number === part.panel);
      if (panel) this.parts.push(new Marks(this, panel, start, part.count, piece, part.pieces));
      start += part.count;
      piece += part.pieces;
    }
  }

  /** @returns {Float64Array | null} Which shape of its panel each mark is, in the order in which they are drawn; found where it is first asked for. */
  get shapes() {
    if (this.lying === null && this.said.mixed) this.lying = this.ranks(this.said.mixed);
    return this.lying;
  }

  /** @param {number[]} seeds What mixes the marks of each part. @returns {Float64Array} Which of them lies over another. */
  ranks(seeds) {
    const found = new Float64Array(this.rows.length);
    let start = 0;
    this.said.parts.forEach(({ count }, part) => {
      found.set(mixedRanks(count, seeds[part]), start);
      start += count;
    });
    return found;
  }

  /**
   * The left or the upper edges of marks whose middles are where their values stand on an axis.
   * @param {"x" | "y"} axis
   * @param {Float64Array} size
   * @param {PanelSaid[]} panels
   * @param {import("./views.js").View[]} views
   * @returns {Float64Array}
   */
  edges(axis, size, panels, views) {
    const values = this.columns.find((one) => one.said.name === axis)?.placed ?? size;
    const found = new Float64Array(size.length);
    let mark = 0;
    for (const part of this.said.parts) {
      const panel = /** @type {PanelSaid} */ (panels.find((one) => one.member === this.said.member && one.number === part.panel));
      const view = views[panel.axes[axis]];
      const [first, length] = axis === "x" ? [panel.box[0], panel.box[2] - panel.box[0]] : [panel.box[3], panel.box[1] - panel.box[3]];
      for (const end = mark + part.count; mark < end; mark += 1) {
        const place = view.time ? values[mark] : view.kind.forward(values[mark]);
        found[mark] = first + view.share(place, view.home) * length - size[mark] / 2;
      }
    }
    return found;
  }

  /**
   * For each shape of a panel that is drawn along rows, the marks that its corners show.
   * @param {Marks} part
   * @returns {Map<number, number[]>}
   */
  cornersIn(part) {
    /** @type {Map<number, number[]>} */
    const found = new Map();
    const own = this.said.parts.findIndex((one) => one.panel === part.panel.number);
    if (!this.corners) return found;
    const [parts, shapes, marks] = this.corners;
    for (let at = 0; at < parts.length; at += 1) {
      if (parts[at] !== own) continue;
      const known = found.get(shapes[at]);
      if (known) known.push(part.start + marks[at]);
      else found.set(shapes[at], [part.start + marks[at]]);
    }
    return found;
  }

  /**
   * What a mark says, a pair of title and text for each column that has a value for it; its group first.
   * @param {number} mark
   * @param {boolean} [shown] Whether as axes write it, and not in full.
   * @returns {[string, string][]}
   */
  told(mark, shown = false) {
    /** @type {[string, string][]} */
    const lines = [];
    for (const column of this.columns) {
      const text = shown ? column.shown(mark) : column.text(mark);
      if (text !== "") lines.push([column.said.title, text]);
    }
    return lines;
  }

  /**
   * Has its values written as the axes on which they stand write them.
   * @param {{ x: import("./views.js").View, y: import("./views.js").View }} views
   */
  writtenAs(views) {
    for (const column of this.columns) {
      const axis = column.said.name.split("_")[0];
      const format = axis === "x" || axis === "y" ? views[axis].said.format : null;
      if (format && !format.words && column.said.sort === "number") column.format = format;
    }
  }

  /**
   * The rows of the frame that a mark shows: its own, or those behind a result.
   * @param {number} mark
   * @returns {ArrayLike<number> & { every(test: (row: number) => boolean): boolean, forEach(what: (row: number) => void): void }}
   */
  held(mark) {
    if (this.members) return this.members.rows.subarray(this.members.starts[this.rows[mark]], this.members.starts[this.rows[mark] + 1]);
    return this.said.frame === null ? [] : [this.rows[mark]];
  }

  /**
   * What the group of a mark is called; nothing where there are none.
   * @param {number} mark
   * @returns {string}
   */
  group(mark) {
    const code = this.groups ? this.groups[mark] : -1;
    return code >= 0 && this.said.groups ? this.said.groups.names[code] : "";
  }
}

/**
 * Rows one result after the other.
 * @param {Int8Array | Int16Array | Int32Array | Float64Array} rows
 * @param {Int8Array | Int16Array | Int32Array | Float64Array} of The result of each.
 */
function byResult(rows, of) {
  let most = -1;
  for (const result of of) if (result > most) most = result;
  const starts = new Uint32Array(most + 2);
  for (const result of of) starts[result + 1] += 1;
  for (let at = 0; at <= most; at += 1) starts[at + 1] += starts[at];
  const next = starts.slice();
  const ordered = new Int32Array(rows.length);
  for (let at = 0; at < rows.length; at += 1) ordered[next[of[at]]++] = rows[at];
  return { starts, rows: ordered };
}

/** Values of the marks of a layer. */
export class Column {
  /**
   * @param {ColumnSaid} said
   * @param {Uint8Array} bytes
   */
  constructor(said, bytes) {
    this.said = said;
    this.places = said.sort === "number" ? said.values.places : undefined;
    this.whole = said.sort === "number" && this.places === undefined ? null : raw(bytes, said.values);
    this.values = numbers(bytes, said.values);
    /** @type {import("./numerals.js").Format | null} */
    this.format = null;
  }

  /** @returns {Float64Array} Values as they stand on axes: times in microseconds. */
  get placed() {
    const unit = this.said.sort === "time" ? this.said.unit ?? 1 : 1;
    return unit === 1 ? this.values : this.values.map((value) => value * unit);
  }

  /**
   * The value of a mark as its axis writes it; nothing where it has none.
   * @param {number} mark
   * @returns {string}
   */
  shown(mark) {
    if (this.format === null || Number.isNaN(this.values[mark])) return this.text(mark);
    // Raised digits of powers stand between carets.
    return formatted([this.values[mark]], this.format)[0].replace(/\^([^^]*)\^/g, (_, power) => [...power].map((sign) => RAISED[sign] ?? sign).join(""));
  }

  /**
   * The value of a mark in words; nothing where it has none.
   * @param {number} mark
   * @returns {string}
   */
  text(mark) {
    const value = this.values[mark];
    if (this.said.sort === "words") return value >= 0 && this.said.words ? this.said.words[value] : "";
    if (Number.isNaN(value)) return "";
    if (this.said.sort === "time") return timeText(value, this.said.unit ?? 1);
    if (this.whole !== null) return decimalText(this.whole[mark], this.places ?? 0);
    return numberText(value);
  }
}
