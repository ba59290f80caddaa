"""Finals: how well pictures are made, what they are called, what an order asks for, and the pieces they are made in."""
