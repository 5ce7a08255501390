// The order in which marks lie over each other, found as print finds it.

/** Places beyond which keys and places have no room in one number. */
const MOST_MIXED = 2 ** 20;

/**
 * Where each place stands in mixed order.
 * @param {number} count
 * @param {number} seed
 * @returns {Float64Array}
 */
export function mixedRanks(count, seed) {
  const keys = new Float64Array(count);
  const start = Math.imul(seed | 0, 0x85ebca77);
  for (let place = 0; place < count; place += 1) {
    let key = (Math.imul(place, 0x9e3779b1) + start) | 0;
    key = Math.imul(key ^ (key >>> 16), 0x85ebca6b);
    key = Math.imul(key ^ (key >>> 13), 0xc2b2ae35);
    keys[place] = ((key ^ (key >>> 16)) >>> 0) * MOST_MIXED + place;
  }
  keys.sort();
  const ranks = new Float64Array(count);
  keys.forEach((key, rank) => { ranks[key % MOST_MIXED] = rank; });
  return ranks;
}
