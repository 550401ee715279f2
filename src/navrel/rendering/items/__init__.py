"""The items that pieces are made of: what each takes, whether a content is whole, and what it is drawn from."""
