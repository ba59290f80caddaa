"""What helps to compose the frame."""
