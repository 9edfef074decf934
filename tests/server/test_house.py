"""The house: layers load nothing they should not, snapshots are fresh, the demo is the same each time."""

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from django.core.management import call_command

pytestmark = pytest.mark.long

ROOT = Path(__file__).resolve().parents[2]


def test_core_loads_no_web_and_no_heavy_library():
    code = (
        "import sys, young_spark.core.entry, young_spark.core.job; print([m for m in ('django', "
        "'ninja', 'numpy', 'scipy', 'PIL') if m in sys.modules])"
    )
    assert (
        subprocess.run(
            [sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True
        ).stdout.strip()
        == "[]"
    )


def test_every_change_of_a_model_has_its_migration(db):
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


def test_the_openapi_snapshot_and_the_generated_types_are_fresh(tmp_path):
    made = subprocess.run(
        [sys.executable, "-m", "young_spark.cli", "openapi"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout
    assert json.loads(made) == json.loads((ROOT / "openapi.json").read_text()), "run './spark openapi > openapi.json'"
    tool = ROOT / "web" / "node_modules" / ".bin" / "openapi-typescript"
    fresh = tmp_path / "schema.ts"
    subprocess.run([tool, ROOT / "openapi.json", "-o", fresh], check=True, capture_output=True)
    assert fresh.read_text() == (ROOT / "web/src/api/schema.generated.ts").read_text(), "run 'npm run types' in web"


@pytest.mark.django_db
def test_the_demo_workshop_has_jobs_in_every_state():
    from young_spark.server.demo.workshop import make_workshop
    from young_spark.server.handback.report import report
    from young_spark.server.jobs.models import Job
    from young_spark.server.library.models import ShopInstrument
    from young_spark.server.readings.models import Reading
    from young_spark.server.slip.assemble import slip

    make_workshop()
    jobs = {job.number: slip(job) for job in Job.objects.all()}
    assert len(jobs) >= 14 and ShopInstrument.objects.count() == 15
    assert any(s.handed_back_at and report(Job.objects.get(pk=s.id)).compared for s in jobs.values())
    assert any("ordered" in s.waiting_for for s in jobs.values()) and any(
        s.earlier and s.earlier.watch for s in jobs.values()
    )
    assert any(len(s.retest) > 1 for s in jobs.values()) and any(s.locked_because for s in jobs.values())
    assert any("surprise" in line.text for s in jobs.values() for line in s.lines)
    assert all(r.value is None or abs(r.value) < 1e9 for r in Reading.objects.all())


def test_a_data_folder_that_cannot_be_written_is_one_sentence(tmp_path):
    blocked = tmp_path / "file"
    blocked.write_text("")
    run = subprocess.run(
        [sys.executable, "-m", "young_spark.cli", "serve", "--data", str(blocked / "data")],
        cwd=ROOT,
        capture_output=True,
        text=True,
        env={**os.environ},
    )
    assert run.returncode == 2 and run.stderr.count("\n") == 1 and "cannot be written" in run.stderr
