"""A print house's own reading of a PDF: boxes, inks, pictures and the cut line, with no knowledge of who wrote it."""

import io
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import pypdf
import pypdfium2
from numpy.typing import NDArray
from pypdf.generic import ContentStream

MM = 25.4 / 72  # mm a point
PER_MM = 6.0  # pixels, of the picture that bleed is looked for on
STEPS = 16  # points of a curve
Matrix = NDArray[np.float64]
Path = list[tuple[float, float]]


class Unreadable(ValueError):
    """It is no PDF of one page that can be read; the words say why."""


@dataclass
class Read:
    """Sizes in mm. `cuts`: paths of the cut line with whether each is closed, points from the lower left of the page;
    `inks`: names of all separations; `coarsest`: pixels an inch of the coarsest picture, None without pictures.
    """

    media: tuple[float, float, float, float]
    trim: tuple[float, float, float, float]
    bleed: tuple[float, float, float, float]
    inks: set[str] = field(default_factory=set)
    cuts: list[tuple[Path, bool]] = field(default_factory=list)
    overprints: bool = False
    coarsest: float | None = None
    shown: NDArray[np.uint8] = field(default_factory=lambda: np.zeros((1, 1), np.uint8))


def read_print(data: bytes, names: tuple[str, ...]) -> Read:
    """`names`: what a cut line may be called. Raises Unreadable."""
    try:
        reader = pypdf.PdfReader(io.BytesIO(data))
        (page,) = reader.pages
        found = Read(_box(page.mediabox), _box(page.trimbox), _box(page.bleedbox))
        _Walk(found, page, reader, names).run()
        picture = pypdfium2.PdfDocument(data)[0].render(scale=PER_MM * MM)
        found.shown = picture.to_numpy()[:, :, :3].min(axis=2)
    except Unreadable:
        raise
    except Exception as error:
        raise Unreadable(f"it cannot be read as a PDF of one page ({type(error).__name__})") from None
    return found


def _box(box: Any) -> tuple[float, float, float, float]:
    left, bottom, right, top = (float(value) * MM for value in box)
    return left, bottom, right, top


class _Walk:
    """Through a page's content: the state of the graphics, and what is drawn in it."""

    def __init__(self, found: Read, page: Any, reader: pypdf.PdfReader, names: tuple[str, ...]):
        self.found, self.names = found, names
        resources = page["/Resources"].get_object()
        self.spaces = self._separations(resources)
        self.states = resources.get("/ExtGState", {})
        self.images = resources.get("/XObject", {})
        self.found.inks = set(self.spaces.values())
        self.content = ContentStream(page.get_contents(), reader)
        self.now: Matrix = np.eye(3)
        self.kept: list[tuple[Matrix, str, bool]] = []
        self.ink, self.over = "", False
        self.paths: list[tuple[Path, bool]] = []

    @staticmethod
    def _separations(resources: Any) -> dict[str, str]:
        spaces = resources.get("/ColorSpace", {})
        found = {name: space.get_object() for name, space in spaces.items()}
        return {
            name: str(one[1])[1:] for name, one in found.items() if isinstance(one, list) and one[0] == "/Separation"
        }

    def run(self) -> None:
        for given, operator in self.content.operations:
            act = getattr(self, f"_{operator.decode('latin-1').replace('*', '_star')}", None)
            if act:
                act(*given)

    def _q(self) -> None:
        self.kept.append((self.now, self.ink, self.over))

    def _Q(self) -> None:
        self.now, self.ink, self.over = self.kept.pop()

    def _cm(self, *six: Any) -> None:
        a, b, c, d, e, f = map(float, six)
        self.now = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ self.now

    def _CS(self, name: Any) -> None:
        self.ink = self.spaces.get(name, "")

    def _gs(self, name: Any) -> None:
        self.over = bool(self.states[name].get_object().get("/OP", False))

    def _m(self, x: Any, y: Any) -> None:
        self.paths.append(([self._at(x, y)], False))

    def _l(self, x: Any, y: Any) -> None:
        self.paths[-1][0].append(self._at(x, y))

    def _c(self, *six: Any) -> None:
        points = np.array([self.paths[-1][0][-1], *(self._at(*six[i : i + 2]) for i in (0, 2, 4))])
        t = np.linspace(0, 1, STEPS + 1)[1:, None]
        weights = np.hstack([(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3])
        self.paths[-1][0].extend(map(tuple, (weights @ points).tolist()))

    def _h(self) -> None:
        self.paths[-1] = (self.paths[-1][0], True)

    def _S(self) -> None:
        if self.ink in self.names:
            self.found.cuts += self.paths
            self.found.overprints = self.over
        self.paths = []

    def _s(self) -> None:
        self._h()
        self._S()

    def _n(self) -> None:
        self.paths = []

    _f = _f_star = _F = _B = _B_star = _n

    def _Do(self, name: Any) -> None:
        image = self.images[name].get_object()
        if image.get("/Subtype") != "/Image":
            return
        wide = float(np.hypot(*self.now[0, :2])) / 72  # inches
        high = float(np.hypot(*self.now[1, :2])) / 72
        fine = min(float(image["/Width"]) / max(wide, 1e-9), float(image["/Height"]) / max(high, 1e-9))
        self.found.coarsest = fine if self.found.coarsest is None else min(fine, self.found.coarsest)

    def _at(self, x: Any, y: Any) -> tuple[float, float]:
        px, py, _ = np.array([float(x), float(y), 1.0]) @ self.now
        return float(px) * MM, float(py) * MM
