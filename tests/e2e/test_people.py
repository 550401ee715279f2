"""People of a site: invited, joining, looking without changing, made more, their password changed."""

import re
import secrets

import pyotp
import pytest
from playwright.sync_api import expect

from .conftest import another_person, choose, go, make_rules, passer_by, put_live, switch_off
from .test_jobs import publish
from .test_preview import SITE

PASSWORD = "a kettle on the boil"


@pytest.fixture
def name():
    """A name that nobody has: accounts stay from one test to the next."""
    return f"imre-{secrets.token_hex(4)}"


def invite(page, role):
    """The address of an invitation, as an owner makes it."""
    go(page, f"{SITE}/site/people")
    people = page.get_by_role("region", name="People")
    choose(people.get_by_label("Invited as"), role)
    people.get_by_role("button", name="Make an invitation").click()
    return people.get_by_label("Address of the invitation").input_value()


def join(page, address, name):
    """A window of somebody who takes an invitation with a new account."""
    window = passer_by(page)
    window.goto(address)
    expect(window.get_by_role("heading", name="Marrowick Ferries")).to_be_visible()
    window.get_by_label("Name").fill(name)
    window.get_by_label("Password").fill(PASSWORD)
    window.get_by_role("button", name="Make the account and join").click()
    expect(window.get_by_role("grid")).to_be_visible()
    return window


@pytest.mark.elsewhere
def test_somebody_invited_to_look_sees_everything_changes_nothing_and_is_told_why(page, name):
    window = join(page, invite(page, "viewer: sees everything, marks pages on walks"), name)
    expect(window.get_by_role("status").filter(has_text="You are viewer here")).to_be_visible()
    # A rule can be tried out in the editor; saving says what it waits for, by click and by key.
    window.goto(page.evaluate("location.origin") + f"{SITE}/rules")
    window.get_by_role("link", name="Winter notice").first.click()
    window.get_by_label("Name of the rule").fill("Winter is over")
    save = window.get_by_role("button", name="Save rule")
    expect(save).to_be_disabled()
    expect(window.get_by_text("That takes the role editor; you are viewer here")).to_be_visible()
    window.get_by_role("button", name="Back to saved").click()
    switch_off(window, "Winter notice")
    expect(window.get_by_text(f"That takes the role editor; {name} is viewer here").first).to_be_visible()
    # Made publisher by an owner, the same window may do so at its next step.
    page.goto(f"{SITE}/site/people")
    people = page.get_by_role("region", name="People")
    choose(people.get_by_label(f"Role of {name}"), "editor: edits the draft")
    expect(page.get_by_text(f"{name} is editor now")).to_be_visible()
    window.reload()
    expect(window.get_by_text("You are viewer here")).to_have_count(0)
    switch_off(window, "Winter notice")
    expect(window.get_by_text("Switched off Winter notice")).to_be_visible()
    window.get_by_role("link", name="Publish").click()
    publish = window.get_by_role("button", name=re.compile("^Publish 1 edit"))
    expect(publish).to_be_disabled()
    expect(
        window.get_by_role("status").filter(has_text="That takes the role publisher; you are editor here")
    ).to_be_visible()
    # Taken out, the site is not there any more.
    page.get_by_role("button", name=f"Take out {name}").click()
    expect(page.get_by_text(f"{name} is nothing at this site any more")).to_be_visible()
    window.reload()
    expect(window.get_by_role("heading", name="There is no site marrowick")).to_be_visible()
    window.context.close()


@pytest.mark.elsewhere
def test_a_site_keeps_an_owner_and_an_invitation_is_taken_once(page, name, axe):
    address = invite(page, "owner: says who may do what")
    asked = passer_by(page)
    asked.goto(address)
    expect(asked.get_by_role("heading", name="Marrowick Ferries")).to_be_visible()
    assert axe(asked) == []
    asked.context.close()
    people = page.get_by_role("region", name="People")
    choose(people.get_by_label("Role of demo"), "viewer: sees everything, marks pages on walks")
    expect(page.get_by_text("demo is its last owner").first).to_be_visible()
    window = join(page, address, name)
    again = passer_by(page)
    again.goto(address)
    expect(again.get_by_role("heading", name="This invitation has ended, was taken, or never was")).to_be_visible()
    again.context.close()
    # Her password is changed where she is signed in, with what is wrong beside each field.
    window.get_by_role("button", name=name).click()
    window.get_by_text("Change the password").click()
    window.get_by_label("Password until now").fill("not this one")
    window.get_by_label("New password").fill("short")
    window.get_by_role("button", name="Change it").click()
    expect(window.get_by_text("this is not the password until now")).to_be_visible()
    expect(window.get_by_text(re.compile("too short"))).to_be_visible()
    window.get_by_label("Password until now").fill(PASSWORD)
    window.get_by_label("New password").fill("another kettle on the boil")
    window.get_by_role("button", name="Change it").click()
    expect(window.get_by_text("The password is another one now; every other session has ended")).to_be_visible()
    window.get_by_role("button", name=name).click()
    window.get_by_role("button", name="Sign out").click()
    window.get_by_label("Name").fill(name)
    window.get_by_label("Password").fill("another kettle on the boil")
    window.get_by_role("button", name="Sign in", exact=True).click()
    expect(window.get_by_role("grid")).to_be_visible()
    window.context.close()


