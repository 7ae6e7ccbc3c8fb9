"""The command that brings art in."""

import argparse
import sys

from jigger.core.design.model.document import write_design
from jigger.core.words import counting
from jigger.services.file_names import write_whole
from jigger.services.supplies.art import design_of, read_art


def bring_in_file(options: argparse.Namespace) -> None:
    """A design of a file's art, and with `--report` what became of it. Raises JiggerError, OSError."""
    found = read_art(options.file.read_bytes(), options.file.name, options.unit, options.under, options.colours)
    write_whole(options.output, write_design(design_of(found, options.file.name)).encode())
    size = f"{found.width:.2f} × {found.height:.2f} mm"
    print(f"{options.output}: {size}, {counting(len(found.parts), 'part')}", file=sys.stderr)
    if options.report:
        for one in found.parts:
            group = f" of “{one.group}”" if one.group else ""
            nodes = counting(one.nodes, "node")
            print(f"{one.colour}{group}: {counting(one.pieces, 'piece')}, {one.area:.2f} mm², {nodes}")
        print("\n".join(found.notes))
