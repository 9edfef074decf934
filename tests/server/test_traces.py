"""Traces on a job: the slip feeds them, each look is a line, a repair makes looks stale, closed jobs teach."""

import io
import uuid

import pytest

from tests.core.tracing_trials import engine_of
from tests.server.conftest import picture_bytes, take
from young_spark.core.gear import models
from young_spark.core.trace import Engine, Seen, shipped_chain
from young_spark.core.trace.refining import refined
from young_spark.server.bundles.exporting import job_out
from young_spark.server.jobs.models import Job, Line
from young_spark.server.library.models import OwnText
from young_spark.server.tracing import services
from young_spark.server.tracing.models import Look, Trace

JSON = "application/json"
pytestmark = [pytest.mark.django_db(transaction=True), pytest.mark.long]


def begin(client, job, chain="cb-am-mobile", symptom="no output", **more):
    return client.post(
        f"/api/jobs/{job.pk}/traces",
        {"id": str(uuid.uuid4()), "chain": chain, "symptom": symptom} | more,
        content_type=JSON,
    )


def look(client, trace, probe, seen, line=None):
    body = {"id": line or str(uuid.uuid4()), "probe": probe, "seen": seen}
    return client.post(f"/api/traces/{trace['id']}/looks", body, content_type=JSON)


def share(trace, stage):
    return next(s["share"] for s in trace["stages"] if s["id"] == stage)


@pytest.fixture
def find(bench, job):
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type=JSON)
    for line in Line.objects.filter(job=job, kind="said"):  # the complaint has a test of its own
        bench.post(f"/api/lines/{line.pk}/withdraw", {"reason": "another unit's"}, content_type=JSON)
    return job


def test_the_complaint_counts_is_confirmed_first_and_can_be_doubted(bench, job):
    said = Line.objects.get(job=job, kind="said")
    trace = begin(bench, job).json()
    (told,) = trace["evidence"]
    assert (told["probe"], told["line"], told["from_slip"]) == ("output", str(said.pk), True)
    assert trace["next"][0]["probe"] == "output", "whoever told it: nobody looked"
    doubted = bench.put(f"/api/traces/{trace['id']}/doubts/{said.pk}", {"doubted": True}, content_type=JSON).json()
    assert share(doubted, "final") < share(trace, "final")


