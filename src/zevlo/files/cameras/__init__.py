"""Cameras in files of other programs, out and in, by the ending of the file's name."""
