// Kinds of axes: where values stand, and which of them are ticks, as in print.

import { decimal, durations, formatted, powers, shares, step, truly, written } from "./numerals.js";

/** @typedef {import("./numerals.js").Format} Format */
/** @typedef {{ at: number[], minor: number[] }} Ticks */
/**
 * @typedef {{ forward(value: number): number, inverse(place: number): number, ticks(low: number, high: number, wanted: number): Ticks,
 *   texts(values: number[]): string[], domain: [number, number] }} Kind
 * @typedef {{ kind: string, base?: number, exponent?: number, threshold?: number, whole?: boolean }} KindSaid
 */

/** More labelled ticks than these help nobody. */
const MOST = 11;
/** In order of preference, as whole numbers over ten. */
const STEPS = [10, 50, 20, 25, 40, 30];
const [SIMPLE, COVER, DENSE] = [0.25, 0.2, 0.5];

/** @param {number} count @param {number} wanted */
function density(count, wanted) {
  const ratio = (count - 1) / (wanted - 1);
  return 2 - Math.max(ratio, 1 / ratio);
}

/**
 * Evenly spaced round values (Talbot, Lin and Hanrahan 2010, with the weights of print).
 * @param {number} low
 * @param {number} high
 * @param {number} wanted
 * @returns {number[]}
 */
function linear(low, high, wanted) {
  const span = high - low;
  const largest = Math.max(Math.abs(low), Math.abs(high));
  if (largest > 0 && largest < 1e-250) {
    return linear(low * 1e100, high * 1e100, wanted).map((value) => Number(`${value.toExponential().replace(/e.*/, "")}e${Number(value.toExponential().split("e")[1]) - 100}`));
  }
  if (span <= 8 * step(largest)) return [low];
  let best = -Infinity;
  /** @type {number[]} First, step, count and power. */
  let found = [];
  STEPS.forEach((size, order) => {
    const simple = 1 - order / (STEPS.length - 1);
    for (let count = 2; count < Math.min(4 * wanted + 4, MOST + 1); count += 1) {
      if (SIMPLE * (simple + 1) + COVER + DENSE * density(count, wanted) < best) {
        if (count > wanted) break;
        continue;
      }
      const power = Math.floor(Math.log10(span / (count - 1)) - Math.log10(size) + 1e-9);
      const unit = decimal(1, power);
      if (unit === 0) continue;
      const least = Math.ceil(low / unit / size - 1e-9) * size;
      const most = Math.floor((high / unit - size * (count - 1)) / size + 1e-9) * size;
      if (most - least > 4 * size) continue;
      for (let first = least; first <= most; first += size) {
        const last = first + size * (count - 1);
        const [start, end] = [first * unit, last * unit];
        const cover = 1 - 50 * (((high - end) / span) ** 2 + ((low - start) / span) ** 2);
        const zero = first <= 0 && last >= 0 ? 1 : 0;
        const score = SIMPLE * (simple + zero) + COVER * cover + DENSE * density(1 + ((count - 1) * span) / (end - start), wanted);
        // Of equals the first one stays, whatever the noise of their last digits.
        if (score > best + 1e-9) [best, found] = [score, [first, size, count, power]];
      }
    }
  });
  if (!found.length) return [low, high];
  const [first, size, count, power] = found;
  return Array.from({ length: count }, (_, at) => decimal(first + at * size, power));
}

/** @param {number} low @param {number} high @param {number} wanted Whole round values. */
function wholes(low, high, wanted) {
  for (let fewer = wanted; fewer > 1; fewer -= 1) {
    const at = linear(low, high, fewer);
    if (at.every(Number.isInteger)) return at;
  }
  const [first, last] = [Math.ceil(low), Math.floor(high)];
  const size = Math.max(1, Math.ceil((last - first) / Math.max(wanted - 1, 1)));
  const at = [];
  for (let value = first; value <= last; value += size) at.push(value);
  return at;
}

/** @param {number} from @param {number} to @param {number} [by] Whole numbers, both ends among them. */
function range(from, to, by = 1) {
  const found = [];
  for (let value = from; value <= to; value += by) found.push(value);
  return found;
}

