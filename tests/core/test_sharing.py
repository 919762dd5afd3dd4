"""How layers share: three ways that always add up, the brush after them, and merged layers."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.layers.brushed import raised
from zigzag_meadow.core.layers.sharing import SHARINGS, by_strength, cover, relief_led
from zigzag_meadow.core.rounding import quantise_weights


def column(*values: float) -> np.ndarray:
    return np.array(values, np.float32)[:, None, None]


def told(weights: np.ndarray) -> list[float]:
    return [float(w) for w in weights[:, 0, 0]]


@settings(max_examples=120)
@given(
    st.integers(0, 8),
    st.integers(0, 10**6),
    st.sampled_from(sorted(SHARINGS)),
    st.booleans(),
    st.floats(0.001, 20),
    st.sampled_from([8, 16]),
)
def test_every_way_of_sharing_adds_up_in_floats_and_to_the_last_bit(layers, seed, way, hard, depth, bits):
    rng = np.random.default_rng(seed)
    masks = rng.random((layers, 5, 7), np.float32)
    masks = np.round(masks) if hard else masks
    reliefs = (rng.random((layers + 1, 5, 7)) * rng.choice([0, 0.01, 3])).astype(np.float32)
    weights = SHARINGS[way].share(masks, reliefs, depth)
    assert weights.dtype == np.float32
    assert weights.shape == (layers + 1, 5, 7)
    assert weights.min() >= 0
    assert weights.sum(axis=0, dtype=np.float64) == pytest.approx(1, abs=1e-6)
    assert (quantise_weights(weights, bits).sum(axis=0, dtype=np.int64) == 2**bits - 1).all()


def test_by_strength_keeps_what_fits_and_divides_what_does_not():
    assert told(by_strength(column(0.25, 0.5))) == pytest.approx([0.25, 0.25, 0.5])
    assert told(by_strength(column(1, 0.5, 0.5))) == pytest.approx([0, 0.5, 0.25, 0.25])
    # The order means nothing, unlike with cover.
    assert told(by_strength(column(0.8, 0.6)))[1:] == pytest.approx(told(by_strength(column(0.6, 0.8)))[:0:-1])
    assert told(cover(column(0.8, 0.6)))[1:] != pytest.approx(told(cover(column(0.6, 0.8)))[:0:-1])


@pytest.mark.parametrize(("depth", "expected"), [(0.2, (1, 0)), (0.8, (0.8, 0.2))])
def test_relief_led_gives_the_numbers_that_are_known(depth, expected):
    """w = (½, ½), h = (0.8, 0.2): the reliefs' largest, 0.8 m, divides both h and d."""
    shares = told(relief_led(column(0.5), column(0.8, 0.2), depth * 0.8))
    s = np.array([0.8, 0.2]) / 0.8 + 0.5
    b = np.maximum(s - (s.max() - depth), 0) * 0.5
    assert shares == pytest.approx(b / b.sum(), abs=1e-6)
    flat = told(relief_led(column(0.5), column(1.0, 1 - 0.6), depth))
    assert flat == pytest.approx(expected, abs=1e-6)


def test_relief_led_gives_nothing_to_who_is_not_there_and_is_cover_without_reliefs():
    masks = column(0.0, 0.4)
    weights = told(relief_led(masks, column(0.1, 99.0, 0.1), 0.05))
    assert weights[1] == 0
    assert told(relief_led(masks, np.zeros((3, 1, 1), np.float32), 0.05)) == pytest.approx(told(cover(masks)))


def test_what_does_not_go_together_is_refused():
    with pytest.raises(BadNumber, match="above 0 m"):
        relief_led(column(0.5), column(1, 1), 0)
    with pytest.raises(BadNumber, match="like the weights"):
        relief_led(column(0.5), column(1), 0.1)
    with pytest.raises(BadNumber, match="needs the relief"):
        SHARINGS["relief_led"].share(column(0.5), None, 0.1)
    with pytest.raises(BadNumber, match="2 axes"):
        cover(np.zeros((3, 3), np.float32))


@settings(max_examples=80)
@given(st.integers(2, 7), st.integers(0, 10**6), st.integers(0, 6), st.booleans())
def test_the_brush_raises_one_and_lowers_the_others_in_proportion(layers, seed, place, lower):
    rng = np.random.default_rng(seed)
    weights = cover(np.round(rng.random((layers - 1, 4, 5), np.float32), 1))
    place %= layers
    strokes = rng.random((4, 5), np.float32)
    after = raised(weights, place, strokes, lower)
    assert after.sum(axis=0, dtype=np.float64) == pytest.approx(1, abs=1e-6)
    assert after.min() >= 0
    assert (after[place] <= weights[place] + 1e-6 if lower else after[place] >= weights[place] - 1e-6).all()
    others = [k for k in range(layers) if k != place]
    rest = weights[others].sum(axis=0)
    for k in others:
        kept = rest > 1e-4
        assert (after[k] * rest)[kept] == pytest.approx((weights[k] * (1 - after[place]))[kept], abs=1e-5)
    untouched = raised(weights, place, np.zeros((4, 5), np.float32), lower)
    assert untouched == pytest.approx(weights, abs=1e-7)


def test_what_is_taken_from_a_layer_that_is_alone_goes_to_the_base():
    alone = np.stack([np.zeros((1, 1)), np.ones((1, 1)), np.zeros((1, 1))]).astype(np.float32)
    assert told(raised(alone, 1, np.full((1, 1), 0.25, np.float32), lower=True)) == pytest.approx([0.25, 0.75, 0])
    base = np.ones((1, 1, 1), np.float32)
    assert told(raised(base, 0, np.ones((1, 1), np.float32), lower=True)) == [1]
