"""Light, as far as the frame needs it."""
