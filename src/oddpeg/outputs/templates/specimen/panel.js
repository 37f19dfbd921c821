/* The panel: one icon, its lines to copy, how it looks, what is known of it. Everything is set as text, never as markup. */
const side = () => (narrow.matches ? 144 : 192); // pixels of the em on the stage: whole pixels per unit of the usual grids

function element(tag, text = "", className = "") {
  const made = document.createElement(tag);
  if (text) made.textContent = text;
  if (className) made.className = className;
  return made;
}

function button(text, label, act, className = "copier") {
  const made = element("button", text, className);
  made.type = "button";
  if (label) made.setAttribute("aria-label", label);
  made.addEventListener("click", act);
  return made;
}

function face(icon, pixels = 0) {
  const made = element("span", icon.character, "face");
  made.ariaHidden = "true";
  if (pixels) made.style.fontSize = `${pixels}px`;
  return made;
}

async function copy(text, place) {
  try {
    await navigator.clipboard.writeText(text);
  } catch {
    const area = element("textarea", text);
    document.body.append(area);
    area.select();
    document.execCommand("copy");
    area.remove();
  }
  at("said").textContent = `copied ${place}`;
  at("count").textContent = `copied ${place}`;
}

function place(box, [left, top, right, bottom], em) { // in ems from the upper left corner
  box.style.cssText = `left:${left * em}px;top:${top * em}px;width:${(right - left) * em}px;height:${(bottom - top) * em}px`;
  return box;
}

function gridStep(lines) { // units between lines, so that no more than 48 are drawn
  return [1, 2, 4, 5, 8, 10, 16, 20, 32, 50, 64, 100].find((step) => lines / step <= 48) ?? lines / 32;
}

function stage(icon, shown, what, size = "") {
  const em = side() / Math.max(1, icon.wide), figure = element("figure"), board = element("div", "", "board");
  board.style.cssText = `width:${em * icon.wide}px;height:${em}px;font-size:${em}px`;
  if (icon.grid) board.style.setProperty("--pixel", `${(em / icon.grid) * gridStep(icon.grid)}px`);
  board.append(shown);
  if (what === "glyph" && !size) {
    board.append(place(element("i", "", "base"), [0, 1 - drop, icon.wide, 1 - drop], em));
    if (icon.ink.length) board.append(place(element("i", "", "ink"), icon.ink, em));
  }
  const well = element("div", "", what === "glyph" ? "well" : "well paper"); // drawings are dark as a rule, whatever the page is
  well.append(board);
  figure.append(well, element("figcaption", what + size));
  return figure;
}

function beside(icon, glyph, svg, size) { // a glyph, and its drawing if the page has it
  const pair = element("div", "", "stages");
  pair.append(stage(icon, glyph, "glyph", size));
  if (svg) {
    const picture = element("img");
    picture.alt = "";
    picture.src = `data:image/svg+xml,${encodeURIComponent(svg)}`;
    const drawing = stage(icon, picture, "drawing", size);
    drawing.lastChild.append(button("copy as SVG", "", () => copy(svg, "SVG")));
    pair.append(drawing);
  }
  return pair;
}

function stages(icon) {
  const pairs = [beside(icon, face(icon), icon.svg)];
  for (const [pixels, svg, grid] of icon.small ?? []) {
    const glyph = face(icon);
    glyph.style.fontVariationSettings = `"opsz" ${pixels}`;
    pairs.push(beside({ ...icon, grid }, glyph, svg, ` for ${pixels} px`));
  }
  const step = icon.grid ? gridStep(icon.grid) : 0, units = step === 1 ? "a line for every unit" : `a line for every ${step} units`;
  const legend = icon.grid ? `grid of ${icon.grid}, ${units}; dashed: baseline; dotted: ink` : "dashed: baseline; dotted: ink";
  return [...pairs, element("p", legend)];
}

function lineList(lines, character) {
  const list = element("ul", "", "lines");
  for (const [where, text] of lines) {
    const item = element("li"), code = element("code", text, text === character ? "face" : "");
    code.title = text;
    item.append(element("span", where), code, button("copy", `copy ${where}`, () => copy(text, where)));
    list.append(item);
  }
  return list;
}

function sizeRows(icon) {
  return ["light", "dark"].map((tone) => {
    const row = element("div", "", `sizes ${tone}`);
    for (const pixels of [12, 16, 20, 24, 32, 48, 64, 96]) {
      const one = element("span", "", "one");
      one.append(face(icon, pixels), element("small", String(pixels)));
      row.append(one);
    }
    return row;
  });
}

function facts(icon) {
  const facts = [
    ["also called", icon.aliases.join(", ")], ["tags", icon.tags.join(", ")], ["shows", icon.text], ["licence", icon.licence],
    ["credit", icon.credit], ["drawn in", icon.source], ["came with", icon.since && `version ${icon.since}`],
  ].filter(([, text]) => text);
  const list = element("dl");
  for (const [what, text] of facts) {
    const row = element("div");
    row.append(element("dt", what), element("dd", text));
    list.append(row);
  }
  return list;
}

function findings(icon) {
  const list = element("ul", "", "findings");
  for (const [level, what, cure] of icon.findings) {
    const item = element("li", "", level);
    item.append(element("b", level), ` ${what}`, cure ? element("span", `Cure: ${cure}`) : "");
    list.append(item);
  }
  return list;
}

let told; // what the panel says of each icon, in lines of JSON
function detailed(icon) {
  told ??= at("details").textContent.split("\n");
  return Object.assign(icon, JSON.parse(told[icon.number]));
}

function fill(panel, icon, leave) {
  const head = [`U+${icon.hex.toUpperCase()}`, icon.title].filter(Boolean).join(" · ");
  const top = [button("close", "", leave, "close"), element("h2", icon.name), element("p", icon.retired ? `U+${icon.hex.toUpperCase()} · retired` : head)];
  if (icon.retired) {
    const lines = [["bring back", `oddpeg pegs restore ${icon.name}`], ["codepoint", `U+${icon.hex.toUpperCase()}`]];
    panel.replaceChildren(...top, element("p", "Its drawing is gone, so the font has no glyph for it. The codepoint stays taken: no other icon ever gets it."), lineList(lines));
  } else {
    detailed(icon);
    panel.replaceChildren(...top, ...(icon.findings.length ? [findings(icon)] : []), ...stages(icon), lineList(icon.lines, icon.character), ...sizeRows(icon), facts(icon));
  }
}
