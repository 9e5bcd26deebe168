"""The rules of the job: no interface, no SQL, no files, no clock."""

ENGINE_VERSION = "1.10.0"
"""Version of the measuring and grading rules; stored with every answer and grade run."""
