// Bars of chosen rows: counts, aggregates or given heights, arranged as those of all rows are.

import { stackedEnds } from "./stacked.js";

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function barsOf(recipe, asked) {
  const { how, arrange } = recipe.options;
  const heights = asked.aggregates("y", how);
  const whole = new Map();
  heights.forEach((height, cell) => { if (height) whole.set(recipe.panel[cell], (whole.get(recipe.panel[cell]) ?? 0) + Math.abs(height)); });
  const share = heights.map((height, cell) => { const all = whole.get(recipe.panel[cell]); return all > 0 ? height / all : 0; });
  const ends = stackedEnds(recipe, heights.map((height) => (height === height ? height : 0)), arrange);
  const values = { height: heights, count: asked.counts, share: ends.share ?? share, y: heights, [how]: heights };
  return recipe.rectangles(asked, { low: ends.low, high: ends.high, values });
}
