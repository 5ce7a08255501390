// Numbers of an axis as it writes them in print: rounded in whole numbers, since languages round by rules of their own.

import { MINUS } from "./words.js";

const BITS = new DataView(new ArrayBuffer(8));
/** @type {Record<number, string>} */
const PREFIXES = { [-12]: "p", [-9]: "n", [-6]: "\u00b5", [-3]: "m", 0: "", 3: "k", 6: "M", 9: "G", 12: "T" };
/** @type {Record<string, number>} */
const SIZES = { p: 1e-12, n: 1e-9, "\u00b5": 1e-6, m: 1e-3, "": 1, k: 1e3, M: 1e6, G: 1e9, T: 1e12 };

/**
 * A whole number times a power of ten, as near as a float can be.
 * @param {number} whole
 * @param {number} power
 * @returns {number}
 */
export function decimal(whole, power) {
  return Number(`${whole}e${power}`);
}

/**
 * The size of a number times a power of ten, as a whole number; halves go to the even one.
 * @param {number} value
 * @param {number} decimals
 * @returns {bigint}
 */
function whole(value, decimals) {
  BITS.setFloat64(0, Math.abs(value));
  const bits = BITS.getBigUint64(0);
  const exponent = Number(bits >> 52n);
  const fraction = bits & ((1n << 52n) - 1n);
  const power = exponent ? exponent - 1075 : -1074;
  let top = exponent ? fraction | (1n << 52n) : fraction;
  let low = 1n;
  if (decimals >= 0) top *= 10n ** BigInt(decimals);
  else low *= 10n ** BigInt(-decimals);
  if (power >= 0) top <<= BigInt(power);
  else low <<= BigInt(-power);
  const found = top / low;
  const rest = 2n * (top % low);
  return rest > low || (rest === low && found & 1n) ? found + 1n : found;
}

/**
 * The first digits of a number that is not zero, and the power of ten of the first of them.
 * @param {number} value
 * @param {number} count
 * @returns {[string, number]}
 */
function leading(value, count) {
  const power = Number(Math.abs(value).toExponential(20).split("e")[1]);
  const digits = String(whole(value, count - 1 - power));
  return digits.length > count ? [digits.slice(0, count), power + 1] : [digits, power];
}

/**
 * A number with so many decimals.
 * @param {number} value
 * @param {number} decimals
 * @param {boolean} [grouped] Whether by threes.
 * @returns {string}
 */
export function fixed(value, decimals, grouped = true) {
  const digits = String(whole(value, decimals)).padStart(decimals + 1, "0");
  const at = digits.length - decimals;
  const head = grouped ? digits.slice(0, at).replace(/\B(?=(\d{3})+$)/g, ",") : digits.slice(0, at);
  const sign = value < 0 && /[1-9]/.test(digits) ? MINUS : "";
  return sign + head + (decimals ? `.${digits.slice(at)}` : "");
}

/** @param {number} value @param {number} decimals */
function rounded(value, decimals) {
  return Math.sign(value) * Number(`${whole(value, decimals)}e${-decimals}`);
}

/** @param {number} value The distance to the next float. */
export function step(value) {
  BITS.setFloat64(0, Math.abs(value));
  const exponent = Number(BITS.getBigUint64(0) >> 52n);
  return 2 ** (Math.max(exponent, 1) - 1075);
}

/**
 * The fewest decimals that write all of them right, to a millionth of the smallest step between them.
 * @param {number[]} values
 */
function decimalsNeeded(values) {
  const ordered = [...new Set(values)].sort((a, b) => a - b);
  const steps = ordered.slice(1).map((value, at) => value - ordered[at]);
  const least = steps.length ? Math.min(...steps) : Math.abs(ordered[0]) || 1;
  const noise = steps.length ? 2 * step(Math.max(...ordered.map(Math.abs))) : 0;
  const slack = Math.max(least * 1e-6, noise);
  for (let decimals = 0; decimals < 24; decimals += 1) {
    if (ordered.every((value) => Math.abs(value - rounded(value, decimals)) <= slack)) return decimals;
  }
  return 23;
}

/** @param {number} value @returns {[number, number]} Mantissa and power of ten, of fifteen digits. */
function mantissa(value) {
  if (value === 0) return [0, 0];
  const [digits, power] = leading(value, 15);
  return [Math.sign(value) * Number(`${digits[0]}.${digits.slice(1)}`), power];
}

