"""The published site under traffic while it is published again and again."""

import json
import re
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from itertools import count

from navrel_rehearsal import Stage

from .conftest import put_live, send

REQUESTS, AT_ONCE, PUBLICATIONS = 2000, 16, 20


def test_every_answer_is_one_published_state_through_twenty_publications(page, demo: Stage):
    """Header and footer carry the number of the publication: a page that shows two numbers would be a mixed one."""
    paths = ("/about", "/help", "/routes", "/contact", "/tickets")
    taken = count()
    seen: set[str] = set()
    errors: list[object] = []

    def visit(number: int) -> None:
        try:
            with urllib.request.urlopen(demo.published + paths[number % len(paths)], timeout=30) as answer:
                html = answer.read().decode()
        except OSError as error:
            errors.append(error)
            return
        numbers = re.findall(r"Crossing (\d+)", html)
        if len(numbers) != 2 or len(set(numbers)) != 1:
            errors.append(numbers)
        seen.update(numbers)
        next(taken)

    publish(page, 0)
    with ThreadPoolExecutor(AT_ONCE) as pool:
        visits = [pool.submit(visit, number) for number in range(REQUESTS)]
        for number in range(1, PUBLICATIONS + 1):
            publish(page, number)
        for one in visits:
            one.result(120)
    assert errors == []
    assert next(taken) == REQUESTS
    assert len(seen) > 1, "publications and visits overlapped"


def publish(page, number: int) -> None:
    """Edit two pieces and publish both in one revision."""
    for slug in ("main-header", "site-footer"):
        address = f"/api/sites/marrowick/pieces/{slug}"
        piece = page.evaluate("(address) => fetch(address).then((answer) => answer.json())", address)
        body = {**piece, "content": {"items": [{"type": "text", "text": f"Crossing {number}"}]}}
        status, said = send(page, "PUT", address, json.dumps(body))
        assert status == 200, said
    put_live(page)
