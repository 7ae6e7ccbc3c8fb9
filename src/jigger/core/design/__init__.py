"""The document and what is computed from it: model, commands, references, build, starters."""
