// The order in which marks lie over each other, found as print finds it.

import { risingWords } from "./order.js";

/**
 * Where each place stands in mixed order: by the finalizer of SplitMix64 (Steele, Lea and Flood 2014), as print has it.
 * @param {number} count
 * @param {number} seed
 * @returns {Float64Array}
 */
export function mixedRanks(count, seed) {
  const keys = new BigUint64Array(count);
  const start = BigInt(seed) * 40503n;
  for (let place = 0; place < count; place += 1) {
    let key = BigInt.asUintN(64, BigInt(place) * 2654435769n + start);
    key = BigInt.asUintN(64, (key ^ (key >> 30n)) * 0xbf58476d1ce4e5b9n);
    key = BigInt.asUintN(64, (key ^ (key >> 27n)) * 0x94d049bb133111ebn);
    keys[place] = key ^ (key >> 31n);
  }
  const ranks = new Float64Array(count);
  risingWords(new Uint32Array(keys.buffer)).forEach((place, rank) => { ranks[place] = rank; });
  return ranks;
}
