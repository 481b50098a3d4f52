"""The window. Nothing outside of it knows Qt."""

import gc

# Values have no cycles and go by themselves: looking for some while everything is read only makes a slow start. What
# holds later is set once the window stands.
gc.set_threshold(1_000_000, 20, 100)
