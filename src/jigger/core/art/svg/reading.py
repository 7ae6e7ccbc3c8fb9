"""An SVG file parsed within limits: nothing fetched, no entity expanded but the document's own small ones."""

from __future__ import annotations

import gzip
import io
import zlib
from typing import Any

from lxml import etree

from jigger.core.art.painted import MOST_PAINTED, ArtRefused

MOST_BYTES = 20_000_000
DEEPEST = 200
SVG = "{http://www.w3.org/2000/svg}"
XLINK = "{http://www.w3.org/1999/xlink}"


def root_of(data: bytes) -> Any:
    """The root element; comments and processing instructions are gone. Raises ArtRefused with the reason."""
    if data[:2] == b"\x1f\x8b":
        try:
            data = gzip.GzipFile(fileobj=io.BytesIO(data)).read(MOST_BYTES + 1)
        except (OSError, EOFError, zlib.error):
            raise ArtRefused("this file is packed and cannot be unpacked; it may be damaged") from None
    if len(data) > MOST_BYTES:
        raise ArtRefused(f"this file is larger than {MOST_BYTES // 1_000_000} MB")
    parser = etree.XMLParser(
        resolve_entities="internal", no_network=True, load_dtd=False, huge_tree=False, remove_comments=True,
        remove_pis=True, recover=False,
    )  # fmt: skip
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        raise ArtRefused(f"this SVG cannot be read: {_said(error)}") from None
    if root.tag not in (f"{SVG}svg", "svg"):
        raise ArtRefused("this is not an SVG file")
    _look(root)
    return root


def name_of(element: Any) -> str:
    """An element's name where it is SVG's, else nothing."""
    tag = element.tag
    if not isinstance(tag, str):
        return ""
    if tag.startswith(SVG):
        return tag[len(SVG) :]
    return tag if "}" not in tag else ""


def href(element: Any) -> str:
    """What it refers to, in either spelling."""
    return str(element.get("href") or element.get(f"{XLINK}href") or "").strip()


def _look(root: Any) -> None:
    depth = count = 0
    for event, _ in etree.iterwalk(root, events=("start", "end")):
        depth += 1 if event == "start" else -1
        count += event == "start"
        if depth > DEEPEST:
            raise ArtRefused(f"its elements are nested more than {DEEPEST} deep")
        if count > 5 * MOST_PAINTED:
            raise ArtRefused(f"it has more than {5 * MOST_PAINTED:,} elements")


def _said(error: Any) -> str:
    text = str(error)
    if "ntity" in text and ("loop" in text or "amplification" in text or "limit" in text.lower()):
        return "its entities grow without end"
    return text.partition(", line")[0][:120]
