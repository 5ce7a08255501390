// What the page carries: arrays that were packed by the writer, and what they stand for.

/**
 * @typedef {{ sort: string, at: number, count: number, places?: number, gone?: Described }} Described
 * An array among all bytes; with places each number is a whole one divided by a power of ten.
 * @typedef {{ name: string, title: string, column?: string, sort: string, words?: string[], unit?: number, zone?: string, values: Described }} ColumnSaid
 * @typedef {[fill: string | null, line: string | null, width: number, opacity: number, path: string]} Ink
 * @typedef {{ panel: number, page: number, count: number, pieces: number }} Part
 * @typedef {{ member: number, number: number, verb: string, title: string, parts: Part[], boxes: Described[], rows: Described,
 *   shapes?: Described, mixed?: number[], pieces: Described[], columns: ColumnSaid[], frame: number | null, along: string, line: boolean,
 *   groups?: { names: string[], codes: Described }, inks?: { looks: Ink[], codes: Described }, image?: boolean,
 *   drops: boolean, edges: boolean, moves: string[], vertices?: Described[], grows?: "top" | "bottom" | "left" | "right",
 *   members?: { frame: number, rows: Described, of: Described }, kept?: RecipeSaid | null, kept_frame?: number, kept_of?: number, other?: boolean }} LayerSaid
 * @typedef {{ color: string, opacity?: number, outline?: string | null, line_width?: number, size?: number, dash?: number[], marker?: Ink }} LookSaid
 * @typedef {{ kind: string, low: number, high: number, base?: number, exponent?: number, threshold?: number }} NumbersSaid
 * @typedef {{ finish: string, options: Record<string, any>, counts: boolean, horizontal: boolean, space: string, shift: number, unit: number, rows: Described,
 *   of: Described, values: Record<string, Described>, cells: { count: number, panel: Described, group: Described, number: Described, slot: Described } & Record<string, any>,
 *   looks: LookSaid[], look: Described, ground: string, quiet: string, halo: boolean, bordered: boolean, panels?: number[][],
 *   color?: NumbersSaid & { values: string[], breaks: number[] }, size?: NumbersSaid & { ends: [number, number], lost: number },
 *   beside?: { rows: Described, panel: Described, weight?: Described }, texts?: TextsSaid | null | false }} RecipeSaid
 * @typedef {{ parts: (string | [name: string, form: string, sort: string])[], inside: boolean, line: boolean, size: number, cap: number, color: string }} TextsSaid
 * What a layer is computed of anew: rows with the result that each enters, and how results stand and look.
 * @typedef {{ member: number, number: number, page: number, name: string, box: number[], axes: { x: number, y: number } }} PanelSaid
 * @typedef {{ member: number, name: string, title: string, said: string, kind: string, low: number, high: number, reverse: boolean, stands: boolean, still: string | null,
 *   base?: number, exponent?: number, threshold?: number, whole?: boolean, wanted?: number | null, minor?: boolean | null,
 *   format?: import("./numerals.js").Format | null, pattern?: string | null, clocks?: import("./calendar.js").Clocks | null,
 *   second?: SecondSaid,
 *   tick: number, gap: number, size: number, cap: number, leading: number, raised: [number, number] }} AxisSaid
 * @typedef {{ kind?: string, base?: number, low?: number, high?: number, wanted?: number | null, format?: import("./numerals.js").Format | null,
 *   clocks?: import("./calendar.js").Clocks | null, pattern?: string | null }} SecondSaid
 * A view of an axis: what it is called, its ends, and how its ticks are written; or why it stays as it is.
 * @typedef {{ name: string, member: number, along: string | null, multiple: boolean, started: Described, ends: Record<string, [number, number]>, rows: Described, codes: Described }} ChoiceSaid
 * @typedef {{ sheets: number[][], panels: PanelSaid[], axes: AxisSaid[], layers: LayerSaid[], choices: ChoiceSaid[], responses: Record<string, Record<string, { how: string, all: boolean | null }>>,
 *   limits: Record<string, Record<string, [string, string][]>> }} Said
 */

/**
 * The bytes of all arrays.
 * @param {string} text What the page holds of them: deflated, in letters.
 * @returns {Promise<Uint8Array>}
 */
export async function unpacked(text) {
  const letters = atob(text);
  const packed = new Uint8Array(letters.length);
  for (let at = 0; at < packed.length; at += 1) packed[at] = letters.charCodeAt(at);
  const stream = new Blob([packed]).stream().pipeThrough(new DecompressionStream("deflate"));
  return new Uint8Array(await new Response(stream).arrayBuffer());
}

/**
 * The whole numbers, or the doubles, of an array.
 * @param {Uint8Array} bytes All bytes.
 * @param {Described} said Which of them.
 * @returns {Float64Array}
 */
export function raw(bytes, said) {
  const width = Number(said.sort[1]);
  const size = said.count * width;
  const plain = new Uint8Array(size);
  // The first bytes of all numbers stand before the second ones.
  for (let place = 0; place < width; place += 1) {
    const start = said.at + place * said.count;
    for (let row = 0; row < said.count; row += 1) plain[row * width + place] = bytes[start + row];
  }
  const view = new DataView(plain.buffer);
  const values = new Float64Array(said.count);
  for (let row = 0; row < said.count; row += 1) {
    const at = row * width;
    if (said.sort === "f8") values[row] = view.getFloat64(at, true);
    else if (width === 1) values[row] = view.getInt8(at);
    else if (width === 2) values[row] = view.getInt16(at, true);
    else values[row] = view.getInt32(at, true);
  }
  return values;
}

/** What was read of the bytes of a page, which layers share. @type {WeakMap<Uint8Array, Map<string, Int8Array | Int16Array | Int32Array | Float64Array>>} */
const READ = new WeakMap();

/**
 * The whole numbers of an array in as few bytes as hold them, one array for all that ask for it.
 * @param {Uint8Array} bytes
 * @param {Described} said
 */
export function integers(bytes, said) {
  const known = READ.get(bytes) ?? new Map();
  READ.set(bytes, known);
  const key = `${said.sort}${said.at}`;
  const sorts = { i1: Int8Array, i2: Int16Array, i4: Int32Array };
  const found = known.get(key) ?? (said.sort in sorts ? /** @type {any} */ (sorts)[said.sort].from(raw(bytes, said)) : raw(bytes, said));
  known.set(key, found);
  return found;
}

/**
 * The numbers of an array, as they were given; NaN where there is none.
 * @param {Uint8Array} bytes
 * @param {Described} said
 * @returns {Float64Array}
 */
export function numbers(bytes, said) {
  const values = raw(bytes, said);
  if (said.places) {
    const scale = 10 ** said.places;
    for (let row = 0; row < values.length; row += 1) values[row] /= scale;
  }
  if (said.gone) for (const row of raw(bytes, said.gone)) values[row] = NaN;
  return values;
}
