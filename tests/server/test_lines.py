"""Taking lines: ids, verdicts worked out here, superseding, undo, what goes stale, two items, loose lines."""

import json
import uuid

import pytest

from tests.server.conftest import take
from young_spark.server.jobs.models import Job, Line
from young_spark.server.readings.models import Reading

JSON = "application/json"


def slip(client, job):
    return client.get(f"/api/jobs/{job.pk}").json()


def to(client, job, part):
    return client.patch(f"/api/jobs/{job.pk}", {"part": part}, content_type=JSON).json()


def take_open(client, job, text):
    """Take a text on the slip's first open line, under its conditions, as the web does."""
    line = slip(client, job)["open_lines"][0]
    answer = take(client, job, text, row=line["row"], conditions=line["conditions"])
    assert answer.status_code == 201, answer.content
    return answer.json()


def test_the_same_id_gives_the_same_line_and_other_inputs_a_conflict(bench, job):
    sent = {"id": str(uuid.uuid4()), "text": "3.8w", "job": str(job.pk), "conditions": {"mode": "am", "channel": 19}}
    answers = [bench.post("/api/lines", sent, content_type=JSON) for _ in range(3)]
    assert {a.status_code for a in answers} == {201} and answers[0].json() == answers[2].json()
    assert bench.post("/api/lines", sent | {"text": "3.9w"}, content_type=JSON).status_code == 409
    assert Line.objects.filter(kind="reading").count() == 1 and Reading.objects.count() == 1


def test_figures_and_verdicts_are_worked_out_here_and_never_taken_from_outside(bench, job):
    body = {"verdicts": [{"verdict": "pass"}], "value": 3.8, "readings": [{"value": 3.8}]}
    line = take(bench, job, "2.6w", conditions={"mode": "am", "element_w": 5.0}, **body).json()
    first = line["readings"][0]
    assert (first["measured"]["value"], first["verdict"], first["verdict_words"]) == (2.6, "fail", "Outside")
    assert take(bench, job, "2.6w", conditions={"nonsense": 1}).status_code == 422


def test_an_unclear_text_is_kept_out_with_its_question_until_a_sense_is_chosen(bench, job):
    refused = take(bench, job, "2.1k")
    assert refused.status_code == 422 and "frequency error" in refused.json()["detail"]
    assert take(bench, job, "2.1k", sense=0).json()["readings"][0]["quantity"] == "fm_deviation"


def test_a_reading_answers_its_open_line_and_the_next_one_stands_ready(bench, job):
    assert slip(bench, job)["open_lines"][0]["row"] == "current-standby"
    first = take_open(bench, job, "120ma")["readings"][0]
    assert (first["plan_row"], first["verdict"]) == ("current-standby", "pass")
    assert slip(bench, job)["open_lines"][0]["row"] == "current-receive"


def test_the_own_meter_answers_no_open_line(bench, job):
    to(bench, job, "find")
    take(bench, job, "own 4w", row="power-am-19", conditions={"mode": "am", "channel": 19})
    assert slip(bench, job)["open_lines"][0]["row"] == "power-am-19"


def test_the_current_of_the_first_key_stays_asked_for_while_the_fault_is_looked_for(bench, job):
    to(bench, job, "find")
    rows = [line["row"] for line in slip(bench, job)["open_lines"]]
    assert rows[-1] == "current-transmit" and not {"current-standby", "current-receive"} & set(rows)
    take(bench, job, "tx 1.1a")
    assert "current-transmit" not in [line["row"] for line in slip(bench, job)["open_lines"]]


def test_superseding_keeps_the_old_line_struck_through_and_only_once(bench, job):
    old = take(bench, job, "3.8w").json()
    new = take(bench, job, "38w", supersedes=old["id"], reason="zero forgotten")
    lines = {line["id"]: line for line in slip(bench, job)["lines"]}
    assert lines[old["id"]]["withdrawn"] == "zero forgotten" and lines[old["id"]]["superseded"]
    assert lines[new.json()["id"]]["withdrawn"] is None
    assert take(bench, job, "39w", supersedes=old["id"]).status_code == 409
    assert bench.post(f"/api/lines/{old['id']}/reinstate").status_code == 409


def test_undo_and_redo(bench, job):
    line = take_open(bench, job, "120ma")
    taken = bench.post(f"/api/lines/{line['id']}/withdraw", {}, content_type=JSON).json()
    assert taken["withdrawn"] == "retaken" and slip(bench, job)["open_lines"][0]["row"] == "current-standby"
    bench.post(f"/api/lines/{line['id']}/reinstate")
    assert slip(bench, job)["open_lines"][0]["row"] == "current-receive"


