"""The window. Nothing outside of it knows Qt."""

import gc

# Values have no cycles and go by themselves; looking for some while everything is read makes a slow start, and later
# would stop the window for some tenths of a second each time.
gc.set_threshold(50_000, 20, 100)
