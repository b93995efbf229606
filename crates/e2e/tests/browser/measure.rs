//! Measuring: a clamp round by keyboard and by phone, room for more, a file dropped, is it the breaker.

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use wayfinder_e2e::{Page, Screen, demo, until, with_server};

async fn readings(page: &Page) -> Result<Vec<Value>> {
    let house = page.api("/api/v1/houses/1").await?;
    Ok(house["readings"].as_array().context("readings")?.clone())
}

/// Begins a round with all of the bakehouse and the back bedroom on.
async fn begin(page: &Page, people: &str) -> Result<()> {
    page.press("//label[contains(., 'I am qualified')]").await?;
    page.click(people).await?;
    page.click("Begin the round").await?;
    page.shows("Switch on what usually runs").await
}

async fn all_on(page: &Page, rooms: &[&str]) -> Result<()> {
    for room in rooms {
        page.press(&format!("//button[@aria-label='All on in {room}']")).await?;
    }
    Ok(())
}

async fn clamp(page: &Page) -> Result<()> {
    page.press("//button[contains(., 'that is all, clamp')]").await?;
    page.shows("Clamp leg A").await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_clamp_round_by_keyboard() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/loads", Screen::Desk).await?;
        page.shows("Passes its 20 A").await?;
        page.is_accessible("loads").await?;
        page.go("/houses/1/measure").await?;
        begin(&page, "Alone").await?;
        page.is_accessible("what to switch on").await?;
        all_on(&page, &["Bakehouse annex"]).await?;
        clamp(&page).await?;
        let before = readings(&page).await?.len();
        // Number, Enter; number, Enter; as a keyboard writes down what was dictated to it, too.
        page.fill("Read (A)", "120").await?;
        page.keys("\u{E007}").await?;
        page.shows("Clamp leg B").await?;
        page.fill("Read (A)", "ninety six point five amps, enter").await?;
        page.shows("Clamp the neutral").await?;
        page.shows("96.5 A read").await?;
        page.click("Pass over").await?;
        page.shows("Clamp the hot of 1").await?;
        // More than a breaker could hold is asked about, and nothing below 0 is taken.
        page.fill("Read (A)", "-3").await?;
        page.keys("\u{E007}").await?;
        page.shows("is below 0, and A are never that").await?;
        page.fill("Read (A)", "3 4").await?;
        page.keys("\u{E007}").await?;
        page.shows("is not a number").await?;
        page.fill("Read (A)", "500").await?;
        page.keys("\u{E007}").await?;
        page.shows("is that what it shows?").await?;
        ensure!(readings(&page).await?.len() == before + 2, "it was asked about first");
        page.fill("Read (A)", "25.9").await?;
        page.keys("\u{E007}").await?;
        page.shows("25.9 A read").await?;
        page.shows("Clamp the hot of 2-4").await?;
        // A slip is taken back, reading and all, and the place asked for again; a reload changes nothing of it.
        page.click("Take the last back").await?;
        page.shows("Clamp the hot of 1").await?;
        page.go("/houses/1/measure").await?;
        page.shows("Clamp the hot of 1").await?;
        ensure!(readings(&page).await?.len() == before + 2, "the slip is gone");
        // Tracing would switch breakers off: it says what goes on instead.
        page.go("/houses/1/trace").await?;
        page.shows("A round of measuring goes on").await?;
        page.go("/houses/1/measure").await?;
        page.click("End the round").await?;
        page.shows("Begin the round").await?;
        // A circuit opens to what was read there, and a wrong reading can be taken out.
        let before = readings(&page).await?.len();
        page.go("/houses/1/loads").await?;
        page.press(
            "//section[@aria-label='Panel Main']//button[@aria-expanded][starts-with(normalize-space(.), '1 ')]",
        )
        .await?;
        page.shows("Read here").await?;
        page.press("//*[.='Read here']/following::button[normalize-space(.)='Take out'][1]").await?;
        until("the reading is gone", async || Ok(readings(&page).await?.len() == before - 1)).await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_clamp_round_on_a_phone_finds_what_hangs_elsewhere() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/loads", Screen::Phone).await?;
        let house = page.api("/api/v1/houses/1").await?;
        let spare = house["breakers"].as_array().into_iter().flatten().find(|b| b["at"][0] == "15").context("15")?;
        // A round about one breaker goes by that alone.
        page.go(&format!("/houses/1/measure?breaker={}", spare["id"])).await?;
        page.click("At the panel").await?;
        begin(&page, "Alone").await?;
        all_on(&page, &["Back bedroom"]).await?;
        page.press("//button[contains(., 'that is all, clamp')]").await?;
        page.shows("1 of 1, Main").await?;
        page.is_accessible("clamp round").await?;
        page.shows("Clamp the hot of 15").await?;
        page.shows("Expected: nothing").await?;
        page.click("Read the stand-in").await?;
        page.click("Enter").await?;
        // A heater of the back bedroom hangs here, and nobody knew.
        page.shows("nothing that was on is known to hang").await?;
        page.quit().await
    })
    .await
}

