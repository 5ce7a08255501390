// What the pointer does on the sheets: it reads, chooses, looks closer and moves what is seen.

import { Brush } from "./brush.js";
import { Pinch } from "./pinch.js";
import { CLOSE } from "./readout.js";

/** @typedef {import("./data.js").Said} Said */
/** @typedef {import("./data.js").PanelSaid} PanelSaid */
/** @typedef {import("./choice.js").Choice} Choice */
/** @typedef {import("./views.js").Ends} Ends */
/** @typedef {import("./zoom.js").Zoom} Zoom */
/** @typedef {{ page: number, x: number, y: number }} Place On a sheet, in points. */
/**
 * @typedef {{ said: Said, sheets: SVGSVGElement[], stage: HTMLElement, zoom: Zoom, read(place: Place | null): void,
 *   madeIn(member: number, drawn: boolean): Choice | null, pick(choice: Choice, place: Place & { panel: PanelSaid }, more: boolean): void,
 *   brushed(brush: Brush, more: boolean): void, brushing(brush: Brush): void, dragged(brush: Brush): void, say(text: string): void }} Hand What a pointer works on.
 */

/** Points that a pointer goes before it draws. */
const DRAWN = 3;
/** Points of a box below which it says nothing along an axis. */
const NARROW = 8;
/** How far from a panel its axes are taken for what the wheel is over. */
const AXIS = 26;
/** How much a turn of the wheel by one pixel looks closer. */
const PER_PIXEL = 0.0022;
const PER_LINE = 18;
/** Milliseconds after which turns of the wheel are another gesture. */
const PAUSE = 350;

/** The pointer and its brush. */
export class Pointer {
  /** @param {Hand} hand */
  constructor(hand) {
    this.hand = hand;
    /** The brush that was drawn last. */
    this.brush = new Brush(hand.stage);
    /** That of each choice, which stays while others are made. @type {Map<Choice, Brush>} */
    this.brushes = new Map();
    this.box = new Brush(hand.stage);
    this.box.element.classList.add("closer");
    this.pinch = new Pinch(hand.zoom);
    /** Whether a brush is being drawn anew. */
    this.spanning = false;
    /** @type {(Place & { panel: PanelSaid, mode: string, views: Ends[] }) | null} */
    this.begun = null;
    /** @type {Place | null} */
    this.last = null;
    /** Of turns of the wheel that look closer, and of those that scale the brush: what ends the gesture. */
    this.turned = 0;
    this.scaled = 0;
    this.listen();
  }

  /** @param {Choice} choice @returns {Brush} */
  brushOf(choice) {
    const found = this.brushes.get(choice) ?? (this.brushes.size ? new Brush(this.hand.stage) : this.brush);
    this.brushes.set(choice, found);
    return found;
  }

  /** @param {PanelSaid | null} panel @param {Place} place @returns {Brush | null} The brush over a place of a panel. */
  brushAt(panel, place) {
    return [...this.brushes.values()].find((one) => one.panel === panel && one.holds(place)) ?? null;
  }

  /** @returns {string} What dragging does: choose, closer or move. */
  get mode() {
    return /** @type {HTMLSelectElement} */ (document.getElementById("drag")).value;
  }

  /**
   * The place of a pointer on a sheet, in points, and the sheet.
   * @param {MouseEvent} event
   * @returns {Place | null}
   */
  place(event) {
    for (const [page, sheet] of this.hand.sheets.entries()) {
      const box = sheet.getBoundingClientRect();
      if (event.clientX < box.left || event.clientX > box.right || event.clientY < box.top || event.clientY > box.bottom) continue;
      const scale = this.hand.said.sheets[page][0] / box.width;
      return { page, x: (event.clientX - box.left) * scale, y: (event.clientY - box.top) * scale };
    }
    return null;
  }

