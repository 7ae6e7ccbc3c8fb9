from tests.web.conftest import client  # noqa: F401
