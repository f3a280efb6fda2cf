"""One module a family of kits; `kits.registry` lists them, and none knows another."""