  /**
   * The panel at a place of a page, or just beside it: marks at an edge reach over it.
   * @param {Place} place
   * @param {number} [below] How far below it and to its left.
   */
  panel(place, below = 0) {
    const near = (/** @type {number} */ slack, /** @type {number} */ axes) =>
      this.hand.said.panels.filter(({ page, box: [left, top, right, bottom] }) =>
        page === place.page && place.x >= left - slack - axes && place.x <= right + slack && place.y >= top - slack && place.y <= bottom + slack + axes);
    // An inset lies over the panel that holds it.
    return near(0, 0).pop() ?? near(CLOSE, 0).pop() ?? (below ? near(0, below).pop() : null) ?? null;
  }

  listen() {
    const { stage } = this.hand;
    stage.addEventListener("pointermove", (event) => this.move(event));
    stage.addEventListener("pointerleave", () => { if (!this.begun) this.hand.read(null); });
    stage.addEventListener("pointerdown", (event) => this.down(event));
    stage.addEventListener("pointerup", (event) => this.up(event));
    stage.addEventListener("pointercancel", (event) => { this.pinch.up(event.pointerId); this.begun = null; this.box.hide(); });
    window.addEventListener("resize", () => {
      this.hand.read(null);
      this.drawn();
    });
    stage.addEventListener("wheel", (event) => this.turn(event), { passive: false });
  }

  /** @param {PointerEvent} event */
  down(event) {
    const place = this.place(event);
    const panel = place && this.panel(place);
    if ((event.button !== 0 && event.button !== 1) || !place || !panel) return;
    if (event.pointerType === "touch" && this.pinch.down(event.pointerId, place, panel)) {
      // What one finger has begun is given up.
      if (this.spanning) this.brush.hide();
      this.begun = null;
      this.box.hide();
      return;
    }
    this.spanning = false;
    const held = this.mode === "choose" ? this.brushAt(panel, place) : null;
    if (held) this.brush = held;
    const mode = event.button === 1 ? "move" : held ? "hold" : this.mode;
    if (event.button === 1) event.preventDefault();
    this.begun = { ...place, panel, mode, views: this.hand.zoom.seen };
    this.last = place;
    this.hand.stage.setPointerCapture(event.pointerId);
  }

  /** @param {PointerEvent} event */
  move(event) {
    const place = this.place(event);
    const { begun } = this;
    if (event.pointerType === "touch" && place && this.pinch.move(event.pointerId, place)) return;
    if (!begun) { this.hand.read(place); return; }
    if (!place || place.page !== begun.page) return;
    const { panel, mode } = begun;
    const views = this.hand.zoom.under(panel);
    if (mode === "move") {
      const [left, top, right, bottom] = panel.box;
      this.hand.zoom.pan(panel, (place.x - begun.x) / (right - left), (begun.y - place.y) / (bottom - top), begun.views);
    } else if (mode === "closer") {
      this.box.span(panel, views, this.sides(begun, place), begun, place);
      this.box.draw(this.hand.sheets[begun.page], this.hand.said.sheets[begun.page][0]);
    } else if (mode === "hold") {
      this.brush.shift(/** @type {Place} */ (this.last), place);
      this.drawBrush();
    } else {
      const choice = this.hand.madeIn(panel.member, true);
      if (choice?.terms.along && Math.hypot(place.x - begun.x, place.y - begun.y) >= DRAWN) {
        this.brush = this.brushOf(choice);
        this.brush.choice = choice;
        this.spanning = true;
        this.brush.span(panel, views, choice.terms.along, begun, place);
        this.drawBrush();
      }
    }
    this.last = place;
    this.hand.read(null);
  }

  /** Shows the brush where it is, and what follows it while it is drawn. */
  drawBrush() {
    if (!this.brush.panel) return;
    this.drawn();
    this.hand.brushing(this.brush);
    this.hand.dragged(this.brush);
  }

  /** Shows all brushes where they are. */
  drawn() {
    for (const one of this.brushes.values()) if (one.panel) one.draw(this.hand.sheets[one.panel.page], this.hand.said.sheets[one.panel.page][0]);
  }

