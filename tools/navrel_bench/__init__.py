"""The benchmarks: ./navrel bench [--json]."""
