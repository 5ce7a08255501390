// The page comes to life: pointer, keys, fields and buttons, all on the same choice.

import { Choice, Looks } from "./choice.js";
import { unpacked } from "./data.js";
import { Layer } from "./marks.js";
import { CLOSE, REACH, Readout, readOut } from "./readout.js";
import { decimalText } from "./words.js";
import { asText, expressionOf, showTable, tableOf } from "./table.js";

/** @typedef {import("./marks.js").Marks} Marks */
/** @typedef {import("./data.js").Said} Said */

const LONGEST_STATE = 1800;
/** Pixels an inch of a saved picture. */
const DPI = 300;

/**
 * An element of the page that is there.
 * @param {string} id
 * @returns {HTMLElement}
 */
function element(id) {
  return /** @type {HTMLElement} */ (document.getElementById(id));
}

/** @param {number} count */
const counted = (count) => decimalText(count, 0);

/** All that a reader can do with the figure. */
class Page {
  /**
   * @param {Said} said
   * @param {Uint8Array} bytes
   */
  constructor(said, bytes) {
    this.said = said;
    this.stage = element("stage");
    this.sheets = /** @type {SVGSVGElement[]} */ ([...this.stage.querySelectorAll(":scope > .sheet > svg")]);
    this.layers = said.layers.map((layer) => new Layer(layer, bytes, said.panels));
    this.parts = this.layers.flatMap((layer) => layer.parts).filter((part) => part.end > part.start);
    this.parts.sort((a, b) => a.panel.page - b.panel.page || a.panel.member - b.panel.member || a.panel.number - b.panel.number);
    this.choice = new Choice(this.layers);
    this.looks = new Looks(this.sheets, this.layers);
    this.readout = new Readout(this.stage);
    this.status = element("status");
    this.at = { part: -1, place: 0 };
    this.choice.listeners.push(() => this.changed());
    this.pointed();
    this.keyed();
    this.buttons();
    if (location.hash.startsWith("#rows=")) this.choice.read(decodeURIComponent(location.hash.slice(6)));
    this.stage.dataset.ready = "yes";
  }

  /**
   * The place of a pointer on a sheet, in points, and the sheet.
   * @param {MouseEvent} event
   * @returns {{ page: number, x: number, y: number } | null}
   */
  place(event) {
    for (const [page, sheet] of this.sheets.entries()) {
      const box = sheet.getBoundingClientRect();
      if (event.clientX < box.left || event.clientX > box.right || event.clientY < box.top || event.clientY > box.bottom) continue;
      const scale = this.said.sheets[page][0] / box.width;
      return { page, x: (event.clientX - box.left) * scale, y: (event.clientY - box.top) * scale };
    }
    return null;
  }

  /**
   * The panel at a place of a page.
   * @param {{ page: number, x: number, y: number }} place
   */
  panel(place) {
    const held = this.said.panels.filter(({ page, box }) =>
      page === place.page && place.x >= box[0] && place.x <= box[2] && place.y >= box[1] && place.y <= box[3]);
    // An inset lies over the panel that holds it.
    return held[held.length - 1] ?? null;
  }

  /** What the pointer does: it reads, and drawn over a panel it chooses. */
  pointed() {
    /** @type {{ page: number, x: number, y: number, panel: import("./data.js").PanelSaid } | null} */
    let begun = null;
    const brush = document.createElement("div");
    brush.className = "brush";
    brush.hidden = true;
    this.stage.append(brush);
    this.stage.addEventListener("pointermove", (event) => {
      const place = this.place(event);
      if (begun && place && place.page === begun.page) {
        this.drawBrush(brush, begun, place);
        this.readout.hide();
        return;
      }
      const panel = place && this.panel(place);
      const found = place && panel ? this.nearest(panel, place.x, place.y) : null;
      if (found && panel) this.readout.show(found.part, found.mark, this.sheets[panel.page], this.said.sheets[panel.page]);
      else this.readout.hide();
    });
    this.stage.addEventListener("pointerleave", () => { if (!begun) this.readout.hide(); });
    this.stage.addEventListener("pointerdown", (event) => {
      const place = this.place(event);
      const panel = place && this.panel(place);
      if (event.button !== 0 || !place || !panel) return;
      begun = { ...place, panel };
      this.stage.setPointerCapture(event.pointerId);
    });
    this.stage.addEventListener("pointerup", (event) => {
      const place = this.place(event);
      const from = begun;
      begun = null;
      brush.hidden = true;
      if (!from || !place) return;
      if (Math.hypot(place.x - from.x, place.y - from.y) < 3) this.pick(from, event.shiftKey);
      else this.brushed(from, place, event.shiftKey);
    });
    this.stage.addEventListener("pointercancel", () => { begun = null; brush.hidden = true; });
    for (const sheet of this.sheets) {
      for (const text of sheet.querySelectorAll('g[id$="legend"] text, g[id*="legend-"] text')) {
        text.addEventListener("click", (event) => {
          if (this.chooseGroup(text.textContent ?? "", /** @type {MouseEvent} */ (event).shiftKey)) event.stopPropagation();
        });
      }
    }
  }

