"""``manage prepare``: database, kernels, demo projects. Safe to run at every start."""

from __future__ import annotations

import gc

# As for the web process: what is loaded stays.
gc.disable()

import os  # noqa: E402
from pathlib import Path  # noqa: E402
from typing import Any  # noqa: E402

from django.core.management.base import BaseCommand, CommandError, CommandParser  # noqa: E402
from django.db import DatabaseError  # noqa: E402

from zigzag_meadow.core.looks.catalogue import LOOKS  # noqa: E402
from zigzag_meadow.core.looks.texture import made_texture  # noqa: E402
from zigzag_meadow.core.project.travel.archive import write_archive  # noqa: E402
from zigzag_meadow.core.warm import warm_once  # noqa: E402
from zigzag_meadow.demo import demos  # noqa: E402
from zigzag_meadow.server.assets import incoming, sweep, taken_in  # noqa: E402
from zigzag_meadow.server.engine import engine  # noqa: E402
from zigzag_meadow.server.models import Project  # noqa: E402
from zigzag_meadow.server.projects import bring_in  # noqa: E402
from zigzag_meadow.server.taking_over import take_over  # noqa: E402
from zigzag_meadow.server.thinning import thin_all  # noqa: E402

gc.enable()


class Command(BaseCommand):
    help = "Make the database, compile the kernels and, with --demo, put the demo projects on an empty shelf."
    # They would load every page and endpoint, none of which is needed here.
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--demo", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            self._prepare(options["demo"])
        except (DatabaseError, OSError) as error:
            raise CommandError(
                f"The data folder cannot be made ready: {error}. Is there room, and may it be written?"
            ) from None

    def _make_textures(self) -> None:
        """Bundled textures, once: their files stay in the data folder, and nobody waits for them later."""
        evaluation = engine().evaluation(demos()[0].project)
        nodes = [made.node for made in (made_texture(look.id) for look in LOOKS) if made is not None]
        missing = [node for node in nodes if not evaluation.is_quick(node)]

        def make(at: int) -> None:
            evaluation.whole(missing[at])

        if missing:
            self.stdout.write(f"Making {len(missing)} textures.")
            engine().stripes.each(len(missing), make)

    def _prepare(self, demo: bool) -> None:
        take_over()
        # Whoever needs kernels later loads them by themselves.
        warm_once(Path(os.environ["NUMBA_CACHE_DIR"]))
        self._make_textures()
        thin_all()
        sweep()
        if demo and not Project.objects.exists():
            for made in reversed(demos()):
                with taken_in(incoming()) as path:
                    write_archive(path, made.project, made.asset_path)
                    bring_in(path, made.file_name)
                self.stdout.write(f"{made.project.name} is on the shelf.")
