"""SVG files against a renderer that did not read them: what is taken is what is seen, with its curves."""

import io

import numpy as np
import pytest
import resvg_py
from PIL import Image

from jigger.core.art import inks
from jigger.core.art.found import found_art
from jigger.core.art.painted import ArtRefused, Picture
from jigger.core.art.seen import by_colour
from jigger.core.art.svg.path_data import subpaths
from jigger.core.art.svg.resolving import picture_of
from jigger.core.art.svg.transforms import transform
from jigger.core.formats.paths import path_data
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE
from jigger.core.geometry.curves.outline import outlines
from tests.core.art.cases import CASES, page

PIXELS = 600


def rendered(svg: str) -> np.ndarray:
    data = bytes(
        resvg_py.svg_to_bytes(svg_string=svg, width=PIXELS, dpi=96.0, skip_system_fonts=True, background="#ffffff")
    )
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)


def redrawn(picture: Picture) -> str:
    wide, high = picture.size
    rows = [f'<svg xmlns="http://www.w3.org/2000/svg" width="{PIXELS}" height="{PIXELS * high / wide}" '
            f'viewBox="0 {-high} {wide} {high}">']  # fmt: skip
    rows += [
        f'<path fill="{one.colour}" fill-rule="evenodd" d="{path_data(one.area)}"/>'
        for one in by_colour(picture.painted)
    ]
    return "\n".join([*rows, "</svg>"])


@pytest.mark.parametrize("name", CASES)
def test_it_is_what_a_renderer_draws(name: str) -> None:
    theirs, ours = rendered(CASES[name]), rendered(redrawn(picture_of(CASES[name].encode())))
    high = min(len(theirs), len(ours))
    assert abs(len(theirs) - len(ours)) <= 1
    assert (theirs[:high].min(axis=2) < 250).mean() > 0.01, "the case shows something"
    assert (np.abs(theirs[:high] - ours[:high]).max(axis=2) > 128).mean() <= 0.001


@pytest.mark.parametrize(
    ("data", "kinds", "nodes"),
    [
        ('<circle cx="60" cy="40" r="30"/>', {ARC}, 4), ('<rect x="9" y="9" width="50" height="40"/>', {LINE}, 4),
        ('<rect x="9" y="9" width="50" height="40" rx="8"/>', {LINE, ARC}, 8),
        ('<path d="M10 40c5-30 40-30 45 0s40 30 45 0l-5 30-85 0z"/>', {LINE, CUBIC}, 5),
        ('<circle cx="60" cy="40" r="20" fill="none" stroke="#000" stroke-width="6"/>', {ARC}, 8),
        ('<path d="M20 60A30 30 0 0 1 80 60z" transform="translate(3 -8) rotate(30) scale(.7)"/>', {LINE, ARC}, 3),
    ],
)  # fmt: skip
def test_curves_stay_curves(data: str, kinds: set[int], nodes: int) -> None:
    (one,) = picture_of(page(data).encode()).painted
    outline = outlines(one.area)
    assert set(outline.curves.kind.tolist()) == kinds and outline.nodes <= nodes and outline.chorded == 0


def test_what_is_left_or_changed_is_said() -> None:
    data = page(
        '<defs><linearGradient id="g"><stop stop-color="#a00"/><stop offset="1" stop-color="#00a"/></linearGradient></defs>'
        '<text x="10" y="20">Quiet  Heron</text><image href="x.png" width="9" height="9"/>'
        '<g opacity=".5"><rect width="40" height="30" fill="url(#g)"/></g><rect x="60" width="9" height="9" display="none"/>'
        '<rect x="60" y="30" width="30" height="30" mask="url(#m)" filter="url(#f)"/><use href="#nowhere"/>'
        '<path d="M0 0h9" stroke="#000" marker-end="url(#arrow)"/>'
    )  # fmt: skip
    words = "\n".join(picture_of(data.encode()).notes.lines())
    for said in ("live text “Quiet Heron”", "a picture", "half transparent", "gradient", "not displayed", "mask", "filter",
                 "“#nowhere”, which is not in the file", "markers"):  # fmt: skip
        assert said in words, said


def test_sizes_are_as_the_file_says_or_as_a_person_does() -> None:
    for size, wide in (('width="4in"', 101.6), ('width="50mm"', 50.0), ('width="12cm"', 120.0), ('width="72pt"', 25.4)):
        svg = f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="0 0 10 10"><rect width="10" height="10"/></svg>'
        found = found_art(svg.encode(), "svg")
        assert found.width == pytest.approx(wide, abs=1e-3) and found.unit_said
    svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><rect width="40" height="20"/></svg>'
    for unit, wide in (("px", 40 * 25.4 / 96), ("mm", 40.0), ("in", 1016.0)):
        found = found_art(svg.encode(), "svg", unit)
        assert found.width == pytest.approx(wide, abs=1e-3) and not found.unit_said
        assert any(f"taken as {unit}" in words for words in found.notes)


