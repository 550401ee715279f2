"""A page's content, its outcome and the pieces, made into HTML. No models, no requests."""
