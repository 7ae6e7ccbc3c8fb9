"""Pictures that are printed: where they lie and what is seen of them, in files read and drawn by others."""

import hashlib
import io
import json
from collections.abc import Callable

import numpy as np
import pikepdf
import pypdfium2
import pytest
import resvg_py
from PIL import Image, ImageCms

from jigger.core.art.found import found_art
from jigger.core.cache import Cache
from jigger.core.checks.report import check
from jigger.core.design.building.build import build
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import from_data
from jigger.core.errors import CommandRefused
from jigger.core.formats.pictures import is_plain_jpeg, upright
from jigger.core.formats.thumbnail import write_thumbnail
from jigger.core.lettering.lettercase import LetterCase
from jigger.services.showing.proofs import proof_paper, proof_png
from jigger.services.workshop import Workshop

RED, GREEN, BLUE, GOLD = (200, 30, 30), (30, 160, 60), (30, 60, 200), (230, 190, 40)
PAPER = "#fbeedd"
PER_MM = 8.0  # pixels
Rgb = tuple[int, int, int]


def quarters(wide: int = 80, high: int = 60) -> Image.Image:
    """Red above left, green above right, blue below left, gold below right."""
    pixels = np.zeros((high, wide, 3), np.uint8)
    pixels[: high // 2, : wide // 2], pixels[: high // 2, wide // 2 :] = RED, GREEN
    pixels[high // 2 :, : wide // 2], pixels[high // 2 :, wide // 2 :] = BLUE, GOLD
    return Image.fromarray(pixels)


def saved(image: Image.Image, kind: str = "PNG", **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **more)
    return out.getvalue()


DATA = saved(quarters())
IDENTITY = hashlib.sha256(DATA).hexdigest()
WORKSHOP = Workshop(pictures={IDENTITY: DATA}.get)
TILE: dict = {  # 80 × 60 mm about its own zero, a pixel a mm
    "kind": "artwork", "id": "p", "name": "Tile",
    "outline": json.dumps([[[-40, -30], [40, -30], [40, 30], [-40, 30], [-40, -30]]]),
    "picture": {"picture": IDENTITY, "wide": 80, "high": 60, "a": 1.0, "d": 1.0, "x": -40.0, "y": -30.0},
    "place": {"by": "origin"},
}  # fmt: skip
CUT = {"kind": "shape", "id": "c", "form": "rectangle", "width": 200, "height": 160, "place": {"on": "page"}}


def of(*parts: dict, **more: object) -> Design:
    printed = {"id": "print", "material": "outdoor-vinyl", "build": "print", "colour": PAPER, "parts": list(parts)}
    cut = {"id": "cut", "material": "outdoor-vinyl", "parts": [CUT]}
    return from_data({"jigger": 15, "name": "Tile", "serial": 90, "layers": [{**printed, **more}, cut]})


def sheet(data: bytes, trim: tuple[float, float, float, float]) -> Callable[[float, float], Rgb]:
    """The colour at a point of the drawing, mm: from the file drawn by another, by its trim box."""
    with pikepdf.open(io.BytesIO(data)) as found:
        left, bottom, _, _ = (float(value) * 25.4 / 72 for value in found.pages[0].TrimBox)
    page = pypdfium2.PdfDocument(data)[0].render(scale=PER_MM * 25.4 / 72).to_pil().convert("RGB")

    def at(x: float, y: float) -> Rgb:
        across, up = (x - trim[0] + left) * PER_MM, (y - trim[1] + bottom) * PER_MM
        return page.getpixel((round(across), page.height - 1 - round(up)))

    return at


def printed(design: Design, workshop: Workshop = WORKSHOP) -> Callable[[float, float], Rgb]:
    box = workshop.exact(design).page_box
    assert box
    return sheet(workshop.file(design, "print.pdf"), box)


def near(seen: Rgb, wanted: Rgb, by: int = 12) -> bool:
    return max(abs(a - b) for a, b in zip(seen, wanted, strict=True)) <= by


def finish(kind: str, **more: object) -> dict:
    return {"kind": kind, "id": f"f-{kind}", **more}


PAPER_RGB: Rgb = (251, 238, 221)
WHITE: Rgb = (255, 255, 255)
WORD = {"kind": "shape", "id": "w", "form": "rectangle", "width": 20, "height": 20, "place": {"on": "page"}}
CASES: dict[str, tuple[Design, dict[tuple[float, float], Rgb]]] = {
    "as it is": (of(TILE), {(-20, 15): RED, (20, 15): GREEN, (-20, -15): BLUE, (20, -15): GOLD, (45, 0): WHITE}),
    "moved": (of({**TILE, "place": {"by": "origin", "x": 10, "y": 5}}), {(-10, 20): RED, (30, -10): GOLD}),
    "half as large": (of({**TILE, "scale": 0.5}), {(-10, 7): RED, (10, -7): GOLD, (-20.5, 0): WHITE}),
    "turned": (
        of({**TILE, "finishes": [finish("turn", angle=90.0)]}),
        {(-15, -20): RED, (-15, 20): GREEN, (15, -20): BLUE, (15, 20): GOLD},
    ),
    "stretched": (
        of({**TILE, "finishes": [finish("stretch", across=1.5, up=0.5)]}),
        {(-50, 12): RED, (50, 12): GREEN, (50, -12): GOLD, (0, 18): WHITE},
    ),
    "mirrored": (
        of({**TILE, "scale": 0.5, "finishes": [finish("mirror", side="right", gap=10.0)]}),
        {(-10, 7): RED, (10, 7): GREEN, (40, 7): GREEN, (60, 7): RED, (60, -7): BLUE, (25, 0): WHITE},
    ),
    "mirrored where it is clipped": (
        of({**TILE, "finishes": [finish("mirror", side="right", axis="middle", crossing="clipped")]}),
        {(-20, 15): RED, (20, 15): RED, (20, -15): BLUE},
    ),
    "repeated": (
        of({**TILE, "scale": 0.25, "finishes": [finish("repeat", rows=2, columns=2, gap_x=4.0, gap_y=4.0)]}),
        {(-5, 3): RED, (19, 3): RED, (29, 3): GREEN, (5, 15): GOLD, (29, 22): GREEN, (12, 0): WHITE},
    ),
    "with an outline": (
        of({**TILE, "finishes": [finish("outline", style="solid", steps=[5.0])]}),
        {(-38, 28): RED, (-43, 0): PAPER_RGB, (0, 33): PAPER_RGB, (46, 0): WHITE},
    ),
    "under a word": (of(TILE, WORD), {(0, 0): PAPER_RGB, (-15, 15): RED, (12, -5): GOLD}),
    "over a word": (of({**WORD, "id": "v"}, TILE), {(-5, 5): RED, (5, -5): GOLD}),
    "knocked out": (of(TILE, {**WORD, "join": {"kind": "knock out"}}), {(0, 0): WHITE, (-12, 12): RED}),
    "kept inside": (of(TILE, {**WORD, "join": {"kind": "keep inside"}}), {(-5, 5): RED, (-12, 12): WHITE}),
    "put under": (
        of(WORD, {**TILE, "join": {"kind": "weld over", "role": "under"}}),
        {(0, 0): PAPER_RGB, (-15, 15): RED},
    ),
    "fitted": (
        of({**CUT, "id": "s", "width": 160, "height": 120, "hidden": True},
           {**TILE, "fit": {"kind": "width", "to": "s", "margin": 0.0}}),
        {(-70, 50): RED, (70, -50): GOLD},
    ),
    "in a group that is turned and moved": (
        of({"kind": "group", "id": "g", "parts": [TILE, {**WORD, "place": {"on": "page", "x": 30.0}}],
            "finishes": [finish("turn", angle=90.0)], "place": {"on": "page", "x": 5.0}}),
        {(-10, -20): RED, (20, -20): BLUE, (-10, 18): GREEN, (5, 30): PAPER_RGB},
    ),
    "in a layer that is turned": (
        of(TILE, WORD, finishes=[finish("turn", angle=180.0)]), {(20, -15): RED, (-20, 15): GOLD, (0, 0): PAPER_RGB}
    ),
    "cleaned and in bands": (
        of({**TILE, "finishes": [finish("bands", strips=[{"low": 0.5, "high": 1.0}], by="share")]}),
        {(-20, 15): RED, (20, 15): GREEN, (20, -15): WHITE},
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_a_picture_lies_where_its_part_does_and_shows_what_is_not_covered(name: str) -> None:
    design, wanted = CASES[name]
    at = printed(design)
    assert {place: at(*place) for place, colour in wanted.items() if not near(at(*place), colour)} == {}
    assert not any(one.code in ("picture-left", "not-checked") for one in WORKSHOP.report(design).all_findings)
    drawn = resvg_py.svg_to_bytes(
        svg_string=write_thumbnail(WORKSHOP.display(design, 0.2), {"print": PAPER, "cut": "#000"}, "#ffffff", {IDENTITY: DATA}.get),
        skip_system_fonts=True, background="#ffffff", width=1000,
    )  # fmt: skip
    small = Image.open(io.BytesIO(bytes(drawn))).convert("RGB")
    box = WORKSHOP.exact(design).extent
    assert box
    room = 0.06 * max(box[2] - box[0], box[3] - box[1])
    scale = 1000 / (box[2] - box[0] + 2 * room)
    for (x, y), colour in wanted.items():
        seen = small.getpixel((round((x - box[0] + room) * scale), round((box[3] + room - y) * scale)))
        assert near(seen, colour), f"{name}, {x}, {y}: {seen} in the thumbnail"


def test_a_bent_picture_stops_and_its_area_has_the_colour_of_its_layer() -> None:
    design = of({**TILE, "finishes": [finish("bend", form={"bend": 40.0})]})
    (found,) = [one for one in WORKSHOP.report(design).all_findings if one.code == "picture-left"]
    assert found.severity == "stop" and found.part == "p" and "bend" in found.message
    assert near(printed(design)(-20, 20), PAPER_RGB)
    straight = of({**TILE, "finishes": [finish("bend")]})
    assert near(printed(straight)(-20, 20), RED), "a bend by nothing leaves it where it is"


def test_a_picture_in_what_is_cut_is_left_alone() -> None:
    design = of(TILE)
    cut = design.model_copy(deep=True)
    cut.layers[0].build = "keep"
    assert not WORKSHOP.exact(cut).parts["p"].pictures
    assert WORKSHOP.exact(cut).layers[0].kept.area == pytest.approx(4800)


@pytest.mark.parametrize(("wide", "coarse"), [(13.0, False), (14.0, True)])
def test_pixels_that_are_seen_are_said(wide: float, coarse: bool) -> None:
    """80 pixels over 13 mm are 156 an inch, over 14 mm 145."""
    design = of({**TILE, "scale": wide / 80})
    found = [one for one in WORKSHOP.report(design).all_findings if one.code == "coarse-picture"]
    assert [round(one.measured) for one in found] == ([145] if coarse else [])
    with pikepdf.open(io.BytesIO(WORKSHOP.file(design, "print.pdf"))) as file:
        (image,) = [one for one in file.pages[0].Resources.XObject.values() if one.get("/Subtype") == "/Image"]
        assert (int(image.Width), int(image.Height)) == (80, 60), "it keeps its pixels"


def test_copies_share_one_image_and_too_many_are_refused() -> None:
    many = of({**TILE, "scale": 0.02, "finishes": [finish("repeat", rows=10, columns=10)]})
    with pikepdf.open(io.BytesIO(WORKSHOP.file(many, "print.pdf"))) as file:
        assert len([one for one in file.pages[0].Resources.XObject.values() if one.get("/Subtype") == "/Image"]) == 1
        assert file.pages[0].Contents.read_bytes().count(b" Do") == 100
    read = list[str]()

    def counted(identity: str) -> bytes | None:
        read.append(identity)
        return DATA

    svg = write_thumbnail(WORKSHOP.display(many, 0.2), {}, "#ffffff", counted)
    assert svg.count("data:image/") == 1 and svg.count("<use ") == 100 and len(read) == 1
    crowd = of({**TILE, "scale": 0.02, "finishes": [finish("repeat", rows=40, columns=40)]})
    assert any(one.code == "too-large" for one in WORKSHOP.report(crowd).all_findings)


def test_a_picture_that_is_not_here_is_said_and_nothing_is_written() -> None:
    with pytest.raises(CommandRefused, match="picture of “Tile” is not here"):
        Workshop().file(of(TILE), "print.pdf")
    assert Workshop().file(of(TILE), "svg"), "what is cut needs no picture"


def test_the_file_comes_back_with_its_areas_and_says_that_the_picture_is_left() -> None:
    design = of({**TILE, "finishes": [finish("turn", angle=20.0)]}, WORD)
    found = found_art(WORKSHOP.file(design, "print.pdf"), "pdf", under=True)
    assert any("a picture" in words for words in found.notes)
    (paper,) = [one for one in found.parts if one.colour == PAPER]
    assert paper.area == pytest.approx(WORKSHOP.exact(design).printed[0].area.area, rel=1e-4)


def test_proofs_show_it() -> None:
    design = of(TILE)
    page = pypdfium2.PdfDocument(proof_paper(WORKSHOP, design, "today"))[0].render(scale=2).to_pil().convert("RGB")
    picture = Image.open(io.BytesIO(proof_png(WORKSHOP, design))).convert("RGB")
    for shown in (page, picture):
        counted = shown.getcolors(1 << 24) or []
        for wanted in (RED, GREEN, BLUE, GOLD):
            assert sum(count for count, colour in counted if near(colour, wanted, 20)) > 500, wanted


def turned_by_its_notes() -> bytes:
    """A JPEG that lies on its side and says so: upright it is `quarters`."""
    notes = Image.Exif()
    notes[0x0112] = 6  # turn it clockwise to see it
    return saved(quarters().transpose(Image.Transpose.ROTATE_90), "JPEG", quality=95, exif=notes)


def clear_above() -> bytes:
    image = quarters().convert("RGBA")
    alpha = np.full((60, 80), 255, np.uint8)
    alpha[:30] = 0
    image.putalpha(Image.fromarray(alpha))
    return saved(image)


PROFILE = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
KINDS: dict[str, tuple[bytes, Rgb]] = {
    "jpeg": (saved(quarters(), "JPEG", quality=95), RED),
    "jpeg turned by its notes": (turned_by_its_notes(), RED),
    "jpeg with a profile": (saved(quarters(), "JPEG", quality=95, icc_profile=PROFILE), RED),
    "jpeg in four inks": (saved(quarters().convert("CMYK"), "JPEG", quality=95), RED),
    "palette": (saved(quarters().convert("P", palette=Image.Palette.ADAPTIVE)), RED),
    "grey of 16 bits": (saved(Image.fromarray(np.full((60, 80), 200 << 8, np.uint16))), (200, 200, 200)),
    "grey": (saved(Image.new("L", (80, 60), 90)), (90, 90, 90)),
    "black and white": (saved(Image.new("1", (80, 60), 0)), (0, 0, 0)),
    "clear above": (clear_above(), PAPER_RGB),
}


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_of_picture_is_printed_upright_in_its_colours(kind: str) -> None:
    data, above = KINDS[kind]
    part = {**TILE, "picture": {**TILE["picture"], "picture": hashlib.sha256(data).hexdigest()}}
    workshop = Workshop(pictures=lambda _: data)
    at = printed(of(part), workshop)
    assert near(at(-20, 15), above, 45 if "inks" in kind else 25), at(-20, 15)
    if above in (RED, PAPER_RGB):
        assert near(at(-20, -15), BLUE, 60) and near(at(20, -15), GOLD, 40)


def test_a_plain_jpeg_is_taken_as_it_is() -> None:
    data = KINDS["jpeg"][0]
    assert is_plain_jpeg(data) and not is_plain_jpeg(KINDS["jpeg turned by its notes"][0]) and not is_plain_jpeg(DATA)
    part = {**TILE, "picture": {**TILE["picture"], "picture": hashlib.sha256(data).hexdigest()}}
    with pikepdf.open(io.BytesIO(Workshop(pictures=lambda _: data).file(of(part), "print.pdf"))) as file:
        (image,) = [one for one in file.pages[0].Resources.XObject.values() if one.get("/Subtype") == "/Image"]
        assert "/DCTDecode" in str(image.Filter)


def test_a_profile_of_other_colours_is_read() -> None:
    """A profile whose red is another one: what a screen shows is not the bytes."""
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
    odd = saved(quarters(), "PNG", icc_profile=lab)
    assert upright(odd).size == (80, 60), "a profile of another kind of colour is left aside"
    assert upright(saved(quarters(), icc_profile=b"none at all")).getpixel((1, 1)) == RED


def test_many_words_over_it_leave_what_they_do_not_cover() -> None:
    design = of(TILE, *({**WORD, "id": f"w{n}", "place": {"on": "page", "x": n * 1.5 - 40}} for n in range(50)))
    built = build(design, LetterCase(), Cache())
    (one,) = built.printed[0].pictures
    assert one.seen.area == pytest.approx(80 * 60 - 80 * 20, abs=0.1)
    assert not [x for x in check(design, built, Cache()).all_findings if x.code in ("not-checked", "cannot-build")]
