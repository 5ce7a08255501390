// How the sheet shows what is chosen: chosen marks keep their looks, all others are quiet.

import { SVG, picture } from "./paint.js";

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./choice.js").Choice} Choice */

/** The radius of a chosen point of a line, in points. */
const SPOT = 1.6;
/** How a layer looks that stays as all rows make it, beside others that are of chosen ones. */
const STAYING = "0.45";

/**
 * What draws a layer in a panel.
 * @param {SVGSVGElement} sheet
 * @param {import("./marks.js").Marks} part
 * @returns {{ groups: SVGGElement[], shapes: SVGElement[] }} Its groups, and the shapes in them, in order.
 */
export function drawnOf(sheet, { layer, panel }) {
  const own = `[data-marks="${layer.said.member}-${layer.said.number}-${panel.number}"]`;
  const groups = /** @type {SVGGElement[]} */ ([...sheet.querySelectorAll(own)]);
  const inside = groups.flatMap((group) => /** @type {SVGElement[]} */ ([...group.querySelectorAll("circle, path, use, rect, image, text")]));
  return { groups, shapes: inside.filter((one) => !one.closest("defs, clipPath")) };
}

/**
 * A point for a mark that is no shape of its own, such as one along a line.
 * @param {Layer} layer
 * @param {number} mark
 * @returns {SVGElement}
 */
function dot(layer, mark) {
  const point = document.createElementNS(SVG, "circle");
  const [fill, line] = layer.inks && layer.said.inks ? layer.said.inks.looks[layer.inks[mark]] : [null, null];
  const place = { cx: (layer.left[mark] + layer.right[mark]) / 2, cy: (layer.top[mark] + layer.bottom[mark]) / 2, r: SPOT, fill: fill ?? line ?? "currentColor" };
  for (const [name, value] of Object.entries(place)) point.setAttribute(name, String(value));
  return point;
}

/**
 * How many of the rows behind a mark are chosen, as a share of them.
 * @param {Layer} layer
 * @param {number} mark
 * @param {Choice[]} choices All of which hold them.
 * @returns {number}
 */
function shareOf(layer, mark, choices) {
  const { frame } = layer;
  const own = layer.held(mark);
  if (frame === null || !own.length) return 0;
  const chosen = choices.map((one) => one.rows.get(frame));
  let count = 0;
  for (let at = 0; at < own.length; at += 1) if (chosen.every((one) => one?.has(own[at]))) count += 1;
  return count / own.length;
}

/**
 * Leaves a part of a rectangle, at the end to which it grows: there chosen rows stand in print as well.
 * @param {SVGElement} rectangle
 * @param {number} share
 * @param {"top" | "bottom" | "left" | "right"} [end]
 */
function shorten(rectangle, share, end) {
  const [place, side] = end === "left" || end === "right" ? ["x", "width"] : ["y", "height"];
  const length = Number(rectangle.getAttribute(side));
  rectangle.setAttribute(side, String(length * share));
  if (end === "right" || end === "bottom") rectangle.setAttribute(place, String(Number(rectangle.getAttribute(place)) + length * (1 - share)));
}

/** The marks of the sheets, loud and quiet. */
export class Looks {
  /**
   * @param {SVGSVGElement[]} sheets
   * @param {Layer[]} layers
   */
  constructor(sheets, layers) {
    /** @type {{ panelled: import("./marks.js").Marks, layer: Layer, start: number, end: number, groups: SVGGElement[], shapes: SVGElement[], panel: number[], pieces: number[] }[]} */
    this.parts = [];
    /** @type {SVGGElement[]} */
    this.loud = [];
    for (const layer of layers) {
      for (const part of layer.parts) {
        const drawn = drawnOf(sheets[part.panel.page], part);
        this.parts.push({ panelled: part, layer, start: part.start, end: part.end, pieces: part.pieces, ...drawn, panel: part.panel.box });
      }
    }
  }

