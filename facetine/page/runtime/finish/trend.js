// Straight lines of least squares through chosen rows, with their bands.

import { fitted } from "./straight.js";
import { tFactor, upperTail } from "./student.js";

/** @typedef {import("../recipe.js").Recipe} Recipe */
/** @typedef {import("../recipe.js").Finished} Finished */
/** @typedef {import("../recipe.js").Shape} Shape */

/**
 * @param {Recipe} recipe
 * @param {import("../asked.js").Asked} asked
 * @returns {Finished}
 */
export function trendOf(recipe, asked) {
  const { places, level, band } = recipe.options;
  const fit = fitted(recipe, asked);
  const { unit } = recipe.said;
  let few = 0;
  /** @type {{ cell: number, x: number, y: number, values: Record<string, number> }[]} */
  const marks = [];
  /** @type {Shape[]} */
  const areas = [];
  /** @type {Shape[]} */
  const lines = [];
  for (const cell of recipe.heldCells(asked)) {
    if (!(fit.high[cell] > fit.low[cell])) { few += 1; continue; }
    const count = asked.rows[cell];
    const freedom = count - 2;
    const sigma = freedom > 0 ? Math.sqrt(fit.square[cell] / freedom) : NaN;
    const factor = freedom > 0 ? tFactor(level ?? 0.95, freedom) : NaN;
    const slope = fit.steep[cell] / fit.scale[cell];
    const error = (sigma * Math.sqrt(fit.n[cell] / fit.det[cell])) / fit.scale[cell];
    const [first, last] = [fit.low[cell], fit.high[cell]].map((end) => recipe.across(end));
    /** @type {Record<string, number>} */
    const said = {
      slope: slope * unit, slope_low: (slope - factor * error) * unit, slope_high: (slope + factor * error) * unit, count, residual_std: sigma,
      intercept: fit.offset[cell] + fit.start[cell] - slope * fit.center[cell], r2: 1 - fit.square[cell] / fit.total[cell],
      p: error > 0 ? 2 * upperTail(Math.abs(slope / error), freedom) : slope ? 0 : 1,
    };
    // On times it is at a midnight that depends on which rows there are.
    if (recipe.timed.x) delete said.intercept;
    const [line, upper, lower] = [/** @type {number[]} */ ([]), /** @type {number[]} */ ([]), /** @type {number[]} */ ([])];
    const mark = marks.length;
    for (let at = 0; at < places; at += 1) {
      const across = at === places - 1 ? last : first + (at * (last - first)) / (places - 1);
      const x = recipe.said.space === "axis" ? across : Math.min(Math.max(recipe.back(across), fit.low[cell]), fit.high[cell]);
      const u = (x - fit.center[cell]) / fit.scale[cell];
      const y = fit.offset[cell] + fit.start[cell] + fit.steep[cell] * u;
      const reach = sigma * Math.sqrt((fit.s2[cell] - 2 * u * fit.s1[cell] + u * u * fit.n[cell]) / fit.det[cell]);
      const half = level === null ? NaN : factor * (band === "prediction" ? Math.hypot(reach, sigma) : reach);
      line.push(across, recipe.up(y));
      upper.push(across, recipe.up(y + half));
      lower.unshift(across, recipe.up(y - half));
      marks.push({ cell, x: across, y: recipe.up(y), values: { ...said, x, y, y_low: y - half, y_high: y + half } });
    }
    if (upper.every((one) => one === one)) areas.push({ mark, kind: "area", at: [[...upper, ...lower]], fill: 0.2 });
    lines.push({ mark, kind: "line", at: [line] });
  }
  return { ...recipe.atPlaces(marks, [...areas, ...lines], ["y", "y_low", "y_high"], ["x"]), few };
}
