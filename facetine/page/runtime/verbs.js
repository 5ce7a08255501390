// What is chosen and seen as verbs of the figure, in Python and in a plan.

/** @typedef {import("./zoom.js").Zoom} Zoom */

/** @param {string} text A text of Python, in single quotes. */
const inPython = (text) => `'${text.replace(/\\/g, "\\\\").replace(/'/g, "\\'")}'`;
/** @param {string} text A text of TOML, as it stands. */
const inPlan = (text) => JSON.stringify(text);

/**
 * Verbs that give the reader's state back.
 * @param {string | null} expression What holds for the chosen rows; nothing where none are.
 * @param {string | null} name Of the choice; nothing where it has none.
 * @param {Zoom} zoom
 * @returns {string}
 */
export function verbsOf(expression, name, zoom) {
  const [verbs, keys] = [/** @type {string[]} */ ([]), /** @type {string[]} */ ([])];
  if (expression !== null) {
    if (name !== null) verbs.push(`# the same picture: start= of .choose("${name}", …)`, `start=${inPlan(expression)}`);
    else verbs.push(`.highlight(${inPython(expression)})  # the same picture`);
    verbs.push(`.keep(${inPython(expression)})  # these rows alone; bins and limits are computed anew`);
    keys.push(name !== null ? `choose.${name}.start = ${inPlan(expression)}` : `highlight = ${inPlan(expression)}`);
    keys.push(`steps = [{ keep = ${inPlan(expression)} }]  # these rows alone; bins and limits are computed anew`);
  }
  const views = limitsOf(zoom);
  if (views.length) {
    verbs.push("# the same view", ...views.map(({ axis, panel, ends }) => `.scale("${axis}", limits=${panel === null ? `(${ends})` : `{${JSON.stringify(panel)}: (${ends})}`})`));
    keys.push(...views.map(({ axis, panel, ends }) => `scale.${axis}.limits${panel === null ? "" : `.${JSON.stringify(panel)}`} = [${ends}]`));
  }
  return `${verbs.join("\n")}\n# in a plan\n${keys.join("\n")}\n`;
}

/** @param {Zoom} zoom Limits of the axes of which not all is seen; of single panels where these have axes of their own. */
function limitsOf(zoom) {
  return zoom.views.filter((view) => !view.whole).map((view) => {
    const alike = zoom.views.filter((one) => one.said.member === view.said.member && one.said.name === view.said.name);
    const panel = alike.length > 1 ? zoom.on(view)[0]?.name || null : null;
    return { axis: view.said.name, panel, ends: view.now.map((end) => (view.time ? JSON.stringify(view.written(end)) : view.written(end))).join(", ") };
  });
}
