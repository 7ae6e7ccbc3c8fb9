"""What fails inside a design is contained by one mechanism: it is empty and says why, and the rest goes on."""

import logging
from collections.abc import Callable
from typing import TypeVar

from jigger.core.design.building.built import Problem
from jigger.core.errors import JiggerError, TooLarge
from jigger.core.geometry.area.region import Region
from jigger.core.patience import Deadline, Stopped, in_its_time

MOST_VERTICES = 1_000_000  # of one region: fifty times what a crowded plate has
SECONDS = 40.0  # of a whole build: four times what the largest reference takes with nothing known yet
EACH = 0.75  # of that for one part or layer, so that one that never ends leaves room for others

Made = TypeVar("Made")
_log = logging.getLogger("jigger")


def weighed(region: Region) -> Region:
    """The region, where it is no larger than can be worked with. Raises TooLarge."""
    affordable(region.vertex_count)
    return region


def affordable(vertices: float) -> None:
    """Raises TooLarge where so many vertices are more than can be worked with."""
    if vertices > MOST_VERTICES:
        raise TooLarge(float(vertices), MOST_VERTICES)


class Guard:
    """Builds one thing after the other within a time for all and a share of it for each."""

    def __init__(self, seconds: float = SECONDS):
        self._all, self._each = Deadline(seconds), EACH * seconds

    def made(self, make: Callable[[], Made], failed: Callable[[Problem], Made], of: str, title: str) -> Made:
        """What `make` gives; whatever goes wrong in it, what `failed` gives for the problem.

        Lets through only that nobody waits any more (see patience.Stopped).
        """
        in_time = Deadline(min(self._each, self._all.left))
        try:
            words = f"“{title}” takes too long to build and was left out"
            return in_its_time(make, in_time, lambda: failed(Problem("out-of-time", of, words)))
        except Stopped:
            raise
        except (TooLarge, MemoryError):
            words = f"“{title}” comes to too many points to be built; make it simpler, or fewer copies of it"
            return failed(Problem("too-large", of, words))
        except JiggerError as error:
            return failed(Problem("cannot-build", of, f"“{title}” cannot be built: {error}"))
        except Exception:
            _log.warning("building %s failed", of, exc_info=True)
            words = f"“{title}” cannot be built as it is; undo its last change or alter its measures"
            return failed(Problem("cannot-build", of, words))
