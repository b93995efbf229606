//! The program in a browser, as a person uses it: the whole way from a new house to its card, two devices, keys.

mod alone;
mod care;
mod directory;
mod door;
mod findings;
mod hard;
mod measure;
mod phone;
mod reach;
mod tools;
mod work;

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use thirtyfour::prelude::*;
use wayfinder_e2e::{Page, Screen, demo, empty, until, with_server};

/// What really feeds each tag of the house entered by hand below.
const TRUTH: &[(&str, &str)] = &[
    ("K1", "1"),
    ("K2", "3"),
    ("K3", "1"),
    ("K4", "3"),
    ("K5", "2"),
    ("K6", "4"),
    ("K7", "4"),
    ("K8", "5-7"),
    ("K9", "6"),
    ("K10", "8"),
    ("K11", "8"),
    ("K12", "6"),
    ("K13", "1"),
    ("H1", "2"),
    ("H2", "4"),
    ("H3", "10"),
];

fn truth(tag: &str) -> Result<&'static str> {
    TRUTH.iter().find(|(t, _)| *t == tag).map(|(_, at)| *at).with_context(|| format!("{tag} is not in the truth"))
}

/// The point that the page asks about now, and whether it asks to look once more; nothing where it asks something else.
async fn asked(page: &Page) -> Result<Option<(String, bool)>> {
    // Read in one go: the page may draw itself anew between two questions.
    let script = "const card = document.querySelector('[data-look]'); \
                  return card && [card.dataset.look, card.dataset.ask !== undefined];";
    let card = page.driver.execute(script, vec![]).await?;
    let read = |card: &Value| Some((card[0].as_str()?.to_owned(), card[1].as_bool()?));
    Ok(read(card.json()))
}

/// Whether a tester at this point would show it dead, with the handles as the house knows them.
async fn is_dead(page: &Page, tag: &str) -> Result<bool> {
    let house = page.api("/api/v1/houses/1").await?;
    let at = |b: &Value| {
        let poles = b["at"].as_array().into_iter().flatten().filter_map(Value::as_str);
        poles.collect::<Vec<_>>().join("-")
    };
    let feeder = truth(tag)?;
    let breakers = house["breakers"].as_array().context("breakers")?;
    Ok(breakers.iter().any(|b| at(b) == feeder && b["handle"] == "off"))
}

async fn revision(page: &Page) -> Result<Option<u64>> {
    Ok(page.api("/api/v1/houses/1").await?["revision"].as_u64())
}

/// Waits until the house has changed.
async fn changed(page: &Page, since: Option<u64>) -> Result<()> {
    until(&format!("something changes after revision {since:?}"), async || Ok(revision(page).await? > since)).await
}

