"""The bench that talks, with the hands full: captured by the carrier alone, turned by ear, watched, and two at one
job."""

import json
import os
import re

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.conftest import CHROMIUM, FLAGS, beside, check_in, field, figures, heard, open_page, take
from tests.browser.test_bench import own_site  # noqa: F401  a fixture
from tests.processes import kill_below

pytestmark = pytest.mark.browser
AT_REST = {"keyed": False, "tone": False, "kind": "mobile"}
HEALTHY = {
    "fault": "healthy", "drive_core": 0.0, "supply_v": 13.2, "load_swr": 1.08, "power": True, "turned": {},
    "generator_dbm": None,
}  # fmt: skip


@pytest.fixture
def hands(site):
    """The simulated unit as a healthy mobile, not keyed; put back so afterwards."""
    site.hands(**AT_REST)
    site.hands(**HEALTHY, channel=19, mode="am", warm=0)
    yield site.hands
    for line in ("wattmeter", "counter", "modulation-meter", "supply"):
        site.hands(line=line, fault_of_line="none")
    site.hands(**AT_REST)
    site.hands(**HEALTHY)


def open_slip(page, words: str, part: str = "Find") -> None:
    check_in(page, words)
    take(page, "standby 120ma")  # nothing is to be keyed that was not powered yet
    page.get_by_role("group", name="Parts of the job").get_by_role("button", name=part).click()
    page.locator(".now").get_by_text("Carrier power").first.wait_for()
    expect(page.locator("[data-word=KEY]")).to_be_visible()


def test_a_whole_verification_is_captured_with_no_key_but_the_carrier(page, hands):
    open_slip(page, "Tarnbeck M27, carrier only: weak")
    wanted = page.locator("ol.open li").count() + 1
    hands(keyed=True)
    # the far view comes up with the carrier: figure, word and clock fill the screen
    expect(page.locator(".work.far")).to_be_visible()
    expect(page.locator("[data-word=HOLD]")).to_be_visible()
    expect(page.locator(".taken")).to_contain_text(re.compile("Carrier power|Frequency error"))
    for name in ("Carrier power", "Frequency error"):
        expect(figures(page, name)).to_have_count(1)
    hands(tone=True)
    expect(page.locator(".taken")).to_contain_text("Modulation depth")
    hands(keyed=False, tone=False)
    expect(page.locator(".work.far")).to_have_count(0)
    for channel in (1, 40):
        hands(channel=channel)
        hands(keyed=True)
        expect(page.locator("[data-word=UNKEY]")).to_be_visible()
        hands(keyed=False)
        expect(page.locator(".work.far")).to_have_count(0)  # the bench has seen it go: the next key-down is another
    hands(channel=19, mode="fm", tone=True)
    hands(keyed=True)
    expect(figures(page, "Peak deviation")).to_have_count(1)
    hands(keyed=False, tone=False)
    expect(page.locator(".work.far")).to_have_count(0)
    expect(figures(page, "Carrier power")).to_have_count(3)
    for name in ("Frequency error", "Modulation depth", "Supply current"):
        expect(figures(page, name)).to_have_count(1)
    expect(page.locator("ol.open li")).to_have_count(0)  # the harmonic is the current line: nothing here talks of it
    expect(page.locator(".now")).to_contain_text("2nd harmonic")
    assert wanted == 8
    power = figures(page, "Carrier power").first
    power.get_by_role("button", name="Carrier power").click()
    expect(power).to_contain_text("mean of")


def tells_of(channel: int):
    """Whether an answer is to the seat's telling the bench that the hand walks along a channel's row."""
    return lambda r: r.url.endswith("/bench/seat") and f'"along":["ch{channel} ' in (r.request.post_data or "")


def until_both_cells_stand(page, channel: int) -> None:
    """Wait until a channel's power and frequency are on the slip; the far view shows the newest line only."""
    job = page.url.rpartition("/")[2]
    for _ in range(300):
        lines = page.request.get(f"{page.url.partition('/job/')[0]}/api/jobs/{job}").json()["lines"]
        if sum(line["text"].startswith(f"ch{channel} am ") for line in lines) == 2:
            return
        page.wait_for_timeout(100)
    raise AssertionError([line["text"] for line in lines])


