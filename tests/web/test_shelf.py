"""The shelf: what is put away is in the drawer at its foot, and comes back."""

from fastapi.testclient import TestClient


def test_what_is_put_away_can_be_brought_back_at_once_and_later(client: TestClient) -> None:
    designs = client.app.state.house.designs
    merrow, heron = designs.create_plain("Merrow"), designs.create_plain("Heron")
    assert "Put away, " not in client.get("/").text
    answer = client.post(f"/designs/{merrow}/put-away").text
    drawer = answer[answer.index("Put away, 1") :]
    assert "open" in answer and "Merrow" in drawer and "Heron" not in drawer
    assert client.get(f"/designs/{merrow}").status_code == 404
    assert "Put away, 1" in client.get("/").text
    answer = client.post(f"/designs/{merrow}/bring-back").text
    assert "Put away, " not in answer and answer.count("thumbnail.svg") == 2
    assert client.get(f"/designs/{merrow}").status_code == 200
    assert {one.id for one in designs.listed()} == {merrow, heron} and designs.open(merrow).design.name == "Merrow"


def test_what_never_was_cannot_be_brought_back(client: TestClient) -> None:
    assert client.post("/designs/none/bring-back").status_code == 404