// Two phones, one round: whoever is in the rooms ticks what is on and switches what is asked for, the other clamps; out of
// reach the readings are kept, the round goes on, and each arrives once.
#[tokio::test(flavor = "multi_thread")]
async fn two_phones_measure_through_a_lost_connection() -> Result<()> {
    with_server(demo()?, async |base| {
        let panel = Page::open(&base, "/houses/1/measure", Screen::Phone).await?;
        panel.click("At the panel").await?;
        begin(&panel, "Two people").await?;
        let rooms = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        rooms.shows("Switch on what usually runs").await?;
        all_on(&rooms, &["Back bedroom", "Bakehouse annex"]).await?;
        panel.shows("on: that is all, clamp").await?;
        clamp(&panel).await?;
        rooms.shows("Leave everything as it is").await?;
        rooms.is_accessible("in the rooms, measuring").await?;
        let before = readings(&panel).await?.len();
        panel.offline(true).await?;
        for (value, next) in [("101", "Clamp leg B"), ("88.5", "Clamp the neutral"), ("13", "Clamp the hot of 1")] {
            panel.fill("Read (A)", value).await?;
            panel.keys("\u{E007}").await?;
            panel.shows(next).await?;
        }
        panel.shows("Go on with the round").await?;
        ensure!(readings(&rooms).await?.len() == before, "nothing can have arrived");
        panel.offline(false).await?;
        rooms.shows("Somebody clamps the hot of 1").await?;
        let arrived: Vec<_> = readings(&rooms).await?.iter().skip(before).map(|r| r["value"].clone()).collect();
        ensure!(arrived == [101.0, 88.5, 13.0], "{arrived:?}");
        // One thing is asked to be switched, and the same place is read again.
        panel.fill("Read (A)", "12.4").await?;
        panel.keys("\u{E007}").await?;
        panel.press("//label[contains(., 'Switch one thing')]/following::input[1]").await?;
        panel.press("//li[contains(., 'space heater, A1')]").await?;
        rooms.shows("Switch off: space heater, Back bedroom").await?;
        rooms.click("It is off now").await?;
        panel.shows("Clamp the hot of 1").await?;
        panel.fill("Read (A)", "0.1").await?;
        panel.keys("\u{E007}").await?;
        panel.shows("0.1 A read").await?;
        rooms.shows("Somebody clamps the hot of 2-4").await?;
        let house = rooms.api("/api/v1/houses/1").await?;
        let rises = house["evidence"].as_array().into_iter().flatten().filter(|e| e["observation"]["what"] == "rise");
        ensure!(
            rises.count() == 2,
            "one that the readings of the demo show, and the fall of the heater are evidence for the map"
        );
        rooms.quit().await?;
        panel.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn room_for_more_with_every_method() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/room", Screen::Desk).await?;
        page.shows("As it stands").await?;
        page.fill("It draws (A)", "40").await?;
        page.press("//label[contains(., 'three hours')]").await?;
        page.shows("over. What would make room").await?;
        page.shows("It fits by this method").await?;
        page.is_accessible("room for more").await?;
        page.fill("It draws (A)", "-4").await?;
        page.shows("below 0").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_dropped_is_a_year_and_a_broken_one_is_told() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/energy", Screen::Desk).await?;
        page.shows("Largest demand").await?;
        page.is_accessible("energy").await?;
        let drop = "const [name, text] = arguments; const data = new DataTransfer(); \
                    data.items.add(new File([text], name)); \
                    const zone = document.querySelector('[data-drop]'); \
                    zone.dispatchEvent(new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: data }));";
        let file = include_str!("../../../formats/tests/energy/year.xml");
        page.driver.execute(drop, vec!["january.xml".into(), file.into()]).await?;
        page.shows("january.xml").await?;
        page.driver.execute(drop, vec!["broken.csv".into(), "time,kwh\nnoon,1\n".into()]).await?;
        page.shows("line 2").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn is_it_the_breaker_on_the_drawn_one() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/loads", Screen::Desk).await?;
        let house = page.api("/api/v1/houses/1").await?;
        let breakers = house["breakers"].as_array().context("breakers")?;
        let range = breakers.iter().find(|b| b["at"][0] == "5").context("5-7")?["id"].as_u64().context("id")?;
        page.go(&format!("/houses/1/suspect/{range}")).await?;
        page.shows("Measure the rest").await?;
        page.is_accessible("is it the breaker").await?;
        let fields = "const all = document.querySelectorAll('section input.mono'); arguments[0].forEach((v, i) => { \
                      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set; \
                      set.call(all[i], v); all[i].dispatchEvent(new Event('input', { bubbles: true })); }); return all.length;";
        let read = serde_json::json!(["121", "120", "241", "120.5", "108", "228"]);
        page.driver.execute(fields, vec![read]).await?;
        page.shows("A bad breaker, or a poor contact to the bus (pole 7)").await?;
        page.quit().await
    })
    .await
}
