// Boxes of chosen rows: quartiles, whiskers, notches, and what lies beyond the whiskers.

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */
/** @typedef {import("../recipe.js").Shape} Shape */

const WHISKER = 1.5;
const NOTCH = 1.57;
const MEDIAN = 1.8;
const FILLED = 0.25;
const FAR = { size: 2.2 };

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function boxesOf(recipe, asked) {
  const { whiskers, outliers, notches } = recipe.options;
  const own = Array.isArray(whiskers) ? whiskers.map((end) => end / 100) : [];
  const [q1, median, q3, ...ends] = asked.quantiles("y", [0.25, 0.5, 0.75, ...own]);
  const sizes = asked.sizes;
  const whisker_low = ends[0] ?? q1.slice();
  const whisker_high = ends[1] ?? q3.slice();
  /** @type {[number, number][]} */
  const far = [];
  for (const { cell, sorted } of asked.sorted("y")) {
    if (!own.length) {
      const reach = whiskers === "range" ? Infinity : WHISKER * (q3[cell] - q1[cell]);
      const low = sorted.find((value) => value >= q1[cell] - reach) ?? q1[cell];
      const high = sorted.slice().reverse().find((value) => value <= q3[cell] + reach) ?? q3[cell];
      [whisker_low[cell], whisker_high[cell]] = [Math.min(low, q1[cell]), Math.max(high, q3[cell])];
    }
    if (outliers) for (const value of sorted) if (value < whisker_low[cell] || value > whisker_high[cell]) far.push([cell, value]);
  }
  const reach = q1.map((low, cell) => (NOTCH * (q3[cell] - low)) / Math.sqrt(sizes[cell]));
  const notch_low = median.map((middle, cell) => middle - reach[cell]);
  const notch_high = median.map((middle, cell) => middle + reach[cell]);
  const { x, x_low, x_high } = recipe.places;
  /** @type {Shape[]} */
  const shapes = [];
  const held = recipe.heldCells(asked);
  held.forEach((cell, mark) => {
    const [left, right, middle] = [x_low[cell], x_high[cell], x[cell]];
    const [low, first, mid, third, high] = [whisker_low, q1, median, q3, whisker_high].map((one) => recipe.up(one[cell]));
    shapes.push({ mark, kind: "line", at: [[middle, low, middle, first], [middle, third, middle, high]] });
    const waist = notches ? (right - left) / 4 : 0;
    const [below, above] = [notch_low, notch_high].map((one) => recipe.up(Math.min(Math.max(one[cell], q1[cell]), q3[cell])));
    const ring = notches
      ? [right, first, right, below, right - waist, mid, right, above, right, third, left, third, left, above, left + waist, mid, left, below, left, first]
      : [right, first, right, third, left, third, left, first];
    shapes.push({ mark, kind: "area", at: [ring], fill: FILLED, bordered: true });
    shapes.push({ mark, kind: "line", at: [[left + waist, mid, right - waist, mid]], wide: MEDIAN });
  });
  for (const [cell, value] of far) shapes.push({ mark: held.indexOf(cell), kind: "mark", at: [[x[cell], recipe.up(value)]], ...FAR });
  const values = { count: asked.counts, q1, median, q3, whisker_low, whisker_high, notch_low, notch_high, y: median };
  const box = (/** @type {number} */ cell) => [x_low[cell], recipe.up(whisker_low[cell]), x_high[cell], recipe.up(whisker_high[cell])];
  return recipe.results(held, box, values, shapes, Object.keys(values).slice(1));
}
