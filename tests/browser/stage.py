"""A real server and a real browser: Debian's Chromium, driven by Playwright."""

from __future__ import annotations

import atexit
import json
import os
import re
import shutil
import sqlite3
import sys
import tempfile
import threading
import traceback
import unittest
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from io import StringIO
from pathlib import Path
from typing import Any, ClassVar

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")  # Playwright's own loop runs in the test's thread

from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.test import LiveServerTestCase, tag
from django.test.testcases import LiveServerThread, QuietWSGIRequestHandler
from django.test.utils import override_settings
from playwright.sync_api import Browser, BrowserContext, Error, Page, Playwright, sync_playwright

from demo.browser import CHROMIUM
from kagero.core.beginnings import begin
from kagero.server.library.drafts import create
from kagero.server.library.models import Effect

SHARED = 1 << 30  # bytes
FAILED = Path(
    os.environ.get("KAGERO_FAILED", Path(tempfile.gettempdir()) / "kagero-failed")
)  # where journeys that fail leave what was seen
FLAGS = [
    "--no-sandbox",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-gpu-watchdog",
]  # which takes software GL on a busy machine for a card that hangs, and ends it


def without() -> list[str]:
    """Return what Playwright says to a browser by itself, and these journeys do not: where there is memory to share,
    pictures go from process to process through it rather than through files, which wait for the disk."""
    return (
        ["--disable-dev-shm-usage"] if Path("/dev/shm").exists() and shutil.disk_usage("/dev/shm").free > SHARED else []
    )


def drawn(journey: Any) -> Any:
    """Mark a journey that looks at pixels of the stage: the stages of all others do everything but draw, which takes
    software GL most of a second."""
    journey.drawn = True
    return journey


def frames(count: int) -> Callable[[Any], Any]:
    """Mark a journey that needs so many frames of the demo's clips: all others get their first half second."""

    def mark(journey: Any) -> Any:
        journey.frames = count
        return journey

    return mark


WHOLE = 1 << 20  # frames: clips as long as they are
whole = frames(WHOLE)


class Handler(QuietWSGIRequestHandler):
    """Tells the application of the connection, as the served one does: what nobody listens to any more stops."""

    def get_environ(self) -> dict[str, Any]:
        return super().get_environ() | {"gunicorn.socket": self.connection}


class Server(LiveServerThread):
    """The server of a class's journeys: at the address of the last one where that is free, since the browser has the
    page's files by it."""

    def _create_server(self, connections_override: Any = None) -> Any:
        try:
            return self.server_class(
                (self.host, self.port), Handler, allow_reuse_address=True, connections_override=connections_override
            )
        except OSError:
            self.port = 0
            return self.server_class((self.host, 0), Handler, connections_override=connections_override)


SAVED = "!/saving|changed|not saved/.test(document.querySelector('[data-part=save-state]').textContent)"
STILL = f"window.kageroStage?.{{}} && {SAVED}"


FRAMES = 12  # of the clips of most journeys


@contextmanager
def plain_demo(count: int) -> Iterator[Path]:
    """The demo's effects, their clips of at most so many frames, without what is done to their pictures and without the
    deck that eighteen lights shine on, which take software GL most of a second a drawing: these have tests of their
    own."""
    with tempfile.TemporaryDirectory() as folder:
        effects = Path(folder) / "effects"
        effects.mkdir()
        (Path(folder) / "props").symlink_to(settings.DEMO_DIR.parent / "props")
        for path in settings.DEMO_DIR.glob("*.json"):
            effect = json.loads(path.read_text())
            effect["clip"]["last_frame"] = min(effect["clip"]["last_frame"], effect["clip"]["first_frame"] + count - 1)
            props = [prop for prop in effect["props"] if prop.get("group") != "stern deck"]
            (effects / path.name).write_text(json.dumps({**effect, "finish": [], "props": props}))
        yield effects


class Browsers:
    """The browser of this process, and its contexts: kept from journey to journey, for what starting one and compiling
    the page's scripts takes. Between journeys what pages stored is taken away; only the files of the page itself, known
    by their content, stay."""

    def __init__(self) -> None:
        self.contexts: dict[bool, BrowserContext] = {}
        self._playwright: Playwright | None = None
        self._browser: Browser | None = None

    def context(self, draws: bool) -> BrowserContext:
        """Return a context without any page or stored data, whose stages draw or do not."""
        if self._browser is None or not self._browser.is_connected():
            self.close()
            self._playwright = sync_playwright().start()
            self._browser = self._playwright.chromium.launch(
                executable_path=CHROMIUM, args=FLAGS, ignore_default_args=without()
            )
        if (context := self.contexts.get(draws)) is None:
            # the page's own policy forbids the evaluation of text, by which waits are expressed
            context = self._browser.new_context(
                viewport={"width": 1280, "height": 800}, bypass_csp=True, accept_downloads=True
            )
            if not draws:
                context.add_init_script("window.kageroDrawsNothing = true")
            self.contexts[draws] = context
        return context

    def clear(self, context: BrowserContext, origin: str) -> None:
        """Close a context's pages and take away what they stored."""
        blank = context.new_page()
        for page in context.pages:
            if page is not blank:
                page.close()
        context.new_cdp_session(blank).send("Storage.clearDataForOrigin", {"origin": origin, "storageTypes": "all"})
        context.clear_cookies()
        blank.close()

    def drop(self, context: BrowserContext) -> None:
        """Close a context of which nobody knows what state it is in."""
        self.contexts = {draws: each for draws, each in self.contexts.items() if each is not context}
        with suppress(Error):
            context.close()

    def close(self) -> None:
        if self._playwright is not None:
            with suppress(Error):
                self._playwright.stop()
        self.contexts, self._playwright, self._browser = {}, None, None


