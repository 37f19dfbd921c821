"""The specimen while it is being served: loaded again after each build.

Knows: what the page is made of. Does not know: who serves it, when it is built.
"""

from __future__ import annotations

import base64
import hashlib

from oddpeg.outputs.render import source


def enlivened(page: str) -> str:
    """Return a specimen that listens at /changes. Its policy lets it: the script by its digest, the same host for listening."""
    script = source("specimen/live.js")
    digest = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode("ascii")
    head, _, tail = page.rpartition("</body>")
    allowed = head.replace("script-src ", f"connect-src 'self'; script-src 'sha256-{digest}' ", 1)
    return f"{allowed}<script>{script}</script>\n</body>{tail}"
