//! The whole way by one hand: from an empty list to a card by phone alone, and by keyboard alone at the desk; and quick hands.

use std::time::{Duration, Instant};

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use thirtyfour::prelude::*;
use wayfinder_e2e::{Page, Screen, empty, until, with_server};

use super::{is_dead, trace_to_the_end, true_house, type_space};

fn space(space: u16) -> String {
    format!("//*[local-name()='g' and @aria-label='Space {space}, not entered']")
}

/// Nothing that a finger is to meet is lower than it needs (WCAG 2.5.5: 44 px), and nothing is wider than the screen.
async fn fits_a_finger(page: &Page, view: &str) -> Result<()> {
    let script =
        "const small = [...document.querySelectorAll('button, a[href], [role=button], [role=tab], [role=combobox]')]
        .filter((e) => !e.disabled && e.checkVisibility() && e.tabIndex >= 0 && !e.closest('p, svg, label'))
        .map((e) => [e.innerText || e.ariaLabel, Math.round(Math.max(e.getBoundingClientRect().height, \
            e.closest('.MuiInputBase-root')?.getBoundingClientRect().height ?? 0))])
        .filter(([, height]) => height > 0 && height < 44);
        return [small, document.documentElement.scrollWidth];";
    let got = page.driver.execute(script, vec![]).await?.json().clone();
    ensure!(got[0].as_array().is_some_and(Vec::is_empty), "{view}: too low for a finger: {}", got[0]);
    ensure!(got[1].as_u64() <= Some(390), "{view} is {} px wide", got[1]);
    Ok(())
}

async fn enters_the_panel_by_taps(page: &Page) -> Result<()> {
    page.click("New house").await?;
    fits_a_finger(page, "a new house").await?;
    page.fill("House", "Quill Cottage").await?;
    page.fill("Spaces", "8").await?;
    page.fill("Main breaker", "100").await?;
    page.click("Make the house").await?;
    // What comes next is on the screen.
    page.shows("Tap a space to say what stands there").await?;
    page.shows("1 Spaces: 0 of 8").await?;
    fits_a_finger(page, "the panel").await?;
    page.press(&space(1)).await?;
    for nth in [1, 2, 3, 4, 5, 6, 8] {
        page.find(&format!("//*[@role='dialog']//h2[normalize-space(.)='Space {nth}']")).await?;
        if nth == 5 {
            page.press("//*[@role='dialog']//*[@aria-label='Poles']//button[.='2']").await?;
            page.press("//*[@role='dialog']//button[.='50']").await?;
        }
        // Each goes on to the next; space 7 belongs to the two-pole breaker.
        page.press("//*[@role='dialog']//button[starts-with(normalize-space(.), 'Enter ')]").await?;
    }
    page.shows("1 Spaces: 8 of 8").await
}

