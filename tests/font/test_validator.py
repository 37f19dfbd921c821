"""A font validator on the demo's fonts. What it still says is explained in docs/outputs.md."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import pytest
from fontTools.ttLib import TTFont

from support.clients import Client
from support.project import REPOSITORY, ProjectFolder

# its own names of what it complains of, and the words that explain it on the page
EXPLAINED = {
    "no-code-pages": "No code pages",
    "mono-bad-panose": "Monospaced",
    "mono-outliers": "Monospaced",
    "bad-numberOfHMetrics": "Monospaced",
    "suboptimal": "Units per em",
    "lacks-kern-info": "No kerning",
    "post-table-version": "No glyph names",
}
NETWORK = "fontdata_namecheck"  # asks a service


@pytest.mark.parametrize("form", ["desktop", "web"])
def test_every_complaint_is_explained(demo: ProjectFolder, client: Client, tmp_path: Path, form: str) -> None:
    program = client("fontbakery")
    font = demo.root / "dist/desktop/saltmarsh-signs-line.ttf"
    if form == "web":  # the validator does not unpack web fonts
        unpacked = TTFont(demo.root / "dist/web/saltmarsh-signs-line.woff2")
        unpacked.flavor = None
        font = tmp_path / "saltmarsh-signs.ttf"
        unpacked.save(font)
    report = tmp_path / "report.json"
    command = ["check-universal", "--quiet", "--json", str(report), "--exclude-checkid", NETWORK, str(font)]
    subprocess.run([program, *command], capture_output=True, timeout=240, check=False)
    checks = [check for section in json.loads(report.read_text())["sections"] for check in section["checks"]]
    assert sum(check["result"] == "PASS" for check in checks) > 50
    said = {
        log["message"]["code"]: log["message"]["message"]
        for check in checks
        for log in check["logs"]
        if log["status"] in ("WARN", "FAIL", "ERROR", "FATAL")
    }
    assert said.keys() <= EXPLAINED.keys(), {code: text for code, text in said.items() if code not in EXPLAINED}
    page = (REPOSITORY / "docs/outputs.md").read_text(encoding="utf-8")
    assert all(f"| {EXPLAINED[code]} |" in page for code in said)
