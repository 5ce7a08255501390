// Sums, means and quantiles of chosen rows, by the results that they enter: what print asks of all rows.

import { risingWords } from "./order.js";

/** @typedef {import("./recipe.js").Recipe} Recipe */

/**
 * The places of values in rising order, equal ones as they came.
 * @param {Float64Array} values
 * @returns {Uint32Array}
 */
export function risingOrder(values) {
  const count = values.length;
  const words = new Uint32Array(Float64Array.from(values, (value) => value + 0).buffer);
  // Negative numbers rise with falling bits, and stand before the others.
  for (let at = 0; at < count; at += 1) {
    const high = words[2 * at + 1];
    const flip = high & 0x80000000 ? 0xffffffff : 0;
    words[2 * at] ^= flip;
    words[2 * at + 1] = (high ^ (flip || 0x80000000)) >>> 0;
  }
  return risingWords(words);
}

/**
 * The same, one result after the other.
 * @param {Float64Array} values
 * @param {ArrayLike<number> & Iterable<number>} of
 * @param {number} count
 */
export function orderWithin(values, of, count) {
  const starts = new Uint32Array(count + 1);
  for (const cell of of) starts[cell + 1] += 1;
  for (let cell = 0; cell < count; cell += 1) starts[cell + 1] += starts[cell];
  const order = new Uint32Array(of.length);
  for (const at of risingOrder(values)) order[starts[of[at]]++] = at;
  return order;
}

/**
 * Quantiles of type 7 of a sorted sample.
 * @param {ArrayLike<number>} sorted
 * @param {number} share
 */
function quantile(sorted, share) {
  const place = share * (sorted.length - 1);
  const low = Math.floor(place);
  const next = Math.min(low + 1, sorted.length - 1);
  return sorted[low] + (place - low) * (sorted[next] - sorted[low]);
}

/**
 * The same of weighted rows, as print has it (Akinshin 2023).
 * @param {ArrayLike<number>} sorted
 * @param {ArrayLike<number>} weights
 * @param {number} share
 */
function weightedQuantile(sorted, weights, share) {
  const count = sorted.length;
  let [sum, squares, even] = [0, 0, true];
  for (let at = 0; at < count; at += 1) {
    sum += weights[at];
    squares += weights[at] ** 2;
    even &&= weights[at] === weights[0];
  }
  if (even) return quantile(sorted, share);
  const size = sum ** 2 / squares;
  const low = (share * (size - 1)) / size;
  const high = Math.min(low + 1 / size, 1);
  let [before, held, mean, base] = [0, 0, 0, NaN];
  for (let at = 0; at < count; at += 1) {
    const after = at === count - 1 ? 1 : before + weights[at] / sum;
    const own = Math.min(after, high) - Math.max(before, low);
    if (after > low && own > 0) {
      if (Number.isNaN(base)) base = sorted[at];
      held += own;
      mean += own * (sorted[at] - base);
    }
    before = after;
  }
  if (Number.isNaN(base)) base = sorted[count - 1];
  return Math.min(Math.max(base + (held > 0 ? mean / held : 0), sorted[0]), sorted[count - 1]);
}

/** The chosen rows of a layer. */
export class Asked {
  /**
   * @param {Recipe} recipe
   * @param {Uint32Array} held The places of the chosen rows among those of the recipe, increasing.
   */
  constructor(recipe, held) {
    this.recipe = recipe;
    this.held = held;
    this.weights = recipe.values.weight ?? null;
    /** How many rows each result has. */
    this.rows = new Float64Array(recipe.count);
    for (let at = 0; at < held.length; at += 1) this.rows[recipe.of[held[at]]] += 1;
    /** How many rows each result has, or their weights. */
    this.counts = this.weights ? this.added((row) => /** @type {Float64Array} */ (this.weights)[row]) : this.rows;
  }

