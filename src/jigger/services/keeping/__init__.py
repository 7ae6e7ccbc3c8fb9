"""Nothing is lost: the shelf, earlier states, bundles and backups, the log, and who looks after all of it."""
