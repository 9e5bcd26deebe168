"""The call and what goes with it: cause, evidence, next test and confidence."""
