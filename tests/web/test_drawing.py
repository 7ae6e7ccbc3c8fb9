"""What the drawing and the build sheet tell apart: slugs by letters, choices of one name by numbers."""

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.starters import starter
from jigger.services.showing.blade import _lettered, blade_view
from jigger.services.workshop import Workshop
from jigger.web.recipe import told_apart


def test_what_comes_away_is_hatched_and_lettered(workshop: Workshop) -> None:
    design = starter("stencil-plate").make({"text": "BO", "font": "anton"})
    slugs = blade_view(workshop.exact(design), nodes=False).slugs
    (report,) = workshop.report(design).layers
    assert [slug.name for slug in slugs] == ["a", "b", "c", "d", "e"][: report.holes]
    assert all(not workshop.exact(design).layers[0].kept.contains_point(s.x, -s.y) for s in slugs)


@pytest.mark.parametrize(("number", "name"), [(0, "a"), (25, "z"), (26, "aa"), (51, "az"), (52, "ba")])
def test_letters_go_on(number: int, name: str) -> None:
    assert _lettered(number) == name


def test_choices_of_one_name_are_numbered() -> None:
    named = [("a", "Disc"), ("b", "Ring"), ("c", "Disc")]
    assert told_apart(named) == [("a", "Disc (1)"), ("b", "Ring"), ("c", "Disc (2)")]


def test_the_readout_has_its_frame_before_anything_is_measured(client: TestClient) -> None:
    identity = client.app.state.house.designs.create_plain("Heron")
    page, answer = (client.get(f"/designs/{identity}{part}").text for part in ("", "/readout?rev=1"))
    for gauge in ("pieces", "loose", "strip", "opening", "length", "nodes", "fit"):
        assert f'id="gauge-{gauge}"' in page and f'id="gauge-{gauge}"' in answer
