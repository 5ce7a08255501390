// Which rows are chosen, by whom, and in the words of an address.

import { Rows } from "./rows.js";

/** @typedef {import("./marks.js").Layer} Layer */

/** @typedef {{ name: string, along: string | null, multiple: boolean, sources: Set<number>, targets: Set<number>, values: Map<number, number> | null, limited: [number, string, string][] }} Terms */

/** Runs of rows beyond which an address is too long in any case. */
const MOST_RUNS = 1000;

/** The chosen rows of each frame, of one choice of the sheet. */
export class Choice {
  /**
   * @param {Layer[]} layers
   * @param {Terms} terms What it is called, how it is made, in which figures, and which of them show it.
   */
  constructor(layers, terms) {
    this.layers = layers;
    this.terms = terms;
    /** @type {Map<number, Rows>} */
    this.rows = new Map();
    /** @type {(() => void)[]} */
    this.listeners = [];
    /** How many rows there are to choose from; −1 where they were not counted. */
    this.counted = -1;
  }

  /** @returns {number} How many rows there are to choose from. */
  get all() {
    if (this.counted < 0) this.counted = [...this.where(() => true).values()].reduce((sum, rows) => sum + rows.size, 0);
    return this.counted;
  }

  /**
   * A choice of the same kind, of other rows, of which nobody is told.
   * @param {Map<number, Rows>} rows
   * @returns {Choice}
   */
  beginning(rows) {
    const made = new Choice(this.layers, this.terms);
    made.rows = rows;
    return made;
  }

  /** @returns {boolean} */
  get empty() {
    return [...this.rows.values()].every((rows) => rows.size === 0);
  }

  /** @returns {number} */
  get size() {
    return [...this.rows.values()].reduce((count, rows) => count + rows.size, 0);
  }

  /**
   * Whether all rows that a mark shows are chosen.
   * @param {Layer} layer
   * @param {number} mark
   */
  holds(layer, mark) {
    const chosen = layer.frame === null ? undefined : this.rows.get(layer.frame);
    if (chosen === undefined) return false;
    if (layer.members === null) return layer.said.frame !== null && chosen.has(layer.rows[mark]);
    const own = layer.held(mark);
    return own.length > 0 && own.every((row) => chosen.has(row));
  }

  /**
   * Chooses rows in the place of those before, or beside them.
   * @param {Map<number, Rows>} rows
   * @param {boolean} [more]
   */
  choose(rows, more = false) {
    if (more) {
      for (const [frame, own] of this.rows) {
        const other = rows.get(frame) ?? new Rows();
        for (const row of own) other.add(row);
        rows.set(frame, other);
      }
    }
    this.rows = rows;
    for (const listener of this.listeners) listener();
  }

  /**
   * The rows of a mark, with all that share their value where that is what is picked.
   * @param {Layer} layer
   * @param {number} mark
   * @returns {number[]}
   */
  picked(layer, mark) {
    const { values } = this.terms;
    const own = layer.held(mark);
    if (!values) return Array.from(own);
    const codes = new Set(Array.from(own, (row) => values.get(row)));
    return [...values].filter(([, code]) => codes.has(code)).map(([row]) => row);
  }

  /**
   * Chooses the rows of a mark, or gives them up again.
   * @param {Layer} layer
   * @param {number} mark
   * @param {boolean} more Whether those chosen before stay.
   */
  toggle(layer, mark, more) {
    if (layer.frame === null) return;
    const gone = this.holds(layer, mark);
    const rows = new Map(more ? [...this.rows].map(([key, own]) => [key, new Rows(own)]) : []);
    const own = rows.get(layer.frame) ?? new Rows();
    for (const row of this.picked(layer, mark)) {
      if (gone) own.delete(row);
      else own.add(row);
    }
    rows.set(layer.frame, own);
    this.choose(rows);
  }

  clear() {
    this.choose(new Map());
  }

  /**
   * The rows of marks for which a test holds, by their frames.
   * @param {(layer: Layer, mark: number) => boolean} test
   * @returns {Map<number, Rows>}
   */
  where(test) {
    /** @type {Map<number, Rows>} */
    const found = new Map();
    for (const layer of this.layers) {
      if (layer.frame === null) continue;
      const rows = found.get(layer.frame) ?? new Rows();
      for (let mark = 0; mark < layer.rows.length; mark += 1) {
        if (!test(layer, mark)) continue;
        if (layer.members === null) rows.add(layer.rows[mark]);
        else rows.addAll(layer.held(mark));
      }
      found.set(layer.frame, rows);
    }
    return found;
  }

  /**
   * The choice in the address: the numbers of rows, those that follow each other by their ends.
   * @returns {string}
   */
  written() {
    const parts = [];
    for (const [frame, rows] of this.rows) {
      /** @type {string[]} */
      const runs = [];
      let [first, last, long] = [-1, -2, 0];
      const end = () => { if (first >= 0) long = runs.push(first === last ? `${first}` : `${first}-${last}`); };
      for (const row of rows) {
        if (row !== last + 1) {
          end();
          first = row;
          // No address keeps so many.
          if (long > MOST_RUNS) break;
        }
        last = row;
      }
      end();
      if (runs.length) parts.push(`${frame}:${runs.join(",")}`);
    }
    return parts.join(";");
  }

  /**
   * Chooses what an address says; what it does not understand it leaves out.
   * @param {string} text
   */
  read(text) {
    /** @type {Map<number, Rows>} */
    const rows = new Map();
    const known = new Map();
    let plain = text;
    try {
      plain = decodeURIComponent(text);
    } catch {
      // No address of ours: it holds none of the rows that are looked for below.
    }
    for (const [frame, own] of this.where(() => true)) known.set(frame, own);
    for (const part of plain.split(";")) {
      const found = /^(\d+):([\d,-]+)$/.exec(part);
      const own = found ? known.get(Number(found[1])) : undefined;
      if (!found || !own) continue;
      const chosen = new Rows();
      for (const run of found[2].split(",")) {
        const [low, high] = run.split("-").map(Number);
        for (const row of own) if (row >= low && row <= (high ?? low)) chosen.add(row);
      }
      rows.set(Number(found[1]), chosen);
    }
    this.choose(rows);
  }
}