#[tokio::test(flavor = "multi_thread")]
async fn from_an_empty_list_to_a_card_by_phone_alone() -> Result<()> {
    with_server(empty()?, async |base| {
        let page = Page::open(&base, "/", Screen::Phone).await?;
        page.shows("Find out which breaker feeds").await?;
        fits_a_finger(&page, "the list of houses").await?;
        enters_the_panel_by_taps(&page).await?;
        page.click("2 Rooms").await?;
        page.click("Kitchen").await?;
        page.click("Add Kitchen").await?;
        page.shows("12 points").await?;
        fits_a_finger(&page, "rooms and points").await?;
        page.is_accessible("rooms on a phone").await?;
        // A kitchen usually has an outlet with buttons.
        page.shows("Kitchen: which outlet has TEST and RESET buttons?").await?;
        page.press("//*[@aria-label='Outlets with buttons']//div[@role='button' and contains(., '(K1)')]").await?;
        page.shows("TEST button").await?;
        page.press("//nav[@aria-label='Steps']//a[starts-with(normalize-space(.), '3 Trace')]").await?;
        page.shows("Move these handles").await?;
        fits_a_finger(&page, "an order").await?;
        page.click("Begin a run").await?;
        page.shows("outages so far").await?;
        trace_to_the_end(&page, false).await?;
        let on = "//*[@aria-busy='false']//button[normalize-space(.)='They are on']";
        if page.text().await?.contains("They are on") {
            page.press(on).await?;
        }
        // The card is one tap away.
        page.shows("12 of 12 proven").await?;
        page.click("The card for the panel’s door").await?;
        page.shows("Measure the pocket").await?;
        fits_a_finger(&page, "the directory").await?;
        page.fill("Width", "1").await?;
        page.fill("Height", "1 1/2").await?;
        page.click("Make the card").await?;
        page.shows("too small").await?;
        ensure!(
            page.api("/api/v1/houses/1").await?["panels"][0]["card"].is_null(),
            "a size no card fits in is not kept"
        );
        page.fill("Width", "4 1/4").await?;
        page.fill("Height", "9").await?;
        page.click("Make the card").await?;
        page.find("//*[@role='img']//*[local-name()='svg']").await?;
        let kept = page.api("/api/v1/houses/1").await?["panels"][0]["card"].clone();
        ensure!(kept["width"] == 4.25, "{kept}");
        // Everything else is there as well: the plan, the answers, the log, a backup.
        page.click("House").await?;
        page.click("Plan").await?;
        page.fill("Width", "12'6\"").await?;
        page.fill("Depth", "10'").await?;
        page.click("Draw it").await?;
        page.find("//*[name()='title' and starts-with(., 'Kitchen, ')]/..").await?;
        page.click("Work").await?;
        page.click("What must I switch off?").await?;
        page.click("Room by room").await?;
        page.press("//*[@role='button' and normalize-space(.)='Kitchen']").await?;
        page.press("//div[@role='button' and contains(., '(K8)')]").await?;
        page.shows("5-7 · Kitchen range, 50 A").await?;
        page.click("House").await?;
        page.click("Log").await?;
        page.shows("tracing, alone").await?;
        fits_a_finger(&page, "the log").await?;
        page.click("House").await?;
        let backup =
            page.find("//a[normalize-space(.)='Back everything up']").await?.attr("href").await?.context("a link")?;
        let script =
            "const done = arguments[1]; fetch(arguments[0]).then(r => r.text()).then(t => done(t.slice(0, 15)));";
        let begins = page.driver.execute_async(script, vec![backup.into()]).await?.json().clone();
        // The header of every SQLite database (sqlite.org, file format 1.3).
        ensure!(begins == "SQLite format 3", "{begins}");
        page.quit().await
    })
    .await
}

/// Tab until something with this name has the focus; a name is how it begins.
async fn tab_to(page: &Page, name: &str) -> Result<()> {
    let script = "const e = document.activeElement; const label = e.labels?.[0]?.innerText ?? ''; \
                  return [e.ariaLabel ?? '', e.innerText ?? '', label].map((t) => t.trim())";
    let mut passed = Vec::new();
    for _ in 0..160 {
        page.keys(Key::Tab + "").await?;
        let at = page.driver.execute(script, vec![]).await?.json().clone();
        if at.as_array().into_iter().flatten().filter_map(Value::as_str).any(|text| text.starts_with(name)) {
            return Ok(());
        }
        passed.push(at);
    }
    anyhow::bail!("Tab never comes to {name}: {passed:?}")
}

/// Goes there and presses Enter.
async fn enter_at(page: &Page, name: &str) -> Result<()> {
    tab_to(page, name).await?;
    page.keys(Key::Enter + "").await
}

async fn type_at(page: &Page, name: &str, text: &str) -> Result<()> {
    tab_to(page, name).await?;
    let field = page.driver.active_element().await?;
    field.send_keys(Key::Control + "a").await?;
    Ok(field.send_keys(text).await?)
}

#[tokio::test(flavor = "multi_thread")]
async fn from_an_empty_list_to_a_card_by_keyboard_alone() -> Result<()> {
    with_server(empty()?, async |base| {
        let page = Page::open(&base, "/", Screen::Desk).await?;
        page.shows("Find out which breaker feeds").await?;
        enter_at(&page, "New house").await?;
        type_at(&page, "House", "Quill Cottage").await?;
        type_at(&page, "Main breaker", "100").await?;
        type_at(&page, "Spaces", "8").await?;
        enter_at(&page, "Make the house").await?;
        page.shows("What stands in each space of Main").await?;
        // The first space has the focus already; Enter goes on, past the space that a two-pole breaker takes.
        for (space, text) in
            [("1", "20"), ("2", "20"), ("3", "20"), ("4", "20"), ("5", "2p50"), ("6", "20"), ("8", "20")]
        {
            type_space(&page, space, text).await?;
        }
        page.shows("8 of 8 spaces entered").await?;
        // Tab goes the same way as Enter: by the numbers.
        page.field("2 (leg A)").await?.focus().await?;
        let mut way = Vec::new();
        for _ in 0..5 {
            let label = page.driver.execute("return document.activeElement.labels[0].innerText", vec![]).await?;
            way.push(label.json().as_str().unwrap_or_default().split(' ').next().unwrap_or_default().to_owned());
            page.keys(Key::Tab + "").await?;
        }
        ensure!(way == ["2", "3", "4", "5", "6"], "{way:?}");
        enter_at(&page, "Kitchen").await?;
        enter_at(&page, "Add Kitchen").await?;
        page.shows("K12").await?;
        // The focus is at the new room.
        let at = page.driver.execute("return document.activeElement.ariaLabel", vec![]).await?;
        ensure!(at.json() == "Kitchen", "{}", at.json());
        // The drawn panel is one tab stop; arrows go from breaker to breaker.
        let stops = page.driver.find_all(By::Css("svg[aria-label='Panel Main'] [tabindex='0']")).await?;
        ensure!(stops.len() == 1, "{} tab stops in the drawing", stops.len());
        page.go("/houses/1/trace").await?;
        page.shows("Switch OFF").await?;
        trace_to_the_end(&page, true).await?;
        if page.text().await?.contains("They are on") {
            enter_at(&page, "They are on").await?;
        }
        page.shows("12 of 12 proven").await?;
        enter_at(&page, "The card for the panel’s door").await?;
        page.shows("Measure the pocket").await?;
        type_at(&page, "Width", "4 1/4").await?;
        type_at(&page, "Height", "9").await?;
        enter_at(&page, "Make the card").await?;
        page.find("//*[@role='img']//*[local-name()='svg']").await?;
        page.quit().await
    })
    .await
}

