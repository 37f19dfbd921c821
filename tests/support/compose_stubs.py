"""Stand-ins for the few types of the Compose libraries that generated code uses, so that it compiles without them."""

from __future__ import annotations

from support.data import DATA
from support.project import ProjectFolder


def compose_sources(project: ProjectFolder, package: str, font: str) -> list[str]:
    """Return the stand-ins, with the class of resources that an app has. font: the resource's name."""
    project.write("R.kt", f"package {package}\nobject R {{ object font {{ const val {font} = 1 }} }}\n")
    return ["R.kt", *map(str, sorted((DATA / "compose").rglob("*.kt")))]
