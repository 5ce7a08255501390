// The page comes to life: pointer, keys, fields and buttons, all on the same choice.

import { Choice } from "./choice.js";
import { Keeping } from "./kept.js";
import { raw, unpacked } from "./data.js";
import { Looking } from "./looking.js";
import { Looks } from "./looks.js";
import { Layer } from "./marks.js";
import { asImages, printing } from "./paint.js";
import { Pointer } from "./pointer.js";
import { withFields } from "./range.js";
import { Rows } from "./rows.js";
import { CLOSE, REACH, Readout, readOut } from "./readout.js";
import { decimalText } from "./words.js";
import { verbsOf } from "./verbs.js";
import { View } from "./views.js";
import { Zoom } from "./zoom.js";
import { MOST_SHOWN, asText, expressionOf, showTable, tableOf } from "./table.js";

/** @typedef {import("./marks.js").Marks} Marks */
/** @typedef {import("./data.js").Said} Said */

const LONGEST_STATE = 1800;
/** The height of a line below a sheet, in points. */
const CAPTION = 11;
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
    this.bytes = bytes;
    this.stage = element("stage");
    this.sheets = /** @type {SVGSVGElement[]} */ ([...this.stage.querySelectorAll(":scope > .sheet > svg")]);
    const views = said.axes.map((one) => new View(one));
    this.layers = said.layers.map((layer) => new Layer(layer, bytes, said.panels, views));
    /** What layers show in their panels, as all rows make it. */
    this.home = this.layers.flatMap((layer) => layer.parts).filter((part) => part.isSeen());
    this.home.sort((a, b) => a.panel.page - b.panel.page || a.panel.member - b.panel.member || a.panel.number - b.panel.number);
    /** What they show now, for the pointer and the keys. */
    this.parts = this.home;
    this.choices = this.choicesOf(said, bytes);
    /** The choice that was changed last, of which the tools speak. */
    this.choice = this.choices[0];
    this.looks = new Looks(this.sheets, this.layers);
    this.readout = new Readout(this.stage);
    this.status = element("status");
    this.at = { part: -1, place: 0 };
    /** What is seen while a page is printed. @type {import("./views.js").Ends[]} */
    this.printing = [];
    for (const choice of this.choices) choice.listeners.push(() => this.changed(choice));
    this.zoom = new Zoom(said, views, this.sheets, this.layers, () => this.seen());
    const kept = said.layers.some((layer) => layer.kept !== undefined);
    this.keeping = kept ? new Keeping(said, bytes, this.layers, this.sheets, this.zoom) : null;
    this.looking = new Looking(this.zoom, (text) => this.say(text));
    for (const part of this.parts) part.layer.writtenAs(this.zoom.under(part.panel));
    this.pointer = new Pointer(this);
    /** Whether what follows the brush is to be computed with the next picture of the screen. */
    this.waiting = false;
    /** The brush by which rows are chosen just now. @type {import("./brush.js").Brush | null} */
    this.drawn = null;
    this.legends();
    this.keyed();
    this.buttons();
    this.begin();
    this.stage.dataset.ready = "yes";
  }

  /**
   * The choices of the sheet; where none was said, one of all figures that all of them show.
   * @param {Said} said
   * @param {Uint8Array} bytes
   * @returns {Choice[]}
   */
  choicesOf(said, bytes) {
    const members = new Set(this.layers.map((layer) => layer.said.member));
    if (!said.choices.length) {
      const terms = { name: "rows", along: "xy", multiple: false, sources: members, targets: members, values: null, limited: [] };
      return [new Choice(this.layers, terms)];
    }
    const names = [...new Set(said.choices.map((one) => one.name))];
    return names.map((name) => {
      const own = said.choices.filter((one) => one.name === name);
      const sources = new Set(own.map((one) => one.member));
      const responding = Object.entries(said.responses).filter(([, those]) => those[name]?.how === "highlight");
      const limited = Object.entries(said.limits).flatMap(([member, those]) =>
        (those[name] ?? []).map(([axis, of]) => /** @type {[number, string, string]} */ ([Number(member), axis, of])));
      const targets = new Set([...sources, ...responding.map(([member]) => Number(member))]);
      const codes = raw(bytes, own[0].codes);
      const values = new Map([...raw(bytes, own[0].rows)].map((row, at) => [row, codes[at]]));
      const { along, multiple } = own[0];
      return new Choice(this.layers, { name, along, multiple, sources, targets, values: values.size ? values : null, limited });
    });
  }

  /** Chooses what the address says, else what is chosen at first. */
  begin() {
    const state = new Map(location.hash.slice(1).split("&").map((part) => /** @type {[string, string]} */ (part.split("="))));
    for (const choice of this.choices) {
      const text = state.get(choice.terms.name);
      const begun = this.started(choice);
      if (text !== undefined) choice.read(text);
      else if (begun.size) choice.choose(begun);
      if (text === undefined) this.brushAtFirst(choice);
    }
    const view = state.get("@");
    if (view !== undefined) {
      this.zoom.read(view);
      this.brushAsSeen();
    }
    // Paper has what the figure has: what is chosen at first, and nothing that a reader has chosen since.
    window.addEventListener("beforeprint", () => {
      printing.now = true;
      this.printing = this.zoom.seen;
      for (const one of this.zoom.views) one.now = one.home;
      for (const choice of this.choices) this.limitAtFirst(choice);
      this.zoom.redraw();
      this.shown(this.choices.map((one) => one.beginning(this.started(one))), true);
    });
    window.addEventListener("afterprint", () => {
      printing.now = false;
      this.zoom.views.forEach((one, at) => { one.now = this.printing[at] ?? one.now; });
      this.shown(this.choices, true);
      this.zoom.show();
    });
    // Another size of the window has other pixels.
    window.addEventListener("resize", () => this.zoom.show());
  }

  /** @param {Choice} choice Axes that show its interval have that which is chosen at first. */
  limitAtFirst(choice) {
    const own = this.said.choices.find((one) => one.name === choice.terms.name && Object.keys(one.ends).length);
    const panel = this.said.panels.find((one) => one.member === own?.member);
    if (!own || !panel || (!choice.terms.limited.length && !this.keeping)) return null;
    const views = this.zoom.under(panel);
    const places = (/** @type {"x" | "y"} */ axis) =>
      own.ends[axis] ? /** @type {import("./views.js").Ends} */ (own.ends[axis].map((value) => (views[axis].time ? value : views[axis].kind.forward(value)))) : null;
    const ends = { x: places("x"), y: places("y") };
    this.limit(choice, views, ends);
    return { choice, panel, views, ends };
  }

  /**
   * Axes that show the interval of a choice have that from the least to the largest of its rows, where no brush was drawn, as in print.
   * @param {Choice} choice
   */
  limitToRows(choice) {
    const panel = this.said.panels.find((one) => choice.terms.sources.has(one.member));
    if (!panel) return;
    const views = this.zoom.under(panel);
    const found = { x: [Infinity, -Infinity], y: [Infinity, -Infinity] };
    for (const part of this.home.filter((one) => choice.terms.sources.has(one.panel.member))) {
      const { left, top, right, bottom } = part.layer;
      const box = part.panel.box;
      for (let mark = part.start; mark < part.end; mark += 1) {
        if (!choice.holds(part.layer, mark)) continue;
        const shares = { x: ((left[mark] + right[mark]) / 2 - box[0]) / (box[2] - box[0]), y: (box[3] - (top[mark] + bottom[mark]) / 2) / (box[3] - box[1]) };
        for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
          const place = views[axis].placeAt(shares[axis]);
          found[axis] = [Math.min(found[axis][0], place), Math.max(found[axis][1], place)];
        }
      }
    }
    const along = choice.terms.along ?? "";
    const ends = (/** @type {"x" | "y"} */ axis) => (along.includes(axis) && found[axis][0] < found[axis][1] ? /** @type {import("./views.js").Ends} */ (found[axis]) : null);
    const said = { choice, panel, views, ends: { x: ends("x"), y: ends("y") } };
    this.limit(choice, views, said.ends);
    if (said.ends.x || said.ends.y) this.pointer.brushOf(choice).put(said);
  }

  /** @param {Choice} choice A brush where one is chosen at first, or where the address says what its interval shows. */
  brushAtFirst(choice) {
    const begun = this.limitAtFirst(choice);
    if (!begun) return;
    this.pointer.brushOf(choice).put(begun);
    this.pointer.drawn();
  }

  /** Brushes over what is seen in figures that show the interval of a choice. */
  brushAsSeen() {
    for (const choice of this.choices.filter((one) => one.terms.limited.length && !one.empty)) {
      const panel = this.said.panels.find((one) => choice.terms.sources.has(one.member));
      if (!panel) continue;
      const views = this.zoom.under(panel);
      /** @type {{ x: import("./views.js").Ends | null, y: import("./views.js").Ends | null }} */
      const ends = { x: null, y: null };
      for (const [member, axis, of] of choice.terms.limited) {
        const view = this.zoom.views.find((one) => one.said.member === member && one.said.name === axis && !one.whole);
        const source = views[/** @type {"x" | "y"} */ (of)];
        if (view) ends[/** @type {"x" | "y"} */ (of)] = /** @type {import("./views.js").Ends} */ (view.now.map((end) => (view.time ? end : source.kind.forward(view.kind.inverse(end)))));
      }
      if (ends.x || ends.y) this.pointer.brushOf(choice).put({ choice, panel, views, ends });
    }
  }

  /**
   * The rows of a choice that are chosen at first.
   * @param {Choice} choice
   * @returns {Map<number, Rows>}
   */
  started(choice) {
    const own = this.said.choices.find((one) => one.name === choice.terms.name);
    const frame = this.layers.find((layer) => layer.said.member === own?.member && layer.frame !== null)?.frame ?? null;
    const rows = own ? raw(this.bytes, own.started) : [];
    return frame !== null && rows.length ? new Map([[frame, new Rows(rows)]]) : new Map();
  }

  /**
   * The choice that is made in a figure; null where it makes none.
   * @param {number} member
   * @param {boolean} drawn Whether by a brush, and not by picking a mark.
   * @returns {Choice | null}
   */
  madeIn(member, drawn) {
    const own = this.choices.filter((one) => one.terms.sources.has(member));
    return own.find((one) => (one.terms.along !== null) === drawn) ?? own[0] ?? null;
  }

  /** Names in legends choose their groups. */
  legends() {
    for (const sheet of this.sheets) {
      for (const text of sheet.querySelectorAll('g[id$="legend"] text, g[id*="legend-"] text')) {
        text.addEventListener("click", (event) => {
          if (this.chooseGroup(text.textContent ?? "", /** @type {MouseEvent} */ (event).shiftKey)) event.stopPropagation();
        });
      }
    }
  }

  /**
   * Reads what is nearest to a place.
   * @param {{ page: number, x: number, y: number } | null} place
   */
  read(place) {
    const panel = place && this.pointer.panel(place);
    const found = place && panel ? this.nearest(panel, place.x, place.y) : null;
    if (found && panel) this.readout.show(found.part, found.mark, this.sheets[panel.page], this.said.sheets[panel.page]);
    else this.readout.hide();
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
      const { mark, distance } = part.nearest(x, y, REACH);
      // Of layers over each other the upper one is meant.
      if (mark >= 0 && (best === null || distance <= best.distance)) best = { part, mark, distance };
    }
    if (best !== null && best.distance <= CLOSE) return best;
    for (const part of own.filter((one) => one.layer.said.line)) {
      const { mark, distance } = part.nearestAlong(x, y);
      if (mark >= 0 && distance <= REACH) return { part, mark, distance };
    }
    return best;
  }

  /**
   * Chooses the rows whose marks have their middle under a brush.
   * @param {import("./brush.js").Brush} brush
   * @param {boolean} more
   */
  brushed(brush, more) {
    const { panel, choice } = brush;
    if (!panel || !choice) return;
    const [left, top, right, bottom] = brush.box;
    this.drawn = brush;
    choice.choose(this.under(brush), more);
    this.brushing(brush);
    this.zoom.settle();
  }

  /**
   * The rows whose marks have their middle under a brush.
   * @param {import("./brush.js").Brush} brush
   */
  under({ panel, choice, box: [left, top, right, bottom] }) {
    const held = new Set(this.home.filter((part) => part.panel === panel));
    return /** @type {Choice} */ (choice).where((layer, mark) => {
      const x = (layer.left[mark] + layer.right[mark]) / 2;
      const y = (layer.top[mark] + layer.bottom[mark]) / 2;
      if (!(x >= left && x <= right && y >= top && y <= bottom)) return false;
      const part = layer.parts.find((one) => mark >= one.start && mark < one.end);
      return part !== undefined && held.has(part);
    });
  }

  /**
   * Figures that show the chosen interval, or are computed of its rows, follow a brush while it is drawn.
   * @param {import("./brush.js").Brush} brush
   */
  brushing(brush) {
    if (brush.choice && brush.panel) this.limit(brush.choice, this.zoom.under(brush.panel), brush.ends);
  }

  /** @param {import("./brush.js").Brush} brush What is computed follows a brush that is drawn, as often as the screen is painted. */
  dragged(brush) {
    const { choice } = brush;
    if (!this.keeping || this.waiting || !choice) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      // The brush may have been let go since.
      if (!this.pointer.begun || !brush.panel || brush.choice !== choice) return;
      const now = choice.beginning(this.under(brush));
      const every = this.shown(this.choices.map((one) => (one === choice ? now : one)), true, true);
      element("count").textContent = `${counted(now.size)} of ${counted(choice.all)} rows${every > 1 ? `, counted by one row in ${every}` : ""}`;
    });
  }

  /**
   * Shows choices on the sheet, and the words for what is computed of them.
   * @param {Choice[]} choices
   * @param {boolean} anew Whether rows have changed, and not what is seen alone.
   * @param {boolean} [quick] Whether a part of the rows will do.
   * @returns {number} The rows for which each of those that were looked at stands.
   */
  shown(choices, anew, quick = false) {
    this.looks.show(choices, this.keeping);
    if (!this.keeping) return 1;
    const every = this.keeping.show(choices, quick, anew);
    this.parts = this.keeping.parts(this.home);
    const words = this.keeping.told(choices);
    element("kept").textContent = every > 1 ? `${words} While the brush moves: one row in ${every}.` : words;
    return every;
  }

  /**
   * Looks at an interval in the figures that show that of a choice.
   * @param {Choice} choice
   * @param {{ x: import("./views.js").View, y: import("./views.js").View }} views Of the axes along which it was chosen.
   * @param {{ x: import("./views.js").Ends | null, y: import("./views.js").Ends | null }} ends In their places; nothing for all.
   */
  limit(choice, views, ends) {
    for (const [member, axis, of] of choice.terms.limited) {
      const source = views[/** @type {"x" | "y"} */ (of)];
      const own = ends[/** @type {"x" | "y"} */ (of)];
      for (const view of this.zoom.views.filter((one) => one.said.member === member && one.said.name === axis)) {
        const there = own?.map((end) => (source.time ? end : view.kind.forward(source.kind.inverse(end))));
        this.zoom.look(view, there ? /** @type {import("./views.js").Ends} */ (there) : view.home);
      }
    }
  }

  /**
   * Chooses the row under the pointer; nothing where there is none.
   * @param {Choice} choice
   * @param {{ x: number, y: number, panel: import("./data.js").PanelSaid }} place
   * @param {boolean} more
   */
  pick(choice, place, more) {
    const found = this.nearest(place.panel, place.x, place.y);
    if (!found || found.part.layer.frame === null) choice.clear();
    // A brush chooses what lies under it, and no single mark.
    else if (choice.terms.along === "x" || choice.terms.along === "y") choice.clear();
    else choice.toggle(found.part.layer, found.mark, more || choice.terms.multiple);
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
        "+": () => this.closer(0.5), "=": () => this.closer(0.5), "-": () => this.closer(2), 0: () => this.zoom.home(),
        Backspace: () => this.zoom.back(), Enter: () => this.take(), " ": () => this.take(), Escape: () => this.leave(),
      });
      const ways = /** @type {Record<string, [number, number]>} */ ({ ArrowRight: [-0.2, 0], ArrowLeft: [0.2, 0], ArrowUp: [0, -0.2], ArrowDown: [0, 0.2] });
      const way = event.shiftKey ? ways[event.key] : undefined;
      const step = way ? () => this.beside(...way) : steps[event.key];
      if (!step) return;
      event.preventDefault();
      step();
    });
    this.stage.addEventListener("blur", () => this.readout.hide());
  }

  /** @returns {import("./data.js").PanelSaid} The panel where the keys are. */
  get here() {
    return this.parts[Math.max(this.at.part, 0)]?.panel ?? this.said.panels[0];
  }

  /** @param {number} factor Looks closer at the mark where the keys are, or from further away. */
  closer(factor) {
    const part = this.parts[this.at.part];
    const mark = part?.along()[this.at.place];
    const [left, top, right, bottom] = this.here.box;
    const middle = (/** @type {number} */ share) => Math.min(Math.max(share, 0), 1);
    const at = part && mark !== undefined
      ? { x: middle(((part.layer.left[mark] + part.layer.right[mark]) / 2 - left) / (right - left)), y: middle((bottom - (part.layer.top[mark] + part.layer.bottom[mark]) / 2) / (bottom - top)) }
      : { x: 0.5, y: 0.5 };
    const before = this.zoom.seen;
    if (!this.zoom.scale(this.here, at, factor)) { this.say(this.zoom.refused || "All is seen"); return; }
    this.zoom.keep(before);
    this.zoom.settle();
  }

  /** @param {number} across @param {number} up Moves what is seen, by shares of the panel. */
  beside(across, up) {
    const before = this.zoom.seen;
    this.zoom.pan(this.here, across, up);
    this.zoom.keep(before);
    this.zoom.settle();
  }

  /** @param {number} step */
  walk(step) {
    if (this.at.part < 0) { this.at = { part: 0, place: 0 }; this.tell(); return; }
    const part = this.parts[this.at.part];
    if (!part) return;
    const order = part.along();
    if (!order.length) { this.tell(); return; }
    this.at.place = Math.min(this.at.place, order.length - 1);
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
    const choice = part ? this.madeIn(part.panel.member, false) : null;
    if (choice) choice.toggle(part.layer, part.along()[this.at.place], choice.terms.multiple || this.choices.length === 1);
  }

  leave() {
    const made = this.choices.filter((one) => !one.empty);
    if (!made.length) this.readout.hide();
    for (const choice of made) choice.clear();
  }

  /** Shows, and says, what stands where the keys are. */
  tell() {
    const part = this.parts[this.at.part];
    if (!part) return;
    const order = part.along();
    if (!order.length) { this.readout.hide(); this.status.textContent = `${part.layer.said.title}: nothing of it is seen`; return; }
    this.at.place = Math.min(Math.max(this.at.place, 0), order.length - 1);
    const mark = order[this.at.place];
    this.readout.show(part, mark, this.sheets[part.panel.page], this.said.sheets[part.panel.page]);
    const chosen = this.choice.holds(part.layer, mark) ? ", chosen" : "";
    this.status.textContent = `${part.layer.said.title}: ${readOut(part, mark).map((pair) => pair.filter(Boolean).join(" ")).join(", ")}${chosen}`;
  }

  /**
   * A choice is another one: the sheet, the tools, the table and the address show it.
   * @param {Choice} choice
   */
  changed(choice) {
    this.choice = choice;
    if (this.drawn === null || (choice.empty && !choice.terms.limited.length)) this.pointer.brushOf(choice).hide();
    if (this.drawn === null && choice.terms.limited.length) this.limitToRows(choice);
    this.drawn = null;
    this.shown(this.choices, true);
    const count = this.choice.size;
    const all = this.choice.all;
    element("note").textContent = "";
    this.status.textContent = count ? `${counted(count)} of ${counted(all)} rows chosen` : "Nothing is chosen";
    element("count").textContent = count ? `${counted(count)} of ${counted(all)} rows` : "";
    this.sentenced();
    for (const name of ["clear", "copy", "save"]) /** @type {HTMLButtonElement} */ (element(name)).disabled = count === 0;
    const section = element("rows");
    section.hidden = count === 0;
    if (count) showTable(section, tableOf(this.layers, this.choice, MOST_SHOWN), count);
    else section.replaceChildren();
    element("text").hidden = true;
    this.address();
  }

  /** What is seen has changed: loud marks, the fields, the brush and the address follow. */
  seen() {
    this.shown(this.choices, false);
    this.looking.fill();
    this.pointer.drawn();
    this.status.textContent = this.looking.told();
    element("note").textContent = "";
    this.sentenced();
    this.address();
  }

  /** The verbs can be copied where something is chosen, or not all is seen. */
  sentenced() {
    /** @type {HTMLButtonElement} */ (element("sentence")).disabled = this.choice.size === 0 && this.zoom.whole;
  }

  /** The address keeps what is chosen and seen. */
  address() {
    const parts = [...this.choices.map((one) => [one.terms.name, one.written()]), ["@", this.zoom.written()]].filter(([, text]) => text);
    const state = parts.map(([name, text]) => `${name}=${text}`).join("&");
    try {
      history.replaceState(null, "", state && state.length < LONGEST_STATE ? `#${state}` : location.pathname + location.search);
    } catch {
      // A frame without an address of its own keeps no state.
    }
  }

  /** @param {string} text What all readers should know: those who see, and those who hear. */
  say(text) {
    this.status.textContent = text;
    element("note").textContent = text;
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
    withFields(this.layers, ({ layers }, rows) => {
      const made = layers.map(({ layer }) => this.madeIn(layer.said.member, true)).find((one) => one !== null);
      (made ?? this.choice).choose(rows);
    }, (text) => this.say(text));
    const picks = this.layers.some((layer) => layer.frame !== null);
    element("choosing").hidden = !picks;
    element("clear").addEventListener("click", () => this.choice.clear());
    element("copy").addEventListener("click", () => this.give(asText(tableOf(this.layers, this.choice)), "rows"));
    element("save").addEventListener("click", () => this.download(asText(tableOf(this.layers, this.choice)), "text/csv", "rows.csv"));
    element("sentence").addEventListener("click", () => {
      const expression = this.choice.size ? expressionOf(this.layers, this.choice) : null;
      if (expression === null && this.choice.size) {
        const none = "No range of the figure's columns of numbers and times holds exactly these rows";
        this.say(none);
        this.write(`${none}.`);
        return;
      }
      this.give(verbsOf(expression, this.said.choices.length ? this.choice.terms.name : null, this.zoom), "verbs");
    });
    element("picture").addEventListener("click", () => this.picture());
    element("view").addEventListener("click", () => this.download(this.drawing(), "image/svg+xml", "figure.svg"));
  }

  /** Saves the first sheet, as it is seen now, at 300 pixels an inch. */
  async picture() {
    const [own, sheet] = this.said.sheets[0];
    const height = sheet + (this.caption ? 1.5 * CAPTION : 0);
    const width = this.zoom.overhang(this.sheets[0]).reduce((sum, over) => sum + over, own);
    const image = new Image();
    image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(this.drawing())}`;
    await image.decode();
    const canvas = document.createElement("canvas");
    canvas.width = Math.round((width * DPI) / 72);
    canvas.height = Math.round((height * DPI) / 72);
    canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
    canvas.toBlob((content) => { if (content) this.download(content, "image/png", "figure.png"); });
  }

  /** @param {SVGSVGElement} copy @param {number[]} over Makes a sheet wider at its left and its right, by points. */
  widened(copy, [over, behind]) {
    const [own, height] = this.said.sheets[0];
    const width = own + behind;
    copy.setAttribute("viewBox", `${-over} 0 ${width + over} ${height}`);
    copy.setAttribute("width", `${((width + over) * 25.4) / 72}mm`);
    const ground = [...copy.children].find((one) => one.tagName === "rect");
    ground?.setAttribute("x", String(-over));
    ground?.setAttribute("width", String(width + over));
  }

  /** @returns {string} What a reader must know of which rows are shown; nothing where all are. */
  get caption() {
    return this.keeping?.told(this.choices) ?? "";
  }

  /** @param {SVGSVGElement} copy Has it stand below a sheet that leaves the page. */
  captioned(copy) {
    const { caption } = this;
    if (!caption) return;
    const [left, top, width, height] = (copy.getAttribute("viewBox") ?? "").split(" ").map(Number);
    const text = document.createElementNS("http://www.w3.org/2000/svg", "text");
    for (const [name, value] of Object.entries({ x: 4, y: height + CAPTION, "font-size": CAPTION * 0.75, fill: "#4a5059" })) text.setAttribute(name, String(value));
    text.textContent = caption;
    copy.append(text);
    copy.setAttribute("viewBox", `${left} ${top} ${width} ${height + 1.5 * CAPTION}`);
    copy.setAttribute("height", `${((height + 1.5 * CAPTION) * 25.4) / 72}mm`);
    const ground = [...copy.children].find((one) => one.tagName === "rect");
    ground?.setAttribute("height", String(height + 1.5 * CAPTION));
  }

  /** The first sheet as it is seen now. */
  drawing() {
    const copy = /** @type {SVGSVGElement} */ (this.sheets[0].cloneNode(true));
    asImages(this.sheets[0], copy);
    const over = this.zoom.overhang(this.sheets[0]);
    if (over[0] + over[1] > 0) this.widened(copy, over);
    for (const one of copy.querySelectorAll("[style]")) {
      const { opacity, display } = /** @type {SVGElement} */ (one).style;
      if (display === "none" || opacity === "0") { one.remove(); continue; }
      one.removeAttribute("style");
      if (opacity) one.setAttribute("opacity", opacity);
    }
    for (const name of ["data-marks", "data-panel", "data-at"]) for (const one of copy.querySelectorAll(`[${name}]`)) one.removeAttribute(name);
    this.captioned(copy);
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
      this.say(`Copied the ${what}`);
    } catch {
      this.write(text);
      this.say(`The ${what} stand below, to be copied`);
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
    this.say(`Saved ${name}`);
  }
}

const carried = element("figure-data");
if (carried && typeof DecompressionStream === "function") {
  const { said, arrays } = JSON.parse(carried.textContent ?? "");
  unpacked(arrays).then((bytes) => new Page(said, bytes));
}
