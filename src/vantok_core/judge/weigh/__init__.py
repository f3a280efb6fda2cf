"""Loads: sentences of the weighing, pads, the coach, tyres, the envelope."""