def test_a_table_fills_itself_row_by_row_as_channels_are_switched(page, hands):
    """Two channels by hand make a table; walked along, each key-down fills its row, and the next one begins."""
    open_slip(page, "Tarnbeck M27, table: flat?")
    take(page, "ch 3 am power 3.7w freq -20hz")
    take(page, "ch 5 am power 3.6w freq +10hz")
    take(page, "ch 9 am freq +15hz")
    beside(page, "Tables")
    table = page.get_by_role("region", name=re.compile("^Over channels"))
    hands(channel=1)
    with page.expect_response(tells_of(1)):
        table.get_by_role("button", name="type Carrier power at channel 1", exact=True).press("Enter")
    expect(table).to_contain_text("Keyed at channel 1, its row fills itself")
    for channel, then in ((1, 3), (3, 5)):
        hands(channel=channel)
        hands(keyed=True)
        until_both_cells_stand(page, channel)
        with page.expect_response(tells_of(then)):
            hands(keyed=False)
        expect(page.locator(".work.far")).to_have_count(0)
        row = table.get_by_role("row", name=re.compile(rf"channel {channel}\b"))
        expect(row).to_contain_text(re.compile(r"3\.[78]\d W"))
        expect(row).to_contain_text(re.compile(r"\+\d\d Hz"))
        expect(table).to_contain_text(f"Keyed at channel {then}, its row fills itself")
    expect(field(page)).to_have_value("ch5 am carrier power ")


def test_what_moves_is_not_taken_and_space_takes_what_is_shown(page, hands):
    hands(fault="intermittent", drive_core=3.0)
    open_slip(page, "Tarnbeck M27, space: weak")
    page.locator(".now .title").click()
    page.keyboard.press("Space")
    expect(page.get_by_role("alert")).to_contain_text("No carrier is seen")
    hands(fault="healthy", keyed=True, tone=True)
    heard(page, 12)  # more than a steady carrier would need
    expect(figures(page, "Carrier power")).to_have_count(0)  # with audio on, no carrier is judged, or taken for one
    expect(page.get_by_test_id("live-figure")).to_have_count(0)
    page.keyboard.press("Space")
    expect(page.get_by_role("alert")).to_contain_text("There is audio on the carrier")
    hands(tone=False)
    expect(figures(page, "Carrier power")).to_have_count(1)
    expect(figures(page, "Frequency error")).to_have_count(1)  # all of this channel is taken: the next line stays
    expect(page.locator(".now .title")).to_contain_text("channel 1 ")
    expect(page.get_by_test_id("live-figure")).to_be_visible()  # Space takes what is shown, once it is
    page.keyboard.press("Space")
    expect(figures(page, "Carrier power")).to_have_count(2)
    page.keyboard.press("Backspace")
    expect(figures(page, "Carrier power").filter(has_text="taken back: retaken")).to_have_count(1)
    hands(keyed=False)


def test_a_pulled_plug_is_one_sentence_typing_goes_on_and_it_comes_back(page, hands):
    open_slip(page, "Tarnbeck M27, plug: weak")
    hands(line="wattmeter", fault_of_line="refuse")
    side = page.get_by_role("complementary", name="Bench side")
    expect(side).to_contain_text(
        "Bench wattmeter: nothing listens at its address: is it on, and is its network lead in?. Typing goes on."
    )
    take(page, "3.7w")
    expect(figures(page, "Carrier power")).to_have_count(1)
    hands(line="wattmeter", fault_of_line="none")
    expect(side).not_to_contain_text("Typing goes on")
    page.goto("/instruments")
    row = page.locator("[data-instrument=bench-wattmeter]")
    expect(row).to_contain_text("answers")
    hands(line="wattmeter", fault_of_line="garbage")
    expect(row).to_contain_text("it answered with something that is no figure")
    hands(line="wattmeter", fault_of_line="none")
    expect(row).to_contain_text("no power")


EARS = """() => {
  window.notes = []; window.pitches = []
  const Plain = window.OscillatorNode
  window.OscillatorNode = class extends Plain {
    constructor(context, options) {
      super(context, options)
      this.first = options.frequency
      const target = this.frequency.setTargetAtTime.bind(this.frequency)
      this.frequency.setTargetAtTime = (pitch, ...rest) => { window.pitches.push(pitch); return target(pitch, ...rest) }
    }
    start(at) { if (at !== undefined) window.notes.push(this.first); return super.start(at) }
  }
}"""


