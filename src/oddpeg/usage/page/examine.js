// Runs in a world of its own: finds the elements of a page that should show an icon, and says how each is laid out.
(expected) => {
  const names = new Map(Object.entries(expected.names)); // name or alias → codepoint
  const codes = new Set(names.values());
  const lead = `${expected.prefix}-`;
  const family = expected.family.toLowerCase();
  const found = [];

  const iconOf = (element) => {
    for (const word of element.classList) {
      if (word.startsWith(lead) && names.has(word.slice(lead.length))) return word.slice(lead.length);
    }
    return "";
  };
  const parsed = (content) => {
    const match = /^(["'])((?:\\.|(?!\1).)*)\1/s.exec(content); // a computed value escapes quotes and backslashes only
    return match ? match[2].replace(/\\(.)/gs, "$1") : "";
  };
  const ownText = (element) =>
    [...element.childNodes].map((node) => (node.nodeType === Node.TEXT_NODE ? node.data : "")).join("").trim();
  const isOurs = (style) => style.fontFamily.toLowerCase().replace(/["']/g, "").includes(family);
  const charactersOf = (text) => [...text].map((letter) => letter.codePointAt(0));
  const hasCode = (text) => charactersOf(text).some((code) => codes.has(code));

  // where the characters come from: the element's ::before or ::after, or its own text
  const sourceOf = (element, icon) => {
    for (const part of ["::before", "::after"]) {
      const style = getComputedStyle(element, part);
      const text = parsed(style.content);
      if (text && (icon || hasCode(text) || isOurs(style))) return [part, text, style];
    }
    const text = ownText(element);
    const style = getComputedStyle(element);
    const shown = text && [...text].length <= 64 && (hasCode(text) || (isOurs(style) && style.fontFamily.length));
    if (shown && (isOurs(style) || icon)) return ["", text, style];
    return ["", "", style];
  };
  const describe = (element) => {
    const parts = [];
    for (let at = element; at && at.nodeType === Node.ELEMENT_NODE && parts.length < 3; at = at.parentElement) {
      const classes = [...at.classList].slice(0, 3).map((word) => `.${CSS.escape(word)}`).join("");
      parts.unshift(at.localName + (at.id ? `#${CSS.escape(at.id)}` : "") + classes);
      if (at.id) break;
    }
    return parts.join(" > ").slice(0, 300);
  };
  const up = (element) => element.parentElement || (element.getRootNode() instanceof ShadowRoot ? element.getRootNode().host : null);
  const hiddenBy = (element) => {
    for (let at = element; at; at = up(at)) {
      const style = getComputedStyle(at);
      if (style.display === "none") return "display: none";
      if (Number(style.opacity) === 0) return "opacity: 0";
    }
    return getComputedStyle(element).visibility === "visible" ? "" : "visibility: hidden";
  };
  const shownPart = (element, box) => {
    let [left, top, right, bottom] = [box.left, box.top, box.right, box.bottom];
    for (let at = up(element); at && at !== document.body && at !== document.documentElement; at = up(at)) {
      const style = getComputedStyle(at);
      const frame = at.getBoundingClientRect();
      const scrolls = (value) => value === "auto" || value === "scroll"; // a user can scroll it into view
      if (style.overflowX !== "visible" && !scrolls(style.overflowX)) {
        left = Math.max(left, frame.left);
        right = Math.min(right, frame.right);
      }
      if (style.overflowY !== "visible" && !scrolls(style.overflowY)) {
        top = Math.max(top, frame.top);
        bottom = Math.min(bottom, frame.bottom);
      }
    }
    const whole = box.width * box.height;
    return whole ? (Math.max(0, right - left) * Math.max(0, bottom - top)) / whole : 1;
  };
  // the box of the characters: of the text, or of an element that holds nothing but its pseudo-element
  const boxOf = (element, part) => {
    if (!part) {
      const range = document.createRange();
      range.selectNodeContents(element);
      const box = range.getBoundingClientRect();
      if (box.width || box.height) return box;
    }
    return element.getBoundingClientRect();
  };

  const visit = (root) => {
    for (const element of root.querySelectorAll("*")) {
      if (element.shadowRoot) visit(element.shadowRoot);
      if (found.length > expected.most || ["SCRIPT", "STYLE", "TEMPLATE", "NOSCRIPT"].includes(element.nodeName)) continue;
      const icon = iconOf(element);
      const [part, text, style] = sourceOf(element, icon);
      const base = element.classList.contains(expected.base) || element.localName === `${lead}icon`;
      const host = element.localName === `${lead}icon` && element.shadowRoot; // what it holds is looked at itself
      if (host || (!icon && !text && !base)) continue;
      if (!icon && !text && element.childElementCount) continue;
      const box = boxOf(element, part);
      found.push(element);
      facts.push({
        icon, part, text: charactersOf(text).slice(0, 64), wanted: icon ? names.get(icon) : 0,
        selector: describe(element), base,
        word: [...element.classList].find((word) => word.startsWith(lead) && word !== expected.base) || "",
        ours: isOurs(style), family: style.fontFamily.slice(0, 300), size: Number.parseFloat(style.fontSize),
        colour: style.color,
        hidden: hiddenBy(element),
        box: [box.left + scrollX, box.top + scrollY, box.width, box.height],
        shown: shownPart(element, box),
      });
    }
  };
  const facts = [];
  visit(document);
  globalThis.oddpegFound = found;
  const faces = [...document.fonts]
    .filter((face) => face.family.replace(/["']/g, "").toLowerCase() === family)
    .map((face) => ({ status: face.status, weight: face.weight }));
  return { facts: facts.slice(0, expected.most), more: found.length > expected.most, faces, title: document.title.slice(0, 200),
    height: Math.ceil(Math.max(document.documentElement.scrollHeight, document.body ? document.body.scrollHeight : 0)) };
}
