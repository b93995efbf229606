//! The pictures in `docs/screenshots`, from the demo house. Run by `cargo xtask shots`.

use std::path::PathBuf;

use anyhow::Result;
use wayfinder_e2e::{Page, Screen, demo, with_server};

fn file(name: &str) -> PathBuf {
    let folder = std::env::var("SHOTS")
        .map_or_else(|_| PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots"), PathBuf::from);
    folder.join(format!("{name}.png"))
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "makes files; run by cargo xtask shots"]
async fn shots() -> Result<()> {
    let hub = demo()?;
    std::fs::create_dir_all(file("x").parent().unwrap_or(std::path::Path::new(".")))?;
    with_server(hub, async |base| {
        let phone = Page::open(&base, "/houses/1", Screen::Phone).await?;
        phone.shows("points to trace").await?;
        phone.picture(&file("today-phone")).await?;
        phone.click("Trace").await?;
        phone.click("At the panel").await?;
        phone.shows("Switch OFF").await?;
        // The other phone of the run, as it waits for the handles.
        let other = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        other.click("In the rooms").await?;
        other.click("Two people").await?;
        other.click("Begin a run").await?;
        other.shows("Handles are being moved").await?;
        other.shows("left (").await?;
        other.quit().await?;
        phone.shows("left (").await?;
        phone.picture(&file("panel-phone")).await?;
        let desk = Page::open(&base, "/houses/1", Screen::Desk).await?;
        desk.shows("points to trace").await?;
        desk.picture(&file("today")).await?;
        desk.click("Trace").await?;
        desk.shows("Switch OFF").await?;
        desk.picture(&file("trace")).await?;
        desk.click("Handles are moved").await?;
        desk.shows("Look at point 1").await?;
        phone.click("In the rooms").await?;
        phone.shows("Look at point 1").await?;
        phone.picture(&file("rooms-phone")).await?;
        phone.click("The whole room on one card").await?;
        phone.find("//*[@data-row]").await?;
        // Until nothing lies over the rows.
        tokio::time::sleep(std::time::Duration::from_secs(13)).await;
        phone.picture(&file("room-card-phone")).await?;
        phone.click("One at a time").await?;
        let house = phone.api("/api/v1/houses/1").await?;
        let id = |table: &str, field: &str, value: serde_json::Value| {
            let found = house[table].as_array().into_iter().flatten().find(|t| t[field] == value);
            found.map(|t| t["id"].to_string()).unwrap_or_default()
        };
        let k1 = id("points", "tag", "K1".into());
        phone.go("/houses/1/job/1").await?;
        phone.click("Go on with it").await?;
        phone.click("Done").await?;
        phone.shows("Everybody knows that the power goes").await?;
        phone.picture(&file("job-phone")).await?;
        phone.click("Stop here …").await?;
        phone.click("It is safe: stop here").await?;
        phone.shows("Stopped by").await?;
        phone.go("/houses/1/measure").await?;
        phone.click("End that run").await?;
        phone.press("//label[contains(., 'I am qualified')]").await?;
        phone.click("Begin the round").await?;
        phone.press("//button[@aria-label='All on in Bakehouse annex']").await?;
        phone.press("//button[contains(., 'that is all, clamp')]").await?;
        phone.shows("Clamp leg A").await?;
        phone.click("Read the stand-in").await?;
        phone.click("Enter").await?;
        phone.shows("A read,").await?;
        phone.picture(&file("measure-phone")).await?;
        phone.click("End the round").await?;
        phone.shows("Begin the round").await?;
        phone.quit().await?;
        desk.go("/houses/1/plan").await?;
        desk.find("//*[name()='title' and starts-with(., 'K1,')]/..").await?;
        desk.picture(&file("plan")).await?;
        desk.go(&format!("/houses/1/off?point={k1}")).await?;
        desk.shows("shares its neutral").await?;
        desk.picture(&file("off")).await?;
        desk.go(&format!("/houses/1/dead?point={k1}")).await?;
        desk.shows("Causes, and how likely each is").await?;
        desk.picture(&file("dead")).await?;
        desk.go("/houses/1/loads").await?;
        desk.shows("Passes its 20 A").await?;
        desk.picture(&file("loads")).await?;
        desk.go("/houses/1/plan-work/rearrange").await?;
        desk.shows("Move 24 to 30").await?;
        desk.picture(&file("work")).await?;
        desk.go("/houses/1/survey").await?;
        desk.shows("What stands in each space").await?;
        desk.picture(&file("survey")).await?;
        desk.go("/houses/1/directory").await?;
        desk.shows("The card on the door").await?;
        desk.shows("Main panel").await?;
        desk.press(
            "//*[contains(@class, 'MuiInputLabel') and .='Mark its lines']/following-sibling::*//*[@role='combobox']",
        )
        .await?;
        desk.press("//*[@role='option' and .='by what it does']").await?;
        desk.shows("makes heat").await?;
        desk.picture(&file("directory")).await?;
        desk.go("/houses/1/directory?print=labels").await?;
        desk.shows("What is stuck on").await?;
        desk.find("//img[contains(@alt, 'as they will be printed')]").await?;
        desk.picture(&file("labels")).await?;
        desk.go("/houses/1/directory?print=wall").await?;
        desk.shows("For the wall beside the panel").await?;
        desk.find("//img[contains(@alt, 'as it will be printed')]").await?;
        desk.picture(&file("wall-sheet")).await?;
        let walk = Page::open(&base, "/houses/1/inspection", Screen::Phone).await?;
        walk.shows("scorched, melted or hot").await?;
        walk.click("No").await?;
        walk.shows("rust, or traces of water").await?;
        walk.click("Yes").await?;
        walk.shows("Is its cover missing").await?;
        walk.picture(&file("inspection-phone")).await?;
        walk.quit().await?;
        desk.go("/houses/1/findings").await?;
        desk.shows("Rust or traces of water").await?;
        desk.picture(&file("findings")).await?;
        desk.quit().await
    })
    .await
}
