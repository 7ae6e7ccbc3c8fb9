"""A server of one's own: a free port, and waiting until something answers there."""

import os
import socket
import time
import urllib.error
import urllib.request
from itertools import cycle

# A thousand ports of one process of those that run beside each other, below those that the system gives to anyone.
_FIRST = 20_000 + 1000 * (int(os.environ.get("PYTEST_XDIST_WORKER", "gw0").removeprefix("gw")) % 12)
_PORTS = cycle(range(_FIRST, _FIRST + 1000))


def free_port() -> int:
    """A port that nobody has, and that no other process of a run of tests is given."""
    while True:
        port = next(_PORTS)
        with socket.socket() as probe:
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return port


def wait_for(address: str) -> None:
    for _ in range(600):
        try:
            urllib.request.urlopen(address).close()
            return
        except urllib.error.URLError:
            time.sleep(0.05)
    raise SystemExit("the server did not start")
