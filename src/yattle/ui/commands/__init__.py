"""What every action does: plain functions of the shop; the table says which action does what."""
