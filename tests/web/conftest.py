import pytest
from fastapi.testclient import TestClient

from jigger.services.settings import Settings
from jigger.web.app import create_app


@pytest.fixture
def client(settings_for: Settings) -> TestClient:
    return TestClient(create_app(settings_for), base_url="http://127.0.0.1")
