"""The keeper's page: people added and changed, a browser withdrawn, from the page itself."""

from playwright.sync_api import expect

from tests.browser.conftest import field


def test_a_keeper_keeps_people_and_browsers_from_the_page(page, browser, site):
    page.goto("/people")
    page.get_by_label("Name of somebody new").fill("Alder")
    page.get_by_label("Password of somebody new").fill("short")
    page.get_by_role("button", name="reader", exact=True).click()
    page.get_by_role("button", name="Add").click()
    expect(page.get_by_role("alert")).to_contain_text("too short")
    page.get_by_label("Password of somebody new").fill("a hill of sand")
    page.get_by_role("button", name="Add").click()
    alder = page.locator("[data-person=Alder]")
    expect(alder).to_contain_text("reader, no PIN")
    alder.get_by_role("button").first.click()
    page.get_by_label("new PIN of Alder").fill("4711")
    alder.get_by_role("button", name="Keep it").last.click()
    expect(alder).to_contain_text("has a PIN")

    other = browser.new_context(base_url=site.address).new_page()  # Alder's own browser
    other.goto("/")
    other.get_by_label("Name").fill("Alder")
    other.get_by_label("Password").fill("a hill of sand")
    other.get_by_role("button", name="Sign in").click()
    expect(field(other)).to_be_visible()
    other.get_by_role("button", name="Alder").click()
    expect(other.get_by_role("menuitem", name="People and browsers")).to_have_count(0)
    other.get_by_role("menuitem", name="Someone else at the bench").click()
    expect(other.get_by_role("button", name="Alder")).to_be_visible()
    expect(other.get_by_role("button", name="Wren")).to_have_count(0)  # a reader's browser never offers more

    page.goto("/people")
    trusted = page.get_by_role("listitem").filter(has_text="trusted by Alder")
    expect(trusted).to_contain_text("offers readers")
    trusted.get_by_role("button", name="Withdraw").click()
    expect(trusted).to_have_count(0)
    other.goto("/")
    expect(other.get_by_label("Password")).to_be_visible()  # nobody is offered there any more
    page.locator("[data-person=Alder]").get_by_role("button").first.click()
    page.get_by_role("button", name="Let in no more").click()
    expect(page.locator("[data-person=Alder]")).to_contain_text("not let in")
    other.context.close()
