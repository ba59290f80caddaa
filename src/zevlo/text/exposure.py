"""Exposure."""

THERE_IS_NO_SET = "There is no set to read the light from."