def test_turned_by_ear_the_pitch_follows_and_the_peak_sounds_twice(page, hands):
    page.add_init_script(f"({EARS})()")
    hands(drive_core=-4.0)
    open_slip(page, "Tarnbeck M27, ear: weak")
    beside(page, "Turn")
    page.get_by_label("Adjuster").fill("L14")
    page.get_by_role("button", name="Turn it").click()
    hands(keyed=True)
    expect(page.get_by_test_id("turn-now")).to_contain_text("W")
    for _ in range(8):
        hands(turn=0.5)
        heard(page, 2)
    rising = page.evaluate("window.pitches")
    assert len(rising) > 10 and max(rising) <= 880 and min(rising) >= 220
    page.evaluate("window.notes.length = 0")
    for _ in range(4):
        hands(turn=0.5)
        heard(page, 2)
    expect(page.locator("[data-arrow=back]")).to_contain_text("go back")
    assert [n for n in page.evaluate("window.notes") if n == 1320] == [1320, 1320], "a double note, once"
    falling = page.evaluate("window.pitches")[-3:]
    assert falling[-1] < max(page.evaluate("window.pitches")) - 30
    for _ in range(4):
        hands(turn=-0.5)
        heard(page, 2)
    page.keyboard.press("Space")
    line = page.locator("[data-line=adjusted]")
    expect(line).to_contain_text(re.compile(r"L14 1\.[23]\d?W -> 3\.[78]\d?W"))
    hands(keyed=False)


def test_a_target_met_sounds_three_times(page, hands):
    page.add_init_script(f"({EARS})()")
    hands(drive_core=-4.0)
    open_slip(page, "Tarnbeck M27, target: weak")
    beside(page, "Turn")
    page.get_by_label("Adjuster").fill("VR3")
    page.get_by_role("button", name="a target").click()
    page.get_by_label("Target").fill("3.8")
    page.get_by_role("button", name="Turn it").click()
    hands(keyed=True)
    expect(page.locator("[data-arrow=up]")).to_contain_text("more")
    for _ in range(8):
        hands(turn=0.5)
        heard(page, 2)
    expect(page.locator("[data-arrow=stop]")).to_contain_text("leave it")
    assert [n for n in page.evaluate("window.notes") if n == 1760] == [1760] * 3
    page.get_by_role("button", name="Stop, write nothing down").click()
    expect(page.locator("[data-line=adjusted]")).to_have_count(0)
    hands(keyed=False)


def test_a_set_up_is_followed_with_the_figure_live(page, hands):
    """A step's adjuster is turned by ear from its line; what is left stands there, and the next step is current."""
    hands(turned={"TC1": 1.0, "L18": 0.6})
    open_slip(page, "Tarnbeck M27, in line: weak at the ends")
    page.get_by_role("button", name="Set up").press("Enter")
    page.get_by_role("button", name="Begin: Alignment of the transmitter").press("Enter")
    steps = page.get_by_role("region", name="Set up")
    now = steps.locator("[aria-current=step]")
    expect(now).to_contain_text("TC1")
    turn = page.locator(".turn")

    def turned_by_ear(adjuster: str, quarters: tuple[int, ...]) -> None:
        now.get_by_role("button", name="turn it by ear").press("Enter")
        expect(turn).to_contain_text(adjuster)
        hands(keyed=True)
        expect(page.get_by_test_id("turn-now")).to_contain_text(re.compile("Hz|W"))
        heard(page, 3)
        for way in quarters:
            hands(turn={adjuster: way / 4})
            heard(page, 3)

    turned_by_ear("TC1", (-1, -1, -1, -1))
    expect(page.locator("[data-arrow=stop]")).to_contain_text("leave it")
    page.keyboard.press("Space")
    hands(keyed=False)
    expect(page.locator("[data-line=adjusted]")).to_contain_text(re.compile(r"turned TC1 \+?\d+Hz -> "))
    expect(now).to_contain_text("L18")
    hands(channel=1)
    turned_by_ear("L18", (-2, -2, -1, 3))
    page.keyboard.press("Space")
    hands(keyed=False)
    expect(now).to_contain_text("L19")
    expect(steps.locator("[data-state=in]")).to_have_count(2)