@pytest.mark.elsewhere
def test_signing_in_takes_a_code_once_a_second_factor_is_set_up(page, name):
    window = join(page, invite(page, "editor: edits the draft"), name)
    window.get_by_role("button", name=name).click()
    account = window.get_by_role("dialog", name="Account")
    account.get_by_text("Second factor").click()
    account.get_by_label("Your password").fill(PASSWORD)
    account.get_by_role("button", name="Set one up").click()
    expect(account.get_by_role("img", name="The secret as a QR code")).to_be_visible()
    secret = account.locator("code").inner_text()
    account.get_by_role("textbox", name="Code").fill("12")
    account.get_by_role("button", name="Ask for it from now on").click()
    expect(account.get_by_text("this is not the code of now")).to_be_visible()
    account.get_by_role("textbox", name="Code").fill(pyotp.TOTP(secret).now())
    account.get_by_role("button", name="Ask for it from now on").click()
    spare = account.get_by_role("list", name="Spare codes").get_by_role("listitem")
    expect(spare).to_have_count(10)
    code = spare.first.inner_text()
    account.get_by_role("button", name="Sign out").click()
    window.get_by_label("Name").fill(name)
    window.get_by_label("Password").fill(PASSWORD)
    window.get_by_role("button", name="Sign in", exact=True).click()
    expect(window.get_by_label("Code")).to_be_focused()
    window.get_by_label("Code").fill("000000")
    window.get_by_role("button", name="Sign in", exact=True).click()
    expect(window.get_by_role("alert")).to_have_text("This code is not good, or was used")
    window.get_by_label("Code").fill(code)
    window.get_by_role("button", name="Sign in", exact=True).click()
    expect(window.get_by_role("grid")).to_be_visible()
    window.context.close()


@pytest.mark.elsewhere
def test_what_others_publish_is_news_until_it_is_read_and_a_feed(page, name):
    window = join(page, invite(page, "publisher: publishes"), name)
    go(page, f"{SITE}/rules")
    switch_off(page, "Winter notice")
    publish(page)
    # To whoever did it, it is none: there is but the demo's own publication.
    expect(page.get_by_role("button", name=re.compile("^News ?1 new$"))).to_be_visible()
    window.goto(page.evaluate("location.origin") + f"{SITE}/rules")
    window.get_by_role("button", name=re.compile("^News ?[0-9]+ new$")).click()
    listed = window.get_by_role("list", name="News")
    expect(listed.get_by_role("listitem").first).to_contain_text("is live, published by demo")
    window.get_by_role("button", name="As a feed for a reader").click()
    address = window.get_by_role("status").filter(has_text="An Atom feed").locator("code").inner_text()
    reader = page.context.browser.new_context()
    assert "is live, published by demo" in reader.request.get(address).text()
    reader.close()
    listed.get_by_role("link").first.click()
    expect(window).to_have_url(re.compile("/publish$"))
    expect(window.get_by_role("button", name="News", exact=True)).to_be_visible()
    window.context.close()


@pytest.mark.elsewhere
def test_the_log_tells_what_was_done_and_is_looked_up_and_taken_out(page):
    go(page, f"{SITE}/rules")
    switch_off(page, "Winter notice")
    expect(page.get_by_text("Switched off Winter notice")).to_be_visible()
    go(page, f"{SITE}/site")
    page.get_by_role("link", name="The log of everything that was done").click()
    rows = page.get_by_role("row")
    expect(rows.filter(has_text="Winter notice: switched off")).to_have_count(1)
    page.get_by_label("Look for").fill("switched off")
    expect(page.get_by_role("status").filter(has_text="1 entry")).to_be_visible()
    # What is looked for is in the address.
    page.reload()
    expect(page.get_by_label("Look for")).to_have_value("switched off")
    expect(page.get_by_role("status").filter(has_text="1 entry")).to_be_visible()
    with page.expect_download() as taken:
        page.get_by_role("link", name="Export").click()
    lines = taken.value.path().read_text().splitlines()
    assert len(lines) == 1 and "Winter notice: switched off" in lines[0]
    page.get_by_label("Look for").fill("")
    choose(page.get_by_label("Kind"), "publications")
    expect(rows.filter(has_text="Revision 1 is live: The demo site as it comes")).to_have_count(1)
    expect(rows.filter(has_text="switched off")).to_have_count(0)


