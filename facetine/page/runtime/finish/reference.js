// Lines across panels at an aggregate of chosen rows.

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function referenceOf(recipe, asked) {
  const { how, axis } = recipe.options;
  const value = asked.aggregates(axis, how);
  const held = recipe.heldCells(asked);
  const panels = recipe.said.panels ?? null;
  const every = held.flatMap((cell) => (panels ? panels[cell] : [recipe.panel[cell]]).map((/** @type {number} */ panel) => ({ cell, panel })));
  const marks = every.map(({ cell, panel }) => {
    const at = axis === "y" ? recipe.up(value[cell]) : recipe.across(value[cell]);
    const [x, y] = axis === "y" ? [NaN, at] : [at, NaN];
    return { cell, panel, x, y, values: { [axis]: value[cell], value: value[cell], [how]: value[cell], count: asked.counts[cell] } };
  });
  const shapes = marks.map(({ x, y }, mark) => ({ mark, kind: "line", at: [axis === "y" ? [-Infinity, y, Infinity, y] : [x, -Infinity, x, Infinity]] }));
  return recipe.atPlaces(marks, shapes);
}