def test_an_amplifier_is_read_in_one_key_down_and_tuned_by_ear(page, hands):
    """Output, drive and plate and grid currents stand on its slip from one key-down; the dip is found by ear."""
    hands(kind="amplifier")
    hands(channel=20, mode="cw", turned={"Plate tuning": 0.8})
    check_in(page, "valve linear 200 W, plate row: tune it up")
    take(page, "filament 6.3v")
    take(page, "idle 102ma")
    page.get_by_role("button", name="Set up").press("Enter")
    page.get_by_role("button", name="Begin: Tuning up").press("Enter")
    take(page, "idle 102ma")
    now = page.get_by_role("region", name="Set up").locator("[aria-current=step]")
    expect(now).to_contain_text("Input network")
    now.get_by_role("button", name="leave it as it is").press("Enter")
    expect(now).to_contain_text("Plate tuning")
    hands(keyed=True)
    for name in ("Plate current", "Grid current", "Drive power", "Carrier power"):
        expect(figures(page, name).first).to_be_attached()
    hands(keyed=False)
    expect(page.locator(".work.far")).to_have_count(0)
    now.get_by_role("button", name="turn it by ear").press("Enter")
    hands(keyed=True)
    expect(page.get_by_test_id("turn-now")).to_contain_text("mA")
    heard(page, 3)
    for by in (-0.4, -0.4, -0.4, -0.4, 0.8):
        hands(turn={"Plate tuning": by})
        heard(page, 4)
    page.keyboard.press("Space")
    hands(keyed=False)
    expect(page.locator("[data-line=adjusted]")).to_contain_text(re.compile(r"turned Plate tuning 2\d\dmA -> 2\d\dmA"))
    expect(now).to_contain_text("Load capacitor")


def test_a_receiver_is_read_with_the_generator_live_and_is_never_to_be_keyed(page, hands):
    """Space takes the generator's level for what the current line asks, once the receiver gives it."""
    check_in(page, "CB FM mobile 4 W, generator row: deaf")
    take(page, "standby 120ma")
    page.get_by_role("group", name="Parts of the job").get_by_role("button", name="Prove").click()
    page.locator("ol.open").get_by_text("Sensitivity for 12 dB SINAD").first.click()
    expect(page.locator(".now .title")).to_contain_text("Sensitivity for 12 dB SINAD")
    expect(page.locator("[data-word=KEY]")).to_have_count(0)
    page.locator(".now .title").click()
    page.keyboard.press("Space")
    expect(page.get_by_role("alert")).to_contain_text("switch it on, or type")
    beside(page, "Live")
    live = page.get_by_label("Live instruments")
    hands(generator_dbm=-122.0)
    expect(live).to_contain_text("−122 dBm")
    page.locator(".now .title").click()
    page.keyboard.press("Space")
    expect(page.get_by_role("alert")).to_contain_text("open the squelch")
    hands(generator_dbm=-112.0)
    expect(live).to_contain_text("SINAD")
    expect(live).to_contain_text("−112 dBm")
    page.locator(".now .title").click()
    page.keyboard.press("Space")
    expect(page.get_by_role("alert")).to_contain_text(
        re.compile(r"SINAD is 1[789]\.\d dB: turn the generator until it is 12")
    )
    hands(generator_dbm=-118.9)
    expect(page.get_by_test_id("live-figure")).to_contain_text("−118.9 dBm")
    page.keyboard.press("Space")
    expect(figures(page, "Sensitivity for 12 dB SINAD")).to_have_count(1)
    page.locator("ol.open").get_by_text("Squelch opens").click()
    hands(generator_dbm=-118.4)
    expect(page.get_by_test_id("live-figure")).to_contain_text("−118.4 dBm")
    page.keyboard.press("Space")
    expect(figures(page, "Squelch opens")).to_have_count(1)


