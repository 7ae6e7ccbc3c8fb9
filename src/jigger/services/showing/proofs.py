"""Proofs: a design shown to its customer by a link that cannot be guessed, what they say to it, and its paper."""

import secrets
from dataclasses import dataclass

import resvg_py

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused, JiggerError
from jigger.core.formats.guide import PlacementGuide, write_scaled_guide, write_true_guide
from jigger.core.formats.proof import ProofSheet, write_proof
from jigger.core.words import one_line
from jigger.services.clock import now
from jigger.services.designs import Designs
from jigger.services.lists.tickets import FACE
from jigger.services.showing.reporting import PICTURE, in_its_colours
from jigger.services.workshop import Workshop
from jigger.store.proofs import ProofLink as ProofLink
from jigger.store.proofs import ProofStore
from jigger.store.proofs import ProofWord as ProofWord

LONGEST_NAME, LONGEST_WORDS, MOST_WORDS = 80, 2000, 200
PIXELS = 1600
BITS = 24  # bytes of a token: more than can ever be tried


class NoSuchProof(JiggerError):
    """There is no such link, or it was withdrawn."""


@dataclass(frozen=True)
class ShownProof:
    """What a link shows: the design as it was at its revision, and what was said to it, the newest first."""

    link: ProofLink
    design: Design
    words: list[ProofWord]

    @property
    def approved(self) -> ProofWord | None:
        """The last approval of just this revision."""
        return next((one for one in self.words if one.approved and one.revision == self.link.revision), None)


class Proofs:
    def __init__(self, store: ProofStore, designs: Designs):
        self._store, self._designs = store, designs

    # ---- who made it

    def of(self, design: str) -> ProofLink | None:
        """The link to a design that is open now."""
        return self._store.of(design)

    def give(self, design: str) -> ProofLink:
        """A link to the present state of a design; one that there is shows that from now on. Raises NoSuchDesign."""
        number = self._designs.open(design).number
        link = self._store.of(design)
        token = link.token if link else secrets.token_urlsafe(BITS)
        if link:
            self._store.show(token, number)
        else:
            self._store.add(token, design, number, now())
        found = self._store.get(token)
        assert found is not None
        return found

    def withdraw(self, design: str) -> None:
        """Nobody sees the design by its link any more; what was said to it is kept."""
        if link := self._store.of(design):
            self._store.withdraw(link.token, now())

    def said(self, design: str) -> list[ProofWord]:
        """Everything that was said to proofs of a design, the newest first."""
        return self._store.said(design)

    def approval(self, design: str) -> tuple[ProofWord, bool] | None:
        """The last approval of a design, and whether it still is as it was then; None where nobody approved it."""
        word = next((one for one in self._store.said(design) if one.approved), None)
        if word is None:
            return None
        return word, self._designs.at(design, word.revision) == self._designs.open(design).design

    # ---- who looks at it

    def shown(self, token: str) -> ShownProof:
        """What a link shows. Raises NoSuchProof."""
        link = self._store.get(token)
        design = self._designs.at(link.design_id, link.revision) if link and not link.withdrawn else None
        if link is None or design is None:
            raise NoSuchProof("This link shows nothing, or was withdrawn.")
        return ShownProof(link, design, self._store.said(link.design_id))

    def say(self, token: str, name: str, words: str, approved: bool, revision: int) -> None:
        """A remark, or an approval of the revision that was looked at. Raises CommandRefused, NoSuchProof."""
        shown = self.shown(token)
        name, words = one_line(name), "\n".join(one_line(line) for line in words.splitlines()).strip()
        if not name:
            raise CommandRefused("Your name", "say who you are")
        if not approved and not words:
            raise CommandRefused("Your words", "write what you would like to be said")
        if len(name) > LONGEST_NAME or len(words) > LONGEST_WORDS:
            raise CommandRefused("Your words", f"at most {LONGEST_WORDS} letters, and {LONGEST_NAME} of a name")
        if self._store.count(token) >= MOST_WORDS:
            raise CommandRefused("Your words", "this proof has so many already; ask for a new link")
        if approved and revision != shown.link.revision:
            raise CommandRefused("Approval", "the proof has changed since you opened it; look at it once more")
        self._store.say(token, ProofWord(shown.link.revision, name, words, approved, now()))


def proof_sheet(workshop: Workshop, design: Design, said: str, unit: str = "mm") -> ProofSheet:
    """The proof of a design, exact, its sizes in a unit. Raises CommandRefused where there is nothing to see."""
    built = workshop.exact(design)
    if built.extent is None or built.box is None:
        raise CommandRefused("Proof", "there is nothing in this design yet")
    colours = {layer.id: layer.colour for layer in design.layers if layer.colour}
    areas = [(colours.get(one.id, one.material.colour), one.area, one.pictures) for one in built.printed]
    if not areas:
        areas = [(colours.get(one.id, one.material.colour), one.kept, ()) for one in built.layers]
    surface = (design.surface.colour, built.surface) if design.surface and built.surface else None
    accepted = [f"{one.code.replace('-', ' ')}, because: {one.reason}" for one in design.accepted]
    return ProofSheet(
        design.name, said, built.extent, built.box, surface, areas, _rows(design, built), design.note, accepted,
        workshop.pictures, unit,
    )  # fmt: skip


def _rows(design: Design, built: Built) -> list[tuple[str, str]]:
    """What it is made of: each layer with its colour."""
    titles = {layer.id: (layer.title, layer.colour) for layer in design.layers}
    made = [(one.id, one.material, "printed") for one in built.printed]
    made += [(one.id, one.material, one.material.name) for one in built.layers]
    found = []
    for identity, material, how in made:
        title, colour = titles[identity]
        found.append((colour or material.colour, title if title == how else f"{title}: {how}"))
    return found


def proof_paper(workshop: Workshop, design: Design, said: str, unit: str = "mm") -> bytes:
    """The proof as PDF. Raises CommandRefused where there is nothing to see."""
    return write_proof(proof_sheet(workshop, design, said, unit), FACE.read_bytes())


def placement_guide(workshop: Workshop, design: Design, scaled: bool = False, unit: str = "mm") -> bytes:
    """Where the work lies on its surface: a PDF at true size over pages, or on one to scale. Raises CommandRefused."""
    sheet = proof_sheet(workshop, design, "")
    frame = sheet.surface[1].bounds if sheet.surface else None
    areas = tuple(region for _, region, _ in sheet.areas)
    guide = PlacementGuide(design.name, frame or sheet.work, sheet.work, areas, unit)
    return (write_scaled_guide if scaled else write_true_guide)(guide, FACE.read_bytes())


def proof_png(workshop: Workshop, design: Design) -> bytes:
    """The same as PNG on white, PIXELS along its longer side."""
    drawn = in_its_colours(workshop, design, PIXELS)
    left, bottom, right, top = workshop.display(design, PICTURE).extent or (0.0, 0.0, 4.0, 3.0)
    lies = right - left >= top - bottom
    picture = resvg_py.svg_to_bytes(
        svg_string=drawn, width=PIXELS if lies else None, height=None if lies else PIXELS, skip_system_fonts=True,
        background="#ffffff",
    )  # fmt: skip
    return bytes(picture)
