/* Finding icons by half-remembered words. The same marks as the command line gives (outputs/search.py), so that both rank alike. */
const plain = (text) => text.toLowerCase().normalize("NFKD").replace(/\p{M}/gu, "");
const wordsOf = (text) => plain(text).match(/[\p{L}\p{N}]+/gu) ?? [];
const NAME = 1, ALIAS = 0.9, TAG = 0.75, TITLE = 0.6, TEXT = 0.35; // how much a word counts by where it stands

const vocabulary = []; // every word there is, once: what it is worth for a query is worked out once, too

function index(icons) {
  const known = new Map(vocabulary.map((word, i) => [word, i]));
  const number = (word) => known.get(word) ?? (known.set(word, vocabulary.length), vocabulary.push(word) - 1);
  for (const icon of icons) {
    const texts = [[icon.name, NAME], ...icon.aliases.map((a) => [a, ALIAS]), ...icon.tags.map((t) => [t, TAG]), [icon.title, TITLE], [icon.text, TEXT]];
    icon.words = texts.flatMap(([text, worth]) => wordsOf(text).map((word) => [number(word), worth]));
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

function score(icon, text, asked, named) { // asked: for each word of the query, what every word of the vocabulary is worth
  if (text === icon.character || text.toLowerCase().replace(/^(u\+|0x|\\)/, "") === icon.hex) return 1;
  let total = 0;
  for (const values of asked) {
    let best = 0;
    for (const [word, place] of icon.words) best = Math.max(best, place * values[word]);
    if (!best) return 0;
    total += best;
  }
  return asked.length ? Math.min(1, total / asked.length) * (icon.plain === named ? 1 : 0.95) : 0;
}

function find(icons, text, synonyms) {
  const words = wordsOf(text), named = words.join(" ");
  const meanings = words.map((word) => [[word, 1], ...(synonyms[word] ?? []).map((other) => [plain(other), 0.9])]);
  for (const slips of [false, true]) { // only where nothing fits is a word taken for another that differs by a slip
    const asked = meanings.map((those) => vocabulary.map((own) => Math.max(...those.map(([word, worth]) => worth * fit(word, own, slips)))));
    const marked = icons.map((icon) => [Math.round(1e6 * score(icon, text, asked, named)), icon]);
    const hits = marked.filter(([mark]) => mark > 0);
    if (hits.length) return hits.sort((a, b) => b[0] - a[0] || a[1].name.length - b[1].name.length || (a[1].name < b[1].name ? -1 : 1)).map(([, icon]) => icon);
  }
  return [];
}
