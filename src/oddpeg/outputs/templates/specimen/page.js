/* The page: search, filters, the icons in sight, the keyboard, and the address that remembers all of it. */
const at = (id) => document.getElementById(id);
const data = JSON.parse(at("icons").textContent), { drop, synonyms } = data;
const BARE = { title: "", text: "", aliases: [], tags: [], findings: [], since: "", wide: 1 }; // what is not said of an icon
const known = (icon, number) => ({ ...BARE, ...icon, number, character: String.fromCodePoint(icon.code), hex: icon.code.toString(16).padStart(4, "0") });
const every = data.icons.map(known), gone = data.retired.map((icon) => ({ ...known(icon), character: "" }));
const room = at("room"), shown = at("shown"), panel = at("panel");
const KEPT = { q: "query", tag: "tag", show: "show", sort: "sort", weight: "weight", state: "state", palette: "palette", size: "size", ink: "ink", ground: "ground", smooth: "smooth", text: "wording" };
const standard = {}; // what each control is without being touched
const narrow = matchMedia("(max-width: 900px)");
let found = every, chosen = 0, pinned = false, columns = 1, high = 120, pending = 0, drawn = "";

const own = new CSSStyleSheet(); // the palette of one's own colours
document.adoptedStyleSheets.push(own);

const indexed = new Set();
function searched(icons) { // ready to be searched; large sets take a moment, which the first sight of the page need not wait for
  if (!indexed.has(icons)) index(icons);
  indexed.add(icons);
}

const versions = [...new Set(every.map((icon) => icon.since).filter(Boolean))].sort((a, b) => a.localeCompare(b, "en", { numeric: true }));
const later = (icon, version) => versions.indexOf(icon.since) > versions.indexOf(version);
const ORDER = {
  name: (a, b) => (a.name < b.name ? -1 : 1),
  codepoint: (a, b) => a.code - b.code,
  newest: (a, b) => versions.indexOf(b.since) - versions.indexOf(a.since) || b.code - a.code,
};

function offer(select, options) {
  select.append(...options.map(([value, text]) => new Option(text, value)));
  select.closest("label").hidden = options.length === 0;
}

function offerFilters() {
  const tags = [...new Set(every.flatMap((icon) => icon.tags))].sort();
  offer(at("tag"), tags.map((tag) => [tag, tag]));
  const faulty = every.filter((icon) => icon.findings.length).length;
  offer(at("show"), [
    ...versions.slice(0, -1).map((v) => [`since ${v}`, `new since ${v} (${every.filter((i) => later(i, v)).length})`]),
    ...(faulty ? [["findings", `with findings (${faulty})`]] : []),
    ...(gone.length ? [["retired", `retired (${gone.length})`]] : []),
  ]);
}

function sift() {
  const tag = at("tag").value, show = at("show").value;
  let icons = show === "retired" ? gone : every;
  if (tag) icons = icons.filter((icon) => icon.tags.includes(tag));
  if (show === "findings") icons = icons.filter((icon) => icon.findings.length);
  if (show.startsWith("since ")) icons = icons.filter((icon) => later(icon, show.slice(6)));
  const text = at("query").value.trim();
  if (text) for (const all of [every, gone]) searched(all);
  return text ? find(icons, text, synonyms) : Object.assign([...icons].sort(ORDER[at("sort").value] ?? ORDER.name), { whole: true });
}

function search() {
  found = sift();
  drawn = "";
  const count = found.length === every.length ? "" : `${found.length} of ${every.length}`;
  at("count").textContent = found.whole || !found.length ? count : `none has all of these; nearest: ${found.length}`;
  at("none").hidden = found.length > 0;
  choose(0);
  remember();
}

function remember() { // not at every key: browsers count how often an address changes
  clearTimeout(pending);
  pending = setTimeout(write, 150);
}

function write() {
  const state = new URLSearchParams();
  for (const [key, id] of Object.entries(KEPT)) {
    const value = at(id).value.trim();
    if (value && value !== standard[id]) state.set(key, value);
  }
  for (const id of ["words", "using"]) if (!at(id).hidden) state.set(id, "open");
  if (found[chosen] && !panel.hidden && (pinned || chosen)) state.set("icon", found[chosen].name);
  history.replaceState(null, "", `#${state}`);
}

