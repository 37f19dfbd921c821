/* Finding icons by half-remembered words. The same marks as the command line gives (outputs/search.py), so that both rank alike. */
const plain = (text) => text.toLowerCase().normalize("NFKD").replace(/\p{M}/gu, "");
const wordsOf = (text) => plain(text).match(/[\p{L}\p{N}]+/gu) ?? [];
const NAME = 1, ALIAS = 0.9, TAG = 0.75, TITLE = 0.6, TEXT = 0.35; // how much a word counts by where it stands

function index(icons) {
  for (const icon of icons) {
    const texts = [[icon.name, NAME], ...icon.aliases.map((a) => [a, ALIAS]), ...icon.tags.map((t) => [t, TAG]), [icon.title, TITLE], [icon.text, TEXT]];
    icon.words = texts.flatMap(([text, worth]) => wordsOf(text).map((word) => [word, worth]));
    icon.plain = wordsOf(icon.name).join(" ");
  }
}

function oneSlip(a, b) { // one letter more, less, other, or two swapped
  if (a.length > b.length) [a, b] = [b, a];
  let at = 0;
  while (at < a.length && a[at] === b[at]) at++;
  if (a.length < b.length) return a.slice(at) === b.slice(at + 1);
  return a.slice(at + 1) === b.slice(at + 1) || (a[at] === b[at + 1] && a[at + 1] === b[at] && a.slice(at + 2) === b.slice(at + 2));
}

function fit(asked, own, slips) {
  if (asked === own) return 1;
  if (own.startsWith(asked)) return 0.8;
  if (asked.length > 2 && own.includes(asked)) return 0.5;
  return slips && asked.length > 3 && Math.abs(asked.length - own.length) < 2 && oneSlip(asked, own) ? 0.4 : 0;
}

function score(icon, text, asked, slips) {
  if (text === icon.character || text.toLowerCase().replace(/^(u\+|0x|\\)/, "") === icon.hex) return 1;
  let total = 0;
  for (const meanings of asked) {
    let best = 0;
    for (const [word, worth] of meanings) for (const [own, place] of icon.words) best = Math.max(best, worth * place * fit(word, own, slips));
    if (!best) return 0;
    total += best;
  }
  const named = icon.plain === asked.map((meanings) => meanings[0][0]).join(" ");
  return asked.length ? Math.min(1, (total / asked.length) * (named ? 1 : 0.95)) : 0;
}

function find(icons, text, synonyms) {
  const asked = wordsOf(text).map((word) => [[word, 1], ...(synonyms[word] ?? []).map((other) => [plain(other), 0.9])]);
  for (const slips of [false, true]) { // only where nothing fits is a word taken for another that differs by a slip
    const hits = icons.map((icon) => [score(icon, text, asked, slips), icon]).filter(([s]) => s > 0);
    if (hits.length) return hits.sort((a, b) => b[0] - a[0] || a[1].name.length - b[1].name.length || (a[1].name < b[1].name ? -1 : 1)).map(([, icon]) => icon);
  }
  return [];
}
