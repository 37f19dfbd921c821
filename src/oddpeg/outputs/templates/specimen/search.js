/* Finding icons by half-remembered words, by the rules of the command line (iconset/search.py), so that both rank alike. */
const RULES = @RULES@;
const isPlain = /^[\0-\x7f]*$/;
const plain = (text) => (isPlain.test(text) ? text.toLowerCase() : text.toLowerCase().normalize("NFKD").replace(/\p{M}/gu, ""));
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

const vocabulary = [], spots = []; // every word there is, once; how many icons are indexed
let listed = "", starts = [], sameStem = new Map(), places = [], answers = new Map();

function index(icons) {
  const known = new Map(vocabulary.map((word, i) => [word, i]));
  const number = (word) => known.get(word) ?? (known.set(word, vocabulary.length), vocabulary.push(word) - 1);
  for (const icon of icons) {
    const place = RULES.place, names = [[icon.name, place.name], ...icon.aliases.map((a) => [a, place.alias])];
    const joined = names.filter(([text]) => text.includes("-")).map(([text, worth]) => [text.replaceAll("-", ""), worth]);
    const texts = [...names, ...joined, ...icon.tags.map((t) => [t, place.tag]), [icon.title, place.title], [icon.text, place.text]];
    icon.words = [];
    icon.worths = [];
    for (const [text, worth] of texts) for (const word of wordsOf(text)) icon.worths[icon.words.push(number(word)) - 1] = worth;
    icon.plain = wordsOf(icon.name).join(" ");
    icon.spot = spots.push(icon) - 1;
  }
  const order = [...icons].sort((a, b) => a.name.length - b.name.length || (a.name < b.name ? -1 : 1));
  order.forEach((icon, rank) => { icon.rank = rank; }); // among icons that fit equally well
  lookUp();
}

function lookUp() { // what finds words without looking at each, and icons without looking at each
  listed = `\n${vocabulary.join("\n")}\n`;
  starts = new Int32Array(vocabulary.length);
  sameStem.clear();
  let at = 1;
  vocabulary.forEach((word, i) => {
    starts[i] = at;
    at += word.length + 1;
    const root = stem(word), those = sameStem.get(root);
    if (those) those.push(i);
    else sameStem.set(root, [i]);
  });
  places = vocabulary.map(() => []); // of each word: icon, what it is worth there, icon, …
  for (const icon of spots) icon.words.forEach((word, i) => places[word].push(icon.spot, icon.worths[i]));
  answers.clear();
}

function endsAlike(a, i, b, j) { // all of a from i on, and as much of b from j on
  while (i < a.length && a.charCodeAt(i) === b.charCodeAt(j)) i++, j++;
  return i >= a.length;
}

function oneSlip(a, b, size) { // one letter more, less, other, or two swapped, in the first `size` letters of b
  let at = 0;
  while (at < a.length && at < size && a.charCodeAt(at) === b.charCodeAt(at)) at++;
  if (size === a.length + 1) return endsAlike(a, at, b, at + 1);
  if (size === a.length - 1) return endsAlike(a, at + 1, b, at);
  if (size !== a.length) return false;
  if (endsAlike(a, at + 1, b, at + 1)) return true;
  return a.charCodeAt(at) === b.charCodeAt(at + 1) && a.charCodeAt(at + 1) === b.charCodeAt(at) && endsAlike(a, at + 2, b, at + 2);
}

function wordAt(position) { // the number of the word that stands there
  let low = 0, high = starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle] <= position) low = middle;
    else high = middle - 1;
  }
  return low;
}

function fitting(asked, slips) { // → what words of the vocabulary are worth, by their numbers; others nothing
  const { match, min_inside, min_slip } = RULES, size = asked.length, found = new Map();
  const sought = size >= min_inside ? asked : `\n${asked}`;
  for (let at = listed.indexOf(sought); at >= 0;) {
    const number = wordAt(at + sought.length - size), own = vocabulary[number];
    found.set(number, own === asked ? match.whole : own.startsWith(asked) ? match.start : match.inside);
    at = listed.indexOf(sought, starts[number] + own.length);
  }
  for (const number of sameStem.get(stem(asked)) ?? []) found.set(number, Math.max(match.stem, found.get(number) ?? 0));
  if (!slips || size < min_slip) return found;
  const first = asked.charCodeAt(0), second = asked.charCodeAt(1);
  vocabulary.forEach((own, number) => {
    const a = own.charCodeAt(0), b = own.charCodeAt(1);
    if (a !== first && a !== second && b !== first && b !== second) return; // one slip leaves more alike than that
    if (found.has(number)) return;
    if (oneSlip(asked, own, own.length)) found.set(number, match.slip);
    else for (let length = size - 1; length < size + 2 && length < own.length; length++) if (oneSlip(asked, own, length)) found.set(number, match.slip_start);
  });
  return found;
}

function values(meanings, slips) { // of words that mean the same: what they are worth in every icon
  const key = JSON.stringify([meanings, slips]), known = answers.get(key);
  if (known) return known; // the words before the one that is being typed
  const best = new Float64Array(spots.length), worths = new Map();
  for (const [word, worth] of meanings) {
    for (const [number, fits] of fitting(word, slips)) worths.set(number, Math.max(worths.get(number) ?? 0, worth * fits));
  }
  for (const [number, worth] of worths) {
    const where = places[number];
    for (let i = 0; i < where.length; i += 2) best[where[i]] = Math.max(best[where[i]], where[i + 1] * worth);
  }
  if (answers.size > 31) answers.delete(answers.keys().next().value);
  answers.set(key, best);
  return best;
}

function score(icon, code, asked, named) { // asked: for each word of the query, what it is worth in every icon
  if (code === icon.code) return 1; // 0 where no word fits, below where some do and others don't
  let total = 0, fits = 0;
  for (const worth of asked) {
    const best = worth[icon.spot];
    total += best;
    fits += best > 0;
  }
  if (!fits) return 0;
  const share = Math.min(1, total / asked.length) * (icon.plain === named ? 1 : RULES.partly);
  return fits === asked.length ? share : -share;
}

const RANKS = 2 ** 21; // more than a font can have glyphs

function ranked(hits, marks, whole) { // icons, best first, whose marks go to a million
  const byRank = [], keys = new Float64Array(hits.length);
  hits.forEach((icon, i) => {
    byRank[icon.rank] = icon;
    keys[i] = (1e6 - marks[i]) * RANKS + icon.rank;
  });
  return Object.assign(Array.from(keys.sort(), (key) => byRank[key % RANKS]), { whole });
}

function find(icons, text, synonyms) { // icons, best first; `whole` says whether they fit every word
  const words = askedWords(text), named = words.join(" "), code = codeAsked(text);
  const meanings = words.map((word) => [[word, 1], ...(synonyms[[word, stem(word)].find((own) => Object.hasOwn(synonyms, own))] ?? []).map((other) => [plain(other), RULES.other])]);
  let some = [], marks = [];
  for (const slips of [false, true]) { // only where nothing fits is a word taken for another that differs by a slip
    const asked = meanings.map((those) => values(those, slips)), scores = icons.map((icon) => score(icon, code, asked, named));
    const whole = scores.some((share) => share > 0);
    some = icons.filter((icon, i) => (whole ? scores[i] > 0 : scores[i] < 0));
    marks = scores.filter((share) => (whole ? share > 0 : share < 0)).map((share) => Math.floor(1e6 * Math.abs(share) + 0.5));
    if (whole) return ranked(some, marks, true);
  }
  return ranked(some, marks, false);
}
