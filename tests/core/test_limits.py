"""Every limit of the document at the limit and one beyond: what an edit leaves can always be read again."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from tests.support.ground import band, document
from tests.support.painting import edited
from zigzag_meadow.core.errors import BadDocument, MeadowError, TooLarge
from zigzag_meadow.core.masks.lines.catalogue import LINES
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.model.document import Project

LINE = {"verb": "take", "source": band("slope", 10, 40)}


def stored(project: Project) -> Project:
    """As it is read back from the store."""
    return parse_project(json.loads(project.model_dump_json()))


def mask(n: int) -> dict[str, Any]:
    return {"op": "add_mask", "mask": {"id": f"m{n}", "name": f"M{n}"}}


def layer(n: int) -> dict[str, Any]:
    return {"op": "add_layer", "layer": {"id": f"l{n}", "name": f"L{n}", "mask": "wet", "colour": "#123456"}}


def sheet(n: int) -> dict[str, Any]:
    return {"op": "add_sheet", "sheet": {"id": f"s{n}", "name": f"S{n}", "layout": "grey"}}


def reading(n: int) -> dict[str, Any]:
    return {"op": "add_reading", "setting": {"id": f"slope_{n}", "kind": "slope", "numbers": {"width": 9}}}


def feature(n: int) -> dict[str, Any]:
    return {"op": "add_feature", "feature": {"id": f"f{n}", "name": f"F{n}", "points": [[0, 0], [9, n]]}}


def scatter(n: int) -> dict[str, Any]:
    return {"op": "add_scatter", "scatter": {"id": f"c{n}", "name": f"C{n}", "mask": "wet"}}


def step(n: int) -> dict[str, Any]:
    return {"op": "add_step", "step": {"id": f"t{n}", "kind": "raise", "by": 1}}


def line(n: int) -> dict[str, Any]:
    return {"op": "add_line", "mask": "wet", "line": {"id": f"x{n}", "verb": "turn_over"}}


def piece(n: int) -> dict[str, Any]:
    made = {"id": f"p{n}", "name": f"P{n}", "lines": [{"id": "a", **LINE}]}
    return {"op": "make_piece", "mask": f"m{n}", "first": 0, "last": 0, "line": "use", "piece": made}


LISTS = {
    # what: (its operation, how many there are already, the most, what it is called)
    "masks": (mask, 2, 200, "masks"),
    "layers": (layer, 2, 64, "layers"),
    "sheets": (sheet, 2, 64, "sheets"),
    "readings": (reading, 0, 200, "readings with numbers of their own"),
    "features": (feature, 0, 500, "drawn lines"),
    "scatters": (scatter, 0, 50, "scattered things"),
    "steps": (step, 0, 40, "steps of preparation"),
    "lines": (line, 2, 200, "lines in one recipe"),
}


@pytest.mark.parametrize("what", LISTS)
def test_lists_hold_as_many_as_they_say_and_not_one_more(what):
    make, there, most, title = LISTS[what]
    full = edited(parse_project(document()), *(make(n) for n in range(most - there)))
    assert stored(full) == full
    with pytest.raises(BadDocument, match=f"at most {most} {title}; this would make {most + 1}"):
        edited(full, make(most))
    for lot in (2, 70):
        with pytest.raises(BadDocument):
            edited(full, *(make(most + n) for n in range(lot)))


def test_pieces_and_what_they_hold_are_counted():
    project = parse_project(document())
    for n in range(100):
        project = edited(project, {**mask(n), "mask": {**mask(n)["mask"], "lines": [{"id": "a", **LINE}]}}, piece(n))
    assert len(stored(project).pieces) == 100
    with pytest.raises(BadDocument, match="at most 100 pieces; this would make 101"):
        edited(project, {**mask(100), "mask": {**mask(100)["mask"], "lines": [{"id": "a", **LINE}]}}, piece(100))


def test_a_piece_is_made_of_at_most_forty_lines():
    lines = [{"id": f"x{n}", "verb": "turn_over"} for n in range(60)]
    project = edited(parse_project(document()), {"op": "add_mask", "mask": {"id": "m", "name": "M", "lines": lines}})
    made = {"id": "p", "name": "P", "lines": [{"id": "a", **LINE}]}
    use = {"op": "make_piece", "mask": "m", "first": 0, "line": "use", "piece": made}
    assert len(stored(edited(project, {**use, "last": 39})).pieces[0].lines) == 40
    with pytest.raises(BadDocument, match="at most 40 lines in one recipe; this would make 41"):
        edited(project, {**use, "last": 40})


@pytest.mark.parametrize(("points", "fits"), [(5000, True), (5001, False)])
def test_drawn_lines_have_at_most_five_thousand_points(points, fits):
    drawn = {"id": "f", "name": "F", "points": [[n % 400, n % 300] for n in range(points)]}
    operation = {"op": "add_feature", "feature": drawn}
    if fits:
        assert len(stored(edited(parse_project(document()), operation)).features[0].points) == points
    else:
        with pytest.raises(BadDocument, match="at most 5000 points"):
            edited(parse_project(document()), operation)


def test_a_document_is_never_larger_than_a_project_file_may_hold():
    points = [[100 + n / 7, 200 + n / 11] for n in range(5000)]
    drawn = [{"id": f"f{n}", "name": f"F{n}", "points": points} for n in range(100)]
    each = len(json.dumps(drawn[0]["points"], separators=(",", ":")))
    most = 8 * 2**20 // (each + 90)
    operations = [{"op": "add_feature", "feature": item} for item in drawn]
    full = edited(parse_project(document()), *operations[: most - 1])
    assert stored(full) == full
    with pytest.raises(TooLarge, match="at most 8 MiB"):
        edited(full, *operations[most - 1 : most + 2])


def test_copies_and_kits_are_counted_like_everything_else():
    masks = [{"id": f"m{n}", "name": f"M{n}", "lines": []} for n in range(150)]
    kit = {"kit": 1, "name": "K", "heights": {"low": 0, "high": 9}, "masks": masks}
    project = parse_project(document())
    once = edited(project, {"op": "apply_kit", "kit": kit, "prefix": "aaaa"})
    assert len(once.masks) == 152
    with pytest.raises(BadDocument, match="at most 200 masks; this would make 302"):
        edited(once, {"op": "apply_kit", "kit": kit, "prefix": "bbbb"})
    full = edited(once, *(mask(n + 500) for n in range(48)))
    with pytest.raises(BadDocument, match="this would make 201"):
        edited(full, {"op": "copy_mask", "mask": "wet", "id": "copy", "name": "Copy"})


@pytest.mark.parametrize("count", [64, 3])
def test_layers_can_be_packed_whatever_their_number(count):
    project = parse_project(document())
    full = edited(project, *(layer(n) for n in range(count - 2)), {"op": "propose_sheets"})
    carried = [s.source(c) for s in full.sheets for c in s.channels if s.id.startswith("splat")]
    assert sum(1 for c in carried if c is not None) == count + 1


class AnyEdits(RuleBasedStateMachine):
    """Random operations, many at or beyond a limit: whatever is accepted can be read, whatever is not changes
    nothing."""

    def __init__(self) -> None:
        super().__init__()
        self.project = parse_project(document())
        self.count = 0

    def do(self, *operations: dict[str, Any]) -> None:
        before = self.project
        try:
            self.project = edited(before, *operations)
        except MeadowError as error:
            refused = error.message
            assert refused.endswith((".", "?"))
            assert self.project is before

    def fresh(self) -> int:
        self.count += 1
        return self.count

    @rule(what=st.sampled_from(sorted(LISTS)), share=st.sampled_from([1, 2, 30, 63, 199]))
    def many(self, what: str, share: int) -> None:
        make = LISTS[what][0]
        self.do(*(make(1000 * self.fresh() + n) for n in range(share)))

    @rule(data=st.data())
    def take_away(self, data: st.DataObject) -> None:
        things = [("mask", m.id) for m in self.project.masks] + [("layer", item.id) for item in self.project.layers]
        things += [("sheet", s.id) for s in self.project.sheets] + [("step", s.id) for s in self.project.ground.steps]
        if things:
            kind, thing = data.draw(st.sampled_from(things))
            self.do({"op": f"delete_{kind}", kind: thing})

    @rule(verb=st.sampled_from([kind.model_fields["verb"].default for kind in LINES]), data=st.data())
    def any_line(self, verb: str, data: st.DataObject) -> None:
        number = data.draw(st.sampled_from([0, 1, -1, 0.5, 1e9, 20000, 20001, 16, 17, 1e-9]))
        fields = dict.fromkeys(("radius", "by", "fade", "count", "area", "gamma", "clip", "at"), number)
        own = next(kind for kind in LINES if kind.model_fields["verb"].default == verb).model_fields
        made = {"id": f"y{self.fresh()}", "verb": verb, **{k: v for k, v in fields.items() if k in own}}
        for name in ("source", "by"):
            if name in own and own[name].is_required():
                made[name] = data.draw(st.sampled_from([band("slope", 1, 9), {"kind": "mask", "mask": "wet"}]))
        self.do({"op": "add_line", "mask": data.draw(st.sampled_from(["wet", "steep", "gone"])), "line": made})

    @rule(rows=st.sampled_from([7, 8, 127, 8193, 8194]), times=st.sampled_from([2, 8]))
    def other_sizes(self, rows: int, times: int) -> None:
        n = self.fresh()
        self.do({"op": "add_step", "step": {"id": f"r{n}", "kind": "resample", "rows": rows, "cols": rows}})
        self.do({"op": "add_step", "step": {"id": f"q{n}", "kind": "refine", "times": times}})

    @rule()
    def pack(self) -> None:
        self.do({"op": "propose_sheets"})

    @invariant()
    def it_can_be_read(self) -> None:
        assert stored(self.project) == self.project


TestAnyEdits = AnyEdits.TestCase
TestAnyEdits.settings = settings(max_examples=12, stateful_step_count=14)