def test_sounds_can_be_chosen_and_switched_off(page, hands):
    page.add_init_script(f"({EARS})()")
    open_slip(page, "Tarnbeck M27, sounds: weak")
    page.keyboard.press("?")
    sheet = page.get_by_role("dialog", name="Keys")
    page.evaluate("window.notes.length = 0")
    sheet.get_by_role("button", name="a reading was taken: sharp").click()
    assert page.evaluate("window.notes") == [660, 990]
    sheet.get_by_label("sounds are heard").uncheck()
    page.keyboard.press("Escape")
    page.evaluate("window.notes.length = 0")
    hands(keyed=True)
    expect(figures(page, "Carrier power")).to_have_count(1)
    hands(keyed=False)
    assert page.evaluate("window.notes") == []


@pytest.fixture
def watched(page):
    """The page of a watch; one that still runs is ended, since the bench keeps one at a time."""
    yield page
    end = page.get_by_role("button", name="End the watch")
    if end.count():
        end.click()
        end.wait_for(state="detached")


def test_a_watch_catches_what_comes_and_goes(watched, hands):
    page = watched
    hands(fault="intermittent")
    open_slip(page, "Tarnbeck M27, watch: comes and goes")
    beside(page, "Watch")
    page.keyboard.press("F4")
    page.get_by_role("button", name="Watch it").click()
    expect(page.get_by_role("group", name="What did the hands do?")).to_be_visible()
    hands(keyed=True)
    heard(page, 12)  # what is usual is known
    events = page.get_by_role("table", name="What happened")
    for _ in range(12):
        hands(tap=True)
        page.keyboard.press("1")
        heard(page, 10)
        if events.get_by_text("just after it was tapped").count():
            break
    expect(events).to_contain_text("Carrier power fell")
    expect(events.get_by_text("just after it was tapped").first).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("Plot of .*carrier power.* drop"))).to_be_visible()
    hands(keyed=False)
    page.get_by_role("button", name="End the watch").click()
    page.get_by_role("link", name="back to the slip").click()
    expect(page.locator("[data-line=note]")).to_contain_text(re.compile(r"watched .*, \d+ just after 'tapped'"))


def test_two_at_one_job_see_each_others_lines(browser, site, signed_in, page):
    check_in(page, "Tarnbeck M27, two hands: weak")
    context, other = open_page(browser, site, signed_in)
    with other.expect_response("**/api/events**"):
        other.goto(page.url)
    field(other).wait_for()
    for n, (one, two) in enumerate([(page, other), (other, page)] * 2):
        take(one, f"note from hand {n}")
        expect(two.locator("[data-line=note]").filter(has_text=f"from hand {n}")).to_be_visible()
    context.close()


def test_the_instruments_belong_to_one_slip_until_a_hand_takes_them(browser, site, signed_in, page, hands):
    open_slip(page, "Tarnbeck M27, mine: weak")
    context, other = open_page(browser, site, signed_in)
    open_slip(other, "Tarnbeck M27, theirs: weak")
    expect(page.get_by_text("The live instruments are on another slip.")).to_be_visible()
    take(page, "note typing goes on")
    hands(keyed=True)
    expect(figures(other, "Carrier power")).to_have_count(1)
    hands(keyed=False)
    expect(figures(page, "Carrier power")).to_have_count(0)
    expect(other.locator("[data-word=KEY]")).to_be_visible()
    page.get_by_role("button", name="Take them here").click()
    expect(other.get_by_text("The live instruments are on another slip.")).to_be_visible()
    hands(keyed=True)
    expect(figures(page, "Carrier power")).to_have_count(1)
    hands(keyed=False)
    context.close()


def test_a_killed_bench_process_comes_back_by_itself(browser, own_site):  # noqa: F811
    context, page = open_page(browser, own_site, None)
    page.goto(own_site.entry)
    own_site.hands(**HEALTHY, keyed=False)
    open_slip(page, "Tarnbeck M27, bench killed: weak")
    side = page.get_by_role("complementary", name="Bench side")
    side.evaluate(  # what is said may be gone again before it is asked for
        """side => { window.said = ''; new MutationObserver(() => { window.said += side.innerText })
           .observe(side, { subtree: true, childList: true, characterData: true }) }"""
    )
    assert kill_below(own_site.process.pid, "young_spark.bench.process")
    page.wait_for_function("() => window.said.includes('the bench process is being started again')")
    take(page, "27.18506M")
    expect(side).not_to_contain_text("started again")
    own_site.hands(keyed=True)
    expect(figures(page, "Carrier power")).to_have_count(1)
    own_site.hands(keyed=False)
    context.close()


