/* Finding icons by half-remembered words, by the rules of the command line (iconset/search.py), so that both rank alike. */
const RULES = @RULES@;
const plain = (text) => text.toLowerCase().normalize("NFKD").replace(/\p{M}/gu, "");
const wordsOf = (text) => plain(text).match(/[\p{L}\p{N}]+/gu) ?? [];

const stops = new Set(RULES.stop);
const askedWords = (text) => { // without words that stand everywhere, if others are left
  const words = wordsOf(text), kept = words.filter((word) => !stops.has(word));
  return kept.length ? kept : words;
};

function stem(word) {
  for (const [ending, instead, least] of RULES.endings) {
    if (!word.endsWith(ending)) continue;
    const rest = word.slice(0, word.length - ending.length);
    if (rest.length < least || rest.endsWith(ending)) continue;
    const doubled = (ending === "ing" || ending === "ed") && rest.length > 3 && rest.at(-1) === rest.at(-2);
    return (doubled ? rest.slice(0, -1) : rest) + instead;
  }
  return word;
}

function codeAsked(query) { // a codepoint, however it is spelled
  const text = query.trim().replace(/^["']+|["']+$/g, "").toLowerCase(), pair = text.match(RULES.surrogates);
  if (pair) return 0x10000 + ((parseInt(pair[1], 16) - 0xd800) << 10) + parseInt(pair[2], 16) - 0xdc00;
  for (const [spelling, base] of RULES.spellings) {
    const match = text.match(spelling);
    if (match) return parseInt(match[1], base);
  }
  const code = text.codePointAt(0);
  return code > 0x7f && text === String.fromCodePoint(code) ? code : -1;
}

const vocabulary = []; // every word there is, once: what it is worth for a query is worked out once, too

function index(icons) {
  const known = new Map(vocabulary.map((word, i) => [word, i]));
  const number = (word) => known.get(word) ?? (known.set(word, vocabulary.length), vocabulary.push(word) - 1);
  for (const icon of icons) {
    const place = RULES.place, names = [[icon.name, place.name], ...icon.aliases.map((a) => [a, place.alias])];
    const joined = names.filter(([text]) => text.includes("-")).map(([text, worth]) => [text.replaceAll("-", ""), worth]);
    const texts = [...names, ...joined, ...icon.tags.map((t) => [t, place.tag]), [icon.title, place.title], [icon.text, place.text]];
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
  if (stem(asked) === stem(own)) return RULES.match.stem;
  if (asked.length >= RULES.min_inside && own.includes(asked)) return RULES.match.inside;
  if (!slips || asked.length < RULES.min_slip) return 0;
  if (Math.abs(asked.length - own.length) < 2 && oneSlip(asked, own)) return RULES.match.slip;
  const starts = [-1, 0, 1].map((more) => asked.length + more).filter((length) => length < own.length);
  return starts.some((length) => oneSlip(asked, own.slice(0, length))) ? RULES.match.slip_start : 0;
}

function score(icon, code, asked, named) { // asked: for each word of the query, what every word of the vocabulary is worth
  if (code === icon.character.codePointAt(0)) return [1, true];
  let total = 0, fitting = 0;
  for (const values of asked) {
    let best = 0;
    for (const [word, place] of icon.words) best = Math.max(best, place * values[word]);
    total += best;
    fitting += best > 0;
  }
  if (!fitting) return [0, false];
  return [Math.min(1, total / asked.length) * (icon.plain === named ? 1 : RULES.partly), fitting === asked.length];
}

function find(icons, text, synonyms) { // icons, best first; `whole` says whether they fit every word
  const words = askedWords(text), named = words.join(" "), code = codeAsked(text);
  const meanings = words.map((word) => [[word, 1], ...(Object.hasOwn(synonyms, word) ? synonyms[word] : []).map((other) => [plain(other), RULES.other])]);
  const ranked = (hits, whole) => Object.assign(hits.sort((a, b) => b[0] - a[0] || a[1].name.length - b[1].name.length || (a[1].name < b[1].name ? -1 : 1)).map(([, icon]) => icon), { whole });
  let some = [];
  for (const slips of [false, true]) { // only where nothing fits is a word taken for another that differs by a slip
    const asked = meanings.map((those) => vocabulary.map((own) => Math.max(...those.map(([word, worth]) => worth * fit(word, own, slips)))));
    const marked = icons.map((icon) => [score(icon, code, asked, named), icon]).map(([[share, whole], icon]) => [Math.floor(1e6 * share + 0.5), icon, whole]);
    some = marked.filter(([mark]) => mark > 0);
    const hits = some.filter(([, , whole]) => whole);
    if (hits.length) return ranked(hits, true);
  }
  return ranked(some, false);
}
