// The order of numbers of 64 bits, from the lowest pair of their bytes to the highest.

const PARTS = 4;
const RADIX = 65536;

/**
 * The places of whole numbers in rising order, equal ones as they came.
 * @param {Uint32Array} words Two for each, the lower one first.
 * @returns {Uint32Array}
 */
export function risingWords(words) {
  const count = words.length / 2;
  let from = Uint32Array.from({ length: count }, (_, at) => at);
  let to = new Uint32Array(count);
  for (let part = 0; part < PARTS; part += 1) {
    const [word, shift] = [part >> 1, 16 * (part & 1)];
    const starts = new Uint32Array(RADIX + 1);
    for (let at = 0; at < count; at += 1) starts[((words[2 * at + word] >>> shift) & 0xffff) + 1] += 1;
    for (let key = 0; key < RADIX; key += 1) starts[key + 1] += starts[key];
    for (const at of from) to[starts[(words[2 * at + word] >>> shift) & 0xffff]++] = at;
    [from, to] = [to, from];
  }
  return from;
}
