"""Run the measurements and print them with the machine and the commit they were made on."""

import argparse
import json
import os
import platform
import subprocess
import sys
from pathlib import Path

from bench import (
    art,
    build,
    checks,
    crowd,
    curves,
    cut,
    drawing,
    edit,
    finishes,
    history,
    hour,
    jobs,
    keeping,
    lettering,
    queue,
    routes,
    starters,
    sweep,
)
from jigger.services.beside.memory import collect_rarely

BENCHES = {"art": art.run, "build": build.run, "checks": checks.run, "crowd": crowd.run, "curves": curves.run,
           "cut": cut.run, "drawing": drawing.run,
           "edit": edit.run, "finishes": finishes.run, "history": history.run, "hour": hour.run,
           "jobs": jobs.run, "keeping": keeping.run,
           "lettering": lettering.run, "queue": queue.run, "routes": routes.run,
           "starters": starters.run, "sweep": sweep.run}  # fmt: skip


def main() -> int:
    parser = argparse.ArgumentParser(prog="jigger bench")
    parser.add_argument("name", nargs="?", choices=sorted(BENCHES))
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--quick", action="store_true", help="a little of each, to see that it runs")
    options = parser.parse_args()
    collect_rarely()  # as the application does
    result = {"machine": machine(), "commit": commit()}
    for name in [options.name] if options.name else sorted(BENCHES):
        result[name] = BENCHES[name](options.quick)
    if options.json:
        print(json.dumps(result, indent=1))
    else:
        show(result)
    return 0


def machine() -> str:
    lines = Path("/proc/cpuinfo").read_text().splitlines()
    models = [line.split(":")[1].strip() for line in lines if line.startswith("model name")]
    return f"{models[0] if models else platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}"


def commit() -> str:
    asked = subprocess.run(
        ["git", "rev-parse", "--short", "HEAD"], capture_output=True, text=True, cwd=Path(__file__).parent
    )
    return asked.stdout.strip() or "unknown"


def show(value: object, depth: int = 0) -> None:
    if isinstance(value, dict):
        for name, inner in value.items():
            if isinstance(inner, dict):
                print("  " * depth + name)
                show(inner, depth + 1)
            else:
                print("  " * depth + f"{name}: {inner}")


if __name__ == "__main__":
    sys.exit(main())
