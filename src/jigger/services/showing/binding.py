"""Papers of all designs of a cut list, bound into one PDF."""

import io
from collections.abc import Callable, Iterable

from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused


def bound(designs: Iterable[tuple[Design, int]], paper: Callable[[Design, str], bytes]) -> bytes:
    """The `paper` of each design and of what is said of its version, one after another; designs that have none, with
    nothing on them, are left out. Raises CommandRefused where none is left.
    """
    from pypdf import PdfWriter

    papers, reason = list[bytes](), CommandRefused("Cut list", "there is nothing on it yet")
    for design, revision in designs:
        try:
            papers.append(paper(design, f"version {revision}"))
        except CommandRefused as refused:
            reason = refused
    if not papers:
        raise reason
    whole, stream = PdfWriter(), io.BytesIO()
    for data in papers:
        whole.append(io.BytesIO(data))
    whole.write(stream)
    return stream.getvalue()
