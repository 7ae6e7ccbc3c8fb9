"""A served Jigger with its plotter, and a real browser at the size of a small screen."""

import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect, sync_playwright

from jigger.core.design.model.design import Lettering
from jigger.services.house import House, open_house
from tests.conftest import eventually, processes, settings_in, start_machine
from tests.services.test_designs import server_answers

BROWSERS = ("chromium", "chromium-headless-shell", "chromium-browser", "google-chrome")
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--no-first-run",
]

expect.set_options(timeout=45_000)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    path = os.environ.get("JIGGER_CHROMIUM") or next(filter(None, map(shutil.which, BROWSERS)), None)
    assert path, "no Chromium found: install Debian's chromium, or name one in JIGGER_CHROMIUM"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=path, args=FLAGS)
        yield browser
        browser.close()


class Bench:
    """What the flows say: open, wait for a revision, read the readout."""

    def __init__(self, page: Page, address: str, house: House):
        self.page, self.address, self.house = page, address, house

    def open(self, identity: str) -> None:
        self.page.goto(f"{self.address}/designs/{identity}")
        self.shows(self.house.designs.open(identity).seq)

    def shows(self, seq: int) -> None:
        """Wait until the drawing and the readout both stand at a state."""
        expect(self.page.locator("#art")).to_have_attribute("data-rev", str(seq))
        expect(self.page.locator("#readout")).to_have_attribute("data-rev", str(seq))

    def seq(self) -> int:
        return int(self.page.locator("#tools").get_attribute("data-seq") or 0)

    def choose(self, title: str, verb: str = "") -> None:
        """Choose a part, and wait until the settings shown are its own and no longer those of the part before."""
        head = self.page.locator(".step .choose", has_text=title)
        head.click()
        expect(head).to_have_attribute("aria-expanded", "true")
        if verb:
            self.verb(verb)
            expect(self.page.locator("#recipe")).to_have_attribute("data-verb", verb)

    def verb(self, verb: str) -> None:
        """Choose a verb of the chosen step, one touch away where it is not among the first."""
        tab = self.page.locator(f"#verb-{verb}")
        tab.evaluate("tab => { const more = tab.closest('details'); if (more) more.open = true; }")
        tab.click()

    def gauge(self, name: str) -> Locator:
        return self.page.locator(f"#gauge-{name} .figure")

    def set(self, field: str, value: str) -> None:
        before = self.seq()
        control = self.page.locator(f'.settings :is(input, select)[id$="-{field}"]')
        if control.evaluate("e => e.tagName") == "SELECT":
            control.select_option(value)
        else:
            control.fill(value)
            control.press("Enter")
        self.shows(before + 1)

    def typed(self, identity: str, words: str) -> None:
        """Wait until words are kept, however many edits the typing became, and shown."""
        eventually(
            lambda: any(
                isinstance(part, Lettering) and part.text == words
                for part in self.house.designs.open(identity).design.parts()
            )
        )
        self.shows(self.house.designs.open(identity).seq)


@contextmanager
def serving(folder: Path) -> Iterator[tuple[str, House]]:
    """A server with its plotter on a data folder of its own: its address, and the same house in this process."""
    given = settings_in(folder)
    with processes() as start:
        start_machine(start, given, haste=6)
        start_machine(start, given, "table", haste=20)
        start("jigger.cli", "serve", JIGGER_DATA=str(given.data), JIGGER_PORT=str(given.port),
              JIGGER_PLOTTER=given.plotter, JIGGER_PLOTTER_PANEL=given.plotter_panel,
              JIGGER_TABLE=given.table, JIGGER_TABLE_PANEL=given.table_panel)  # fmt: skip
        address = f"http://127.0.0.1:{given.port}"
        eventually(lambda: server_answers(address))
        yield address, open_house(given)


@pytest.fixture(scope="session")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, House]]:
    """One for all flows that leave nothing behind but designs of their own."""
    with serving(tmp_path_factory.mktemp("served")) as given:
        yield given


@pytest.fixture
def bench(browser: Browser, served: tuple[str, House]) -> Iterator[Bench]:
    with opened(browser, *served) as bench:
        yield bench


@pytest.fixture
def bench_alone(browser: Browser, tmp_path: Path) -> Iterator[Bench]:
    """With a queue and a letter case that no other flow sees."""
    with serving(tmp_path) as given, opened(browser, *given) as bench:
        yield bench


@contextmanager
def opened(browser: Browser, address: str, house: House) -> Iterator[Bench]:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    page.on(
        "console",
        lambda message: (
            troubles.append(message.text) if message.type == "error" and "status of 4" not in message.text else None
        ),
    )
    yield Bench(page, address, house)
    page.close()
    assert troubles == []
