"""Records handed to a slip: recognised, drawn, judged, taken onto it with a key, and in the report."""

import re
import wave

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import beside, check_in, field, figures
from tests.core import records

TURN = records.TURN


@pytest.fixture(scope="module")
def saved(tmp_path_factory):
    """One file of each kind, as instruments would save them; name → files, a figure that is in it."""
    folder = tmp_path_factory.mktemp("records")
    rng = np.random.default_rng(6)
    t, short = np.arange(4800) / 48_000, np.arange(4000) / 250e6
    f = np.linspace(25e6, 30e6, 201)
    audio = np.arange(100, 4000, 10.0)
    x, _ = records.fm(rng, seconds=0.3)
    recording = records.write_sigmf(folder / "channel 19", x, rate=48_000, centre=27.185e6)
    made = {
        "envelope": (
            "Modulation depth",
            records.write_csv(folder / "depth.csv", "time_s,volts", t, 2 * (1 + 0.9 * np.sin(TURN * 1000 * t))),
        ),
        "scope": (
            "Carrier power",
            records.write_csv(
                folder / "rf.csv", "time_s,volts", short, 19.5 * np.cos(TURN * 27.185e6 * short), digits=12
            ),
        ),
        "spectrum": (
            "2nd harmonic",
            records.write_csv(
                folder / "lines.csv",
                "frequency_hz,level_dbm",
                *records.spectrum(rng, [(27.185e6, -4.0), (54.37e6, -70.0)], stop=120e6),
            ),
        ),
        "fade": (
            "Power fade",
            records.write_csv(
                folder / "fade.csv", "time_s,power_w", np.arange(0, 30, 0.1), 3 + np.exp(-np.arange(0, 30, 0.1) / 8)
            ),
        ),
        "response": (
            "Passband ripple",
            records.write_csv(
                folder / "filter.csv",
                "frequency_hz,level_db",
                audio,
                np.maximum(-3.01 * ((audio - 1500) / 1200) ** 8, -80),
            ),
        ),
        "reflection": ("SWR", records.write_touchstone(folder / "aerial.s1p", f, records.aerial(f, henry=1.5e-6))),
        "transmission": ("Insertion loss", records.write_touchstone(folder / "part.s2p", f, 0.9 + 0j * f, two=True)),
        "audio": (
            "SINAD",
            write_wave(folder / "receiver.wav", 0.5 * np.sin(TURN * 1000 * t) + 0.004 * rng.standard_normal(len(t))),
        ),
        "baseband": ("Peak deviation", recording),
    }
    return {
        kind: (name, [file, file.with_suffix(".sigmf-data")] if kind == "baseband" else [file])
        for kind, (name, file) in made.items()
    }


def write_wave(path, values):
    with wave.open(str(path), "wb") as out:
        out.setparams((1, 2, 48_000, 0, "NONE", ""))
        out.writeframes((32_000 * values).astype("<i2").tobytes())
    return path


def hand_in(page, files):
    page.get_by_label("Picture or record").set_input_files(files)


def test_each_kind_is_recognised_drawn_and_taken(page, saved):
    check_in(page, "Tarnbeck M27, records: weak")
    page.get_by_role("button", name="Find").click()
    expect(page.locator(".now")).to_contain_text("Carrier power")
    shelf = page.get_by_role("region", name="Records")
    for kind, (name, files) in saved.items():
        hand_in(page, files)
        expect(shelf.locator(".chip[aria-pressed=true]", has_text=files[0].name)).to_be_visible()
        if kind == "baseband":
            shelf.get_by_text("What is told of this record").click()
            shelf.get_by_role("group", name="Mode").get_by_role("button", name="FM").click()
        expect(shelf.get_by_role("img", name=f"Plot of {files[0].name}")).to_be_visible()
        shelf.get_by_role("button", name=f"Take {name}", exact=True).press("Enter")
        expect(figures(page, name)).to_have_count(1)
        expect(shelf.locator("li", has_text=name).get_by_text("on the slip").first).to_be_visible()
    page.get_by_role("link", name="Hand back").click()
    expect(page.locator("article")).to_contain_text("90.0000 %")


