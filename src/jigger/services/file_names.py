"""Names of files that every system takes, and files written whole or not at all."""

import os
import re
from contextlib import suppress
from pathlib import Path

LONGEST = 120  # characters before the suffix; file systems take 255 bytes, and letters may be of four
FORBIDDEN = re.compile(r'[<>:"/\\|?*\x00-\x1f\x7f-\x9f]')
DEVICES = re.compile(r"^(con|prn|aux|nul|com\d|lpt\d)(\..*)?$", re.IGNORECASE)  # names that are no files on Windows


def file_name(words: list[str], suffix: str) -> str:
    """What a file of these words is called; each is said once, and what no file name may hold becomes a dash."""
    stem = FORBIDDEN.sub("-", ", ".join(dict.fromkeys(filter(None, words))))[:LONGEST].strip().rstrip(" .")
    stem = stem.lstrip(" .") or "design"  # a leading point hides a file
    return f"{'_' if DEVICES.match(stem) else ''}{stem}{suffix}"


def write_whole(path: Path, data: bytes) -> None:
    """Beside it first, so that a full disk leaves what was there. Raises OSError."""
    beside = path.with_name(f".{path.name}.part")
    try:
        with beside.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        beside.replace(path)
    except OSError:
        with suppress(OSError):
            beside.unlink()
        raise
