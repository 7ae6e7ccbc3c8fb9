"""The raw figure beside an edit in the browser: a request that answers the same bytes, put into a page and painted.

The same server library answers, and nothing is computed.
"""

import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser

from bench.waiting import free_port, wait_for

SERVER = """
import sys
import uvicorn
from starlette.applications import Starlette
from starlette.responses import HTMLResponse
from starlette.routing import Route

answer = sys.stdin.buffer.read()
routes = [
    Route("/", lambda _: HTMLResponse("<!doctype html><title>bare</title><body></body>")),
    Route("/answer", lambda _: HTMLResponse(answer), methods=["POST"]),
]
uvicorn.run(Starlette(routes=routes), port=int(sys.argv[1]), log_level="warning")
"""
ASK = """
() => new Promise((done) => {
  const begun = performance.now();
  fetch("/answer", {method: "POST", body: "text=a"}).then((answer) => answer.text()).then((text) => {
    document.body.innerHTML = text;
    requestAnimationFrame(() => setTimeout(() => done(performance.now() - begun)));
  });
})
"""


def bare(browser: Browser, answer: bytes, times: int) -> list[float]:
    """ms from asking to painted, for a request that answers these bytes."""
    with _served(answer) as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        taken = [float(page.evaluate(ASK)) for _ in range(times)]
        page.close()
    return taken


@contextmanager
def _served(answer: bytes) -> Iterator[str]:
    port = free_port()
    server = subprocess.Popen([sys.executable, "-c", SERVER, str(port)], stdin=subprocess.PIPE)
    try:
        assert server.stdin
        server.stdin.write(answer)
        server.stdin.close()
        wait_for(f"http://127.0.0.1:{port}")
        yield f"http://127.0.0.1:{port}"
    finally:
        server.kill()
