"""One of a thing is said as one: no page says `1 pieces`."""

import re

from fastapi.testclient import TestClient

ONE_AS_MANY = re.compile(r"(?<![\d.,/-])1 (?!across|is|was|less|has|this)[a-z]+s\b")


def test_one_of_a_thing_is_not_said_as_several(client: TestClient) -> None:
    here = client.app.state.house
    plate = here.designs.create("initial-in-shape", {"text": "I"})
    listed = here.cut_lists.begin("Saturday")
    client.post(f"/designs/{plate}/gather", data={"to_list": listed, "copies": "1"})
    pages = ["", "/history", "/cut", "/report", "/readout", "/proof"]
    for address in [
        *(f"/designs/{plate}{page}" for page in pages),
        f"/cut-lists/{listed}",
        "/cut-lists",
        "/queue",
        "/",
    ]:
        page = client.get(address)
        assert page.status_code == 200, address
        words = " ".join(re.sub(r"<[^>]*>", "", page.text).split())
        assert not ONE_AS_MANY.search(words), (address, ONE_AS_MANY.findall(words), ONE_AS_MANY.search(words))
