"""Why a built page shows no icon: a browser opens it, and every mistake is named."""

from __future__ import annotations

import http.server
import json
import threading
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import pytest
from PIL import Image

from oddpeg.browser.devtools import Browser, BrowserError
from support.clients import Client
from support.data import table
from support.project import ProjectFolder

DATA = table("pages")
ELEMENTS, SERVED = DATA["elements"], DATA["served"]
HEAD = f'<!doctype html><html lang="en"><title>Quay</title><style>{DATA["style"]}</style>'


def seen(project: ProjectFolder, page: str, *args: str) -> dict[str, Any]:
    values: dict[str, Any] = json.loads(project.run("usage", "--page", page, "--json", *args).stdout)
    return values


@pytest.mark.clients
def test_every_fault_of_an_element_is_named_and_framed(project: ProjectFolder, client: Client) -> None:
    client("chromium")
    project.deliver()
    elements = "".join(f"<p>{markup}</p>" for markup, _ in ELEMENTS.values())
    sheet = '<link rel="stylesheet" href="dist/tide-marks.css">'
    project.write("page.html", f'{HEAD}{sheet}{elements}<script>alert(1); fetch("http://quay.example/x")</script>')
    found = seen(project, "page.html", "--picture", "seen.png", "--sarif", "seen.sarif")
    log = project.read_json("seen.sarif")["runs"][0]
    assert [one["ruleId"] for one in log["results"]] == [fault["code"] for fault in found["faults"]]
    assert log["results"][0]["locations"][0]["physicalLocation"]["artifactLocation"]["uri"] == "page.html"
    codes = {fault["selector"].rpartition("#")[2].partition(".")[0]: fault["code"] for fault in found["faults"]}
    assert codes == {name: code for name, (_, code) in ELEMENTS.items() if code}
    assert found["hidden"] == 1
    assert found["blocked"] == ["http://quay.example"]
    assert [file["problem"] for file in found["files"]] == [""]
    assert next(f["cure"] for f in found["faults"] if "#unknown" in f["selector"]) == "did you mean anchor?"
    with Image.open(project.root / "seen.png") as picture:
        pixels = picture.convert("RGB").load()
        for fault in found["faults"]:
            corner = int(fault["x"]) - 4, int(fault["y"]) - 4
            assert pixels is not None and pixels[corner] in ((0xC0, 0x18, 0x2B), (0x9A, 0x5B, 0x00)), fault


@contextmanager
def harbour(files: dict[str, bytes], behaviour: dict[str, Any], cors: bool) -> Iterator[str]:
    """Serve files; the behaviour is that for the font."""

    class Handler(http.server.BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            font = ".woff" in self.path or ".ttf" in self.path
            body = files.get(self.path, b"")
            body = behaviour.get("body", "").encode() or body if font else body
            self.send_response(behaviour.get("status", 200) if font else 200 if body else 404)
            kinds = {
                "css": "text/css",
                "html": "text/html",
                "woff2": "font/woff2",
                "woff": "font/woff",
                "ttf": "font/ttf",
            }
            kinds |= {"css": behaviour.get("sheet", "text/css")}
            self.send_header("Content-Type", kinds[self.path.rpartition(".")[2]])
            if "policy" in behaviour and self.path.endswith(".html"):
                self.send_header("Content-Security-Policy", behaviour["policy"])
            if cors:
                self.send_header("Access-Control-Allow-Origin", "*")
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, form: str, *args: Any) -> None:
            pass

    with http.server.ThreadingHTTPServer(("127.0.0.1", 0), Handler) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield f"http://127.0.0.1:{server.server_address[1]}"
        server.shutdown()


@pytest.mark.clients
@pytest.mark.parametrize("case", [*SERVED, "sound", "sound elsewhere"])
def test_why_a_font_does_not_load_is_told(project: ProjectFolder, client: Client, case: str) -> None:
    client("chromium")
    project.deliver()
    behaviour, said = SERVED.get(case, [{"other": case == "sound elsewhere", "allowed": True}, ""])
    font = (project.root / "dist/tide-marks.woff2").read_bytes()
    sheet = (project.root / "dist/tide-marks.css").read_text(encoding="utf-8")
    with ExitStack() as stack:
        other = stack.enter_context(harbour({"/tide-marks.woff2": font}, {}, cors=not said))
        at = f"{other}/" if behaviour.get("other") else ""
        page = f'{HEAD}<link rel="stylesheet" href="/a.css"><p><i class="tm-icon tm-anchor" id="one"></i></p>'
        files = {
            "/page.html": page.encode(),
            "/a.css": sheet.replace('url("', f'url("{at}').encode(),
            "/tide-marks.woff2": font,
        }
        address = stack.enter_context(harbour(files, behaviour, cors=False))
        allow = ["--allow", other] if behaviour.get("allowed") else []
        found = seen(project, f"{address}/page.html", *allow)
    if not said:
        assert (found["shown"], found["faults"]) == (1, [])
        return
    (fault,) = found["faults"]
    assert fault["code"] == ("page-no-character" if "sheet" in behaviour else "page-fallback")
    assert said in fault["text"], fault


@pytest.mark.clients
def test_a_page_reads_nothing_outside_its_project_and_ends(project: ProjectFolder, client: Client) -> None:
    client("chromium")
    project.deliver()
    secret = project.root.parent / "secret.css"
    secret.write_text(".tm-anchor::before { content: 'x' }", encoding="utf-8")
    (project.root / "link.css").symlink_to(secret)
    links = "".join(
        f'<link rel="stylesheet" href="{path}">' for path in ("link.css", "..%2fsecret.css", secret.as_uri())
    )
    project.write("page.html", f'{HEAD}{links}<i class="tm-icon tm-anchor"></i>')
    found = seen(project, "page.html")
    assert [fault["code"] for fault in found["faults"]] == ["page-no-character"]
    problems = {file["url"].rpartition("/")[2]: file["problem"] for file in found["files"]}
    assert problems["link.css"] == problems["..%2fsecret.css"] == "the server answers 404"
    assert problems["secret.css"] == "the browser refuses the address"
    with Browser(client("chromium"), (), 3) as browser, pytest.raises(BrowserError, match="did not answer in time"):
        browser.attach()
        browser.call("Runtime.evaluate", {"expression": "for(;;);"})


def test_wrong_pages_and_missing_browsers_are_named(project: ProjectFolder, tmp_path: Path) -> None:
    project.deliver()
    project.write("page.html", HEAD)
    for args, said in {
        ("--page", "nowhere.html"): "nowhere.html does not exist",
        ("--page", "ftp://quay.example/"): "neither a file nor an http address",
        ("--page", "page.html", "--allow", "quay"): "quay is no origin",
        ("--page", "page.html", "--picture", "a.jpg"): "a.jpg is no .png file",
        ("--page", "page.html", "--fix"): "--fix is not for --page",
        ("--allow", "https://quay.example"): "--allow needs --page",
    }.items():
        result = project.run("usage", *args)
        assert result.returncode == 2, args
        assert said in result.stderr, result.stderr
    result = project.run("usage", "--page", "page.html", PATH=str(tmp_path))
    assert result.returncode == 2
    assert "on the path" in result.stderr or "Windows" in result.stderr
