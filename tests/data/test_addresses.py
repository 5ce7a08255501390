"""Files at addresses of the web, from a server on this machine."""

import shutil
import ssl
import subprocess
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

import pytest

import facetine as ft
from facetine.batch.runner import export_plan
from facetine.messages.errors import DataError, FacetineError, OptionError, PlanError

TABLE = b"a,b\n1,2\n3,4\n"


class Answers(BaseHTTPRequestHandler):
    """What the server has under each path."""

    def do_GET(self):
        name = self.path.partition("?")[0]
        if name == "/slow.csv":
            time.sleep(3)
        if name == "/onward.csv":
            return self.sent(302, b"", Location=f"http://127.0.0.1:{self.server.server_address[1]}/table.csv")
        if name == "/away.csv":
            return self.sent(302, b"", Location="http://data.example/table.csv")
        if name == "/disk.csv":
            return self.sent(302, b"", Location="file:///etc/hostname")
        if name == "/loop.csv":
            return self.sent(302, b"", Location="/loop.csv")
        if name == "/cut.csv":
            return self.sent(200, TABLE, **{"Content-Length": str(len(TABLE) + 50)})
        if name == "/large.csv":
            return self.sent(200, b"a,b\n" + b"1,2\n" * 600_000)
        if name == "/drops.csv":
            return self.dripped()
        if name == "/headers.csv":
            return self.dripped(b"X-Drop: 1\r\n", b"HTTP/1.0 200 OK\r\n")
        if name == "/many.csv":
            return self.sent(200, TABLE, **{f"X-Of-Many-{number}": "y" * 900 for number in range(300)})
        if name.startswith("/hop"):
            return self.sent(302, b"", Location=f"/hop{int(name[4:-4]) + 1}.csv")
        found = {
            "/table.csv": (TABLE, "text/csv"), "/query": (TABLE, "text/csv; charset=utf-8"), "/rows": (b'{"a": 1}\n{"a": 2}\n', "application/x-ndjson"),
            "/semicolons.csv": (b"a;b\n1,5;2\n", "text/csv"), "/caf%C3%A9%20table.csv": (TABLE, "text/csv"), "/page.html": (b"<p>no", "text/html"),
        }.get(name)  # fmt: skip
        return self.sent(404, b"") if found is None else self.sent(200, found[0], **{"Content-Type": found[1]})

    def sent(self, code, content, **headers):
        self.send_response(code)
        for name, value in ({"Content-Length": str(len(content))} | headers).items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(content)

    def dripped(self, drop=b"1,2\n", head=b"HTTP/1.0 200 OK\r\n\r\n"):
        self.wfile.write(head)
        try:
            for _ in range(30):
                self.wfile.write(drop)
                self.wfile.flush()
                time.sleep(0.1)
        except OSError:
            pass

    def log_message(self, *_):
        pass