/** @param {number} low @param {number} high @param {number[]} digits Parts of decades. */
function parts(low, high, digits) {
  const found = range(Math.floor(Math.log10(low)), Math.ceil(Math.log10(high))).flatMap((power) => digits.map((digit) => decimal(digit, power)));
  return found.filter((value) => low * (1 - 1e-9) <= value && value <= high * (1 + 1e-9));
}

/** @param {number} first @param {number} last @param {number} every Powers at distances, two at least. */
function everyPower(first, last, every) {
  const found = range(first + (((-first % every) + every) % every), last, every);
  return found.length < 2 ? range(first, last, Math.max(1, last - first)) : found;
}

/** @param {number} low @param {number} high @param {number} wanted @param {number} base @returns {Ticks} */
function logarithmic(low, high, wanted, base) {
  const log = base === 10 ? Math.log10 : (/** @type {number} */ value) => Math.log(value) / Math.log(base);
  const [first, last] = [Math.ceil(log(low) - 1e-9), Math.floor(log(high) + 1e-9)];
  const count = last - first + 1;
  const every = Math.max(1, Math.ceil(count / Math.max(wanted, 2)));
  const even = () => ({ at: linear(low, high, wanted), minor: [] });
  if (base !== 10) {
    if (count < 2) return even();
    const chosen = everyPower(first, last, every);
    const rest = range(first, last).filter((power) => !chosen.includes(power));
    return { at: chosen.map((power) => base ** power), minor: rest.map((power) => base ** power) };
  }
  if (count >= 2) {
    const chosen = everyPower(first, last, every);
    const at = chosen.map((power) => decimal(1, power));
    const rest = range(first, last).filter((power) => !chosen.includes(power)).map((power) => decimal(1, power));
    if (count > 2 || every > 1 || wanted <= 3) return { at, minor: every > 1 ? rest : parts(low, high, range(2, 9)) };
  }
  for (const digits of [[1, 3], [1, 2, 5], range(1, 9)]) {
    const at = parts(low, high, digits);
    if (Math.min(wanted, 3) <= at.length && at.length <= MOST) {
      return { at, minor: parts(low, high, range(1, 9)).filter((value) => !at.includes(value)) };
    }
  }
  return even();
}

/** @param {number} low @param {number} high @param {number} threshold @param {number} wanted @returns {Ticks} */
function signedLogarithmic(low, high, threshold, wanted) {
  const even = () => ({ at: linear(low, high, wanted), minor: [] });
  const start = Math.round(Math.log10(threshold));
  const last = Math.floor(Math.log10(Math.max(Math.abs(low), Math.abs(high))) + 1e-9);
  if (last - start < 1) return even();
  const sides = Number(low < 0) + Number(high > 0);
  const every = Math.max(1, Math.ceil(((last - start) * sides) / Math.max(wanted - 1, 1)));
  const sizes = range(last - Math.floor((last - start) / every) * every, last, every).filter((power) => power > start).map((power) => decimal(1, power));
  const inside = (/** @type {number} */ value) => low <= value && value <= high;
  const at = [-1, 1].flatMap((sign) => sizes.map((size) => sign * size)).filter(inside);
  if (inside(0)) at.push(0);
  const minor = [-1, 1].flatMap((sign) => range(start, last).map((power) => sign * decimal(1, power)));
  if (at.length < 2) return even();
  return { at: at.sort((a, b) => a - b), minor: minor.filter((value) => inside(value) && !at.includes(value)).sort((a, b) => a - b) };
}

/** @param {number} low @param {number} high @param {number} wanted */
function logits(low, high, wanted) {
  const ends = range(1, 15).map((power) => decimal(1, -power)).reverse();
  let at = [...ends, 0.5, ...ends.map((value) => 1 - value).reverse()].filter((value) => low <= value && value <= high);
  while (at.length > Math.max(wanted, 2) + 1) {
    const outer = at.filter((value) => value !== 0.5);
    at = [...outer.filter((_, place) => place % 2 === 1), ...(at.includes(0.5) ? [0.5] : [])].sort((a, b) => a - b);
  }
  return at.length > 2 ? at : linear(low, high, wanted);
}

/** @type {[number, string][]} */
const LENGTHS = [[86400, "d"], [3600, "h"], [60, "min"], [1, "s"]];
const CLOCK = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200, 10800, 21600, 43200];

