"""The vehicle as arithmetic: springs, tyres, body, and where they come to rest. It knows no job and no file.

    >>> from vantok_core.physics.levers import item_lever
    >>> share = item_lever(200.0, station=4.2, wheelbase=3.5)
    >>> round(share.front), round(share.rear)
    (-40, 240)

`vehicle` first, then `elements` (what presses), `levers` (what loads do), `stance` (equilibrium), `plane`, `effects`, `braking`.
"""
