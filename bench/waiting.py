"""A server of one's own: a free port, and waiting until something answers there."""

import socket
import time
import urllib.error
import urllib.request


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def wait_for(address: str) -> None:
    for _ in range(600):
        try:
            urllib.request.urlopen(address).close()
            return
        except urllib.error.URLError:
            time.sleep(0.05)
    raise SystemExit("the server did not start")
