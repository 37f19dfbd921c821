"""A visit to a page with a browser: its requests, and the layout, fonts and pixels of each element with an icon.

Sources: Chrome DevTools Protocol, domains Fetch, Network, Log, CSS, Accessibility; Fetch standard; CSS Fonts 4.
"""

from __future__ import annotations

import base64
import mimetypes
import posixpath
from collections.abc import Callable, Mapping, Sequence
from importlib.resources import files
from pathlib import Path
from typing import Any, NamedTuple
from urllib.parse import quote, unquote, urlsplit

from oddpeg.browser.devtools import Browser, BrowserError
from oddpeg.store.tree import Tree

WIDTH, _HEIGHT, TALLEST = 1280, 800, 8000  # CSS pixels of the window, and of what is looked at
_LOCAL = "http://localhost"  # what files are served as; no connection is made
_LOAD, _QUIET = 10.0, 0.5  # seconds until a page counts as loaded at most, and without a request
_SETTLE = 3.0
_MOST_FONTS = 40_000_000  # bytes of a font whose characters are looked at
_MIME = {
    ".woff2": "font/woff2",
    ".woff": "font/woff",
    ".ttf": "font/ttf",
    ".otf": "font/otf",
    ".mjs": "text/javascript",
}
_HIDE = "for (const one of oddpegFound) one.style.setProperty('-webkit-text-fill-color', 'transparent', 'important')"


class Target(NamedTuple):
    """What is visited.

    Attributes:
        url: the address that the browser opens.
        origin: of the page.
        read: for a file: returns the bytes of a path, None where there is none.
    """

    url: str
    origin: str
    read: Callable[[str], tuple[str, bytes] | None] | None = None


class Request(NamedTuple):
    """A request of the page. problem: why it failed, or empty."""

    url: str
    kind: str
    problem: str = ""
    status: int = 0
    mime: str = ""
    blocked: bool = False


class Seen(NamedTuple):
    """What a browser says of one element with an icon.

    Attributes:
        facts: as `examine.js` returns them.
        fonts: number of glyphs by name of the font that they are drawn with; the ones that the page loads have a star.
        node: the element's number in the accessibility tree.
    """

    facts: Mapping[str, Any]
    fonts: Mapping[str, int]
    node: int


class Visit(NamedTuple):
    """Everything that was seen on a page.

    Attributes:
        requests: of fonts, stylesheets and scripts, and all that failed.
        messages: what the browser's console says about fonts.
        font_data: of the loaded fonts.
        faces: status of each `@font-face` of the family.
        accessible: nodes of the accessibility tree.
        pictures: PNG of the page, and of the page without the glyphs of the elements.
    """

    seen: list[Seen]
    more: bool
    requests: list[Request]
    messages: list[str]
    font_data: list[bytes]
    faces: list[str]
    accessible: list[Mapping[str, Any]]
    pictures: tuple[bytes, bytes]


def origin_of(url: str) -> str:
    """Return scheme, host and port of an address."""
    parts = urlsplit(url)
    return f"{parts.scheme}://{parts.netloc.rpartition('@')[2].lower()}"


def file_target(path: Path, root: Path) -> Target:
    """Return the target for a file. Its paths that begin with a slash lie in the root or, as for a server of the page's
    own folder, in that. root: the folder that nothing is read outside of."""
    tree, page = Tree(root), path.relative_to(root).as_posix()
    folder = posixpath.dirname(page)

    def read(where: str) -> tuple[str, bytes] | None:
        name = unquote(where).lstrip("/")
        for one in (name, posixpath.join(folder, name)):
            clean = posixpath.normpath(one)
            if clean.startswith("..") or "\0" in clean:
                continue
            try:
                data = tree.read(clean, 50_000_000)
            except OSError:
                continue
            ending = posixpath.splitext(clean)[1].lower()
            return _MIME.get(ending) or mimetypes.guess_type(clean)[0] or "application/octet-stream", data
        return None

    return Target(f"{_LOCAL}/{quote(page)}", _LOCAL, read)


