"""Settings, from the environment with the prefix JIGGER_."""

from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

from jigger.services.keeping.logs import Level


class Settings(BaseSettings):
    """`data`: the one folder that holds everything. `plotter`, `table` and their panels: host:port of the machines.
    `print_house`: the folder shared with it, in `data` where none is said.
    `log`: what is written to standard error, warnings or `all` that happens with the time it takes.
    """

    model_config = SettingsConfigDict(env_prefix="JIGGER_")

    data: Path = Path("data")
    host: str = "127.0.0.1"
    port: int = 8177
    plotter: str = "127.0.0.1:8178"
    plotter_panel: str = "127.0.0.1:8179"
    table: str = "127.0.0.1:8180"
    table_panel: str = "127.0.0.1:8181"
    print_house: Path | None = None
    log: Level = "quiet"


def address(text: str) -> tuple[str, int]:
    host, _, port = text.rpartition(":")
    return host, int(port)
