"""A browser is trusted once by password, for what that person may do; then names are tapped. Ways in work once."""

import asyncio
from datetime import timedelta

import pytest
from django.core.exceptions import PermissionDenied
from django.test import RequestFactory
from django.utils import timezone

from tests.server.conftest import make_person
from young_spark.server.accounts.browsers import is_still_in
from young_spark.server.accounts.keeping_people import change_person, require_keeper, sign_out_everywhere
from young_spark.server.accounts.models import Person, TrustedBrowser, WayIn
from young_spark.server.accounts.services import make_way_in
from young_spark.server.bulletin import Bulletin, FollowedBy

JSON = "application/json"
RIGHT = "a long way up"


def sign_in(client, password=RIGHT, name="wren"):
    return client.post("/api/sign-in", {"name": name, "password": password}, content_type=JSON)


def tap(client, person, pin=""):
    return client.post("/api/tap", {"person_id": person.pk, "pin": pin}, content_type=JSON)


def me(client):
    return client.get("/api/me").json()


def offered(client):
    return [p["name"] for p in me(client)["people"]]


@pytest.fixture
def keeper(db):
    person = make_person("ash", "technician")
    person.is_keeper = True
    person.save()
    return person


def test_names_show_only_on_a_trusted_browser_and_are_tapped_there(client, wren, reader):
    assert me(client) == {"person": None, "trusted": False, "people": [], "event": ""}
    assert tap(client, wren).status_code == 401
    signed = sign_in(client).json()
    assert signed["person"]["name"] == "Wren" and signed["event"]
    client.post("/api/sign-out")
    assert me(client)["event"] == ""  # nobody is signed in
    assert offered(client) == ["Reader", "Wren"]
    assert tap(client, reader).json()["person"]["role"] == "reader"


def test_a_readers_password_trusts_a_browser_for_readers_only(client, wren, reader):
    sign_in(client, name="reader")
    assert offered(client) == ["Reader"]
    refused = tap(client, wren)
    assert refused.status_code == 401 and "not offered on this browser" in refused.json()["detail"]
    assert me(client)["person"]["name"] == "Reader"
    sign_in(client)  # a technician's password trusts the same browser for more
    assert offered(client) == ["Reader", "Wren"]
    sign_in(client, name="reader")
    assert offered(client) == ["Reader", "Wren"]
    change_person(wren, {"role": "reader"} | keeps_going())
    assert tap(client, make_person("moss", "technician")).status_code == 401  # whoever trusted it is a reader now


def keeps_going():
    """Somebody else keeps the shop meanwhile."""
    Person.objects.create(username="keeper", is_keeper=True)
    return {}


def test_wrong_passwords_are_throttled_and_then_even_the_right_one_waits(client, wren):
    answers = [sign_in(client, "guess").status_code for _ in range(6)]
    assert answers[0] == 401 and answers[-1] == 429
    assert sign_in(client).status_code == 429


def test_a_guesser_elsewhere_does_not_lock_the_trusted_bench_out(client, client_of, wren):
    sign_in(client)
    guesser = client_of(None)
    for n in range(8):
        guesser.defaults["HTTP_X_FORWARDED_FOR"] = f"10.0.0.{n}"  # nobody said that there is a proxy
        last = sign_in(guesser, "guess")
    assert last.status_code == 429
    client.post("/api/sign-out")
    assert sign_in(client).status_code == 200
    assert [sign_in(client, "guess").status_code for _ in range(6)][-1] == 429  # it counts for itself
    assert tap(client, wren).status_code == 200


def test_five_wrong_pins_ask_for_the_password_of_that_name_there(client, wren, reader):
    sign_in(client)
    assert client.post("/api/pin", {"pin": "12"}, content_type=JSON).status_code == 422
    assert client.post("/api/pin", {"pin": "4711"}, content_type=JSON).status_code == 204
    client.post("/api/sign-out")
    assert tap(client, wren, "4711").status_code == 200
    assert [tap(client, wren, str(n) * 4).status_code for n in range(5)] == [401, 401, 401, 401, 429]
    assert tap(client, wren, "4711").status_code == 429
    assert tap(client, reader).status_code == 200  # nobody else is locked out by it
    assert sign_in(client).status_code == 200 and tap(client, wren, "4711").status_code == 200


def test_a_way_in_opens_once_and_not_late(client_of, wren):
    token = make_way_in(wren)
    first, second = client_of(None), client_of(None)
    assert second.head(f"/enter/{token}").status_code == 302  # who only looks uses nothing up
    assert first.get(f"/enter/{token}").headers["Location"] == "/"
    assert me(first)["person"]["name"] == "Wren"
    assert second.get(f"/enter/{token}").headers["Location"] == "/sign-in?used=1"
    late = make_way_in(wren)
    WayIn.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
    assert second.get(f"/enter/{late}").headers["Location"] == "/sign-in?used=1"
    assert token not in str(list(WayIn.objects.values())), "only a hash is stored"