def test_what_was_acknowledged_outlives_a_killed_browser(engine, browser, site, signed_in, tmp_path):
    profile = tmp_path / "profile"
    doomed = engine.launch_persistent_context(profile, executable_path=CHROMIUM, args=FLAGS, base_url=site.address)
    doomed.add_cookies(json.loads(signed_in.read_text())["cookies"])
    page = doomed.new_page()
    check_in(page, "Tarnbeck M27, browser killed: weak")
    slip = page.url
    for n in range(5):
        take(page, f"found mark {n}")
    assert kill_below(os.getpid(), f"--user-data-dir={profile}")
    context, page = open_page(browser, site, signed_in)
    page.goto(slip)
    expect(page.locator("[data-line=found]")).to_have_count(5)
    context.close()


def test_an_instrument_is_on_one_sheet_and_checked_against_the_standard(page, tmp_path):
    Image.new("RGB", (60, 80), "white").save(tmp_path / "certificate.png")
    page.goto("/instruments")
    row = page.locator("[data-instrument=yard-wattmeter]")
    row.get_by_role("button").first.click()
    for read in ("9.8", "9.1"):
        row.get_by_label("The standard gives").fill("10")
        row.get_by_label("It reads").fill(read)
        row.get_by_role("button", name="Check it").click()
        expect(row.get_by_label("It reads")).to_have_value("")
        expect(row.locator(".trend")).to_contain_text(f"−{10 * (10 - float(read)):.2f} %")
    expect(row).to_contain_text("Outside its accuracy at the last quick check")
    stated = row.get_by_label("power: % of reading")
    stated.fill("2.5")
    stated.press("Enter")
    expect(row.get_by_role("button", name="power: own; typical again")).to_be_visible()
    row.get_by_label("Certificate of").set_input_files(tmp_path / "certificate.png")
    expect(row.get_by_alt_text("Certificate of")).to_have_js_property("naturalWidth", 60)
    page.get_by_role("button", name="Search the lines").click()
    expect(page.get_by_role("list", name="Found on the lines")).to_contain_text("simulated:wattmeter")


def test_how_an_instrument_is_asked_is_tried_named_kept_and_read_by(page, hands):
    hands(keyed=True)
    page.goto("/instruments")
    row = page.locator("[data-instrument=bench-counter]")
    expect(row.locator(".last")).to_contain_text("27.18")
    row.get_by_role("button").first.press("Enter")
    row.get_by_role("button", name="Try it").press("Enter")
    row.get_by_role("button", name="Send", exact=True).press("Enter")
    row.get_by_role("button", name="This is who it is").press("Enter")
    words = row.get_by_label("Words to send")
    words.fill("FREQ:NONSENSE?")
    words.press("Enter")
    expect(row.get_by_role("alert")).to_contain_text("No answer: no whole answer within")
    words.fill("MEAS:FREQ?")
    words.press("Enter")
    row.get_by_label("Figure 1 is").select_option("frequency")
    row.get_by_role("button", name="Ask it 10 times").press("Enter")
    expect(row.get_by_role("group", name="What came back")).to_contain_text(re.compile("moves by .* over 10"))
    expect(row.get_by_role("group", name="What came back")).to_contain_text("read as 27.18")
    row.get_by_role("button", name="Keep this question").press("Enter")
    name = row.get_by_label("Name of the definition")
    name.fill("Counter of rack 2")
    name.press("Enter")
    expect(row.get_by_role("status")).to_contain_text("Kept.")
    expect(row.get_by_label("Definition of")).to_have_value("counter-of-rack-2")
    hands(channel=40)
    expect(row.locator(".last")).to_contain_text("27.40")  # read by it
    row.get_by_label("Definition of").select_option("simulated-counter")
    page.get_by_role("link", name="as text in the library").press("Enter")
    expect(page.get_by_role("region", name="Its text")).to_contain_text('command = "MEAS:FREQ?"')
    page.get_by_role("button", name="Correct").press("Enter")
    page.get_by_role("button", name="Take it away").press("Enter")
    expect(page.get_by_role("button", name="Counter of rack 2")).to_have_count(0)
