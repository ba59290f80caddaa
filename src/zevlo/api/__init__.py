"""HTTP and the live socket."""