def test_a_keeper_adds_changes_and_disables_people_and_withdraws_browsers(client, client_of, keeper, wren):
    sign_in(client, name="ash")
    bench = client_of(None)
    sign_in(bench)
    body = {"name": "Moss", "role": "technician", "password": "moss", "pin": ""}
    refused = client.post("/api/people", body, content_type=JSON)
    assert refused.status_code == 400 and "too short" in refused.json()["detail"]
    for name in ("", "x" * 61, " ", "Wren"):
        assert client.post("/api/people", body | {"name": name}, content_type=JSON).status_code in (400, 422)
    told = client.post("/api/people", body | {"password": "a hill of sand"}, content_type=JSON).json()
    moss = next(p for p in told["people"] if p["name"] == "Moss")
    other = client_of(None)
    assert sign_in(other, "a hill of sand", "Moss").status_code == 200

    def change(**changes):
        return client.patch(f"/api/people/{moss['id']}", changes, content_type=JSON)

    assert change(name="Moss B", pin="12345").status_code == 200
    assert change(pin="12").status_code == 422 and change(password="1234567890").status_code == 400
    assert me(other)["person"]["name"] == "Moss B"
    assert change(password="another hill").status_code == 200
    assert me(other)["person"] is None  # the password that this session stood on is gone
    sign_in(other, "another hill", "Moss B")
    assert change(is_active=False).status_code == 200
    assert me(other) == {"person": None, "trusted": False, "people": [], "event": ""}
    assert sign_in(other, "another hill", "Moss B").status_code == 401
    browsers = client.get("/api/people").json()["browsers"]
    assert {b["trusted_by"]: b["offers"] for b in browsers} == {
        "Ash": "everybody",
        "Wren": "everybody",
        "Moss B": "nobody",
    }
    assert [b["seen_from"] for b in browsers if b["is_this"]] == ["127.0.0.1"]
    of_wren = next(b["id"] for b in browsers if b["trusted_by"] == "Wren")
    assert client.delete(f"/api/browsers/{of_wren}").status_code == 200
    assert me(bench) == {"person": None, "trusted": False, "people": [], "event": ""}
    last = client.patch(f"/api/people/{keeper.pk}", {"is_keeper": False}, content_type=JSON)
    assert last.status_code == 400 and "make another keeper first" in last.json()["detail"]


def test_a_tap_alone_makes_no_keeper(client, keeper, wren):
    sign_in(client)
    tap(client, keeper)
    refused = client.get("/api/people")
    assert refused.status_code == 403 and "only tapped" in refused.json()["detail"]
    request = RequestFactory().get("/")
    request.user, request.session = keeper, {}
    assert require_keeper(request) == keeper
    request.user = wren
    with pytest.raises(PermissionDenied):
        require_keeper(request)


def test_signed_out_everywhere_ends_sessions_and_what_they_follow(client, wren):
    sign_in(client)
    session = client.session.session_key
    assert is_still_in(session)
    sign_out_everywhere(wren)
    assert me(client)["person"] is None and not is_still_in(session)


def test_a_stream_ends_with_its_session_and_leaves_nothing_behind(monkeypatch):
    monkeypatch.setattr("young_spark.server.bulletin.STILL_EVERY_S", 0.0)
    bulletin, may = Bulletin(), [True]

    async def still():
        return may[0]

    async def follow():
        streams = [bulletin.follow("", bench=True, by=FollowedBy(f"s{n}", n), still=still) for n in range(3)]
        for stream in streams:
            await anext(stream)
        assert bulletin.followers == 3
        bulletin.end(lambda by: by.session == "s1")
        await asyncio.sleep(0)
        assert [told async for told in streams[1]][-1].startswith(b"id")
        assert bulletin.followers == 2
        await streams[0].aclose()  # its tab was closed
        may[0] = False
        bulletin.publish("job", {})
        await asyncio.sleep(0)
        rest = [told async for told in streams[2]]
        assert len(rest) == 1 and bulletin.followers == 0 and not bulletin.looking

    asyncio.run(follow())


def test_a_tab_closed_in_the_tick_of_an_event_stays_no_follower():
    bulletin = Bulletin()

    async def follow():
        for _ in range(50):
            stream = bulletin.follow(bulletin.newest, bench=True)
            await anext(stream)
            waiting = asyncio.ensure_future(anext(stream))
            await asyncio.sleep(0)
            bulletin.publish("live", {}, kept=False)
            await asyncio.sleep(0)
            waiting.cancel()
            await asyncio.gather(waiting, return_exceptions=True)
            await stream.aclose()

    asyncio.run(follow())
    assert bulletin.followers == 0


@pytest.mark.parametrize("path", ["/api/me", "/api/shelf"])
def test_every_answer_carries_the_strict_policy(client, db, path):
    policy = client.get(path).headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy and "unsafe" not in policy and "frame-ancestors 'none'" in policy


@pytest.mark.parametrize("path", ["/", "/api/me", "/api/events", "/shelf"])
def test_a_host_that_is_not_ours_is_refused_everywhere(client, db, path):
    assert client.get(path, headers={"host": "elsewhere.example"}).status_code == 400


def test_every_trusted_browser_keeps_when_and_where_it_was_seen(client, wren):
    sign_in(client)
    TrustedBrowser.objects.update(seen_at=timezone.now() - timedelta(days=3), seen_from="")
    me(client)
    browser = TrustedBrowser.objects.get()
    assert browser.seen_from == "127.0.0.1" and timezone.now() - browser.seen_at < timedelta(minutes=1)