def test_nothing_of_a_line_can_be_edited_or_deleted_by_any_address(bench, job):
    line = take(bench, job, "3.8w").json()
    for method in ("put", "patch", "delete"):
        assert getattr(bench, method)(f"/api/lines/{line['id']}", {}, content_type=JSON).status_code in (404, 405)


def test_a_repair_makes_proof_stale_and_the_shelf_says_what_to_do(bench, job):
    to(bench, job, "prove")
    take_open(bench, job, "tx 1.1a")
    power = take_open(bench, job, "3.8w el 5")
    take(bench, job, "did R12 -> 47 ohm, driver, bad")
    after = slip(bench, job)
    line = next(x for x in after["lines"] if x["id"] == power["id"])
    assert line["readings"][0]["stale"].startswith("repair after it: R12")
    assert len(after["retest"]) == 2 and after["next_step"].startswith("Prove it: measure 2 again")
    take_open(bench, job, "tx 1.1a")
    take_open(bench, job, "3.8w el 5")
    assert slip(bench, job)["retest"] == []


def test_a_dead_unit_asks_for_its_fuse_and_a_lock_stands_on_the_shelf(bench, job):
    take_open(bench, job, "none")
    take(bench, job, "rx none")
    asks = [o["ask"] for o in slip(bench, job)["open_lines"]]
    assert asks[:3] == [
        "Fuse, supply side",
        "Fuse, unit side",
        "Ohms across the supply input, unplugged, BEFORE a new fuse goes in",
    ]
    take(bench, job, "lock lead bare at the gland")
    assert bench.get("/api/shelf").json()["on_the_bench"][0]["next_step"] == "Not safe to power: lead bare at the gland"
    assert [o["ask"] for o in slip(bench, job)["open_lines"]] == asks[2:3], "nothing is asked for under power"
    take(bench, job, "unlock lead replaced")
    assert slip(bench, job)["locked_because"] == ""


def test_waiting_and_arriving_move_the_job_along_the_shelf(bench, job):
    take(bench, job, "wait Q12, due Friday")
    assert bench.get("/api/shelf").json()["waiting"][0]["waiting_for"] == "Q12, due Friday"
    take(bench, job, "arrived Q12")
    assert bench.get("/api/shelf").json()["waiting"] == []


def test_turning_before_the_fault_is_found_is_warned_of_and_logged(bench, job):
    asked = {"text": "turned VR3 2.6k -> 1.9k", "job": str(job.pk)}
    assert "put it back" in bench.post("/api/understand", asked, content_type=JSON).json()["warning"]
    take(bench, job, "stage Driver weak little at its output")
    assert bench.post("/api/understand", asked, content_type=JSON).json()["warning"] is None


def test_loose_lines_are_judged_as_asked_and_pinned_later(bench, job):
    loose = take(bench, None, "3.8w el 5", model="any-27-am-fm", conditions={"mode": "am", "channel": 19}).json()
    assert loose["readings"][0]["verdict"] == "pass_close"
    assert [line["id"] for line in bench.get("/api/lines/loose").json()] == [loose["id"]]
    pinned = bench.post(f"/api/jobs/{job.pk}/pin", {"lines": [loose["id"]]}, content_type=JSON).json()
    assert loose["id"] in [line["id"] for line in pinned["lines"]] and bench.get("/api/lines/loose").json() == []
    assert bench.post(f"/api/jobs/{job.pk}/pin", {"lines": [loose["id"]]}, content_type=JSON).status_code == 409


def test_each_item_has_its_own_slip(bench, job):
    item = str(uuid.uuid4())
    bench.post(f"/api/jobs/{job.pk}/items", {"id": item, "name": "microphone"}, content_type=JSON)
    take(bench, job, "found lead broken at the plug", item=item)
    on_item = bench.get(f"/api/jobs/{job.pk}?item={item}").json()
    assert [line["text"] for line in on_item["lines"]] == ["found lead broken at the plug"]
    assert "found lead broken at the plug" not in json.dumps(slip(bench, job)["lines"])
    other = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Other"}, content_type=JSON).json()
    assert take(bench, Job.objects.get(pk=other["id"]), "note x", item=item).status_code == 400


