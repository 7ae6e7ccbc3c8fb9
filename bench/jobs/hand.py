"""A hand at the page: every tap, chord, filled field, choice and drag counts one action; then the page rests."""

from dataclasses import dataclass, field

import httpx2
from playwright.sync_api import Locator, Page, expect
from tests.zoo import count_raster, raster, svg_size

from jigger.core.design.building.built import Built, BuiltLayer
from jigger.core.design.model.design import AnyPart, Design, Layer, Lettering
from jigger.services.house import House

WAIT = 30_000  # ms that the page may take to come to rest
PIXELS = (4_000, 11_000)  # across, of the rasters that files are judged on
FINEST = 30.0  # pixels a mm
SPECK = 0.5  # mm²: ends of needles are pieces or not as the pixels fall, so that neither side counts them


@dataclass
class Hand:
    page: Page
    address: str
    house: House
    count: int = 0
    said: list[str] = field(default_factory=list)

    # ---- actions

    def tap(self, what: str | Locator, **how) -> None:
        self._one(f"tap {what}")
        self._at(what).click(timeout=WAIT, **how)
        self._rest()

    def fill(self, what: str | Locator, text: str) -> None:
        self._one(f"fill {what}: {text}")
        field = self._at(what)
        field.fill(text, timeout=WAIT)
        if field.get_attribute("hx-trigger") != "input changed":
            field.evaluate("one => one.dispatchEvent(new Event('change', {bubbles: true}))")
            field.blur()
        self._rest()

    def choose(self, what: str | Locator, value: str) -> None:
        self._one(f"choose {what}: {value}")
        self._at(what).select_option(value, timeout=WAIT)
        self._rest()

    def key(self, chord: str) -> None:
        self._one(f"key {chord}")
        self.page.keyboard.press(chord)
        self._rest()

    def drag(self, what: str | Locator, dx: float, dy: float) -> None:
        """So many pixels across and down; Alt keeps it off lines."""
        self._one(f"drag {what}")
        box = self._at(what).bounding_box() or {"x": 0, "y": 0, "width": 0, "height": 0}
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.keyboard.down("Alt")
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + dx / 2, y + dy / 2)
        self.page.mouse.move(x + dx, y + dy)
        self.page.mouse.up()
        self.page.keyboard.up("Alt")
        self._rest()

    # ---- the ways that many jobs go

    def begin(self, starter: str, **words: str) -> None:
        """From the shelf by a starter: it is tapped, its fields are filled, and it is built."""
        self.tap(f'[data-starter="{starter}"]')
        for name, text in words.items():
            control = self.page.locator(f"#s-{name}")
            (self.choose if control.evaluate("one => one.tagName") == "SELECT" else self.fill)(control, text)
        self.tap("button.next")

    def step(self, part: str, verb: str = "") -> None:
        """A part or layer is chosen in the build sheet, and one of its verbs where that is not open."""
        head = self._at(f"#step-{part} .choose, #head-{part} .choose")
        if head.get_attribute("aria-expanded") != "true":
            self.tap(head)
        if verb and self.page.locator("#recipe").get_attribute("data-verb") != verb:
            tab = self._at(f"#verb-{verb}")
            if not tab.is_visible():
                self.tap(tab.locator("xpath=ancestor::details/summary"))
            self.tap(tab)

    # ---- what there is

    @property
    def design(self) -> Design:
        return self.house.designs.open(self.identity).design

    @property
    def identity(self) -> str:
        return self.page.url.split("/designs/")[1].split("?")[0].split("/")[0]

    def built(self) -> Built:
        return self.house.workshop.exact(self.design)

    def part(self, *titles: str) -> AnyPart:
        """The part of one of these titles, or kinds."""
        return next(one for one in self.design.parts() if one.title in titles or one.kind in titles)

    def lettering(self, at: int = 0) -> Lettering:
        return [one for one in self.design.parts() if isinstance(one, Lettering)][at]

    def layer(self, at: int = 0) -> Layer:
        return self.design.layers[at]

    def made(self, at: int = 0) -> BuiltLayer:
        found = self.built().layers
        return next(one for one in found if one.id == self.layer(at).id)

    def file(self, layer: str) -> str:
        """The SVG that the cut page gives of a layer."""
        answer = httpx2.get(f"{self.address}/designs/{self.identity}/export.svg", params={"layer": layer}, timeout=60)
        assert answer.status_code == 200, f"the file was refused: {answer.text[:200]}"
        return answer.text

    def judge(self) -> None:
        """Every layer's file, drawn by a renderer of others, falls into the pieces that the build counts, as large as
        it says, and no gauge warns of what would fall out.
        """
        for one in self.built().layers:
            text = self.file(one.id)
            counted = sum(1 for piece in one.pieces.pieces if piece.region.area >= SPECK)
            # A neck thinner than a pixel parts or not as the pixels fall: it is looked at closer then.
            drawn = next((True for pixels in PIXELS if _pieces(text, pixels) == counted), False)
            assert drawn, f"{one.id}: {_pieces(text, PIXELS[-1])} pieces drawn, {counted} counted"
        built = self.built()
        wrong = [one for made in (*built.parts.values(), *built.layers) for one in made.problems if not one.slight]
        assert not wrong, wrong

    # ---- inside

    def _one(self, words: str) -> None:
        self.count += 1
        self.said.append(words)

    def _at(self, what: str | Locator) -> Locator:
        return self.page.locator(what).first if isinstance(what, str) else what

    def _rest(self) -> None:
        """Nothing is asked for any more, and the drawing and the readout are of the state that is kept."""
        page = self.page
        expect(page.locator(".htmx-request")).to_have_count(0, timeout=WAIT)
        if "/designs/" not in page.url or not page.locator("#art").count():
            return
        for _ in range(2):  # what a first answer set going
            seq = str(self.house.designs.open(self.identity).seq)
            expect(page.locator("#art")).to_have_attribute("data-rev", seq, timeout=WAIT)
            expect(page.locator("#readout")).to_have_attribute("data-rev", seq, timeout=WAIT)


def _pieces(text: str, across: int) -> int:
    """Of an SVG drawn so many pixels wide."""
    pixels = min(FINEST, across / svg_size(text)[0])
    return count_raster(raster(text, pixels), round(SPECK * pixels**2))[0]
