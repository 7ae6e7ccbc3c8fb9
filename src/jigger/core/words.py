"""Words as people type them, in one line, and things by their number."""


def one_line(words: str) -> str:
    """Without characters that are not to be seen, line ends among them, and without room before, after or twice."""
    return " ".join("".join(one if one.isprintable() else " " for one in words).split())


def counting(number: int, one: str, several: str = "") -> str:
    """How many of a thing: `1 piece`, `2 pieces`."""
    return f"{number} {one if number == 1 else several or one + 's'}"
