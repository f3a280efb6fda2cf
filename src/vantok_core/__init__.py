"""Vantok's core: the rules and arithmetic of suspension work on towing and load-carrying vehicles.

Everything inside is SI (metre, newton, kilogram, pascal, radian, second) and free of any
interface code. The rooms follow the order of the job: units, vehicle, loads, readings, elements, stance,
rates, effects, kits, roll, steering, dampers, road. `docs/method.md` is the page it implements.
"""