class Visitor:
    """One visit. allowed: other origins that may be connected to."""

    def __init__(self, browser: Browser, target: Target, allowed: Sequence[str]) -> None:
        self._browser, self._target = browser, target
        self._origins = {target.origin, *map(origin_of, allowed)}
        self._open: dict[str, Request] = {}
        self._done: dict[str, Request] = {}
        self._messages: list[str] = []
        self._loaded = False
        browser.handlers.update(
            {
                "Fetch.requestPaused": self._decide,
                "Network.requestWillBeSent": self._begun,
                "Network.responseReceived": self._answered,
                "Network.loadingFinished": lambda event: self._ended(event["requestId"]),
                "Network.loadingFailed": self._failed,
                "Log.entryAdded": lambda event: self._messages.append(str(event["entry"].get("text", ""))[:500]),
                "Page.loadEventFired": lambda event: setattr(self, "_loaded", True),
                "Page.javascriptDialogOpening": self._dismiss,
            }
        )

    # -- requests -------------------------------------------------------------------------------

    def _decide(self, event: Mapping[str, Any]) -> None:
        """Answer, let through, or refuse a request, also one that another address redirected."""
        number, url = event["requestId"], event["request"]["url"]
        if origin_of(url) not in self._origins:
            self._browser.send("Fetch.failRequest", {"requestId": number, "errorReason": "BlockedByClient"})
        elif self._target.read is None or origin_of(url) != self._target.origin:
            self._browser.send("Fetch.continueRequest", {"requestId": number})
        else:
            kind, data = self._target.read(urlsplit(url).path) or ("", b"")
            answer = {
                "requestId": number,
                "responseCode": 200 if kind else 404,
                "responseHeaders": [{"name": "Content-Type", "value": kind or "text/plain"}],
                "body": base64.b64encode(data).decode(),
            }
            self._browser.send("Fetch.fulfillRequest", answer)

    def _begun(self, event: Mapping[str, Any]) -> None:
        self._open[event["requestId"]] = Request(event["request"]["url"][:2000], str(event.get("type", "Other")))

    def _answered(self, event: Mapping[str, Any]) -> None:
        request, answer = self._open.get(event["requestId"]), event["response"]
        if request is not None:
            status = int(answer.get("status", 0))
            mime = str(answer.get("mimeType", ""))
            refused = event.get("type") == "Stylesheet" and mime != "text/css"
            problem = f"it is served as {mime or 'nothing'}, not text/css" if refused else ""
            problem = f"the server answers {status}" if status >= 400 else problem
            self._open[event["requestId"]] = request._replace(
                problem=problem, status=status, mime=mime, kind=str(event.get("type", request.kind))
            )

    def _ended(self, number: str) -> None:
        if request := self._open.pop(number, None):
            self._done[number] = request

    def _failed(self, event: Mapping[str, Any]) -> None:
        if request := self._open.pop(event["requestId"], None):
            problem = request.problem or _why(event, request)
            blocked = event.get("blockedReason") == "inspector" or origin_of(request.url) not in self._origins
            self._done[event["requestId"]] = request._replace(problem=problem, blocked=blocked)

    def _dismiss(self, event: Mapping[str, Any]) -> None:
        self._browser.send("Page.handleJavaScriptDialog", {"accept": False})

    # -- the page -------------------------------------------------------------------------------

    def visit(self, expected: Mapping[str, Any]) -> Visit:
        """Open the page and look. expected: what `examine.js` takes. Raise `BrowserError` where that fails."""
        call = self._browser.call
        for domain in ("Page", "DOM", "CSS", "Network", "Runtime", "Log", "Accessibility"):
            call(f"{domain}.enable")
        call("Fetch.enable", {"patterns": [{"urlPattern": "*"}]})
        call("Browser.setDownloadBehavior", {"behavior": "deny"})
        call("Emulation.setEmulatedMedia", {"features": [{"name": "prefers-reduced-motion", "value": "reduce"}]})
        _set_size(call, _HEIGHT)
        frame = call("Page.navigate", {"url": self._target.url})
        if problem := frame.get("errorText"):
            raise BrowserError(f"the page cannot be opened: {problem}")
        self._settle()
        world = call("Page.createIsolatedWorld", {"frameId": frame["frameId"]})["executionContextId"]
        found = self._examined(world, expected)
        height = min(max(int(found["height"]), _HEIGHT), TALLEST)
        _set_size(call, height)
        call("Animation.enable")
        call("Animation.setPlaybackRate", {"playbackRate": 0})
        self._settle()
        found = self._examined(world, expected)  # again: a page may be laid out by the height of its window
        seen = [self._seen(world, number, facts) for number, facts in enumerate(found["facts"])]
        accessible = call("Accessibility.getFullAXTree")["nodes"]
        first = _picture(call, height)
        call("Runtime.evaluate", {"expression": _HIDE, "contextId": world})
        pictures = first, _picture(call, height)
        faces = [face["status"] for face in found["faces"]]
        requests = [self._plain(one) for one in (*self._done.values(), *self._open.values())]
        return Visit(seen, found["more"], requests, self._messages, self._fonts(), faces, accessible, pictures)

    def _plain(self, request: Request) -> Request:
        """Return a request whose address is a path where the page is a file."""
        return request._replace(url=request.url.removeprefix(f"{_LOCAL}/")) if self._target.read else request

    def _settle(self) -> None:
        """Wait until the page has loaded and asks for nothing more, within bounds: some pages never end to ask."""
        self._browser.wait(lambda: self._loaded, _LOAD)
        waits = (
            "document.fonts.ready.then(() => new Promise((done) => requestAnimationFrame(() => setTimeout(done, 100))))"
        )
        number = self._browser.send("Runtime.evaluate", {"expression": waits, "awaitPromise": True})
        self._browser.wait(lambda: self._browser.answered(number), _SETTLE)
        self._browser.wait(lambda: not self._open, _SETTLE)
        self._browser.wait(lambda: False, _QUIET)

    def _examined(self, world: int, expected: Mapping[str, Any]) -> Any:
        source = files("oddpeg.usage.page").joinpath("examine.js").read_text(encoding="utf-8")
        asked = {
            "functionDeclaration": source[source.index("(expected)") :],
            "executionContextId": world,
            "arguments": [{"value": expected}],
            "returnByValue": True,
        }
        answer = self._browser.call("Runtime.callFunctionOn", asked)
        if "exceptionDetails" in answer:
            raise BrowserError(str(answer["exceptionDetails"].get("exception", {}).get("description", "script"))[:300])
        return answer["result"]["value"]

    def _seen(self, world: int, number: int, facts: Mapping[str, Any]) -> Seen:
        """Return what the browser knows of an element: its node, and the fonts of its characters."""
        call = self._browser.call
        asked = {"expression": f"oddpegFound[{number}]", "contextId": world}
        thing = call("Runtime.evaluate", asked)["result"]["objectId"]
        node = call("DOM.describeNode", {"objectId": thing})["node"]
        wanted = facts["part"].strip(":")
        numbers = [one["backendNodeId"] for one in node.get("pseudoElements", []) if one.get("pseudoType") == wanted]
        call("DOM.getDocument", {"depth": 0})
        pushed = call("DOM.pushNodesByBackendIdsToFrontend", {"backendNodeIds": numbers or [node["backendNodeId"]]})
        fonts = call("CSS.getPlatformFontsForNode", {"nodeId": pushed["nodeIds"][0]})["fonts"]
        used = {f"{'*' if one['isCustomFont'] else ''}{one['familyName']}": int(one["glyphCount"]) for one in fonts}
        return Seen(facts, used, node["backendNodeId"])

    def _fonts(self) -> list[bytes]:
        """Return the data of the loaded fonts."""
        data = []
        for number, request in self._done.items():
            if request.kind == "Font" and not request.problem:
                try:
                    body = self._browser.call("Network.getResponseBody", {"requestId": number})
                except BrowserError:
                    continue  # the browser no longer has it
                text = body["body"]
                if body.get("base64Encoded") and len(text) < _MOST_FONTS:
                    data.append(base64.b64decode(text))
        return data


def _why(event: Mapping[str, Any], request: Request) -> str:
    """Return why a request failed, in words."""
    if cors := event.get("corsErrorStatus"):
        host = origin_of(request.url)
        return f"{host} does not allow other origins to load it (CORS: {cors.get('corsError', '')})"
    blocked = str(event.get("blockedReason", ""))
    words = {
        "csp": "the page's Content-Security-Policy forbids it",
        "mixed-content": "the page is secure, and its address is not",
        "other": "the browser refuses the address",
        "inspector": "it is of another origin, which was not connected to",
    }
    return words.get(blocked) or blocked or str(event.get("errorText", "failed"))


def _set_size(call: Callable[..., Any], height: int) -> None:
    size = {"width": WIDTH, "height": height, "deviceScaleFactor": 1, "mobile": False}
    call("Emulation.setDeviceMetricsOverride", size)


def _picture(call: Callable[..., Any], height: int) -> bytes:
    clip = {"x": 0, "y": 0, "width": WIDTH, "height": height, "scale": 1}
    data: str = call("Page.captureScreenshot", {"format": "png", "clip": clip})["data"]
    return base64.b64decode(data)
