// A layer that is computed of chosen rows: what comes out, where it stands, and what a pointer finds there.

import { Asked } from "./asked.js";
import { drawnShapes, placeOn } from "./drawn.js";
import { barsOf } from "./finish/bars.js";
import { boxesOf } from "./finish/boxes.js";
import { cellsOf } from "./finish/cells.js";
import { cumulativeOf } from "./finish/cumulative.js";
import { histogramOf } from "./finish/histogram.js";
import { intervalsOf } from "./finish/intervals.js";
import { linesOf, pointsOf } from "./finish/lines.js";
import { referenceOf } from "./finish/reference.js";
import { tallyOf } from "./finish/tally.js";
import { trendOf } from "./finish/trend.js";
import { writeTexts } from "./labels.js";
import { drawnOf } from "./looks.js";
import { Column, Marks } from "./marks.js";
import { clipOf } from "./moved.js";
import { SVG } from "./paint.js";
import { Recipe } from "./recipe.js";
import { decimalText } from "./words.js";

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./recipe.js").Finished} Finished */
/** @typedef {import("./zoom.js").Zoom} Zoom */

/** @type {Record<string, (recipe: Recipe, asked: Asked) => Finished>} */
const FINISHES = {
  bars: barsOf, histogram: histogramOf, boxes: boxesOf, cells: cellsOf, tally: tallyOf, cumulative: cumulativeOf,
  lines: linesOf, points: pointsOf, reference: referenceOf, trend: trendOf, intervals: intervalsOf,
};
/** Rows of a layer beyond which a part of them stands for all while a brush is drawn. */
export const MOST_LIVE = 300000;
/** How far beyond its panel a mark may reach and not be cut. */
const SLACK = 0.1;
/** @type {Record<string, string>} */
const TURNED = { x: "y", y: "x", x_low: "y_low", x_high: "y_high", y_low: "x_low", y_high: "x_high" };

/** A layer that is computed anew. */
export class KeptLayer {
  /**
   * @param {Layer} layer
   * @param {Uint8Array} bytes
   * @param {SVGSVGElement[]} sheets
   * @param {Zoom} zoom
   */
  constructor(layer, bytes, sheets, zoom) {
    this.layer = layer;
    this.zoom = zoom;
    this.frame = layer.said.kept_frame ?? null;
    this.recipe = new Recipe(/** @type {import("./data.js").RecipeSaid} */ (layer.said.kept), bytes, zoom.under(layer.parts[0].panel));
    this.drawn = layer.parts.map((part) => ({ part, sheet: sheets[part.panel.page], ...drawnOf(sheets[part.panel.page], part) }));
    /** @type {SVGElement[]} */
    this.over = [];
    /** @type {Finished | null} */
    this.whole = null;
    /** @type {Finished | null} */
    this.found = null;
    /** What it says now, where it is computed of chosen rows. @type {Layer | null} */
    this.now = null;
    /** How many of its rows are chosen. */
    this.count = 0;
    this.marks = new Map(Array.from(layer.rows, (number, mark) => /** @type {[string, number]} */ ([`${this.panelOf(mark)}/${number}`, mark])));
  }

  /** @param {number} mark @returns {number} */
  panelOf(mark) {
    return this.layer.parts.find((part) => mark >= part.start && mark < part.end)?.panel.number ?? -1;
  }

  /** @param {Uint32Array} held @returns {Finished} */
  finished(held) {
    return FINISHES[this.recipe.said.finish](this.recipe, new Asked(this.recipe, held));
  }

  /**
   * Computes it of chosen rows.
   * @param {(row: number) => boolean} chosen
   * @param {boolean} all Whether what all rows make is seen behind.
   * @param {boolean} quick Whether a part of the rows will do, where there are very many.
   * @returns {number} The rows for which each of those that were looked at stands.
   */
  compute(chosen, all, quick) {
    const { rows } = this.recipe;
    const every = quick && rows.length > MOST_LIVE ? Math.ceil(rows.length / MOST_LIVE) : 1;
    const held = new Uint32Array(Math.ceil(rows.length / every));
    let count = 0;
    for (let at = 0; at < rows.length; at += every) if (chosen(rows[at])) held[count++] = at;
    this.recipe.chosen = chosen;
    this.found = this.finished(held.subarray(0, count));
    if (all) this.whole ??= this.finished(Uint32Array.from(rows, (_, at) => at));
    this.all = all;
    this.count = count * every;
    return every;
  }

