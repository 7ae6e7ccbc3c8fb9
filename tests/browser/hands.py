"""What hands do on the bench, for the flows."""

from tests.browser.conftest import Bench


def middle(locator) -> tuple[float, float]:
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def drag(bench: Bench, start: tuple[float, float], end: tuple[float, float]) -> None:
    mouse = bench.page.mouse
    mouse.move(*start)
    mouse.down()
    mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    mouse.move(*end)
    mouse.up()


def design_of(bench: Bench, identity: str):
    return bench.house.designs.open(identity).design


def plate(bench: Bench, **values: str) -> str:
    identity = bench.house.designs.create("stencil-plate", {"text": "BOAT", **values})
    bench.open(identity)
    return identity
