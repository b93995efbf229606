//! Work in the panel: planned at the desk, done by phone, stopped by a wrong reading, left and gone on with.

use std::collections::BTreeSet;

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use thirtyfour::prelude::*;
use wayfinder_core::house::{BreakerId, Evidence, EvidenceId, House, Observation, Seen, Way};
use wayfinder_e2e::{Page, Screen, demo, empty, quoted, until, with_server};
use wayfinder_server::Hub;

/// The step that is next, of the newest job.
async fn next(page: &Page, job: &str) -> Result<Value> {
    let shown = page.api(&format!("/api/v1/houses/1/jobs/{job}")).await?;
    let at = shown["now"]["next"].as_u64().context("the job has ended")?;
    Ok(shown["job"]["steps"][usize::try_from(at)?].clone())
}

/// Waits until another step is next, or the job has ended.
async fn moved_on(page: &Page, job: &str, from: &Value) -> Result<()> {
    let done = format!("{from} is done");
    until(&done, async || Ok(next(page, job).await.map_or(true, |now| now["key"] != from["key"]))).await
}

/// Does the next step on screen: ticked, or read with the stand-in meter.
async fn one(page: &Page, job: &str) -> Result<Value> {
    let step = next(page, job).await?;
    // Its card: the list beside it names every step at any time, and a click would then meet the card of the one before.
    page.find(&format!("//h2[normalize-space(.)={}]", quoted(step["do"].as_str().context("a step")?))).await?;
    if step["hold"].is_null() {
        page.click("Done").await?;
    } else {
        page.click("Read the stand-in").await?;
        page.press("//button[normalize-space(.)='Enter' and not(@disabled)]").await?;
    }
    moved_on(page, job, &step).await?;
    Ok(step)
}

async fn to_the_end(page: &Page, job: &str) -> Result<usize> {
    for steps in 0..80 {
        if next(page, job).await.is_err() {
            return Ok(steps);
        }
        one(page, job).await?;
    }
    anyhow::bail!("it does not end")
}

async fn choose(page: &Page, label: &str, option: &str) -> Result<()> {
    page.press(&format!(
        "//*[contains(@class, 'MuiInputLabel-root')][contains(., '{label}')]/following::div[@role='combobox'][1]"
    ))
    .await?;
    // What begins so, or is just that.
    let begins =
        format!("starts-with(normalize-space(.), '{option} ') or starts-with(normalize-space(.), '{option}:')");
    page.press(&format!("//li[@role='option'][{begins} or normalize-space(.) = '{option}']")).await
}

/// The number of the job that the address names.
async fn job_of(page: &Page) -> Result<String> {
    let address = page.driver.current_url().await?;
    Ok(address.path_segments().and_then(Iterator::last).context("a job")?.to_owned())
}

