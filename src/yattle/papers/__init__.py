"""What leaves the program: SVG, DXF, PDF, CSV, glTF, and the shop pack that holds them all."""
