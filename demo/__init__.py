"""The Lantern Ferry: code that makes the demo's effects. Made-up data, for the demo only."""
