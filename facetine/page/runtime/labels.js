// What is written on marks that were computed anew, and on lines across panels.

import { fixed, formatted } from "./numerals.js";
import { SVG } from "./paint.js";

/** @typedef {import("./recipe.js").Recipe} Recipe */
/** @typedef {import("./recipe.js").Finished} Finished */
/** @typedef {import("./data.js").TextsSaid} TextsSaid */
/** @typedef {[left: number, top: number, right: number, bottom: number]} Box */

/** The distance of a text from its mark, as a share of its size. */
const APART = 0.35;
const MEANT = 4;
/** Points outside of a panel at which the end of a mark is still seen. */
const SEEN = 0.5;

/**
 * Numbers with the digits that mean something: four of the largest, three of each, as many decimals for all.
 * @param {number[]} values
 * @returns {string[]}
 */
export function alike(values) {
  const size = (/** @type {number} */ value) => (value ? Math.floor(Math.log10(Math.abs(value)) + 1e-12) : 0);
  const least = (/** @type {number} */ value) => Array.from({ length: 12 }, (_, at) => at).find((at) => at >= 2 - size(value) || Number(value.toFixed(at)) === value) ?? 12;
  const there = values.filter((value) => Number.isFinite(value) && value);
  const most = there.length ? Math.max(...there.map(Math.abs)) : 1;
  const wanted = Math.max(MEANT - 1 - size(most), 0, ...there.map(least));
  const decimals = Array.from({ length: wanted + 1 }, (_, at) => at).find((at) => there.every((value) => Number(value.toFixed(at)) === Number(value.toFixed(wanted)))) ?? wanted;
  return values.map((value) => fixed(value, decimals));
}

/**
 * A template filled for each mark; nothing where a value is missing.
 * @param {TextsSaid} said
 * @param {Finished} found
 * @param {(name: string) => string} own The name that the layer has for one of the reader's.
 * @returns {string[]}
 */
function filled(said, found, own) {
  const columns = said.parts.map((part) => {
    if (typeof part === "string") return found.cell.map(() => part);
    const [name, form, sort] = part;
    const values = Array.from(found.values[own(name)] ?? [], Number);
    const there = values.filter(Number.isFinite);
    const texts = form ? formatted(there, { form }) : sort === "count" ? there.map((value) => fixed(value, Number.isInteger(value) ? 0 : 1)) : alike(there);
    let next = 0;
    return found.cell.map((_, mark) => (Number.isFinite(values[mark]) ? texts[next++] : null));
  });
  return found.cell.map((_, mark) => (columns.some((column) => column[mark] === null) ? "" : columns.map((column) => column[mark]).join("")));
}

/** @param {string} color @returns {string} The ink that is read on it. */
function inkOn(color) {
  const light = [1, 3, 5].map((at) => parseInt(color.slice(at, at + 2), 16) / 255).map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4));
  const shade = 0.2126 * light[0] + 0.7152 * light[1] + 0.0722 * light[2];
  return 1.05 / (shade + 0.05) > (shade + 0.05) / 0.062 ? "#ffffff" : "#1c1f24";
}

/**
 * Texts about the marks of a panel, those that would run into another left out.
 * @param {Recipe} recipe
 * @param {Finished} found
 * @param {number} panel
 * @param {number[]} box Of the panel.
 * @param {(mark: number) => Box} sides Where a mark is, in points.
 * @param {(name: string) => string} own
 * @param {SVGElement} into
 */
export function writeTexts(recipe, found, panel, box, sides, own, into) {
  const said = recipe.said.texts;
  if (!said) return;
  const { size, cap, color } = said;
  /** @type {Box[]} */
  const taken = [];
  filled(said, found, own).forEach((content, mark) => {
    if (!content || found.panel[mark] !== panel) return;
    const [left, top, right, bottom] = sides(mark);
    const end = said.inside ? [(left + right) / 2, (top + bottom) / 2] : recipe.said.horizontal ? [right, (top + bottom) / 2] : [(left + right) / 2, top];
    if (!said.line && (end[0] < box[0] - SEEN || end[0] > box[2] + SEEN || end[1] < box[1] - SEEN || end[1] > box[3] + SEEN)) return;
    const text = document.createElementNS(SVG, "text");
    text.textContent = content;
    text.setAttribute("font-size", String(size));
    into.append(text);
    const wide = /** @type {SVGTextElement} */ (text).getComputedTextLength();
    const lying = recipe.said.horizontal;
    const level = said.line && bottom - top < 1;
    const place = said.line ? (level ? { x: box[2] - wide, y: top - 3 } : { x: right + 2.5, y: box[1] + cap })
      : said.inside ? { x: (left + right - wide) / 2, y: (top + bottom + cap) / 2 }
        : lying ? { x: right + APART * size, y: (top + bottom + cap) / 2 } : { x: (left + right - wide) / 2, y: top - APART * size };
    const around = /** @type {Box} */ ([place.x, place.y - cap, place.x + wide, place.y]);
    const fits = !said.inside || (wide <= right - left && cap <= bottom - top);
    const free = taken.every((one) => around[0] >= one[2] || around[2] <= one[0] || around[1] >= one[3] || around[3] <= one[1]);
    if (!fits || !free) { text.remove(); return; }
    taken.push(around);
    const look = recipe.said.looks[recipe.look[found.cell[mark]]];
    const shape = found.shapes.find((one) => one.mark === mark);
    text.setAttribute("fill", said.inside ? inkOn(shape?.color ?? look.color) : said.line ? look.color : color);
    text.setAttribute("x", String(Math.round(place.x * 100) / 100));
    text.setAttribute("y", String(Math.round(place.y * 100) / 100));
  });
}
