// The share of chosen rows at or below each value.

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function cumulativeOf(recipe, asked) {
  /** @type {{ cell: number, x: number, share: number }[]} */
  const marks = [];
  /** @type {import("../recipe.js").Shape[]} */
  const shapes = [];
  for (const { cell, sorted, weights } of asked.sorted("x")) {
    const whole = asked.counts[cell];
    const line = [recipe.across(sorted[0]), recipe.up(0)];
    const first = marks.length;
    marks.push({ cell, x: sorted[0], share: 0 });
    let sum = 0;
    for (let at = 0; at < sorted.length; at += 1) {
      sum += weights ? weights[at] : 1;
      if (at + 1 < sorted.length && sorted[at + 1] === sorted[at]) continue;
      const share = at + 1 === sorted.length ? 1 : sum / whole;
      const x = recipe.across(sorted[at]);
      // A share is held until the next value.
      line.push(x, line[line.length - 1], x, recipe.up(share));
      marks.push({ cell, x: sorted[at], share });
    }
    shapes.push({ mark: first, kind: "line", at: [line] });
  }
  return recipe.atPlaces(marks.map(({ cell, x, share }) => ({ cell, x: recipe.across(x), y: recipe.up(share), values: { x, share, y: share } })), shapes);
}
