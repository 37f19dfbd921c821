/* Finding icons by half-remembered words, by the rules of the command line (iconset/search.py), so that both rank alike. */
const RULES = @RULES@;
const plain = (text) => text.toLowerCase().normalize("NFKD").replace(/\p{M}/gu, "");
const wordsOf = (text) => plain(text).match(/[\p{L}\p{N}]+/gu) ?? [];

const vocabulary = []; // every word there is, once: what it is worth for a query is worked out once, too

function index(icons) {
  const known = new Map(vocabulary.map((word, i) => [word, i]));
  const number = (word) => known.get(word) ?? (known.set(word, vocabulary.length), vocabulary.push(word) - 1);
  for (const icon of icons) {
    const place = RULES.place, texts = [[icon.name, place.name], ...icon.aliases.map((a) => [a, place.alias]), ...icon.tags.map((t) => [t, place.tag]), [icon.title, place.title], [icon.text, place.text]];
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
  if (asked === own) return RULES.match.whole;
  if (own.startsWith(asked)) return RULES.match.start;
  if (asked.length >= RULES.min_inside && own.includes(asked)) return RULES.match.inside;
  return slips && asked.length >= RULES.min_slip && Math.abs(asked.length - own.length) < 2 && oneSlip(asked, own) ? RULES.match.slip : 0;
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
  return asked.length ? Math.min(1, total / asked.length) * (icon.plain === named ? 1 : RULES.partly) : 0;
}

function find(icons, text, synonyms) {
  const words = wordsOf(text), named = words.join(" ");
  const meanings = words.map((word) => [[word, 1], ...(Object.hasOwn(synonyms, word) ? synonyms[word] : []).map((other) => [plain(other), RULES.other])]);
  for (const slips of [false, true]) { // only where nothing fits is a word taken for another that differs by a slip
    const asked = meanings.map((those) => vocabulary.map((own) => Math.max(...those.map(([word, worth]) => worth * fit(word, own, slips)))));
    const marked = icons.map((icon) => [Math.floor(1e6 * score(icon, text, asked, named) + 0.5), icon]);
    const hits = marked.filter(([mark]) => mark > 0);
    if (hits.length) return hits.sort((a, b) => b[0] - a[0] || a[1].name.length - b[1].name.length || (a[1].name < b[1].name ? -1 : 1)).map(([, icon]) => icon);
  }
  return [];
}
