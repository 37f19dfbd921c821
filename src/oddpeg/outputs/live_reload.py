"""The specimen while it is being served: loaded again after each build."""

from __future__ import annotations

from oddpeg.outputs.escape import policy_digest
from oddpeg.outputs.render import source


def with_live_reload(page: str) -> str:
    """Return a specimen that listens at /changes. Its policy lets it: the script by its digest, the same host for
    listening."""
    script = source("specimen/live.js")
    head, _, tail = page.rpartition("</body>")
    allowed = head.replace("script-src ", f"connect-src 'self'; script-src {policy_digest(script)} ", 1)
    return f"{allowed}<script>{script}</script>\n</body>{tail}"