// Make room for a second deck oven in the full panel: three ways, the best drawn; begun at the desk, done to its end with the
// stand-in meter; the card is stale by what changed.
#[tokio::test(flavor = "multi_thread")]
async fn a_second_deck_oven_gets_room_in_a_full_panel() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/work", Screen::Desk).await?;
        page.shows("What must I switch off?").await?;
        page.is_accessible("work").await?;
        page.press("//a[normalize-space(.)='An outlet for one large thing']").await?;
        page.fill("What is it?", "second deck oven").await?;
        choose(&page, "In which room", "Bakehouse annex").await?;
        page.shows("What does its nameplate say").await?;
        page.fill("Nameplate (A)", "400").await?;
        page.shows("no single cable carries 400 A").await?;
        page.fill("Nameplate (A)", "40").await?;
        page.press("//label[contains(., 'three hours')]").await?;
        page.shows("Does it take a neutral?").await?;
        choose(&page, "Takes a neutral", "no").await?;
        page.shows("2 ways, the least trouble first").await?;
        page.shows("Move 24 to 30; it goes to 22-24 (chosen)").await?;
        // What shall not be touched is left out, and taken back.
        page.press("//li[contains(., 'Move 24 to 30')]//button").await?;
        page.shows("Left as it is: 24").await?;
        page.shows("(chosen)").await?;
        page.press("//button[contains(., 'Take back')]").await?;
        page.shows("Move 24 to 30; it goes to 22-24 (chosen)").await?;
        page.shows("breaker, 2 poles, 50 A").await?;
        page.is_accessible("plan").await?;
        // Another way is drawn by a tap, and back.
        page.press("//button[@role='radio'][2]").await?;
        page.shows("tandem breaker").await?;
        page.press("//button[@role='radio'][1]").await?;
        page.click("Begin this job").await?;
        page.shows("The whole panel is live").await?;
        let job = job_of(&page).await?;
        page.is_accessible("job").await?;
        let steps = to_the_end(&page, &job).await?;
        ensure!(steps > 25, "{steps}");
        page.shows("Done: its last check passed").await?;
        let house = page.api("/api/v1/houses/1").await?;
        let at = |poles: Value| house["breakers"].as_array().into_iter().flatten().any(|b| b["at"] == poles);
        ensure!(at(serde_json::json!(["22", "24"])) && at(serde_json::json!(["30"])), "as planned");
        // The log has one line of it, which opens to the protocol.
        page.go("/houses/1/log").await?;
        page.shows("An outlet for second deck oven").await?;
        page.press("//*[p[contains(., 'second deck oven')]]/a[contains(., 'protocol')]").await?;
        page.shows("240.").await?;
        page.shows("Protocol (PDF)").await?;
        page.quit().await
    })
    .await
}

// On a phone: a refusal is a button to the job that would do; a sub-panel is worked out at once, with what moves over to it.
#[tokio::test(flavor = "multi_thread")]
async fn a_refusal_leads_to_another_job_and_a_sub_panel_is_planned_on_a_phone() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/work", Screen::Phone).await?;
        let house = page.api("/api/v1/houses/1").await?;
        let at = |space: &str| {
            let all = house["breakers"].as_array().into_iter().flatten();
            all.clone()
                .find(|b| b["at"] == serde_json::json!([space]))
                .and_then(|b| b["id"].as_u64())
                .context("a breaker")
        };
        page.go(&format!("/houses/1/plan-work/convert?breaker={}", at("23")?)).await?;
        page.shows("Not so:").await?;
        page.press("//a[contains(., 'Plan instead: A new circuit')]").await?;
        page.shows("What is it?").await?;
        page.go("/houses/1/plan-work/sub-panel").await?;
        page.fill("It has", "12").await?;
        page.shows("moves over to the new panel").await?;
        page.shows("breaker for the feeder, 2 poles, 60 A").await?;
        page.is_accessible("a sub-panel planned").await?;
        page.quit().await
    })
    .await
}

