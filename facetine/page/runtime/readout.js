// What the mark under the pointer says, beside it.

/** @typedef {import("./marks.js").Marks} Marks */

/** How far from a mark, in points, the pointer still means it. */
export const REACH = 12;
/** How near it is surely that mark, and no line beside it. */
export const CLOSE = 4;
const MOST_LINES = 12;

/** A box with lines of title and text, and the mark on the sheet that it is about. */
export class Readout {
  /** @param {HTMLElement} stage */
  constructor(stage) {
    this.stage = stage;
    this.box = document.createElement("div");
    this.box.className = "readout";
    this.box.hidden = true;
    this.ring = document.createElement("div");
    this.ring.className = "ring";
    this.ring.hidden = true;
    stage.append(this.ring, this.box);
  }

  /**
   * Shows what a mark says.
   * @param {Marks} marks
   * @param {number} mark
   * @param {SVGSVGElement} sheet
   * @param {number[]} size Of the sheet, in points.
   */
  show(marks, mark, sheet, size) {
    const lines = readOut(marks, mark);
    this.box.replaceChildren(
      ...lines.map(([title, text]) => {
        const line = document.createElement("div");
        const name = document.createElement("span");
        name.textContent = title;
        const value = document.createElement("b");
        value.textContent = text;
        line.append(name, value);
        return line;
      }),
    );
    const { layer } = marks;
    const own = sheet.getBoundingClientRect();
    const around = this.stage.getBoundingClientRect();
    const scale = own.width / size[0];
    const left = own.left - around.left + layer.left[mark] * scale;
    const top = own.top - around.top + layer.top[mark] * scale;
    const width = (layer.right[mark] - layer.left[mark]) * scale;
    const height = (layer.bottom[mark] - layer.top[mark]) * scale;
    const gap = 3;
    Object.assign(this.ring.style, {
      left: `${left - gap}px`, top: `${top - gap}px`, width: `${width + 2 * gap}px`, height: `${height + 2 * gap}px`,
    });
    this.ring.hidden = false;
    this.box.hidden = false;
    const room = around.width;
    const beside = left + width + 14;
    const fits = beside + this.box.offsetWidth <= room;
    const across = fits ? beside : Math.max(0, left - 14 - this.box.offsetWidth);
    const down = Math.min(Math.max(0, top + height / 2 - this.box.offsetHeight / 2), Math.max(0, around.height - this.box.offsetHeight));
    Object.assign(this.box.style, { left: `${across}px`, top: `${down}px` });
  }

  hide() {
    this.box.hidden = true;
    this.ring.hidden = true;
  }
}

/**
 * The lines of a readout: panel and group where there are several, then the values; along a line those of all its fellows there.
 * @param {Marks} marks
 * @param {number} mark
 * @returns {[string, string][]}
 */
export function readOut(marks, mark) {
  const { layer, panel } = marks;
  /** @type {[string, string][]} */
  const lines = [];
  if (panel.name) lines.push(["Panel", panel.name]);
  const group = layer.group(mark);
  // Which rows a number is of stands before it.
  if (layer.of) lines.push(["Of", layer.of]);
  const fellows = layer.said.line ? fellowsAt(marks, mark) : [];
  if (fellows.length > 1) {
    const [place, value] = axesOf(layer);
    if (place) lines.push([place.said.title, place.shown(mark)]);
    for (const fellow of fellows) lines.push([layer.group(fellow), value ? value.shown(fellow) : ""]);
  } else {
    const told = layer.told(mark, true);
    // A group that a value tells needs no line of its own.
    if (group && !told.some(([, text]) => text === group)) lines.push(["Group", group]);
    lines.push(...told);
  }
  return lines.length > MOST_LINES ? [...lines.slice(0, MOST_LINES), ["", "…"]] : lines;
}

/**
 * The columns along which a layer stands, and of its values.
 * @param {import("./marks.js").Layer} layer
 */
function axesOf(layer) {
  const along = layer.columns.find((one) => one.said.name === layer.said.along);
  const other = layer.columns.find((one) => one.said.name === (layer.said.along === "x" ? "y" : "x"));
  return [along, other];
}

/**
 * The marks of all lines of a panel at the place of one, the uppermost first.
 * @param {Marks} marks
 * @param {number} mark
 * @returns {number[]}
 */
function fellowsAt(marks, mark) {
  const { layer } = marks;
  const order = marks.along();
  const step = marks.step(mark);
  const found = new Map();
  for (let at = marks.first(step); at < order.length && marks.step(order[at]) === step; at += 1) {
    if (!found.has(layer.group(order[at]))) found.set(layer.group(order[at]), order[at]);
  }
  found.set(layer.group(mark), mark);
  const other = layer.said.along === "y" ? layer.left : layer.top;
  return [...found.values()].sort((a, b) => other[a] - other[b]);
}
