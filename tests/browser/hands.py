"""What hands do on the bench, for the flows."""

from collections.abc import Callable

from playwright.sync_api import APIResponse, Page, Route

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


def held_back(page: Page, ask: Callable[[], None], what: str = "**/recipe*") -> Callable[[], None]:
    """Ask for something, and hold the answer back, with that of whatever else asks for it until then; they are given
    late by what is returned.
    """
    late: list[tuple[Route, APIResponse]] = []
    free = False

    def held(route: Route) -> None:
        if free:
            route.continue_()
            return
        answer = route.fetch()
        if free:
            route.fulfill(response=answer)
        else:
            late.append((route, answer))

    def give() -> None:
        nonlocal free
        free = True
        for route, answer in late:
            route.fulfill(response=answer)

    page.route(what, held)
    with page.expect_request(what):
        ask()
    for _ in range(1000):  # it is answered while the page goes on
        if late:
            break
        page.evaluate("() => new Promise(requestAnimationFrame)")
    return give


def design_of(bench: Bench, identity: str):
    return bench.house.designs.open(identity).design


def plate(bench: Bench, **values: str) -> str:
    identity = bench.house.designs.create("stencil-plate", {"text": "BOAT", **values})
    bench.open(identity)
    return identity
