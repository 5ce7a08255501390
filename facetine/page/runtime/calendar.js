// Ticks of times: steps of the calendar, by the clocks of a zone whose changes the page carries.

import { DAY, MINUS, MINUTE, SECOND, dateOf, padded, timeText } from "./words.js";

/** @typedef {{ size: number, unit: string, length: number }} Step */
/** @typedef {{ starts: number[], ahead: number[] }} Clocks From when on the clocks are so far ahead of UTC, in microseconds; the first start is no time. */

const HOUR = 60 * MINUTE;
const MONTH = 30.436875 * DAY;
const YEAR = 365.2425 * DAY;
/** More ticks than these help nobody. */
const MOST_TICKS = 11;
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** @type {Step[]} */
const CALENDAR = [
  ...[1, 1000].flatMap((unit) => [1, 2, 5, 10, 20, 50, 100, 200, 500].map((n) => n * unit)).map((size) => ({ size, unit: "microsecond", length: size })),
  ...[SECOND, MINUTE].flatMap((unit) => [1, 2, 5, 10, 15, 30].map((n) => ({ size: n * unit, unit: "microsecond", length: n * unit }))),
  ...[1, 2, 3, 6, 12].map((n) => ({ size: n * HOUR, unit: "microsecond", length: n * HOUR })),
  ...[1, 2, 7, 14].map((n) => ({ size: n, unit: "day", length: n * DAY })),
  ...[1, 2, 3, 6].map((n) => ({ size: n, unit: "month", length: n * MONTH })),
  ...[0, 1, 2, 3, 4, 5].flatMap((power) => [1, 2, 5].map((n) => n * 10 ** power)).map((n) => ({ size: n, unit: "year", length: n * YEAR })),
];

/** Python's remainder: never negative. */
const modulo = (/** @type {number} */ value, /** @type {number} */ by) => value - Math.floor(value / by) * by;

/** @param {number} instant @param {Clocks | null} clocks How far they are ahead of UTC. */
export function aheadAt(instant, clocks) {
  if (!clocks) return 0;
  let at = clocks.starts.length - 1;
  while (at > 0 && instant < clocks.starts[at]) at -= 1;
  return clocks.ahead[at];
}

/**
 * The instant at which clocks show a time; the earlier one of two, and where they leap over it, as they went before.
 * @param {number} wall
 * @param {Clocks} clocks
 */
function instantOf(wall, clocks) {
  const { starts, ahead } = clocks;
  let at = 0;
  while (at + 1 < starts.length && wall >= starts[at + 1] + Math.max(ahead[at], ahead[at + 1])) at += 1;
  return wall - ahead[at];
}

/**
 * Days since 1970 of the first of a month, months counted from January of the year 0 (Hinnant 2013).
 * @param {number} months
 */
function daysOf(months) {
  const month = modulo(months, 12) + 1;
  const year = Math.floor(months / 12) - (month <= 2 ? 1 : 0);
  const era = Math.floor(year / 400);
  const yearOfEra = year - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5);
  return era * 146097 + yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear - 719468;
}

/**
 * A time taken apart.
 * @param {number} wall
 */
function civil(wall) {
  const days = Math.floor(wall / DAY);
  return { ...dateOf(days), micro: wall - days * DAY };
}

/**
 * All multiples of a step that clocks show between two times.
 * @param {number} low
 * @param {number} high
 * @param {Step} step
 */
function walls(low, high, step) {
  const found = [];
  if (step.unit === "microsecond") {
    for (let n = Math.ceil(low / step.size); n <= Math.floor(high / step.size); n += 1) found.push(n * step.size);
  } else if (step.unit === "day") {
    // Weeks begin on Monday.
    const anchor = step.size % 7 === 0 ? 4 : 0;
    for (let n = Math.ceil((low / DAY - anchor) / step.size); n <= Math.floor((high / DAY - anchor) / step.size); n += 1) found.push((n * step.size + anchor) * DAY);
  } else {
    const months = step.unit === "month" ? step.size : step.size * 12;
    const start = Math.floor(low / MONTH) - 2;
    for (let n = start + modulo(-(start + 1970 * 12), months); n < Math.ceil(high / MONTH) + 3; n += months) found.push(daysOf(n + 1970 * 12) * DAY);
  }
  return found;
}

/**
 * All multiples of a step in a range, at local midnight, first of the month, first of January.
 * @param {number} low
 * @param {number} high
 * @param {Step} step
 * @param {Clocks | null} clocks
 * @returns {number[]}
 */
