"""The frame around the benches: window, rail, slate, girth tape, actions."""
