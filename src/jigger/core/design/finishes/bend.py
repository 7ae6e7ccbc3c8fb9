"""Bend: as lettering is bent, the whole as one."""

from typing import Literal

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind, stays
from jigger.core.design.model.lettering import Form
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.warp import warped_region
from jigger.core.joinery.finishes.copies import Copy
from jigger.core.lettering import forms


class Bend(FinishBase):
    """Bent as lettering is, the whole as one."""

    kind: Literal["bend"] = "bend"
    form: Form = Form()


def _done(finish: Bend, doing: Doing) -> tuple[Region, int]:
    region, box, form = doing.region, doing.region.bounds, _form(finish)
    if box is None or form.straight:
        return region, 0
    left, foot, right, top = box
    standing = left, 0.0, right, top - foot  # its foot is what the arc runs along
    by = forms.form_map(form, standing, forms.possible_bend(form, standing))
    return warped_region(region.moved(0.0, -foot), by, forms.FIT, doing.tolerance).moved(0.0, foot), 0


def _copied(finish: Bend, doing: Doing) -> list[Copy] | None:
    return stays(finish, doing) if _form(finish).straight else None


def _form(finish: Bend) -> forms.BendForm:
    return forms.BendForm(*(getattr(finish.form, name) for name in ("bend", "swell", "ripple", "waves", "taper")))


def _begun(finish: Bend, opening: float) -> None:
    finish.form.bend = 40.0


KIND = FinishKind("bend", Bend, _done, _copied, _begun)