/// A row of the room's card that takes an answer, with its tag; nothing where the room is done.
async fn open_row(page: &Page) -> Result<Option<String>> {
    let script = "const row = [...document.querySelectorAll('[data-row]')].find((r) => \
                  !r.querySelector('[aria-pressed=true]') && r.querySelector('button:not([disabled])')); return row?.dataset.row";
    Ok(page.driver.execute(script, vec![]).await?.json().as_str().map(ToOwned::to_owned))
}

async fn tap_row(page: &Page, tag: &str, answer: &str) -> Result<()> {
    let script = "document.querySelector(`button[aria-label='${arguments[0]}: ${arguments[1]}']`).click()";
    page.driver.execute(script, vec![tag.into(), answer.into()]).await?;
    Ok(())
}

// Rows stay where they are, each takes one tap, and nothing is waited for: the next can be answered while the last is on its
// way. What a tap costs beyond looking is printed; the aim is under a second.
#[tokio::test(flavor = "multi_thread")]
async fn a_room_on_one_card_takes_a_tap_an_answer_and_no_waits() -> Result<()> {
    with_server(true_house()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.click("Handles are moved").await?;
        page.shows("Look at point 1 of").await?;
        page.click("The whole room on one card").await?;
        page.shows(" to look at").await?;
        fits_a_finger(&page, "a room on one card").await?;
        page.is_accessible("a room on one card").await?;
        let order = "return [...document.querySelectorAll('[data-row]')].map((r) => r.dataset.row)";
        let before = page.driver.execute(order, vec![]).await?.json().clone();
        // A wrong tap is corrected in its row; then all of it is taken back.
        let first = before[0].as_str().context("a row")?.to_owned();
        let live = if is_dead(&page, &first).await? { "DEAD" } else { "LIVE" };
        let wrong = if live == "LIVE" { "DEAD" } else { "LIVE" };
        tap_row(&page, &first, wrong).await?;
        page.find(&format!("//button[@aria-label='{first}: {wrong}' and @aria-pressed='true']")).await?;
        if page.text().await?.contains("Go on without this") {
            page.click("Go on without this").await?;
        }
        tap_row(&page, &first, live).await?;
        page.find(&format!("//button[@aria-label='{first}: {live}' and @aria-pressed='true']")).await?;
        let (mut answers, begun) = (0, Instant::now());
        let mut longest = Duration::ZERO;
        while let Some(tag) = open_row(&page).await? {
            let word = if is_dead(&page, &tag).await? { "DEAD" } else { "LIVE" };
            let tapped = Instant::now();
            tap_row(&page, &tag, word).await?;
            let shown =
                format!("return document.querySelector(\"[aria-label='{tag}: {word}'][aria-pressed=true]\") !== null");
            until(&format!("{tag} takes an answer"), async || {
                Ok(page.driver.execute(&*shown, vec![]).await?.json() == true)
            })
            .await?;
            longest = longest.max(tapped.elapsed());
            answers += 1;
            ensure!(answers < 60, "the room does not end");
        }
        println!(
            "{answers} answers, a tap each, {} ms apart with the driver's own time, longest {} ms until it is seen",
            begun.elapsed().as_millis() / answers.max(1),
            longest.as_millis()
        );
        // When the last has arrived the page goes on by itself: to the next handles, or offers the next room.
        page.find("//h2[starts-with(., 'Move these') or starts-with(., 'Leave the handles')] | //button[starts-with(., 'Go on to')]")
            .await?;
        let after = page.driver.execute(order, vec![]).await?.json().clone();
        let on = "//h2[starts-with(., 'Move these') or starts-with(., 'Leave the handles')]";
        if !after.as_array().is_some_and(Vec::is_empty) {
            // The card goes as it came.
            page.click("End this tour").await?;
        }
        page.find(on).await?;
        ensure!(before == after || after == serde_json::json!([]) || !page.text().await?.contains("all answered"), "rows moved: {before} {after}");
        page.quit().await
    })
    .await
}

