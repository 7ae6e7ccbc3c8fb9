"""SQLite through SQLAlchemy: designs with their whole history, and jobs."""
