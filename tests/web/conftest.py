import pytest
from fastapi.testclient import TestClient

from jigger.services.settings import Settings
from jigger.web.app import create_app


@pytest.fixture
def client(settled: Settings) -> TestClient:
    return TestClient(create_app(settled), base_url="http://127.0.0.1")