  /** Shows what was computed, in the present view. */
  show() {
    for (const group of this.over) group.remove();
    this.over = [];
    const { found, recipe } = this;
    this.cut = false;
    if (!found) return;
    for (const { part, sheet, groups } of this.drawn) {
      const { panel } = part;
      const stage = { box: panel.box, ...this.zoom.under(panel) };
      const group = document.createElementNS(SVG, "g");
      group.setAttribute("aria-hidden", "true");
      if (this.all && this.whole) {
        // What all rows make lies behind all layers of the panel.
        const behind = document.createElementNS(SVG, "g");
        behind.setAttribute("aria-hidden", "true");
        behind.append(...drawnShapes(recipe, this.whole, panel.number, stage, true));
        sheet.querySelector(`[data-panel="${panel.member}-${panel.number}"] > [data-marks]`)?.before(behind);
        this.over.push(behind);
        if (!(stage.x.whole && stage.y.whole)) behind.setAttribute("clip-path", `url(#${this.clip(panel, sheet)})`);
      }
      group.append(...drawnShapes(recipe, found, panel.number, stage, false));
      const last = groups[groups.length - 1];
      for (const one of [...groups, ...this.values(sheet, panel)]) one.style.display = "none";
      last.after(group);
      // Texts stand beside their marks, and are not cut with them.
      const texts = document.createElementNS(SVG, "g");
      texts.setAttribute("aria-hidden", "true");
      group.after(texts);
      this.over.push(texts);
      writeTexts(recipe, found, panel.number, panel.box, (mark) => this.sides(found, mark, panel), (name) => this.own(name), texts);
      const cut = this.beyond(found, panel.number, stage);
      if (cut) group.setAttribute("clip-path", `url(#${this.clip(panel, sheet)})`);
      this.cut ||= cut && stage.x.whole && stage.y.whole;
      this.over.push(group);
    }
    this.now = this.seen(found);
  }

  /** @param {SVGSVGElement} sheet @param {import("./data.js").PanelSaid} panel @returns {SVGElement[]} What stands beside its marks in print. */
  values(sheet, { member, number }) {
    const group = sheet.querySelector(`[data-panel="${member}-${number}"]`);
    const name = new RegExp(`-values-${this.layer.said.number + 1}-`);
    return /** @type {SVGElement[]} */ ([...(group?.children ?? [])].filter((one) => name.test(one.id)));
  }

  /** @param {string} name @returns {string} What the layer itself calls a value of the reader. */
  own(name) {
    return this.recipe.said.horizontal ? TURNED[name] ?? name : name;
  }

  /**
   * Where a mark is in a panel, in points: left, top, right and bottom.
   * @param {Finished} found
   * @param {number} mark
   * @param {import("./data.js").PanelSaid} panel
   * @returns {[number, number, number, number]}
   */
  sides(found, mark, panel) {
    const stage = { box: panel.box, ...this.zoom.under(panel) };
    const { horizontal, shift } = this.recipe.said;
    const corners = [0, 2].map((side) => placeOn(stage, horizontal, found.box[mark][side], found.box[mark][side + 1]));
    const [across, down] = [0, 1].map((side) =>
      corners.map((corner, end) => (Number.isNaN(corner[side]) ? panel.box[side + 2 * end] : corner[side] + (side === Number(horizontal) ? shift : 0))).sort((a, b) => a - b));
    return [across[0], down[0], across[1], down[1]];
  }

