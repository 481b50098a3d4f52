"""The shop floor: what is to be done now, read from two metres, at the shear, at the brake and on the roof."""