/// Says by key that the handles are moved; false where the page did not take it: it was busy, or has gone on to something else since.
async fn handles_are_moved(page: &Page) -> Result<bool> {
    let before = revision(page).await?;
    page.keys("o").await?;
    for _ in 0..75 {
        if revision(page).await? > before {
            return Ok(true);
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    Ok(false)
}

/// Answers what the page asks about a point.
async fn answer_one(page: &Page, tag: &str, again: bool, key: bool) -> Result<()> {
    let before = revision(page).await?;
    let dead = is_dead(page, tag).await?;
    if key && !again {
        page.keys(if dead { "d" } else { "l" }).await?;
        return changed(page, before).await;
    }
    let card = format!("[data-look='{tag}']");
    // A card that is busy takes nothing yet.
    let word = if dead { "DEAD" } else { "LIVE" };
    until(&format!("{tag} takes an answer"), async || tap(page, &card, word).await).await?;
    changed(page, before).await
}

/// Follows what the page asks for until it says that all is done; how many orders that took.
async fn trace_to_the_end(page: &Page, key: bool) -> Result<usize> {
    let mut orders = 0;
    for _ in 0..400 {
        // A card that is busy is that of before, and takes nothing.
        let something = "//*[@data-look] | //*[@aria-busy='false']//h2[starts-with(., 'Move these') \
                         or starts-with(., 'Leave the handles') or starts-with(., 'Everything that can') \
                         or starts-with(., 'Last round')]";
        let found = page.find(something).await?;
        if let Some((tag, again)) = asked(page).await? {
            if still_dark(page).await? {
                tokio::time::sleep(std::time::Duration::from_millis(120)).await;
                continue;
            }
            answer_one(page, &tag, again, key).await?;
            // The page asks on when it has heard of its own answer.
            tokio::time::sleep(std::time::Duration::from_millis(60)).await;
            continue;
        }
        let Ok(heading) = found.text().await else { continue };
        if heading.starts_with("Everything") || heading.starts_with("Last round") {
            return Ok(orders);
        }
        if key {
            // Not taken: what the page shows is read anew.
            orders += usize::from(handles_are_moved(page).await?);
            continue;
        }
        let before = revision(page).await?;
        let word = if heading.starts_with("Move") { "Handles are moved" } else { "They are so" };
        if tap(page, "[aria-busy=false]", word).await? {
            changed(page, before).await?;
            orders += 1;
        }
    }
    anyhow::bail!("not done after 400 answers")
}

/// Types a space as a person does: into the field that has the focus, then Enter; the focus goes on by itself.
async fn type_space(page: &Page, space: &str, text: &str) -> Result<()> {
    until(&format!("the focus comes to space {space}"), async || {
        let focused = page.driver.active_element().await?;
        let label = focused.attr("id").await?.unwrap_or_default();
        let Ok(label) = page.driver.find(By::XPath(format!("//label[@for='{label}']"))).await else { return Ok(false) };
        let there = label.text().await?.starts_with(&format!("{space} ("));
        if there {
            focused.send_keys(text).await?;
            focused.send_keys(Key::Enter + "").await?;
        }
        Ok(there)
    })
    .await
}

async fn enter_house(page: &Page) -> Result<()> {
    page.click("New house").await?;
    page.shows("A new house").await?;
    page.is_accessible("new house").await?;
    page.fill("House", "Quill Cottage").await?;
    page.fill("Spaces", "many").await?;
    page.shows("\"many\" is not a number").await?;
    page.fill("Spaces", "12").await?;
    page.fill("Main breaker", "200").await?;
    page.click("Make the house").await?;
    page.shows("What stands in each space of Main").await?;
    // By keyboard alone from here: the first field, then Enter by Enter. Space 7 is passed over: the 2-pole takes it.
    page.field("1 (leg A)").await?.send_keys("").await?;
    page.driver.execute("document.querySelector('input[id]').focus()", vec![]).await?;
    page.field("1 (leg A)").await?.click().await?;
    let typed = [
        ("1", "20 kitchen"),
        ("2", "15 hall"),
        ("3", "20"),
        ("4", "15 gfci kitchen lights"),
        ("5", "2p50 dryer"),
        ("6", "20"),
        ("8", "20 bath"),
        ("9", "-"),
        ("10", "15 afci"),
        ("11", "-"),
        ("12", "-"),
    ];
    for (space, text) in typed {
        type_space(page, space, text).await?;
    }
    page.shows("12 of 12 spaces entered").await?;
    page.is_accessible("survey").await?;
    // Wrong input is told at once, and nothing is lost.
    let field = page.field("3 (leg B)").await?;
    field.send_keys(Key::Control + "a").await?;
    field.send_keys("900").await?;
    field.send_keys(Key::Enter + "").await?;
    page.shows("the breaker rating must be 1 to 400 A, not 900").await?;
    field.send_keys(Key::Escape + "").await?;
    ensure!(page.field("3 (leg B)").await?.prop("value").await?.as_deref() == Some("20"), "the old text is back");
    Ok(())
}

async fn enter_rooms(page: &Page) -> Result<()> {
    page.click("Kitchen").await?;
    page.shows("range hood").await?;
    page.click("more: range hood").await?;
    page.click("Add Kitchen").await?;
    page.shows("K13").await?;
    page.click("Hall").await?;
    page.click("Add Hall").await?;
    page.shows("H3").await?;
    page.shows("Often forgotten").await?;
    // One point too many, taken out again by undo in the log.
    page.click("sump pump?").await?;
    page.shows("Where is the sump pump?").await?;
    page.press("//*[@role='dialog']//button[.='Hall']").await?;
    page.shows("H4").await?;
    page.click("Log").await?;
    page.click("What was changed").await?;
    page.shows("points added").await?;
    page.is_accessible("changes").await?;
    page.press("(//button[starts-with(., 'Take back')])[1]").await?;
    page.shows("taken back").await
}

#[tokio::test(flavor = "multi_thread")]
async fn from_a_new_house_to_its_card() -> Result<()> {
    with_server(empty()?, async |base| {
        let page = Page::open(&base, "/", Screen::Desk).await?;
        enter_house(&page).await?;
        enter_rooms(&page).await?;

        page.click("Trace").await?;
        page.shows("Switch OFF").await?;
        page.is_accessible("trace: handles to move").await?;
        page.click("Handles are moved").await?;
        page.shows("Look at point 1 of").await?;
        page.is_accessible("trace: a point to look at").await?;
        // A wrong tap, taken back.
        page.keys("n").await?;
        page.shows("NOT SURE").await?;
        page.shows("Look at point 2 of").await?;
        page.click("Undo").await?;
        page.shows("Look at point 1 of").await?;
        ensure!(page.api("/api/v1/houses/1").await?["evidence"].as_array().is_some_and(Vec::is_empty), "undone");
        let tours = trace_to_the_end(&page, true).await?;
        ensure!(tours < 30, "{tours} tours");

        let beliefs = page.api("/api/v1/houses/1/beliefs").await?;
        for point in beliefs["points"].as_array().context("points")? {
            let tag = point["tag"].as_str().context("tag")?;
            ensure!(point["proven"] == true && point["candidates"][0]["at"] == truth(tag)?, "{tag}: {point}");
        }
        // At the end every handle is on again, as a step of its own.
        let all_on = async || -> Result<bool> {
            let house = page.api("/api/v1/houses/1").await?;
            Ok(house["breakers"].as_array().context("breakers")?.iter().all(|b| b["handle"] == "on"))
        };
        if !all_on().await? {
            page.click("They are on").await?;
        }
        page.shows("Every breaker is on").await?;
        ensure!(all_on().await?, "all on");
        page.shows("16 of 16 proven").await?;

        // A breaker chosen on the panel filters the map; a point chosen tells its breaker, why, and what else goes dark.
        page.press("//*[local-name()='g' and @role='button' and starts-with(*[local-name()='title'], 'Breaker 8,')]")
            .await?;
        page.shows("What breaker 8 feeds").await?;
        let map = page.find("//section[@aria-labelledby='map-title']").await?.text().await?;
        ensure!(map.contains("K11") && !map.contains("H3"), "8 feeds K10 and K11, not H3: {map}");
        page.click("K10").await?;
        page.shows("Proven: breaker 8").await?;
        page.shows("With 8 off also goes dark").await?;
        page.shows("DEAD by tester").await?;
        page.is_accessible("point").await?;
        page.click("Close").await?;

        page.click("Directory").await?;
        page.shows("Measure the pocket").await?;
        page.fill("Width", "1").await?;
        page.fill("Height", "1").await?;
        page.click("Make the card").await?;
        page.shows("in would do").await?;
        page.fill("Width", "4.25").await?;
        page.fill("Height", "9").await?;
        page.click("Make the card").await?;
        page.find("//*[@role='img']//*[local-name()='svg']").await?;
        page.shows("Kitchen range").await?;
        page.is_accessible("directory").await?;
        let pdf = page.find("//a[@download='card.pdf']").await?.attr("href").await?.context("a link")?;
        let script =
            "const done = arguments[1]; fetch(arguments[0]).then(r => r.blob()).then(b => done([b.type, b.size]));";
        let got = page.driver.execute_async(script, vec![pdf.into()]).await?.json().clone();
        ensure!(got[0] == "application/pdf" && got[1].as_u64() > Some(5000), "{got}");

        // Everything is there after the page is loaded anew.
        page.go("/houses/1/directory").await?;
        page.shows("16 of 16 proven").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_phone_traces_while_the_desk_looks_on() -> Result<()> {
    with_server(demo()?, async |base| {
        let desk = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        let phone = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        phone.shows("Move these handles").await?;
        phone.click("At the panel").await?;
        phone.shows("main 200 A").await?;
        phone.is_accessible("panel stance").await?;
        phone.click("Handles are moved").await?;
        phone.shows("Leave the handles as they are").await?;
        phone.click("In the rooms").await?;
        phone.shows("Look at point 1 of").await?;
        phone.is_accessible("rooms stance").await?;
        for name in ["LIVE", "DEAD", "NOT SURE", "At the panel", "End this tour"] {
            let size = phone.button(name).await?.rect().await?;
            ensure!(size.height >= 48.0, "{name} is {} px high", size.height);
        }
        desk.shows("Look at point 1 of").await?;
        phone.click("LIVE").await?;
        phone.shows("Look at point 2 of").await?;
        desk.shows("Look at point 2 of").await?;
        // Both at once, different points: neither is lost.
        desk.keys("d").await?;
        phone.shows("Look at point 3 of").await?;
        let house = phone.api("/api/v1/houses/1").await?;
        let step = &house["step"]["id"];
        let answers: Vec<_> =
            house["evidence"].as_array().context("evidence")?.iter().filter(|e| e["step"] == *step).collect();
        ensure!(answers.len() == 2, "{answers:?}");
        ensure!(answers[0]["who"] == "Phone" && answers[1]["who"] == "Desk", "{answers:?}");
        // Leaving off switches everything back on.
        phone.click("Stop for now").await?;
        phone.shows("Before you go").await?;
        phone.is_accessible("before you go").await?;
        phone.click("They are on").await?;
        phone.shows("Move these handles").await?;
        let house = phone.api("/api/v1/houses/1").await?;
        ensure!(house["breakers"].as_array().context("breakers")?.iter().all(|b| b["handle"] == "on"), "all on");
        phone.quit().await?;
        desk.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_must_stay_on_is_left_out_of_the_order() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Switch OFF").await?;
        let first = page.find("//li").await?.text().await?;
        let at = first.split_whitespace().next().context("a handle")?.to_owned();
        page.click("Crew and ways").await?;
        page.field("Must stay on").await?.send_keys(&at).await?;
        page.click(&format!("Main {at}")).await?;
        page.shows("stays on").await?;
        page.click("Done").await?;
        page.shows("Switch OFF").await?;
        until(&format!("{at} is no more to be switched off"), async || {
            let off = page.find("//ul[li]").await?.text().await?;
            Ok(!off.split_whitespace().any(|word| word == at))
        })
        .await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn two_people_at_the_same_breaker_do_not_overwrite_each_other() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        page.shows("30 of 30 spaces entered").await?;
        let field = page.field("1 (leg A)").await?;
        field.click().await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys("15 porch").await?;
        // Somebody else changes the same breaker between the first key and Enter.
        let other = "const done = arguments[0];
            const house = '/api/v1/houses/1';
            fetch(house).then(r => r.json()).then(h => {
                const breaker = { ...h.breakers.find(b => b.at[0] === '1' && b.panel === h.panels[0].id), label: 'pantry' };
                const body = JSON.stringify({ author: 'Ash', change: { type: 'put-breaker', breaker } });
                return fetch(house + '/changes', { method: 'POST', headers: { 'content-type': 'application/json' }, body });
            }).then(r => done(r.status));";
        let status = page.driver.execute_async(other, vec![]).await?.json().clone();
        ensure!(status == 200, "{status}");
        field.send_keys(Key::Enter + "").await?;
        page.shows("Ash changed the same since revision 0: theirs is the newer").await?;
        page.go("/houses/1/survey").await?;
        ensure!(page.field("1 (leg A)").await?.prop("value").await?.as_deref() == Some("20 12-2 pantry"), "the first stands");
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_breaker_is_entered_by_taps_on_the_drawn_panel() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Phone).await?;
        page.shows("30 of 30 spaces entered").await?;
        page.press("//*[local-name()='g' and @aria-label='Space 22, empty']").await?;
        page.shows("Amperes on the handle").await?;
        page.is_accessible("space by taps").await?;
        page.press("//*[@role='dialog']//button[.='15']").await?;
        page.press("//*[@role='dialog']//button[.='afci']").await?;
        page.fill("Old label", "loft").await?;
        page.click("Enter 15 afci loft").await?;
        let entered = "//*[local-name()='g' and @role='button' and starts-with(*[local-name()='title'], 'Breaker 22, 15 amperes, AFCI')]";
        page.find(entered).await?;
        // Two poles from the last space down have no room: said at once, nothing lost.
        page.press("//*[local-name()='g' and @aria-label='Space 30, empty']").await?;
        page.press("//*[@role='dialog']//*[@aria-label='Poles']//button[.='2']").await?;
        page.click("Enter 2p20").await?;
        page.shows("there is no room for 2 poles from space 30 down").await?;
        page.click("It is empty").await?;
        page.shows("30 of 30 spaces entered").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn points_are_edited_and_observations_taken_out() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        page.click("Edit K1").await?;
        page.shows("Point K1").await?;
        page.fill("Tag", "K2").await?;
        page.click("Save").await?;
        page.shows("the tag K2 is given twice").await?;
        page.fill("Tag", "KX1").await?;
        page.click("Save").await?;
        page.find("//*[@aria-label='Points of Kitchen']//*[.='KX1']").await?;
        // A whole room is taken out by mistake, and is back with one tap, evidence and all.
        page.click("Take out Kitchen").await?;
        page.shows("Kitchen taken out").await?;
        page.shows("3 of 44 proven").await?;
        page.click("Undo").await?;
        page.shows("11 of 56 proven").await?;
        // An observation that proved S2 is taken out: the proof goes with it, and comes back by undo.
        page.click("Trace").await?;
        page.click("S2").await?;
        page.shows("Proven: breaker Main 14-16").await?;
        page.press("(//table[@aria-label='Observations']//button)[1]").await?;
        page.shows("Not proven").await?;
        page.click("Close").await?;
        page.shows("10 of 56 proven").await?;
        page.leaves_the_button().await?;
        page.keys("z").await?;
        page.shows("11 of 56 proven").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_sub_panel_is_added_and_has_its_own_face_and_card() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        page.click("Add another panel").await?;
        page.fill("Panel", "Shed").await?;
        page.press("//*[@role='dialog']//*[@role='combobox' and contains(@aria-labelledby, 'label')]").await?;
        page.click("Main 19-21").await?;
        page.fill("Spaces", "4").await?;
        page.click("Add the panel").await?;
        page.shows("What stands in each space of Shed").await?;
        page.shows("0 of 4 spaces entered").await?;
        page.click("Directory").await?;
        page.shows("Give the size to see the card").await?;
        page.fill("Width", "3").await?;
        page.fill("Height", "4").await?;
        page.click("Make the card").await?;
        page.shows("not entered").await?;
        page.quit().await
    })
    .await
}

/// A house from the rows of a survey: breakers as `at,amps`, points as `tag,room,kind,volts`.
fn surveyed(spaces: u16, breakers: &[&str], points: &[String]) -> Result<std::sync::Arc<wayfinder_server::Hub>> {
    surveyed_in(&format!("panel,spaces\nMain,{spaces}\n"), breakers, points)
}

/// The same, with the panel as its file says.
fn surveyed_in(panels: &str, breakers: &[&str], points: &[String]) -> Result<std::sync::Arc<wayfinder_server::Hub>> {
    let rows = |head: &str, rows: Vec<String>| format!("{head}\n{}\n", rows.join("\n"));
    let breakers = rows("panel,at,amps", breakers.iter().map(|row| format!("Main,{row}")).collect());
    let points = rows("tag,room,kind,volts", points.to_vec());
    let survey = wayfinder_formats::survey::Survey::default()
        .with("panels.csv", panels)
        .with("breakers.csv", &breakers)
        .with("points.csv", &points);
    let refuse = wayfinder_formats::survey::BadRows::Refuse;
    let taken = wayfinder_formats::survey::import("Quill", &survey, jiff::Timestamp::UNIX_EPOCH, refuse);
    let hub = empty()?;
    hub.add_house(&taken.map_err(|faults| anyhow::anyhow!("{faults:?}"))?.house)?;
    Ok(hub)
}

/// A three-phase panel of 42 spaces that takes half-size breakers at its foot.
const LARGEST: &str = "panel,supply,spaces,tandem_spaces,max_circuits\nMain,wye-3ph,42,37-42,48\n";

/// A house with one receptacle and twelve breakers.
fn one_receptacle() -> Result<std::sync::Arc<wayfinder_server::Hub>> {
    let breakers: Vec<String> = (1..=12).map(|space| format!("{space},20")).collect();
    let breakers: Vec<&str> = breakers.iter().map(String::as_str).collect();
    surveyed(12, &breakers, &["H1,Hall,receptacle,120".to_owned()])
}

/// The house of [`TRUTH`].
fn true_house() -> Result<std::sync::Arc<wayfinder_server::Hub>> {
    let breakers = ["1,20", "2,15", "3,20", "4,15", "5-7,50", "6,20", "8,20", "10,15"];
    let point = |(tag, at): &(&str, &str)| {
        let room = if tag.starts_with('K') { "Kitchen" } else { "Hall" };
        let (kind, volts) = if *at == "5-7" { ("appliance", 240) } else { ("receptacle", 120) };
        format!("{tag},{room},{kind},{volts}")
    };
    surveyed(12, &breakers, &TRUTH.iter().map(point).collect::<Vec<_>>())
}

/// Every point is proven on the breaker that really feeds it.
async fn all_proven_right(page: &Page) -> Result<()> {
    let beliefs = page.api("/api/v1/houses/1/beliefs").await?;
    for point in beliefs["points"].as_array().context("points")? {
        let tag = point["tag"].as_str().context("tag")?;
        ensure!(point["proven"] == true && point["candidates"][0]["at"] == truth(tag)?, "{tag}: {point}");
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn where_nothing_may_be_switched_off_the_receiver_is_asked() -> Result<()> {
    with_server(one_receptacle()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Switch OFF").await?;
        let crew = "{\"people\":1,\"testers\":1,\"transmitter\":true,\"keep_on\":[1,2,3,4,5,6,7,8,9,10,11,12]}";
        page.driver.execute("localStorage.setItem('wayfinder.crew.1', arguments[0])", vec![crew.into()]).await?;
        page.go("/houses/1/trace").await?;
        page.shows("Put the transmitter into H1").await?;
        page.is_accessible("receiver").await?;
        page.press("//div[h2[starts-with(., 'Put the transmitter')]]//button[.='12']").await?;
        page.shows("receiver noted").await?;
        // It is said as it goes; the server has it a moment after.
        care::until_count(&page, 1).await?;
        let house = page.api("/api/v1/houses/1").await?;
        ensure!(house["evidence"][0]["observation"]["what"] == "pointed", "{}", house["evidence"]);
        let beliefs = page.api("/api/v1/houses/1/beliefs").await?;
        let point = &beliefs["points"][0];
        ensure!(point["candidates"][0]["at"] == "12" && point["proven"] == false, "pointing proves nothing: {point}");
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_second_device_joins_with_the_code() -> Result<()> {
    let all = if_addrs::get_if_addrs()?;
    let Some(ip) = all.into_iter().map(|i| i.ip()).find(|ip| ip.is_ipv4() && !ip.is_loopback()) else {
        println!("skipped: this machine has no network address to come from");
        return Ok(());
    };
    let (address, serving) = wayfinder_server::spawn((ip, 0).into(), demo()?).await?;
    let base = format!("http://{address}");
    let phone = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
    phone.shows("Join this Wayfinder").await?;
    phone.is_accessible("join").await?;
    phone.fill("Join code", "000000").await?;
    phone.click("Join").await?;
    phone.shows("this is not the join code").await?;
    phone.fill("Join code", wayfinder_e2e::CODE).await?;
    phone.click("Join").await?;
    phone.click("Thistledown School").await?;
    phone.shows("What feeds this?").await?;
    phone.click("Trace").await?;
    phone.shows("Move these handles").await?;
    phone.click("Handles are moved").await?;
    phone.click("LIVE").await?;
    phone.shows("Look at point 2 of").await?;
    phone.quit().await?;
    serving.abort();
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn keys_and_dark_are_at_hand() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/", Screen::Desk).await?;
        page.shows("2 panels; 11 of 56 points proven").await?;
        page.is_accessible("houses").await?;
        page.click("Thistledown School").await?;
        page.shows("What must I switch off?").await?;
        page.click("Trace").await?;
        page.shows("Switch OFF").await?;
        page.keys("?").await?;
        page.shows("take your last change back").await?;
        page.is_accessible("keys").await?;
        page.keys(Key::Escape + "").await?;
        page.click("Dark").await?;
        page.find("//button[.='Light']").await?;
        page.is_accessible("trace in the dark").await?;
        page.go("/houses/1/trace").await?;
        page.find("//button[.='Light']").await?;
        // By the Tab key alone the first breaker is reached and chosen.
        for _ in 0..40 {
            page.keys(Key::Tab + "").await?;
            let name = "return document.activeElement.querySelector('title')?.textContent ?? ''";
            if page.driver.execute(name, vec![]).await?.json().as_str().unwrap_or("").starts_with("Breaker 1,") {
                page.keys(Key::Enter + "").await?;
                page.shows("What breaker 1 feeds").await?;
                return page.quit().await;
            }
        }
        anyhow::bail!("the Tab key does not reach the panel's face")
    })
    .await
}

/// The value of an MUI select by its label: opens it and takes the option.
async fn choose(page: &Page, label: &str, option: &str) -> Result<()> {
    let label = format!("//*[contains(@class, 'MuiInputLabel') and starts-with(normalize-space(.), '{label}')]");
    page.press(&format!("{label}/following-sibling::*//*[@role='combobox']")).await?;
    page.press(&format!("//*[@role='option' and starts-with(normalize-space(.), '{option}')]")).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_three_phase_panel_with_tandems_is_entered_by_notation() -> Result<()> {
    let hub = surveyed_in(LARGEST, &[], &[])?;
    with_server(hub, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        page.shows("0 of 42 spaces entered").await?;
        // Legs by handbook 1.2 [def]: in three phase n divisible by 6, and n-1, is leg C.
        page.field("6 (leg C)").await?;
        page.field("1 (leg A)").await?.click().await?;
        let enter = |text: &str| format!("{text}{}", char::from(Key::Enter));
        for text in ["3p30 compressor", "20 12-2 lights", "2p20 12-3 pump", "20 gfci bath"] {
            page.keys(enter(text)).await?;
            page.shows(text.split(' ').next_back().unwrap_or(text)).await?;
        }
        // Enter went on: 1 takes 1-3-5, 2, 4-8 is refused as 2p at 4 reaches 6.
        page.shows("7 of 42 spaces entered").await?;
        page.field("37 (leg A)").await?.send_keys(enter("15 hall / 15 porch")).await?;
        page.shows("8 of 42 spaces entered").await?;
        page.field("38 (leg A)").await?.send_keys(enter("15 a / 2p20 heater / 15 b")).await?;
        page.shows("written at 38").await?;
        // What the panel cannot hold is refused with its reason, and recorded as found when one insists.
        page.field("9 (leg B)").await?.send_keys(enter("15 x / 15 y")).await?;
        page.shows("takes no half-size breakers").await?;
        let nine = page.field("9 (leg B)").await?;
        nine.send_keys(Key::Control + "a").await?;
        nine.send_keys(enter("15! x / 15! y")).await?;
        page.shows("11 of 42 spaces entered").await?;
        let house = page.api("/api/v1/houses/1").await?;
        let at: Vec<_> = house["breakers"].as_array().context("breakers")?.iter().map(|b| b["at"].clone()).collect();
        for poles in [serde_json::json!(["1", "3", "5"]), serde_json::json!(["38b", "40a"]), serde_json::json!(["9b"])]
        {
            ensure!(at.contains(&poles), "{poles} is not among {at:?}");
        }
        let face = page.api(&format!("/api/v1/houses/1/panels/{}/face", house["panels"][0]["id"])).await?;
        let marked =
            face["breakers"].as_array().context("face")?.iter().filter(|b| b["marks"] != serde_json::json!([]));
        ensure!(marked.count() == 2, "both halves at 9 are marked");
        page.is_accessible("survey of 42 spaces").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn three_rooms_are_drawn_with_doors_and_points() -> Result<()> {
    let points: Vec<String> =
        ["K1,Kitchen", "K2,Kitchen", "H1,Hall", "B1,Bath"].iter().map(|p| format!("{p},receptacle,120")).collect();
    with_server(surveyed(4, &["1,20"], &points)?, async |base| {
        let page = Page::open(&base, "/houses/1/plan", Screen::Desk).await?;
        page.shows("Draw a room").await?;
        page.is_accessible("an empty plan").await?;
        // By keyboard: three rooms by their sizes.
        page.fill("Width", "12'6\"").await?;
        page.fill("Depth", "wide").await?;
        page.click("Draw it").await?;
        page.shows("\"wide\" is not a length").await?;
        page.fill("Depth", "10'").await?;
        page.field("Depth").await?.send_keys(Key::Enter + "").await?;
        page.shows("12'6\" x 10'0\"").await?;
        for (room, size) in [("Hall", "6'0\" x 10'0\""), ("Bath", "5'0\" x 10'0\"")] {
            choose(&page, "Room", room).await?;
            let (width, depth) = size.split_once(" x ").context("size")?;
            page.fill("Width", width).await?;
            page.fill("Depth", depth).await?;
            page.click("Draw it").await?;
            page.find(&format!("//*[name()='title' and starts-with(., '{room}, ')]/..")).await?;
        }
        // A door in the kitchen's right wall.
        page.press("//*[name()='g' and *[name()='title' and starts-with(., 'Kitchen')]]").await?;
        page.shows("Door, window, stairs").await?;
        choose(&page, "Wall", "right").await?;
        page.fill("From its end", "4'").await?;
        page.click("Put it in the wall").await?;
        page.find("//*[name()='title' and .='door']/..").await?;
        // Points: one by a tap and the mouse, one by typing.
        page.press("//div[@role='button' and .='K1']").await?;
        let point = page.find("//*[name()='title' and starts-with(., 'K1')]/..").await?;
        page.driver.action_chain().move_to_element_center(&point).click_and_hold().perform().await?;
        page.shows("Point K1").await?;
        page.driver.action_chain().move_by_offset(0, -60).move_by_offset(0, -70).release().perform().await?;
        let spot = async || {
            let house = page.api("/api/v1/houses/1").await?;
            let point = house["points"].as_array().into_iter().flatten().find(|p| p["tag"] == "K1");
            Ok::<_, anyhow::Error>(point.map(|p| p["spot"].clone()).unwrap_or_default())
        };
        until("K1 is on the north wall", async || Ok(spot().await?["wall"] == "north")).await?;
        let house = page.api("/api/v1/houses/1").await?;
        let kitchen = house["rooms"].as_array().into_iter().flatten().find(|r| r["name"] == "Kitchen").cloned();
        ensure!(kitchen.context("kitchen")?["area"]["y"] == 0.0, "the room did not come along");
        // What was dragged is chosen: its form is there.
        page.shows("Point K1").await?;
        page.find("//input[@id=//label[starts-with(normalize-space(.), 'Place in the room')]/@for][starts-with(@value, 'north')]").await?;
        page.fill("Place in the room", "west 3'6\"").await?;
        page.click("Save").await?;
        until("K1 is on the west wall", async || {
            let now = spot().await?;
            Ok(now["wall"] == "west" && now["along"] == 42.0)
        })
        .await?;
        by_keys_alone(&page).await?;
        page.quit().await
    })
    .await
}

/// The plan is one tab stop; arrows go on to the next thing of it, and move what is held.
async fn by_keys_alone(page: &Page) -> Result<()> {
    let stops = page.driver.find_all(By::Css("svg[aria-label^=Plan] [tabindex='0']")).await?;
    ensure!(stops.len() == 1, "{} tab stops in a drawing", stops.len());
    let focused = async || Ok::<_, anyhow::Error>(page.driver.active_element().await?.text().await?);
    page.driver.execute("document.querySelector('svg[aria-label^=Plan] [tabindex=\"0\"]').focus()", Vec::new()).await?;
    let first = focused().await?;
    page.keys(Key::Right + "").await?;
    let next = focused().await?;
    ensure!(first != next, "the arrow went on from {first}");
    let places = async || {
        let house = page.api("/api/v1/houses/1").await?;
        let area = |r: &serde_json::Value| (r["name"].clone(), r["area"].clone());
        Ok::<_, anyhow::Error>(house["rooms"].as_array().context("rooms")?.iter().map(area).collect::<Vec<_>>())
    };
    let before = places().await?;
    page.keys(Key::Enter + "").await?;
    page.shows("hold it with Enter").await?;
    page.keys(Key::Down + "").await?;
    until(&format!("{next}, that is held, is moved by an arrow"), async || Ok(places().await? != before)).await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_answers_are_there_on_a_phone() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/off", Screen::Phone).await?;
        page.shows("Choose where you will work").await?;
        page.press("//input[@role='combobox']").await?;
        page.keys("K1 ").await?;
        page.press("//*[@role='option' and starts-with(normalize-space(.), 'K1 ')]").await?;
        page.keys(Key::Escape + "").await?;
        // The two circuits of the box, and the one that shares a neutral with one of them.
        for why in [
            "upper half (K1)",
            "lower half (K2), which shares the box of K1",
            "shares its neutral with Main 3",
            "0 V each",
        ] {
            page.shows(why).await?;
        }
        page.is_accessible("switch off").await?;
        page.click("Work").await?;
        page.press("//a[contains(., 'Something is dead')]").await?;
        page.shows("Choose what is dead").await?;
        page.press("(//input[@role='combobox'])[1]").await?;
        page.keys("K9").await?;
        page.press("//*[@role='option' and starts-with(normalize-space(.), 'K9 ')]").await?;
        page.keys(Key::Escape + "").await?;
        page.shows("Breaker Main 9 is off or tripped").await?;
        page.is_accessible("dead").await?;
        page.press("//button[contains(., 'brighter than usual')]").await?;
        page.shows("Stop: the neutral may be open").await?;
        page.press("//button[contains(., 'brighter than usual')]").await?;
        // One look answers for all handles: it is tapped on the panel, and is found.
        page.shows("which handles stand between ON and OFF").await?;
        page.press("//*[local-name()='g' and starts-with(*[local-name()='title'], 'Breaker 9,')]").await?;
        page.click("These: 1").await?;
        page.shows("Found").await?;
        page.is_accessible("found").await?;
        page.press("//a[contains(., 'Reset it, step by step')]").await?;
        page.shows("What was running when it tripped?").await?;
        page.press("//label[contains(., 'K9')]").await?;
        page.click("It tripped: note it").await?;
        page.shows("Unplug or switch off everything").await?;
        page.is_accessible("reset").await?;
        page.click("It holds").await?;
        page.shows("Add the loads back").await?;
        // Half way; after a reload it goes on where it stood.
        page.go(page.driver.current_url().await?.path()).await?;
        page.shows("Add the loads back").await?;
        page.press("//label[contains(., 'K9')]").await?;
        page.click("With these it tripped at once").await?;
        page.shows("This far, and no further").await?;
        page.shows("it has a short").await?;
        page.is_accessible("the end of a reset").await?;
        page.click("It tripped at once").await?;
        page.shows("a short or a fault to ground in the wiring").await?;
        page.click("Mended: try anew").await?;
        page.shows("Unplug or switch off everything").await?;
        page.click("House").await?;
        page.click("Log").await?;
        page.shows("running: Kitchen dishwasher (K9)").await?;
        page.shows("TRIPPED AT ONCE; nothing on").await?;
        page.is_accessible("log").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn anything_is_found_and_houses_are_put_away_and_taken_back() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Switch OFF").await?;
        page.keys("/").await?;
        page.fill("A tag, a thing", "disposal").await?;
        page.shows("K10 Kitchen, disposer").await?;
        page.shows("Also goes dark").await?;
        page.is_accessible("find").await?;
        page.keys(Key::Enter + "").await?;
        page.shows("How likely each feeds it").await?;
        page.keys(Key::Escape + "").await?;
        // Everything about a breaker, with a picture added to it.
        page.click("Find anything").await?;
        page.fill("A tag, a thing", "Main 19-21").await?;
        page.shows("Main 19-21, 20 A \"Shop\"").await?;
        page.keys(Key::Enter + "").await?;
        page.shows("14 AWG may stand behind 15 A at most").await?;
        let drawing = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/thistledown-school/main-label.svg");
        let drawing = std::fs::canonicalize(drawing)?;
        let input = page.driver.find(By::Css("[aria-labelledby='breaker-title'] input[type=file]")).await?;
        input.send_keys(drawing.to_string_lossy()).await?;
        let loaded = "return [...document.querySelectorAll(\"[aria-labelledby='breaker-title'] img\")].some(i => i.naturalWidth > 100)";
        until("the picture is shown", async || Ok(page.driver.execute(loaded, vec![]).await?.json() == true)).await?;
        page.is_accessible("breaker").await?;
        page.go("/").await?;
        page.click("More for Thistledown School").await?;
        page.click("Duplicate Thistledown School").await?;
        page.fill("Name of the copy", "Quill Cottage").await?;
        page.click("Make the copy").await?;
        page.shows("Quill Cottage").await?;
        page.click("More for Quill Cottage").await?;
        page.click("Throw away Quill Cottage").await?;
        page.shows("is thrown away").await?;
        page.click("Undo").await?;
        page.click("More for Quill Cottage").await?;
        page.find("//*[@aria-label='Put away Quill Cottage']").await?.click().await?;
        page.click("Put away or thrown away: 1").await?;
        page.fill("Search houses", "quill").await?;
        page.is_accessible("houses").await?;
        page.click("Take back Quill Cottage").await?;
        page.find("//*[@aria-label='More for Quill Cottage']").await?;
        page.quit().await
    })
    .await
}

/// What the demo's tester shows at the point that a page asks about: from the house's stand-in, over another page.
async fn demo_answer(asks: &Page, reads: &Page, tag: &str, nth: usize) -> Result<()> {
    let house = reads.api("/api/v1/houses/1").await?;
    let points = house["points"].as_array().context("points")?;
    let id = points.iter().find(|p| p["tag"] == tag).map(|p| p["id"].to_string()).context("no such point")?;
    let said = reads.api(&format!("/api/v1/houses/1/stand-in/{id}?tool=tester&nth={nth}")).await?;
    let seen = said["observation"]["seen"].as_str().context("the tester is silent")?;
    tap(asks, &format!("[data-look='{tag}']"), if seen == "dead" { "DEAD" } else { "LIVE" }).await?;
    Ok(())
}

/// Taps a button of a card in one go: what is shown may change at any moment, for another device asks too. A card that is
/// busy takes no tap.
async fn tap(page: &Page, card: &str, begins: &str) -> Result<bool> {
    let script = "const [card, begins] = arguments; \
                  const found = [...document.querySelectorAll(card + ' button')]; \
                  const button = found.find((b) => b.textContent.trim().startsWith(begins)); \
                  if (!button || button.closest('[aria-busy=true]')) return false; button.click(); return true;";
    let tapped = page.driver.execute(script, vec![card.into(), begins.into()]).await?;
    Ok(tapped.json().as_bool() == Some(true))
}

/// Answers a check of a switch or device: none was off.
async fn still_dark(page: &Page) -> Result<bool> {
    tap(page, "[data-ask]", "Still dark").await
}

async fn evidence_count(page: &Page) -> Result<usize> {
    Ok(page.api("/api/v1/houses/1").await?["evidence"].as_array().map_or(0, Vec::len))
}

// With two people the walker waits while handles are moved, and is told the moment they are; a fault is noted on the way
// and stands in the report; the run goes on to its end on both.
#[tokio::test(flavor = "multi_thread")]
async fn two_people_trace_a_house_to_its_end() -> Result<()> {
    with_server(true_house()?, async |base| {
        let panel = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        panel.click("At the panel").await?;
        let rooms = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        rooms.click("In the rooms").await?;
        rooms.click("Two people").await?;
        rooms.click("Begin a run").await?;
        rooms.shows("Handles are being moved").await?;
        panel.is_accessible("panel, order").await?;
        let mut faults = 0;
        for _ in 0..1000 {
            if still_dark(&rooms).await? {
                tokio::time::sleep(std::time::Duration::from_millis(120)).await;
            } else if let Some((tag, _)) = asked(&rooms).await? {
                if faults == 0 {
                    rooms.click("Note a fault").await?;
                    rooms.press("//li[@role='menuitem' and .='no ground']").await?;
                    faults += 1;
                }
                answer_one(&rooms, &tag, false, false).await?;
                tokio::time::sleep(std::time::Duration::from_millis(60)).await;
            } else {
                let script = "return [...document.querySelectorAll('h2')].map((h) => h.textContent).join(' ')";
                let headings = panel.driver.execute(script, vec![]).await?;
                if headings.json().as_str().is_some_and(|h| h.contains("can be proven")) {
                    break;
                }
                if asked(&rooms).await?.is_none() {
                    for button in ["Handles are moved", "They are so", "Nothing else is dead"] {
                        if tap(&panel, "main", button).await? {
                            break;
                        }
                    }
                }
                tokio::time::sleep(std::time::Duration::from_millis(80)).await;
            }
        }
        all_proven_right(&panel).await?;
        panel.shows("can be proven").await?;
        if let Ok(button) = panel.button("They are on").await {
            button.click().await?;
        }
        panel.shows("Every breaker is on").await?;
        panel.click("Report").await?;
        panel.shows("no ground").await?;
        panel.click("End the run").await?;
        panel.shows("No run is under way").await?;
        panel.quit().await?;
        rooms.quit().await
    })
    .await
}

// Part of the program cannot be fetched: the page says so and what to do, and the frame and all other pages stay.
#[tokio::test(flavor = "multi_thread")]
async fn a_page_that_cannot_be_fetched_says_so_and_the_frame_stays() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/", Screen::Desk).await?;
        let blocked = serde_json::json!({ "urls": ["*/registerSW.js", "*assets/directory-*"] });
        page.driver.cdp().send_raw("Network.setBlockedURLs", blocked).await?;
        page.go("/houses/1/directory").await?;
        page.shows("This page broke").await?;
        page.shows("Nothing was lost").await?;
        page.shows("11 of 56 proven").await?;
        page.is_accessible("a broken page").await?;
        page.click("Trace").await?;
        page.shows("Move these handles").await?;
        // The title and the focus have moved with the page.
        ensure!(page.driver.title().await? == "Trace: Thistledown School", "{}", page.driver.title().await?);
        let focused = page.driver.execute("return document.activeElement.tagName", vec![]).await?;
        ensure!(focused.json() == "MAIN", "the focus is on {}", focused.json());
        page.quit().await
    })
    .await
}

// The ways side by side, and the keys of the desk.
#[tokio::test(flavor = "multi_thread")]
async fn the_desk_compares_ways_and_traces_by_keys() -> Result<()> {
    with_server(demo()?, async |base| {
        let desk = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        desk.shows("Move these handles").await?;
        desk.keys("b").await?;
        desk.shows("outages so far").await?;
        desk.click("Crew and ways").await?;
        desk.shows("fixed halving rounds").await?;
        desk.shows("saves about").await?;
        desk.is_accessible("ways").await?;
        desk.press("//tr[contains(., 'one breaker at a time')]//button").await?;
        desk.click("Done").await?;
        until("the way is chosen", async || {
            Ok(desk.api("/api/v1/houses/1").await?["runs"][0]["crew"]["method"] == "one-at-a-time")
        })
        .await?;
        desk.leaves_the_button().await?;
        desk.keys("o").await?;
        desk.find("//*[@data-look]").await?;
        let step = desk.api("/api/v1/houses/1").await?["step"].clone();
        ensure!(step["off"].as_array().is_some_and(|off| off.len() == 1), "one at a time: {step}");
        desk.quit().await
    })
    .await
}

// A house opens on what people come for; from there a phone reaches every page, and nothing is wider than the phone.
#[tokio::test(flavor = "multi_thread")]
async fn a_house_opens_on_today_and_a_phone_reaches_every_page() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1", Screen::Phone).await?;
        for said in ["What feeds this?", "What must I switch off?", "Something is dead", "It tripped", "Under way"] {
            page.shows(said).await?;
        }
        page.shows("45 points to trace").await?;
        page.is_accessible("today on a phone").await?;
        // The breaker that tripped is chosen where it stands, by what it feeds.
        page.click("It tripped").await?;
        page.shows("which one?").await?;
        page.is_accessible("which one tripped").await?;
        let range =
            "//*[local-name()='g' and @role='button'][contains(*[local-name()='title'], 'proven: Kitchen range (K7)')]";
        page.press(range).await?;
        page.shows("What was running when it tripped?").await?;
        page.click("Today").await?;
        page.click("What feeds this?").await?;
        page.fill("A tag, a thing", "disposer").await?;
        page.shows("K10 Kitchen, disposer").await?;
        let wide = "return document.documentElement.scrollWidth > window.innerWidth";
        for (door, said) in [
            ("Panels and rooms", "Tap a space to say what stands there"),
            ("Plan", "Kitchen"),
            ("Loads", "legs"),
            ("Directory", "The card on the door"),
            ("Log", "Ground-fault devices to test"),
        ] {
            page.click("House").await?;
            page.shows("Back everything up").await?;
            page.click(door).await?;
            page.shows(said).await?;
            ensure!(page.driver.execute(wide, vec![]).await?.json() == false, "{door} is wider than the phone");
        }
        page.click("What was changed").await?;
        page.shows("Your name in the log").await?;
        page.is_accessible("changes on a phone").await?;
        page.quit().await
    })
    .await
}

// The panel's face speaks: what a breaker feeds in words, an old label as what it is, and, while an order stands, what to move.
#[tokio::test(flavor = "multi_thread")]
async fn the_face_says_what_each_breaker_feeds() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Ask first: ").await?;
        page.shows("Cellar (4), Cloakroom (2)").await?;
        let face = page.find("//*[local-name()='svg'][@aria-label='Panel Main']").await?;
        let said = face.text().await?;
        ensure!(said.matches("SWITCH OFF").count() == 5, "five handles of Main are to be moved: {said}");
        page.click("House").await?;
        page.shows("30 of 30 spaces entered").await?;
        let said = page.find("//*[local-name()='svg'][@aria-label='Panel Main']").await?.text().await?;
        for words in ["Kitchen range", "Laundry dryer?", "Panel Bakehouse", "old label “Loft”"] {
            ensure!(said.contains(words), "{words}: {said}");
        }
        ensure!(!said.contains("K7"), "tags are for plates: {said}");
        page.quit().await
    })
    .await
}

