"""The one clock."""

from datetime import UTC, datetime


def now() -> str:
    """The present time as ISO text in UTC, to the millisecond."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def seconds_between(earlier: str, later: str) -> float:
    """Below 0 where `earlier` is the later one."""
    return (datetime.fromisoformat(later) - datetime.fromisoformat(earlier)).total_seconds()


def seconds_since(earlier: str) -> float:
    return seconds_between(earlier, now())