def test_signing_out_everywhere_else_and_a_token_for_a_program(page, demo):
    other = another_person(page)
    page.get_by_role("button", name="demo", exact=True).click()
    account = page.get_by_role("dialog", name="Account")
    account.get_by_text("Where you are signed in").click()
    listed = account.get_by_role("list", name="Where you are signed in")
    expect(listed.get_by_text("Chrome on Linux").first).to_be_visible()
    account.get_by_role("button", name="Sign out everywhere else").click()
    expect(page.get_by_text(re.compile("^Signed out in [0-9]+ other place"))).to_be_visible()
    expect(listed.get_by_role("listitem")).to_have_count(1)
    expect(listed).to_contain_text("here")
    other.reload()
    expect(other.get_by_role("button", name="Look around the demo")).to_be_visible()
    other.context.close()

    account.get_by_text("Tokens for programs").click()
    account.get_by_label("What the token is for").fill("The build")
    account.get_by_role("button", name="Make the token").click()
    told = account.get_by_text("The build, told only now")
    expect(told).to_be_visible()
    token = told.locator("code").inner_text()
    elsewhere = page.context.browser.new_context(extra_http_headers={"Authorization": f"Bearer {token}"})
    program = elsewhere.request
    site = f"{demo.application}/api/sites/marrowick"
    assert program.get(site).json()["your_role"] == "viewer"
    assert program.post(f"{site}/revisions", data={}).status == 403
    account.get_by_role("button", name="Take back The build").click()
    expect(page.get_by_text("The token The build does not hold any more")).to_be_visible()
    assert program.get(site).status == 401
    elsewhere.close()


@pytest.mark.elsewhere
def test_who_else_has_a_rule_open_is_told_and_gone_when_they_leave(page, name):
    window = join(page, invite(page, "editor: edits the draft"), name)
    window.goto(page.evaluate("location.origin") + f"{SITE}/rules")
    window.get_by_role("link", name=re.compile("^Site footer")).click()
    expect(window.get_by_label("Name of the rule")).to_have_value("Site footer")
    go(page, f"{SITE}/rules")
    page.get_by_role("link", name=re.compile("^Site footer")).click()
    expect(page.get_by_text(f"{name} has this open too")).to_be_visible()
    with window.expect_response(lambda answer: "/presence" in answer.url and answer.request.method == "DELETE"):
        window.get_by_role("link", name=re.compile("^Site header")).click()
    page.get_by_role("link", name=re.compile("^Winter notice")).click()
    expect(page.get_by_label("Name of the rule")).to_have_value("Winter notice")
    page.get_by_role("link", name=re.compile("^Site footer")).click()
    expect(page.get_by_label("Name of the rule")).to_have_value("Site footer")
    expect(page.get_by_text("has this open too")).to_have_count(0)
    window.context.close()


def test_a_program_asks_for_published_layouts_and_for_nothing_else(page, demo):
    page.get_by_role("button", name="demo", exact=True).click()
    account = page.get_by_role("dialog", name="Account")
    account.get_by_text("Tokens for programs").click()
    account.get_by_label("What the token is for").fill("The shop")
    choose(account.get_by_label("What it can do"), "published layouts")
    account.get_by_role("button", name="Make the token").click()
    token = account.get_by_text("The shop, told only now").locator("code").inner_text()
    expect(account.get_by_role("list", name="Tokens")).to_contain_text("The shop: published layouts of marrowick")
    elsewhere = page.context.browser.new_context(extra_http_headers={"Authorization": f"Bearer {token}"})
    program = elsewhere.request
    layout = f"{demo.published}/-/layout/v1/marrowick?path=/about"
    before = program.get(layout)
    assert before.json()["slots"]["header"]["pieces"] == ["main-header"]
    assert program.get(layout, headers={"If-None-Match": before.headers["etag"]}).status == 304
    assert program.get(f"{demo.application}/api/sites/marrowick").status == 401
    page.keyboard.press("Escape")
    slim = {"do": "fill", "slot": "header", "piece": "slim-header"}
    make_rules(page, {"name": "Slim about", "condition": {"include": "page:/about"}, "actions": [slim]})
    put_live(page)
    after = program.get(layout, headers={"If-None-Match": before.headers["etag"]})
    assert (after.status, after.json()["slots"]["header"]["pieces"]) == (200, ["slim-header"])
    page.get_by_role("button", name="demo", exact=True).click()
    account.get_by_text("Tokens for programs").click()
    account.get_by_role("button", name="Take back The shop").click()
    expect(page.get_by_text("The token The shop does not hold any more")).to_be_visible()
    assert program.get(layout).status == 401
    elsewhere.close()
