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
  const several = new Set(zoom.views.map((view) => view.said.member)).size > 1;
  if (views.length) verbs.push("# the same view");
  for (const { member, axis, panel, ends } of views) {
    // On a plate each figure has scales of its own.
    const whose = several ? `  # figure ${member + 1}` : "";
    verbs.push(`.scale("${axis}", limits=${panel === null ? `(${ends})` : `{${JSON.stringify(panel)}: (${ends})}`})${whose}`);
    keys.push(`scale.${axis}.limits${panel === null ? "" : `.${JSON.stringify(panel)}`} = [${ends}]${whose}`);
  }
  return `${verbs.join("\n")}\n# in a plan\n${keys.join("\n")}\n`;
}

/** @param {Zoom} zoom Limits of the axes of which not all is seen; of single panels, or rows of them, where these have axes of their own. */
function limitsOf(zoom) {
  return zoom.views.filter((view) => !view.whole).map((view) => {
    const { member, name, said } = view.said;
    const alike = zoom.views.filter((one) => one.said.member === member && one.said.name === name);
    const names = zoom.on(view).map((panel) => panel.name);
    const shared = names[0]?.split(", ").find((part) => names.every((one) => one.split(", ").includes(part)));
    const panel = alike.length < 2 ? null : (names.length > 1 ? shared : names[0]) || null;
    return { member, axis: said, panel, ends: view.now.map((end) => (view.time ? JSON.stringify(view.written(end)) : view.written(end))).join(", ") };
  });
}
