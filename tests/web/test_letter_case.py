"""The letter case over the wire: filters, bad input, late choices."""

import re

from fastapi.testclient import TestClient


def shown(page: str) -> list[str]:
    return re.findall('id="specimen-([a-z-]+)"', page)


def test_the_case_filters_by_search_and_kind(client: TestClient) -> None:
    assert len(shown(client.get("/letter-case").text)) == 26
    assert shown(client.get("/letter-case?kind=blackletter").text) == ["pirata-one"]
    assert shown(client.get("/letter-case?search=COND+sans").text) == ["anton"]
    nothing = client.get("/letter-case?search=zzz")
    assert nothing.status_code == 200 and "No font answers" in nothing.text


def test_odd_words_and_heights_are_answered(client: TestClient) -> None:
    for text in ("", "\u2693 \U0001f600", "x" * 5000, "<b>&", "\u202e\u0301"):
        page = client.get("/letter-case", params={"text": text, "kind": "sans"})
        assert page.status_code == 200 and "<b>&<" not in page.text
    refused = client.get("/letter-case?height=tall")
    assert refused.status_code == 422 and "tall" in refused.text
    for height in ("0", "-5", "999999999"):
        assert client.get("/letter-case", params={"height": height}).status_code == 422


def test_licences_are_shown_whole(client: TestClient) -> None:
    page = client.get("/letter-case/anton/licence").text
    assert "SIL OPEN FONT LICENSE" in page.upper() and "may be embedded freely" in page
    assert client.get("/letter-case/..%2f..%2fsecret/licence").status_code == 404
