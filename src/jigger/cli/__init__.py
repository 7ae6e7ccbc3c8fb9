"""The command line."""

from jigger.cli.commands import main as main