def test_a_unit_that_returns_shows_its_watch_note_and_what_changed(bench, job):
    def visit(words):
        made = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": words}, content_type=JSON).json()
        bench.patch(f"/api/items/{made['items'][0]['id']}", {"serial": "TB-77"}, content_type=JSON)
        return Job.objects.get(pk=made["id"])

    first = visit("Tarnbeck M27, marshal 5: weak")
    to(bench, first, "prove")
    take_open(bench, first, "tx 1.1a")
    take_open(bench, first, "3.8w el 5")
    take(bench, first, "watch flex L14 first")
    bench.post(f"/api/jobs/{first.pk}/hand-back", {"back": True}, content_type=JSON)
    assert take(bench, first, "note late").status_code == 409
    second = visit("Tarnbeck M27, marshal 5: weak again")
    to(bench, second, "find")
    take(bench, second, "1.2w", row="power-am-19", conditions={"mode": "am", "channel": 19})
    earlier = slip(bench, second)["earlier"]
    assert earlier["watch"] == ["flex L14 first"]
    assert earlier["since"] == ["Carrier power, AM · channel 19 · 13.2 V: left at 3.80 W ± 0.24, now 1.20 W ± 0.12"]


def test_the_shop_learns_what_healthy_ones_give(bench, job):
    for n, watts in enumerate((3.6, 3.7, 3.8)):
        made = bench.post(
            "/api/jobs", {"id": str(uuid.uuid4()), "words": f"Tarnbeck M27, set {n}"}, content_type=JSON
        ).json()
        other = Job.objects.get(pk=made["id"])
        to(bench, other, "prove")
        take_open(bench, other, "tx 1.1a")
        take_open(bench, other, f"{watts}w")
    to(bench, job, "find")
    assert slip(bench, job)["open_lines"][0]["ghost"] == {
        "median": 3.7,
        "half_spread": None,
        "units": 3,
        "words": "this shop: 3.7 W (3 units)",
    }


@pytest.mark.parametrize("words", ["TB-27", "marshal 8", "tarnbeck output", "crystal"])
def test_search_finds_serial_owner_model_and_the_words_of_the_slip(bench, job, words):
    bench.patch(f"/api/items/{job.items.get().pk}", {"serial": "TB-27-8"}, content_type=JSON)
    take(bench, job, "found crystal X2 cracked")
    assert [j["number"] for j in bench.get("/api/shelf", {"find": words}).json()["on_the_bench"]] == [job.number]
    assert bench.get("/api/shelf", {"find": words + " zebra"}).json()["total"] == 0


def test_a_search_counts_what_it_does_not_show(bench, job):
    for n in range(32):
        bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": f"Fellgate 40F, dairy x{n}: hum"}, content_type=JSON)
    many, few = (bench.get("/api/shelf", {"find": words}).json() for words in ("dairy", "dairy x3"))
    assert (len(many["on_the_bench"]), many["total"]) == (30, 32)
    assert {row["owner"] for row in few["on_the_bench"]} == {"dairy x3", "dairy x30", "dairy x31"} and few["total"] == 3


def test_only_what_is_sent_of_a_job_changes_and_nonsense_is_refused(bench, job):
    changed = bench.patch(f"/api/jobs/{job.pk}", {"ceiling": 40}, content_type=JSON).json()
    assert (changed["ceiling"], changed["owner"]) == (40, "marshal 8")
    assert bench.patch(f"/api/jobs/{job.pk}", {"part": "later"}, content_type=JSON).status_code == 400
    assert bench.patch(f"/api/jobs/{job.pk}", {"owner": None}, content_type=JSON).status_code == 400
    assert bench.patch(f"/api/items/{job.items.get().pk}", {"model": "no-such"}, content_type=JSON).status_code == 400


def test_figures_of_one_breath_stand_at_their_points_and_answer_their_lines(bench, job):
    bench.patch(f"/api/jobs/{job.pk}", {"part": "find"}, content_type="application/json")
    line = take(bench, job, "ch1 3.5w ch40 3.2w", row="power-am-19").json()
    assert [r["where"] for r in line["readings"]] == ["AM · channel 1", "AM · channel 40"]
    assert [r["plan_row"] for r in line["readings"]] == ["power-am-1", "power-am-40"]
    beside = take(bench, job, "3.8w 1.25a", row="power-am-19").json()
    assert [(r["quantity"], r["plan_row"]) for r in beside["readings"]] == [
        ("carrier_power", "power-am-19"),
        ("supply_current", "current-transmit"),
    ]


