// Sets of rows by their numbers: a byte for each, since millions of them are told apart while a brush is drawn.

/** Numbers of rows. */
export class Rows {
  /** @param {Iterable<number>} [numbers] */
  constructor(numbers = []) {
    this.marks = new Uint8Array(64);
    this.size = 0;
    for (const one of numbers) this.add(one);
  }

  /** @param {number} row @returns {boolean} */
  has(row) {
    return this.marks[row] === 1;
  }

  /** @param {number} row */
  add(row) {
    if (row >= this.marks.length) {
      const wider = new Uint8Array(Math.max(2 * this.marks.length, row + 1));
      wider.set(this.marks);
      this.marks = wider;
    }
    this.size += 1 - this.marks[row];
    this.marks[row] = 1;
  }

  /** @param {ArrayLike<number>} rows */
  addAll(rows) {
    for (let at = 0; at < rows.length; at += 1) this.add(rows[at]);
  }

  /** @param {number} row */
  delete(row) {
    if (!this.has(row)) return;
    this.marks[row] = 0;
    this.size -= 1;
  }

  /** @returns {Generator<number>} In rising order. */
  *[Symbol.iterator]() {
    for (let row = 0; row < this.marks.length; row += 1) if (this.marks[row]) yield row;
  }
}
