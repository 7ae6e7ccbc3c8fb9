"""The customer's page: one design and nothing else; and the desk of who made it."""

import re

from fastapi.testclient import TestClient

from tests.web.test_pages import HX


def test_a_customer_sees_one_design_says_something_and_approves_it(client: TestClient) -> None:
    here = client.app.state.house
    design, other = here.designs.create_plain("Merrow"), here.designs.create_plain("Secret")
    assert "No link is open" in client.get(f"/designs/{design}/proof").text
    assert client.post(f"/designs/{design}/proof", data={"do": "give"}, headers=HX).headers["hx-redirect"]
    link = re.search(r"/proof/([\w-]{30,})", client.get(f"/designs/{design}/proof").text)[0]
    page = client.get(link)
    assert page.status_code == 200 and "Merrow" in page.text and "noindex" in page.headers["x-robots-tag"]
    # Nothing on it leads to anything but itself, its files and its style.
    addresses = set(re.findall(r'(?:href|src|action)="([^"]+)"', page.text))
    assert all(one.startswith((link, "/static/")) for one in addresses), addresses
    assert other not in page.text and design not in page.text
    assert client.get(f"{link}/picture.svg").text.startswith("<svg")
    assert (
        client.get(f"{link}/proof.pdf").content.startswith(b"%PDF")
        and client.get(f"{link}/proof.png").content[1:4] == b"PNG"
    )
    assert client.get(f"{link}/proof.exe").status_code == 404
    said = {"name": "Ada <b>", "words": "Fine.\nSend it.", "approve": "true", "revision": "1"}
    assert client.post(link, data=said, follow_redirects=False).status_code == 303
    assert "approved by ada" in client.get(f"/designs/{design}/cut").text.lower()
    assert "Approved" in client.get(link).text and "Ada &lt;b&gt;" in client.get(link).text
    assert client.post(link, data={**said, "name": ""}, headers=HX).status_code == 422
    layer = here.designs.open(design).design.layers[0].id
    client.post(f"/designs/{design}/edit", data={"do": "adjust", "target": layer, "field": "colour", "as": "text", "value": "#aa3311"},
                headers=HX)  # fmt: skip
    assert "It has changed since Ada &lt;b&gt; approved it." in client.get(f"/designs/{design}/cut").text
    desk = client.get(f"/designs/{design}/proof").text
    assert (
        "The design has changed since" in desk
        and f"/designs/{design}/history?at=1" in desk
        and "It shows version 1" in desk
    )
    client.post(f"/designs/{design}/proof", data={"do": "give"}, headers=HX)
    assert "An earlier version was approved" in client.get(link).text
    client.post(f"/designs/{design}/proof", data={"do": "withdraw"}, headers=HX)
    gone = client.get(link)
    assert gone.status_code == 404 and "withdrawn" in gone.text and "/designs" not in gone.text
    for address in (f"{link}/picture.svg", f"{link}/proof.pdf"):
        assert client.get(address).status_code == 404
    assert client.post(link, data=said).status_code == 404
    assert client.post(f"/designs/{design}/proof", data={"do": "sell"}, headers=HX).status_code == 422


def test_the_proof_of_the_present_state_is_kept_as_a_file(client: TestClient) -> None:
    design = client.app.state.house.designs.create_plain("Merrow")
    for kind, begins in (("pdf", b"%PDF"), ("png", b"\x89PNG")):
        answer = client.get(f"/designs/{design}/proof.{kind}")
        assert answer.content.startswith(begins) and f"proof.{kind}" in answer.headers["content-disposition"]
    assert client.get(f"/designs/{design}/proof.doc").status_code == 404
    assert client.get("/designs/none/proof").status_code == 404
