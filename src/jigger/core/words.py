"""Words as people type them, in one line."""


def one_line(words: str) -> str:
    """Without characters that are not to be seen, line ends among them, and without room before, after or twice."""
    return " ".join("".join(one if one.isprintable() else " " for one in words).split())
