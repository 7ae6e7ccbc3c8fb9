"""Commands that keep: what is wrong and how it is mended, backups, and putting them back."""

import argparse
import json

from jigger.core.errors import CommandRefused
from jigger.services.keeping.backup import back_up, restore
from jigger.services.keeping.doctor import examined, port_answers
from jigger.services.settings import Settings

MARKS = {"well": "ok  ", "look": "look", "ill": "ILL "}


def settings_of(options: argparse.Namespace) -> Settings:
    """The settings of a command, on the data folder that it names or the one of the environment."""
    given = Settings()
    return given.model_copy(update={"data": options.data}) if options.data else given


def see_doctor(options: argparse.Namespace) -> int:
    found = examined(settings_of(options))
    if options.json:
        rows = [{"id": one.id, "state": one.state, "words": one.words, "mend": one.mend} for one in found]
        print(json.dumps(rows, ensure_ascii=False, indent=1))
    else:
        for one in found:
            print(f"{MARKS[one.state]}  {one.id:9} {one.words}{f': {one.mend}' if one.mend else ''}")
    return 1 if any(one.state == "ill" for one in found) else 0


def take_backup(options: argparse.Namespace) -> None:
    made = back_up(settings_of(options).data, options.file)
    print(f"{made.file}: {made.designs} designs, {made.file.stat().st_size / 1024**2:.1f} MB")


def put_back(options: argparse.Namespace) -> None:
    settings = settings_of(options)
    if port_answers(settings):
        raise CommandRefused("Restore", f"something is served at port {settings.port}; end it first")
    made = restore(options.file, settings.data, options.replace)
    print(f"{made.designs} designs of {made.made[:16].replace('T', ' ')} (Jigger {made.version}) in {settings.data}")
