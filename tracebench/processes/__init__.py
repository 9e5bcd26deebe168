"""The processes of a running installation: what `./start` starts, watches and stops."""
