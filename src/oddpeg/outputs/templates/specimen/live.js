/* Added where the page is served while somebody draws: it is loaded again after each build, and comes back to the same place. */
const PLACE = "oddpeg place";
const stay = JSON.parse(sessionStorage.getItem(PLACE) ?? "null");
sessionStorage.removeItem(PLACE);
if (stay) {
  document.fonts.ready.then(() => requestAnimationFrame(() => {
    scrollTo(0, stay.scroll);
    panel.scrollTop = stay.panel;
    if (stay.focus) at(stay.focus)?.focus({ preventScroll: true });
    if (stay.focus === "query") at("query").setSelectionRange(stay.caret, stay.caret);
  }));
}
let built;
new EventSource("/changes").addEventListener("message", ({ data: number }) => {
  if (built !== undefined && built !== number) {
    write();
    const focus = document.activeElement?.id ?? "";
    sessionStorage.setItem(PLACE, JSON.stringify({ scroll: scrollY, panel: panel.scrollTop, focus, caret: at("query").selectionStart }));
    location.reload();
  }
  built = number;
});