  /** @param {(row: number) => number} what @returns {Float64Array} Its sum over the rows of each result. */
  added(what) {
    const { of, count } = this.recipe;
    const { held } = this;
    const sums = new Float64Array(count);
    for (let at = 0; at < held.length; at += 1) sums[of[held[at]]] += what(held[at]);
    return sums;
  }

  /** @returns {Float64Array} The size of a sample that says as much without weights. */
  get sizes() {
    const { weights } = this;
    if (!weights) return this.rows;
    const squares = this.added((row) => weights[row] ** 2);
    return this.counts.map((sum, cell) => (sum ? sum ** 2 / squares[cell] : 0));
  }

  /** @param {Float64Array} values @returns {Float64Array} */
  sums(values) {
    const { weights } = this;
    return this.added(weights ? (row) => weights[row] * values[row] : (row) => values[row]);
  }

  /** @param {Float64Array} values @returns {Float64Array} Means, taken about themselves once more. */
  means(values) {
    const { weights } = this;
    const { of } = this.recipe;
    const first = this.sums(values).map((sum, cell) => sum / this.counts[cell]);
    const rest = this.added(weights ? (row) => weights[row] * (values[row] - first[of[row]]) : (row) => values[row] - first[of[row]]);
    return first.map((mean, cell) => mean + rest[cell] / this.counts[cell]);
  }

  /** @param {Float64Array} values @param {(one: number, other: number) => number} pick @param {number} start */
  extremes(values, pick, start) {
    const { of, count } = this.recipe;
    const found = new Float64Array(count).fill(start);
    for (const row of this.held) found[of[row]] = pick(found[of[row]], values[row]);
    return found;
  }

  /**
   * The values of each result in rising order, with their weights.
   * @param {string} name
   * @returns {Generator<{ cell: number, sorted: Float64Array, weights: Float64Array | null }>}
   */
  *sorted(name) {
    const { of, count } = this.recipe;
    const { held, weights } = this;
    const values = this.recipe.values[name];
    const chosen = new Uint8Array(of.length);
    for (let at = 0; at < held.length; at += 1) chosen[held[at]] = 1;
    const order = this.recipe.ordered(name);
    const sorted = new Float64Array(held.length);
    const masses = weights && new Float64Array(held.length);
    let end = 0;
    for (let at = 0; at < order.length; at += 1) {
      const row = order[at];
      if (chosen[row] === 0) continue;
      if (weights && masses) masses[end] = weights[row];
      sorted[end] = values[row];
      end += 1;
    }
    let start = 0;
    for (let cell = 0; cell < count; cell += 1) {
      const size = this.rows[cell];
      if (size) yield { cell, sorted: sorted.subarray(start, start + size), weights: masses && masses.subarray(start, start + size) };
      start += size;
    }
  }

  /**
   * Quantiles of each result, one array a share; NaN where it has no rows.
   * @param {string} name
   * @param {number[]} shares
   * @returns {Float64Array[]}
   */
  quantiles(name, shares) {
    const found = shares.map(() => new Float64Array(this.recipe.count).fill(NaN));
    for (const { cell, sorted, weights } of this.sorted(name)) {
      shares.forEach((share, at) => { found[at][cell] = weights ? weightedQuantile(sorted, weights, share) : quantile(sorted, share); });
    }
    return found;
  }

  /**
   * One number for each result; NaN where it has no rows.
   * @param {string} name
   * @param {string} how
   * @returns {Float64Array}
   */
  aggregates(name, how) {
    const values = this.recipe.values[name];
    if (how === "count") return this.counts;
    const made = how === "mean" ? this.means(values) : how === "median" ? this.quantiles(name, [0.5])[0]
      : how === "min" ? this.extremes(values, Math.min, Infinity) : how === "max" ? this.extremes(values, Math.max, -Infinity)
        : how === "sum" ? this.sums(values) : this.added((row) => values[row]);
    return made.map((value, cell) => (this.rows[cell] ? value : NaN));
  }
}
