"""What a browser has chosen: how lengths are shown, the light of the room, and the name of the person at it."""

from urllib.parse import quote, unquote

from fastapi import Request, Response
from fastapi.responses import RedirectResponse

from jigger.core.errors import UnknownChoice
from jigger.core.geometry.units import FINEST, Inches
from jigger.core.words import one_line

LIGHTS = ("light", "dark", "auto")
FRACTIONS = (1, 8, 16, 32, 64)  # of an inch, 1: decimals alone
YEAR = 31_536_000  # s
MOST_NAME = 40


def unit(request: Request) -> str:
    """The unit lengths are shown in; inches know their fractions."""
    return Inches(fraction(request)) if request.cookies.get("unit") == "in" else "mm"


def fraction(request: Request) -> int:
    """The finest part of an inch that lengths are shown in, 1 for decimals."""
    said = request.cookies.get("inch", "")
    return int(said) if said in map(str, FRACTIONS) else FINEST


def light(request: Request) -> str:
    """Whether the room is `light`, `dark`, or `auto` as the person's system has it."""
    said = request.cookies.get("light", "")
    return said if said in LIGHTS else "auto"


def who(request: Request) -> str:
    """The name of the person at this browser, empty where they did not say it."""
    return one_line(unquote(request.cookies.get("who", "")))[:MOST_NAME]


def chosen(name: str, value: str, back: str) -> Response:
    """Back to where it was chosen, with the choice kept for a year; what is not to be chosen is as if nothing was.
    Raises UnknownChoice for what nothing is chosen of.
    """
    if name not in CHOICES:
        raise UnknownChoice("choice", name, CHOICES)
    answer = RedirectResponse(back if back.startswith("/") and not back.startswith("//") else "/", 303)
    kept = quote(one_line(value)[:MOST_NAME]) if name == "who" else value if value in CHOICES[name] else ""
    answer.set_cookie(name, kept, max_age=YEAR, samesite="strict")
    return answer


CHOICES: dict[str, tuple[str, ...]] = {
    "unit": ("mm", "in"),
    "inch": tuple(map(str, FRACTIONS)),
    "light": LIGHTS,
    "who": (),
}
