"""The pages of docs/, as they ship: rendered, and searched by place."""

from __future__ import annotations

import html
import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from django.conf import settings
from markdown_it import MarkdownIt

from kagero.core.errors import RequestError

ORDER = (
    "DESK",
    "FORMULAS",
    "BIRTHS",
    "MOTION",
    "CONTACTS",
    "LOOKS",
    "PROPS",
    "FORMATS",
    "SERVING",
    "ENGINE",
    "ARCHITECTURE",
    "ADDING",
)
ABOUT = 160  # characters of words about a place


@dataclass(frozen=True)
class Section:
    heading: str
    anchor: str
    text: str  # without marks


@dataclass(frozen=True)
class Page:
    name: str
    title: str
    html: str
    sections: tuple[Section, ...]


def listed() -> list[dict[str, str]]:
    """Return every page, those for artists first."""
    return [{"name": each.name, "title": each.title} for each in _pages().values()]


def page(name: str) -> dict[str, str]:
    """Return a page as HTML. Raises RequestError for one that is not there."""
    found = _pages().get(name)
    if found is None:
        raise RequestError(
            f"There is no page {name[:40]!r}.", where="name", remedy=f"Read one of: {', '.join(_pages())}."
        )
    return {"name": found.name, "title": found.title, "html": found.html}


def search(words: str) -> list[dict[str, str]]:
    """Return places that have every word, those whose heading has them first; nothing for no words."""
    wanted = words.lower().split()
    collected = []
    for each in _pages().values() if wanted else ():
        for section in each.sections:
            text = f"{section.heading} {section.text}".lower()
            if all(word in text for word in wanted):
                rank = 0 if all(word in section.heading.lower() for word in wanted) else 1
                collected.append(
                    (
                        rank,
                        {
                            "name": each.name,
                            "title": each.title,
                            "heading": section.heading,
                            "anchor": section.anchor,
                            "words": _about(section.text, wanted[0]),
                        },
                    )
                )
    return [place for _, place in sorted(collected, key=lambda each: each[0])][:30]


def _about(text: str, word: str) -> str:
    at = max(0, text.lower().find(word) - ABOUT // 3)
    return ("… " if at else "") + text[at : at + ABOUT].strip() + (" …" if at + ABOUT < len(text) else "")


@cache
def _pages() -> dict[str, Page]:
    there = {path.stem: path for path in sorted(Path(settings.DOCS_DIR).glob("*.md"))}
    names = [*(name for name in ORDER if name in there), *(name for name in there if name not in ORDER)]
    return {name: _read(name, there[name].read_text(encoding="utf-8")) for name in names}


def _read(name: str, text: str) -> Page:
    marks = MarkdownIt("commonmark", {"html": False}).enable("table")
    tokens = marks.parse(text)
    title, heading, anchor = name.capitalize(), "", ""
    sections: list[Section] = []
    words: list[str] = []
    taken: set[str] = set()
    for number, token in enumerate(tokens):
        if token.type == "heading_open":
            sections.append(Section(heading, anchor, " ".join(words)))
            heading, words = _plain(tokens[number + 1]), []
            anchor = _anchor(heading, taken)
            token.attrSet("id", anchor)
            title = heading if token.tag == "h1" else title
        elif token.type == "inline" and tokens[number - 1].type != "heading_open":
            words.append(_plain(token))
        elif token.type in ("fence", "code_block"):
            words.append(token.content)
        for child in token.children or []:
            if child.type == "link_open":
                child.attrSet("href", _within(str(child.attrGet("href") or "")))
            elif child.type == "text" and (named := re.fullmatch(r"([A-Z_]+)\.md", child.content)):
                child.content = named[1].capitalize()  # a page of the handbook is called by its name
    sections.append(Section(heading, anchor, " ".join(words)))
    image: str = marks.renderer.render(tokens, marks.options, {})
    return Page(name, title, image, tuple(section for section in sections if section.heading or section.text))


def _plain(token: Any) -> str:
    return html.unescape("".join(child.content if child.type != "softbreak" else " " for child in token.children or []))


def _anchor(heading: str, taken: set[str]) -> str:
    base = re.sub(r"[^a-z0-9]+", "-", heading.lower()).strip("-") or "top"
    result = base if base not in taken else next(each for i in range(2, 99) if (each := f"{base}-{i}") not in taken)
    taken.add(result)
    return result


def _within(link: str) -> str:
    """Return where a link between pages leads inside the application; links elsewhere stay text of a page."""
    found = re.fullmatch(r"(?:docs/)?([A-Z_]+)\.md(#.*)?", link)
    return f"/docs/{found[1]}{found[2] or ''}" if found else link if link.startswith("#") else "#"