function recall() {
  for (const id of Object.values(KEPT)) standard[id] = at(id).value.trim();
  const state = new URLSearchParams(location.hash.slice(1));
  for (const [key, id] of Object.entries(KEPT)) if (state.get(key)) at(id).value = state.get(key);
  for (const id of ["words", "using"]) unfold(id, state.get(id) === "open");
  return state.get("icon");
}

function lay() {
  document.documentElement.style.setProperty("--bar", `${document.querySelector(".bar").offsetHeight}px`);
  const pixels = Number(at("size").value);
  high = pixels + 72;
  columns = Math.max(1, Math.floor(room.clientWidth / Math.max(104, pixels + 40)));
  room.style.height = `${Math.ceil(found.length / columns) * high}px`;
  for (const [key, value] of [["columns", columns], ["high", `${high}px`], ["size", `${pixels}px`]]) shown.style.setProperty(`--${key}`, value);
  draw();
}

function cell(icon, number) {
  const made = button("", "", () => { choose(number, true); remember(); }, icon.retired ? "gone" : "");
  made.tabIndex = -1;
  made.id = `cell-${number}`;
  made.role = "option";
  made.ariaSelected = String(number === chosen);
  const broad = room.clientWidth / columns - 14; // what is too wide for its cell is shown smaller
  const look = icon.retired ? element("span", "retired", "sign") : face(icon, icon.wide * Number(at("size").value) > broad ? broad / icon.wide : 0);
  made.append(look, element("span", icon.name, "name"), element("span", `U+${icon.hex.toUpperCase()}`, "code"));
  return made;
}

function draw() {
  const top = room.getBoundingClientRect().top;
  const first = Math.max(0, Math.floor(-top / high) - 2), last = Math.ceil((innerHeight - top) / high) + 2;
  const now = [first, last, columns, high, chosen].join();
  if (now === drawn) return; // most movements of the wheel bring nothing new into sight
  drawn = now;
  shown.style.top = `${first * high}px`;
  shown.replaceChildren(...found.slice(first * columns, last * columns).map((icon, i) => cell(icon, first * columns + i)));
  if (at(`cell-${chosen}`)) room.setAttribute("aria-activedescendant", `cell-${chosen}`);
  else room.removeAttribute("aria-activedescendant");
}

function choose(number, asked = false) {
  chosen = Math.max(0, Math.min(number, found.length - 1));
  pinned = asked;
  lay();
  const icon = found[chosen];
  panel.hidden = !icon || (narrow.matches && !asked); // on a phone the panel covers the icons: only when one is touched
  if (!panel.hidden) fill(panel, icon, () => { panel.hidden = true; room.focus(); });
  if (icon && !icon.retired && !at("words").hidden) speak();
}

function move(number, asked = false) {
  choose(number, asked);
  const top = room.getBoundingClientRect().top + Math.floor(chosen / columns) * high, under = document.querySelector(".bar").offsetHeight + 8;
  const floor = innerHeight - (narrow.matches && !panel.hidden ? panel.offsetHeight : 0);
  if (top < under) scrollBy(0, top - under);
  else if (top + high > floor) scrollBy(0, top + high - floor);
  draw();
  remember();
}

function speak() { // the chosen icon, and those after it, in words
  const some = [0, 1, 2, 3].map((i) => found[(chosen + i) % found.length]).filter((icon) => icon && !icon.retired);
  const said = at("wording").value.trim();
  for (const spot of document.querySelectorAll("[data-icon]")) spot.textContent = some[Number(spot.dataset.icon) % some.length]?.character ?? "";
  for (const spot of document.querySelectorAll("[data-said]")) spot.textContent = said || spot.dataset.said;
}

function unfold(id, open) {
  at(id).hidden = !open;
  document.querySelector(`[aria-controls=${id}]`).setAttribute("aria-expanded", String(open));
  if (id === "words" && open) speak();
}