BROWSERS = Browsers()
atexit.register(BROWSERS.close)


@tag("browser")
class BrowserCase(LiveServerTestCase):
    """Each test gets the demo's library and a page of 1280 x 800; an error in the page fails the test.

    Whoever reads what is stored waits until it is `saved`; whoever reads a picture or what was measured waits until all
    of the clip is there, which takes longer (`settle`; `mean` does by itself).
    """

    server_thread_class = Server
    libraries: ClassVar[dict[int, sqlite3.Connection]] = {}  # by the frames of their clips

    @classmethod
    def setUpClass(cls) -> None:
        if not Path(CHROMIUM).exists() or not (settings.CLIENT_DIR / "index.html").exists():
            raise unittest.SkipTest("run `make setup`: Chromium or the built client is missing")
        super().setUpClass()
        BrowserCase.port = cls.server_thread.port  # for the next class's server

    def setUp(self) -> None:
        self._load(self._marked("frames") or FRAMES)
        self.context = BROWSERS.context(draws=self._marked("drawn"))
        self.addCleanup(self._leave)
        self.expected: list[str] = []
        self.problems: list[str] = []
        self.log: list[str] = []
        self.page = self.new_page()

    def _callTestMethod(self, method: Any) -> None:
        """Run the journey; what fails says what page and server were at, and leaves a picture and the page's log."""
        try:
            super()._callTestMethod(method)
        except Exception as error:
            state = self._at_work()
            error.add_note(f"{state}\n{self._leave_records(state)}")
            BROWSERS.drop(self.context)
            raise

    def _leave_records(self, state: str) -> str:
        """Leave a picture of the page, its log and the state of page and server in a folder; return where."""
        FAILED.mkdir(parents=True, exist_ok=True)
        path = FAILED / self.id().rpartition(".")[2]
        path.with_suffix(".txt").write_text("\n".join([state, "", *self.log]))
        try:
            self.page.screenshot(path=path.with_suffix(".png"), timeout=10_000)
        except Error as problem:
            return f"log: {path}.txt; no picture: {problem}"[:300]
        return f"picture and log: {path}.png, .txt"

    def _at_work(self) -> str:
        """Return what the page's and the machine's state are, and where each thread of the server is."""
        collected = [f"load {os.getloadavg()[0]:.1f}, page {self.page.url}"]
        for wanted in (
            "document.body.innerText.slice(0, 400)",
            "JSON.stringify([kageroStage.frame, kageroStage.answered, kageroStage.quiet])",
        ):
            try:
                self.page.set_default_timeout(5_000)
                collected.append(str(self.page.locator("html").evaluate(f"() => {wanted}", timeout=5_000)))
            except Error as error:
                collected.append(f"no answer: {error}"[:200])
        names = {thread.ident: thread.name for thread in threading.enumerate()}
        for ident, frame in sys._current_frames().items():
            if ident != threading.get_ident():
                ours = [
                    f"{Path(f.filename).name}:{f.lineno} {f.name}"
                    for f in traceback.extract_stack(frame)
                    if "kagero" in f.filename
                ]
                collected.append(
                    f"{names.get(ident)}: {' < '.join(reversed(ours[-8:])) or traceback.extract_stack(frame)[-1]}"
                )
        return "\n".join(collected)

    def _marked(self, name: str) -> Any:
        """Return what the journey, or its class, is marked with; False where it is not."""
        return getattr(getattr(self, self._testMethodName), name, False) or getattr(self, name, False)

    @staticmethod
    def _load(count: int) -> None:
        """The demo's library: loaded once in this process, then restored, page by page."""
        connection.ensure_connection()
        if (loaded := BrowserCase.libraries.get(count)) is None:
            with plain_demo(count) as folder, override_settings(DEMO_DIR=folder):
                call_command("load_demo", stdout=StringIO())
            loaded = BrowserCase.libraries[count] = sqlite3.connect(":memory:", check_same_thread=False)
            connection.connection.backup(loaded)
        else:
            loaded.backup(connection.connection)

    def _leave(self) -> None:
        """Hand the context on as if it were new; one of which that cannot be said is closed."""
        try:
            BROWSERS.clear(self.context, self.live_server_url)
        except Error:
            BROWSERS.drop(self.context)

    def tearDown(self) -> None:
        unexpected = [p for p in self.problems if not any(e in p for e in self.expected)]
        self.assertEqual(unexpected, [])

    def new_page(self) -> Page:
        page = self.context.new_page()
        page.on("pageerror", lambda error: self.problems.append(str(error)))
        page.on("console", lambda m: self.problems.append(m.text) if m.type == "error" else None)
        page.on("console", lambda m: self.log.append(f"{m.type}: {m.text}"))
        page.on("response", lambda r: self.log.append(f"{r.status} {r.request.method} {r.url}"))
        page.on("requestfailed", lambda r: self.log.append(f"failed: {r.method} {r.url}: {r.failure}"))
        page.on("request", lambda r: self.assertTrue(r.url.startswith((self.live_server_url, "data:", "blob:")), r.url))
        return page

    def open(self, name: str = "Lantern embers", page: Page | None = None) -> Page:
        """Open an effect of the library by its address, which spends no time on the library's pictures."""
        page = page or self.page
        page.goto(f"{self.live_server_url}/effects/{Effect.objects.get(name=name).pk}")
        page.wait_for_function("() => window.kageroStage?.frame >= 0", timeout=60_000)
        self.saved(page)
        return page

    def begin(self, beginning: str = "empty") -> Page:
        """Open a new effect from a beginning."""
        effect = begin(beginning)
        create(effect)
        return self.open(effect.name)

    def settle(self, page: Page | None = None) -> None:
        """Wait until every call is answered, edits are saved, the whole clip is there, and the stage has drawn it."""
        page = page or self.page
        page.wait_for_timeout(40)
        page.wait_for_function(f"() => {STILL.format('quiet')}", timeout=60_000)
        page.wait_for_timeout(60)

    def saved(self, page: Page | None = None) -> None:
        """Wait until every call is answered and edits are saved."""
        page = page or self.page
        page.wait_for_timeout(40)
        page.wait_for_function(f"() => {STILL.format('answered')}", timeout=60_000)

    def kept(self, page: Page | None = None) -> None:
        """Wait until edits are saved, whatever else is still asked for."""
        page = page or self.page
        page.wait_for_timeout(40)
        page.wait_for_function(f"() => {SAVED}")

    def probe(self, name: str) -> Any:
        return self.page.evaluate(f"window.kageroStage.{name}")

    def mean(self, x: float = 0.25, y: float = 0.1, w: float = 0.5, h: float = 0.85) -> list[float]:
        """Red, green and blue, 0 to 255, over a part of the stage (shares of its width and height), once its picture is
        there."""
        self.settle()
        return self.page.evaluate(f"window.kageroStage.mean({x}, {y}, {w}, {h})")

    def drive(self, row: str, source: str, page: Page | None = None) -> None:
        """Drive a row from a source: press its +, type the source's name, Enter."""
        page = page or self.page
        page.get_by_label(f"Drive {row}", exact=True).first.click()
        self.choose(source, page)
        self.saved(page)

    def choose(self, source: str, page: Page | None = None, key: str = "Enter") -> None:
        """In the open list of sources, type a name and take it once it is the chosen one."""
        page = page or self.page
        page.locator("[data-source]").nth(8).wait_for()
        page.keyboard.type(source)
        page.locator("[data-source][aria-selected=true]", has_text=source).wait_for()
        page.keyboard.press(key)

    def drag(self, locator: Any, dx: float, dy: float, steps: int = 8) -> None:
        box = locator.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for i in range(1, steps + 1):
            self.page.mouse.move(x + dx * i / steps, y + dy * i / steps)
            self.page.wait_for_timeout(30)
        self.page.mouse.up()


class PropsCase(BrowserCase):
    """What journeys through the props view do again and again."""

    def props(self, name: str = "Lantern embers") -> None:
        self.open(name)
        self.page.get_by_role("radio", name="Props", exact=True).click()
        self.page.locator("[data-part=props]").wait_for()

    def add(self, what: str) -> None:
        self.page.locator("[data-part=props]").get_by_role("button", name="prop", exact=True).click()
        self.page.get_by_role("menuitem", name=what, exact=True).click()
        self.page.locator("[data-part=prop-sheet]").wait_for()
        self.saved()

    def number(self, label: str, text: str) -> None:
        page = self.page
        page.get_by_role("button", name=re.compile(f"^{label}: ")).first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        self.saved()

    def document(self) -> dict:
        self.saved()
        return self.page.evaluate(
            "fetch(location.pathname.replace('/effects', '/api/effects')).then(r => r.json()).then(o => o.document)"
        )