// A first visitor sees what this is; the demo is copied in; a file that is no house is refused in words.
#[tokio::test(flavor = "multi_thread")]
async fn a_house_is_brought_or_the_demo_looked_at() -> Result<()> {
    with_server(empty()?, async |base| {
        let page = Page::open(&base, "/", Screen::Phone).await?;
        page.shows("Find out which breaker feeds each outlet").await?;
        page.is_accessible("no house yet").await?;
        page.click("Bring a house").await?;
        page.shows("or their folder as a zip").await?;
        let folder = tempfile::tempdir()?;
        let choose = async |name: &str, text: &str| -> Result<()> {
            let file = folder.path().join(name);
            std::fs::write(&file, text)?;
            let input = page.driver.find(thirtyfour::By::Css("input[type=file]")).await?;
            input.send_keys(file.display().to_string()).await?;
            Ok(())
        };
        choose("holiday.csv", "sun").await?;
        page.shows("none of these is a house file").await?;
        let house = wayfinder_core::House::new("Quill Cottage");
        choose("quill.wayfinder.json", &wayfinder_formats::house_file::write(&house)?).await?;
        page.shows("Enter the panel").await?;
        page.go("/").await?;
        page.shows("Quill Cottage").await?;
        page.click("Look at the demo house").await?;
        page.shows("45 points to trace").await?;
        page.quit().await
    })
    .await
}

