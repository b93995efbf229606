//! Other tools than a look, what must stay on for a time, and the search that ends a run.

use anyhow::{Context, Result, ensure};
use serde_json::{Value, json};
use wayfinder_e2e::{Page, Screen, demo, until, with_server};

use super::{
    all_proven_right, care, changed, choose, one_receptacle, revision, surveyed, trace_to_the_end, true_house,
};

/// Opens a house with a crew as this browser keeps it.
async fn open_with(base: &str, crew: Value, screen: Screen) -> Result<Page> {
    let page = Page::open(base, "/houses/1/trace", screen).await?;
    page.driver
        .execute("localStorage.setItem('wayfinder.crew.1', arguments[0])", vec![json!(crew.to_string())])
        .await?;
    page.go("/houses/1/trace").await?;
    Ok(page)
}

/// All that was observed, oldest first.
async fn observations(page: &Page) -> Result<Vec<Value>> {
    let house = page.api("/api/v1/houses/1").await?;
    let all = house["evidence"].as_array().context("evidence")?;
    Ok(all.iter().map(|e| e["observation"].clone()).collect())
}

// handbook 2.1: a radio at full volume is heard at the panel; no walk for that point.
#[tokio::test(flavor = "multi_thread")]
async fn alone_a_radio_is_left_in_a_room_and_heard_at_the_panel() -> Result<()> {
    with_server(true_house()?, async |base| {
        let crew = json!({ "people": 1, "testers": 1, "radio": true, "keep_on": [] });
        let page = open_with(&base, crew, Screen::Phone).await?;
        page.shows("Move these handles").await?;
        trace_to_the_end(&page, false).await?;
        all_proven_right(&page).await?;
        let heard = observations(&page).await?.iter().filter(|o| o["how"] == "radio").count();
        ensure!(heard >= 2, "left once, heard {heard} times");
        page.quit().await
    })
    .await
}

