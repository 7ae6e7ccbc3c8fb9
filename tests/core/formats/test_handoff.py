"""The file for a print house, read by two other libraries: boxes, layers, the cut line a separation that overprints."""

import io

import pikepdf
import pypdfium2
import pytest

from jigger.core.design.model.design import Design
from jigger.core.design.model.document import from_data
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused, DesignRefused
from jigger.core.formats.handoff import BLEED, POINT
from jigger.services.workshop import Workshop


@pytest.fixture(scope="module")
def sticker() -> Design:
    return starter("contour-sticker").make({"text": "HERON"})


def test_a_sticker_is_one_piece_and_its_ground_goes_on_beyond_the_cut(workshop: Workshop, sticker: Design) -> None:
    built, report = workshop.exact(sticker), workshop.report(sticker)
    assert report.ready and [layer.pieces for layer in report.layers] == [1] and len(built.printed) == 3
    cut, ground = built.box, built.printed[0].area.bounds
    assert cut and ground and [round(b - a, 2) for a, b in zip(cut, ground, strict=True)] == [-3, -3, 3, 3]
    for one in built.printed[1:]:
        assert one.area.area > 0 and built.layers[0].kept.geometry.buffer(0.001).contains(one.area.geometry)


def test_boxes_layers_and_the_separation(workshop: Workshop, sticker: Design) -> None:
    data = workshop.file(sticker, "print.pdf")
    assert data == workshop.file(sticker, "print.pdf"), "the same file of the same design"
    with pikepdf.open(io.BytesIO(data)) as found:
        (page,) = found.pages
        left, bottom, right, top = (float(value) for value in page.TrimBox)
        cut = workshop.exact(sticker).page_box or (0, 0, 0, 0)
        assert (right - left, top - bottom) == pytest.approx(
            ((cut[2] - cut[0]) / POINT, (cut[3] - cut[1]) / POINT), abs=0.01
        )
        assert [float(a) - float(b) for a, b in zip(page.BleedBox, page.TrimBox, strict=True)] == pytest.approx(
            [-BLEED / POINT] * 2 + [BLEED / POINT] * 2, abs=0.001
        )
        groups = found.Root.OCProperties.OCGs
        assert [str(group.Name) for group in groups] == ["Ground, with bleed", "Words", "Figure", "Cut"]
        spaces = [space for space in page.Resources.ColorSpace.values() if str(space[0]) == "/Separation"]
        assert [str(space[1]) for space in spaces] == ["/Cut"]
        assert any(state.get("/OP") for state in page.Resources.ExtGState.values()), "it overprints"
        content = page.Contents.read_bytes().decode("latin-1")
        assert content.count("BDC") == content.count("EMC") == 4
    named = workshop.file(sticker, "print.pdf", "kiss")
    with pikepdf.open(io.BytesIO(named)) as found:
        assert str(found.Root.OCProperties.OCGs[-1].Name) == "Kiss cut"


def test_colours_are_kept_where_they_are_printed(workshop: Workshop, sticker: Design) -> None:
    page = pypdfium2.PdfDocument(workshop.file(sticker, "print.pdf"))[0]
    picture = page.render(scale=2).to_pil().convert("RGB")
    shown = {colour for _, colour in picture.getcolors(1 << 24) or [] if _ > 200}
    wanted = [layer.colour for layer in sticker.layers if layer.build == "print"]
    assert {tuple(bytes.fromhex(str(one)[1:])) for one in wanted} <= shown


def test_what_is_not_printed_has_no_such_file(workshop: Workshop) -> None:
    with pytest.raises(CommandRefused, match="nothing here is printed"):
        workshop.file(starter("swept-name").make({}), "print.pdf")


def test_only_printed_layers_are_nothing_to_cut(workshop: Workshop, sticker: Design) -> None:
    printed = sticker.model_copy(deep=True)
    printed.layers = printed.layers[1:3]
    report = workshop.report(printed)
    assert not report.ready and report.stops[0].code == "nothing-to-cut"
    with pytest.raises(CommandRefused):
        workshop.file(printed, "svg")


def test_a_printed_layer_is_neither_opened_nor_lapped() -> None:
    data = starter("lifting-name").make({}).model_dump()
    related = next(layer for layer in data["layers"] if layer["relations"])
    lower = next(layer for layer in data["layers"] if layer["id"] == related["relations"][0]["lower"])
    lower["build"] = "print"
    with pytest.raises(DesignRefused, match="is printed"):
        from_data(data)
