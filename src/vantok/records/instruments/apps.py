"""App configuration."""

from django.apps import AppConfig


class InstrumentsConfig(AppConfig):
    """Instruments read over a serial line or a socket."""

    name = "vantok.records.instruments"
