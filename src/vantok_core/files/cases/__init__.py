"""Worked cases: one module of adapters a room, and what runs and compares them."""
