// Bins of chosen rows: the same edges, with counts, shares or densities of these rows.

import { stackedEnds } from "./stacked.js";

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function histogramOf(recipe, asked) {
  const { measure, whole, arrange } = recipe.options;
  const { panel, group, places } = recipe;
  const of = (/** @type {number} */ cell) => (whole === "group" ? `${panel[cell]}/${group[cell]}` : `${panel[cell]}`);
  /** @type {Map<string, number>} */
  const totals = new Map();
  asked.counts.forEach((count, cell) => totals.set(of(cell), (totals.get(of(cell)) ?? 0) + count));
  // Rows outside of all bins are parts of the whole of their panel.
  if (whole !== "group") for (const [own, count] of recipe.outside()) totals.set(`${own}`, (totals.get(`${own}`) ?? 0) + count);
  const share = asked.counts.map((count, cell) => { const all = totals.get(of(cell)) ?? 0; return all > 0 ? count / all : 0; });
  const density = share.map((part, cell) => part / (Math.abs(places.x_high[cell] - places.x_low[cell]) / recipe.said.unit));
  /** @type {Record<string, Float64Array>} */
  const values = { count: asked.counts, share, density };
  const ends = stackedEnds(recipe, values[measure], arrange);
  values.y = values[measure];
  if (ends.share) values.share = ends.share;
  return recipe.rectangles(asked, { low: ends.low, high: ends.high, values });
}
