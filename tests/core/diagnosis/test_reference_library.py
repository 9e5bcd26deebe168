"""Posterior and information against pyAgrum, a library for Bayesian networks, and the published example of
sequential diagnosis.
"""

import unittest
from itertools import combinations

import numpy as np
import pyagrum as gum

from tests.core.diagnosis.cases import capture, drop, moved, of, suspected
from tracebench.core.diagnosis.documents import case_from
from tracebench.core.diagnosis.suspects import of_case
from tracebench.core.diagnosis.worth import information

THREE = {"fuel": "petrol", "cylinders": 3, "ignition": "coil-on-plug", "injection": "port"}

# What a few causes show, written down by hand: (test, cylinder): chance, "all" for what every cylinder shows.
SURE, MOST, TIMES = 0.99, 0.8, 0.4
STRANGE = {"drop": 0.02 / 3, "ramp": 0.02 / (5 * 3), "moved": 0.005}
SHOWN = {
    "coil-driver": {"drop": SURE},
    "plug-fouled": {"drop": SURE},
    "coil-winding-shorted": {"drop": SURE, "moved": SURE},
}


class PosteriorAgainstALibrary(unittest.TestCase):
    def test_ratios_of_causes_that_the_network_holds(self):
        """Three causes at three cylinders and all their pairs, a noisy OR of each finding."""
        names = [f"{kind}@{n}" for kind in SHOWN for n in (1, 2, 3)]
        # One coil is not two causes, nor is one plug at one place.
        apart = [(a, b) for a, b in combinations(names, 2) if a != b]
        states = [(a,) for a in names] + apart
        weight = {"coil-driver": 0.3, "plug-fouled": 3.0, "coil-winding-shorted": 3.0}
        net = gum.BayesNet()
        net.add(gum.LabelizedVariable("who", "who", len(states)))
        # Each single as it weighs; what the pairs hold beside them cancels in ratios of singles.
        prior = np.array(
            [np.prod([weight[c.partition("@")[0]] for c in s]) * (1e-9 if len(s) > 1 else 1) for s in states]
        )
        net.cpt("who").fillWith(list(prior / prior.sum()))
        findings = [("drop", n) for n in (1, 2, 3)] + [("moved", 1)]
        for code, n in findings:
            name = f"{code}{n}"
            net.add(gum.LabelizedVariable(name, name, 2))
            net.addArc("who", name)
            for k, state in enumerate(states):
                quiet = 1 - STRANGE[code]
                for cause in state:
                    kind, _, at = cause.partition("@")
                    quiet *= 1 - (SHOWN[kind].get(code, 0.0) if int(at) == n else 0.0)
                net.cpt(name)[{"who": k}] = [quiet, 1 - quiet]
        inference = gum.LazyPropagation(net)
        case = {"vehicle": THREE, "complaint": {"symptoms": ["misfire"]}}
        told = 0
        for seen, evidence in (
            ({"drop1": 1, "drop2": 0, "drop3": 0}, [drop(1, cylinders=3)]),
            ({"drop1": 1, "drop2": 0, "drop3": 0, "moved1": 1}, [drop(1, cylinders=3), moved("coil", "1", "2")]),
            ({"drop1": 1, "drop2": 0, "drop3": 0, "moved1": 0}, [drop(1, cylinders=3), moved("coil", "1", "2", "no")]),
            ({"drop1": 1, "drop2": 1, "drop3": 0}, [drop(1, 2, cylinders=3)]),
        ):
            inference.setEvidence(seen)
            held = inference.posterior("who").toarray()
            found = of_case(case_from({**case, "evidence": evidence})).posterior
            number = {c.id: k for k, c in enumerate(found.causes)}
            theirs = dict(zip(states, held, strict=True))
            for a, b in combinations(names, 2):
                ratio = found.single[number[a]] / found.single[number[b]]
                self.assertAlmostEqual(ratio / (theirs[a,] / theirs[b,]), 1.0, 9, f"{a} {b} {seen}")
            pairs = {(found.causes[i].id, found.causes[j].id): p for i, j, p in found.pairs}
            both = [(pairs[s], theirs[s]) for s in apart if s in pairs]
            for mine, library in both:
                self.assertAlmostEqual(mine / both[0][0] / (library / both[0][1]), 1.0, 9, str(seen))
            told += len(both)
        self.assertGreater(told, 3)

    def test_information_is_that_of_the_library(self):
        rng = np.random.default_rng(8)
        for causes, outcomes in ((2, 2), (5, 3), (12, 7)):
            prior = rng.dirichlet(np.ones(causes))
            table = rng.dirichlet(np.ones(outcomes), causes)
            net = gum.BayesNet()
            for name, size in (("who", causes), ("what", outcomes)):
                net.add(gum.LabelizedVariable(name, name, size))
            net.addArc("who", "what")
            net.cpt("who").fillWith(list(prior))
            for k in range(causes):
                net.cpt("what")[{"who": k}] = list(table[k])
            theirs = gum.InformationTheory(gum.LazyPropagation(net), ["who"], ["what"]).mutualInformationXY()
            self.assertAlmostEqual(information(prior, table), theirs, 9)

    def test_the_best_probe_of_three_multipliers_and_two_adders(self):
        """de Kleer and Williams (1987), from memory: with F seen wrong and G right, X is to be probed first, at
        about one bit; Y tells next to nothing.
        """
        # [M1], [A1], [M2, A2], [M2, M3], each component failing once in a hundred.
        held = np.array([0.01 * 0.99**4, 0.01 * 0.99**4, 0.01**2 * 0.99**3, 0.01**2 * 0.99**3])
        right, wrong = (0.0, 1.0), (1.0, 0.0)
        probes = {
            "X": np.array([wrong, right, right, right]),
            "Y": np.array([right, right, wrong, wrong]),
            "Z": np.array([right, right, right, wrong]),
        }
        bits = {name: information(held, table) for name, table in probes.items()}
        self.assertEqual(max(bits, key=bits.get), "X")
        self.assertAlmostEqual(bits["X"], 1.0, delta=0.02)
        self.assertLess(bits["Y"], 0.1)


class Pairs(unittest.TestCase):
    def test_two_findings_that_no_single_cause_makes(self):
        answer = suspected(
            THREE,
            ["misfire"],
            drop(1, 3, cylinders=3),
            capture("coil-primary-current", [("shorted_winding", 1)]),
            capture("injector-current-parade", [("shorted_winding", 3)]),
        )
        best = answer["pairs"][0]
        self.assertEqual(set(best["causes"]), {"coil-winding-shorted@1", "injector-shorted@3"})
        self.assertGreater(best["probability"], 0.9)
        for cause in best["causes"]:
            self.assertAlmostEqual(of(answer, cause)["probability"], 0.5, delta=0.03)


if __name__ == "__main__":
    unittest.main()
