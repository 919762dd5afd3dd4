"""Bringing the store of an earlier version up to this one."""

from __future__ import annotations

from django.core.management import call_command
from django.db import connection, transaction

__all__ = ["take_over"]


def take_over() -> None:
    """Make the tables that this version needs, and fill them from those of an earlier one: all of it or, where it is
    cut off, none, so that the store is as it was and the next start begins anew."""
    # By itself the framework writes down that a step was done only after that step was kept. Within one transaction
    # neither is there without the other; tables are then made anew with their references checked at the end.
    connection.disable_constraint_checking()
    try:
        with transaction.atomic():
            call_command("migrate", verbosity=0, interactive=False)
            connection.check_constraints()
    finally:
        connection.enable_constraint_checking()
