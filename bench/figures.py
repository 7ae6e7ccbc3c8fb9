"""Times and their summary."""

import time
from collections.abc import Callable


def milliseconds(work: Callable[[], object], times: int = 9) -> dict[str, float]:
    """Middle and worst of some runs, after one that is not counted."""
    work()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        taken.append((time.perf_counter() - start) * 1000)
    return summary(taken)


def summary(taken: list[float]) -> dict[str, float]:
    ordered = sorted(taken)
    at = lambda share: round(ordered[min(len(ordered) - 1, int(share * len(ordered)))], 1)  # noqa: E731
    return {
        "median_ms": at(0.5),
        "p95_ms": at(0.95),
        "worst_ms": round(ordered[-1], 1),
        "count": len(ordered),
    }