  /**
   * Shows choices: in each figure the rows that all of those hold to which it responds, all marks as they were where none does.
   * @param {Choice[]} choices
   * @param {import("./kept.js").Keeping | null} [keeping] What is computed of chosen rows.
   */
  show(choices, keeping = null) {
    for (const group of this.loud) group.remove();
    this.loud = [];
    const quiet = getComputedStyle(document.documentElement).getPropertyValue("--quiet").trim();
    for (const part of this.parts) {
      const { said } = part.layer;
      const kept = said.kept_frame === undefined || !keeping ? null : keeping.of(said.member, choices);
      const computed = kept !== null && kept.choices.length > 0;
      // What is computed anew is drawn elsewhere; rows alone are those that all choices hold.
      if (computed && said.kept && said.kept.finish !== "rows") continue;
      const shown = [...choices.filter((one) => !one.empty && one.terms.targets.has(said.member)), ...(computed && said.kept ? kept.choices : [])];
      const choice = {
        holds: (/** @type {Layer} */ layer, /** @type {number} */ mark) => shown.every((one) => one.holds(layer, mark)),
        share: (/** @type {Layer} */ layer, /** @type {number} */ mark) => shareOf(layer, mark, shown),
      };
      const stays = computed && !said.kept;
      for (const group of part.groups) group.style.opacity = stays ? STAYING : (shown.length && !(computed && !kept.all)) ? quiet : shown.length ? "0" : "";
      if (stays) continue;
      if (!shown.length || !part.groups.length || part.layer.frame === null) continue;
      if (part.layer.said.image) {
        this.paint(part, choice);
        continue;
      }
      const over = document.createElementNS(SVG, "g");
      /** @type {Map<Element, SVGElement>} */
      const wrapped = new Map();
      /** @type {Set<number>} */
      const held = new Set();
      const lines = this.linesOf(part);
      const onLines = new Set(lines.flatMap(({ marks }) => marks));
      // Marks lie over each other as they do in the figure.
      const { shapes } = part.layer;
      const order = Array.from({ length: part.end - part.start }, (_, at) => part.start + at);
      if (shapes) order.sort((a, b) => shapes[a] - shapes[b]);
      for (const mark of order) {
        const shape = shapes ? shapes[mark] : -1;
        const element = shape >= 0 ? part.shapes[shape] : undefined;
        const share = part.layer.said.grows ? choice.share(part.layer, mark) : Number(choice.holds(part.layer, mark));
        if (!share) continue;
        held.add(part.layer.rows[mark]);
        if (!element && (part.pieces[1] > part.pieces[0] || onLines.has(mark))) continue;
        if (!element) {
          over.append(dot(part.layer, mark));
          continue;
        }
        const holder = element.parentElement;
        let copy = holder ? wrapped.get(holder) : undefined;
        if (holder && !copy) {
          // What all marks of a batch share stands on the group that holds them.
          copy = /** @type {SVGElement} */ (holder.cloneNode(false));
          copy.removeAttribute("id");
          copy.removeAttribute("data-marks");
          copy.style.opacity = "";
          wrapped.set(holder, copy);
          over.append(copy);
        }
        const loud = /** @type {SVGElement} */ (element.cloneNode(true));
        if (share < 1) shorten(loud, share, part.layer.said.grows);
        copy?.append(loud);
      }
      over.append(...this.cut(part, held), ...this.along(part.layer, lines, held));
      this.add(part, over);
    }
  }

