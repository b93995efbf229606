//! What is printed: marked cards, labels that are ticked on the phone, a printer that is off, what changed since.

use crate::choose;
use anyhow::{Context, Result, ensure};
use wayfinder_e2e::{Page, Screen, demo, until, with_server};

#[tokio::test(flavor = "multi_thread")]
async fn labels_are_ticked_by_phone_and_what_changed_is_printed_at_the_desk() -> Result<()> {
    with_server(demo()?, async |base| {
        // Whoever comes from a traced room has its labels in hand.
        let phone = Page::open(&base, "/houses/1/directory?print=labels&room=2", Screen::Phone).await?;
        phone.shows("Hall: 0 of 1").await?;
        phone.is_accessible("labels on a phone").await?;
        phone.press("//label[contains(., 'Main 17')]").await?;
        phone.shows("Hall: 1 of 1").await?;
        phone.quit().await?;
        // The card is on the door; then a breaker changes, and the door's line is told with the new one.
        let desk = Page::open(&base, "/houses/1/directory", Screen::Desk).await?;
        desk.click("It is printed and on the door").await?;
        desk.shows("The card on the door says what the map says").await?;
        choose(&desk, "Mark its lines", "by what it does").await?;
        desk.shows("makes heat").await?;
        desk.is_accessible("the directory").await?;
        desk.go("/houses/1/survey").await?;
        desk.fill("5 (leg A)", "2p40 range").await?;
        desk.leaves_the_button().await?;
        until("the breaker is entered", async || {
            let house = desk.api("/api/v1/houses/1").await?;
            Ok(house["breakers"]
                .as_array()
                .context("breakers")?
                .iter()
                .any(|b| b["amps"] == 40.0 && b["label"] == "range"))
        })
        .await?;
        desk.go("/houses/1/directory").await?;
        desk.shows("Out of date: the card of Main").await?;
        desk.shows("50 A Kitchen range").await?;
        desk.shows("40 A Kitchen range").await?;
        let link = desk.find("//a[.='Print what changed']").await?.attr("href").await?.context("a link")?;
        let script =
            "const done = arguments[1]; fetch(arguments[0]).then(r => r.blob()).then(b => done([b.type, b.size]));";
        let got = desk.driver.execute_async(script, vec![link.into()]).await?.json().clone();
        ensure!(got[0] == "application/pdf" && got[1].as_u64() > Some(5000), "{got}");
        desk.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_printer_that_is_two_millimetres_off_is_met_by_what_is_read_on_its_scale() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/directory?print=labels", Screen::Desk).await?;
        page.shows("What is stuck on").await?;
        choose(&page, "On", "24 on A4, 70 x 36 mm").await?;
        page.click("The printer is off, or the sheet is another one …").await?;
        page.shows("Print the scale").await?;
        choose(&page, "Read across (mm)", "2").await?;
        page.fill("Name of the sheet", "My sheet").await?;
        page.click("Keep this sheet").await?;
        until("the sheet is kept", async || {
            let house = page.api("/api/v1/houses/1").await?;
            let kept = &house["about"]["label_sheets"][0];
            let off = kept["off"][0].as_f64().unwrap_or_default() * 25.4;
            Ok(kept["name"] == "My sheet" && (off - 2.0).abs() < 1e-6)
        })
        .await?;
        page.is_accessible("labels").await?;
        for (tab, said) in
            [("Schedule", "Every circuit with its poles"), ("Wall sheet", "For the wall beside the panel")]
        {
            page.press(&format!("//button[.='{tab}']")).await?;
            page.shows(said).await?;
            page.find("//img[contains(@alt, 'as it will be printed')]").await?;
            page.is_accessible(tab).await?;
        }
        page.quit().await
    })
    .await
}