// What people write who read of no notation is understood; a slip is asked about, and entered once more it is taken.
#[tokio::test(flavor = "multi_thread")]
async fn a_slip_in_a_space_is_asked_about_once() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        page.shows("30 of 30 spaces entered").await?;
        let enter = char::from(Key::Enter).to_string();
        let field = page.field("22 (leg A)").await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(format!("20 amp porch{enter}")).await?;
        page.shows("Space 22: 20 porch").await?;
        let field = page.field("30 (leg A)").await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(format!("7{enter}")).await?;
        page.shows("7 A is no usual rating").await?;
        page.is_accessible("a question in a space").await?;
        page.field("30 (leg A)").await?.send_keys(enter).await?;
        page.shows("Space 30: 7").await?;
        page.quit().await
    })
    .await
}

// Alone: the handles are moved, and the way into the rooms is one press.
#[tokio::test(flavor = "multi_thread")]
async fn alone_at_the_panel_the_rooms_are_one_press_away() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.click("At the panel").await?;
        page.click("Handles are moved").await?;
        page.press("//button[starts-with(normalize-space(.), 'Go to ')]").await?;
        page.shows("Look at point 1 of").await?;
        page.go("/houses/1/history").await?;
        page.shows("handles moved").await?;
        let back = page.find("//button[starts-with(@aria-label, 'Take back')]").await?;
        let right = back.rect().await?;
        ensure!(right.x + right.width <= 390.0, "the way back is on the screen: {right:?}");
        page.is_accessible("changes on a phone").await?;
        page.quit().await
    })
    .await
}

