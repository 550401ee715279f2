"""Make a site in place whose pages draw themselves anew in the browser, with a footer and a notice by rule, live.

Its script draws what the pages say, as frameworks do: it tells whether it found them as they were written, and follows
links without a new page.
"""

import json
import os
import tempfile
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "navrel.server.settings.app")
django.setup()

from django.contrib.auth.models import User  # noqa: E402

from navrel.core.files.writing import write_binding  # noqa: E402
from navrel.core.layout.binding import Binding  # noqa: E402
from navrel.server.bindings.services import bindings_version, put_bindings  # noqa: E402
from navrel.server.inventory.models import Site  # noqa: E402
from navrel.server.inventory.services import make_empty_site  # noqa: E402
from navrel.server.inventory.sources import take_in_folder  # noqa: E402
from navrel.server.library.services import make_piece  # noqa: E402
from navrel.server.publishing.services import publish  # noqa: E402
from navrel.server.rules.services import make_rule  # noqa: E402

APPLICATION = """
const root = document.getElementById("__nuxt");
const written = JSON.parse(document.getElementById("state").textContent);
document.documentElement.dataset.found = root.innerHTML === written ? "as written" : root.innerHTML;
window.draw = () => { root.innerHTML = written; };
setTimeout(() => { window.draw(); root.__vue_app__ = {}; document.title = "By a script"; });
addEventListener("click", (event) => {
  if (!event.target.closest("a")) return;
  event.preventDefault();
  history.pushState(null, "", event.target.href);
  root.textContent = "Drawn without a new page";
}, { capture: true });
"""
HEADS = {"index.html": "Quay", "fares.html": "Fares"}

demo = User.objects.get(username="demo")
site = make_empty_site("quay", "Marrowick quays", "", "in-place", by=demo)
title = {"name": "document-title", "type": "text", "default": "", "help": ""}
Site.objects.filter(slug="quay").update(scripts=True, settings=[*site.settings, title])
with tempfile.TemporaryDirectory() as folder:
    for name, head in HEADS.items():
        root = (
            f"<header>Old {head}</header><main><h1>{head}</h1><a href='/fares.html'>To the fares</a></main>"
            f"<aside><p>Own aside</p></aside><footer>Old footer</footer>"
        ).replace("'", '"')
        written = json.dumps(root).replace("</", r"<\/")
        state = f'<script type="application/json" id="state">{written}</script>'
        page = f'<!doctype html><html lang="en"><head><title>{head}</title><script src="/app.js" defer></script></head>'
        Path(folder, name).write_text(f'{page}<body><div id="__nuxt">{root}</div>{state}</body></html>')
    Path(folder, "app.js").write_text(APPLICATION)
    take_in_folder("quay", Path(folder))
site.refresh_from_db()
bound = [Binding("header", "header"), Binding("aside-start", "aside"), Binding("footer", "footer")]
put_bindings("quay", [write_binding(one) for one in bound], bindings_version(site), by=demo)


def say(kind: str, words: str) -> str:
    tree = {"kind": kind, "name": words, "content": {"items": [{"type": "text", "text": words}]}}
    return make_piece("quay", tree, by=demo).slug


footer, notice = say("footer", "New footer"), say("widget", "No boats today")
actions = [
    {"do": "fill", "slot": "footer", "piece": footer},
    {"do": "append", "slot": "aside-start", "piece": notice},
    {"do": "empty", "slot": "header"},
    {"do": "set", "setting": "document-title", "value": "{page.title} of Marrowick"},
]
make_rule("quay", {"name": "New", "condition": {"include": "all"}, "actions": actions}, by=demo)
publish("quay", demo, "New")
