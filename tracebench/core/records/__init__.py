"""Records that are no scope traces: typed or timed, kept beside a capture and judged by the same rules."""
