"""Over the road: what a vehicle does on it as it is and with each option, before anything is bought or bolted on."""