@pytest.fixture(scope="module")
def server():
    running = ThreadingHTTPServer(("127.0.0.1", 0), Answers)
    threading.Thread(target=running.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{running.server_address[1]}"
    running.shutdown()
    running.server_close()


@pytest.mark.parametrize("path", ["table.csv", "query?format=csv", "onward.csv", "caf%C3%A9%20table.csv"])
def test_a_table_at_an_address_is_read(server, path):
    assert ft.read(f"{server}/{path}").to_dict("list") == {"a": [1.0, 3.0], "b": [2.0, 4.0]}


def test_its_kind_may_be_told_by_the_server_and_its_form_be_said(server):
    assert ft.read(f"{server}/rows")["a"].tolist() == [1, 2]
    assert ft.read(f"{server}/semicolons.csv", delimiter=";", decimal=",")["a"].tolist() == [1.5]
    assert (
        ft.read(f"{server}/table.csv", sql='SELECT sum(a) AS s FROM "table" WHERE b > :low', parameters={"low": 1})["s"][0] == 4
    )


@pytest.mark.parametrize(("path", "options", "said"), [
    ("none.csv", {}, "answers 404"),
    ("slow.csv", {"timeout": 0.4}, "took more than 0.4 s"),
    ("drops.csv", {"timeout": 0.5}, "took more than 0.5 s"),
    ("large.csv", {"limit": "2 MB"}, "holds more than 2 MB"),
    ("cut.csv", {}, "broke off after 12 of 62 bytes|IncompleteRead"),
    ("away.csv", {}, "others could change it"),
    ("disk.csv", {}, "is not allowed|is no address"),
    ("loop.csv", {"timeout": 5}, "answers 302"),
    ("page.html", {}, "no reader for 'page.html'"),
])  # fmt: skip
def test_what_can_not_be_fetched_is_told_in_one_line(server, path, options, said):
    with pytest.raises(DataError, match=said) as caught:
        ft.read(f"{server}/{path}", **options)
    assert "\n" not in caught.value.line


def test_a_limit_may_be_raised(server):
    assert len(ft.read(f"{server}/large.csv", limit="4 MB")) == 600_000


@pytest.mark.parametrize(("source", "options", "error", "said"), [
    ("http://data.example/a.csv", {}, DataError, "https:// is read"),
    ("https://", {}, DataError, "is no address"),
    ("https://a b/c.csv", {}, DataError, "is no address"),
    ("https://127.0.0.1:1/a.csv", {"timeout": 2}, DataError, "can't be reached"),
    ("https://[x/a.csv", {}, DataError, "is no address"),
    ("http://localhost/a.csv", {"limit": 5}, OptionError, "limit is a size"),
    ("http://localhost/a.csv", {"limit": "5 kilos"}, OptionError, "limit is a size"),
    ("http://localhost/a.csv", {"timeout": -1}, OptionError, "timeout is a number of seconds"),
    ("table.csv", {"limit": "5 MB"}, OptionError, "limit is for what is fetched"),
    ("sqlite:///a.db", {"sql": "SELECT 1", "timeout": 3}, OptionError, "timeout has no effect on a database"),
])  # fmt: skip
def test_calls_that_can_not_be_are_refused(source, options, error, said):
    Path("table.csv").write_bytes(TABLE)
    with pytest.raises(error, match=said) as caught:
        ft.read(source, **options)
    assert isinstance(caught.value, FacetineError)


def test_a_safe_way_is_taken_with_the_certificates_of_the_machine(monkeypatch):
    if shutil.which("openssl") is None:
        pytest.skip("no openssl on this machine")
    command = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-keyout", "key.pem", "-out", "cert.pem", "-days", "2",
               "-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost"]  # fmt: skip
    subprocess.run(command, check=True, capture_output=True)
    running = ThreadingHTTPServer(("127.0.0.1", 0), Answers)
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain("cert.pem", "key.pem")
    running.socket = context.wrap_socket(running.socket, server_side=True)
    threading.Thread(target=running.serve_forever, daemon=True).start()
    address = f"https://localhost:{running.server_address[1]}/table.csv"
    try:
        with pytest.raises(DataError, match="certificate"):
            ft.read(address, timeout=5)
        monkeypatch.setenv("SSL_CERT_FILE", str(Path("cert.pem").absolute()))
        assert ft.read(address, timeout=5)["b"].tolist() == [2.0, 4.0]
    finally:
        running.shutdown()
        running.server_close()


PLAN = (
    '[plan]\nformats = ["svg"]\n[data.w]\n{source}\n[figure.f]\ndata = "w"\nmap = {{ x = "a", y = "b" }}\nlayers = ["points"]\n'
)


@pytest.mark.parametrize(
    ("path", "said"),
    [("headers.csv", "took more than"), ("drops.csv", "took more than"), ("slow.csv", "took more than"), ("many.csv", "can't be read"),
     ("hop0.csv", "redirect"), ("loop.csv", "redirect")],
)  # fmt: skip
def test_one_deadline_holds_for_all_of_a_fetch_whatever_its_server_does(server, path, said):
    began = time.monotonic()
    with pytest.raises(DataError, match=said):
        ft.read(f"{server}/{path}", timeout=0.5)
    assert time.monotonic() - began < 2.5


def test_plans_follow_no_address_to_this_machine(tmp_path, monkeypatch):
    from facetine.data import addresses

    monkeypatch.setattr(addresses, "_connected", lambda *given, **said: pytest.fail("a connection was opened"))
    with addresses.reaching(local=False), pytest.raises(DataError, match="private network"):
        addresses._check_way("https://127.0.0.1/t.csv", "test")


def test_plans_fetch_only_what_says_url(server, tmp_path):
    plan = tmp_path / "p.toml"
    plan.write_text(PLAN.format(source=f'url = "{server}/table.csv"\nlimit = "1 MB"\ntimeout = 5'))
    (outcome,) = export_plan(plan, allow_local_addresses=True)
    assert outcome.error is None
    plan.write_text(PLAN.format(source=f'url = "{server}/none.csv"'))
    (outcome,) = export_plan(plan, allow_local_addresses=True)
    assert "404" in str(outcome.error)


@pytest.mark.parametrize(("source", "said"), [
    ('file = "https://data.example/a.csv"', 'url = "https://data.example/a.csv" fetches it'),
    ('url = "a.csv"', "no address of the web"),
    ('file = "a.csv"\nlimit = "3 MB"', "for what is fetched"),
    ('file = "a.csv"\nurl = "https://data.example/a.csv"', "a source has a file"),
])  # fmt: skip
def test_plans_that_mix_files_and_addresses_are_refused(source, said, tmp_path):
    (tmp_path / "p.toml").write_text(PLAN.format(source=source))
    with pytest.raises(PlanError, match=said):
        export_plan(tmp_path / "p.toml")
