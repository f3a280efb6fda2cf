"""Benches: one question each, answered with a sentence, its figures and a drawing, alone at the counter or with a job's own figures.

>>> from vantok_core.judge.benches.all import BENCHES
>>> BENCHES["leaf"].words
'Leaf springs'
"""
