// Boxes by where they stand, so that those near a place are found without a look at all of them.

/** How many cells a grid has along its longer side at most. */
const MOST_CELLS = 128;
/** A box over more cells than this is looked at each time. */
const LARGE = 64;

/** @typedef {{ left: Float64Array, top: Float64Array, right: Float64Array, bottom: Float64Array }} Boxes */

/** Boxes of a stretch of arrays, in square cells. */
export class Grid {
  /**
   * @param {Boxes} boxes
   * @param {number} start The first of them.
   * @param {number} end The one after the last.
   */
  constructor(boxes, start, end) {
    let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let at = start; at < end; at += 1) {
      if (boxes.left[at] < left) left = boxes.left[at];
      if (boxes.top[at] < top) top = boxes.top[at];
      if (boxes.right[at] > right) right = boxes.right[at];
      if (boxes.bottom[at] > bottom) bottom = boxes.bottom[at];
    }
    if (right < left || bottom < top) [left, top, right, bottom] = [0, 0, 0, 0];
    this.left = left;
    this.top = top;
    const cells = Math.min(MOST_CELLS, Math.max(1, Math.ceil(Math.sqrt(end - start))));
    this.side = Math.max(right - left, bottom - top, 1e-6) / cells;
    this.columns = Math.max(1, Math.ceil((right - left) / this.side) + 1);
    this.lines = Math.max(1, Math.ceil((bottom - top) / this.side) + 1);
    /** @type {number[]} */
    this.large = [];
    const counts = new Uint32Array(this.columns * this.lines + 1);
    for (let at = start; at < end; at += 1) {
      const cover = this.cover(boxes.left[at], boxes.top[at], boxes.right[at], boxes.bottom[at]);
      if (cover.length > LARGE) this.large.push(at);
      else for (const cell of cover) counts[cell + 1] += 1;
    }
    for (let cell = 1; cell < counts.length; cell += 1) counts[cell] += counts[cell - 1];
    /** Where the boxes of each cell begin among all that stand in cells. */
    this.starts = counts;
    this.held = new Uint32Array(counts[counts.length - 1]);
    const next = counts.slice();
    for (let at = start; at < end; at += 1) {
      const cover = this.cover(boxes.left[at], boxes.top[at], boxes.right[at], boxes.bottom[at]);
      if (cover.length <= LARGE) for (const cell of cover) this.held[next[cell]++] = at;
    }
  }

  /**
   * The cells under a rectangle, as far as the grid goes; those of a place that is no number are none.
   * @param {number} left
   * @param {number} top
   * @param {number} right
   * @param {number} bottom
   * @returns {number[]}
   */
  cover(left, top, right, bottom) {
    const clamp = (/** @type {number} */ cell, /** @type {number} */ count) => Math.min(Math.max(Math.floor(cell), 0), count - 1);
    const [first, last] = [left, right].map((x) => clamp((x - this.left) / this.side, this.columns));
    const [upper, lower] = [top, bottom].map((y) => clamp((y - this.top) / this.side, this.lines));
    const cells = [];
    for (let line = upper; line <= lower; line += 1) for (let column = first; column <= last; column += 1) cells.push(line * this.columns + column);
    return cells;
  }

  /**
   * The boxes that may lie within a distance of a place, each at least once.
   * @param {number} x
   * @param {number} y
   * @param {number} reach
   * @returns {Generator<number>}
   */
  *near(x, y, reach) {
    yield* this.large;
    for (const cell of this.cover(x - reach, y - reach, x + reach, y + reach)) {
      for (let at = this.starts[cell]; at < this.starts[cell + 1]; at += 1) yield this.held[at];
    }
  }
}
