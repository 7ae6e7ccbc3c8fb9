"""A font file from outside, cleaned and tried: run as a process of its own, under limits, by the letter case.

Reads the file on standard input. Writes one line of JSON, `{"family", "restricted"}` or `{"problem"}`, and
after it the cleaned bytes, a TTF or OTF. Only what the sanitizer wrote is ever loaded.
"""

import json
import math
import resource
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

import ots

SECONDS = 1.7  # of computing, all but the sanitizer's
SANITIZING = 1  # second of computing
MEMORY = 1 << 30  # bytes
TRIED = 400  # glyphs drawn
FURTHEST = 64.0  # ems: no point of a glyph lies further out

HEADS = (b"\x00\x01\x00\x00", b"OTTO", b"wOF2", b"true")


def main() -> None:
    """Try the font on standard input, in a process of its own under limits of time and memory."""
    signal.setitimer(signal.ITIMER_PROF, SECONDS)  # ends this process; a busy machine takes longer, not less
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    answer, data = intake(sys.stdin.buffer.read())
    sys.stdout.buffer.write(json.dumps(answer).encode() + b"\n" + data)


def intake(data: bytes) -> tuple[dict[str, object], bytes]:
    """What is said of a font file, and its cleaned bytes; nothing where there is a problem."""
    if data[:4] == b"ttcf":
        return {"problem": "this is a collection of several fonts; add one of them as a file of its own"}, b""
    if data[:4] == b"wOFF":
        return {"problem": "this is a WOFF file; add the font as TTF, OTF or WOFF2"}, b""
    if data[:4] not in HEADS:
        return {"problem": "this is not a font file; Jigger takes TTF, OTF and WOFF2"}, b""
    with tempfile.TemporaryDirectory() as folder:
        given, cleaned = Path(folder) / "given", Path(folder) / "cleaned"
        given.write_bytes(data)
        # What it prints can be longer than the font.
        done = subprocess.run(
            [ots.OTS_SANITIZE, str(given), str(cleaned)], capture_output=True, check=False,
            preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_CPU, (SANITIZING, SANITIZING)),
        )  # fmt: skip
        if done.returncode or not cleaned.exists():
            said = done.stderr.decode(errors="replace").strip().splitlines()
            errors = [line.removeprefix("ERROR: ") for line in said if line.startswith("ERROR: ")]
            why = errors[0][:120] if errors else "it cannot be read"
            return {"problem": f"this font is damaged: {why}"}, b""
        return _tried(cleaned.read_bytes())


def _tried(data: bytes) -> tuple[dict[str, object], bytes]:
    from jigger.core.errors import TooLarge
    from jigger.core.lettering.face import Face

    face = Face(data, "tried", "tried")
    drawn = 0
    for glyph in range(min(face.glyph_count, TRIED)):
        try:
            contours = face.outline(glyph)
        except TooLarge:
            return {"problem": "a letter of this font has more contours or points than can be cut"}, b""
        for contour in contours:
            if not math.isfinite(float(contour.controls.sum())) or abs(contour.controls).max() > (
                FURTHEST * face.units_per_em
            ):
                return {"problem": "this font is damaged: a letter of it is out of all bounds"}, b""
            drawn += 1
    if not drawn:
        return {"problem": "this font has no outlines that could be cut; it may be made of pictures"}, b""
    if not face.characters:
        return {"problem": "this font has no letters that could be typed"}, b""
    family = face.named("typographic") or face.named("family") or face.named("full") or "A font without a name"
    said = {"family": family[:80], "restricted": face.restricted}
    return said, data


if __name__ == "__main__":
    main()
