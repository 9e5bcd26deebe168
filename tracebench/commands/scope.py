"""The simulated vehicle and scope."""

from __future__ import annotations

from contextlib import suppress

import click

from tracebench.bench.scope import ScopeSettings
from tracebench.bench.scpi import Instrument, ScopeServer
from tracebench.bench.sources import source
from tracebench.core.errors import BadOption


@click.group()
def trainer() -> None:
    """The simulated vehicle and scope."""


@trainer.command("scope")
@click.option("--port", default=5025, show_default=True, help="Loopback port to listen on; 0 takes a free one.")
@click.option("--circuit", "code", default="throttle-position", show_default=True, help="What hangs on the scope.")
@click.option("--fault", default="none", show_default=True, help="Fault of the part.")
@click.option("--seed", default=1, show_default=True, help="The same seed gives the same samples.")
def trainer_scope(port: int, code: str, fault: str, seed: int) -> None:
    """Serve the trainer's scope over SCPI on this machine until interrupted."""
    made_by = source(code)
    made_by.check_fault(fault)
    settings = ScopeSettings(made_by.range_v, made_by.manoeuvres[0].duration_s, made_by.rate_hz)
    try:
        server = ScopeServer(port, Instrument(code, fault, seed=seed, scope=settings))
    except OSError as problem:
        raise BadOption(f"port {port} cannot be used: {problem.strerror}") from None
    click.echo(f"trainer scope on 127.0.0.1 port {server.port} (Ctrl-C stops it)")
    with server, suppress(KeyboardInterrupt):
        server.serve_forever()
