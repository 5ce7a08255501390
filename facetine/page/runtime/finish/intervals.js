// Means of chosen rows with intervals by Student's t, or by their spread.

import { tFactor } from "./student.js";

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */
/** @typedef {import("../recipe.js").Shape} Shape */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function intervalsOf(recipe, asked) {
  const { reach, level, caps, boxed } = recipe.options;
  const y = recipe.values.y;
  const [mean, sizes] = [asked.means(y), asked.sizes];
  const { of } = recipe;
  const { weights } = asked;
  const squares = asked.added((row) => (weights ? weights[row] : 1) * (y[row] - mean[of[row]]) ** 2);
  const half = mean.map((_, cell) => {
    const size = sizes[cell];
    if (!(asked.rows[cell] > 1)) return NaN;
    const spread = Math.sqrt(squares[cell] / asked.counts[cell] / (1 - 1 / size));
    if (reach === "std_dev") return spread;
    const error = spread / Math.sqrt(size);
    return reach === "std_error" ? error : size > 1 ? tFactor(level, size - 1) * error : NaN;
  });
  const [low, high] = [mean.map((center, cell) => center - half[cell]), mean.map((center, cell) => center + half[cell])];
  const { x, x_low, x_high } = recipe.places;
  const held = recipe.heldCells(asked);
  const ends = (/** @type {number} */ cell) => [low[cell], high[cell]].map((end, side) => { const at = recipe.up(end); return Number.isNaN(at) && end === end ? (side ? Infinity : -Infinity) : at; });
  /** @type {Shape[]} */
  const shapes = [];
  held.forEach((cell, mark) => {
    const [first, last] = ends(cell);
    const center = recipe.up(mean[cell]);
    const whole = first === first && last === last;
    if (boxed && whole) {
      shapes.push({ mark, kind: "area", at: [[x_low[cell], first, x_high[cell], first, x_high[cell], last, x_low[cell], last]], fill: 0.3 });
      shapes.push({ mark, kind: "line", at: [[x_low[cell], center, x_high[cell], center]], wide: 1.6 });
      return;
    }
    const cap = caps && whole ? [first, last].map((end) => [x[cell], end, x[cell], end]) : [];
    const off = [[0, 0, 0, 0], ...cap.map(() => [-caps / 2, 0, caps / 2, 0])];
    if (whole) shapes.push({ mark, kind: "line", at: [[x[cell], first, x[cell], last], ...cap], off });
    shapes.push({ mark, kind: "mark", at: [[x[cell], center]] });
  });
  const box = (/** @type {number} */ cell) => { const [first, last] = ends(cell); const center = recipe.up(mean[cell]); return [x[cell], first === first ? first : center, x[cell], last === last ? last : center]; };
  const values = { count: asked.counts, y: mean, center: mean, mean, low, high };
  return { ...recipe.results(held, box, values, shapes, ["y", "center", "mean", "low", "high"]), few: held.filter((cell) => Number.isNaN(half[cell])).length };
}
