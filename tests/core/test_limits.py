import unittest

from tracebench.core.answer import Limit, Reading
from tracebench.core.errors import BadOption
from tracebench.core.limits import judge, limits_from_json, merged, state_of


def reading(value: float, reading_id: str = "closed_v") -> Reading:
    return Reading(reading_id, value, "V", 0.001, 0.0, 1.0)


class StateOf(unittest.TestCase):
    """The states that the readings contract defines, with its own examples."""

    def test_common_practice_examples(self):
        for value, low, high, expected in (
            (0.508, 0.45, 0.55, "inside"),
            (0.38, 0.45, 0.55, "outside"),
            (3.77, 3.6, None, "inside"),
            (3.77, 3.8, None, "marginal"),
            (3.5, 3.8, None, "outside"),
            (4.2, 3.8, None, "inside"),
        ):
            with self.subTest(value=value, low=low, high=high):
                self.assertEqual(state_of(value, Limit("x", low, high)), expected)

    def test_on_the_limit_is_inside(self):
        self.assertEqual(state_of(0.55, Limit("x", 0.50, 0.55)), "inside")

    def test_on_the_far_edge_of_the_zone_is_marginal(self):
        self.assertEqual(state_of(0.555, Limit("x", 0.45, 0.55)), "marginal")
        self.assertEqual(state_of(0.5551, Limit("x", 0.45, 0.55)), "outside")

    def test_zone_is_five_percent_of_span_or_value_unless_stated(self):
        self.assertAlmostEqual(Limit("x", 0.45, 0.55).zone, 0.005)
        self.assertAlmostEqual(Limit("x", 3.8, None).zone, 0.19)
        self.assertAlmostEqual(Limit("x", None, 220.0, marginal=80.0).zone, 80.0)

    def test_271_ms_is_marginal_to_220_with_a_zone_to_300(self):
        self.assertEqual(state_of(271, Limit("response_ms", None, 220, marginal=80)), "marginal")

    def test_no_dropout_is_the_limit(self):
        self.assertEqual(state_of(0, Limit("n", None, 0)), "inside")
        self.assertEqual(state_of(1, Limit("n", None, 0)), "outside")


class Judge(unittest.TestCase):
    def test_the_maker_outranks_common_practice(self):
        limits = (Limit("open_v", 3.8, None), Limit("open_v", 3.6, None, "maker"))
        first, second = judge([reading(3.77, "open_v")], limits)
        self.assertEqual((first.limit.basis, first.state, first.decides), ("maker", "inside", True))
        self.assertEqual((second.limit.basis, second.state, second.decides), ("common-practice", "marginal", False))

    def test_one_for_a_condition_outranks_one_for_any_of_the_same_basis_alone(self):
        limits = (
            Limit("open_v", 3.8, None, "maker"),
            Limit("open_v", 3.5, None, "maker", when="cold"),
            Limit("open_v", 3.0, None, "common-practice", when="cold"),
        )
        first, *others = judge([reading(3.6, "open_v")], limits)
        self.assertEqual((first.limit.when, first.state, first.decides), ("cold", "inside", True))
        self.assertEqual([(j.limit.basis, j.limit.low) for j in others], [("maker", 3.8), ("common-practice", 3.0)])

    def test_limits_without_a_reading_are_left_out(self):
        self.assertEqual(judge([reading(1.0)], [Limit("open_v", 3.8, None)]), ())

    def test_only_summaries_are_judged(self):
        per_sweep = Reading("closed_v", 9.0, "V", 0.1, 0, 1, cycle=1)
        self.assertEqual(judge([per_sweep], [Limit("closed_v", 0, 1)]), ())

    def test_a_users_limit_replaces_the_default_of_its_basis(self):
        out = merged([Limit("a", 1, 2), Limit("b", 1, 2)], [Limit("a", 3, 4)])
        self.assertEqual({(x.reading, x.low) for x in out}, {("b", 1), ("a", 3)})


class FromJson(unittest.TestCase):
    KNOWN = ("closed_v", "open_v")

    def test_reads_open_sides(self):
        (limit,) = limits_from_json({"limits": [{"reading": "open_v", "low": 3.6, "high": None}]}, self.KNOWN)
        self.assertEqual((limit.low, limit.high, limit.basis), (3.6, None, "maker"))

    def test_refusals_name_the_entry(self):
        for rows, words in (
            ([{"reading": "nope", "low": 1}], "limit 1: unknown reading 'nope'"),
            ([{"reading": "open_v", "low": 1, "basis": "hearsay"}], "unknown basis"),
            ([{"reading": "open_v"}], "give low, high or both"),
            ([{"reading": "open_v", "low": 2, "high": 1}], "above high"),
            ([{"reading": "open_v", "low": "a"}], "must be a number"),
            ([{"reading": "open_v", "low": float("nan")}], "must be a number"),
            (["x"], "expected an object"),
        ):
            with self.subTest(rows=rows), self.assertRaisesRegex(BadOption, words):
                limits_from_json({"limits": rows}, self.KNOWN)
        with self.assertRaises(BadOption):
            limits_from_json({}, self.KNOWN)
