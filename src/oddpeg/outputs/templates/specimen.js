"use strict";
/* The specimen: search, choose, copy. Everything shown is set as text, never as markup. Only the rows in sight are in the page. */
const { drop, grid, icons } = JSON.parse(document.getElementById("icons").textContent);
const at = (id) => document.getElementById(id);
const query = at("query"), room = at("room"), shown = at("shown"), panel = at("panel"), size = at("size");
const plain = (text) => text.toLowerCase().normalize("NFKD").replace(/\p{M}/gu, "");
for (const icon of icons) {
  icon.words = [[icon.name, 1], ...icon.aliases.map((a) => [a, 0.9]), ...icon.tags.map((t) => [t, 0.75]), [icon.title, 0.6]]
    .flatMap(([text, worth]) => (plain(text).match(/[\p{L}\p{N}]+/gu) ?? []).map((word) => [word, worth]));
}
let found = icons, chosen = 0, pinned = false, columns = 1, high = 120;

function fit(asked, own) {
  if (asked === own) return 1;
  if (own.startsWith(asked)) return 0.8;
  return asked.length > 2 && own.includes(asked) ? 0.5 : 0;
}

function score(icon, asked, text) {
  if (text === icon.character || text.toLowerCase().replace(/^(u\+|0x|\\)/, "") === icon.hex) return 1;
  let total = 0;
  for (const word of asked) {
    let best = 0;
    for (const [own, worth] of icon.words) best = Math.max(best, worth * fit(word, own));
    if (!best) return 0;
    total += best;
  }
  return asked.length ? total / asked.length : 0;
}

function search() {
  const text = query.value.trim(), asked = plain(text).match(/[\p{L}\p{N}]+/gu) ?? [];
  found = text ? icons.map((icon) => [score(icon, asked, text), icon]).filter(([s]) => s > 0)
    .sort((a, b) => b[0] - a[0] || a[1].name.length - b[1].name.length || (a[1].name < b[1].name ? -1 : 1)).map(([, icon]) => icon) : icons;
  at("count").textContent = text ? `${found.length} of ${icons.length}` : "";
  choose(0);
  remember();
}

function remember() {
  const state = new URLSearchParams();
  if (query.value.trim()) state.set("q", query.value.trim());
  if (found[chosen] && !panel.hidden && (pinned || chosen)) state.set("icon", found[chosen].name);
  history.replaceState(null, "", `#${state}`);
}

function lay() {
  const pixels = Number(size.value);
  high = pixels + 72;
  columns = Math.max(1, Math.floor(room.clientWidth / Math.max(112, pixels + 40)));
  room.style.height = `${Math.ceil(found.length / columns) * high}px`;
  shown.style.setProperty("--columns", columns);
  shown.style.setProperty("--high", `${high}px`);
  shown.style.setProperty("--size", `${pixels}px`);
  draw();
}

function draw() {
  const top = room.getBoundingClientRect().top;
  const first = Math.max(0, Math.floor(-top / high) - 2), last = Math.ceil((innerHeight - top) / high) + 2;
  shown.style.top = `${first * high}px`;
  const cells = found.slice(first * columns, last * columns).map((icon, i) => {
    const cell = document.createElement("button"), face = document.createElement("span"), name = document.createElement("span");
    const number = first * columns + i;
    cell.type = "button";
    cell.tabIndex = -1;
    cell.id = `cell-${number}`;
    cell.role = "option";
    cell.ariaSelected = String(number === chosen);
    face.className = "face";
    face.ariaHidden = "true";
    face.textContent = icon.character;
    name.textContent = icon.name;
    cell.append(face, name);
    cell.addEventListener("click", () => { choose(number, true); remember(); });
    return cell;
  });
  shown.replaceChildren(...cells);
  if (found[chosen]) room.setAttribute("aria-activedescendant", `cell-${chosen}`);
  else room.removeAttribute("aria-activedescendant");
}

