"""The kit at its setting: what follows, what fails, the pressure card, the axle close up."""