  /** @param {Finished} found @param {number} panel @param {import("./drawn.js").Stage} stage @returns {boolean} Whether marks reach beyond it. */
  beyond(found, panel, stage) {
    const [left, top, right, bottom] = stage.box;
    return found.box.some((sides, mark) => {
      if (found.panel[mark] !== panel) return false;
      const spots = [placeOn(stage, this.recipe.said.horizontal, sides[0], sides[1]), placeOn(stage, this.recipe.said.horizontal, sides[2], sides[3])];
      return spots.some(([x, y]) => x < left - SLACK || x > right + SLACK || y < top - SLACK || y > bottom + SLACK);
    });
  }

  /** @param {import("./data.js").PanelSaid} panel @param {SVGSVGElement} sheet @returns {string} The name of what cuts marks at a panel. */
  clip(panel, sheet) {
    const name = `kept-${panel.member}-${panel.number}`;
    if (!sheet.querySelector(`#${name}`)) sheet.append(clipOf(name, panel.box));
    return name;
  }

  /** Shows it as all rows make it. */
  hide() {
    if (!this.found) return;
    for (const group of this.over) group.remove();
    for (const { part, sheet, groups } of this.drawn) for (const one of [...groups, ...this.values(sheet, part.panel)]) one.style.display = "";
    this.over = [];
    this.found = null;
    this.now = null;
  }

  /** @param {Finished} found @returns {Layer} What a pointer finds: marks where they stand, with what they say. */
  seen(found) {
    const { layer, recipe } = this;
    const count = found.cell.length;
    const order = Array.from({ length: count }, (_, mark) => mark).sort((a, b) => found.panel[a] - found.panel[b] || a - b);
    const sides = [0, 1, 2, 3].map(() => new Float64Array(count));
    const sizes = new Float64Array(count);
    for (const shape of found.shapes) if (shape.kind === "mark" && recipe.said.finish !== "boxes") sizes[shape.mark] = shape.size ?? recipe.said.looks[recipe.look[found.cell[shape.mark]]].size ?? 0;
    const own = layer.parts.map((part) => part.panel);
    order.forEach((mark, at) => {
      const panel = own.find((one) => one.number === found.panel[mark]) ?? own[0];
      const reach = sizes[mark] / 2;
      this.sides(found, mark, panel).forEach((place, side) => { sides[side][at] = place + (side < 2 ? -reach : reach); });
    });
    const home = order.map((mark) => this.marks.get(`${found.panel[mark]}/${recipe.number[found.cell[mark]]}`) ?? -1);
    const now = /** @type {Layer} */ (Object.create(layer));
    const groups = layer.groups;
    Object.assign(now, {
      left: sides[0], top: sides[1], right: sides[2], bottom: sides[3],
      rows: Float64Array.from(order, (mark) => recipe.number[found.cell[mark]]),
      groups: groups ? Float64Array.from(home, (mark) => (mark >= 0 ? groups[mark] : -1)) : null,
      columns: layer.columns.flatMap((column) => this.column(column, found, order, home)),
      of: `${decimalText(this.count, 0)} chosen`,
    });
    now.parts = [];
    for (const panel of own) {
      const start = order.findIndex((mark) => found.panel[mark] === panel.number);
      const held = order.filter((mark) => found.panel[mark] === panel.number).length;
      now.parts.push(new Marks(now, panel, Math.max(start, 0), held, 0, 0));
    }
    return now;
  }

  /**
   * A column of what the layer says, of the chosen rows; none of what a choice would change and was not computed.
   * @param {Column} column
   * @param {Finished} found
   * @param {number[]} order
   * @param {number[]} home The mark of all rows that shows the same result.
   * @returns {Column[]}
   */
  column(column, found, order, home) {
    const { name } = column.said;
    const own = this.own(name);
    const made = /** @type {Column} */ (Object.create(column));
    made.whole = null;
    if (own in found.values) {
      const unit = column.said.sort === "time" ? column.said.unit ?? 1 : 1;
      made.values = Float64Array.from(order, (mark) => found.values[own][mark] / unit);
    } else if (this.recipe.settled.includes(own) || column.said.name === "group") {
      made.values = Float64Array.from(home, (mark) => (mark >= 0 ? column.values[mark] : column.said.sort === "words" ? -1 : NaN));
    } else return [];
    return [made];
  }
}
