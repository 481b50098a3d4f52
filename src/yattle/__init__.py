"""Yattle: from a few measures of a roof to folded pieces and a cut coil."""

import gc
import os

# A roof is some hundred thousand small values that stay: to look through them again and again for what could be thrown
# away took an eighth of the time.
gc.set_threshold(50_000, 20, 20)

# Matrices here are small: a second thread for their sums only keeps a processor from what goes on beside.
for _library in ("OPENBLAS", "OMP", "MKL"):
    os.environ.setdefault(f"{_library}_NUM_THREADS", "1")

__version__ = "0.1.0"
