"""The keys of the bench come from one table: the help page lists it, the scripts do what it says and nothing else."""

import re

from fastapi.testclient import TestClient

from jigger.web.keys import KEYS, ON
from jigger.web.render import HERE


def test_whatever_a_key_does_the_scripts_can_do() -> None:
    script = (HERE / "static" / "js" / "keys.js").read_text(encoding="utf-8")
    table = re.search(r"const does = \{(.*?)\n  \};", script, re.DOTALL)
    assert table and set(re.findall(r'"([a-z -]+)": \(', table[1])) == set(ON.values())


def test_the_help_page_lists_every_key(client: TestClient) -> None:
    identity = client.app.state.house.designs.create_plain("Merrow")
    page = client.get(f"/designs/{identity}").text
    assert all(f"<dt>{one.shown}</dt><dd>{one.words}</dd>" in page for one in KEYS)
    assert page.count("<dt>") == len(KEYS) and "data-on=" in page
