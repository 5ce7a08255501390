// Two fingers on a panel: what lies under them moves with them, so that spreading looks closer.

/** @typedef {import("./data.js").PanelSaid} PanelSaid */
/** @typedef {import("./views.js").Ends} Ends */
/** @typedef {import("./zoom.js").Zoom} Zoom */
/** @typedef {{ page: number, x: number, y: number }} Place On a sheet, in points. */

/** Points between two fingers below which they say nothing along an axis. */
const NEAR = 12;

/** The fingers on the sheets. */
export class Pinch {
  /** @param {Zoom} zoom */
  constructor(zoom) {
    this.zoom = zoom;
    /** @type {Map<number, Place>} */
    this.fingers = new Map();
    /** The panel under two fingers, and what was seen before. @type {{ panel: PanelSaid, views: Ends[] } | null} */
    this.begun = null;
  }

  /**
   * A finger comes down.
   * @param {number} finger
   * @param {Place} place
   * @param {PanelSaid} panel
   * @returns {boolean} Whether there are two now.
   */
  down(finger, place, panel) {
    this.fingers.set(finger, place);
    if (this.fingers.size !== 2) return false;
    this.begun = { panel, views: this.zoom.seen };
    return true;
  }

  /**
   * A finger moves.
   * @param {number} finger
   * @param {Place} place
   * @returns {boolean} Whether two of them look closer.
   */
  move(finger, place) {
    const before = this.fingers.get(finger);
    if (!before || !this.begun) return false;
    const other = [...this.fingers].find(([own]) => own !== finger)?.[1];
    this.fingers.set(finger, place);
    if (!other) return false;
    const { panel } = this.begun;
    const [left, top, right, bottom] = panel.box;
    for (const axis of /** @type {("x" | "y")[]} */ (["x", "y"])) {
      const share = (/** @type {Place} */ at) => (axis === "x" ? (at.x - left) / (right - left) : (bottom - at.y) / (bottom - top));
      const [from, to] = [Math.abs(before[axis] - other[axis]), Math.abs(place[axis] - other[axis])];
      if (from < NEAR || to < NEAR) continue;
      // The place under the finger that rests stays under it.
      const at = { x: null, y: null, [axis]: Math.min(Math.max(share(other), 0), 1) };
      this.zoom.scale(panel, at, from / to);
    }
    return true;
  }

  /**
   * A finger is lifted.
   * @param {number} finger
   * @returns {boolean} Whether two fingers were down.
   */
  up(finger) {
    this.fingers.delete(finger);
    const { begun } = this;
    if (!begun) return false;
    if (this.fingers.size === 1) {
      this.zoom.keep(begun.views);
      this.zoom.settle();
    }
    if (this.fingers.size === 0) this.begun = null;
    return true;
  }
}