function instants(low, high, step, clocks) {
  if (!clocks) return walls(low, high, step).filter((wall) => low <= wall && wall <= high);
  const ends = [...new Set([aheadAt(Math.round(low), clocks), aheadAt(Math.round(high), clocks)])];
  const shows = (/** @type {number} */ at, /** @type {number} */ wall) => at + aheadAt(at, clocks) === wall;
  /** @type {Map<string, [number, number]>} */
  const pairs = new Map();
  const put = (/** @type {number} */ at, /** @type {number} */ wall) => pairs.set(`${at}:${wall}`, [at, wall]);
  if (high - low < 20 * DAY) {
    // The clocks change once at most, so that both ways to read them are known from the ends.
    for (const ahead of ends) for (const wall of walls(low + ahead, high + ahead, step)) put(wall - ahead, wall);
  } else {
    for (const wall of walls(low + Math.min(...ends), high + Math.max(...ends), step)) put(instantOf(wall, clocks), wall);
  }
  let found = [...pairs.values()];
  const inside = (/** @type {[number, number]} */ [at]) => low <= at && at <= high;
  if (step.length > HOUR) {
    // A midnight that the clocks leap over is the first instant after it.
    /** @type {[number, number][]} */
    const begun = found.map(([at, wall]) => [modulo(wall, DAY) === 0 ? begin(at, wall, clocks) : at, wall]);
    found = [...new Map(begun.map((pair) => [pair.join(":"), pair])).values()].filter(inside).filter(([at, wall]) => {
      const there = at + aheadAt(at, clocks);
      return there === wall || (modulo(wall, DAY) === 0 && there > wall && at - 1 + aheadAt(at - 1, clocks) < wall);
    });
  } else {
    found = found.filter(inside).filter(([at, wall]) => shows(at, wall));
  }
  found.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  // Of an hour that comes twice, only steps of up to an hour count both.
  if (step.length > HOUR) found = found.filter(([, wall], place) => place === 0 || wall > found[place - 1][1]);
  return found.map(([at]) => at);
}

/** @param {number} at @param {number} wall @param {Clocks} clocks The first instant at which they show a time or a later one. */
function begin(at, wall, clocks) {
  if (at + aheadAt(at, clocks) <= wall) return at;
  let [early, late] = [at - 3 * HOUR, at];
  if (early + aheadAt(early, clocks) >= wall) return at;
  while (late - early > 1) {
    const middle = Math.floor((early + late) / 2);
    if (middle + aheadAt(middle, clocks) >= wall) late = middle;
    else early = middle;
  }
  return late;
}

/** @param {number} year */
const yearText = (year) => (year >= 0 ? String(year) : `${MINUS}${-year}`);

/** @param {number} micro Since midnight. @param {number} size Of a step. */
function clock(micro, size) {
  const text = `${padded(Math.floor(micro / HOUR))}:${padded(Math.floor((micro % HOUR) / MINUTE))}`;
  if (size % MINUTE === 0) return text;
  const seconds = `${text}:${padded(Math.floor((micro % MINUTE) / SECOND))}`;
  if (size % SECOND === 0) return seconds;
  const part = micro % SECOND;
  return size % 1000 === 0 ? `${seconds}.${padded(Math.floor(part / 1000), 3)}` : `${seconds}.${padded(part, 6)}`;
}

/** @param {number} ahead How clocks are called that are so far ahead. */
function clockName(ahead) {
  const rest = Math.abs(ahead) % HOUR;
  const minutes = rest ? `:${padded(Math.floor(rest / MINUTE))}` : "";
  return ahead ? `UTC${ahead < 0 ? MINUS : "+"}${Math.floor(Math.abs(ahead) / HOUR)}${minutes}` : "UTC";
}

/**
 * What changes from tick to tick; after a line break the day, month or year where a new one begins.
 * @param {number[]} at
 * @param {Step} step
 * @param {Clocks | null} clocks
 */
function labels(at, step, clocks) {
  const ahead = at.map((instant) => aheadAt(Math.round(instant), clocks));
  const changing = step.unit === "microsecond" && new Set(ahead).size > 1;
  /** @type {ReturnType<typeof civil> | null} */
  let before = null;
  return at.map((instant, place) => {
    const wall = civil(Math.round(instant) + ahead[place]);
    let fine = yearText(wall.year);
    let [context, changed] = ["", false];
    const month = `${MONTHS[wall.month - 1]} ${yearText(wall.year)}`;
    const sameMonth = before !== null && before.year === wall.year && before.month === wall.month;
    if (step.unit === "month") [fine, context, changed] = [MONTHS[wall.month - 1], yearText(wall.year), before === null || before.year !== wall.year];
    else if (step.unit === "day") [fine, context, changed] = [String(wall.day), month, !sameMonth];
    else if (step.unit === "microsecond") {
      [fine, context, changed] = [clock(wall.micro, step.size), `${wall.day} ${month}`, !(sameMonth && before?.day === wall.day)];
    }
    if (changing) {
      context = `${context}, ${clockName(ahead[place])}`;
      changed ||= ahead[place] !== ahead[place - 1];
    }
    before = wall;
    return changed ? `${fine}\n${context}` : fine;
  });
}

/** @param {number} wall A time with its day, as short as it can be. */
function stamped(wall) {
  const { year, month, day, micro } = civil(wall);
  const date = `${day} ${MONTHS[month - 1]} ${yearText(year)}`;
  if (micro === 0) return date;
  return `${clock(micro, [MINUTE, SECOND, 1000, 1].find((unit) => micro % unit === 0) ?? 1)}\n${date}`;
}

