"""The doors of the running program against who means it ill: half requests, bodies without end, guessed proxies, and
the shop that lets others in."""

import contextlib
import json
import socket
import ssl
import threading
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path

import pytest

from tests.prepared import new_shop
from tests.served import FIRST_PERSON, Served, free_port, spark
from young_spark.listening import CannotListen, listening, made_certificate

pytestmark = pytest.mark.long


@pytest.fixture(scope="module")
def served(tmp_path_factory):
    folder = new_shop(tmp_path_factory.mktemp("doors") / "shop")
    with Served("serve", folder, free_port(), **FIRST_PERSON) as running:
        running.sign_in("Wren", "a long way up")
        yield running


def opened(served) -> socket.socket:
    host, port = served.address.removeprefix("http://").split(":")
    return socket.create_connection((host, int(port)), timeout=30)


def said(served, request: bytes) -> bytes:
    """What is answered to a request as it stands, until the line closes."""
    with opened(served) as line:
        line.sendall(request)
        answer = b""
        with contextlib.suppress(ConnectionError):
            while part := line.recv(4096):
                answer += part
    return answer


def head(path: str, *headers: str) -> bytes:
    return "\r\n".join([f"POST {path} HTTP/1.1", "Host: 127.0.0.1", *headers, "", ""]).encode()


def test_a_body_that_is_too_long_is_refused_before_it_comes(served):
    answer = said(served, head("/api/sign-in", "Content-Length: 3000000000", "Connection: close"))
    assert b" 413 " in answer and b"nothing of it was kept" in answer
    job = uuid.uuid4()
    unknown = said(served, head(f"/api/jobs/{job}/pictures", "Content-Length: 15000000", "Connection: close"))
    assert b" 401 " in unknown  # nobody who is not signed in has megabytes kept for him
    cookies = "; ".join(f"{c.name}={c.value}" for c in served.cookies)
    known = head(f"/api/jobs/{job}/pictures", "Content-Length: 25000000", f"Cookie: {cookies}", "Connection: close")
    assert b" 413 " in said(served, known)


def test_a_body_that_lies_about_its_length_is_cut_off(served):
    piece = b"10000\r\n" + b"x" * 65536 + b"\r\n"
    with opened(served) as line:
        line.sendall(head("/api/sign-in", "Transfer-Encoding: chunked", "Content-Type: application/json"))
        with contextlib.suppress(ConnectionError):
            for _ in range(40):
                line.sendall(piece)
        answer = b""
        with contextlib.suppress(ConnectionError):
            answer = line.recv(4096)
    assert b" 413 " in answer or answer == b""
    assert served.get("/api/me")["person"]


def test_a_head_without_end_and_a_garbled_one_are_cut_off(served):
    started = time.monotonic()
    with opened(served) as line, contextlib.suppress(ConnectionError):
        for _ in range(400):
            line.sendall(b"GET / HTTP/1.1\r\nX-A: " if _ == 0 else b"a" * 1000)
        line.settimeout(5)
        assert line.recv(10) == b""
    assert time.monotonic() - started < 6  # long before any clock runs out
    assert served.get("/api/me")["person"]


def test_three_hundred_half_requests_keep_nobody_from_being_served(served):
    lines = [opened(served) for _ in range(300)]
    try:
        for number, line in enumerate(lines):
            with contextlib.suppress(ConnectionError):
                line.sendall(
                    b"POST /api/sign-in HTTP/1.1\r\nHost: 127" if number % 2 else head("/api/tap", "Content-Length: 90")
                )
        for _ in range(5):
            started = time.monotonic()
            assert served.get("/api/me")["person"] and time.monotonic() - started < 5
        closed = 0
        for line in lines[:150]:
            line.settimeout(1)
            with contextlib.suppress(TimeoutError, ConnectionError):
                closed += line.recv(1) == b""
        assert closed >= 100  # those that were half the longest
    finally:
        for line in lines:
            line.close()


def test_a_silent_line_is_closed_after_its_time(served):
    with opened(served) as silent, opened(served) as half:
        half.sendall(b"GET /api/me HT")
        started = time.monotonic()
        for line in (silent, half):
            line.settimeout(15)
            with contextlib.suppress(ConnectionError):
                assert line.recv(1) == b""
        assert 8 < time.monotonic() - started < 14


def test_guessing_passwords_holds_nobody_up(served):
    """Twenty at once hash for seconds; a line is written meanwhile."""
    job = served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "A set"})["id"]

    def guess():
        with contextlib.suppress(urllib.error.HTTPError, OSError):
            other = Served.__new__(Served)
            other.address, other.cookies = served.address, __import__("http.cookiejar").cookiejar.CookieJar()
            other.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(other.cookies))
            other.sign_in(f"nobody{uuid.uuid4().hex[:4]}", "guess")

    guessers = [threading.Thread(target=guess) for _ in range(20)]
    for guesser in guessers:
        guesser.start()
    started = time.monotonic()
    served.post("/api/lines", {"id": str(uuid.uuid4()), "text": "3.8w", "job": job})
    written = time.monotonic() - started
    for guesser in guessers:
        guesser.join()
    assert written < 3


