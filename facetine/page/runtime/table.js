// The chosen rows as a table, as text with commas, and as a sentence of the figure.

import { instantText } from "./calendar.js";
import { decimalText } from "./words.js";

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./marks.js").Column} Column */
/** @typedef {import("./choice.js").Choice} Choice */

/** Rows that a table of the page has at most. */
export const MOST_SHOWN = 200;
const FORMULAS = /^[=+\-@\t\r]/;

/** @param {Iterable<number>} rows @param {number} most @returns {number[]} */
function firstOf(rows, most) {
  const found = [];
  for (const row of rows) if (found.push(row) >= most) break;
  return found;
}

/**
 * The chosen rows with all that the sheet knows of them.
 * @param {Layer[]} layers
 * @param {Choice} choice
 * @param {number} [most] How many rows at most, the first ones.
 * @returns {{ titles: string[], rows: string[][] }}
 */
export function tableOf(layers, choice, most = Infinity) {
  const keys = [...choice.rows].flatMap(([frame, rows]) => firstOf(rows, most).map((row) => [frame, row]));
  keys.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const several = new Set(layers.map((layer) => layer.frame).filter((frame) => frame !== null)).size > 1;
  /** @type {Map<string, Map<string, string>>} */
  const found = new Map();
  for (const [frame, row] of keys.slice(0, most)) {
    const named = /** @type {[string, string][]} */ (several ? [["Table", String(frame + 1)]] : []);
    found.set(`${frame}:${row}`, new Map([...named, ["Row", String(row)]]));
  }
  const titles = new Set([...found.values()].flatMap((row) => [...row.keys()]));
  for (const layer of layers) {
    if (layer.said.frame === null) continue;
    for (const part of layer.parts) {
      for (let mark = part.start; mark < part.end; mark += 1) {
        const row = choice.holds(layer, mark) ? found.get(`${layer.said.frame}:${layer.rows[mark]}`) : undefined;
        if (!row) continue;
        if (part.panel.name) row.set("Panel", part.panel.name);
        const group = layer.group(mark);
        if (group) row.set("Group", group);
        for (const [title, text] of layer.told(mark)) row.set(title, text);
        for (const title of row.keys()) titles.add(title);
      }
    }
  }
  const names = [...titles];
  return { titles: names, rows: [...found.values()].map((row) => names.map((name) => row.get(name) ?? "")) };
}

/**
 * A table as text with commas; what a spreadsheet would take for a formula has a quote before it, numbers never.
 * @param {{ titles: string[], rows: string[][] }} table
 * @returns {string}
 */
export function asText(table) {
  const cell = (/** @type {string} */ text) => {
    const plain = text.replace(/\u2212/g, "-").replace(/^(-?\d{1,3}(?:,\d{3})+)(\.\d+)?$/, (number) => number.replace(/,/g, ""));
    const safe = FORMULAS.test(plain) && Number.isNaN(Number(plain)) ? `'${plain}` : plain;
    return /[",\n\r]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
  };
  return [table.titles, ...table.rows].map((row) => row.map(cell).join(",")).join("\r\n") + "\r\n";
}

/**
 * Puts a table into a section of the page.
 * @param {HTMLElement} section
 * @param {{ titles: string[], rows: string[][] }} table The first rows.
 * @param {number} count How many there are in all.
 */
export function showTable(section, table, count) {
  const body = document.createElement("table");
  const caption = body.createCaption();
  const all = decimalText(count, 0);
  caption.textContent = count > table.rows.length ? `Chosen rows: the first ${table.rows.length} of ${all}` : `Chosen rows: ${all}`;
  const head = body.createTHead().insertRow();
  for (const title of table.titles) {
    const cell = document.createElement("th");
    cell.scope = "col";
    cell.textContent = title;
    head.append(cell);
  }
  const rows = body.createTBody();
  for (const row of table.rows) {
    const line = rows.insertRow();
    for (const text of row) line.insertCell().textContent = text;
  }
  section.replaceChildren(body);
}

/**
 * An expression that holds for the chosen rows: between the ends of what they have, of columns whose values are numbers or times.
 * @param {Layer[]} layers
 * @param {Choice} choice
 * @returns {string | null} None where no column of numbers or times tells exactly these rows.
 */
export function expressionOf(layers, choice) {
  for (const layer of layers) {
    if (layer.said.frame === null) continue;
    const own = layer.columns.filter((column) => column.said.column && column.said.sort !== "words" && !column.said.zone);
    /** @type {Map<Column, [number, number]>} */
    const ends = new Map();
    let chosen = 0;
    for (let mark = 0; mark < layer.rows.length; mark += 1) {
      if (!choice.holds(layer, mark)) continue;
      chosen += 1;
      for (const column of own) {
        const value = column.values[mark];
        const [low, high] = ends.get(column) ?? [Infinity, -Infinity];
        ends.set(column, [Math.min(low, value), Math.max(high, value)]);
      }
    }
    if (!chosen) continue;
    for (const columns of [...own.map((column) => [column]), own]) {
      const inside = (/** @type {number} */ mark) =>
        columns.every((column) => {
          const [low, high] = ends.get(column) ?? [0, -1];
          return column.values[mark] >= low && column.values[mark] <= high;
        });
      let held = 0;
      for (let mark = 0; mark < layer.rows.length; mark += 1) held += Number(inside(mark));
      if (columns.length && held === chosen) {
        return columns
          .map((column) => {
            const [low, high] = ends.get(column) ?? [0, 0];
            const [first, last] = [low, high].map((end) => (column.said.sort === "time" ? `'${instantText(end * (column.said.unit ?? 1), null)}'` : String(end)));
            return `${quoted(column.said.column ?? "")} BETWEEN ${first} AND ${last}`;
          })
          .join(" AND ");
      }
    }
  }
  return null;
}

/**
 * The name of a column in SQL.
 * @param {string} name
 */
function quoted(name) {
  return /^[A-Za-z_]\w*$/.test(name) ? name : `"${name.replace(/"/g, '""')}"`;
}
