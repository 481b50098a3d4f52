"""The benches in working order: survey, trim, brake, coil."""
