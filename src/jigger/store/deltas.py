"""Documents kept as what is another in them than in an earlier one: an edit changes a few words of many."""

import zstandard

MAGIC = b"\x28\xb5\x2f\xfd"  # what a zstandard frame begins with (RFC 8878, 3.1.1)
LEVEL = 3
MOST_AWAY = 200  # revisions, after which a document is kept whole again
WORTH = 0.02  # of the text: about half of what it takes compressed whole
LITTLE = 400  # bytes: a delta that is no longer is always worth it


def packed(text: str, base: str) -> bytes:
    """A text, given another one that is like it. Compact where that is so."""
    dictionary = zstandard.ZstdCompressionDict(base.encode(), dict_type=zstandard.DICT_TYPE_RAWCONTENT)
    return zstandard.ZstdCompressor(level=LEVEL, dict_data=dictionary, write_checksum=True).compress(text.encode())


def worth_keeping(delta: bytes, text: str) -> bool:
    """Whether a delta takes much less than the text whole."""
    return len(delta) <= max(LITTLE, WORTH * len(text))


def unpacked(data: bytes, base: str) -> str:
    """The text that was packed with this base. Raises zstandard.ZstdError where it was another one."""
    dictionary = zstandard.ZstdCompressionDict(base.encode(), dict_type=zstandard.DICT_TYPE_RAWCONTENT)
    return zstandard.ZstdDecompressor(dict_data=dictionary).decompress(data).decode()
