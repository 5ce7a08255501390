// Rows between two values of a variable, said in fields: what a brush chooses, without dragging and to the digit.

import { Rows } from "./rows.js";
import { instantRead } from "./calendar.js";
import { timeText } from "./words.js";

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./marks.js").Column} Column */
/** @typedef {{ title: string, low: number, high: number, unit: number | null, layers: { layer: Layer, column: Column }[] }} Variable With the microseconds of a unit of times. */

/**
 * The columns of numbers and times whose rows can be chosen, each with the layers that show it.
 * @param {Layer[]} layers
 * @returns {Variable[]}
 */
export function variablesOf(layers) {
  /** @type {Map<string, Variable>} */
  const found = new Map();
  for (const layer of layers) {
    if (layer.said.frame === null) continue;
    for (const column of layer.columns) {
      if (!column.said.column || column.said.sort === "words") continue;
      const { title } = column.said;
      const name = `${layer.said.frame}:${column.said.column}`;
      const one = found.get(name) ?? { title, low: Infinity, high: -Infinity, unit: column.said.sort === "time" ? column.said.unit ?? 1 : null, layers: [] };
      for (const value of column.values) {
        if (value < one.low) one.low = value;
        if (value > one.high) one.high = value;
      }
      one.layers.push({ layer, column });
      found.set(name, one);
    }
  }
  return [...found.values()].filter((one) => one.low < one.high);
}

/**
 * The rows whose value lies between two, the ends included; an end that is no number is open.
 * @param {Variable} variable
 * @param {number} low
 * @param {number} high
 * @returns {Map<number, Rows>}
 */
export function rowsBetween(variable, low, high) {
  /** @type {Map<number, Rows>} */
  const found = new Map();
  for (const { layer, column } of variable.layers) {
    const { frame } = layer.said;
    if (frame === null) continue;
    const rows = found.get(frame) ?? new Rows();
    column.values.forEach((value, mark) => {
      if (!Number.isNaN(value) && !(value < low) && !(value > high)) rows.add(layer.rows[mark]);
    });
    found.set(frame, rows);
  }
  return found;
}

/**
 * Fills the fields, and has them choose; hides them where there is no variable of numbers or times.
 * @param {Layer[]} layers
 * @param {(variable: Variable, rows: Map<number, Rows>) => void} choose
 * @param {(text: string) => void} say What is wrong.
 */
export function withFields(layers, choose, say) {
  const variables = variablesOf(layers);
  const around = /** @type {HTMLElement} */ (document.getElementById("range"));
  const [from, till] = /** @type {HTMLInputElement[]} */ (["low", "high"].map((id) => document.getElementById(id)));
  const select = /** @type {HTMLSelectElement} */ (document.getElementById("variable"));
  around.hidden = !variables.length;
  if (!variables.length) return;
  for (const { title } of variables) {
    const option = document.createElement("option");
    option.textContent = title;
    select.append(option);
  }
  const ends = () => {
    const { low, high, unit } = variables[select.selectedIndex];
    [from.placeholder, till.placeholder] = [low, high].map((end) => (unit === null ? String(Number(end.toPrecision(6))) : timeText(end, unit)));
    [from.value, till.value] = ["", ""];
  };
  const take = () => {
    const variable = variables[select.selectedIndex];
    const { unit } = variable;
    const fields = [from, till].map((field) => field.value.trim());
    const [low, high] = fields.map((text) => (!text ? NaN : unit === null ? Number(text.replace(/\u2212/g, "-")) : instantRead(text, null) / unit));
    if (fields.some((text, end) => text && Number.isNaN([low, high][end]))) {
      say(unit === null ? "Two numbers are needed; an empty field is no bound" : "Two times are needed, such as 2030-06-01 or 2030-06-01 14:00; an empty field is no bound");
      return;
    }
    choose(variable, rowsBetween(variable, low, high));
  };
  ends();
  select.addEventListener("change", ends);
  document.getElementById("between")?.addEventListener("click", take);
  for (const field of [from, till]) field.addEventListener("keydown", (event) => { if (event.key === "Enter") take(); });
}
