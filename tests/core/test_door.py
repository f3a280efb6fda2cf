"""The door for files: whatever comes in is refused with its place, or can be solved and written out again."""

import json
import unittest
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError, field_validator

from tests.core.samples import job as sample
from vantok_core.base.check import BEYOND, Form, first_fault, read_what_holds
from vantok_core.base.errors import FileFormatError, VantokError
from vantok_core.facts import JobState, JobVehicle, LoadItem
from vantok_core.facts.load import Condition
from vantok_core.files.door import MOST_DEPTH, MOST_DIGITS, read_json
from vantok_core.files.job_file import read_job, solve_job, write_job
from vantok_core.files.plan_csv import read_plan, write_plan
from vantok_core.files.readings_csv import read_readings, write_readings


def told() -> Any:
    """Return a whole job as its file has it."""
    return json.loads(write_job(sample()))


BROKEN: dict[str, Any] = {
    "an area twice": lambda d: d.update(inspection=[{"area": "tyres", "grade": "fine"}] * 2),
    "a load index of -5": lambda d: d["vehicle"].update(front_tyre_index=-5),
    "a load index of 10^30": lambda d: d["vehicle"].update(front_tyre_index=10**30),
    "an unknown spring": lambda d: d["vehicle"].update(rear_spring="hover_field"),
    "a track of 1e-300": lambda d: d["vehicle"].update(track_rear_m=1e-300),
    "a line break in the number": lambda d: d.update(number="7\nX-Evil: 1"),
    "a control character in a name": lambda d: d["states"][0].update(name="a\x00b"),
    "a rating of nought": lambda d: d["states"][1].update(trailer_axle_rating_kg=0),
    "a name of a thousand letters": lambda d: d["vehicle"].update(label="x" * 1000),
    "a group of no load": lambda d: d["vehicle"].update(rear_group={"stations": [3.5, 4.7], "loads": [0, 0]}),
    "a group on one spot": lambda d: d["vehicle"].update(rear_group={"stations": [3.5, 3.5], "loads": [1000, 1000]}),
}


class Worded(Form):
    """A form that says in its own words what cannot be."""

    station: str

    @field_validator("station")
    @classmethod
    def _on_it(cls, value: str) -> str:
        if value == "off":
            raise ValueError("It stands off the vehicle.")
        return value


