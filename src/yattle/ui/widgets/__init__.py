"""Small controls that several benches use."""
