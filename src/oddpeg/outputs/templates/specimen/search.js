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

const vocabulary = [], stems = []; // every word there is, once: what it is worth for a query is worked out once, too

function index(icons) {
  const known = new Map(vocabulary.map((word, i) => [word, i]));
  const number = (word) => known.get(word) ?? (known.set(word, vocabulary.length), stems.push(stem(word)), vocabulary.push(word) - 1);
  for (const icon of icons) {
    const place = RULES.place, names = [[icon.name, place.name], ...icon.aliases.map((a) => [a, place.alias])];
    const joined = names.filter(([text]) => text.includes("-")).map(([text, worth]) => [text.replaceAll("-", ""), worth]);
    const texts = [...names, ...joined, ...icon.tags.map((t) => [t, place.tag]), [icon.title, place.title], [icon.text, place.text]];
    icon.words = [];
    icon.worths = [];
    for (const [text, worth] of texts) for (const word of wordsOf(text)) icon.worths[icon.words.push(number(word)) - 1] = worth;
    icon.plain = wordsOf(icon.name).join(" ");
  }
  const order = [...icons].sort((a, b) => a.name.length - b.name.length || (a.name < b.name ? -1 : 1));
  order.forEach((icon, rank) => { icon.rank = rank; }); // among icons that fit equally well
}

function oneSlip(a, b) { // one letter more, less, other, or two swapped
  if (a.length > b.length) [a, b] = [b, a];
  let at = 0;
  while (at < a.length && a[at] === b[at]) at++;
  if (a.length < b.length) return a.slice(at) === b.slice(at + 1);
  return a.slice(at + 1) === b.slice(at + 1) || (a[at] === b[at + 1] && a[at + 1] === b[at] && a.slice(at + 2) === b.slice(at + 2));
}

function fitting(asked, slips) { // → what a word of the vocabulary is worth, by its number
  const { match, min_inside, min_slip } = RULES, size = asked.length, root = stem(asked), third = Math.floor(size / 3);
  const parts = [asked.slice(0, third), asked.slice(third, 2 * third), asked.slice(2 * third)]; // a slip leaves one as it is
  return (number) => {
    const own = vocabulary[number];
    if (asked === own) return match.whole;
    if (own.startsWith(asked)) return match.start;
    if (root === stems[number]) return match.stem;
    if (size >= min_inside && own.includes(asked)) return match.inside;
    if (!slips || size < min_slip || !parts.some((part) => own.includes(part))) return 0;
    if (Math.abs(size - own.length) < 2 && oneSlip(asked, own)) return match.slip;
    const starts = [size - 1, size, size + 1].filter((length) => length < own.length);
    return starts.some((length) => oneSlip(asked, own.slice(0, length))) ? match.slip_start : 0;
  };
}

function values(meanings, slips) { // of words that mean the same: what every word of the vocabulary is worth
  const found = new Float64Array(vocabulary.length);
  for (const [word, worth] of meanings) {
    const fits = fitting(word, slips);
    for (let i = 0; i < found.length; i++) found[i] = Math.max(found[i], worth * fits(i));
  }
  return found;
}

function score(icon, code, asked, named) { // asked: for each word of the query, what every word of the vocabulary is worth
  if (code === icon.code) return 1; // 0 where no word fits, below where some do and others don't
  const { words, worths } = icon;
  let total = 0, fits = 0;
  for (const worth of asked) {
    let best = 0;
    for (let i = 0; i < words.length; i++) best = Math.max(best, worths[i] * worth[words[i]]);
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
  const meanings = words.map((word) => [[word, 1], ...(Object.hasOwn(synonyms, word) ? synonyms[word] : []).map((other) => [plain(other), RULES.other])]);
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
