"""Options beside one another, what decides, what is offered and planned."""
