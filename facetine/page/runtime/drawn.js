// Marks that were computed anew, as parts of a drawing.

import { SVG } from "./paint.js";

/** @typedef {import("./recipe.js").Recipe} Recipe */
/** @typedef {import("./recipe.js").Finished} Finished */
/** @typedef {import("./recipe.js").Shape} Shape */
/** @typedef {import("./data.js").LookSaid} LookSaid */
/** @typedef {{ box: number[], x: import("./views.js").View, y: import("./views.js").View }} Stage A panel with what is seen of its axes. */

/** The diameter at which outlines of markers travel. */
const TRAVELLING = 100;
/** How far a seam of the ground reaches beside a line, and its width around a marker. */
const SEAM = 0.7;
/** The width of outlines of what all rows make. */
const OUTLINE = 0.6;
/** Bins narrower than this stand without a line between them. */
const PARTED = 3;
/** The border of markers of many sizes, as a share of their diameter. */
const SET_OFF = 0.05;
/** The width of rings for what lies beyond whiskers. */
const FAR_LINE = 0.6;
const ROUND = new Set(["lines", "cumulative", "trend"]);

/** @param {number} value */
const hundredths = (value) => String(Math.round(value * 100) / 100);

/**
 * The place on a panel of a place along a layer's own axes.
 * @param {Stage} stage
 * @param {boolean} horizontal
 * @param {number} x
 * @param {number} y
 * @returns {[number, number]}
 */
export function placeOn({ box: [left, top, right, bottom], x: across, y: up }, horizontal, x, y) {
  const [first, second] = horizontal ? [y, x] : [x, y];
  const within = (/** @type {number} */ at, /** @type {number} */ low, /** @type {number} */ high) => (Number.isFinite(at) ? at : at > 0 ? high : at < 0 ? low : NaN);
  const spots = [left + across.share(first) * (right - left), bottom - up.share(second) * (bottom - top)];
  return [within(spots[0], left, right), within(-spots[1], -bottom, -top) * -1];
}

/**
 * The corners of a line or an area, as the path of a drawing has them.
 * @param {Stage} stage
 * @param {Recipe} recipe
 * @param {number[]} line
 * @param {number[]} off
 */
function corners(stage, recipe, line, off) {
  const { horizontal, shift } = recipe.said;
  const found = [];
  for (let at = 0; at < line.length; at += 2) {
    const [x, y] = placeOn(stage, horizontal, line[at], line[at + 1]);
    const [aside, along] = [(off[at] ?? 0) + shift, off[at + 1] ?? 0];
    found.push(`${hundredths(x + (horizontal ? along : aside))} ${hundredths(y + (horizontal ? aside : along))}`);
  }
  return found;
}

/**
 * How one look is drawn.
 * @param {Recipe} recipe
 * @param {Shape} shape
 * @param {LookSaid} look
 * @param {boolean} all Whether what all rows make is drawn, behind what chosen ones do.
 * @param {boolean} parted Whether rectangles stand apart by a line of the ground.
 * @returns {Record<string, string | number>}
 */
function inkOf(recipe, shape, look, all, parted) {
  const { quiet, ground, bordered, finish } = recipe.said;
  const color = all ? quiet : shape.color ?? look.color;
  const { opacity = 1, line_width = 1, outline = null } = look;
  if (shape.kind === "rect") {
    if (all && bordered) return { fill: ground, stroke: quiet, "stroke-width": OUTLINE };
    const border = outline ?? (parted ? ground : null);
    return { fill: color, opacity, ...(border ? { stroke: border, "stroke-width": outline ? line_width : 0.4 } : {}) };
  }
  const line = all ? quiet : outline ?? color;
  if (shape.kind === "area") {
    return { fill: color, "fill-opacity": (shape.fill ?? 1) * opacity, ...(shape.bordered ? { stroke: line, "stroke-width": line_width } : {}) };
  }
  /** @type {Record<string, string | number>} */
  const stroke = { fill: "none", stroke: line, "stroke-width": line_width * (shape.wide ?? 1), "stroke-linejoin": "round" };
  if (finish !== "boxes") stroke.opacity = opacity;
  if (look.dash?.length) stroke["stroke-dasharray"] = look.dash.join(" ");
  else if (ROUND.has(finish)) stroke["stroke-linecap"] = "round";
  return stroke;
}

/** @param {string} name @param {Record<string, string | number>} said */
function made(name, said) {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(said)) element.setAttribute(key, String(value));
  return element;
}

/**
 * A marker.
 * @param {Recipe} recipe
 * @param {Shape} shape
 * @param {LookSaid} look
 * @param {number[]} at In points.
 * @param {boolean} all
 */
