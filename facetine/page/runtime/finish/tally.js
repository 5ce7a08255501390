// Chosen rows on one spot as one marker, whose area tells how many there are.

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function tallyOf(recipe, asked) {
  const { x, y } = recipe.places;
  const held = recipe.heldCells(asked);
  const sizes = recipe.sizes(asked.counts);
  /** @type {Map<string, number[]>} */
  const spots = new Map();
  for (const cell of held) {
    const spot = `${recipe.panel[cell]}/${x[cell]}/${y[cell]}`;
    spots.set(spot, [...(spots.get(spot) ?? []), cell]);
  }
  /** How far the marker of each result stands beside its spot, in points. */
  const aside = new Map();
  for (const own of spots.values()) {
    const whole = own.reduce((sum, cell) => sum + sizes[cell], 0);
    let before = 0;
    for (const cell of own) {
      aside.set(cell, before + sizes[cell] / 2 - whole / 2);
      before += sizes[cell];
    }
  }
  const totals = new Map();
  for (const cell of held) totals.set(recipe.panel[cell], (totals.get(recipe.panel[cell]) ?? 0) + asked.counts[cell]);
  const share = asked.counts.map((count, cell) => count / (totals.get(recipe.panel[cell]) ?? 1));
  const shapes = held.map((cell, mark) => ({ mark, kind: "mark", at: [[x[cell], y[cell]]], size: sizes[cell], off: [[aside.get(cell), 0]] }));
  // Large ones lie below small ones.
  shapes.sort((one, other) => other.size - one.size);
  return recipe.results(held, (cell) => [x[cell], y[cell], x[cell], y[cell]], { count: asked.counts, share }, shapes);
}
