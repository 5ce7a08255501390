// Lines through aggregates of chosen rows, or through these rows; and points at such aggregates.

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */
/** @typedef {import("../recipe.js").Shape} Shape */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {{ held: number[], values: Record<string, Float64Array>, box: (cell: number) => number[] }}
 */
function aggregated(recipe, asked) {
  const { how } = recipe.options;
  const value = asked.aggregates("y", how);
  const { x } = recipe.places;
  const box = (/** @type {number} */ cell) => [x[cell], recipe.up(value[cell]), x[cell], recipe.up(value[cell])];
  return { held: recipe.heldCells(asked), values: { y: value, [how]: value, count: asked.counts }, box };
}

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function linesOf(recipe, asked) {
  const { held, values, box } = aggregated(recipe, asked);
  const { panel, group } = recipe;
  const stretch = recipe.places.stretch ?? new Float64Array(recipe.count);
  /** @type {Shape[]} */
  const shapes = [];
  /** @type {Shape | null} */
  let shape = null;
  held.forEach((cell, mark) => {
    const before = held[mark - 1];
    const joined = mark > 0 && panel[before] === panel[cell] && group[before] === group[cell];
    const [x, y] = box(cell);
    if (!shape || !joined) shapes.push((shape = { mark, kind: "line", at: [] }));
    if (!joined || stretch[before] !== stretch[cell]) shape.at.push([]);
    const line = shape.at[shape.at.length - 1];
    if (recipe.options.steps && line.length) line.push(x, line[line.length - 1]);
    line.push(x, y);
  });
  // A place that stands alone is a dot.
  for (const { at } of shapes) for (const line of at) if (line.length === 2) line.push(...line);
  return recipe.results(held, box, values, shapes);
}

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function pointsOf(recipe, asked) {
  const { held, values, box } = aggregated(recipe, asked);
  const shapes = held.map((cell, mark) => ({ mark, kind: "mark", at: [box(cell).slice(0, 2)] }));
  return recipe.results(held, box, values, shapes);
}