function paint() {
  const style = document.documentElement.style, weight = at("weight");
  weight.closest("label").hidden = weight.options ? weight.options.length < 2 : false;
  if (weight.value) style.setProperty("--weight", weight.value);
  const state = at("state");
  state.closest("label").hidden = state.options.length < 2;
  if (state.value) style.setProperty("--state", state.value);
  paintPalette(style);
  for (const id of ["ink", "ground"]) {
    if (at(id).value === standard[id]) style.removeProperty(`--own-${id}`);
    else style.setProperty(`--own-${id}`, at(id).value);
  }
  document.body.dataset.smooth = at("smooth").value;
}

function paintPalette(style) {
  const palette = at("palette"), entries = [...document.querySelectorAll("[data-entry]")];
  palette.closest("label").hidden = palette.options.length < 2;
  if (palette.value) style.setProperty("--palette", palette.value);
  for (const entry of entries) entry.closest("label").hidden = palette.value !== "--specimen-own";
  if (!entries.length) return;
  const colours = entries.map((entry) => `${entry.dataset.entry} ${entry.value}`).join(", ");
  own.replaceSync(`@font-palette-values --specimen-own { font-family: "specimen face"; override-colors: ${colours}; }`);
}

function dress() { // colour fields start with the colours of the page, light or dark
  const own = getComputedStyle(document.documentElement);
  for (const [id, name] of [["ink", "--ink"], ["ground", "--card"]]) {
    const untouched = standard[id] === undefined || at(id).value === standard[id];
    standard[id] = own.getPropertyValue(name).trim();
    if (untouched) at(id).value = standard[id];
  }
  paint();
}

for (const entry of document.querySelectorAll("[data-entry]")) entry.addEventListener("input", paint);

addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const query = at("query"), typing = event.target === query, choosing = typing || event.target === room;
  if (event.key === "/" && !/^(INPUT|SELECT|TEXTAREA)$/.test(event.target.tagName)) {
    event.preventDefault();
    query.focus();
    query.select();
  } else if (event.key === "Escape" && typing) {
    query.value = "";
    search();
  } else if (event.key === "Escape" && narrow.matches && !panel.hidden) {
    panel.hidden = true;
    room.focus();
  } else if (event.key === "Enter" && choosing && found[chosen] && !found[chosen].retired) {
    event.preventDefault();
    const [[where, line]] = detailed(found[chosen]).lines;
    copy(line, where);
  } else if (choosing || event.target === document.body) {
    const page = Math.max(1, Math.floor(innerHeight / high) - 1) * columns, sideways = typing ? {} : { ArrowRight: 1, ArrowLeft: -1, Home: -chosen, End: found.length };
    const step = { ArrowDown: columns, ArrowUp: -columns, PageDown: page, PageUp: -page, ...sideways }[event.key];
    if (step !== undefined && found.length) {
      event.preventDefault();
      move(chosen + step);
    }
  }
});
for (const id of ["query", "tag", "show", "sort"]) at(id).addEventListener("input", search);
for (const id of ["weight", "state", "palette", "size", "ink", "ground", "smooth", "wording"]) at(id).addEventListener("input", () => { paint(); lay(); speak(); remember(); });
for (const opener of document.querySelectorAll("[aria-controls]")) {
  opener.addEventListener("click", () => { unfold(opener.getAttribute("aria-controls"), opener.getAttribute("aria-expanded") !== "true"); lay(); remember(); });
}
at("filters").addEventListener("click", () => at("filters").setAttribute("aria-expanded", String(document.querySelector(".bar").classList.toggle("open"))));
for (const copier of document.querySelectorAll("[data-copy]")) copier.addEventListener("click", () => copy(copier.dataset.copy, copier.dataset.what));
addEventListener("scroll", draw, { passive: true });
addEventListener("resize", lay);
addEventListener("pagehide", write);
addEventListener("beforeprint", () => { drawn = ""; shown.replaceChildren(...found.map(cell)); });
addEventListener("afterprint", lay);
matchMedia("(prefers-color-scheme: dark)").addEventListener("change", dress);
document.fonts.load('24px "specimen face"', every[0]?.character).then((faces) => { at("alarm").hidden = faces.length > 0; }, () => { at("alarm").hidden = false; });

offerFilters();
dress();
const named = recall();
paint();
search();
if (named) move(Math.max(0, found.findIndex((icon) => icon.name === named)), true);
setTimeout(() => { searched(every); searched(gone); find(every, "warm", synonyms); }, 0); // browsers compile what has run before: the first key should not wait for it
