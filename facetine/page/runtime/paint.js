// Marks painted into an image: those of layers that are images themselves.

/** @typedef {import("./marks.js").Layer} Layer */
/** @typedef {import("./data.js").Ink} Ink */

/**
 * @typedef {{ width: number, height: number, bytes: Uint8ClampedArray, whole: Uint32Array }} Sheet
 * @typedef {Sheet & { ends: Int32Array }} Stamp With the first covered pixel of each line, and the one after the last.
 */

export const SVG = "http://www.w3.org/2000/svg";
/** Pixels a point on paper and in files. */
const FINE = 300 / 72;
/** Places within a pixel, along each side, at which a mark is painted. */
const ASIDE = 4;
/** The radius in points of a dot for a mark that is no shape of its own. */
const DOT = 1.6;
/** How much further than a disc of its area the corners of a marker reach at most. */
const CORNERS = 1.6;
/** The path of a mark that fills its box. */
const BOX = "box";

/**
 * A mark of one look, painted once for all that have it.
 * @param {Ink} ink
 * @param {number} reach How far its outline goes from its middle.
 * @param {number} scale Pixels a point.
 * @param {number[]} aside How far its middle is from that of the image, in shares of a pixel.
 * @returns {Stamp | null}
 */
function stamp([fill, line, width, opacity, path], reach, scale, aside) {
  const outline = new Path2D(path || `M-${DOT} 0a${DOT} ${DOT} 0 1 0 ${2 * DOT} 0a${DOT} ${DOT} 0 1 0 ${-2 * DOT} 0z`);
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 2 * Math.ceil((reach + width) * scale) + 4;
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  if (!pen) return null;
  pen.translate(canvas.width / 2 + aside[0], canvas.height / 2 + aside[1]);
  pen.scale(scale, scale);
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
 * Marks of a layer over a part of the sheet.
 * @param {Layer} layer
 * @param {number[]} box The part, in points.
 * @param {number[]} marks
 * @param {number} scale Pixels a point.
 * @returns {HTMLCanvasElement}
 */
function painted(layer, [left, top, right, bottom], marks, scale) {
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round((right - left) * scale));
  canvas.height = Math.max(1, Math.round((bottom - top) * scale));
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  const { inks, said } = layer;
  if (!pen || !inks || !said.inks) return canvas;
  const { looks } = said.inks;
  const reaches = looks.map(() => DOT);
  // An outline has the area of a disc; its corners lie further out than the box in which a pointer finds it.
  for (const mark of marks) reaches[inks[mark]] = Math.max(reaches[inks[mark]], CORNERS * (layer.right[mark] - layer.left[mark]) / 2);
  for (const mark of marks.filter((one) => looks[inks[one]][4] === BOX)) {
    const [fill, line, width, opacity] = looks[inks[mark]];
    const box = [layer.left[mark] - left, layer.top[mark] - top].map((side) => side * scale);
    const size = [layer.right[mark] - layer.left[mark], layer.bottom[mark] - layer.top[mark]].map((side) => side * scale);
    pen.globalAlpha = opacity;
    pen.fillStyle = fill ?? "#000000";
    pen.fillRect(box[0], box[1], size[0], size[1]);
    if (!line || !width) continue;
    pen.strokeStyle = line;
    pen.lineWidth = width * scale;
    pen.strokeRect(box[0], box[1], size[0], size[1]);
  }
  if (looks.every((ink) => ink[4] === BOX)) return canvas;
  // Many small images are laid into the bytes, which takes a part of the time that a browser takes for each; there are as many
  // of each as there are places within a pixel that an eye tells apart.
  const image = pen.getImageData(0, 0, canvas.width, canvas.height);
  const lower = sheet(image);
  /** @type {(Stamp | null)[]} */
  const stamps = new Array(looks.length * ASIDE * ASIDE).fill(null);
  for (const mark of marks) {
    const look = inks[mark];
    if (looks[look][4] === BOX) continue;
    const x = Math.round(((layer.left[mark] + layer.right[mark]) / 2 - left) * scale * ASIDE);
    const y = Math.round(((layer.top[mark] + layer.bottom[mark]) / 2 - top) * scale * ASIDE);
    const [column, line] = [Math.floor(x / ASIDE), Math.floor(y / ASIDE)];
    const [across, down] = [x - column * ASIDE, y - line * ASIDE];
    const place = (look * ASIDE + across) * ASIDE + down;
    const own = (stamps[place] ??= stamp(looks[look], reaches[look], scale, [across / ASIDE, down / ASIDE]));
    if (own) lay(lower, own, column - own.width / 2, line - own.height / 2);
  }
  pen.putImageData(image, 0, 0);
  return canvas;
}

/** How canvases of the page are painted again where they leave it. @type {WeakMap<Element, () => HTMLCanvasElement>} */
const AGAIN = new WeakMap();
/** Whether the page is being printed, so that pixels of the screen are too few. */
export const printing = { now: false };

/**
 * Marks of a layer as a part of a drawing, pixel by pixel of the screen.
 * @param {Layer} layer
 * @param {number[]} box Where they are seen, in points.
 * @param {number[]} marks
 * @param {SVGSVGElement} drawing
 * @returns {SVGElement}
 */
export function picture(layer, box, marks, drawing) {
  const around = drawing.getBoundingClientRect();
  const seen = (around.width / drawing.viewBox.baseVal.width) * window.devicePixelRatio;
  const scale = printing.now ? FINE : Math.min(seen, 2 * FINE);
  // A pixel of the canvas is one of the screen, and lies across none: so nothing is blurred.
  const [first, upper] = [around.left, around.top].map((side) => (printing.now ? 0 : side * window.devicePixelRatio));
  const snapped = (/** @type {number} */ side, /** @type {number} */ from, /** @type {(value: number) => number} */ to) => (to(from + side * scale) - from) / scale;
  const [left, top] = [snapped(box[0], first, Math.floor), snapped(box[1], upper, Math.floor)];
  const [right, bottom] = [snapped(box[2], first, Math.ceil), snapped(box[3], upper, Math.ceil)];
  const holder = document.createElementNS(SVG, "foreignObject");
  const place = { x: left, y: top, width: right - left, height: bottom - top };
  for (const [name, value] of Object.entries(place)) holder.setAttribute(name, String(value));
  const canvas = painted(layer, [left, top, right, bottom], marks, scale);
  Object.assign(canvas.style, { display: "block", width: "100%", height: "100%" });
  holder.append(canvas);
  AGAIN.set(holder, () => painted(layer, [left, top, right, bottom], marks, FINE));
  return holder;
}

/**
 * Canvases of a drawing as images in a copy of it, which can leave the page.
 * @param {Element} drawing
 * @param {Element} copy
 */
export function asImages(drawing, copy) {
  const holders = [...copy.querySelectorAll("foreignObject")];
  [...drawing.querySelectorAll("foreignObject")].forEach((original, at) => {
    const image = document.createElementNS(SVG, "image");
    for (const name of ["x", "y", "width", "height"]) image.setAttribute(name, original.getAttribute(name) ?? "0");
    image.setAttribute("preserveAspectRatio", "none");
    image.setAttribute("href", AGAIN.get(original)?.().toDataURL("image/png") ?? "");
    holders[at].replaceWith(image);
  });
}
