// Marks painted into an image: those of layers that are images themselves.

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./data.js").Ink} Ink */

/**
 * @typedef {{ width: number, height: number, bytes: Uint8ClampedArray, whole: Uint32Array }} Sheet
 * @typedef {Sheet & { ends: Int32Array }} Stamp With the first covered pixel of each line, and the one after the last.
 */

/** Pixels a point. */
const FINE = 4;
/** The radius in points of a dot for a mark that is no shape of its own. */
const DOT = 1.6;
/** How much further than a disc of its area the corners of a marker reach at most. */
const CORNERS = 1.6;
/** The path of a mark that fills its box. */
const BOX = "box";

/**
 * A mark of one look, painted once for all that have it; its middle is the middle of the image.
 * @param {Ink} ink
 * @param {number} reach How far its outline goes from its middle.
 * @returns {Stamp | null}
 */
function stamp([fill, line, width, opacity, path], reach) {
  const outline = new Path2D(path || `M-${DOT} 0a${DOT} ${DOT} 0 1 0 ${2 * DOT} 0a${DOT} ${DOT} 0 1 0 ${-2 * DOT} 0z`);
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 2 * Math.ceil((reach + width) * FINE) + 2;
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  if (!pen) return null;
  pen.translate(canvas.width / 2, canvas.height / 2);
  pen.scale(FINE, FINE);
  // One mark covers alike where its border lies over its inside.
  if (fill) {
    pen.fillStyle = fill;
    pen.fill(outline);
  }
  if (line && width) {
    pen.strokeStyle = line;
    pen.lineWidth = width;
    pen.stroke(outline);
  }
  const seen = pen.getImageData(0, 0, canvas.width, canvas.height);
  for (let at = 3; at < seen.data.length; at += 4) seen.data[at] *= opacity;
  const ends = new Int32Array(2 * seen.height);
  for (let line = 0; line < seen.height; line += 1) {
    let [first, last] = [0, seen.width];
    while (first < last && seen.data[4 * (line * seen.width + first) + 3] === 0) first += 1;
    while (last > first && seen.data[4 * (line * seen.width + last - 1) + 3] === 0) last -= 1;
    ends.set([first, last], 2 * line);
  }
  return { ...sheet(seen), ends };
}

/**
 * Pixels by their bytes and as whole ones.
 * @param {ImageData} image
 * @returns {Sheet}
 */
function sheet(image) {
  return { width: image.width, height: image.height, bytes: image.data, whole: new Uint32Array(image.data.buffer) };
}

/**
 * Lays a stamp over a sheet; where it covers, nothing below it is seen.
 * @param {Sheet} lower
 * @param {Stamp} upper
 * @param {number} x Where its left edge comes to lie.
 * @param {number} y
 */
function lay(lower, upper, x, y) {
  const [to, from] = [lower.bytes, upper.bytes];
  const below = Math.min(upper.height, lower.height - y);
  for (let line = Math.max(0, -y); line < below; line += 1) {
    const left = Math.max(upper.ends[2 * line], -x);
    const right = Math.min(upper.ends[2 * line + 1], lower.width - x);
    let pixel = (line + y) * lower.width + left + x;
    let source = line * upper.width + left;
    for (let column = left; column < right; column += 1, pixel += 1, source += 1) {
      const above = from[4 * source + 3];
      if (above === 255) {
        lower.whole[pixel] = upper.whole[source];
        continue;
      }
      if (above === 0) continue;
      const at = 4 * pixel;
      const rest = (to[at + 3] * (255 - above)) / 255;
      const all = above + rest;
      for (let part = 0; part < 3; part += 1) to[at + part] = (from[4 * source + part] * above + to[at + part] * rest) / all;
      to[at + 3] = all;
    }
  }
}

/**
 * Marks of a layer over a panel.
 * @param {Layer} layer
 * @param {number[]} panel Its box.
 * @param {number[]} marks
 * @returns {HTMLCanvasElement}
 */
export function painted(layer, panel, marks) {
  const [left, top, right, bottom] = panel;
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round((right - left) * FINE));
  canvas.height = Math.max(1, Math.round((bottom - top) * FINE));
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  const { inks, said } = layer;
  if (!pen || !inks || !said.inks) return canvas;
  const { looks } = said.inks;
  const reaches = looks.map(() => DOT);
  // An outline has the area of a disc; its corners lie further out than the box in which a pointer finds it.
  for (const mark of marks) reaches[inks[mark]] = Math.max(reaches[inks[mark]], CORNERS * (layer.right[mark] - layer.left[mark]) / 2);
  const stamps = looks.map((ink, at) => (ink[4] === BOX ? null : stamp(ink, reaches[at])));
  for (const mark of marks.filter((one) => stamps[inks[one]] === null)) {
    const [fill, line, width, opacity] = looks[inks[mark]];
    const box = [layer.left[mark] - left, layer.top[mark] - top].map((side) => side * FINE);
    const size = [layer.right[mark] - layer.left[mark], layer.bottom[mark] - layer.top[mark]].map((side) => side * FINE);
    pen.globalAlpha = opacity;
    pen.fillStyle = fill ?? "#000000";
    pen.fillRect(box[0], box[1], size[0], size[1]);
    if (!line || !width) continue;
    pen.strokeStyle = line;
    pen.lineWidth = width * FINE;
    pen.strokeRect(box[0], box[1], size[0], size[1]);
  }
  if (stamps.every((one) => one === null)) return canvas;
  // Many small images are laid into the bytes, which takes a part of the time that a browser takes for each.
  const image = pen.getImageData(0, 0, canvas.width, canvas.height);
  const lower = sheet(image);
  for (const mark of marks) {
    const own = stamps[inks[mark]];
    if (!own) continue;
    const x = ((layer.left[mark] + layer.right[mark]) / 2 - left) * FINE;
    const y = ((layer.top[mark] + layer.bottom[mark]) / 2 - top) * FINE;
    lay(lower, own, Math.round(x - own.width / 2), Math.round(y - own.height / 2));
  }
  pen.putImageData(image, 0, 0);
  return canvas;
}
