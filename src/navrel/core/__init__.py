"""The heart of Navrel: queries, conditions, the cascade and what is asked of it.

Nothing here knows a database, a request or HTML. Everything in and out is a plain, frozen dataclass.
"""
