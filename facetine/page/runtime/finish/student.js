// Student's t: shares below a value, and values that so much lies below.

/** @param {number} value The logarithm of the gamma function (Lanczos 1964, with the coefficients of Godfrey 2001). */
function logGamma(value) {
  const parts = [0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7];
  const x = value - 1;
  const sum = parts.reduce((found, part, at) => (at ? found + part / (x + at) : part), 0);
  const t = x + 7.5;
  return 0.5 * Math.log(2 * Math.PI) + (x + 0.5) * Math.log(t) - t + Math.log(sum);
}

/**
 * The regularised incomplete beta function, by its continued fraction (Lentz 1976).
 * @param {number} x
 * @param {number} a
 * @param {number} b
 * @returns {number}
 */
function beta(x, a, b) {
  if (x <= 0 || x >= 1) return Math.min(Math.max(x, 0), 1);
  if (x > (a + 1) / (a + b + 2)) return 1 - beta(1 - x, b, a);
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x)) / a;
  const tiny = 1e-300;
  let [c, d] = [1, 1 / (1 - ((a + b) * x) / (a + 1) || tiny)];
  let found = d;
  for (let at = 1; at < 2000; at += 1) {
    const terms = [(at * (b - at) * x) / ((a + 2 * at - 1) * (a + 2 * at)), (-(a + at) * (a + b + at) * x) / ((a + 2 * at) * (a + 2 * at + 1))];
    let step = 1;
    for (const term of terms) {
      d = 1 / (1 + term * d || tiny);
      c = 1 + term / c || tiny;
      step *= c * d;
    }
    found *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return front * found;
}

/** @param {number} t @param {number} freedom @returns {number} The share above a value that is not negative. */
export function upperTail(t, freedom) {
  return beta(freedom / (freedom + t * t), freedom / 2, 0.5) / 2;
}

/**
 * So many standard errors either way hold a level.
 * @param {number} level
 * @param {number} freedom
 * @returns {number}
 */
export function tFactor(level, freedom) {
  const wanted = (1 - level) / 2;
  let [low, high] = [0, 1];
  while (upperTail(high, freedom) > wanted && high < 1e300) [low, high] = [high, 2 * high];
  const log = logGamma((freedom + 1) / 2) - logGamma(freedom / 2) - 0.5 * Math.log(freedom * Math.PI);
  let t = (low + high) / 2;
  for (let step = 0; step < 200; step += 1) {
    const off = upperTail(t, freedom) - wanted;
    if (off > 0) low = t;
    else high = t;
    const next = t + off / Math.exp(log - ((freedom + 1) / 2) * Math.log1p((t * t) / freedom));
    const better = next > low && next < high ? next : (low + high) / 2;
    if (Math.abs(better - t) <= 1e-15 * t) return better;
    t = better;
  }
  return t;
}
