"""The published site under traffic while it is published again and again."""

import json
import re
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from itertools import count

from navrel_rehearsal import Stage

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
    status = page.evaluate(
        """async (number) => {
            const session = await (await fetch('/api/session')).json();
            const token = document.cookie.split('; ').find((one) => one.startsWith(`${session.csrf_cookie}=`)).split('=')[1];
            const ask = async (method, path, body, version) => {
                const headers = {'Content-Type': 'application/json', 'X-CSRFToken': token, 'If-Match': `"${version}"`};
                const answer = await fetch(`/api/sites/marrowick/${path}`, {method, headers, body: JSON.stringify(body)});
                if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
                return answer.json();
            };
            for (const slug of ['main-header', 'site-footer']) {
                const piece = await (await fetch(`/api/sites/marrowick/pieces/${slug}`)).json();
                const items = [{type: 'text', text: `Crossing ${number}`}];
                await ask('PUT', `pieces/${slug}`, {...piece, content: {items}}, piece.version);
            }
            const changes = await (await fetch('/api/sites/marrowick/impact')).json();
            return (await ask('POST', 'revisions', {version: changes.version})).number;
        }""",
        number,
    )
    assert json.dumps(status) != "null"
