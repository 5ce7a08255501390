// Looking closer: views of all axes, what was seen before, and the address of a view.

import { LivePanel } from "./closer.js";

/** @typedef {import("./data.js").Said} Said */
/** @typedef {import("./data.js").PanelSaid} PanelSaid */
/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./views.js").View} View */
/** @typedef {import("./views.js").Ends} Ends */
/** @typedef {import("./closer.js").FittedTicks} FittedTicks */

/** How many views one can go back. */
const MOST_PAST = 100;

/** The views of a sheet. */
export class Zoom {
  /**
   * @param {Said} said
   * @param {View[]} views Of all axes.
   * @param {SVGSVGElement[]} sheets
   * @param {Layer[]} layers
   * @param {() => void} changed Told of each view that is shown.
   */
  constructor(said, views, sheets, layers, changed) {
    this.said = said;
    this.sheets = sheets;
    this.layers = layers;
    this.changed = changed;
    this.views = views;
    /** @type {Map<PanelSaid, LivePanel>} */
    this.panels = new Map();
    /** @type {Ends[][]} */
    this.past = [];
    this.waiting = false;
    /** Why the last wish was not met. */
    this.refused = "";
  }

  /** @param {PanelSaid} panel @returns {{ x: View, y: View }} */
  under(panel) {
    return { x: this.views[panel.axes.x], y: this.views[panel.axes.y] };
  }

  /** @param {View} view @returns {PanelSaid[]} The panels that stand on an axis. */
  on(view) {
    return this.said.panels.filter((panel) => this.views[panel.axes.x] === view || this.views[panel.axes.y] === view);
  }

  /** @param {PanelSaid} said */
  woken(said) {
    let found = this.panels.get(said);
    if (!found) {
      found = new LivePanel(said, this.under(said), this.sheets[said.page], this.layers, this.said.panels);
      this.panels.set(said, found);
    }
    return found;
  }

  /**
   * Why an axis stays as it is; nothing where it moves.
   * @param {View} view
   * @returns {string}
   */
  why(view) {
    return view.said.still ?? this.on(view).map((panel) => this.woken(panel).stuck).find((why) => why !== null) ?? "";
  }

  /** @returns {boolean} Whether all of all axes is seen. */
  get whole() {
    return this.views.every((view) => view.whole);
  }

  /** @returns {Ends[]} What is seen of all axes. */
  get seen() {
    return this.views.map((view) => view.now);
  }

  /** @param {Ends[]} before Keeps what was seen before, to come back to, where something else is seen now. */
  keep(before) {
    if (this.views.every((view, at) => view.now[0] === before[at][0] && view.now[1] === before[at][1])) return;
    this.past.push(before);
    if (this.past.length > MOST_PAST) this.past.shift();
  }

  /**
   * Looks at other ends of an axis.
   * @param {View} view
   * @param {Ends} ends
   * @returns {boolean} Whether that can be.
   */
  look(view, ends) {
    const why = this.why(view);
    if (why) {
      this.refused = `The axis ${view.said.title || view.said.name} stays as it is: ${why}`;
      return false;
    }
    const asked = view.bounded(ends);
    const before = view.now;
    if (asked) view.now = asked;
    if (!asked || (!view.whole && !this.ticksOf(view))) {
      view.now = before;
      this.refused = "There is no closer look: its ticks would have no room";
      return false;
    }
    this.draw();
    return true;
  }

  /**
   * Ticks of an axis that have room in all panels; null where there are none.
   * @param {View} view
   * @returns {FittedTicks | null}
   */
  ticksOf(view) {
    const bands = this.on(view).map((panel) => this.woken(panel).bands[this.views[panel.axes.x] === view ? "x" : "y"]).filter((band) => band !== undefined);
    const named = bands.filter((band) => band.text);
    const found = (named.length ? named : bands).slice(0, 12).map((band) => band.fitted());
    if (found.some((one) => one === null)) return null;
    const seconds = this.on(view).map((panel) => this.woken(panel).bands.second[this.views[panel.axes.x] === view ? "x" : "y"]).filter((band) => band?.text);
    if (seconds.slice(0, 12).some((band) => band?.fitted() === null)) return null;
    const all = /** @type {FittedTicks[]} */ (found);
    return all.length ? all.reduce((least, one) => (one.at.length < least.at.length ? one : least)) : { ...view.ticks(5), size: 1 };
  }