function marker(recipe, shape, look, [x, y], all) {
  const size = shape.size ?? look.size ?? 0;
  const color = all ? recipe.said.quiet : look.color;
  const opacity = shape.opacity ?? look.opacity ?? 1;
  // What lies beyond the whiskers of a box is a small ring.
  if (recipe.said.finish === "boxes") return made("circle", { cx: hundredths(x), cy: hundredths(y), r: size / 2, fill: "none", stroke: color, "stroke-width": FAR_LINE });
  const [fill, line, width, , path] = look.marker ?? [color, null, 0, 1, ""];
  if (!path) return made("circle", { cx: hundredths(x), cy: hundredths(y), r: size / 2, fill: color, opacity });
  const scale = size / TRAVELLING;
  const drawn = made("path", { d: path, transform: `translate(${hundredths(x)} ${hundredths(y)}) scale(${scale})`, fill: fill ? color : "none", opacity });
  // Markers of many sizes are set off from each other by a part of theirs, and those on areas by as much as lines.
  const seam = recipe.said.finish === "tally" ? SET_OFF * TRAVELLING : recipe.said.halo ? SEAM / scale : 0;
  const [stroke, thick] = line ? [all ? recipe.said.quiet : line, fill ? width / scale : width] : seam && fill ? [recipe.said.ground, seam] : [null, 0];
  if (stroke) drawn.setAttribute("stroke", stroke);
  if (stroke) drawn.setAttribute("stroke-width", String(thick));
  return drawn;
}

/**
 * Of bars on each other the whole stack, of others each.
 * @param {Recipe} recipe
 * @param {Shape[]} shapes
 * @returns {Shape[]}
 */
function stacksOf(recipe, shapes) {
  if (recipe.options.arrange !== "stack" && recipe.options.arrange !== "share") return shapes;
  /** @type {Map<number, Shape>} */
  const stacks = new Map();
  for (const shape of shapes) {
    const [left, low, right, high] = shape.at[0];
    const known = stacks.get(left)?.at[0];
    stacks.set(left, { ...shape, at: [known ? [left, Math.min(known[1], low), right, Math.max(known[3], high)] : [left, low, right, high]] });
  }
  return [...stacks.values()];
}

/**
 * The marks of a layer in a panel.
 * @param {Recipe} recipe
 * @param {Finished} found
 * @param {number} panel The number of the panel.
 * @param {Stage} stage
 * @param {boolean} all Whether these are the marks of all rows, behind those of chosen ones.
 * @returns {SVGElement[]}
 */
export function drawnShapes(recipe, found, panel, stage, all) {
  const mine = found.shapes.filter(({ mark }) => found.panel[mark] === panel);
  const own = all && recipe.said.bordered ? stacksOf(recipe, mine) : mine;
  const wide = recipe.said.finish === "histogram" ? own.map(({ at: [[left, low, right]] }) => Math.abs(placeOn(stage, false, right, low)[0] - placeOn(stage, false, left, low)[0])) : [];
  const upright = recipe.said.horizontal ? (stage.box[3] - stage.box[1]) / (stage.box[2] - stage.box[0]) : 1;
  const parted = wide.length > 0 && Math.min(...wide) * upright > PARTED;
  /** @type {Map<string, { said: Record<string, string | number>, path: string[], halo: boolean }>} */
  const paths = new Map();
  /** @type {SVGElement[]} */
  const marks = [];
  for (const shape of own) {
    const look = recipe.said.looks[recipe.look[found.cell[shape.mark]]];
    if (shape.kind === "mark") {
      const [x, y] = placeOn(stage, recipe.said.horizontal, shape.at[0][0], shape.at[0][1]);
      const [aside, along] = [(shape.off?.[0][0] ?? 0) + recipe.said.shift, shape.off?.[0][1] ?? 0];
      const at = recipe.said.horizontal ? [x + along, y + aside] : [x + aside, y + along];
      if (at.every(Number.isFinite) && (shape.size ?? look.size ?? 0) > 0) marks.push(marker(recipe, shape, look, at, all));
      continue;
    }
    const said = inkOf(recipe, shape, look, all, parted);
    const key = `${shape.kind}${shape.kind === "area" ? "" : shape.wide ?? 1}${Object.values(said).join()}`;
    const path = paths.get(key) ?? { said, path: [], halo: recipe.said.halo && shape.kind === "line" && !all };
    paths.set(key, path);
    shape.at.forEach((line, at) => {
      const ring = shape.kind === "rect" ? [line[0], line[1], line[2], line[1], line[2], line[3], line[0], line[3]] : line;
      const points = corners(stage, recipe, ring, shape.off?.[at] ?? []);
      if (points.some((one) => one.includes("NaN"))) return;
      path.path.push(`M${points.join("L")}${shape.kind === "line" ? "" : "Z"}`);
    });
  }
  const drawn = [...paths.values()].flatMap(({ said, path, halo }) => [
    ...(halo ? [made("path", { d: path.join(""), fill: "none", stroke: recipe.said.ground, "stroke-width": Number(said["stroke-width"]) + 2 * SEAM, "stroke-linecap": "round" })] : []),
    made("path", { ...said, d: path.join("") }),
  ]);
  return [...drawn, ...marks];
}
