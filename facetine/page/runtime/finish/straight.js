// Straight lines of least squares through the rows of each result.

/** @typedef {import("../recipe.js").Recipe} Recipe */

/**
 * The line through the rows of each result: normal equations about the middle of x, solved once more for what is left.
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 */
export function fitted(recipe, asked) {
  const { of, values: { x, y } } = recipe;
  const [low, high] = [asked.extremes(x, Math.min, Infinity), asked.extremes(x, Math.max, -Infinity)];
  const offset = asked.means(y);
  const center = low.map((least, cell) => least / 2 + high[cell] / 2);
  const scale = low.map((least, cell) => high[cell] / 2 - least / 2);
  const { weights } = asked;
  // Weights have a mean of 1, so that nothing depends on their unit.
  const mass = (/** @type {number} */ row) => (weights ? (weights[row] * asked.rows[of[row]]) / asked.counts[of[row]] : 1);
  const u = (/** @type {number} */ row) => (x[row] - center[of[row]]) / scale[of[row]];
  const n = asked.added(mass);
  const s1 = asked.added((row) => mass(row) * u(row));
  const s2 = asked.added((row) => mass(row) * u(row) ** 2);
  const det = n.map((sum, cell) => sum * s2[cell] - s1[cell] ** 2);
  const [start, steep] = [n.map(() => 0), n.map(() => 0)];
  const rest = (/** @type {number} */ row) => y[row] - offset[of[row]] - start[of[row]] - steep[of[row]] * u(row);
  const total = asked.added((row) => mass(row) * rest(row) ** 2);
  for (let step = 0; step < 2; step += 1) {
    const [r0, r1] = [asked.added((row) => mass(row) * rest(row)), asked.added((row) => mass(row) * rest(row) * u(row))];
    for (let cell = 0; cell < n.length; cell += 1) {
      start[cell] += (s2[cell] * r0[cell] - s1[cell] * r1[cell]) / det[cell];
      steep[cell] += (n[cell] * r1[cell] - s1[cell] * r0[cell]) / det[cell];
    }
  }
  const square = asked.added((row) => mass(row) * rest(row) ** 2);
  return { low, high, offset, center, scale, n, s1, s2, det, start, steep, total, square };
}
