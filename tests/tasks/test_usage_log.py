"""The log of `oddpeg usage --sarif`, as code hosts take it."""

from __future__ import annotations

from support.clients import Client, run
from support.project import CONFIG, ProjectFolder


def test_code_hosts_take_the_log(project: ProjectFolder, client: Client) -> None:
    """A validator looks at it, by the rules of the format and those of the hosts."""
    project.config(CONFIG + '\n[usage]\nin = ["app"]\n').deliver()
    (project.root / "app" / "a b#1").mkdir(parents=True)
    project.write("app/a b#1/ä%20.html", '<i class="tm-icon tm-ancor"></i> <i class="tm-icon tm-xxxxxxxx"></i>')
    project.write("app/a.js", 'const c = "tm-" + name;')
    assert project.run("usage", "--sarif", "out.sarif").returncode == 1
    log = project.read_json("out.sarif")["runs"][0]
    found = [one["locations"][0]["physicalLocation"]["artifactLocation"]["uri"] for one in log["results"]]
    assert found == ["app/a%20b%231/%C3%A4%2520.html"] * 2 + ["app/a.js"]
    assert [one["message"]["text"] for one in log["results"]] == [
        "There is no icon 'ancor'; did you mean anchor?",
        "There is no icon 'xxxxxxxx'.",
        "A dynamic name cannot be resolved to an icon.",
    ]
    rules = log["tool"]["driver"]["rules"]
    assert [rules[one["ruleIndex"]]["id"] for one in log["results"]] == [one["ruleId"] for one in log["results"]]

    command = (client("@microsoft/sarif-multitool-linux/Sarif.Multitool"), "validate", "out.sarif")
    options = ("--rule-kind", "Sarif;Ghas", "--output", "said.sarif")
    run(*command, *options, cwd=project.root, DOTNET_SYSTEM_GLOBALIZATION_INVARIANT="1")
    said = project.read_json("said.sarif")["runs"][0]["results"]
    assert {one["ruleId"] for one in said} <= {"SARIF2005"}, "no address tells more of the program: it has none"