  /**
   * The mark of a panel that is nearest to a place.
   * @param {import("./data.js").PanelSaid} panel
   * @param {number} x
   * @param {number} y
   */
  nearest(panel, x, y) {
    let best = null;
    const own = this.parts.filter((part) => part.panel === panel);
    for (const part of own) {
      const { mark, distance } = part.nearest(x, y);
      // Of layers over each other the upper one is meant.
      if (mark >= 0 && distance <= REACH && (best === null || distance <= best.distance)) best = { part, mark, distance };
    }
    if (best !== null && best.distance <= CLOSE) return best;
    for (const part of own.filter((one) => one.layer.said.line)) {
      const { mark, distance } = part.nearestAlong(x, y);
      if (mark >= 0 && distance <= REACH) return { part, mark, distance };
    }
    return best;
  }

  /**
   * @param {HTMLElement} brush
   * @param {{ page: number, x: number, y: number }} from
   * @param {{ x: number, y: number }} to
   */
  drawBrush(brush, from, to) {
    const own = this.sheets[from.page].getBoundingClientRect();
    const around = this.stage.getBoundingClientRect();
    const scale = own.width / this.said.sheets[from.page][0];
    Object.assign(brush.style, {
      left: `${own.left - around.left + Math.min(from.x, to.x) * scale}px`,
      top: `${own.top - around.top + Math.min(from.y, to.y) * scale}px`,
      width: `${Math.abs(from.x - to.x) * scale}px`,
      height: `${Math.abs(from.y - to.y) * scale}px`,
    });
    brush.hidden = false;
  }

  /**
   * Chooses the rows whose marks have their middle within a rectangle of a panel.
   * @param {{ x: number, y: number, panel: import("./data.js").PanelSaid }} from
   * @param {{ x: number, y: number }} to
   * @param {boolean} more
   */
  brushed(from, to, more) {
    const [low, high] = [Math.min(from.x, to.x), Math.max(from.x, to.x)];
    const [upper, lower] = [Math.min(from.y, to.y), Math.max(from.y, to.y)];
    const held = new Set(this.parts.filter((part) => part.panel === from.panel));
    this.choice.choose(this.choice.where((layer, mark) => {
      const part = layer.parts.find((one) => mark >= one.start && mark < one.end);
      if (!part || !held.has(part)) return false;
      const x = (layer.left[mark] + layer.right[mark]) / 2;
      const y = (layer.top[mark] + layer.bottom[mark]) / 2;
      return x >= low && x <= high && y >= upper && y <= lower;
    }), more);
  }

  /**
   * Chooses the row under the pointer; nothing where there is none.
   * @param {{ x: number, y: number, panel: import("./data.js").PanelSaid }} place
   * @param {boolean} more
   */
  pick(place, more) {
    const found = this.nearest(place.panel, place.x, place.y);
    if (!found || found.part.layer.frame === null) {
      this.choice.clear();
      return;
    }
    if (!more) this.choice.rows = new Map();
    this.choice.toggle(found.part.layer, found.mark);
  }

  /**
   * Chooses all rows of the groups of a name.
   * @param {string} name
   * @param {boolean} more
   * @returns {boolean} Whether there are any.
   */
  chooseGroup(name, more) {
    const rows = this.choice.where((layer, mark) => layer.group(mark).split(", ").includes(name));
    if ([...rows.values()].every((own) => own.size === 0)) return false;
    this.choice.choose(rows, more);
    return true;
  }

