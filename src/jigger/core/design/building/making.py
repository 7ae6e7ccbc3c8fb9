"""What the kinds of part are made with: all that is known while a design is built."""

from dataclasses import dataclass

from jigger.core.cache import Cache, CacheKey
from jigger.core.design.building.built import BuiltPart
from jigger.core.design.building.fold import Fold
from jigger.core.design.building.spans import FollowSources
from jigger.core.lettering.lettercase import Fonts


@dataclass(frozen=True)
class Making:
    """`placed`, `keys`, `folds`: parts in place, what each depends on, and folded layers, as far as they are built.

    `sources`: where all that can be followed is. `letters_taken`: by lettering part those that followers take.
    `opened`: whether a part's layer opens its letters; `printed`: the parts whose layer is printed.
    """

    fonts: Fonts
    cache: Cache
    tolerance: float
    placed: dict[str, BuiltPart]
    keys: dict[str, CacheKey]
    folds: dict[str, Fold]
    sources: FollowSources
    letters_taken: dict[str, frozenset[str]]
    opened: dict[str, bool]
    printed: frozenset[str]