def test_no_text_is_refused_it_is_asked_about_and_then_kept_as_words(bench, job):
    sent = {"text": "3.8 2.1 xyzzy", "job": str(job.pk), "conditions": {}}
    asked = bench.post("/api/understand", sent, content_type="application/json").json()
    assert asked["question"] and asked["as_note"] == {**asked["as_note"], "kind": "note", "words": "3.8 2.1 xyzzy"}
    assert take(bench, job, sent["text"]).status_code == 422
    kept = take(bench, job, sent["text"], as_note=True)
    assert kept.status_code == 201 and kept.json()["kind"] == "note" and kept.json()["readings"] == []


def test_words_alone_are_a_line_with_a_guess_of_its_kind(bench, job):
    for text, kind in (("smells burnt near the final", "found"), ("cleaned the relay contacts", "did"), ("hm", "note")):
        line = take(bench, job, text, as_note=True).json()
        assert (line["kind"], line["story"]["words"]) == (kind, text)


def test_what_is_no_part_of_a_figure_stays_with_it_as_a_remark(bench, job):
    line = take(bench, job, "3.6w pwr slowly rising").json()
    assert "remark: slowly rising" in line["readings"][0]["measured"]["remarks"]


def test_a_line_of_words_is_set_right_and_what_it_was_stays_known(bench, job):
    line = take(bench, job, "note R12 swapped by the owner").json()

    def right(**told):
        return bench.post(f"/api/lines/{line['id']}/set-right", told, content_type=JSON)

    found = right(kind="did").json()
    assert (found["kind"], found["story"]["was"], found["text"]) == ("did", ["note"], "note R12 swapped by the owner")
    assert right(area="cellar").status_code == 400 and right(area="driver").json()["story"]["area"] == "driver"
    figure = take(bench, job, "3.8w").json()
    refused = bench.post(f"/api/lines/{figure['id']}/set-right", {"kind": "note"}, content_type=JSON)
    assert refused.status_code == 400 and "replace it" in refused.json()["detail"]


def test_what_a_part_can_change_is_asked_once_for_a_model(bench, job):
    first = take(bench, job, "did R12 -> 47 ohm, bad").json()
    assert first["story"].get("area") is None
    bench.post(f"/api/lines/{first['id']}/set-right", {"area": "audio"}, content_type=JSON)
    made = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Tarnbeck M27, other: hum"}, content_type=JSON)
    other = Job.objects.get(pk=made.json()["id"])
    power = take(bench, other, "3.8w ch19").json()
    again = take(bench, other, "did R12 -> 47 ohm, bad").json()
    assert again["story"]["area"] == "audio"
    assert power["readings"][0]["plan_row"] not in [o["row"] for o in slip(bench, other)["open_lines"]]
    elsewhere = bench.post("/api/jobs", {"id": str(uuid.uuid4()), "words": "Fellgate 40F, x"}, content_type=JSON).json()
    line = take(bench, Job.objects.get(pk=elsewhere["id"]), "did R12 -> 47 ohm, bad").json()
    assert line["story"].get("area") is None, "of another model nobody said it"


def test_two_locks_and_two_waits_end_one_by_one(bench, job):
    for text in ("lock mains lead bare", "lock bleeder open", "wait Q12 ordered", "wait meter glass"):
        take(bench, job, text)
    assert slip(bench, job)["locked_because"] == "mains lead bare; bleeder open"
    assert slip(bench, job)["waiting_for"] == "Q12 ordered; meter glass"
    take(bench, job, "unlock lead replaced")
    take(bench, job, "arrived Q12")
    assert (slip(bench, job)["locked_because"], slip(bench, job)["waiting_for"]) == ("bleeder open", "meter glass")
    lock = next(line for line in slip(bench, job)["lines"] if line["text"] == "lock bleeder open")
    bench.post(f"/api/lines/{lock['id']}/settle", {"settled": True}, content_type=JSON)
    assert slip(bench, job)["locked_because"] == ""


def test_a_line_of_the_plan_is_struck_off_in_words_and_put_back(bench, job):
    to(bench, job, "find")
    assert take(bench, job, "not asked for", row="frequency-19").json()["kind"] == "struck"
    line = take(bench, job, "fm not fitted").json()
    rows = {o["row"] for o in slip(bench, job)["open_lines"]}
    assert not rows & {"frequency-19", "deviation-fm-19"} and "power-am-19" in rows
    told = bench.get(f"/api/jobs/{job.pk}/report").json()["sections"]
    missing = [s["text"] for section in told if section["id"] == "not_measured" for s in section["sentences"]]
    assert {"Frequency error: not asked for.", "FM: not fitted."} <= set(missing)
    bench.post(f"/api/lines/{line['id']}/withdraw", {}, content_type=JSON)
    assert "deviation-fm-19" in {o["row"] for o in slip(bench, job)["open_lines"]}
