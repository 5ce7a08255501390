// The axes around a panel as they are in print: line, ticks and texts of the present view.

import { SVG } from "./paint.js";

/** @typedef {import("./views.js").View} View */
/** @typedef {import("./views.js").ViewTicks} ViewTicks */

/** Length of minor ticks, as a share of that of the others. */
const MINOR = 0.55;
/** How small texts become, as a share of their size, before a view is refused. */
const SMALLEST = 0.75;
/** How near to the edge of the sheet texts come. */
const EDGE = 1;

/** @param {number} value A coordinate of an SVG. */
const short = (value) => String(Math.round(value * 100) / 100);

/** An axis at one side of a panel. */
export class Band {
  /**
   * @param {SVGGElement} group What it is drawn in.
   * @param {View} view
   * @param {number[]} box Of the panel.
   * @param {boolean} level Whether it stands below or above the panel, and not beside it.
   * @param {boolean} far Whether it is a second axis, above or at the right.
   * @param {number} room Between it and what stands next to it.
   * @param {number | null} gap Between this panel and the next.
   */
  constructor(group, view, box, level, far, room, gap) {
    this.group = group;
    this.view = view;
    this.box = box;
    this.level = level;
    this.far = far;
    this.room = room;
    this.gap = gap;
    this.sheet = /** @type {SVGSVGElement} */ (group.ownerSVGElement);
    /** All that is in it at first, blanks too. */
    this.first = [...group.childNodes];
    this.home = [...group.children].filter((one) => one.tagName !== "title");
    this.line = this.home.find((one) => one.tagName === "path");
    const texts = this.home.filter((one) => one.tagName === "text");
    this.text = /** @type {SVGTextElement | undefined} */ (texts[0]);
    const lines = [...new Set(texts.map((one) => one.getAttribute("y")))].map(Number).sort((a, b) => a - b);
    /** Where the first line of texts stands, and whether there is room for a second one. */
    this.baseline = lines[0];
    this.two = level && lines.length > 1;
    /** How far its texts stand over the left and the right edge of the sheet. */
    this.over = [0, 0];
    /** @type {Map<string, number>} */
    this.widths = new Map();
  }

  /** Shows the axis as it is at first. */
  restore() {
    this.over = [0, 0];
    this.group.replaceChildren(...this.first);
  }

  /**
   * Ticks and texts of the present view that have room; null where there are none.
   * @returns {(ViewTicks & { size: number }) | null}
   */
  fitted() {
    const { size } = this.view.said;
    const length = this.level ? this.box[2] - this.box[0] : this.box[3] - this.box[1];
    const most = this.level ? Math.floor(length / (4.2 * size)) : Math.floor(length / (3.6 * size)) + 1;
    const wanted = Math.max(2, Math.min(9, most));
    // Where few are wanted, none or one may fall into the view.
    const counts = [...Array.from({ length: wanted - 1 }, (_, at) => wanted - at), ...(wanted > 3 ? [] : [1, 2, 3].map((more) => wanted + more))];
    for (const share of [1, 0.9, 0.82, SMALLEST]) {
      for (const count of counts) {
        const ticks = this.ticks(count);
        const texts = this.two ? ticks.texts : ticks.texts.map((text) => text.replace("\n", " "));
        // One tick alone tells no distance.
        if ((ticks.at.length > 1 || this.view.said.wanted === 0) && this.apart({ ...ticks, texts }, share)) return { ...ticks, texts, size: share };
        if (count === 2 && ticks.at.length > 1 && share === SMALLEST) return this.thinned({ ...ticks, texts }, share);
      }
      if (!this.text) return { ...this.ticks(wanted), size: 1 };
    }
    return null;
  }

  /** @param {number} count @returns {ViewTicks} */
  ticks(count) {
    return this.far ? this.view.secondTicks(count) : this.view.ticks(count);
  }

  /** @param {ViewTicks} ticks @param {number} share Some of the ticks, which have room. */
  thinned(ticks, share) {
    for (let every = 2; every <= ticks.at.length; every += 1) {
      const kept = (/** @type {unknown} */ _, /** @type {number} */ place) => place % every === 0;
      const some = { at: ticks.at.filter(kept), minor: [], texts: ticks.texts.filter(kept) };
      if (this.apart(some, share)) return { ...some, size: share };
    }
    return null;
  }