class Door(unittest.TestCase):
    def test_what_is_refused_without_its_field_is_said_in_words(self) -> None:
        """Whoever sees no field of a form reads neither its code nor a bound in pascals; a form's own words are kept."""
        with self.assertRaises(ValidationError) as bound:
            Condition.model_validate({"tyres_pa": {"RR": 5e6}})
        self.assertEqual(first_fault(bound.exception), BEYOND)
        with self.assertRaises(ValidationError) as worded:
            Worded.model_validate({"station": "off"})
        self.assertEqual(first_fault(worded.exception), "It stands off the vehicle.")

    def test_each_thing_that_cannot_be_is_refused_with_its_place(self) -> None:
        """Each fault that broke pages before is a FileFormatError that names where it stands."""
        read_job(json.dumps(told()))
        for words, spoil in BROKEN.items():
            data = told()
            spoil(data)
            with self.subTest(words), self.assertRaisesRegex(FileFormatError, "job"):
                read_job(json.dumps(data))

    def test_json_that_no_program_should_swallow(self) -> None:
        """Deep nesting, endless numbers, NaN, infinity, a figure past all floats, half a character: refused, never a crash."""
        for text in (
            "[" * 1000 + "]" * 1000,
            '{"a": ' * (MOST_DEPTH + 1) + "1" + "}" * (MOST_DEPTH + 1),
            "1" * 5000,
            f"[{'9' * (MOST_DIGITS + 1)}]",
            "[NaN]",
            "[Infinity]",
            "[-Infinity]",
            "[1e999]",
            '["\\ud800"]',
            "[1,",
            "",
        ):
            with self.subTest(text[:30]), self.assertRaises(FileFormatError):
                read_json(text)
        self.assertEqual(read_json('["[[[[", {"a": "}}}"}, 1.5]'), ["[[[[", {"a": "}}}"}, 1.5])
        self.assertEqual(read_json("[" * MOST_DEPTH + "]" * MOST_DEPTH)[0][0][0], read_json("[" * 37 + "]" * 37))

    def test_a_file_of_version_3_keeps_the_customers_words(self) -> None:
        """Words that stood with each complaint stand once with the job."""
        data = told() | {
            "version": 3,
            "complaints": [{"code": "sags", "words": "It drags."}, {"code": "leans", "words": ""}],
        }
        data.pop("words", None)
        found = read_job(json.dumps(data))
        self.assertEqual((found.words, [c.code for c in found.complaints]), ("It drags.", ["sags", "leans"]))

    @settings(suppress_health_check=[HealthCheck.too_slow], max_examples=150, deadline=None)
    @given(st.data())
    def test_a_file_spoilt_anywhere_is_refused_or_solved_and_written_again(self, data: st.DataObject) -> None:
        """One figure, text or list of a whole job replaced by anything JSON can hold: a typed error, or a job that solves and goes out again."""
        whole = told()
        place, holder, key = whole, None, None
        while isinstance(place, (dict, list)) and place:
            key = data.draw(st.sampled_from(sorted(place) if isinstance(place, dict) else range(len(place))))
            holder, place = place, place[key]
            if data.draw(st.integers(0, 3)) == 0:
                break
        odd = st.one_of(
            st.none(),
            st.booleans(),
            st.integers(-10, 10**9),
            st.floats(-1e9, 1e9),
            st.text(max_size=30),
            st.just([]),
            st.just({}),
        )
        assert holder is not None
        holder[key] = data.draw(odd)
        try:
            job = read_job(json.dumps(whole))
        except VantokError:
            return
        self.assertEqual(read_job(write_job(job)), job)
        json.dumps(solve_job(job))

    def test_texts_that_begin_like_a_formula_stay_texts(self) -> None:
        """A name or note that a spreadsheet would work out goes out behind an apostrophe and comes in as it was."""
        base = sample()
        evil = LoadItem(name="=HYPERLINK(1)", mass_kg=10, station_m=2.0, lateral_m=-0.5)
        state = JobState(key="loaded", name="Loaded", items=(evil, evil.model_copy(update={"name": "'+1"})))
        text = write_plan(state)
        self.assertNotIn(",=HYPERLINK", text)
        self.assertIn(",-0.5", text)
        self.assertEqual(read_plan(text).items, state.items)
        noted = base.model_copy(
            update={"readings": tuple(r.model_copy(update={"note": "@SUM(A1)"}) for r in base.readings)}
        )
        self.assertNotIn(",@SUM", write_readings([noted]))
        self.assertEqual({r.note for r in read_readings(write_readings([noted]))}, {"@SUM(A1)"})

    def test_a_file_of_too_many_lines_is_refused_before_it_is_read(self) -> None:
        """Twenty thousand items are refused at once."""
        with self.assertRaisesRegex(FileFormatError, "more than 1000 lines"):
            read_plan("kind,name,mass_kg,station_m\n" + "item,x,1,2\n" * 20_000)

    def test_what_is_stored_and_cannot_be_is_left_out_and_said(self) -> None:
        """Of a record whatever holds is kept; a figure that cannot be is unknown, with its reason."""
        found, faults = read_what_holds(
            JobVehicle, {"wheelbase_m": 3.5, "gross_kg": 0.0, "track_rear_m": 1e-300}, "vehicle"
        )
        assert found is not None
        self.assertEqual((found.wheelbase_m, found.gross_kg, found.track_rear_m), (3.5, None, None))
        self.assertEqual({f.place for f in faults}, {"vehicle.gross_kg", "vehicle.track_rear_m"})
        state, faults = read_what_holds(
            JobState, {"key": "e", "name": "Empty", "empty": True, "tongue_kg": 50.0}, "states"
        )
        assert state is not None
        self.assertEqual((state.tongue_kg, len(faults)), (0.0, 1))
        gone, faults = read_what_holds(LoadItem, {"name": "x", "mass_kg": -1.0}, "items")
        self.assertIsNone(gone)
        self.assertEqual(faults[0].place, "items.mass_kg")
