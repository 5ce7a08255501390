// How a layer is computed anew of chosen rows: its rows, the results that they enter, and where these stand.

import { orderWithin } from "./asked.js";
import { integers, numbers, raw } from "./data.js";
import { kindOf } from "./scales.js";

/** @typedef {import("./data.js").RecipeSaid} RecipeSaid */
/** @typedef {import("./data.js").LookSaid} LookSaid */
/** @typedef {import("./views.js").View} View */
/** @typedef {import("./asked.js").Asked} Asked */
/**
 * @typedef {{ mark: number, kind: string, at: number[][], off?: number[][], wide?: number, fill?: number, bordered?: boolean, size?: number, opacity?: number, color?: string }} Shape
 * A shape of a mark: places along the layer's own x and y, in turn, as its axes are even; and how far beside them it stands, in points.
 * @typedef {{ cell: number[], panel: number[], box: number[][], values: Record<string, ArrayLike<number>>, shapes: Shape[], few?: number }} Finished
 * What came out: marks with their result, their panel, the places of their sides, and what they say; and of how many results there are too few rows.
 */

/** What results say that no choice changes, by the way to compute. @type {Record<string, string[]>} */
const SETTLED = { histogram: ["x", "low", "high"], cells: ["x", "y"], tally: ["x", "y"], reference: [], cumulative: [], trend: [] };

/** What is needed to compute a layer anew. */
export class Recipe {
  /**
   * @param {RecipeSaid} said
   * @param {Uint8Array} bytes
   * @param {{ x: View, y: View }} views Of one of its panels, as the reader sees them.
   */
  constructor(said, bytes, views) {
    this.said = said;
    this.options = said.options;
    const axes = said.horizontal ? { x: views.y, y: views.x } : views;
    this.timed = { x: axes.x.time, y: axes.y.time };
    /** Whether values are places already. */
    const placed = said.space === "axis";
    this.up = (/** @type {number} */ value) => (placed || axes.y.time ? value : axes.y.kind.forward(value));
    this.down = (/** @type {number} */ value, /** @type {string} */ name) => {
      if (axes.y.time) return value;
      if (placed) return axes.y.kind.inverse(value);
      // A place that the axis does not have is not told.
      return name.startsWith("y") && Number.isNaN(axes.y.kind.forward(value)) ? NaN : value;
    };
    this.across = (/** @type {number} */ value) => (placed || axes.x.time ? value : axes.x.kind.forward(value));
    this.back = (/** @type {number} */ place) => (axes.x.time ? place : axes.x.kind.inverse(place));
    this.backAcross = (/** @type {number} */ value) => (placed ? this.back(value) : value);
    this.rows = integers(bytes, said.rows);
    this.of = integers(bytes, said.of);
    /** @type {Record<string, Float64Array>} */
    this.values = Object.fromEntries(Object.entries(said.values).map(([name, one]) => [name, numbers(bytes, one)]));
    const { count, panel, group, slot, number, ...places } = said.cells;
    this.count = count;
    this.panel = raw(bytes, panel);
    this.group = raw(bytes, group);
    this.slot = raw(bytes, slot);
    /** The numbers of results in the layer's table. */
    this.number = raw(bytes, number);
    /** @type {Record<string, Float64Array>} */
    this.places = Object.fromEntries(Object.entries(places).map(([name, one]) => [name, numbers(bytes, one)]));
    this.look = raw(bytes, said.look);
    this.beside = said.beside ? { rows: raw(bytes, said.beside.rows), panel: raw(bytes, said.beside.panel), weight: said.beside.weight ? numbers(bytes, said.beside.weight) : null } : null;
    /** @type {Map<string, Uint32Array>} */
    this.orders = new Map();
    /** Results from the lowest in their stack to the highest. */
    this.stacking = Array.from({ length: count }, (_, cell) => cell).sort((a, b) => this.group[a] - this.group[b] || a - b);
    this.settled = SETTLED[said.finish] ?? ["x"];
    /** Which rows that enter no result are chosen. @type {(row: number) => boolean} */
    this.chosen = () => true;
  }

  /** @param {string} name @returns {Uint32Array} Its rows one result after the other, values rising. */
  ordered(name) {
    let found = this.orders.get(name);
    if (!found) this.orders.set(name, (found = orderWithin(this.values[name], this.of, this.count)));
    return found;
  }

  /** @param {Asked} asked @returns {number[]} The results that have rows. */
  heldCells(asked) {
    return Array.from({ length: this.count }, (_, cell) => cell).filter((cell) => asked.rows[cell] > 0);
  }

