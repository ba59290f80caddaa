"""Tide Tower Pottery, modelled by script."""