// What a page asks for is answered on the drawings: its head says what to tap, its foot says in words what is chosen, and what is dead
// and what works is told on one plan.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_asked_is_answered_on_the_drawings() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/replace", Screen::Desk).await?;
        let body =
            |nth: usize| format!("(//*[local-name()='svg'][@aria-label='Panel Main']//*[@role='button'])[{nth}]");
        page.shows("Tap the breaker").await?;
        page.press(&body(1)).await?;
        page.find(&format!("{}[@aria-pressed='true']", body(1))).await?;
        page.shows("Write it down").await?;

        page.go("/houses/1/off").await?;
        page.click("on a circuit").await?;
        page.shows("Tap the breaker whose circuit you will work on").await?;
        page.press(&body(1)).await?;
        page.shows("K1").await?;
        page.is_accessible("a circuit chosen on the panel").await?;

        page.go("/houses/1/find").await?;
        page.press(&body(1)).await?;
        page.find("//*[@role='status'][contains(., '1 Kitchen counter receptacles')]").await?;
        page.click("Open breaker 1").await?;
        page.shows("Breaker 1, 20 A").await?;
        page.keys(Key::Escape + "").await?;
        // The index of the house: filtered, and in another order.
        page.fill("Only what has this in it", "kettle").await?;
        page.shows("1 of 56").await?;
        page.click("By breaker").await?;
        page.find("//th[.='Breaker Main 1']").await?;
        page.is_accessible("the index").await?;

        page.go("/houses/1/dead").await?;
        let on =
            |tag: &str| format!("//*[local-name()='g' and @role='checkbox' and starts-with(@aria-label, '{tag}')]");
        page.press(&on("K3")).await?;
        page.click("✓ works").await?;
        page.press(&on("K7")).await?;
        page.find("//*[@role='checkbox' and @aria-label='K3, dead' and @aria-checked='false']").await?;
        page.find("//*[@role='checkbox' and @aria-label='K7' and @aria-checked='true']").await?;
        // It works after all.
        page.press(&on("K3")).await?;
        page.find("//*[@role='checkbox' and @aria-label='K3' and @aria-checked='true']").await?;
        page.is_accessible("one plan, two brushes").await?;
        page.quit().await
    })
    .await
}
