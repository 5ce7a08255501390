// Figures that are computed of the rows of choices, and the words for which rows that are.

import { KeptLayer } from "./keptlayer.js";
import { decimalText } from "./words.js";

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./choice.js").Choice} Choice */
/** @typedef {import("./zoom.js").Zoom} Zoom */

/** Ways to compute that need rows in order. */
const SORTED = new Set(["boxes", "cumulative"]);

/** All that follows choices by what it computes. */
export class Keeping {
  /**
   * @param {import("./data.js").Said} said
   * @param {Uint8Array} bytes
   * @param {Layer[]} layers
   * @param {SVGSVGElement[]} sheets
   * @param {Zoom} zoom
   */
  constructor(said, bytes, layers, sheets, zoom) {
    this.said = said;
    this.zoom = zoom;
    this.others = layers.filter((layer) => layer.said.other);
    this.layers = layers.filter((layer) => layer.said.kept_frame !== undefined);
    this.kept = this.layers.filter((layer) => layer.said.kept && layer.said.kept.finish !== "rows").map((layer) => new KeptLayer(layer, bytes, sheets, zoom));
    this.prepare(0);
  }

  /**
   * While a reader does nothing, the rows of layers are brought into the order that quantiles need.
   * @param {number} at The first layer to be looked at.
   */
  prepare(at) {
    const wait = window.requestIdleCallback ?? ((/** @type {() => void} */ then) => setTimeout(then, 200));
    const kept = this.kept[at];
    if (!kept) return;
    wait(() => {
      if (SORTED.has(kept.recipe.said.finish)) for (const name of Object.keys(kept.recipe.values)) if (name !== "weight") kept.recipe.ordered(name);
      this.prepare(at + 1);
    });
  }

  /**
   * The choices of which a figure is computed, and whether all rows are seen behind.
   * @param {number} member
   * @param {Choice[]} choices
   * @returns {{ choices: Choice[], all: boolean | null }}
   */
  of(member, choices) {
    const those = this.said.responses[member] ?? {};
    const own = choices.filter((one) => !one.empty && those[one.terms.name]?.how === "keep");
    const said = new Set(own.map((one) => those[one.terms.name].all).filter((one) => one !== null));
    return { choices: own, all: said.size === 1 ? [...said][0] : null };
  }

  /**
   * Computes and shows what choices keep.
   * @param {Choice[]} choices
   * @param {boolean} quick
   * @param {boolean} anew Whether rows have changed, and not what is seen alone.
   * @returns {number} The rows for which each of those that were looked at stands.
   */
  show(choices, quick, anew) {
    let every = 1;
    for (const layer of this.layers) layer.of = layer.said.kept || !this.of(layer.said.member, choices).choices.length ? "" : "all rows";
    for (const kept of this.kept) {
      const { choices: own, all } = this.of(kept.layer.said.member, choices);
      if (!own.length) { kept.hide(); continue; }
      const held = own.map((one) => one.rows.get(/** @type {number} */ (kept.frame)));
      const only = held[0];
      const chosen = held.length === 1 ? (/** @type {number} */ row) => only !== undefined && only.has(row) : (/** @type {number} */ row) => held.every((one) => one !== undefined && one.has(row));
      if (anew || !kept.found) every = Math.max(every, kept.compute(chosen, all ?? kept.recipe.said.counts, quick));
      kept.show();
    }
    this.names();
    return every;
  }

  /** Names at the ends of lines stand where these end now. */
  names() {
    for (const panel of this.said.panels) {
      const lines = this.kept.filter(({ layer }) => layer.said.line && layer.parts.some((part) => part.panel === panel));
      if (!lines.length) continue;
      const live = this.zoom.woken(panel);
      const parts = lines.flatMap(({ now }) => now?.parts.filter((part) => part.panel === panel) ?? []);
      live.named = parts.length ? parts : null;
      live.ends(!parts.length && live.views.x.whole && live.views.y.whole);
    }
  }

  /** @param {import("./marks.js").Marks[]} parts @returns {import("./marks.js").Marks[]} What a pointer finds in their stead. */
  parts(parts) {
    const now = new Map(this.kept.flatMap(({ layer, now: seen }) => (seen ? [[layer, seen]] : [])));
    return parts.map((part) => now.get(part.layer)?.parts.find((one) => one.panel === part.panel) ?? part);
  }

  /**
   * What a reader must know of which rows are shown; nothing where all are.
   * @param {Choice[]} choices
   * @returns {string}
   */
  told(choices) {
    const words = new Set();
    /** The figures of which each statement is. @type {Map<string, Set<number>>} */
    const statements = new Map();
    const staying = new Set();
    let [outlines, gray] = [false, false];
    for (const layer of this.layers) {
      const { choices: own, all } = this.of(layer.said.member, choices);
      if (!own.length) continue;
      const names = own.map((one) => one.terms.name).join(", ");
      const frame = layer.said.kept_frame ?? -1;
      const rows = own.map((one) => one.rows.get(frame)).filter((one) => one !== undefined);
      const held = rows.length === 1 ? rows[0].size : [...(rows[0] ?? [])].filter((row) => rows.every((one) => one.has(row))).length;
      const said = `Of ${decimalText(held, 0)} of ${decimalText(layer.said.kept_of ?? 0, 0)} rows (${names})`;
      statements.set(said, (statements.get(said) ?? new Set()).add(layer.said.member + 1));
      if (layer.said.kept?.texts === null) words.add("Value labels that a page does not write are left out.");
      if (!layer.said.kept) staying.add(layer.said.title.toLowerCase());
      else if (all ?? layer.said.kept.counts) {
        if (layer.said.kept.bordered) outlines = true;
        else gray = true;
      }
    }
    if (this.kept.some(({ cut }) => cut)) words.add("What reaches beyond the axes, which are those of all rows, is cut there.");
    for (const { found, layer } of this.kept) if (found?.few) words.add(`${layer.said.title}: ${found.few} of too few rows.`);
    const behind = [outlines ? "outlines" : "", gray ? "pale marks" : ""].filter(Boolean).join(" and ");
    if (behind) words.add(`${behind[0].toUpperCase()}${behind.slice(1)}: all rows.`);
    const others = new Set(this.others.filter((layer) => this.of(layer.said.member, choices).choices.length).map((layer) => layer.said.title.toLowerCase()));
    if (others.size) words.add(`Of other data: ${[...others].join(", ")}.`);
    if (staying.size) words.add(`Of all rows: ${[...staying].join(", ")}.`);
    const first = [...statements].map(([said, figures]) => (statements.size > 1 ? `${said} in ${figures.size > 1 ? "figures" : "figure"} ${[...figures].join(", ")}.` : `${said}.`));
    return [...first, ...words].join(" ");
  }
}
