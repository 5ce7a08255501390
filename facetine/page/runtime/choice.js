// Which rows are chosen, and how the sheet shows it: chosen marks keep their looks, all others are quiet.

/** @typedef {import("./marks.js").Layer} Layer */

const SVG = "http://www.w3.org/2000/svg";
/** The radius of a chosen point of a line, in points. */
const DOT = 1.6;
/** Pixels a point of painted marks. */
const FINE = 4;
const SHAPES = "circle, path, use, rect, image, text";

/** @typedef {{ name: string, along: string | null, multiple: boolean, sources: Set<number>, targets: Set<number>, values: Map<number, number> | null }} Terms */

/** The chosen rows of each frame, of one choice of the sheet. */
export class Choice {
  /**
   * @param {Layer[]} layers
   * @param {Terms} terms What it is called, how it is made, in which figures, and which of them show it.
   */
  constructor(layers, terms) {
    this.layers = layers;
    this.terms = terms;
    /** @type {Map<number, Set<number>>} */
    this.rows = new Map();
    /** @type {(() => void)[]} */
    this.listeners = [];
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
    const own = chosen ? layer.held(mark) : [];
    return chosen !== undefined && own.length > 0 && own.every((row) => chosen.has(row));
  }

  /**
   * Chooses rows in the place of those before, or beside them.
   * @param {Map<number, Set<number>>} rows
   * @param {boolean} [more]
   */
  choose(rows, more = false) {
    if (more) {
      for (const [frame, own] of this.rows) {
        const other = rows.get(frame) ?? new Set();
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
    if (!values) return own;
    const codes = new Set(own.map((row) => values.get(row)));
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
    const rows = new Map(more ? [...this.rows].map(([key, own]) => [key, new Set(own)]) : []);
    const own = rows.get(layer.frame) ?? new Set();
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
   * @returns {Map<number, Set<number>>}
   */
  where(test) {
    /** @type {Map<number, Set<number>>} */
    const found = new Map();
    for (const layer of this.layers) {
      if (layer.frame === null) continue;
      const rows = found.get(layer.frame) ?? new Set();
      for (let mark = 0; mark < layer.rows.length; mark += 1) if (test(layer, mark)) for (const row of layer.held(mark)) rows.add(row);
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
      const sorted = [...rows].sort((a, b) => a - b);
      const runs = [];
      for (let at = 0; at < sorted.length; at += 1) {
        const first = at;
        while (at + 1 < sorted.length && sorted[at + 1] === sorted[at] + 1) at += 1;
        runs.push(first === at ? `${sorted[at]}` : `${sorted[first]}-${sorted[at]}`);
      }
      if (runs.length) parts.push(`${frame}:${runs.join(",")}`);
    }
    return parts.join(";");
  }

  /**
   * Chooses what an address says; what it does not understand it leaves out.
   * @param {string} text
   */
  read(text) {
    /** @type {Map<number, Set<number>>} */
    const rows = new Map();
    const known = new Map();
    for (const [frame, own] of this.where(() => true)) known.set(frame, own);
    for (const part of text.split(";")) {
      const found = /^(\d+):([\d,-]+)$/.exec(part);
      const own = found ? known.get(Number(found[1])) : undefined;
      if (!found || !own) continue;
      const chosen = new Set();
      for (const run of found[2].split(",")) {
        const [low, high] = run.split("-").map(Number);
        for (const row of own) if (row >= low && row <= (high ?? low)) chosen.add(row);
      }
      rows.set(Number(found[1]), chosen);
    }
    this.choose(rows);
  }
}

/**
 * A point for a mark that is no shape of its own, such as one along a line.
 * @param {Layer} layer
 * @param {number} mark
 * @returns {SVGElement}
 */
function dot(layer, mark) {
  const point = document.createElementNS(SVG, "circle");
  const ink = layer.inks && layer.said.inks ? layer.said.inks.colors[layer.inks[mark]] : "currentColor";
  const place = { cx: (layer.left[mark] + layer.right[mark]) / 2, cy: (layer.top[mark] + layer.bottom[mark]) / 2, r: DOT, fill: ink };
  for (const [name, value] of Object.entries(place)) point.setAttribute(name, String(value));
  return point;
}

/** The marks of the sheets, loud and quiet. */
export class Looks {
  /**
   * @param {SVGSVGElement[]} sheets
   * @param {Layer[]} layers
   */
  constructor(sheets, layers) {
    /** @type {{ layer: Layer, start: number, end: number, groups: SVGGElement[], shapes: SVGElement[], panel: number[], pieces: number[] }[]} */
    this.parts = [];
    /** @type {SVGGElement[]} */
    this.loud = [];
    for (const layer of layers) {
      for (const part of layer.parts) {
        const own = `[data-marks="${layer.said.member}-${layer.said.number}-${part.panel.number}"]`;
        const groups = /** @type {SVGGElement[]} */ ([...(sheets[part.panel.page]?.querySelectorAll(own) ?? [])]);
        const shapes = groups.flatMap((group) =>
          /** @type {SVGElement[]} */ ([...group.querySelectorAll(SHAPES)].filter((one) => !one.closest("defs, clipPath"))),
        );
        this.parts.push({ layer, start: part.start, end: part.end, pieces: part.pieces, groups, shapes, panel: part.panel.box });
      }
    }
  }

  /**
   * Shows choices: in each figure the rows that all of those hold to which it responds, all marks as they were where none does.
   * @param {Choice[]} choices
   */
  show(choices) {
    for (const group of this.loud) group.remove();
    this.loud = [];
    const quiet = getComputedStyle(document.documentElement).getPropertyValue("--quiet").trim();
    for (const part of this.parts) {
      const shown = choices.filter((one) => !one.empty && one.terms.targets.has(part.layer.said.member));
      const choice = { holds: (/** @type {Layer} */ layer, /** @type {number} */ mark) => shown.every((one) => one.holds(layer, mark)) };
      for (const group of part.groups) group.style.opacity = shown.length ? quiet : "";
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
      for (let mark = part.start; mark < part.end; mark += 1) {
        const shape = part.layer.shapes ? part.layer.shapes[mark] : -1;
        const element = shape >= 0 ? part.shapes[shape] : undefined;
        if (!choice.holds(part.layer, mark)) continue;
        held.add(part.layer.rows[mark]);
        if (!element && part.pieces[1] > part.pieces[0]) continue;
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
        copy?.append(element.cloneNode(true));
      }
      over.append(...this.cut(part, held));
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
    const [left, top, right, bottom] = part.panel;
    const canvas = document.createElement("canvas");
    canvas.width = Math.max(1, Math.round((right - left) * FINE));
    canvas.height = Math.max(1, Math.round((bottom - top) * FINE));
    const pen = canvas.getContext("2d");
    if (!pen || !layer.inks || !layer.said.inks) return;
    pen.scale(FINE, FINE);
    pen.translate(-left, -top);
    for (let mark = part.start; mark < part.end; mark += 1) {
      if (!choice.holds(layer, mark)) continue;
      pen.fillStyle = layer.said.inks.colors[layer.inks[mark]];
      const radius = (layer.right[mark] - layer.left[mark]) / 2;
      pen.beginPath();
      pen.arc(layer.left[mark] + radius, (layer.top[mark] + layer.bottom[mark]) / 2, radius, 0, 2 * Math.PI);
      pen.fill();
    }
    const picture = document.createElementNS(SVG, "image");
    const place = { x: left, y: top, width: right - left, height: bottom - top, href: canvas.toDataURL("image/png") };
    for (const [name, value] of Object.entries(place)) picture.setAttribute(name, String(value));
    const over = document.createElementNS(SVG, "g");
    over.append(picture);
    this.add(part, over);
  }
}
