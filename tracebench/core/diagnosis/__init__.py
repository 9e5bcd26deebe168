"""Whole diagnoses: what a vehicle's evidence says of its causes, what would tell most next, and when one may stop.

`causes` declares what can be wrong and what each would show, `offers` the tests and their minutes; `evidence` reads
captures' answers and records as outcomes, `posterior` weighs causes and pairs, `support` says what is ruled out,
proven and supported, `worth` what to test next. `suspects.of_case` puts them together. Strengths and weights are
common practice, no published source, where an entry names none.
"""
