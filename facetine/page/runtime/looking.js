// The fields and buttons with which a reader says what is seen of an axis.

/** @typedef {import("./zoom.js").Zoom} Zoom */
/** @typedef {import("./views.js").View} View */
/** @typedef {import("./views.js").Ends} Ends */

/** The row of tools for views. */
export class Looking {
  /**
   * @param {Zoom} zoom
   * @param {(text: string) => void} say
   */
  constructor(zoom, say) {
    this.zoom = zoom;
    this.say = say;
    const part = (/** @type {string} */ id) => /** @type {any} */ (document.getElementById(id));
    this.row = /** @type {HTMLElement} */ (part("looking"));
    this.axis = /** @type {HTMLSelectElement} */ (part("axis"));
    /** @type {HTMLInputElement[]} */
    this.fields = [part("first"), part("last")];
    /** @type {HTMLButtonElement[]} */
    this.buttons = [part("back"), part("whole")];
    this.row.hidden = !zoom.views.some((view) => view.moves);
    for (const view of zoom.views) this.axis.append(this.optionOf(view));
    const first = zoom.views.findIndex((view) => view.moves);
    if (first >= 0) this.axis.selectedIndex = first;
    this.axis.addEventListener("change", () => this.fill());
    part("see").addEventListener("click", () => this.see());
    for (const field of this.fields) field.addEventListener("keydown", (event) => { if (event.key === "Enter") this.see(); });
    this.buttons[0].addEventListener("click", () => zoom.back());
    this.buttons[1].addEventListener("click", () => zoom.home());
    this.fill();
  }

  /** @param {View} view */
  optionOf(view) {
    const option = document.createElement("option");
    const title = view.said.title || view.said.name;
    const alike = this.zoom.views.filter((one) => one.said.title === view.said.title);
    const panels = this.zoom.on(view);
    // Of axes of one title each is told by its panel or its figure, and within one by x or y.
    const place = alike.some((one) => one !== view && (one.said.member !== view.said.member || one.said.name === view.said.name));
    const other = alike.some((one) => one.said.member === view.said.member && one.said.name !== view.said.name);
    const several = `${other ? `, ${view.said.said},` : ""}${place ? ` in ${panels[0]?.name || `figure ${view.said.member + 1}`}` : ""}`.replace(/,$/, "");
    option.textContent = view.moves ? `${title}${several}` : `${title}${several}: ${view.said.still}`;
    option.disabled = !view.moves;
    return option;
  }

  /** @returns {View} */
  get view() {
    return this.zoom.views[Math.max(this.axis.selectedIndex, 0)];
  }

  /** The fields say what is seen. */
  fill() {
    const { view } = this;
    this.fields.forEach((field, end) => {
      field.value = view && !view.whole ? view.written(view.now[end]) : "";
      field.placeholder = view?.moves ? view.written(view.rounded(view.inside)[end]) : "";
    });
    this.buttons[0].disabled = !this.zoom.past.length;
    this.buttons[1].disabled = this.zoom.whole;
  }

  /** Looks at what the fields say; an empty one is the end of the axis. */
  see() {
    const { view } = this;
    const ends = this.fields.map((field, end) => (field.value.trim() ? view.read(field.value) : view.home[end]));
    if (!(ends[0] < ends[1])) {
      this.say(view.time ? "Two times are needed, such as 2030-06-01 or 2030-06-01 14:00, the first before the second" : "Two numbers are needed, the first below the second");
      return;
    }
    const before = this.zoom.seen;
    const within = ends.map((end) => Math.min(Math.max(end, view.home[0]), view.home[1]));
    if (this.zoom.look(view, /** @type {Ends} */ (within))) this.zoom.keep(before);
    else this.say(this.zoom.refused);
  }

  /** @returns {string} What is seen, for those who hear it. */
  told() {
    const parts = this.zoom.views.filter((view) => !view.whole).map((view) => `${view.said.title || view.said.name} from ${view.written(view.now[0])} to ${view.written(view.now[1])}`);
    return parts.length ? `Seen: ${parts.join("; ")}` : "All is seen";
  }
}