  /** What keys do: arrows walk from mark to mark, from group to group, from panel to panel. */
  keyed() {
    this.stage.addEventListener("keydown", (event) => {
      if (event.target !== this.stage || event.ctrlKey || event.metaKey || event.altKey) return;
      const steps = /** @type {Record<string, () => void>} */ ({
        ArrowRight: () => this.walk(1), ArrowLeft: () => this.walk(-1), Home: () => this.walk(-Infinity), End: () => this.walk(Infinity),
        ArrowDown: () => this.turn(1), ArrowUp: () => this.turn(-1), PageDown: () => this.cross(1), PageUp: () => this.cross(-1),
        Enter: () => this.take(), " ": () => this.take(), Escape: () => this.leave(),
      });
      const step = steps[event.key];
      if (!step) return;
      event.preventDefault();
      step();
    });
    this.stage.addEventListener("blur", () => this.readout.hide());
  }

  /** @param {number} step */
  walk(step) {
    if (this.at.part < 0) { this.at = { part: 0, place: 0 }; this.tell(); return; }
    const part = this.parts[this.at.part];
    if (!part) return;
    const order = part.along();
    const group = part.layer.group(order[this.at.place]);
    const own = order.map((_, place) => place).filter((place) => part.layer.group(order[place]) === group);
    const at = own.indexOf(this.at.place);
    this.at.place = own[Math.min(Math.max(at + step, 0), own.length - 1)];
    this.tell();
  }

  /**
   * To the next group, or to the next layer of the panel.
   * @param {number} step
   */
  turn(step) {
    if (this.at.part < 0) { this.walk(1); return; }
    const part = this.parts[this.at.part];
    const order = part.along();
    const groups = [...new Set(order.map((mark) => part.layer.group(mark)))];
    const at = groups.indexOf(part.layer.group(order[this.at.place])) + step;
    if (at >= 0 && at < groups.length) {
      this.at.place = order.findIndex((mark) => part.layer.group(mark) === groups[at]);
    } else {
      const next = this.at.part + step;
      if (this.parts[next]?.panel === part.panel) this.at = { part: next, place: 0 };
    }
    this.tell();
  }

  /** @param {number} step */
  cross(step) {
    if (this.at.part < 0) { this.walk(1); return; }
    const panel = this.parts[this.at.part].panel;
    let next = this.at.part;
    while (this.parts[next]?.panel === panel) next += step;
    if (this.parts[next]) {
      const first = this.parts.findIndex((part) => part.panel === this.parts[next].panel);
      this.at = { part: first, place: 0 };
    }
    this.tell();
  }

  take() {
    const part = this.parts[this.at.part];
    if (part) this.choice.toggle(part.layer, part.along()[this.at.place]);
  }

  leave() {
    if (this.choice.empty) this.readout.hide();
    else this.choice.clear();
  }

  /** Shows, and says, what stands where the keys are. */
  tell() {
    const part = this.parts[this.at.part];
    if (!part) return;
    const mark = part.along()[this.at.place];
    this.readout.show(part, mark, this.sheets[part.panel.page], this.said.sheets[part.panel.page]);
    const chosen = this.choice.holds(part.layer, mark) ? ", chosen" : "";
    this.status.textContent = `${part.layer.said.title}: ${readOut(part, mark).map((pair) => pair.filter(Boolean).join(" ")).join(", ")}${chosen}`;
  }

  /** The choice is another one: the sheet, the tools, the table and the address show it. */
  changed() {
    this.looks.show(this.choice);
    const count = this.choice.size;
    const all = [...this.choice.where(() => true).values()].reduce((sum, rows) => sum + rows.size, 0);
    this.status.textContent = count ? `${counted(count)} of ${counted(all)} rows chosen` : "Nothing is chosen";
    element("count").textContent = count ? `${counted(count)} of ${counted(all)} rows` : "";
    for (const name of ["clear", "copy", "save", "sentence"]) /** @type {HTMLButtonElement} */ (element(name)).disabled = count === 0;
    const section = element("rows");
    section.hidden = count === 0;
    if (count) showTable(section, tableOf(this.layers, this.choice));
    else section.replaceChildren();
    element("text").hidden = true;
    const state = this.choice.written();
    try {
      history.replaceState(null, "", state && state.length < LONGEST_STATE ? `#rows=${state}` : location.pathname + location.search);
    } catch {
      // A frame without an address of its own keeps no state.
    }
  }