def test_groups_are_parts_and_what_lies_under_stays_where_asked() -> None:
    svg = page('<g id="sky"><rect width="120" height="80" fill="#123456"/></g><g id="sun"><circle cx="60" cy="40" r="20" fill="#fc0"/></g>'
               '<g id="moon"><circle cx="20" cy="20" r="9" fill="#fc0"/></g>').encode()  # fmt: skip
    seen, under = found_art(svg, "svg"), found_art(svg, "svg", under=True)
    assert [(one.colour, one.group) for one in seen.parts] == [
        ("#123456", "sky"),
        ("#ffcc00", "sun"),
        ("#ffcc00", "moon"),
    ]
    assert under.parts[0].area == pytest.approx(120 * 80)
    assert seen.parts[0].area == pytest.approx(120 * 80 - np.pi * (20**2 + 9**2), rel=1e-4)


BOMB = "<!DOCTYPE svg [" + "".join(
    f'<!ENTITY a{n} "{f"&a{n - 1};" * 10 if n else "x" * 50}">' for n in range(10)
) + ']><svg xmlns="http://www.w3.org/2000/svg"><desc>&a9;</desc></svg>'  # fmt: skip


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "cannot be read"), (b"<svg", "cannot be read"), (b"<html/>", "not an SVG"), (b"\x1f\x8bjunk", "unpacked"),
        (BOMB.encode(), "."), (b"\xff\xfe\x00", "cannot be read"),
        (b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><desc>&x;</desc></svg>', "."),
        (page('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>').encode(), "inside itself|deep"),
        (page("<g>" * 300 + "</g>" * 300).encode(), "deep|cannot be read"),
        (page("".join(f'<g id="g{n}">' + f'<use href="#g{n + 1}"/>' * 10 + "</g>" for n in range(8))).encode(), "more than"),
        (page('<path d="M0 0h100" stroke="#000" stroke-dasharray=".0001 .0001"/>').encode(), "dashes"),
        (page("<text>Hi</text>").encode(), "nothing in it is an area .*live text"),
    ],
)  # fmt: skip
def test_what_cannot_be_taken_is_refused_in_words(data: bytes, words: str) -> None:
    with pytest.raises(ArtRefused, match=words):
        found_art(data, "svg")


def test_numbers_may_be_packed_as_tightly_as_they_go() -> None:
    one, two = subpaths("M.5.5-1-1a5 5 0 1010 0 5,5 0 01-10-0zm20,30L1e1-2.5.5.5"), subpaths("M0 0z m3 3 1 1")
    assert [len(path.curves) for path in one] == [6, 2] and [path.closed for path in one] == [True, False]
    assert [path.at for path in two] == [(0.0, 0.0), (3.0, 3.0)]
    assert transform("rotate(90deg) translate(10px,5) scale(.5turn)").at(0, 0) == pytest.approx((-5, 10))


def test_fills_of_a_file_are_worked_out_together(monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[int] = []
    plain = inks.all_filled
    monkeypatch.setattr(inks, "all_filled", lambda many: asked.append(len(many)) or plain(many))
    dots = "".join(f'<circle cx="{n % 40 * 3}" cy="{n // 40 * 3}" r="1"/>' for n in range(1000))
    picture = picture_of(page(dots).encode())
    assert asked == [1000] and len(picture.painted) == 1000
    assert sum(one.area.area for one in picture.painted) == pytest.approx(1000 * np.pi, rel=5e-3)


BAR = '<rect x="30" y="20" width="40" height="20" fill="#a00"'


@pytest.mark.parametrize(
    ("said", "plain"),
    [
        ("transform-origin:50% 50%;transform:rotate(30deg)", "rotate(30 60 40)"),
        ("transform-origin:right bottom;transform:rotate(30deg)", "rotate(30 120 80)"),
        ("transform-origin:bottom right;transform:rotate(30deg)", "rotate(30 120 80)"),
        ("transform-origin:left;transform:rotate(30deg)", "rotate(30 0 40)"),
        ("transform-origin:60px 40px;transform:scale(.5)", "translate(60 40) scale(.5) translate(-60 -40)"),
        ("transform-box:fill-box;transform-origin:center;transform:rotate(40deg)", "rotate(40 50 30)"),
        ("transform-box:fill-box;transform:rotate(40deg)", "rotate(40 30 20)"),
        ("transform-box:fill-box;transform:translate(50%,100%)", "translate(20 20)"),
    ],
)
def test_transforms_are_about_their_origin(said: str, plain: str) -> None:
    """As a browser draws them; the plain ones are said without origins."""
    ours, same = (
        redrawn(picture_of(page(f"{BAR} {how}/>").encode())) for how in (f'style="{said}"', f'transform="{plain}"')
    )
    assert (np.abs(rendered(ours) - rendered(same)).max(axis=2) > 64).mean() < 1e-4


def test_a_group_turns_about_the_corner_of_its_own_box() -> None:
    inside = '<circle cx="40" cy="30" r="15"/><rect x="60" y="30" width="30" height="10" transform="rotate(10 60 30)"/>'
    style = "transform-box:fill-box;transform-origin:0% 100%;transform:rotate(90deg)"
    left, low = 25.0, 30 + 30 * np.sin(np.radians(10)) + 10 * np.cos(np.radians(10))
    ours, same = (
        redrawn(picture_of(page(f"<g {how}>{inside}</g>").encode()))
        for how in (f'style="{style}"', f'transform="rotate(90 {left} {max(low, 45.0)})"')
    )
    assert (np.abs(rendered(ours) - rendered(same)).max(axis=2) > 64).mean() < 1e-4