def test_a_record_is_dropped_anywhere_and_what_is_none_is_refused_in_words(page, tmp_path):
    check_in(page, "Tarnbeck M27, dropped: weak")
    drop = """([name, text]) => {
      const data = new DataTransfer()
      data.items.add(new File([text], name))
      document.querySelector('.side').dispatchEvent(new DragEvent('drop',
        { dataTransfer: data, bubbles: true, cancelable: true }))
    }"""
    page.evaluate(drop, ["bad.csv", "time_s,volts\n0,1\nx,2\n"])
    expect(page.get_by_role("alert")).to_contain_text("bad.csv, line 3: time_s is 'x', not a number")
    rows = "\n".join(f"{n / 48000:.7f},{2 + np.sin(TURN * n / 48):.5f}" for n in range(960))
    page.evaluate(drop, ["good.csv", f"time_s,volts\n{rows}\n"])
    shelf = page.get_by_role("region", name="Records")
    expect(shelf.get_by_role("list", name="Figures of the record")).to_contain_text("Modulation depth")
    first = shelf.get_by_role("button", name="Take Depth, crest")
    first.press("Delete")
    expect(first).to_have_count(0)
    expect(shelf.get_by_role("button", name="Show the 1 left")).to_be_visible()


def test_what_is_heard_of_a_record_plays_and_the_word_file_opens_the_files(page, saved):
    opened = []
    page.on("filechooser", lambda chooser: opened.append(chooser))  # before the key: the browser is told to say so
    check_in(page, "Tarnbeck M27, heard: muffled")
    # on a loaded machine the browser showed no list, twice, and why is not known: a hand presses again
    for _ in range(3):
        field(page).fill("file")
        expect(page.get_by_role("status").filter(has_text="Enter opens the list of files")).to_be_visible()
        page.keyboard.press("Enter")
        expect(field(page)).to_have_value("")
        for _ in range(100):
            if not opened:
                page.wait_for_timeout(100)
        if opened:
            break
    opened[0].set_files(saved["audio"][1])
    expect(field(page)).to_have_value("")
    shelf = page.get_by_role("region", name="Records")
    player = shelf.get_by_label("How receiver.wav sounds")
    expect(player).to_be_visible()
    seconds = player.evaluate(
        """async (player) => {
          player.muted = true
          await player.play()
          await new Promise((done) => { player.ontimeupdate = () => player.currentTime > 0 && done() })
          return player.duration
        }"""
    )
    assert seconds == pytest.approx(0.1, abs=0.01)


def test_a_plot_is_looked_at_closely_with_keys(page, saved):
    check_in(page, "Tarnbeck M27, closely: weak")
    hand_in(page, saved["spectrum"][1])
    plot = page.get_by_role("img", name="Plot of lines.csv")
    expect(plot.locator("canvas")).to_be_visible()
    seen = "(box) => { const c = box.querySelector('canvas'); return c.toDataURL() }"
    whole = plot.evaluate(seen)
    plot.focus()
    for key in ("+", "+", "ArrowRight"):
        page.keyboard.press(key)
    page.wait_for_function(
        "([box, before]) => box.querySelector('canvas').toDataURL() !== before", arg=[plot.element_handle(), whole]
    )
    page.keyboard.press("0")
    page.wait_for_function(
        "([box, before]) => box.querySelector('canvas').toDataURL() === before", arg=[plot.element_handle(), whole]
    )


def test_traces_of_the_bench_come_onto_the_plot_and_a_keyed_unit_is_not_looked_into(page, site):
    check_in(page, "Tarnbeck M27, traced: weak")
    beside(page, "Records")
    shelf = page.get_by_role("region", name="Records")
    offers = shelf.get_by_role("group", name="Take a trace")
    site.hands(load_swr=1.7)
    offers.get_by_role("button", name="Aerial").click()
    expect(shelf.get_by_role("img", name="Plot of Aerial.s1p")).to_be_visible()
    told = shelf.get_by_role("list", name="Figures of the record")
    expect(told).to_contain_text("Least SWR")
    least = re.search(r"Least SWR\s*([\d.]+)", told.inner_text())
    assert float(least[1]) == pytest.approx(1.7, rel=0.01)
    site.hands(keyed=True, tone=True)
    expect(page.locator(".work.far")).to_be_visible()
    page.keyboard.press("F2")
    offers.get_by_role("button", name="Aerial").click()
    expect(page.get_by_role("alert").filter(has_text="would be hurt")).to_be_visible()
    offers.get_by_role("button", name="Envelope").click()
    expect(shelf.get_by_role("img", name=re.compile("Plot of Envelope.csv.*marked: .*crest, trough"))).to_be_visible()
    shelf.get_by_role("button", name="Take Modulation depth").press("Enter")
    expect(figures(page, "Modulation depth")).to_have_count(1)
    site.hands(keyed=False, tone=False, load_swr=1.08)
