"""Steps: a key for everything a step may read, the same in any process, and Problems kept as values."""

import json
import subprocess
import sys
import traceback
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
import shapely

from fulgen.geometry.placement import Placement
from fulgen.parts.lettering import Lettering
from fulgen.parts.shape import ShapePart
from fulgen.problem import Problem
from fulgen.steps import Step, key_of
from tests.figures import disc, shape
from tests.warm_and_cold import demo_recipes, differences, said

ROOT = Path(__file__).parents[2]


@dataclass(frozen=True)
class Asked:
    text: str
    size: float


DIFFERENT = (
    None, True, 1, 1.0, "1", b"1", (1,), ((1,),), ("1",), (), [], {"a": 1}, {"a": 1.0}, 1 + 0j,
    Asked("a", 1.0), Asked("a", 1.0000000000000002), np.zeros(2), np.zeros((2, 1)), np.zeros(2, np.int64),
    shapely.box(0, 0, 1, 1), shapely.box(0, 0, 1, 1 + 1e-15), Placement(), Placement(x=1e-12),
    Lettering(text="a"), Lettering(text="b"), ShapePart(id="a"),
)  # fmt: skip


def test_different_values_have_different_keys_and_equal_ones_the_same():
    keys = [key_of(value) for value in DIFFERENT]
    assert len(set(keys)) == len(keys) - 1, "only an empty tuple and an empty list are alike"
    assert key_of(Asked("a", 2.0)) == key_of(Asked("a", 2.0))
    assert key_of({"b": 1, "a": 2}) == key_of({"a": 2, "b": 1})


def test_what_cannot_be_walked_is_refused():
    with pytest.raises(TypeError, match="cannot be part"):
        key_of(object())


def test_a_part_is_made_without_what_its_making_has_no_business_with():
    one = Lettering(id="a", text="Mo", film="#C4502E", name="Heron", place=Placement(x=4.0), hidden=True)
    assert key_of(one.build_input()) == key_of(Lettering(id="a", text="Mo").build_input())
    plate = ShapePart(id="p", name="plate")
    assert key_of(plate.build_input()) != key_of(plate.model_copy(update={"name": "sign"}).build_input())


def test_a_step_is_made_once_and_its_problem_is_a_value_that_grows_no_traceback():
    tries = []

    def work(asked):
        tries.append(asked)
        raise Problem("no-room", "There is no room.", "Make some.")

    step = Step(work, 10_000)
    kept = step.result_or_problem(Asked("a", 1.0))
    assert kept == step.result_or_problem(Asked("a", 1.0))
    assert len(tries) == 1
    depths = set()
    for _ in range(20):
        with pytest.raises(Problem) as caught:
            step(Asked("a", 1.0))
        depths.add(len(traceback.extract_tb(caught.value.__traceback__)))
    assert len(depths) == 1
    assert kept.__traceback__ is None


def test_outlines_alike_with_twins_that_are_not_have_other_keys():
    assert key_of(shape(disc(), 0.01)) != key_of(shape(disc(), 0.02))


class TestWarmIsCold:
    """What is kept is what would be made anew, bit for bit: outlines, seams, findings, contacts, troubles."""

    @pytest.mark.parametrize("seed", range(2))
    def test_random_edits_of_the_demo_shop(self, seed):
        assert not differences(100 + seed, 20)

    def test_a_design_is_said_alike_in_another_process_and_order(self):
        names = ("piers-locker-ring", "tern-and-thistle-bow", "launch-day-disc")
        told = {name: said(demo_recipes()[name]) for name in names}
        code = (
            "import json, sys\n"
            "from tests.warm_and_cold import demo_recipes, said\n"
            "print(json.dumps({name: said(demo_recipes()[name]) for name in sys.argv[1:]}))"
        )
        env = {"PYTHONPATH": f"{ROOT / 'core'}:{ROOT}", "PYTHONHASHSEED": "7"}
        run = subprocess.run(
            [sys.executable, "-c", code, *reversed(names)],
            cwd=ROOT,
            env=env,
            capture_output=True,
            text=True,
            check=True,
        )
        assert json.loads(run.stdout) == told

    def warm_and_cold(self, first, *then):
        from fulgen.bounded import clear_all_caches

        warm = [said(recipe) for recipe in (first, *then)]
        for recipe, kept in zip((first, *then), warm, strict=True):
            clear_all_caches()
            assert said(recipe) == kept

    def design(self, *parts, **more):
        return {"format": "fulgen-recipe", "version": 8, "parts": list(parts), **more}

    def test_the_film_of_a_name_in_a_ring(self):
        ring = demo_recipes()["piers-locker-ring"]
        other = json.loads(json.dumps(ring))
        other["parts"][0]["film"] = "#C4502E"
        self.warm_and_cold(ring, other)

    def test_the_film_of_a_frame(self):
        name = {"kind": "lettering", "id": "l1", "text": "Piers"}
        ring = {"kind": "frame", "id": "f1", "form": "name ring", "members": ["l1"]}
        self.warm_and_cold(
            self.design(name, {**ring, "film": "#2B5674"}), self.design(name, {**ring, "film": "#C4502E"})
        )

    def test_a_bridge_to_a_part_of_another_film_that_is_moved(self):
        def two(x):
            bar = {"start": {"part": "a", "letter": 1, "x": 0.2, "y": -0.3},
                   "end": {"part": "b", "letter": 1, "x": 0.2, "y": -0.3}, "width_mm": 3.0}  # fmt: skip
            return self.design(
                {"id": "a", "text": "Mo", "face": {"family": "anton"}},
                {
                    "id": "b",
                    "text": "Ed",
                    "face": {"family": "anton"},
                    "film": "#C4502E",
                    "place": {"x": x, "y": 40.0},
                },
                bars=[bar],
            )

        self.warm_and_cold(two(0.0), two(15.0))

    def test_a_bridge_in_a_framed_name(self):
        name = {"kind": "lettering", "id": "l1", "text": "Piers"}
        ring = {"kind": "frame", "id": "f1", "form": "name ring", "members": ["l1"]}
        bar = {"start": {"part": "l1", "letter": 1, "x": 0.1, "y": -0.2},
               "end": {"part": "l1", "letter": 2, "x": 0.1, "y": -0.2}, "width_mm": 2.0}  # fmt: skip
        self.warm_and_cold(self.design(name, ring), self.design(name, ring, bars=[bar]))

    def test_the_name_of_a_shape_is_told_as_it_is_now(self):
        plate = {"kind": "shape", "id": "s", "form": "disc", "width_mm": 0.9, "height_mm": 0.9}
        self.warm_and_cold(self.design({**plate, "name": "sign"}), self.design({**plate, "name": "plate"}))
