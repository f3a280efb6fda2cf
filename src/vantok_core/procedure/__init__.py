"""The job card: what the hands do, in order, with the gates that hold; texts are data.

`templates` (each construction's usual steps), `card` (a kit's steps merged with the vehicle, its inspection and what must come off), `progress` (what is
done, what comes next, what is held and why), `prover` (what would make a card wrong). Every card defers to the maker's instructions, the vehicle maker's
lifting points and local rules.

    >>> from vantok_core.procedure.templates import constructions
    >>> constructions()["insert_screwed"]["steps"][0]["words"]
    'Start the old stop by its metal plate, never by the rubber; out.'
"""