// The demo's job half way: gone on with by phone; a wrong reading closes the way, a reload and another page change nothing.
#[tokio::test(flavor = "multi_thread")]
async fn a_breaker_is_replaced_by_phone_with_a_wrong_reading_and_a_stop() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.shows("Work stopped:").await?;
        page.press("//a[normalize-space(.)='To it']").await?;
        page.shows("Stopped by Wren").await?;
        page.is_accessible("a job that was stopped").await?;
        page.click("Go on with it").await?;
        while next(&page, "1").await?["key"] != "dead-bus" {
            one(&page, "1").await?;
        }
        page.shows("Main is off as a whole").await?;
        page.is_accessible("a hold point").await?;
        // Whoever traces meanwhile is sent to no handle of it, and reads why.
        page.go("/houses/1/trace").await?;
        page.shows("What is off for that stays as it is").await?;
        page.shows("Every breaker that nobody holds off is on").await?;
        page.is_accessible("tracing while somebody works").await?;
        page.press("//a[normalize-space(.)='To it']").await?;
        page.fill("Read (V)", "-1").await?;
        page.click("Enter").await?;
        page.shows("is below 0, and V are never that").await?;
        // What could be either of two numbers is asked about, and one press says which.
        page.fill("Read (V)", "1,200").await?;
        page.click("Enter").await?;
        page.shows("may be 1200 V or 1.2 V: which is it?").await?;
        ensure!(next(&page, "1").await?["key"] == "dead-bus", "nothing was taken");
        page.fill("Read (V)", "38").await?;
        page.find("//*[local-name()='svg' and contains(@aria-label, '38 V, outside the band')]").await?;
        page.click("Enter").await?;
        page.shows("read again in low-impedance mode").await?;
        page.press("//label[contains(., 'low-impedance')]").await?;
        page.fill("Read (V)", "38").await?;
        page.click("Enter").await?;
        page.shows("It is fed from somewhere").await?;
        page.shows("Show again that it is dead: a reading after it did not pass").await?;
        ensure!(next(&page, "1").await?["key"] == "source-before", "the meter is tested first");
        page.click("Stop here …").await?;
        page.shows("Leave it safe").await?;
        page.fill("Why, for whoever comes next", "38 V on the bus").await?;
        page.click("It is safe: stop here").await?;
        page.shows("Stopped by").await?;
        // Another page, anew: it says what is off and why.
        page.go("/houses/1/loads").await?;
        page.shows("38 V on the bus").await?;
        page.press("//a[normalize-space(.)='To it']").await?;
        page.click("Go on with it").await?;
        page.shows("the work was left, and anything may have come on meanwhile").await?;
        while next(&page, "1").await?["key"] != "dead-bus" {
            one(&page, "1").await?;
        }
        // What did not pass needs a reason before a reading opens the next step.
        page.find("//label[contains(., 'What was wrong, or what was done since')]").await?;
        page.click("Read the stand-in").await?;
        page.press("//button[normalize-space(.)='Enter' and not(@disabled)]").await?;
        page.shows("say what was wrong with it").await?;
        ensure!(next(&page, "1").await?["key"] == "dead-bus", "the right number alone opens nothing");
        page.fill("What was wrong, or what was done since", "the lead was on the wrong bar").await?;
        one(&page, "1").await?;
        // Ticked too soon: taken back.
        let before = next(&page, "1").await?;
        one(&page, "1").await?;
        let after = next(&page, "1").await?;
        page.press("//button[normalize-space(.)='Last step not done' and not(@disabled)]").await?;
        moved_on(&page, "1", &after).await?;
        ensure!(next(&page, "1").await? == before);
        to_the_end(&page, "1").await?;
        page.shows("Done: its last check passed").await?;
        page.shows("Print the card").await?;
        page.shows("Plate labels and wire tags").await?;
        page.quit().await
    })
    .await
}

// What stands against a job is said with its rule and what would be possible instead.
#[tokio::test(flavor = "multi_thread")]
async fn a_second_outlet_on_the_circuit_keeps_it_from_being_converted() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/convert", Screen::Phone).await?;
        page.shows("Fill in what is known").await?;
        // What is asked for is tapped on the panel, as well as chosen.
        page.press("//*[name()='g'][@role='button'][*[name()='title'][starts-with(., 'Breaker 17,')]]").await?;
        page.shows("17 feeds").await?;
        choose(&page, "The breaker", "Main 23").await?;
        page.shows("23 feeds 3 places").await?;
        page.shows("Instead: a new circuit for the one").await?;
        page.is_accessible("a refusal").await?;
        page.go("/houses/1/plan-work/combine").await?;
        page.shows("only what is known is combined").await?;
        page.go("/houses/1/plan-work/balance").await?;
        page.shows("nothing less is possible").await?;
        page.quit().await
    })
    .await
}

