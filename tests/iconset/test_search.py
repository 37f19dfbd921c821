"""One ranking: what `oddpeg find` and the search field of the specimen answer is the same, in the same order."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Callable, Iterator, Mapping, Sequence
from importlib.resources import files
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from oddpeg.iconset.model import Icon
from oddpeg.iconset.search import RULES, SearchIndex, find, words_of
from support.data import table
from support.project import CONFIG, ProjectFolder

DATA = table("search")

Answer = Callable[[Sequence[Icon], str, Mapping[str, Sequence[str]]], list[str]]

_WORDS = ["bar", "bars", "foo", "crane", "cran", "crnae", "ferry", "férry", "quay", "constructor", "e000", "12", "ab"]
_word = st.sampled_from(_WORDS) | st.text("abcé12", min_size=1, max_size=5)
_texts = st.lists(_word, min_size=1, max_size=3).flatmap(
    lambda words: st.sampled_from("-_ ,").map(lambda mark: mark.join(words))
)
_SERVE = DATA["serve"]


@pytest.fixture(scope="module")
def page(client: Callable[[str], str]) -> Iterator[Answer]:
    """The search of the specimen page, run by Node on any icons."""
    script = files("oddpeg.outputs").joinpath("templates/specimen/search.js").read_text(encoding="utf-8")
    script = script.replace("@RULES@", json.dumps(RULES))
    node = subprocess.Popen([client("node"), "-e", _SERVE], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    assert node.stdin and node.stdout
    asked, answered = node.stdin, node.stdout

    def answer(icons: Sequence[Icon], query: str, synonyms: Mapping[str, Sequence[str]]) -> list[str]:
        case = {"script": script, "icons": [_as_page(i) for i in icons], "query": query, "synonyms": synonyms}
        asked.write(json.dumps(case) + "\n")
        asked.flush()
        names: list[str] = json.loads(answered.readline())
        return names

    yield answer
    node.stdin.close()
    node.wait(timeout=10)


def _as_page(icon: Icon) -> dict[str, Any]:
    return {
        "name": icon.name,
        "hex": icon.hex,
        "code": icon.codepoint,
        "aliases": icon.aliases,
        "tags": icon.tags,
        "title": icon.title,
        "text": icon.description,
    }


@st.composite
def _icons(draw: st.DrawFn) -> list[Icon]:
    names = draw(st.lists(_texts, min_size=1, max_size=8, unique=True))
    several = st.lists(_texts, max_size=2).map(tuple)
    text = _texts | st.just("")
    return [
        Icon(n, 0xE000 + i, "", 0, draw(text), draw(several), draw(several), description=draw(text))
        for i, n in enumerate(names)
    ]


@settings(
    max_examples=400, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)
@given(icons=_icons(), query=_texts, synonyms=st.dictionaries(_word, st.lists(_word, min_size=1, max_size=2)))
def test_page_and_command_rank_alike(
    page: Answer, icons: list[Icon], query: str, synonyms: dict[str, list[str]]
) -> None:
    assert page(icons, query, synonyms) == [hit.icon.name for hit in find(SearchIndex.of(icons), query, synonyms)]


def test_a_tag_of_two_words_is_found_by_each_on_both_sides(page: Answer) -> None:
    icons = [Icon("pier", 0xE000, "", 0, tags=("bars",)), Icon("jetty", 0xE001, "", 0, tags=("foo_bar",))]
    assert [h.icon.name for h in find(SearchIndex.of(icons), "bar", {})] == ["jetty", "pier"] == page(icons, "bar", {})


def test_a_word_that_scripts_know_too_is_an_ordinary_word(page: Answer) -> None:
    assert page([Icon("constructor", 0xE000, "", 0)], "constructor", {}) == ["constructor"]


def test_each_word_counts_by_where_it_stands_and_how_it_fits() -> None:
    assert words_of("Foo_bar, ÉTÉ-2") == ["foo", "bar", "ete", "2"]
    places = {
        "alias": Icon("x", 0xE000, "", 0, aliases=("crane",)),
        "tag": Icon("x", 0xE000, "", 0, tags=("crane",)),
        "title": Icon("x", 0xE000, "", 0, title="crane"),
        "text": Icon("x", 0xE000, "", 0, description="crane"),
    }

    def score(icon: Icon) -> float:
        return find(SearchIndex.of([icon]), "crane", {})[0].score

    scores = {place: score(icon) for place, icon in places.items()}
    assert sorted(scores, key=lambda place: -scores[place]) == ["alias", "tag", "title", "text"]
    fits = [score(Icon(name, 0xE000, "", 0)) for name in ("crane", "cranes", "acrane", "crnae")]
    assert fits == sorted(fits, reverse=True) and len(set(fits)) == 4


def test_the_command_sees_what_drawings_say_of_themselves(project: ProjectFolder) -> None:
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><title>{}</title><desc>{}</desc><path d="M4'
        ' 4h9v9z"/></svg>'
    )
    project.icon("kedge", svg.format("Small mooring hook", "carried by dinghies")).config(CONFIG).deliver()
    for words in (("mooring", "hook"), ("dinghies",)):
        assert project.run("find", *words).stdout.split()[0] == "kedge"
    project.icon("kedge", svg.format("Grapnel", "none"))
    assert project.run("find", "mooring").returncode == 1, "a drawing that changed is read again"
    assert "kedge" in project.run("find", "grapnel").stdout


@pytest.mark.parametrize(("query", "wanted"), DATA["half_remembered_words_and_pasted_codepoints"])
def test_half_remembered_words_and_pasted_codepoints(page: Answer, query: str, wanted: str) -> None:
    names = [("life-jacket", 0xE000), ("ferry", 0xE001), ("run", 0xE002), ("box", 0xE003), ("far", 0xF0005)]
    icons = [Icon(name, code, "", 0) for name, code in names]
    icons.append(Icon("step-free", 0xE004, "", 0, tags=("wheelchair",)))
    hits = find(SearchIndex.of(icons), query, {})
    assert hits[0].icon.name == wanted and hits[0].whole and page(icons, query, {})[0] == wanted


def test_where_none_has_all_words_the_nearest_are_said(project: ProjectFolder) -> None:
    project.icon("life-ring").deliver()
    result = project.run("find", "life", "crane")
    assert result.returncode == 1 and result.stdout.split()[0] == "life-ring"
    assert "nothing has all of these; nearest:" in result.stderr
    assert project.json("find", "life", "crane")["whole"] is False
