// Squares of chosen rows: counts or aggregates in the same cells, in the colors of all rows.

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function cellsOf(recipe, asked) {
  const { how } = recipe.options;
  const value = asked.aggregates("color", how);
  /** @type {Map<number, number>} */
  const totals = new Map();
  asked.counts.forEach((count, cell) => totals.set(recipe.panel[cell], (totals.get(recipe.panel[cell]) ?? 0) + count));
  const share = asked.counts.map((count, cell) => count / (totals.get(recipe.panel[cell]) || 1));
  const { y_low, y_high } = recipe.places;
  const values = { count: asked.counts, share, value, [how]: value };
  return recipe.rectangles(asked, { low: y_low, high: y_high, values, placed: true, every: recipe.options.every, colors: recipe.colors(value) });
}