/// The demo house with all of its tracing done, as its hidden truth has it.
fn traced() -> Result<std::sync::Arc<Hub>> {
    let mut house = wayfinder_server::demo::house().map_err(|faults| anyhow::anyhow!("{faults:?}"))?;
    let truth = wayfinder_server::demo::truth(&house)?;
    house.evidence = Default::default();
    house.about.every_panel = true;
    let all: BTreeSet<BreakerId> = house.breakers.iter().map(|b| b.id).collect();
    let mut id = 0;
    for (point, feeder) in &truth.truth {
        let Some(feeder) = *feeder else { continue };
        let above = house.fed_through();
        let dark = |b: &BreakerId| above.get(b).is_some_and(|all| all.contains(&feeder));
        let others: BTreeSet<BreakerId> = all.iter().copied().filter(|b| !dark(b)).collect();
        let (own, seen): (BTreeSet<BreakerId>, _) = ([feeder].into(), [(true, Seen::Dead), (false, Seen::Live)]);
        for (is_own, seen) in seen.repeat(2) {
            let off = if is_own { own.clone() } else { others.clone() };
            id += 1;
            let observation = Observation::Power { off, seen, how: Way::Tester };
            let (time, who) = (jiff::Timestamp::UNIX_EPOCH, "Wren".to_owned());
            house.evidence.put(Evidence { id: EvidenceId(id), point: *point, time, who, step: None, observation });
        }
    }
    let hub = empty()?;
    let id = hub.add_house(&house)?;
    hub.set_stand_in(id, truth);
    Ok(hub)
}

// Two light circuits share a breaker, what was between moves, and the new circuit has its place: all in one job.
#[tokio::test(flavor = "multi_thread")]
async fn circuits_are_combined_and_others_moved_for_a_new_one() -> Result<()> {
    with_server(traced()?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/combine", Screen::Desk).await?;
        page.shows("Pairs that may, the best first").await?;
        page.is_accessible("pairs").await?;
        page.go("/houses/1/plan-work/add").await?;
        page.fill("What is it?", "second deck oven").await?;
        choose(&page, "In which room", "Bakehouse annex").await?;
        choose(&page, "Made for", "240").await?;
        choose(&page, "Takes a neutral", "no").await?;
        page.fill("Nameplate (A)", "30").await?;
        page.press("//button[@role='radio'][contains(., ' joins ')]").await?;
        page.shows("One trip then takes both").await?;
        let before = page.api("/api/v1/houses/1").await?["breakers"].as_array().map_or(0, Vec::len);
        page.press("//button[@role='radio'][contains(., ' joins ')][@aria-checked='true']").await?;
        page.click("Begin this job").await?;
        page.shows("The whole panel is live").await?;
        let job = job_of(&page).await?;
        to_the_end(&page, &job).await?;
        page.shows("Done: its last check passed").await?;
        let house = page.api("/api/v1/houses/1").await?;
        ensure!(house["breakers"].as_array().map_or(0, Vec::len) == before, "one is gone, one is new");
        let beliefs = page.api("/api/v1/houses/1/beliefs").await?;
        let proven = beliefs["progress"]["proven"].as_u64().context("progress")?;
        let points = beliefs["progress"]["points"].as_u64().context("progress")?;
        ensure!(points - proven <= 4, "what was proven is proven still: {proven} of {points}");
        page.quit().await
    })
    .await
}

// A plate with a comma before three digits could be either: it is asked about, and only what was meant is planned; the unit
// may be typed; a reload keeps what was typed so far.
#[tokio::test(flavor = "multi_thread")]
async fn a_nameplate_is_read_as_it_was_meant() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/dedicated", Screen::Desk).await?;
        page.fill("What is it?", "wall oven").await?;
        choose(&page, "In which room", "Bakehouse annex").await?;
        page.fill("or nameplate (W)", "9,600").await?;
        page.shows("may be 9600 W or 9.6 W: which is it?").await?;
        page.shows("Fill in what is known").await?;
        page.press("//button[normalize-space(.)='9600 W']").await?;
        choose(&page, "Takes a neutral", "no").await?;
        page.shows("breaker, 2 poles, 40 A").await?;
        page.shows("cable 8-2").await?;
        page.fill("or nameplate (W)", "9.6 kW").await?;
        page.shows("breaker, 2 poles, 40 A").await?;
        page.fill("or nameplate (W)", "fast").await?;
        page.shows("\"fast\" is not a number").await?;
        page.fill("or nameplate (W)", "9600").await?;
        page.shows("breaker, 2 poles, 40 A").await?;
        page.go("/houses/1/plan-work/dedicated").await?;
        page.shows("breaker, 2 poles, 40 A").await?;
        page.quit().await
    })
    .await
}