  buttons() {
    const tools = element("tools");
    tools.hidden = false;
    const names = [...new Set(this.layers.flatMap((layer) => (layer.frame === null ? [] : layer.said.groups?.names ?? [])))];
    for (const name of names.length > 1 && names.length <= 12 ? names : []) {
      const button = document.createElement("button");
      button.type = "button";
      button.textContent = name;
      button.addEventListener("click", (event) => {
        const rows = this.choice.where((layer, mark) => layer.group(mark) === name);
        this.choice.choose(rows, event.shiftKey);
      });
      element("groups").append(button);
    }
    const picks = this.layers.some((layer) => layer.frame !== null);
    element("choosing").hidden = !picks;
    element("clear").addEventListener("click", () => this.choice.clear());
    element("copy").addEventListener("click", () => this.give(asText(tableOf(this.layers, this.choice)), "rows"));
    element("save").addEventListener("click", () => this.download(asText(tableOf(this.layers, this.choice)), "text/csv", "rows.csv"));
    element("sentence").addEventListener("click", () => {
      const expression = expressionOf(this.layers, this.choice);
      if (expression === null) {
        this.status.textContent = "No range of the figure's columns of numbers holds exactly these rows";
        this.write("No range of the figure's columns of numbers holds exactly these rows.");
        return;
      }
      const said = `'${expression.replace(/\\/g, "\\\\").replace(/'/g, "\\'")}'`;
      this.give(`.highlight(${said})  # the same picture\n.keep(${said})  # these rows alone; bins and limits are computed anew\n`, "verbs");
    });
    element("picture").addEventListener("click", () => this.picture());
    element("view").addEventListener("click", () => this.download(this.drawing(), "image/svg+xml", "figure.svg"));
  }

  /** Saves the first sheet, as it is seen now, at 300 pixels an inch. */
  async picture() {
    const [width, height] = this.said.sheets[0];
    const image = new Image();
    image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(this.drawing())}`;
    await image.decode();
    const canvas = document.createElement("canvas");
    canvas.width = Math.round((width * DPI) / 72);
    canvas.height = Math.round((height * DPI) / 72);
    canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
    canvas.toBlob((content) => { if (content) this.download(content, "image/png", "figure.png"); });
  }

  /** The first sheet as it is seen now. */
  drawing() {
    const copy = /** @type {SVGSVGElement} */ (this.sheets[0].cloneNode(true));
    for (const one of copy.querySelectorAll("[style]")) {
      const { opacity } = /** @type {SVGElement} */ (one).style;
      one.removeAttribute("style");
      if (opacity) one.setAttribute("opacity", opacity);
    }
    for (const one of copy.querySelectorAll("[data-marks]")) one.removeAttribute("data-marks");
    return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(copy)}\n`;
  }

  /**
   * Puts a text on the clipboard; where that is not allowed, onto the page, to be taken from there.
   * @param {string} text
   * @param {string} what
   */
  async give(text, what) {
    try {
      await navigator.clipboard.writeText(text);
      this.status.textContent = `Copied the ${what}`;
    } catch {
      this.write(text);
      this.status.textContent = `The ${what} stand below, to be copied`;
    }
  }

  /** @param {string} text */
  write(text) {
    const area = /** @type {HTMLTextAreaElement} */ (element("text"));
    area.value = text;
    area.hidden = false;
    area.focus();
    area.select();
  }

  /**
   * @param {string | Blob} content
   * @param {string} sort
   * @param {string} name
   */
  download(content, sort, name) {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([content], { type: sort }));
    link.download = name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
    this.status.textContent = `Saved ${name}`;
  }
}

const carried = element("figure-data");
if (carried && typeof DecompressionStream === "function") {
  const { said, arrays } = JSON.parse(carried.textContent ?? "");
  unpacked(arrays).then((bytes) => new Page(said, bytes));
}