/** @param {number} value The decimals of a number of moderate size. */
function placesOf(value) {
  if (value === 0) return 0;
  const [digits, power] = leading(value, 15);
  return Math.max(0, digits.replace(/0+$/, "").length - 1 - power);
}

/** @param {number} power */
const signed = (power) => (power < 0 ? `${MINUS}${-power}` : String(power));

/** @param {number} value */
const shortest = (value) => fixed(value, placesOf(value), Math.abs(value) >= 1e4);

/**
 * All over one power of ten.
 * @param {number[]} values
 */
function scientific(values) {
  const power = Math.max(...values.filter((value) => value).map((value) => mantissa(value)[1]));
  const parts = values.map((value) => {
    const [digits, own] = value.toExponential().split("e");
    return Number(`${digits}e${Number(own) - power}`);
  });
  const decimals = decimalsNeeded(parts);
  return parts.map((part) => (part ? `${fixed(part, decimals)} \u00d7 10^${signed(power)}^` : "0"));
}

/**
 * Numbers of one axis: one number of decimals, no noise, none twice the same.
 * @param {number[]} values
 * @returns {string[]}
 */
export function written(values) {
  const sizes = values.filter((value) => value).map(Math.abs);
  if (!sizes.length) return values.map(() => "0");
  const [largest, smallest] = [Math.max(...sizes), Math.min(...sizes)];
  const decimals = decimalsNeeded(values);
  const zeros = () => Math.min(...values.filter((value) => value).map((value) => mantissa(value)).map(([own, power]) => power - placesOf(own)));
  const spread = Math.log10(largest) - Math.log10(smallest);
  if ((largest >= 1e7 && decimals === 0 && zeros() >= 4) || largest < 1e-4 || (smallest < 1e-5 && spread > 3)) return scientific(values);
  return values.map((value) => fixed(value, decimals, largest >= 1e4));
}

/**
 * Shares, each with the decimals that tell it from 0 and from 1.
 * @param {number[]} values
 */
export function shares(values) {
  return values.map((value) => {
    const slack = value > 0 && value < 1 ? Math.min(value, 1 - value) * 1e-6 : 0;
    let decimals = 0;
    while (decimals < 17 && !(Math.abs(value - rounded(value, decimals)) <= slack)) decimals += 1;
    return value < 1e-4 ? written([value])[0] : fixed(value, decimals);
  });
}

/**
 * Powers of a base: plain numbers while they are short.
 * @param {number[]} values
 * @param {number} base
 */
export function powers(values, base) {
  if (values.every((value) => value >= 1e-3 && value < 1e5)) return values.map(shortest);
  if (base !== 10) return values.map((value) => `${shortest(base)}^${signed(evenly(Math.log(value) / Math.log(base)))}^`);
  const parts = values.map(mantissa);
  if (parts.some(([own]) => own !== 1)) return parts.map(([own, power]) => `${shortest(own)} \u00d7 10^${signed(power)}^`);
  return parts.map(([, power]) => (power === 0 ? "1" : power === 1 ? "10" : `10^${signed(power)}^`));
}

/** @param {number} value The nearest whole number, halves to the even one. */
function evenly(value) {
  return Math.sign(value) * Number(whole(value, 0));
}

/**
 * Seconds in a unit: hours and minutes by the clock.
 * @param {number[]} values
 * @param {number} length
 * @param {string} unit
 */
export function durations(values, length, unit) {
  if (unit !== "min" && unit !== "h") return written(values.map((value) => value / length)).map((text) => `${text} ${unit}`);
  return values.map((value) => {
    const all = evenly(Math.abs(value));
    const rest = all % length;
    return `${value < 0 ? MINUS : ""}${(all - rest) / length}:${String(Math.floor((rest * 60) / length)).padStart(2, "0")} ${unit}`;
  });
}

/** @param {number[]} values With one prefix of the SI. */
function prefixed(values) {
  const largest = Math.max(0, ...values.map(Math.abs));
  const usual = largest ? 3 * Math.floor(Math.log10(largest) / 3 + 1e-9) : 0;
  const power = Math.min(Math.max(usual, -12), 12);
  const scaled = values.map((value) => value / Number(`1e${power}`));
  const decimals = scaled.length ? decimalsNeeded(scaled) : 0;
  return scaled.map((value, at) => fixed(value, decimals) + (values[at] ? PREFIXES[power] : ""));
}

/** @param {number[]} values One power for all, or each its own where they span more than two decades. */
function powersOfTen(values) {
  const sizes = values.filter((value) => value).map(Math.abs);
  if (!sizes.length) return values.map(() => "0");
  if (Math.max(...sizes) / Math.min(...sizes) <= 100) return scientific(values);
  return values.map(mantissa).map(([own, power]) => (own ? `${shortest(own)} \u00d7 10^${signed(power)}^` : "0"));
}

