"""What stands before the published site besides nginx, and beside it, on loopback, for as long as a test lasts."""

import subprocess
import sys
import urllib.error
import urllib.request
from contextlib import contextmanager
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread

from navrel_faults.installation import wait_for
from navrel_rehearsal.nginx import DEPLOY, placed

from navrel.launch.processes import start
from navrel.launch.serving import wait_until_served


@contextmanager
def varnish(folder, navrel, port, token, pages):
    """Varnish with the configuration under `deploy/varnish`, on a port; ``pages``: where somebody else's are served."""
    (folder / "token.vcl").write_text(f'sub navrel_token {{ set req.http.Authorization = "Bearer {token}"; }}\n')
    own = pages.rpartition(":")[2]
    ports = {'.port = "8421"': f'.port = "{navrel.rpartition(":")[2]}"', '.port = "8080"': f'.port = "{own}"'}
    vcl = placed("varnish/navrel.vcl", folder, **{"/etc/varnish/navrel-token.vcl": str(folder / "token.vcl"), **ports})
    command = ["/usr/sbin/varnishd", "-F", "-n", str(folder / "varnish"), "-a", f"127.0.0.1:{port}", "-f", str(vcl),
               "-s", "malloc,64m", "-T", "none", "-j", "none"]  # fmt: skip
    with (folder / "varnish.log").open("wb") as log:
        process = start(command, stdout=log, stderr=log)
    try:
        wait_until_served("varnish", process, port)
        yield f"http://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait(timeout=20)


@contextmanager
def pages(folder):
    """A program that serves a folder of pages; its host and port."""

    class Handler(SimpleHTTPRequestHandler):
        def __init__(self, *arguments):
            super().__init__(*arguments, directory=str(folder))

        def do_GET(self):
            # A page is asked for by its address, parameters and all.
            self.path = self.path.partition("?")[0]
            self.path += "" if self.path.endswith("/") else ".html"
            super().do_GET()

        def log_message(self, *arguments):
            pass

    with ThreadingHTTPServer(("127.0.0.1", 0), Handler) as server:
        Thread(target=server.serve_forever, daemon=True).start()
        yield f"127.0.0.1:{server.server_port}"
        server.shutdown()


@contextmanager
def receiver(folder, port, secret, *command, **env):
    """What is told of publications, and runs a command for each."""
    (folder / "secret").write_text(secret)
    started = [
        sys.executable,
        str(DEPLOY / "receive.py"),
        "--listen",
        f"127.0.0.1:{port}",
        "--secret-file",
        str(folder / "secret"),
    ]
    process = start([*started, *command], env=env, stdout=subprocess.PIPE, text=True)
    try:
        wait_until_served("receiver", process, port)
        yield process
    finally:
        process.terminate()
        process.wait(timeout=20)


def renewed(server, before):
    """Wait until nginx asks and answers with other processes than before."""
    wait_for("nginx to have taken up what is new", lambda: server.children() and not server.children() & before)


def fetched(address, body=None, **headers):
    """The status, the headers and the body of an answer; ``body`` is posted, if there is one."""
    request = urllib.request.Request(
        address, body, headers={name.replace("_", "-"): value for name, value in headers.items()}
    )
    try:
        with urllib.request.build_opener(urllib.request.ProxyHandler({})).open(request, timeout=30) as answer:
            return answer.status, answer.headers, answer.read()
    except urllib.error.HTTPError as error:
        return error.code, error.headers, error.read()
