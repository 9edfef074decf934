"""A browser is trusted once by password; then names are tapped. Ways in work once."""

from datetime import timedelta

import pytest
from django.utils import timezone

from young_spark.server.accounts.models import TrustedBrowser, WayIn
from young_spark.server.accounts.services import make_way_in

JSON = "application/json"


def sign_in(client, password="a long way up"):
    return client.post("/api/sign-in", {"name": "wren", "password": password}, content_type=JSON)


def test_names_show_only_on_a_trusted_browser_and_are_tapped_there(client, wren, reader):
    assert client.get("/api/me").json() == {"person": None, "trusted": False, "people": [], "event": ""}
    assert client.post("/api/tap", {"person_id": wren.pk}, content_type=JSON).status_code == 401
    me = sign_in(client).json()
    assert me["person"]["name"] == "Wren" and me["event"]
    client.post("/api/sign-out")
    assert client.get("/api/me").json()["event"] == ""  # nobody is signed in
    assert [p["name"] for p in client.get("/api/me").json()["people"]] == ["Reader", "Wren"]
    assert client.post("/api/tap", {"person_id": reader.pk}, content_type=JSON).json()["person"]["role"] == "reader"


def test_wrong_passwords_are_throttled_and_then_even_the_right_one_waits(client, wren):
    answers = [sign_in(client, "guess").status_code for _ in range(6)]
    assert answers[0] == 401 and answers[-1] == 429
    assert sign_in(client).status_code == 429


def test_a_pin_is_asked_for_and_five_wrong_ones_end_the_trust(client, wren):
    sign_in(client)
    assert client.post("/api/pin", {"pin": "12"}, content_type=JSON).status_code == 422
    assert client.post("/api/pin", {"pin": "4711"}, content_type=JSON).status_code == 204
    client.post("/api/sign-out")
    tap = lambda pin: client.post("/api/tap", {"person_id": wren.pk, "pin": pin}, content_type=JSON).status_code  # noqa: E731
    assert tap("4711") == 200
    assert [tap(str(n) * 4) for n in range(5)] == [401, 401, 401, 401, 429]
    assert tap("4711") == 401 and not TrustedBrowser.objects.exists()


def test_a_way_in_opens_once_and_not_late(client_of, wren):
    token = make_way_in(wren)
    first, second = client_of(None), client_of(None)
    assert first.get(f"/enter/{token}").headers["Location"] == "/"
    assert first.get("/api/me").json()["person"]["name"] == "Wren"
    assert second.get(f"/enter/{token}").headers["Location"] == "/sign-in?used=1"
    late = make_way_in(wren)
    WayIn.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
    assert second.get(f"/enter/{late}").headers["Location"] == "/sign-in?used=1"
    assert token not in str(list(WayIn.objects.values())), "only a hash is stored"


@pytest.mark.parametrize("path", ["/api/me", "/api/shelf"])
def test_every_answer_carries_the_strict_policy(client, db, path):
    policy = client.get(path).headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy and "unsafe" not in policy and "frame-ancestors 'none'" in policy