function element(tag, text, className) {
  const made = document.createElement(tag);
  if (text) made.textContent = text;
  if (className) made.className = className;
  return made;
}

function choose(number, asked = false) {
  chosen = Math.max(0, Math.min(number, found.length - 1));
  pinned = asked;
  lay();
  const icon = found[chosen], narrow = matchMedia("(max-width: 860px)").matches;
  panel.hidden = !icon || (narrow && !asked); // on a phone the panel covers the icons: only when one is touched
  if (panel.hidden) return;
  const face = (pixels) => {
    const made = element("span", icon.character, "face");
    made.ariaHidden = "true";
    if (pixels) made.style.fontSize = `${pixels}px`;
    return made;
  };
  const stage = element("div", "", "stage"), em = face(0), base = element("i"), high = narrow ? 144 : 216;
  em.classList.add("em");
  em.style.setProperty("--pixel", `${high / (grid || 24)}px`);
  base.append(element("b", "baseline"));
  base.style.top = `${((stage.clientHeight || high + 32) - high) / 2 + high * (1 - drop)}px`;
  stage.append(em, base);
  const rows = ["light", "dark"].map((tone) => {
    const row = element("div", "", `sizes ${tone}`);
    row.append(...[12, 16, 20, 24, 32, 48, 64].map(face));
    return row;
  });
  const lines = element("ul", "", "lines");
  for (const [place, text] of icon.lines) {
    const item = element("li"), copier = element("button", "copy");
    copier.type = "button";
    copier.setAttribute("aria-label", `copy ${place}`);
    copier.addEventListener("click", () => copy(text, place));
    item.append(element("span", place), element("code", text, text === icon.character ? "face" : ""), copier);
    lines.append(item);
  }
  const facts = [icon.aliases.length ? `also called ${icon.aliases.join(", ")}` : "", icon.tags.join(", "), [icon.licence, icon.credit].filter(Boolean).join(" · ")].filter(Boolean);
  const head = [`U+${icon.hex.toUpperCase()}`, icon.title].filter(Boolean).join(" · ");
  const close = element("button", "close", "close");
  close.type = "button";
  close.addEventListener("click", () => { panel.hidden = true; room.focus(); });
  panel.replaceChildren(close, element("h2", icon.name), element("p", head), lines, stage, ...rows, ...facts.map((f) => element("p", f)));
  base.style.top = `${em.offsetTop + em.offsetHeight * (1 - drop)}px`;
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

function move(number, asked = false) {
  choose(number, asked);
  const top = room.getBoundingClientRect().top + Math.floor(chosen / columns) * high;
  if (top < 80) scrollBy(0, top - 80);
  else if (top + high > innerHeight) scrollBy(0, top + high - innerHeight);
  draw();
  remember();
}

addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const typing = event.target === query;
  if (event.key === "/" && !typing) {
    event.preventDefault();
    query.focus();
    query.select();
  } else if (event.key === "Escape" && typing) {
    query.value = "";
    search();
  } else if (event.key === "Enter" && (typing || event.target === room) && found[chosen]) {
    event.preventDefault();
    copy(found[chosen].lines[0][1], found[chosen].lines[0][0]);
  } else if (typing || event.target === room || event.target === document.body) {
    const step = { ArrowDown: columns, ArrowUp: -columns, ...(typing ? {} : { ArrowRight: 1, ArrowLeft: -1 }) }[event.key];
    if (step) {
      event.preventDefault();
      move(chosen + step);
    }
  }
});
query.addEventListener("input", search);
size.addEventListener("input", lay);
addEventListener("scroll", draw, { passive: true });
addEventListener("resize", lay);
document.fonts.load('24px "specimen face"', icons[0]?.character).then((faces) => { at("alarm").hidden = faces.length > 0; }, () => { at("alarm").hidden = false; });
const before = new URLSearchParams(location.hash.slice(1)), named = before.get("icon");
query.value = before.get("q") ?? "";
search();
if (named) move(Math.max(0, found.findIndex((icon) => icon.name === named)), true);