// Handbook 5.6: two jobs in one shutdown, planned as one with one list for the shop; a price is typed once and kept; each may be left out.
#[tokio::test(flavor = "multi_thread")]
async fn two_jobs_go_into_one_shutdown_with_one_list_for_the_shop() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/dedicated", Screen::Desk).await?;
        page.fill("What is it?", "second deck oven").await?;
        choose(&page, "In which room", "Bakehouse annex").await?;
        page.fill("Nameplate (A)", "40").await?;
        choose(&page, "Takes a neutral", "no").await?;
        page.shows("(chosen)").await?;
        page.click("Another job in the same shutdown").await?;
        page.shows("Chosen for one shutdown").await?;
        page.shows("An outlet for one large thing: second deck oven").await?;
        page.is_accessible("work").await?;
        page.press("//a[normalize-space(.)='A surge protector']").await?;
        page.shows("In the same shutdown").await?;
        page.fill("The breaker that its sheet asks for (A)", "20").await?;
        page.shows("One shutdown, one permit and one trip to the shop instead of 2").await?;
        page.shows("surge protector, type 2").await?;
        // A price is kept with the house, and counts in every list.
        let price = page.find("//input[starts-with(@aria-label, 'Price of surge protector')]").await?;
        price.send_keys("89.5").await?;
        page.keys(Key::Tab).await?;
        page.shows("Together 89.50").await?;
        page.is_accessible("plan").await?;
        let about = &page.api("/api/v1/houses/1").await?["about"]["prices"];
        ensure!(about.as_object().is_some_and(|kept| kept.len() == 1), "{about}");
        page.click("Begin this job").await?;
        page.shows("The whole panel is live").await?;
        let job = job_of(&page).await?;
        let shown = page.api(&format!("/api/v1/houses/1/jobs/{job}")).await?;
        let steps = shown["job"]["steps"].as_array().context("steps")?.clone();
        let off = steps.iter().filter(|step| step["switches"]["on"] == false && step["switches"]["panel"].is_number());
        ensure!(off.count() == 1, "the power goes off once");
        let text = reqwest::get(format!("{base}/api/v1/houses/1/jobs/{job}/shopping?form=text")).await?.text().await?;
        ensure!(text.contains("surge protector") && text.contains("Together 89.50"), "{text}");
        page.quit().await
    })
    .await
}