/** A format of numbers: sign, grouping, decimals and sort; the writer of the page gives no others. */
const FORM = /^(\+?)(,?)(?:\.(\d+))?([fFd%]?)$/;

/**
 * Numbers by one format.
 * @param {number[]} values
 * @param {string} form
 * @returns {string[]}
 */
function byFormat(values, form) {
  if (form.split(" ")[0] === "absolute") return byFormat(values.map(Math.abs), form.slice(8).trim());
  if (!form) return written(values);
  if (form === "percent") return written(values.map((value) => rounded(value * 100, 12))).map((text) => `${text} %`);
  if (form === "si") return prefixed(values);
  if (form === "scientific") return powersOfTen(values);
  const [, plus, comma, places, sort] = /** @type {RegExpExecArray} */ (FORM.exec(form));
  const integers = values.every(Number.isInteger);
  return values.map((value) => {
    const own = sort === "%" ? value * 100 : value;
    const decimals = places !== undefined ? Number(places) : sort === "d" || (integers && !sort) ? 0 : sort ? 6 : 0;
    const text = !sort && places === undefined && !integers ? plain(own, comma !== "") : fixed(own, decimals, comma !== "");
    const front = plus && !(own < 0) ? "+" : "";
    return front + text + (sort === "%" ? "%" : "");
  });
}

/** @param {number} value @param {boolean} grouped A number with all its digits. */
function plain(value, grouped) {
  const [digits, power] = Math.abs(value).toExponential().split("e");
  if (value && (Number(power) < -4 || Number(power) >= 16)) {
    return `${value < 0 ? MINUS : ""}${digits}e${power[0] === "-" ? MINUS : "+"}${power.slice(1).padStart(2, "0")}`;
  }
  const [head, rest] = String(Math.abs(value)).split(".");
  return (value < 0 ? MINUS : "") + (grouped ? head.replace(/\B(?=(\d{3})+$)/g, ",") : head) + `.${rest ?? "0"}`;
}

/**
 * @typedef {{ form?: string, around?: [string, string], words?: Record<string, string> }} Format
 * A format, the signs around its numbers, and words in the place of some of them.
 */

/**
 * Numbers as a format says.
 * @param {number[]} values
 * @param {Format} format
 * @returns {string[]}
 */
export function formatted(values, format) {
  const { form, around, words } = format;
  const texts = byFormat(values, form ?? "");
  if (words) return texts.map((text, at) => words[String(values[at])] ?? text);
  if (!around) return texts;
  // The minus of a number stands before the signs that stand directly before it.
  return texts.map((text) => `${around[0]}${text}${around[1]}`.replace(/^([^\s\d\u2212]{1,4})\u2212(?=\d)/, `${MINUS}$1`));
}

/**
 * The number that a text tells; NaN where it is none.
 * @param {string} text
 */
function read(text) {
  let signs = text.replace(/\\/g, "").replace(/,/g, "").replace(/\u2212/g, "-").trim();
  const share = signs.endsWith("%");
  if (share) signs = signs.slice(0, -1).trim();
  const power = /^(?:(-?[\d.]+) \u00d7 )?10\^(-?\d+)\^$/.exec(signs);
  const short = /^(-?[\d.]+)([pn\u00b5mkMGT]?)$/.exec(signs);
  const bare = signs.replace(/\+/g, "");
  const value = power ? Number(`${power[1] ?? 1}e${power[2]}`) : short ? Number(short[1]) * SIZES[short[2]] : bare ? Number(bare) : NaN;
  return share && !Number.isNaN(value) ? rounded(value / 100, 15) : value;
}

/**
 * Whether texts tell numbers as they are, to half a percent, and none of them twice.
 * @param {string[]} texts
 * @param {number[]} values
 * @param {boolean} unsigned Whether they are written without signs.
 */
export function truly(texts, values, unsigned) {
  const first = new Map();
  return texts.every((text, at) => {
    const value = unsigned ? Math.abs(values[at]) : values[at];
    const told = read(text);
    const near = Math.abs(told - value) <= Math.max(0.005 * Math.max(Math.abs(told), Math.abs(value)), 1e-12);
    if (Number.isFinite(told) && !near) return false;
    if (!text || !first.has(text)) { first.set(text, value); return true; }
    return first.get(text) === value;
  });
}
