"""Deliveries made and checked in a test's own folder."""

from __future__ import annotations

import imagecodecs
import numpy as np

from tests.support.ground import document, evaluation
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.rehearsal import Rehearsal
from zigzag_meadow.core.fit.truth import ProjectTruth
from zigzag_meadow.core.stripes import Stripes


def made(folder, data=None, name="out"):
    project, ev = evaluation(folder, data or document())
    out = folder / name
    out.mkdir()
    deliver(ev, make_plan(project, ev.heights()), out, Stripes(2), lambda share, text: None)
    return ev, out


def checked(ev, out, **more):
    return check_delivery(out, ProjectTruth(ev, Rehearsal(out)), **more)


def rewrite(path, turn):
    pixels = imagecodecs.png_decode(path.read_bytes())
    path.write_bytes(imagecodecs.png_encode(np.ascontiguousarray(turn(pixels))))
