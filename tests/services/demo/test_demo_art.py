"""The boatyard's designs with art: ready, and what they are said to be."""

import pytest

from jigger.core.design.model.design import Artwork
from jigger.services.demo.art import art_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()


@pytest.mark.parametrize("design", art_designs(), ids=lambda design: design.name)
def test_they_are_ready_and_hold_art_that_follows_its_words(design) -> None:
    report = WORKSHOP.report(design)
    assert report.ready and not any(finding.severity == "stop" for finding in report.all_findings)
    assert any(isinstance(part, Artwork) for part in design.parts())


def test_words_over_a_splash_keep_their_gap_whatever_they_are() -> None:
    from jigger.core.design.edits.commands import SetText

    splashed = art_designs()[0]
    words = next(part for part in splashed.parts() if not isinstance(part, Artwork))
    for text in ("WET", "Mind the paint", "Å8!"):
        changed = SetText(part=words.id, line=words.lines[0].id, text=text).apply(splashed)
        built = WORKSHOP.exact(changed)
        (layer,) = built.layers
        letters = built.parts[words.id].region
        art = [piece for piece in layer.kept.polygons() if not piece.geometry.intersects(letters.geometry)]
        assert art and min(piece.geometry.distance(letters.geometry) for piece in art) >= 2.4
