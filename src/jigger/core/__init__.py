"""The rules of the job and all computation. No interface, no database, no clock, no environment."""
