"""Measurements: `./jigger bench [NAME] [--json]`. Not part of the tests."""
