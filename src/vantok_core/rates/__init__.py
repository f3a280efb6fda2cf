"""Spring rates: from sag and load, from the class, from every reading together with its band.

>>> from vantok_core.rates.simple import wheel_rate
>>> wheel_rate(1500.0, 0.05)
30000.0
"""
