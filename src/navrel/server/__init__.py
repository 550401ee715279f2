"""The Django side: one app a room. Views check and parse, services do the work on the core."""
