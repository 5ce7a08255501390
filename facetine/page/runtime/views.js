// What is seen of each axis: its limits, as they are at first and as a reader set them.

import { aheadAt, instantRead, instantText, timeTicks } from "./calendar.js";
import { kindOf, numberTicks } from "./scales.js";

/** @typedef {import("./data.js").AxisSaid} AxisSaid */
/** @typedef {[number, number]} Ends In the unit in which the axis is even. */
/** @typedef {{ at: number[], minor: number[], texts: string[] }} ViewTicks */

/** How many times closer than at first one can look. */
const DEEPEST = 1e5;
/** A thousandth of a view is as fine as limits are said. */
const FINEST = 1000;
const UNITS = [86400e6, 3600e6, 60e6, 1e6, 1e3, 1];

/** The view along an axis. */
export class View {
  /** @param {AxisSaid} said */
  constructor(said) {
    this.said = said;
    this.kind = kindOf(said);
    /** As it is written where two whole numbers are not seen. */
    this.fine = kindOf({ ...said, whole: false });
    this.time = said.kind === "time";
    /** @type {Ends} */
    this.home = [said.low, said.high];
    /** @type {Ends} */
    this.now = [said.low, said.high];
  }

  /** @returns {Ends} Its ends, a little inside, so that short numbers can say them. */
  get inside() {
    const little = (this.home[1] - this.home[0]) * 1e-9;
    return [this.home[0] + little, this.home[1] - little];
  }

  /** @returns {boolean} Whether all of the axis is seen. */
  get whole() {
    return this.now[0] === this.home[0] && this.now[1] === this.home[1];
  }

  /** @returns {boolean} Whether one can look closer. */
  get moves() {
    return this.said.still === null;
  }

  /**
   * Ends within those of the whole axis, as far apart as they were given where that can be; null where they are too close.
   * @param {Ends} ends
   * @returns {Ends | null}
   */
  bounded([low, high]) {
    const [least, most] = this.home;
    // Lengths are compared from zero, which stays in sight.
    if (this.said.stands) [low, high] = [Math.min(low, Math.max(0, least)), Math.max(high, Math.min(0, most))];
    const length = Math.min(high - low, most - least);
    const noise = 64 * Number.EPSILON * Math.max(Math.abs(least), Math.abs(most));
    if (!(length > Math.max((most - least) / DEEPEST, this.time ? 2 : noise))) return null;
    const start = Math.min(Math.max(low, least), most - length);
    return length === most - least ? [least, most] : [start, start + length];
  }

  /**
   * The same ends by numbers that are short to write, off by less than a thousandth of the view.
   * @param {Ends} ends
   * @returns {Ends}
   */
  rounded(ends) {
    const slack = (ends[1] - ends[0]) / FINEST / 2;
    return /** @type {Ends} */ (ends.map((place, end) => {
      if (place === this.home[end]) return place;
      if (this.time) {
        const unit = UNITS.find((one) => one <= 2 * slack) ?? 1;
        const ahead = aheadAt(place, this.said.clocks ?? null);
        return Math.round((place + ahead) / unit) * unit - ahead;
      }
      const value = this.kind.inverse(place);
      for (let digits = 1; digits < 17; digits += 1) {
        const short = this.kind.forward(Number(value.toPrecision(digits)));
        if (Math.abs(short - place) <= slack) return short;
      }
      return place;
    }));
  }

  /**
   * A place as a share of the panel, as it is seen, or at first.
   * @param {number} place
   * @param {Ends} [ends]
   */
  share(place, ends = this.now) {
    const share = (place - ends[0]) / (ends[1] - ends[0]);
    return this.said.reverse ? 1 - share : share;
  }

  /**
   * The place at a share of the panel.
   * @param {number} share
   * @param {Ends} [ends]
   */
  placeAt(share, ends = this.now) {
    return ends[0] + (this.said.reverse ? 1 - share : share) * (ends[1] - ends[0]);
  }

  /**
   * From shares of the panel at first to those of the present view: to multiply, and then to add.
   * @returns {[number, number]}
   */
  get moved() {
    const factor = (this.home[1] - this.home[0]) / (this.now[1] - this.now[0]);
    const start = this.share(this.placeAt(0), this.home);
    return [factor, -factor * start];
  }

  /**
   * Ticks, about as many as wanted, at places.
   * @param {number} wanted
   * @returns {ViewTicks}
   */
  ticks(wanted) {
    const count = Math.max(this.said.wanted ?? wanted, 2);
    const { minor: said } = this.said;
    if (this.said.wanted === 0) return { at: [], minor: [], texts: [] };
    if (this.time) return timeTicks(this.now, count, this.said.clocks ?? null, this.said.pattern ?? null, said === true);
    const ends = /** @type {Ends} */ (this.now.map((place) => this.kind.inverse(place)));
    const kind = Math.floor(ends[1]) - Math.ceil(ends[0]) >= 1 ? this.kind : this.fine;
    const { at, minor, texts } = numberTicks(kind, ends, count, this.said.format ?? null);
    let few = said === false ? [] : minor;
    if (said && !minor.length && at.length > 1) {
      const half = (at[1] - at[0]) / 2;
      few = [at[0] - half, ...at.map((value) => value + half)].filter((value) => ends[0] <= value && value <= ends[1]);
    }
    return { at: at.map((value) => this.kind.forward(value)), minor: few.map((value) => this.kind.forward(value)), texts };
  }

  /**
   * Ticks of the second axis, at places of the first.
   * @param {number} wanted
   * @returns {ViewTicks}
   */
  secondTicks(wanted) {
    const second = /** @type {import("./data.js").SecondSaid} */ (this.said.second);
    if (this.time) return timeTicks(this.now, Math.max(wanted, 2), second.clocks ?? null, second.pattern ?? null);
    const { low = 0, high = 1, format = null, wanted: said } = second;
    const kind = kindOf({ ...second, kind: second.kind ?? "linear" });
    const [first, last] = this.home;
    const there = (/** @type {number} */ place) => low + ((place - first) / (last - first)) * (high - low);
    const here = (/** @type {number} */ value) => first + ((kind.forward(value) - low) / (high - low)) * (last - first);
    const ends = /** @type {Ends} */ (this.now.map((place) => kind.inverse(there(place))).sort((a, b) => a - b));
    const { at, minor, texts } = numberTicks(kind, ends, Math.max(said ?? wanted, 2), format);
    return { at: at.map(here), minor: minor.map(here), texts };
  }

  /**
   * A place as it is written in fields, in the address and in verbs.
   * @param {number} place
   * @returns {string}
   */
  written(place) {
    if (this.time) return instantText(place, this.said.clocks ?? null);
    return String(Number(this.kind.inverse(place).toPrecision(15)));
  }

  /**
   * The place that a text tells; NaN where it tells none.
   * @param {string} text
   * @returns {number}
   */
  read(text) {
    if (!text.trim()) return NaN;
    return this.time ? instantRead(text, this.said.clocks ?? null) : this.kind.forward(Number(text.replace(/\u2212/g, "-")));
  }
}