// Handbook 5.16: what draws most is plugged in at another outlet, with nothing opened, and the record follows. Then jobs that were begun
// apart are put into one shutdown, which takes their place, with one list for the shop.
#[tokio::test(flavor = "multi_thread")]
async fn a_plug_is_moved_and_jobs_begun_apart_become_one_on_a_phone() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/relieve?breaker=1", Screen::Phone).await?;
        page.press("//h2[contains(., 'Or is plugged in elsewhere')]/following::button[@role='radio'][1]").await?;
        page.shows("Anybody: nothing is opened.").await?;
        page.is_accessible("a plug").await?;
        page.click("Begin this job").await?;
        page.shows("1 of 3, before").await?;
        let job = job_of(&page).await?;
        let steps = to_the_end(&page, &job).await?;
        ensure!(steps == 3, "unplugged, plugged in, watched: {steps}");
        let house = page.api("/api/v1/houses/1").await?;
        let found = |list: &str, name: &str, value: &str| -> Option<Value> {
            house[list].as_array()?.iter().find(|of| of[name] == value).cloned()
        };
        let (kettle, lower) = (found("loads", "name", "kettle"), found("points", "tag", "K2"));
        ensure!(kettle.context("a kettle")?["point"] == lower.context("its outlet")?["id"], "the record follows");
        page.go("/houses/1/plan-work/surge").await?;
        page.fill("The breaker that its sheet asks for (A)", "20").await?;
        page.click("Begin this job").await?;
        page.shows("The whole panel is live").await?;
        page.go("/houses/1/work").await?;
        page.press("//a[contains(., 'In which order')]").await?;
        page.shows("One shutdown, one permit and one trip to the shop instead of 2").await?;
        page.shows("surge protector, type 2").await?;
        page.is_accessible("the order of jobs").await?;
        page.press("//a[normalize-space(.)='Plan them as one']").await?;
        page.shows("It takes their place once it begins").await?;
        page.is_accessible("jobs as one").await?;
        page.click("Begin this job").await?;
        page.shows("The whole panel is live").await?;
        let order = page.api("/api/v1/houses/1/jobs-order").await?;
        let turns = order["turns"].as_array().context("turns")?;
        ensure!(turns.len() == 1 && turns[0]["goal"].is_null(), "one job is left: {turns:?}");
        page.quit().await
    })
    .await
}

// Handbook 5.9: in a house without a panel the first one is laid out on a phone: what is missing is asked for, and the panel is there, empty,
// as the job begins.
#[tokio::test(flavor = "multi_thread")]
async fn the_first_panel_of_a_house_is_laid_out_on_a_phone() -> Result<()> {
    let hub = empty()?;
    hub.add_house(&House::new("Quill Cottage"))?;
    with_server(hub, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/makeup", Screen::Phone).await?;
        page.shows("The first one can be laid out here").await?;
        page.fill("The new one has", "8").await?;
        page.fill("New circuits in it", "2p30 10-3 dryer; 20 12-2 bath").await?;
        page.shows("what is its main?").await?;
        page.fill("Its main", "60").await?;
        page.shows("5 spaces are left").await?;
        page.is_accessible("a first panel").await?;
        page.click("Begin this job").await?;
        page.shows("The whole panel is live").await?;
        let house = page.api("/api/v1/houses/1").await?;
        let panel = &house["panels"][0];
        ensure!(
            panel["spaces"] == 8 && panel["main"] == 60.0 && panel["empty"].as_array().map(Vec::len) == Some(8),
            "{panel}"
        );
        ensure!(house["breakers"].as_array().is_none_or(Vec::is_empty), "nothing stands in it before it is hung");
        page.quit().await
    })
    .await
}

// Handbook 5.14: a receptacle is replaced by phone with the panel closed; its box is shown dead between two tests of the meter.
#[tokio::test(flavor = "multi_thread")]
async fn a_receptacle_is_replaced_by_phone_with_the_panel_closed() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/device", Screen::Phone).await?;
        choose(&page, "The outlet, switch or box", "Kitchen: counter by sink, upper half").await?;
        page.shows("Is there a ground wire in the box").await?;
        choose(&page, "A ground wire is there", "yes").await?;
        page.shows("More than one device is in this box").await?;
        page.click("Begin this job").await?;
        page.shows("The whole panel is live").await?;
        let job = job_of(&page).await?;
        page.is_accessible("job").await?;
        let shown = page.api(&format!("/api/v1/houses/1/jobs/{job}")).await?;
        let all = shown["job"]["steps"].as_array().context("steps")?.clone();
        let keys: Vec<&str> = all.iter().filter_map(|step| step["key"].as_str()).collect();
        ensure!(keys.contains(&"off") && !keys.contains(&"cover"), "{keys:?}");
        to_the_end(&page, &job).await?;
        page.shows("Done: its last check passed").await?;
        page.quit().await
    })
    .await
}
