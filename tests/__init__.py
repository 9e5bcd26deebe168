"""Tests. Property tests draw the same cases each time, so that a failure can be run again; vary the seed by hand."""

from hypothesis import settings

settings.register_profile("repeatable", derandomize=True, deadline=None)
settings.load_profile("repeatable")
