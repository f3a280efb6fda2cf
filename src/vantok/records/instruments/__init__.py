"""Instruments of the shop: wheel pads, axle scale, tongue scale, read over one small line protocol."""