def test_everything_that_is_kept_is_its_owners_alone(served, tmp_path):
    folder = next(p for p in (tmp_path.parent.parent.glob("*/doors*/shop")))
    assert spark("backup", str(tmp_path / "a.zip"), data=folder).returncode == 0
    kept = [*folder.rglob("*"), tmp_path / "a.zip"]
    assert {p.name for p in kept} >= {"young-spark.sqlite3", "secret-key"}
    assert [p for p in kept if p.stat().st_mode & 0o077] == []


@pytest.mark.parametrize(
    ("options", "why"),
    [
        ({"address": "0.0.0.0"}, "by which name"),
        ({"address": "0.0.0.0", "names": ["shop.example"]}, "in the open"),
        ({"address": "the bench"}, "wants an address"),
        ({"proxy": "10.0.0.1"}, "by which name"),
        ({"certificate": Path("x.pem")}, "needs its key"),
        ({"certificate": Path("x.pem"), "key": Path("y.pem")}, "there is no"),
    ],
)
def test_letting_others_in_is_said_whole_or_refused(tmp_path, options, why):
    with pytest.raises(CannotListen, match=why):
        listening(tmp_path, **options)


def test_a_certificate_is_made_once_for_its_names(tmp_path):
    certificate, key = made_certificate(tmp_path / "tls", ["shop.example", "10.0.0.7"])
    first = certificate.read_bytes()
    assert made_certificate(tmp_path / "tls", ["shop.example", "10.0.0.7"]) == (certificate, key)
    assert certificate.read_bytes() == first and key.stat().st_mode & 0o077 == 0
    made_certificate(tmp_path / "tls", ["other.example"])
    assert certificate.read_bytes() != first
    key.write_text("no key")
    with pytest.raises(CannotListen, match="no certificate with its key"):
        listening(tmp_path, address="0.0.0.0", names=["other.example"], certificate=certificate, key=key)


def test_a_shop_that_lets_others_in_is_served_by_tls_to_its_names_only(tmp_path):
    folder = new_shop(tmp_path / "shop")
    refused = spark("serve", "--listen", "127.0.0.2", "--name", "shop.example", "--make-certificate", data=folder)
    assert refused.returncode == 2 and "only once a keeper has a password" in refused.stderr
    assert spark("person", "add", "Wren", "--keeper", data=folder, YOUNG_SPARK_PASSWORD="a long way up").returncode == 0
    options = ["--listen", "127.0.0.2", "--name", "shop.example", "--make-certificate"]
    with Served("serve", folder, free_port(), more=options) as served:
        port = int(served.address.rsplit(":", 1)[1])
        trusted = ssl.create_default_context(cafile=folder / "tls" / "certificate.pem")
        for host, status in (("shop.example", b" 200 "), ("elsewhere.example", b" 400 ")):
            plain = socket.create_connection(("127.0.0.2", port), timeout=20)
            with trusted.wrap_socket(plain, server_hostname="shop.example") as line:
                line.sendall(f"GET /api/me HTTP/1.1\r\nHost: {host}:{port}\r\nConnection: close\r\n\r\n".encode())
                answer = b""
                while part := line.recv(4096):
                    answer += part
            assert status in answer.split(b"\r\n")[0] + b" "
        assert served.address.startswith("https://shop.example:")
        with pytest.raises(OSError):
            socket.create_connection(("127.0.0.1", port), timeout=5)


def test_a_wrong_port_is_one_sentence(tmp_path):
    refused = spark("serve", "--port", "70000", data=tmp_path / "shop")
    assert refused.returncode == 2 and "Traceback" not in refused.stderr and "65535" in refused.stderr
    assert len(refused.stderr.strip().splitlines()) == 1


def test_json_in_of_no_number_or_no_end(served):
    job = served.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "A set"})["id"]
    for body in (
        b'{"value": NaN}',
        b'{"value": -Infinity}',
        b'{"value": 1e999}',
        b"[" * 100_000,
        b'{"value": ' + b"9" * 5000 + b"}",
    ):
        token = next(c.value for c in served.cookies if c.name == "csrftoken")
        headers = {"Content-Type": "application/json", "X-CSRFToken": token}
        request = urllib.request.Request(f"{served.address}/api/jobs/{job}", body, headers, method="PATCH")
        with pytest.raises(urllib.error.HTTPError) as refused:
            served.opener.open(request)
        assert refused.value.code in (400, 422) and json.loads(refused.value.read())["code"] in ("garbled", "invalid")