def test_readings_of_the_slip_count_without_being_typed_again(bench, find):
    trace = begin(bench, find).json()
    assert bench.get(f"/api/jobs/{find.pk}/traces").json()["fits"] == "cb-am-mobile"
    assert trace["evidence"] == []
    take(bench, find, "none", row="power-am-19", conditions={"mode": "am", "channel": 19})
    bench.patch(f"/api/jobs/{find.pk}", {"part": "in"}, content_type=JSON)
    take(bench, find, "tx 0.15a", row="current-transmit")
    (now,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    told = {e["words"].split(":")[0]: e["from_slip"] for e in now["evidence"]}
    assert told == {"Power into the load": True, "Supply current when keyed": True}
    assert share(now, "mic") < 0.02 < share(now, "final")
    assert all(n["probe"] not in {"output", "current_tx"} for n in now["next"])


def test_what_was_tried_found_and_tested_counts_and_can_be_doubted_there(bench, find, client):
    find.items.update(model="corrie-q100")
    trace = begin(bench, find, chain="hf-solid-state").json()
    told = {
        "none": ("b40_power", "dead"),
        "100": ("b20_power", "works"),
        "found receive fine": ("receive", "works"),
        "found burnt resistor at the driver": ("driver_look", "seen"),
        "found final pair tested out of circuit, good": ("final_out", "good"),
        "said weak since a plug was changed": ("last_hand", "seen"),
        "stage pre-driver weak 20 mW": ("predriver_rf", "weak"),
    }
    at = {"none": ("power-7m1", 7.1e6), "100": ("power-14m2", 14.2e6)}
    lines = {text: str(uuid.uuid4()) for text in told}
    for text, line in lines.items():
        row, hz = at.get(text, (None, None))
        taken = take(bench, find, text, id=line, row=row, conditions={"mode": "cw", "frequency_hz": hz})
        assert taken.status_code == 201, taken.content
    (now,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    made = {e["line"]: e for e in now["evidence"]}
    assert set(made) == set(lines.values()) and all(e["from_slip"] for e in made.values())
    engine = services.engine_of(Trace.objects.get(pk=trace["id"]))
    seen = [Seen(probe=probe, answer=answer) for probe, answer in told.values()]
    assert share(now, "driver") == pytest.approx(engine.by_stage(engine.belief(seen))["driver"])
    assert all(p["probe"] != "last_hand" for p in now["next"])

    def doubt(who, text, doubted=True):
        address = f"/api/traces/{trace['id']}/doubts/{lines[text]}"
        return who.put(address, {"doubted": doubted}, content_type=JSON)

    after = doubt(bench, "found burnt resistor at the driver").json()
    (left_out,) = (e for e in after["evidence"] if e["doubted"])
    assert left_out["line"] == lines["found burnt resistor at the driver"] and left_out["did"] == ""
    assert share(after, "driver") == pytest.approx(
        engine.by_stage(engine.belief([s for s in seen if s.probe != "driver_look"]))["driver"]
    )
    assert [d.by for d in job_out(find).traces[0].doubts] == ["wren"]
    assert share(doubt(bench, "found burnt resistor at the driver", False).json(), "driver") == share(now, "driver")
    assert doubt(client, "none").status_code == 401
    lines["elsewhere"] = str(uuid.uuid4())
    assert "not on the slip" in doubt(bench, "elsewhere").json()["detail"]


def test_each_look_is_a_line_that_is_kept_once_and_can_be_doubted(bench, find):
    trace, line = begin(bench, find).json(), str(uuid.uuid4())
    now = look(bench, trace, "tx_rail_v", "0.3V", line).json()
    again = look(bench, trace, "tx_rail_v", "0.3V", line)
    assert again.status_code == 201 and Look.objects.count() == 1
    assert Line.objects.get(pk=line).text == "Transmit rail while keyed: dead, 0.3V"
    assert share(now, "tx_rail") > 2 * share(trace, "tx_rail") and "switched transmit rail" in now["evidence"][0]["did"]
    bench.post(f"/api/lines/{line}/withdraw", {"reason": "doubted"}, content_type=JSON)
    (doubted,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    assert doubted["evidence"] == [] and share(doubted, "tx_rail") == pytest.approx(share(trace, "tx_rail"))
    body = {"id": str(uuid.uuid4()), "probe": "tx_rail_v", "seen": "unknown", "remark": "hunts between 2 and 8 V"}
    (other,) = bench.post(f"/api/traces/{trace['id']}/looks", body, content_type=JSON).json()["evidence"]
    assert (
        other["words"] == "Transmit rail while keyed: hunts between 2 and 8 V" == Line.objects.get(pk=body["id"]).text
    )
    assert other["did"] == "moves little"
    for seen, sentence in (("3W", "is read in V"), ("maybe", "does not answer"), ("", "what was seen?")):
        refused = look(bench, trace, "tx_rail_v", seen)
        assert refused.status_code in {400, 422} and sentence in refused.json()["detail"], refused.content
    assert look(bench, trace, "tx_rail", "good").status_code in {400, 404, 422}
    assert begin(bench, find, chain="nope").json()["detail"] == "no chain is called 'nope'"


def test_a_repair_makes_stale_what_the_unit_did_and_leaves_what_was_seen_of_parts(bench, find):
    trace = begin(bench, find).json()
    look(bench, trace, "output", "dead")
    look(bench, trace, "current_tx", "high")
    look(bench, trace, "final_ohms", "short")
    look(bench, trace, "final_out", "bad")
    look(bench, trace, "driver_out", "good")
    before = look(bench, trace, "driver_rf", "good").json()
    assert before["settled"] == "final" and before["guilty"][0]["fault"] == "final_short"
    assert (
        "aerial and lead under SWR 2 before power" in before["guilty"][0]["clear"]
        and "fuse blown" in before["guilty"][0]["takes"]
    )
    take(bench, find, "did Q9 final -> same type, final, bad, 4.00, 25 min")
    (after,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    assert [e["stale"] for e in after["evidence"]] == [
        "a repair came after it",
        "a repair came after it",
        "it was put right",
        "it was put right",
        "",
        "a repair came after it",
    ]
    assert after["again"] == ["output", "current_tx", "driver_rf"]
    # the symptom stays: the second fault is found with what is seen anew
    look(bench, trace, "final_ohms", "good")
    second = look(bench, trace, "driver_rf", "dead").json()
    assert second["again"] == ["output", "current_tx"]
    assert second["contradictions"] == [] and share(second, "final") < 0.04 < share(second, "buffer")


def test_a_reading_that_a_repair_made_stale_is_shown_as_such_and_asked_for_again(bench, find):
    begin(bench, find)
    take(bench, find, "none", row="power-am-19", conditions={"mode": "am", "channel": 19})
    take(bench, find, "did Q9 final -> same type, bad")
    (now,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    (old,) = now["evidence"]
    assert (old["probe"], old["stale"], old["did"]) == ("output", "repair after it: Q9 final", "")
    assert now["again"] == ["output"]
    take(bench, find, "3.8", row="power-am-19", conditions={"mode": "am", "channel": 19})
    (now,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    assert [e["stale"] for e in now["evidence"]] == [""] and now["again"] == []


def test_one_trace_a_symptom_and_closed_ones_teach_the_next(bench, find):
    first, other = begin(bench, find).json(), begin(bench, find, symptom="muffled").json()
    assert [t["next"][0]["probe"] for t in (first, other)] == ["output", "speech"]  # each symptom is confirmed first
    assert first["next"][0]["why"].startswith("The symptom first")
    assert "output" not in [p["probe"] for p in [*first["next"][1:], *first["others"]]]
    assert [t["symptom"] for t in bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]] == ["no output", "muffled"]
    untaught = share(other, "selector")
    seen = look(bench, other, "final_out", "good").json()["evidence"][0]
    (shared,) = next(t for t in bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"] if t["id"] == first["id"])[
        "evidence"
    ]
    assert (shared["line"], shared["probe"], shared["from_slip"]) == (seen["line"], "final_out", True)
    bench.post(f"/api/lines/{seen['line']}/withdraw", {"reason": "doubted"}, content_type=JSON)
    closed = bench.patch(
        f"/api/traces/{first['id']}", {"proven": "selector_contact", "closed": True}, content_type=JSON
    )
    assert closed.json()["proven"] == "selector_contact" and closed.json()["closed_at"]
    assert look(bench, first, "output", "good").status_code == 409
    taught = next(t for t in bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"] if t["symptom"] == "muffled")
    assert untaught < share(taught, "selector") < untaught + 0.1
    bench.patch(f"/api/traces/{first['id']}", {"closed": False}, content_type=JSON)
    assert Trace.objects.get(pk=first["id"]).proven == ""
    assert (
        bench.patch(f"/api/traces/{first['id']}", {"strategy": "walk-back"}, content_type=JSON).json()["next"][0][
            "probe"
        ]
        == "output"
    )
    assert bench.patch(f"/api/traces/{first['id']}", {"strategy": "guess"}, content_type=JSON).status_code == 400
    assert bench.patch(f"/api/traces/{first['id']}", {"proven": "gremlin"}, content_type=JSON).status_code == 400


def test_a_live_measurement_at_a_lethal_point_wants_its_hazard_confirmed(bench, find):
    trace = begin(bench, find, chain="valve-linear").json()
    assert {p["probe"] for p in trace["others"] if p["confirm"]} >= {"ht_v", "heater_v"}
    assert not any(p["confirm"] for p in trace["next"])
    refused = look(bench, trace, "ht_v", "good")
    assert refused.status_code == 400 and "Confirm the hazard first: Lethal: rated probe" in refused.json()["detail"]
    assert look(bench, trace, "ht_v", "unknown").status_code == 201  # nothing was touched
    body = {"id": str(uuid.uuid4()), "probe": "ht_v", "seen": "good", "hazard_known": True}
    assert bench.post(f"/api/traces/{trace['id']}/looks", body, content_type=JSON).status_code == 201
    assert Line.objects.get(pk=body["id"]).text.endswith("good (live, hazard confirmed)")


def test_a_models_weak_points_and_its_own_closed_jobs_move_the_suspicion(bench, find):
    trace = begin(bench, find).json()
    assert any("L14 opens at its rear leg" in words and "Proven" in words for words in trace["known"])
    other = begin(bench, find, chain="cb-fm-mobile").json()
    assert other["known"] == []  # it is not that model's chain
    plain = engine_of("cb-am-mobile")
    assert share(trace, "driver") > 1.3 * plain.by_stage(plain.prior)["driver"]
    assert next(p for p in [*trace["next"], *trace["others"]] if p["probe"] == "reg_v")["where"].startswith("IC3 pin 3")
    bench.patch(f"/api/traces/{trace['id']}", {"proven": "af_chip", "closed": True}, content_type=JSON)
    same, elsewhere = (
        begin(bench, find).json(),
        Job.objects.create(number=9001, title="another make", created_by=find.created_by),
    )
    foreign = begin(bench, elsewhere).json()
    assert share(same, "af_amp") > share(trace, "af_amp")  # it counts for the chain and for the model
    counted = Engine(refined(shipped_chain("cb-am-mobile"), models()["tarnbeck-m27"]), {"af_chip": 2})
    assert share(same, "af_amp") == pytest.approx(counted.by_stage(counted.prior)["af_amp"])
    once = Engine(shipped_chain("cb-am-mobile"), {"af_chip": 1})
    assert share(foreign, "af_amp") == pytest.approx(once.by_stage(once.prior)["af_amp"])


def test_what_is_cleared_before_power_becomes_lines_of_fix_to_tick_off_once(bench, find):
    trace = begin(bench, find).json()
    fault = shipped_chain("cb-am-mobile").by_fault["final_short"]
    for _ in range(2):
        answer = bench.patch(f"/api/traces/{trace['id']}", {"proven": fault.id, "closed": True}, content_type=JSON)
        assert answer.status_code == 200
    slip = bench.get(f"/api/jobs/{find.pk}").json()
    lines = [line for line in slip["lines"] if line["kind"] == "clear"]
    assert [x["story"]["words"] for x in lines][: len(fault.clear)] == list(fault.clear) and fault.clear
    assert len(lines) == len(fault.clear) + len(fault.killed_by) + len(fault.takes)
    assert all(x["part"] == "fix" and not x["settled"] for x in lines)
    bench.post(f"/api/lines/{lines[0]['id']}/settle", {"settled": True}, content_type=JSON)
    assert bench.get(f"/api/jobs/{find.pk}").json()["lines"][-len(lines)]["settled"]


def test_the_worth_it_line_says_stop_over_the_owners_ceiling(bench, find):
    trace = begin(bench, find).json()
    assert not trace["worth"]["stop"] and "min of looking to go" in trace["worth"]["words"]
    bench.patch(f"/api/jobs/{find.pk}", {"ceiling": 3}, content_type=JSON)
    take(bench, find, "did Q9 -> same, bad, 2.90, 15 min")
    (now,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    assert now["worth"]["stop"] and "over the owner's ceiling of 3. Stop, and ask." in now["worth"]["words"]


def test_a_unit_without_documents_is_drawn_traced_corrected_and_travels(bench, find):
    text = bench.post(
        "/api/drawn-chain", {"title": "Shed set", "stages": "rail Supply\nOscillator\nFinal 4 W"}, content_type=JSON
    ).json()["text"]
    kept = bench.put("/api/chains/own-shed-set", {"text": text}, content_type=JSON)
    assert kept.status_code == 200 and kept.json()["ours"] and not kept.json()["shipped"]
    trace = begin(bench, find, chain="own-shed-set").json()
    before = share(look(bench, trace, "output", "dead").json(), "final")
    heavier = text.replace('name = "final: dead", weight = 2', 'name = "final: dead", weight = 40')
    assert heavier != text
    bench.put("/api/chains/own-shed-set", {"text": heavier}, content_type=JSON)
    (now,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    assert share(now, "final") > before + 0.2
    refused = bench.post("/api/chains/own-shed-set/withdraw")
    assert refused.status_code == 400 and "A trace goes along that chain" in refused.json()["detail"]
    told = job_out(find).model_dump()
    assert told["chains"] == {"own-shed-set": heavier} and told["traces"][0]["chain"] == "own-shed-set"


def test_a_shipped_chain_is_corrected_as_a_copy_and_comes_back(bench, find):
    shipped = bench.get("/api/chains/cb-am-mobile").json()
    assert shipped["shipped"] and not shipped["ours"]
    own = shipped["text"].replace('title = "27 MHz AM mobile"', 'title = "27 MHz AM mobile, as we know it"')
    assert own != shipped["text"]
    bench.put("/api/chains/cb-am-mobile", {"text": own}, content_type=JSON)
    row = next(c for c in bench.get("/api/chains").json() if c["id"] == "cb-am-mobile")
    assert row == {
        "id": "cb-am-mobile",
        "title": "27 MHz AM mobile, as we know it",
        "about": row["about"],
        "ours": True,
        "not_understood": "",
        "learnt": 0,
    }
    assert begin(bench, find).json()["title"] == "27 MHz AM mobile, as we know it"
    broken = bench.put("/api/chains/cb-am-mobile", {"text": own + "\nstages = 3\n"}, content_type=JSON)
    assert broken.status_code == 400 and "line" in broken.json()["detail"]
    assert bench.put("/api/chains/No Name", {"text": own}, content_type=JSON).status_code == 400
    assert bench.post("/api/chains/cb-am-mobile/withdraw").json()["ours"] is False


def test_a_closed_trace_is_practised_look_by_look_and_its_answer_stays_hidden(bench, find):
    trace = begin(bench, find, chain="cb-fm-mobile").json()
    for probe, seen in (("output", "weak"), ("buffer_rf", "good"), ("driver_rf", "weak")):
        look(bench, trace, probe, seen)
    assert bench.get("/api/practice").json() == [] and bench.get(f"/api/practice/{trace['id']}").status_code == 404
    bench.patch(f"/api/traces/{trace['id']}", {"proven": "driver_weak", "closed": True}, content_type=JSON)
    (listed,) = bench.get("/api/practice").json()
    assert (listed["trace"], listed["looks"], listed["symptom"]) == (trace["id"], 3, "no output")

    def after(n):
        return bench.get(f"/api/practice/{trace['id']}", {"seen": n}).json()

    first = after(0)
    assert first["seen"] == [] and first["asked"]["probe"] == "output" and first["cause"] is None
    assert {first["asked"]["probe"], first["advised"]["probe"]} <= {c["probe"] for c in first["choices"]}
    third = after(2)
    assert [s["answer"] for s in third["seen"]] == ["weak", "good"] and third["asked"]["probe"] == "driver_rf"
    assert not {"output", "buffer_rf"} & {c["probe"] for c in third["choices"]}
    over = after(9)
    assert over["asked"] is None and over["advised"] is None and over["cause"] == "driver transistor weak"
    assert share(over, "driver") > share(third, "driver") > share(first, "driver")


def test_what_closed_jobs_taught_is_seen_and_forgotten_on_demand(bench, find):
    def final_weak():
        now = begin(bench, find, symptom="weak").json()
        return share(now, "final")

    plain = final_weak()
    for _ in range(6):
        closed = begin(bench, find).json()
        bench.patch(f"/api/traces/{closed['id']}", {"proven": "final_weak", "closed": True}, content_type=JSON)
    assert final_weak() > plain + 0.02
    rows = {c["id"]: c["learnt"] for c in bench.get("/api/chains").json()}
    assert rows["cb-am-mobile"] == 6 and rows["valve-linear"] == 0
    rows = {c["id"]: c["learnt"] for c in bench.post("/api/chains/cb-am-mobile/forget").json()}
    assert rows["cb-am-mobile"] == 0 and final_weak() == pytest.approx(plain)


def test_an_own_chain_that_is_not_understood_any_more_gives_way_to_the_shipped_one(bench, find, wren):
    trace = begin(bench, find).json()
    OwnText.objects.create(kind="chains", name="cb-am-mobile", number=1, text="title = 'half", by=wren)
    OwnText.objects.create(kind="chains", name="old-set", number=1, text="stages = 3", by=wren)
    (now,) = bench.get(f"/api/jobs/{find.pk}/traces").json()["traces"]
    assert now["stages"] == trace["stages"]
    rows = {c["id"]: c["not_understood"] for c in bench.get("/api/chains").json()}
    assert "line 1" in rows["cb-am-mobile"] and rows["old-set"] and rows["valve-linear"] == ""
    assert begin(bench, find, chain="old-set").status_code in {400, 422}


def picture_line(client, job, words):
    sent = {"file": io.BytesIO(picture_bytes()), "id": str(uuid.uuid4()), "words": words}
    return client.post(f"/api/jobs/{job.pk}/pictures", sent) and sent["id"]


def test_a_board_is_pinned_once_a_probe_and_the_next_unit_of_its_model_finds_it(bench, find, wren):
    line = picture_line(bench, find, "Driver and final")
    place = f"/api/jobs/{find.pk}/boards/{line}"
    assert bench.put(place, {"side": "upside"}, content_type=JSON).status_code == 422
    (board,) = bench.put(place, {"side": "component"}, content_type=JSON).json()
    assert (board["words"], board["side"], board["pins"], board["ours"]) == ("Driver and final", "component", [], True)
    pin, other = f"{place}/pins/{uuid.uuid4()}", f"{place}/pins/{uuid.uuid4()}"
    at = {"name": "base of Q9", "probe": "driver_rf", "x": 0.25, "y": 0.5}
    bench.put(pin, at, content_type=JSON)
    (moved,) = bench.put(pin, at | {"x": 0.75, "name": "Q9 base"}, content_type=JSON).json()
    assert [(p["name"], p["x"], p["probe"]) for p in moved["pins"]] == [("Q9 base", 0.75, "driver_rf")]
    (again,) = bench.put(other, at, content_type=JSON).json()
    assert [p["id"] for p in again["pins"]] == [other[-36:]]  # a probe has one place on a board
    for wrong in ({"x": 1.2}, {"y": -0.1}, {"probe": "Driver RF"}, {"name": " "}):
        assert bench.put(pin, at | wrong, content_type=JSON).status_code in {400, 422}
    wish = bench.put(f"/api/jobs/{find.pk}/boards/{Line.objects.first().pk}", {"side": "solder"}, content_type=JSON)
    assert wish.status_code == 400 and wish.json()["detail"] == "That line of the slip is no picture."
    second = bench.post(
        "/api/jobs", {"id": str(uuid.uuid4()), "words": "Tarnbeck M27, marshal 9: dead"}, content_type=JSON
    ).json()
    (known,) = bench.get(f"/api/jobs/{second['id']}/boards").json()
    assert known["line"] == line and not known["ours"] and known["pins"][0]["name"] == "base of Q9"
    refused = bench.delete(f"/api/jobs/{second['id']}/boards/{line}")
    assert refused.status_code == 400 and "another job" in refused.json()["detail"]
    stranger = bench.post(
        "/api/jobs", {"id": str(uuid.uuid4()), "words": "Hollin Linear 400"}, content_type=JSON
    ).json()
    assert bench.get(f"/api/jobs/{stranger['id']}/boards").json() == []
    assert bench.delete(other).json()[0]["pins"] == [] and bench.delete(place).json() == []
    assert Line.objects.get(pk=line).withdrawn_at is None