  /** @returns {Map<number, number>} For each panel the chosen rows that enter no result, or their weights. */
  outside() {
    const found = new Map();
    const { beside } = this;
    beside?.rows.forEach((row, at) => {
      if (this.chosen(row)) found.set(beside.panel[at], (found.get(beside.panel[at]) ?? 0) + (beside.weight ? beside.weight[at] : 1));
    });
    return found;
  }

  /**
   * Marks that are results.
   * @param {number[]} held
   * @param {(cell: number) => number[]} box
   * @param {Record<string, ArrayLike<number>>} values One a result.
   * @param {Shape[]} shapes
   * @param {string[]} [upright] Which values stand on the layer's y, as places where it computes on these.
   * @returns {Finished}
   */
  results(held, box, values, shapes, upright = ["y"]) {
    const taken = Object.fromEntries(Object.entries(values).map(([name, one]) => [name, held.map((cell) => (upright.includes(name) ? this.down(one[cell], name) : one[cell]))]));
    return { cell: held, panel: held.map((cell) => this.panel[cell]), box: held.map(box), values: taken, shapes };
  }

  /**
   * Marks at places that were found anew.
   * @param {{ cell: number, panel?: number, x: number, y: number, values: Record<string, number> }[]} marks
   * @param {Shape[]} shapes
   * @param {string[]} [upright]
   * @param {string[]} [level] Which values stand on the layer's x.
   * @returns {Finished}
   */
  atPlaces(marks, shapes, upright = [], level = []) {
    const names = [...new Set(marks.flatMap((mark) => Object.keys(mark.values)))];
    const told = (/** @type {string} */ name, /** @type {number} */ value) => (upright.includes(name) ? this.down(value, name) : level.includes(name) ? this.backAcross(value) : value);
    return {
      cell: marks.map(({ cell }) => cell), panel: marks.map(({ cell, panel }) => panel ?? this.panel[cell]), box: marks.map(({ x, y }) => [x, y, x, y]),
      values: Object.fromEntries(names.map((name) => [name, marks.map(({ values }) => told(name, values[name] ?? NaN))])), shapes,
    };
  }

  /**
   * Marks that are rectangles between the settled sides of results and their ends.
   * @param {Asked} asked
   * @param {{ low: Float64Array, high: Float64Array, values: Record<string, Float64Array>, placed?: boolean, every?: boolean, colors?: string[] }} ends
   * @returns {Finished}
   */
  rectangles(asked, { low, high, values, placed = false, every = false, colors }) {
    const { x_low, x_high } = this.places;
    const up = placed ? (/** @type {number} */ value) => value : this.up;
    const held = every ? Array.from(this.look, (_, cell) => cell) : this.heldCells(asked);
    const box = (/** @type {number} */ cell) => [x_low[cell], up(low[cell]), x_high[cell], up(high[cell])];
    const shapes = held.map((cell, mark) => ({ mark, kind: "rect", at: [box(cell)], ...(colors ? { color: colors[cell] } : {}) }));
    return this.results(held, box, values, shapes, []);
  }

  /** @param {{ kind: string, low: number, high: number }} said @returns {(value: number) => number} Shares between two ends. */
  shares(said) {
    const kind = kindOf(said);
    const [low, high] = [said.low, said.high].map((end) => kind.forward(end));
    return (value) => (high > low ? (kind.forward(value) - low) / (high - low) : 0.5);
  }

  /** @param {ArrayLike<number>} values @returns {string[] | undefined} The color of each. */
  colors(values) {
    const scale = this.said.color;
    if (!scale) return undefined;
    const share = this.shares(scale);
    const last = scale.values.length - 1;
    return Array.from(values, (value) => {
      if (scale.breaks.length) return scale.values[Number.isNaN(value) ? last : scale.breaks.filter((one) => one <= value).length];
      const at = share(value);
      return scale.values[Number.isNaN(at) ? last : evenRound(Math.min(Math.max(at, 0), 1) * (last - 1))];
    });
  }

  /** @param {ArrayLike<number>} values @returns {number[]} The diameter of each. */
  sizes(values) {
    const scale = this.said.size;
    if (!scale) return Array.from(values, () => 0);
    const share = this.shares(scale);
    const [low, high] = scale.ends;
    return Array.from(values, (value) => {
      const at = share(value);
      if (Number.isNaN(at)) return scale.lost;
      return evenRound(Math.sqrt(low ** 2 + Math.min(Math.max(at, 0), 1) * (high ** 2 - low ** 2)) / SIZE_STEP) * SIZE_STEP;
    });
  }
}

/** Sizes are as fine as this, in points. */
const SIZE_STEP = 0.005;

/** @param {number} value @returns {number} The nearest whole number; of two the even one, as in print. */
function evenRound(value) {
  const low = Math.floor(value);
  if (value - low !== 0.5) return Math.round(value);
  return low % 2 ? low + 1 : low;
}