  /**
   * The parts of shapes that show chosen rows, such as the whiskers of a box.
   * @param {{ layer: Layer, shapes: SVGElement[], pieces: number[] }} part
   * @param {Set<number>} held The rows of the layer that are chosen.
   * @returns {SVGElement[]}
   */
  cut(part, held) {
    const [shapes, places, rows] = part.layer.pieces;
    /** @type {Map<number, number[]>} */
    const kept = new Map();
    for (let at = part.pieces[0]; at < part.pieces[1]; at += 1) {
      if (held.has(rows[at])) kept.set(shapes[at], [...(kept.get(shapes[at]) ?? []), places[at]]);
    }
    /** @type {SVGElement[]} */
    const made = [];
    for (const [shape, own] of kept) {
      const element = part.shapes[shape];
      const lines = element?.getAttribute("d")?.split(/(?=M)/);
      if (!element || !lines) continue;
      const copy = /** @type {SVGElement} */ (element.cloneNode(false));
      copy.setAttribute("d", own.map((place) => lines[place] ?? "").join(""));
      made.push(copy);
    }
    return made;
  }

  /**
   * The open lines along rows, with their corners and the marks that these show.
   * @param {{ layer: Layer, shapes: SVGElement[], pieces: number[], panelled: import("./marks.js").Marks }} part
   * @returns {{ element: SVGElement, corners: string[], marks: number[] }[]}
   */
  linesOf(part) {
    if (part.pieces[1] > part.pieces[0]) return [];
    return [...part.layer.cornersIn(part.panelled)].flatMap(([shape, marks]) => {
      const element = part.shapes[shape];
      const corners = element?.getAttribute("d")?.split(/(?=[MLZ])/) ?? [];
      // Areas are closed: what is between two of their rows is no part of their outline.
      return element && corners.length === marks.length && !corners.includes("Z") ? [{ element, corners, marks }] : [];
    });
  }

  /**
   * Lines as far as the rows along them are chosen; a dot where one is chosen alone.
   * @param {Layer} layer
   * @param {{ element: SVGElement, corners: string[], marks: number[] }[]} lines
   * @param {Set<number>} held The rows of the layer that are chosen.
   * @returns {SVGElement[]}
   */
  along(layer, lines, held) {
    /** @type {SVGElement[]} */
    const made = [];
    const alone = new Set();
    for (const { element, corners, marks } of lines) {
      const loud = marks.map((mark) => held.has(layer.rows[mark]));
      let path = "";
      corners.forEach((word, at) => {
        if (!loud[at]) return;
        const [before, after] = [loud[at - 1] && word[0] === "L", loud[at + 1] && corners[at + 1]?.[0] === "L"];
        if (before || after) path += (before ? "L" : "M") + word.slice(1);
        else alone.add(marks[at]);
      });
      const copy = /** @type {SVGElement} */ (element.cloneNode(false));
      copy.setAttribute("d", path);
      if (path) made.push(copy);
    }
    return [...made, ...[...alone].map((mark) => dot(layer, mark))];
  }

  /**
   * Lays loud marks over their layer.
   * @param {{ groups: SVGGElement[] }} part
   * @param {SVGGElement} over
   */
  add(part, over) {
    const last = part.groups[part.groups.length - 1];
    const clip = last.getAttribute("clip-path");
    if (clip) over.setAttribute("clip-path", clip);
    over.setAttribute("aria-hidden", "true");
    last.after(over);
    this.loud.push(over);
  }

  /**
   * Paints the chosen marks of a layer that is an image.
   * @param {{ layer: Layer, start: number, end: number, groups: SVGGElement[], panel: number[] }} part
   * @param {{ holds(layer: Layer, mark: number): boolean }} choice
   */
  paint(part, choice) {
    const { layer } = part;
    const held = [];
    for (let mark = part.start; mark < part.end; mark += 1) if (choice.holds(layer, mark)) held.push(mark);
    // Marks lie over each other as they do in the figure.
    const { shapes } = layer;
    if (shapes) held.sort((a, b) => shapes[a] - shapes[b]);
    const over = document.createElementNS(SVG, "g");
    over.append(picture(layer, part.panel, held, /** @type {SVGSVGElement} */ (part.groups[0].ownerSVGElement)));
    this.add(part, over);
  }
}