// Somebody alone with several lamps leaves them where most is open, and looks from the door from then on.
#[tokio::test(flavor = "multi_thread")]
async fn alone_lamps_are_left_in_the_rooms() -> Result<()> {
    with_server(true_house()?, async |base| {
        let crew = json!({ "people": 1, "testers": 4, "keep_on": [] });
        let page = open_with(&base, crew, Screen::Phone).await?;
        page.shows("Move these handles").await?;
        trace_to_the_end(&page, false).await?;
        all_proven_right(&page).await?;
        let house = page.api("/api/v1/houses/1").await?;
        let all = house["evidence"].as_array().context("evidence")?;
        let lit: Vec<&Value> = all.iter().filter(|e| e["observation"]["how"] == "lamp").map(|e| &e["point"]).collect();
        let twice = lit.iter().any(|p| lit.iter().filter(|q| *q == p).count() > 1);
        ensure!(twice && lit.len() < all.len(), "one was left and seen again: {lit:?} of {}", all.len());
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_known_load_names_its_circuit_where_nothing_may_be_switched() -> Result<()> {
    with_server(one_receptacle()?, async |base| {
        let kept: Vec<u32> = (1..=12).collect();
        let crew = json!({ "people": 1, "testers": 1, "monitor": true, "keep_on": kept });
        let page = open_with(&base, crew, Screen::Desk).await?;
        page.shows("Switch a load on at H1").await?;
        page.is_accessible("known load").await?;
        // A number is needed, and what was typed stays.
        page.fill("It rose by", "much").await?;
        page.shows("\"much\" is not a number").await?;
        ensure!(!page.find("//*[@data-load]//button[.='12']").await?.is_enabled().await?, "no number, no answer");
        page.fill("It rose by", "11,8").await?;
        page.press("//*[@data-load]//button[.='12']").await?;
        page.shows("rise noted").await?;
        care::until_count(&page, 1).await?;
        let told = observations(&page).await?;
        ensure!(told[0] == json!({ "what": "rise", "at": told[0]["at"], "expected": 12.5, "rose": 11.8 }), "{told:?}");
        let point = page.api("/api/v1/houses/1/beliefs").await?["points"][0].clone();
        ensure!(point["candidates"][0]["at"] == "12" && point["proven"] == false, "a rise proves nothing: {point}");
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn with_a_clamp_the_wires_come_in_turn_and_none_is_an_answer() -> Result<()> {
    with_server(one_receptacle()?, async |base| {
        let kept: Vec<u32> = (1..=12).collect();
        let crew = json!({ "people": 2, "testers": 1, "clamp": true, "keep_on": kept });
        let page = open_with(&base, crew, Screen::Desk).await?;
        page.shows("Cover off: qualified people only").await?;
        page.click("On none of these").await?;
        page.shows("no rise").await?;
        until("all eight are kept", async || Ok(observations(&page).await?.len() == 8)).await?;
        let told = observations(&page).await?;
        ensure!(told.len() == 8 && told.iter().all(|o| o["what"] == "rise" && o["rose"] == 0.0), "{told:?}");
        let candidates = page.api("/api/v1/houses/1/beliefs").await?["points"][0]["candidates"].clone();
        let ruled_out: Vec<&Value> = told.iter().map(|o| &o["at"]).collect();
        ensure!(!ruled_out.contains(&&candidates[0]["breaker"]), "what did not rise is believed less: {candidates}");
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_run_ends_with_the_search_for_what_is_on_no_list() -> Result<()> {
    let points = ["K1,Kitchen,receptacle,120", "K2,Kitchen,receptacle,120", "H1,Hall,receptacle,120"];
    let hub = surveyed(12, &["1,20", "2,15", "3,20", "6,15", "8,15"], &points.map(String::from))?;
    with_server(hub, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Move these handles").await?;
        page.keys("b").await?;
        page.shows("0 of 5 breakers’ lists complete").await?;
        trace_to_the_end(&page, true).await?;
        all_proven_right(&page).await?;
        // 6 and 8 feed nothing: off together, and a walk through.
        page.shows("these feed nothing on the list").await?;
        page.keys("o").await?;
        page.shows("what else is dead?").await?;
        page.shows("smoke alarm").await?;
        page.is_accessible("search").await?;
        let before = revision(&page).await?;
        page.click("Nothing else is dead").await?;
        changed(&page, before).await?;
        page.click("They are on").await?;
        page.shows("Every breaker is on").await?;
        page.shows("5 of 5 breakers’ lists complete").await?;
        page.click("Report").await?;
        page.shows("searched, nothing else was dead").await?;
        let house = page.api("/api/v1/houses/1").await?;
        ensure!(house["runs"][0]["searched"].as_array().is_some_and(|s| s.len() == 2), "{}", house["runs"]);
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_must_stay_on_for_an_hour_goes_into_the_run_with_its_time() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Alone, 1 tester, a few off at once").await?;
        page.click("Crew and ways").await?;
        page.field("Must stay on").await?.send_keys("Main 1").await?;
        page.click("Main 1 “Kitchen”").await?;
        choose(&page, "Main 1 “Kitchen” stays on", "for an hour").await?;
        page.shows("until").await?;
        choose(&page, "Walking", "spare most").await?;
        page.is_accessible("crew").await?;
        page.click("Done").await?;
        page.shows("1 must stay on").await?;
        page.click("Begin a run").await?;
        page.shows("outages so far").await?;
        let house = page.api("/api/v1/houses/1").await?;
        let crew = &house["runs"][0]["crew"];
        ensure!(crew["keep_until"][0]["breaker"] == crew["keep_on"][0], "{crew}");
        let until: jiff::Timestamp = crew["keep_until"][0]["until"].as_str().context("a time")?.parse()?;
        let minutes = until.duration_since(jiff::Timestamp::now()).as_secs_f64() / 60.0;
        ensure!((55.0..=61.0).contains(&minutes) && crew["walking"] == 3, "{crew}");
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_known_otherwise_is_added_at_the_point() -> Result<()> {
    with_server(one_receptacle()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.press("//table//button[.='H1']").await?;
        page.click("Add what you know").await?;
        page.is_accessible("add what you know").await?;
        choose(&page, "Breaker", "7").await?;
        page.fill("Who says so", "Wren").await?;
        page.click("Add").await?;
        page.shows("by somebody's word").await?;
        page.click("Add what you know").await?;
        choose(&page, "What", "a load here raised the current of").await?;
        choose(&page, "Breaker", "9").await?;
        ensure!(!page.button("Add").await?.is_enabled().await?, "by how much is missing");
        page.fill("It rose by", "12.1").await?;
        page.click("Add").await?;
        until("both are kept", async || Ok(observations(&page).await?.len() == 2)).await?;
        let house = page.api("/api/v1/houses/1").await?;
        ensure!(house["evidence"][0]["who"] == "Wren" && house["evidence"][0]["observation"]["how"] == "word");
        ensure!(house["evidence"][1]["observation"]["rose"] == 12.1, "{}", house["evidence"]);
        let first = page.api("/api/v1/houses/1/beliefs").await?["points"][0]["candidates"][0].clone();
        ensure!(first["at"] == "9", "a measured rise weighs more than a word: {first}");
        page.quit().await
    })
    .await
}
