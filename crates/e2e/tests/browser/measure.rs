//! Measuring: a clamp round by keyboard and by phone, room for more, a file dropped, is it the breaker.

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use wayfinder_e2e::{Page, Screen, demo, with_server};

async fn readings(page: &Page) -> Result<Vec<Value>> {
    let house = page.api("/api/v1/houses/1").await?;
    Ok(house["readings"].as_array().context("readings")?.clone())
}

async fn begin(page: &Page) -> Result<()> {
    page.press("//label[contains(., 'I am qualified')]").await?;
    page.click("All of that is on: begin the round").await?;
    page.shows("Clamp leg A").await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_clamp_round_by_keyboard() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/loads", Screen::Desk).await?;
        page.shows("Passes its 20 A").await?;
        page.is_accessible("loads").await?;
        page.go("/houses/1/measure").await?;
        begin(&page).await?;
        let before = readings(&page).await?.len();
        // Number, Enter; number, Enter.
        page.fill("Read (A)", "120").await?;
        page.keys("\u{E007}").await?;
        page.shows("Clamp leg B").await?;
        page.fill("Read (A)", "96.5").await?;
        page.keys("\u{E007}").await?;
        page.shows("Clamp the neutral").await?;
        page.click("Pass over").await?;
        page.shows("Clamp the hot of 1").await?;
        // More than a breaker could hold is asked about, and nothing below 0 is taken.
        page.fill("Read (A)", "-3").await?;
        page.shows("nothing below 0").await?;
        page.fill("Read (A)", "500").await?;
        page.keys("\u{E007}").await?;
        page.shows("is that what it shows?").await?;
        ensure!(readings(&page).await?.len() == before + 2, "it was asked about first");
        page.fill("Read (A)", "25.9").await?;
        page.keys("\u{E007}").await?;
        page.shows("25.9 A read").await?;
        ensure!(readings(&page).await?.len() == before + 3);
        page.go("/houses/1/measure").await?;
        page.shows("Clamp the hot of 2-4").await?;
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_clamp_round_on_a_phone_finds_what_hangs_elsewhere() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/measure", Screen::Phone).await?;
        begin(&page).await?;
        page.is_accessible("clamp round").await?;
        for _ in 0..200 {
            let text = page.text().await?;
            if text.contains("Clamp the hot of 15") {
                break;
            }
            page.click("Pass over").await?;
        }
        page.shows("expected 0.0 A").await?;
        page.click("Read the stand-in").await?;
        page.click("Enter").await?;
        // A heater of the back bedroom hangs here, and nobody knew.
        page.shows("nothing that was on is known to hang").await?;
        page.quit().await
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
        page.shows("cannot be added").await?;
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
