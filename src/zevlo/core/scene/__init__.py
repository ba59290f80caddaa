"""The set as arrays: cuts, rays, floors."""
