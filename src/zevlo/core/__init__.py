"""The rules of the job: pure functions on numbers and arrays, no I/O."""
