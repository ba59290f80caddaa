"""Where the camera stands and how it moves."""