/** @param {number} low @param {number} high @returns {[number, string]} The length and the name of a unit of time. */
function unitOf(low, high) {
  return LENGTHS.find(([size]) => high - low >= 1.5 * size) ?? [1, "s"];
}

/** @param {number} low @param {number} high @param {number} wanted */
function lengths(low, high, wanted) {
  const [length, name] = unitOf(low, high);
  if (name === "min" || name === "h") {
    const miss = (/** @type {number} */ size) => Math.abs(Math.log((high - low) / size / Math.max(wanted - 1, 1)));
    const size = CLOCK.reduce((best, one) => (miss(one) < miss(best) ? one : best));
    const [first, last] = [Math.ceil(low / size - 1e-9), Math.floor(high / size + 1e-9)];
    if (last > first) return range(first, last).map((number) => number * size);
  }
  return linear(low / length, high / length, wanted).map((value) => value * length);
}

/** @param {(low: number, high: number, wanted: number) => number[]} made */
const alone = (made) => (/** @type {number} */ low, /** @type {number} */ high, /** @type {number} */ wanted) => ({ at: made(low, high, wanted), minor: [] });
/** @type {[number, number]} */
const ALL = [-Infinity, Infinity];

/**
 * A kind of axis by its name and options.
 * @param {KindSaid} said
 * @returns {Kind}
 */
export function kindOf(said) {
  const { base = 10, exponent = 0.5, threshold = 1, whole = false } = said;
  const furthest = 307 / Math.log10(base);
  const even = { forward: (/** @type {number} */ value) => value, inverse: (/** @type {number} */ place) => place, ticks: alone(whole ? wholes : linear), texts: written, domain: ALL };
  /** @type {Record<string, Kind>} */
  const kinds = {
    linear: even,
    duration: {
      ...even, ticks: alone(lengths),
      texts: (values) => (values.length ? durations(values, ...unitOf(Math.min(...values), Math.max(...values))) : []),
    },
    log: {
      forward: (value) => (value > 0 ? Math.log10(value) / Math.log10(base) : NaN),
      inverse: (place) => base ** Math.min(Math.max(place, -furthest), furthest),
      ticks: (low, high, wanted) => logarithmic(low, high, wanted, base), texts: (values) => powers(values, base), domain: [0, Infinity],
    },
    power: {
      ...even, ticks: alone(linear),
      forward: (value) => Math.sign(value) * Math.abs(value) ** exponent, inverse: (place) => Math.sign(place) * Math.abs(place) ** (1 / exponent),
    },
    signed_log: {
      forward: (value) => Math.sign(value) * Math.log10(1 + Math.abs(value) / threshold),
      inverse: (place) => Math.sign(place) * threshold * (10 ** Math.abs(place) - 1),
      ticks: (low, high, wanted) => signedLogarithmic(low, high, threshold, wanted), texts: (values) => values.map((value) => written([value])[0]), domain: ALL,
    },
    logit: {
      forward: (value) => (value > 0 && value < 1 ? Math.log10(value) - Math.log10(1 - value) : NaN), inverse: (place) => 1 / (1 + 10 ** -place),
      ticks: alone(logits), texts: shares, domain: [0, 1],
    },
  };
  return kinds[said.kind === "sqrt" ? "power" : said.kind] ?? even;
}

/**
 * Ticks of numbers that their format writes as they are, about as many as wanted, with their texts.
 * @param {Kind} kind
 * @param {[number, number]} ends In the unit of the data.
 * @param {number} wanted
 * @param {Format | null} format
 * @returns {Ticks & { texts: string[] }}
 */
export function numberTicks(kind, [low, high], wanted, format) {
  const texts = (/** @type {number[]} */ values) => (format ? formatted(values, format) : kind.texts(values));
  const usual = kind.ticks(low, high, wanted);
  if (format && !format.words) {
    const unsigned = format.form?.split(" ")[0] === "absolute";
    for (let count = wanted; count > 1; count -= 1) {
      const found = kind.ticks(low, high, count);
      if (found.at.length > 1 && truly(texts(found.at), found.at, unsigned)) return { ...found, texts: texts(found.at) };
    }
  }
  return { ...usual, texts: texts(usual.at) };
}
