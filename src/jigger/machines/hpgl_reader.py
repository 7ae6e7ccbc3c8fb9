"""The plotter's own reading of HPGL: a stream of bytes to instructions, with no knowledge of who sent it."""

import re
from collections.abc import Iterator

_INSTRUCTION = re.compile(r'\s*([A-Za-z]{2})\s*((?:"[^"]*"|[^;A-Za-z"])*);?')


class HpglStream:
    """Feed it bytes as they come; it yields whole instructions and, at once, device controls (`ESC .O`)."""

    def __init__(self) -> None:
        self._buffer = ""

    def feed(self, data: bytes) -> Iterator[tuple[str, str]]:
        """(mnemonic, parameters) pairs; device controls come as (`ESC.` + letter, ``)."""
        self._buffer += data.decode("ascii", "replace")
        while True:
            self._buffer = self._buffer.lstrip("; \r\n\t")
            if self._buffer.startswith("\x1b"):
                if len(self._buffer) < 3:
                    return
                yield "ESC." + self._buffer[2], ""
                self._buffer = self._buffer[3:]
                continue
            end = self._end()
            if end is None:
                return
            text, self._buffer = self._buffer[:end], self._buffer[end:]
            match = _INSTRUCTION.match(text)
            if match:
                yield match[1].upper(), match[2].strip()

    def _end(self) -> int | None:
        """Where the first instruction ends: after its semicolon, a quoted comment's own semicolons aside."""
        quoted = False
        for i, character in enumerate(self._buffer):
            if character == '"':
                quoted = not quoted
            elif character == "\x1b" and not quoted and i:
                return i
            elif character == ";" and not quoted:
                return i + 1
        return None


def coordinates(parameters: str) -> list[tuple[int, int]]:
    """The coordinate pairs of a PU, PD or PA instruction; an odd one out is dropped, as plotters do."""
    numbers = [round(float(word)) for word in re.findall(r"[-+]?\d+(?:\.\d+)?", parameters)]
    return list(zip(numbers[0::2], numbers[1::2], strict=False))