  /**
   * Whether texts have room: next to each other, and up to what stands beside the axis.
   * @param {ViewTicks} ticks
   * @param {number} share Of their usual size.
   */
  apart(ticks, share) {
    if (!this.text) return true;
    const { size, leading, cap } = this.view.said;
    const [left, top, right, bottom] = this.box;
    if (!this.level) {
      const places = ticks.at.map((place) => this.view.share(place) * (bottom - top)).sort((a, b) => a - b);
      const close = places.some((place, at) => at > 0 && place - places[at - 1] < Math.max(leading * 1.05, cap * 2) * share);
      return !close && ticks.texts.every((text) => this.width(text) * share <= this.room);
    }
    const least = 0.7 * size * share;
    for (const line of [0, 1]) {
      const spans = ticks.at
        .map((place, at) => ({ middle: left + this.view.share(place) * (right - left), text: ticks.texts[at].split("\n")[line] ?? "" }))
        .filter(({ text }) => text)
        .map(({ middle, text }) => [middle - (this.width(text) * share) / 2, middle + (this.width(text) * share) / 2])
        .sort((a, b) => a[0] - b[0]);
      if (this.gap !== null && spans.length) spans.push(spans[0].map((end) => end + right - left + /** @type {number} */ (this.gap)));
      if (spans.some((span, at) => at > 0 && span[0] - spans[at - 1][1] < least)) return false;
    }
    return true;
  }

  /** @param {string} text How wide it is at its usual size, in points. */
  width(text) {
    const known = this.widths.get(text);
    if (known !== undefined) return known;
    const made = this.made(text, 1);
    made.setAttribute("visibility", "hidden");
    this.sheet.append(made);
    const found = made.getComputedTextLength();
    made.remove();
    this.widths.set(text, found);
    return found;
  }

  /**
   * A text in the look of the axis; what is raised stands between two carets.
   * @param {string} text
   * @param {number} share Of the usual size.
   * @returns {SVGTextElement}
   */
  made(text, share) {
    const { size, raised } = this.view.said;
    const made = /** @type {SVGTextElement} */ (/** @type {SVGTextElement} */ (this.text).cloneNode(false));
    const put = (/** @type {Element} */ one, /** @type {number} */ own) => one.setAttribute("font-size", short(own * share));
    put(made, size);
    const runs = text.split("^");
    if (runs.length === 1) {
      made.textContent = text;
      return made;
    }
    runs.forEach((run, at) => {
      const span = document.createElementNS(SVG, "tspan");
      span.textContent = run;
      if (at % 2) put(span, raised[0]);
      if (at) span.setAttribute("dy", short((at % 2 ? -1 : 1) * raised[1] * share));
      made.append(span);
    });
    return made;
  }

  /**
   * Draws ticks and texts.
   * @param {ViewTicks & { size: number }} ticks
   */
  draw(ticks) {
    const { tick, gap, cap, leading } = this.view.said;
    const [left, top, right, bottom] = this.box;
    const along = (/** @type {number} */ place) =>
      this.level ? left + this.view.share(place) * (right - left) : bottom - this.view.share(place) * (bottom - top);
    /** @type {Element[]} */
    const made = [...this.group.children].filter((one) => one.tagName === "title");
    if (this.line) {
      const edge = this.level ? (this.far ? top : bottom) : this.far ? right : left;
      const out = this.level === this.far ? -1 : 1;
      const stroke = (/** @type {number} */ at, /** @type {number} */ long) =>
        this.level ? `M${short(at)} ${short(edge)}L${short(at)} ${short(edge + out * long)}` : `M${short(edge)} ${short(at)}L${short(edge + out * long)} ${short(at)}`;
      const all = this.level ? `M${short(left)} ${short(edge)}L${short(right)} ${short(edge)}` : `M${short(edge)} ${short(top)}L${short(edge)} ${short(bottom)}`;
      const line = /** @type {Element} */ (this.line.cloneNode(false));
      line.setAttribute("d", all + ticks.at.map((place) => stroke(along(place), tick)).join("") + ticks.minor.map((place) => stroke(along(place), MINOR * tick)).join(""));
      made.push(line);
    }
    this.over = [0, 0];
    const wide = this.sheet.viewBox.baseVal.width;
    if (this.text) {
      ticks.at.forEach((place, number) => {
        ticks.texts[number].split("\n").forEach((words, row) => {
          const text = this.made(words, ticks.size);
          const half = (this.width(words) * ticks.size) / 2;
          const at = along(place);
          if (!words) return;
          const beside = this.far ? right + tick + gap : left - tick - gap;
          const [start, end] = this.level ? [at - half, at + half] : this.far ? [beside, beside + 2 * half] : [beside - 2 * half, beside];
          this.over = [Math.max(this.over[0], EDGE - start), Math.max(this.over[1], end + EDGE - wide)];
          text.setAttribute("x", short(this.level ? at : beside));
          text.setAttribute("y", short(this.level ? this.baseline + row * leading : at + (cap * ticks.size) / 2));
          made.push(text);
        });
      });
    }
    this.group.replaceChildren(...made);
  }
}
