"""``manage prepare``: database, kernels, demo projects. Safe to run at every start."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from zigzag_meadow.core.project.archive import write_archive
from zigzag_meadow.core.warm import warm_up
from zigzag_meadow.demo import demos
from zigzag_meadow.server.assets import incoming, sweep
from zigzag_meadow.server.models import Project
from zigzag_meadow.server.projects import bring_in


class Command(BaseCommand):
    help = "Make the database, compile the kernels and, with --demo, put the demo projects on an empty shelf."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--demo", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0, interactive=False)
        warm_up()
        sweep()
        if options["demo"] and not Project.objects.exists():
            for demo in reversed(demos()):
                path = incoming()
                write_archive(path, demo.project, demo.asset_path)
                bring_in(path, demo.file_name)
                path.unlink()
                self.stdout.write(f"{demo.project.name} is on the shelf.")
