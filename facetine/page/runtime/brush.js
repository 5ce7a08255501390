// A brush over a panel: an interval of its axes, which stays where its values are.

/** @typedef {import("./data.js").PanelSaid} PanelSaid */
/** @typedef {import("./choice.js").Choice} Choice */
/** @typedef {import("./views.js").View} View */
/** @typedef {import("./views.js").Ends} Ends */
/** @typedef {{ x: number, y: number }} Point In points of the sheet. */

/** A brush, and the rectangle that shows it. */
export class Brush {
  /** @param {HTMLElement} stage */
  constructor(stage) {
    this.stage = stage;
    this.element = document.createElement("div");
    this.element.className = "brush";
    this.element.hidden = true;
    stage.append(this.element);
    /** @type {PanelSaid | null} */
    this.panel = null;
    /** @type {Choice | null} */
    this.choice = null;
    /** @type {{ x: View, y: View } | null} */
    this.views = null;
    /** The interval along each axis, in its places; null where it is all of it. @type {{ x: Ends | null, y: Ends | null }} */
    this.ends = { x: null, y: null };
  }

  /**
   * Spans two corners.
   * @param {PanelSaid} panel
   * @param {{ x: View, y: View }} views
   * @param {string} along
   * @param {Point} from
   * @param {Point} to
   */
  span(panel, views, along, from, to) {
    this.panel = panel;
    this.views = views;
    const [left, top, right, bottom] = panel.box;
    const within = (/** @type {number} */ value, /** @type {number} */ low, /** @type {number} */ high) => Math.min(Math.max(value, low), high);
    const across = [from.x, to.x].map((x) => views.x.placeAt((within(x, left, right) - left) / (right - left))).sort((a, b) => a - b);
    const up = [from.y, to.y].map((y) => views.y.placeAt((bottom - within(y, top, bottom)) / (bottom - top))).sort((a, b) => a - b);
    this.ends = { x: along.includes("x") ? /** @type {Ends} */ (across) : null, y: along.includes("y") ? /** @type {Ends} */ (up) : null };
  }

  /** @param {{ choice: Choice, panel: PanelSaid, views: { x: View, y: View }, ends: { x: Ends | null, y: Ends | null } }} said Lays it over an interval. */
  put({ choice, panel, views, ends }) {
    [this.choice, this.panel, this.views, this.ends] = [choice, panel, views, ends];
  }

  /**
   * Its corners in points, as far as they go.
   * @returns {number[]} Left, top, right and bottom.
   */
  get box() {
    const { panel, views, ends } = this;
    if (!panel || !views) return [0, 0, 0, 0];
    const [left, top, right, bottom] = panel.box;
    const [x, y] = [ends.x?.map((place) => left + views.x.share(place) * (right - left)), ends.y?.map((place) => bottom - views.y.share(place) * (bottom - top))];
    const [across, down] = [x ?? [-Infinity, Infinity], y ?? [-Infinity, Infinity]];
    return [Math.min(...across), Math.min(...down), Math.max(...across), Math.max(...down)];
  }

  /** @param {Point} at @returns {boolean} Whether it lies over a place of its panel. */
  holds({ x, y }) {
    const [left, top, right, bottom] = this.box;
    return this.panel !== null && !this.element.hidden && x >= left && x <= right && y >= top && y <= bottom;
  }

  /**
   * Makes it longer or shorter, with one place staying where it is.
   * @param {Point} at
   * @param {number} factor
   */
  scale(at, factor) {
    const [panel, views] = [this.panel, this.views];
    if (!panel || !views) return;
    const [left, top, right, bottom] = panel.box;
    const fixed = { x: views.x.placeAt((at.x - left) / (right - left)), y: views.y.placeAt((bottom - at.y) / (bottom - top)) };
    for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
      const [low, high] = views[axis].home;
      const own = this.ends[axis]?.map((end) => Math.min(Math.max(fixed[axis] + (end - fixed[axis]) * factor, low), high));
      if (own) this.ends[axis] = /** @type {Ends} */ (own);
    }
  }

  /**
   * Moves it, as far as its panel goes.
   * @param {Point} from
   * @param {Point} to
   */
  shift(from, to) {
    const [panel, views] = [this.panel, this.views];
    if (!panel || !views) return;
    const [left, top, right, bottom] = panel.box;
    const far = { x: views.x.placeAt((to.x - from.x) / (right - left)) - views.x.placeAt(0), y: views.y.placeAt((from.y - to.y) / (bottom - top)) - views.y.placeAt(0) };
    for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
      const own = this.ends[axis];
      if (!own) continue;
      const [low, high] = views[axis].home;
      const moved = Math.min(Math.max(far[axis], low - own[0]), high - own[1]);
      this.ends[axis] = [own[0] + moved, own[1] + moved];
    }
  }

  /**
   * Shows it over its panel.
   * @param {SVGSVGElement} sheet
   * @param {number} wide The sheet in points.
   */
  draw(sheet, wide) {
    if (!this.panel) return;
    const [around, own] = [this.stage.getBoundingClientRect(), sheet.getBoundingClientRect()];
    const scale = own.width / wide;
    const [left, top, right, bottom] = this.panel.box;
    const seen = this.box.map((side, at) => (at % 2 ? Math.min(Math.max(side, top - 1), bottom + 1) : Math.min(Math.max(side, left - 1), right + 1)));
    Object.assign(this.element.style, {
      left: `${own.left - around.left + seen[0] * scale}px`, top: `${own.top - around.top + seen[1] * scale}px`,
      width: `${(seen[2] - seen[0]) * scale}px`, height: `${(seen[3] - seen[1]) * scale}px`,
    });
    this.element.hidden = false;
  }

  hide() {
    this.element.hidden = true;
    this.panel = null;
    this.choice = null;
  }
}