  /** Draws what is seen, once a frame. */
  draw() {
    if (this.waiting) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      this.show();
    });
  }

  /** Draws what is seen now. */
  show() {
    this.redraw();
    this.changed();
  }

  /** Draws what is seen now, and tells nobody. */
  redraw() {
    const ticks = this.views.map((view) => (view.whole ? null : this.ticksOf(view)));
    for (const panel of this.panels.values()) panel.show({ x: ticks[panel.said.axes.x], y: ticks[panel.said.axes.y] });
    // Ticks may stand over the edge of the sheet, on the ground of the page.
    for (const sheet of this.sheets) sheet.style.overflow = this.whole ? "" : "visible";
  }

  /** Takes limits that are short to write in the place of those that a gesture came to. */
  settle() {
    for (const view of this.views) if (!view.whole) view.now = view.bounded(view.rounded(view.now)) ?? view.now;
    this.draw();
  }

  /**
   * Looks closer, or from further away, with one place staying where it is.
   * @param {PanelSaid} panel
   * @param {{ x: number | null, y: number | null }} at Shares of the panel, from its lower left corner; null along an axis that stays.
   * @param {number} factor Below one to look closer.
   * @returns {boolean} Whether anything changes.
   */
  scale(panel, at, factor) {
    const views = this.under(panel);
    let changed = false;
    this.refused = "";
    for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
      const [share, view] = [at[axis], views[axis]];
      if (share === null || !view.moves || (factor > 1 && view.whole)) continue;
      const fixed = view.placeAt(share);
      const ends = /** @type {Ends} */ (view.now.map((end) => fixed + (end - fixed) * factor));
      if (this.look(view, ends)) changed = true;
    }
    return changed;
  }

  /**
   * Moves what is seen.
   * @param {PanelSaid} panel
   * @param {number} across Shares of the panel.
   * @param {number} up
   * @param {Ends[]} [from] The views from which it moves.
   */
  pan(panel, across, up, from) {
    for (const [axis, share] of /** @type {["x" | "y", number][]} */ ([["x", across], ["y", up]])) {
      const view = this.under(panel)[axis];
      const [low, high] = from?.[this.views.indexOf(view)] ?? view.now;
      if (!share || !view.moves || (low === view.home[0] && high === view.home[1])) continue;
      const far = (view.said.reverse ? -share : share) * (high - low);
      this.look(view, [low - far, high - far]);
    }
  }

  back() {
    const before = this.past.pop();
    if (!before) return;
    this.views.forEach((view, at) => { view.now = before[at]; });
    this.draw();
  }

  home() {
    const before = this.seen;
    for (const view of this.views) view.now = view.home;
    this.keep(before);
    this.draw();
  }

  /** @param {SVGSVGElement} sheet @returns {number[]} How far ticks stand over its left and its right edge now, in points. */
  overhang(sheet) {
    const panels = [...this.panels.values()].filter((panel) => this.sheets[panel.said.page] === sheet);
    const bands = panels.flatMap(({ bands }) => [bands.x, bands.y, bands.second.x, bands.second.y]).filter((band) => band !== undefined);
    return [0, 1].map((end) => Math.ceil(Math.max(0, ...bands.map((band) => band.over[end]))));
  }

  /** @returns {string} The view in the address. */
  written() {
    return this.views.flatMap((view, at) => (view.whole ? [] : [`${at}:${view.now.map((end) => encodeURIComponent(view.written(end))).join("~")}`])).join(";");
  }

  /** @param {string} text Looks at what an address says; what it does not understand it leaves out. */
  read(text) {
    for (const part of text.split(";")) {
      const found = /^(\d+):([^~]+)~([^~]+)$/.exec(part);
      const view = found ? this.views[Number(found[1])] : undefined;
      if (!found || !view) continue;
      let ends = [NaN, NaN];
      try {
        ends = [found[2], found[3]].map((end) => view.read(decodeURIComponent(end)));
      } catch {
        // No address of ours.
      }
      if (ends[0] < ends[1]) this.look(view, /** @type {Ends} */ (ends));
    }
  }
}
