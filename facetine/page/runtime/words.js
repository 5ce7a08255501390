// How values are written, the same sign by sign as the writer of the page would.

export const MINUS = "\u2212";
const DIGITS = 6;
export const DAY = 86400000000;
export const MINUTE = 60000000;
export const SECOND = 1000000;

/**
 * A number of few decimals, from the whole number that it is times a power of ten.
 * @param {number} whole
 * @param {number} places
 * @returns {string}
 */
export function decimalText(whole, places) {
  const digits = String(Math.abs(whole)).padStart(places + 1, "0");
  const at = digits.length - places;
  const text = grouped(digits.slice(0, at)) + (places ? `.${digits.slice(at)}` : "");
  return whole < 0 ? MINUS + text : text;
}

/**
 * A number by its first six digits.
 * @param {number} value
 * @returns {string}
 */
export function numberText(value) {
  if (value === 0) return "0";
  const sign = value < 0 ? MINUS : "";
  const [mantissa, exponent] = Math.abs(value).toExponential(DIGITS - 1).split("e");
  const power = Number(exponent);
  const digits = mantissa.replace(".", "").replace(/0+$/, "") || "0";
  if (power < -5 || power >= 15) {
    return `${sign}${digits[0]}${digits.length > 1 ? `.${digits.slice(1)}` : ""}e${power}`;
  }
  if (power < 0) return `${sign}0.${"0".repeat(-power - 1)}${digits}`;
  const rest = digits.slice(power + 1);
  return sign + grouped(digits.slice(0, power + 1).padEnd(power + 1, "0")) + (rest ? `.${rest}` : "");
}

/**
 * A time on the clock of its zone.
 * @param {number} count Units since the beginning of 1970.
 * @param {number} unit Microseconds of one.
 * @returns {string}
 */
export function timeText(count, unit) {
  const perDay = DAY / unit;
  const days = Math.floor(count / perDay);
  const date = dateText(days);
  if (unit === DAY) return date;
  const rest = count - days * perDay;
  const perMinute = MINUTE / unit;
  const minutes = Math.floor(rest / perMinute);
  const text = `${date} ${padded(Math.floor(minutes / 60), 2)}:${padded(minutes % 60, 2)}`;
  if (unit === MINUTE) return text;
  const perSecond = SECOND / unit;
  const left = rest - minutes * perMinute;
  const seconds = Math.floor(left / perSecond);
  const part = unit === SECOND ? "" : `.${padded(left - seconds * perSecond, 6)}`;
  return `${text}:${padded(seconds, 2)}${part}`;
}

/**
 * A day of the calendar that was always as it is now (Hinnant 2013).
 * @param {number} days Since the beginning of 1970.
 */
export function dateOf(days) {
  const shifted = days + 719468;
  const era = Math.floor(shifted / 146097);
  const dayOfEra = shifted - era * 146097;
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36524) - Math.floor(dayOfEra / 146096)) / 365,
  );
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const monthAt = Math.floor((5 * dayOfYear + 2) / 153);
  const month = monthAt < 10 ? monthAt + 3 : monthAt - 9;
  const year = yearOfEra + era * 400 + (month <= 2 ? 1 : 0);
  return { year, month, day: dayOfYear - Math.floor((153 * monthAt + 2) / 5) + 1 };
}

/** @param {number} days Since the beginning of 1970. */
function dateText(days) {
  const { year, month, day } = dateOf(days);
  const shown = year >= 0 ? padded(year, 4) : MINUS + padded(-year, 4);
  return `${shown}-${padded(month, 2)}-${padded(day, 2)}`;
}

/**
 * @param {number} value
 * @param {number} [width]
 * @returns {string}
 */
export function padded(value, width = 2) {
  return String(value).padStart(width, "0");
}

/**
 * Digits in groups of three.
 * @param {string} digits
 * @returns {string}
 */
function grouped(digits) {
  return digits.replace(/\B(?=(\d{3})+$)/g, ",");
}