/**
 * A time by a pattern of the C standard, of which the page takes the parts that the writer lets through.
 * @param {number} wall
 * @param {string} pattern
 */
function patterned(wall, pattern) {
  const { year, month, day, micro } = civil(wall);
  /** @type {Record<string, string>} */
  const parts = {
    "%Y": yearText(year), "%b": MONTHS[month - 1], "%m": padded(month), "%d": padded(day), "%H": padded(Math.floor(micro / HOUR)),
    "%M": padded(Math.floor((micro % HOUR) / MINUTE)), "%S": padded(Math.floor((micro % MINUTE) / SECOND)), "%%": "%",
  };
  return pattern.replace(/%[YbmdHMS%]/g, (found) => parts[found]);
}

/**
 * About as many ticks of times as are wanted, with their texts.
 * @param {[number, number]} ends Microseconds since 1970 UTC.
 * @param {number} wanted
 * @param {Clocks | null} clocks
 * @param {string | null} pattern
 * @param {boolean} [finer] Whether those of the next finer step come between them.
 * @returns {{ at: number[], minor: number[], texts: string[] }}
 */
export function timeTicks([low, high], wanted, clocks, pattern, finer = false) {
  const made = (/** @type {number} */ count) => {
    const { at, texts } = calendarTicks(low, high, count, clocks);
    const own = pattern === null ? texts : at.map((one) => patterned(Math.round(one) + aheadAt(Math.round(one), clocks), pattern));
    return { at, minor: finer ? finerTicks(at, low, high, clocks) : [], texts: own };
  };
  for (let count = Math.max(wanted, 2); count > 1; count -= 1) {
    const found = made(count);
    // Where a pattern says years alone, months would all be called the same.
    if (found.at.length > 1 && !found.texts.some((text, place) => text && text === found.texts[place + 1])) return found;
  }
  return made(Math.max(wanted, 2));
}

/** @param {number[]} at @param {number} low @param {number} high @param {Clocks | null} clocks What the next finer step adds. */
function finerTicks(at, low, high, clocks) {
  if (at.length < 2) return [];
  const least = Math.min(...at.slice(1).map((one, place) => one - at[place]));
  for (const step of [...CALENDAR].reverse()) {
    if (step.length > least / 1.9 || (high - low) / step.length >= 8 * at.length) continue;
    const found = new Set(instants(low, high, step, clocks));
    if (at.every((one) => found.has(one))) return [...found].filter((one) => !at.includes(one));
  }
  return [];
}

/** @param {number} low @param {number} high @param {number} wanted @param {Clocks | null} clocks */
function calendarTicks(low, high, wanted, clocks) {
  let best = Infinity;
  /** @type {{ step: Step, at: number[] } | null} */
  let found = null;
  for (const step of CALENDAR) {
    const expected = (high - low) / step.length + 1;
    if (expected > 4 * wanted + 8 || expected < 1.2) continue;
    const at = instants(low, high, step, clocks);
    if (at.length < 2 || at.length > MOST_TICKS) continue;
    const miss = Math.abs(Math.log((at.length - 0.2) / (wanted - 0.2)));
    if (miss < best) [best, found] = [miss, { step, at }];
  }
  if (found) return { at: found.at, texts: labels(found.at, found.step, clocks) };
  const middle = high - low < 1 ? low : Math.floor(low + (high - low) / 2);
  return { at: [middle], texts: [stamped(Math.round(middle) + aheadAt(Math.round(middle), clocks))] };
}

/**
 * The instant that a text such as "2030-06-01 14:00" tells, by the clocks of the zone; NaN where it is none.
 * @param {string} text
 * @param {Clocks | null} clocks
 */
export function instantRead(text, clocks) {
  const found = /^\s*(\d{4})(?:-(\d\d)(?:-(\d\d)(?:[T ](\d\d):(\d\d)(?::(\d\d)(?:\.(\d{1,6}))?)?)?)?)?\s*$/.exec(text);
  if (!found) return NaN;
  const [year, month, day, hour, minute, second] = found.slice(1, 7).map((part, at) => Number(part ?? (at === 1 || at === 2 ? 1 : 0)));
  const wall = (daysOf(year * 12 + month - 1) + day - 1) * DAY + hour * HOUR + minute * MINUTE + second * SECOND + Number((found[7] ?? "").padEnd(6, "0"));
  const back = civil(wall);
  if (back.month !== month || back.day !== day || hour > 23 || minute > 59 || second > 59) return NaN;
  return clocks ? instantOf(wall, clocks) : wall;
}

/**
 * An instant as such a text, as short as it can be.
 * @param {number} instant
 * @param {Clocks | null} clocks
 */
export function instantText(instant, clocks) {
  const wall = Math.round(instant) + aheadAt(Math.round(instant), clocks);
  const unit = [DAY, MINUTE, SECOND].find((one) => wall % one === 0) ?? 1;
  return timeText(wall / unit, unit);
}
