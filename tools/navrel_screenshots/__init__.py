"""The pictures of the README: ./navrel screenshots."""
