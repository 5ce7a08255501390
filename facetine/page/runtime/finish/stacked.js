// Bars of one slot on each other, or as shares of it.

/** @typedef {import("../recipe.js").Recipe} Recipe */

/**
 * The ends of bars, as print arranges them: amounts above zero upwards, those below it downwards.
 * @param {Recipe} recipe
 * @param {Float64Array} heights Zero or NaN where nothing is.
 * @param {string} arrange
 * @returns {{ low: Float64Array, high: Float64Array, share: Float64Array | null }}
 */
export function stackedEnds(recipe, heights, arrange) {
  const { slot, count } = recipe;
  const low = heights.map((height) => Math.min(height, 0));
  const high = heights.map((height) => Math.max(height, 0));
  if (arrange !== "stack" && arrange !== "share") return { low, high, share: null };
  const whole = new Float64Array(count);
  for (let cell = 0; cell < count; cell += 1) if (heights[cell]) whole[slot[cell]] += Math.abs(heights[cell]);
  const share = arrange === "share" ? heights.map((height, cell) => (whole[slot[cell]] ? height / whole[slot[cell]] : 0)) : null;
  const [up, down] = [new Float64Array(count), new Float64Array(count)];
  for (const cell of recipe.stacking) {
    const value = (share ?? heights)[cell];
    if (!(value === value)) continue;
    const from = value < 0 ? down : up;
    const near = from[slot[cell]];
    from[slot[cell]] += value;
    [low[cell], high[cell]] = [Math.min(near, near + value), Math.max(near, near + value)];
  }
  return { low, high, share };
}