// Nobody says of what is not on the screen that it is live.
#[tokio::test(flavor = "multi_thread")]
async fn the_rest_is_live_counts_for_the_rows_on_the_screen_alone() -> Result<()> {
    with_server(true_house()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.click("Handles are moved").await?;
        page.shows("Look at point 1 of").await?;
        page.click("The whole room on one card").await?;
        let button = page.find("//button[contains(., 'on the screen are LIVE')]").await?;
        let shown: usize = button.text().await?.split_whitespace().find_map(|w| w.parse().ok()).context("a number")?;
        let rows = page.driver.find_all(By::Css("[data-row]")).await?.len();
        ensure!(shown < rows, "{shown} of {rows} rows are on the screen");
        // Nothing lies over them, neither the button itself nor the bar at the foot.
        let script = "return [...document.querySelectorAll('[data-row]')].filter((row) => { \
            const box = row.getBoundingClientRect(); \
            return [box.top + 4, box.bottom - 4].every((y) => row.contains(document.elementFromPoint(60, y))); }).length";
        let clear = page.driver.execute(script, vec![]).await?.json().clone();
        ensure!(clear == shown, "{clear} rows can be seen whole, {shown} are told");
        page.driver.execute("arguments[0].click()", vec![button.to_json()?]).await?;
        page.shows(&format!("{shown} points: LIVE")).await?;
        let script = "return [document.querySelectorAll(\"[data-row] [aria-pressed='true']\").length, \
                      [...document.querySelectorAll('[data-row]')].findIndex((r) => !r.querySelector(\"[aria-pressed='true']\"))]";
        let mut pressed = Value::Null;
        until("all rows on the screen are answered", async || {
            pressed = page.driver.execute(script, vec![]).await?.json().clone();
            Ok(pressed[0] == shown)
        })
        .await?;
        ensure!(pressed[1] == shown, "the first that is not answered is the first that was not seen whole: {pressed}");
        page.click("Undo").await?;
        until("all of it is taken back", async || {
            Ok(page.driver.find_all(By::Css("[data-row] [aria-pressed='true']")).await?.is_empty())
        })
        .await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_finished_room_is_changed_and_points_are_chosen_on_the_plan() -> Result<()> {
    with_server(wayfinder_e2e::demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        page.click("Change, add points: Cloakroom").await?;
        page.fill("Room", "Washroom").await?;
        page.fill("What they are called", "mirror").await?;
        page.click("more: light").await?;
        page.click("Save, add 1").await?;
        page.shows("Washroom, floor 1").await?;
        let points = page.find("//ul[@aria-label='Points of Washroom']").await?.text().await?;
        ensure!(points.contains("mirror"), "{points}");
        page.click("Edit K1").await?;
        page.is_accessible("a point's form").await?;
        page.keys(Key::Escape + "").await?;

        page.go("/houses/1/off").await?;
        page.click("On the plan").await?;
        let k7 = "//*[local-name()='g' and @role='checkbox' and @aria-label='K7']";
        page.press(k7).await?;
        page.find(&format!("{k7}[@aria-checked='true']")).await?;
        page.shows("Main 5-7").await?;
        page.is_accessible("points on the plan").await?;
        let stops = page.driver.find_all(By::Css("svg[aria-label*='plan of floor'] [tabindex='0']")).await?;
        ensure!(stops.len() == 1, "{} tab stops in the plan", stops.len());
        // Another floor, by its button; what was chosen before stays.
        page.press("//*[@aria-label='Floor']//button[.='cellar']").await?;
        page.press("//*[local-name()='g' and @role='checkbox' and @aria-label='S1']").await?;
        page.shows("Cellar furnace (S1)").await?;

        page.go("/houses/1/dead").await?;
        choose_room(&page, "Bathroom").await?;
        page.press("//div[@role='button' and contains(., '(B2)')]").await?;
        page.shows("Look next").await?;
        page.quit().await
    })
    .await
}

async fn choose_room(page: &Page, room: &str) -> Result<()> {
    page.click("Room by room").await?;
    page.press(&format!("//*[@role='button' and normalize-space(.)='{room}']")).await
}
