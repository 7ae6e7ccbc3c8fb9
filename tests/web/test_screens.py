"""A screen is a module of routes and one line: a made-up one is reached and stands among the places."""

from fastapi import APIRouter, Request, Response
from fastapi.testclient import TestClient

from jigger.services.settings import Settings
from jigger.web.app import create_app
from jigger.web.render import render
from jigger.web.screens import SCREENS, Screen

router = APIRouter(prefix="/slipway")


@router.get("")
def slipway(request: Request) -> Response:
    return render(request, "refused.html", message="Nothing lies on the slipway.")


def test_a_screen_made_up_is_a_place_like_the_others(settings_for: Settings) -> None:
    with SCREENS.with_one_more(Screen("slipway", router, ("/slipway", "Slipway"))):
        client = TestClient(create_app(settings_for), base_url="http://127.0.0.1")
    page = client.get("/slipway")
    assert page.status_code == 200 and "Nothing lies on the slipway." in page.text
    for address, name in [*(one.place for one in SCREENS.values() if one.place), ("/slipway", "Slipway")]:
        assert f'<a href="{address}"' in page.text and f">{name}</a>" in page.text
    assert '<a href="/slipway" aria-current="page">' in page.text


def test_without_its_line_it_is_not_there(client: TestClient) -> None:
    assert client.get("/slipway").status_code == 404 and "Slipway" not in client.get("/").text


def test_a_page_within_a_place_lights_it(client: TestClient) -> None:
    listed = client.app.state.house.cut_lists.begin("Saturday")
    within = {"/machines/plate-table": "/queue", f"/cut-lists/{listed}": "/cut-lists", "/starters/stencil-plate": "/"}
    for address, place in within.items():
        page = client.get(address).text
        assert f'<a href="{place}" aria-current="true">' in page and page.count('aria-current="true">') == 1
    assert '<a href="/queue" aria-current="page">' in client.get("/queue").text