  /** @param {Place} from @param {Place} to @returns {string} The axes along which a box says something. */
  sides(from, to) {
    const [wide, high] = [Math.abs(from.x - to.x) >= NARROW, Math.abs(from.y - to.y) >= NARROW];
    return wide && high ? "xy" : high ? "y" : "x";
  }

  /** @param {PointerEvent} event */
  up(event) {
    if (this.pinch.up(event.pointerId)) return;
    const place = this.place(event);
    const { begun } = this;
    if (begun && place) this.move(event);
    this.begun = null;
    const box = this.box.ends;
    this.box.hide();
    if (!begun || !place) return;
    const drawn = Math.hypot(place.x - begun.x, place.y - begun.y) >= DRAWN;
    if (begun.mode === "move") this.ended(begun.views);
    else if (begun.mode === "closer") {
      if (!drawn) return;
      const views = this.hand.zoom.under(begun.panel);
      for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
        const ends = box[axis];
        if (ends && views[axis].moves && !this.hand.zoom.look(views[axis], ends)) this.hand.say(this.hand.zoom.refused);
      }
      this.ended(begun.views);
    } else if (begun.mode === "hold" && drawn) this.hand.brushed(this.brush, event.shiftKey);
    else this.chosen(begun, drawn, event.shiftKey);
  }

  /** @param {Ends[]} before A gesture has ended that began with other views. */
  ended(before) {
    this.hand.zoom.keep(before);
    this.hand.zoom.settle();
  }

  /** @param {Place & { panel: PanelSaid }} from @param {boolean} drawn @param {boolean} more */
  chosen(from, drawn, more) {
    const choice = this.hand.madeIn(from.panel.member, drawn);
    if (!choice) return;
    if (drawn && choice.terms.along && this.brush.choice === choice) {
      this.hand.brushed(this.brush, more);
      return;
    }
    this.brushOf(choice).hide();
    this.hand.pick(choice, from, more);
  }

  /**
   * The wheel: over a brush it makes that longer or shorter, over a panel it looks closer, over an axis along that alone.
   * @param {WheelEvent} event
   */
  turn(event) {
    const place = this.place(event);
    const panel = place && this.panel(place, AXIS);
    if (!place || !panel || event.ctrlKey) return;
    const pixels = (event.deltaY || event.deltaX) * (event.deltaMode === 1 ? PER_LINE : event.deltaMode === 2 ? 20 * PER_LINE : 1);
    const factor = Math.exp(Math.min(Math.max(pixels, -250), 250) * PER_PIXEL);
    const brush = this.brushAt(panel, place);
    if (brush) {
      this.brush = brush;
      event.preventDefault();
      this.brush.scale(place, factor);
      this.drawBrush();
      clearTimeout(this.scaled);
      this.scaled = setTimeout(() => this.hand.brushed(brush, false), PAUSE / 2);
      return;
    }
    const [left, top, right, bottom] = panel.box;
    const share = { x: (place.x - left) / (right - left), y: (bottom - place.y) / (bottom - top) };
    const { zoom } = this.hand;
    const at = { x: share.x < 0 || event.altKey ? null : Math.min(share.x, 1), y: share.y < 0 || event.shiftKey ? null : Math.min(share.y, 1) };
    const views = zoom.under(panel);
    const moves = (at.x !== null && views.x.moves) || (at.y !== null && views.y.moves);
    // Where all is seen, turning away from it scrolls the page.
    if (!moves || (factor > 1 && views.x.whole && views.y.whole)) return;
    event.preventDefault();
    const before = zoom.seen;
    this.hand.read(null);
    if (!zoom.scale(panel, at, factor)) {
      if (zoom.refused) this.hand.say(zoom.refused);
      return;
    }
    if (!this.turned) zoom.keep(before);
    clearTimeout(this.turned);
    this.turned = setTimeout(() => { this.turned = 0; zoom.settle(); }, PAUSE);
  }
}
