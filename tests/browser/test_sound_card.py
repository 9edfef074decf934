"""The sound card through the real page: Chromium plays a file of known truth in place of a microphone."""

import math
import re
import wave

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import CHROMIUM, FLAGS, beside, check_in, field, figures, on_the_slip, open_page

pytestmark = pytest.mark.browser

RATE, SECONDS = 48_000, 20
TONE_HZ, TONE, SECOND, NOISE = 1000.0, 0.25, 0.0125, 0.002


@pytest.fixture(scope="module")
def tone_file(tmp_path_factory):
    """A tone with 5 % of its second harmonic in a little noise; it repeats without a seam."""
    at = np.arange(RATE * SECONDS) / RATE
    sound = TONE * np.sin(2 * np.pi * TONE_HZ * at) + SECOND * np.sin(2 * np.pi * 2 * TONE_HZ * at + 1)
    sound += np.random.default_rng(3).normal(0, NOISE, at.size)
    file = tmp_path_factory.mktemp("sound") / "tone.wav"
    with wave.open(str(file), "wb") as kept:
        kept.setnchannels(1)
        kept.setsampwidth(2)
        kept.setframerate(RATE)
        kept.writeframes((np.round(sound * 32767)).astype("<i2").tobytes())
    return file


@pytest.fixture
def page(engine, site, signed_in, tone_file):
    fake = ["--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream"]
    heard = f"--use-file-for-fake-audio-capture={tone_file}"
    browser = engine.launch(executable_path=CHROMIUM, args=[*FLAGS, *fake, heard])
    context, page = open_page(browser, site, signed_in)
    yield page
    context.close()
    browser.close()


SHOWS = """([name, low, high]) => [...document.querySelectorAll('.soundcard .figures li')].some((row) => {
  const figure = parseFloat(row.querySelector('b').textContent)
  return row.textContent.includes(name) && low < figure && figure < high
})"""


def figure_of(page, name: str) -> float:
    shown = page.get_by_role("list", name="Figures of the sound").get_by_role("listitem").filter(has_text=name)
    words = shown.locator("b").inner_text()
    return float(words.split(" ")[0].replace("−", "-")) * (1000 if "kHz" in words else 1)


def test_what_is_heard_has_its_figures_live_and_one_of_them_is_taken(page):
    check_in(page, "Tarnbeck M27, marshal 9: no audio")
    beside(page, "Sound")
    ear = page.get_by_role("region", name="What the sound card hears")
    ear.get_by_role("button", name="Listen").click()
    rest = SECOND**2 / 2 + NOISE**2
    sinad = 10 * math.log10((TONE**2 / 2 + rest) / rest)
    page.wait_for_function(
        SHOWS, arg=["SINAD", sinad - 0.5, sinad + 0.5]
    )  # once a whole stretch came without a stutter
    assert figure_of(page, "Audio frequency") == pytest.approx(TONE_HZ, abs=0.5)
    assert figure_of(page, "distortion") == pytest.approx(100 * SECOND / TONE, abs=0.3)

    ear.get_by_role("button", name="This is 0 dB").click()
    expect(ear).to_contain_text("0.0 dB")
    ear.get_by_text("Hold it against what is known").click()
    for known, value in (("Known level, V", "0.5"), ("Known tone, Hz", "440")):
        ear.get_by_label(known).fill(value)
        ear.get_by_label(known).press("Enter")
    expect(ear.get_by_role("alert")).to_contain_text("No clock is so far off")
    ear.get_by_label("Known tone, Hz").fill("1000.1")
    ear.get_by_label("Known tone, Hz").press("Enter")
    expect(ear).to_contain_text(re.compile("fills at 2.0. V, clock (9|10)\\d ppm"))
    ear.get_by_role("button", name="Its volts into the field").click()
    assert re.fullmatch(r"audio (49\d|50\d)mv", field(page).input_value())
    field(page).fill("")
    page.wait_for_function(SHOWS, arg=["Audio frequency", 1.00009, 1.00011])
    ear.get_by_role("button", name="Forget both").click()
    page.wait_for_function(SHOWS, arg=["Audio frequency", 0.99999, 1.00001])
    ear.get_by_label("Dial of the receiver, MHz").fill("27.184")
    ear.get_by_role("button", name="Into the field").click()
    assert field(page).input_value() == "beat 27.184/1000.0 usb"
    page.keyboard.press("Enter")
    on_the_slip(page)
    expect(figures(page, "Frequency error")).to_have_count(1)

    page.keyboard.press(" ")  # with nothing typed: what the sound card hears
    expect(figures(page, "Audio frequency")).to_have_count(1)
    ear.get_by_role("button", name="Take SINAD").click()
    expect(figures(page, "SINAD")).to_have_count(1)
    ear.get_by_role("button", name="Stop listening").click()
    expect(ear.get_by_role("list")).to_have_count(0)


def test_the_source_is_silent_until_asked_and_when_nobody_looks(page):
    check_in(page, "Tarnbeck M27, marshal 9: no audio")
    beside(page, "Sound")
    out = page.get_by_role("region", name="What the sound card gives")
    expect(out.get_by_role("button", name="Sound it")).to_have_attribute("aria-pressed", "false")
    out.get_by_role("button", name="two tones").click()
    expect(out.get_by_role("button", name="Sound it")).to_be_visible()  # chosen, and still silent
    out.get_by_role("button", name="Sound it").click()
    expect(out.get_by_role("button", name="Silence")).to_be_visible()
    page.evaluate(
        "() => { Object.defineProperty(document, 'hidden', { value: true, configurable: true });"
        " document.dispatchEvent(new Event('visibilitychange')) }"
    )
    expect(out.get_by_role("button", name="Sound it")).to_be_visible()
