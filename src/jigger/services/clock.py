"""The one clock."""

from datetime import UTC, datetime


def now() -> str:
    """The present time as ISO text in UTC, to the millisecond."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def seconds_since(earlier: str) -> float:
    return (datetime.now(UTC) - datetime.fromisoformat(earlier)).total_seconds()
