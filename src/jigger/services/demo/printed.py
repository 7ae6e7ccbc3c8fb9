"""A printed sticker of the boatyard: a picture within a disc, words on it, and a cut line."""

from pathlib import Path

from jigger.core.design.model.design import Artwork, Design, Join, Layer, Shape
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Course
from jigger.core.design.model.placing import Place
from jigger.core.design.starters.base import lettering
from jigger.core.materials.printing import BLEED
from jigger.services.supplies.pictures import Pictures

PICTURE = Path(__file__).parent / "art" / "dusk.jpg"
WIDE = 96.0  # mm, of the sticker
MATERIAL = "outdoor-vinyl"


def sticker_with_a_picture(pictures: Pictures) -> Design:
    """The picture goes on beyond the cut, and the words run round above and below."""
    design = Design(name="Skiff at dusk, sticker")
    kept = pictures.keep(PICTURE.read_bytes(), PICTURE.name)
    brought = pictures.printed(kept.id, {}, WIDE + 3 * BLEED)
    dusk = Artwork(
        id=design.fresh("part"), name="Dusk", file="dusk", outline=brought.outline, picture=brought.picture,
        place=Place(by="origin"),
    )  # fmt: skip
    bleed = Shape(
        id=design.fresh("part"), name="As far as the bleed", form="disc", width=WIDE + 2 * BLEED,
        height=WIDE + 2 * BLEED, join=Join(kind="keep inside"),
    )  # fmt: skip
    around = Course(kind="circle", radius=WIDE / 2 - 14)
    below = Course(kind="circle", radius=WIDE / 2 - 5, side="under", heads="in")
    words = [
        lettering(design, "WITHY LOCK", "alfa-slab-one", 9.0, course=around, place=Place(by="course")),
        lettering(design, "SKIFF HIRE", "alfa-slab-one", 9.0, course=below, place=Place(by="course")),
    ]
    line = Shape(id=design.fresh("part"), name="Edge", form="disc", width=WIDE, height=WIDE)
    design.layers = [
        Layer(id=design.fresh("layer"), name="Picture", material=MATERIAL, build="print", colour="#ffffff",
              parts=[dusk, bleed]),
        Layer(id=design.fresh("layer"), name="Words", material=MATERIAL, build="print", colour="#fff3d6",
              parts=list(words)),
        Layer(id=design.fresh("layer"), name="Cut line", material=MATERIAL, wish="one", parts=[line]),
    ]  # fmt: skip
    return check_whole(design)
