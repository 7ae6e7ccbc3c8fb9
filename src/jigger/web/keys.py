"""The keys of the bench: one table that the help page lists and the scripts ask."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Key:
    """`shown`: as the help page says it. `on`: the keys, as the browser names them, and what each does; empty where the
    scripts need more than the key to know it.
    """

    shown: str
    words: str
    on: tuple[tuple[str, str], ...] = ()


KEYS = (
    Key("P  B  F", "Proof, Blade, Fall-out", (("p", "proof"), ("b", "blade"), ("f", "fall-out"))),
    Key("+  −  0", "larger, smaller, all of it", (("+", "larger"), ("=", "larger"), ("-", "smaller"), ("0", "all"))),
    Key("C", "look at what is chosen closely", (("c", "closely"),)),
    Key("O", "nodes and handles in Blade", (("o", "nodes"),)),
    Key("D", "draw with the pen, and put it away", (("d", "pen"),)),
    Key("M", "measure between two points, edges or pieces; with Alt edges do not pull", (("m", "measure"),)),
    Key("drag from a ruler", "a guide; dragged out of the drawing it is gone"),
    Key("Enter", "end the line that is drawn", (("Enter", "finish"),)),
    Key("N", "go to the next place that needs a look", (("n", "next"),)),
    Key("← → ↑ ↓", "move what is chosen by 0.1 mm, with Shift by 1 mm; the view, where nothing is"),
    Key("Alt + drag, Shift + drag", "drag without snapping; drag straight"),
    Key("drag over nothing, Ctrl + drag", "choose all inside a box; with Shift beside what is chosen"),
    Key("Shift, Ctrl + click", "choose one more, here and in the build sheet; a second click takes what lies under it"),
    Key("Ctrl A, Ctrl D", "choose all; duplicate, and again by the same step"),
    Key("Ctrl C, X, V", "copy, cut, paste at the pointer, with Shift where it was; also into another design"),
    Key("Ctrl G", "group what is chosen; with Shift let groups go"),
    Key(
        "Delete",
        "take away what is chosen: bridge, letter, nodes, part",
        (("Delete", "remove"), ("Backspace", "remove")),
    ),
    Key("F2, double click", "type another name for the step or layer, in its place"),
    Key("Ctrl Z, Ctrl Y", "undo, redo"),
    Key("Space + drag", "move the view; the wheel zooms"),
    Key("Esc", "let go, put a finding away", (("Escape", "let go"),)),
    Key("/, Ctrl K", "type what you want to do, and do it"),
    Key("?", "this page", (("?", "help"),)),
)
ON = {key: does for one in KEYS for key, does in one.on}
assert len(ON) == sum(len(one.on) for one in KEYS), "a key that does two things"
