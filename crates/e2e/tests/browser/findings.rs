//! What is wrong in a house: a walk with the phone, and what comes of it at the desk.

use anyhow::{Context, Result, ensure};
use serde_json::json;
use wayfinder_e2e::{Page, Screen, demo, until, with_server};

/// Answers a question of the walk.
async fn answers(page: &Page, question: &str, answer: &str) -> Result<()> {
    page.shows(question).await?;
    page.click(answer).await
}

// Two things are found by a phone in the walk, one of them by a tap on the panel; another phone goes on where this one is; at the desk
// they are told with who mends them, set aside for a reason, and put off.
#[tokio::test(flavor = "multi_thread")]
async fn a_walk_with_the_phone_finds_what_is_wrong() -> Result<()> {
    with_server(demo()?, async |base| {
        let phone = Page::open(&base, "/houses/1/inspection", Screen::Phone).await?;
        phone.shows("0 of 29 looked at").await?;
        phone.is_accessible("inspection").await?;
        answers(&phone, "scorched, melted or hot", "No").await?;
        answers(&phone, "rust, or traces of water", "Yes").await?;
        phone.shows("Rust or traces of water in a panel").await?;
        answers(&phone, "Is its cover missing", "No").await?;
        answers(&phone, "through which a finger would fit", "I cannot tell").await?;
        answers(&phone, "called this type of panel", "No").await?;
        let other = Page::open(&base, "/houses/1/inspection", Screen::Phone).await?;
        answers(&other, "Is anything in the way of it", "Yes").await?;
        answers(&phone, "Are screws of its cover missing", "No").await?;
        answers(&phone, "does not stay on", "Yes").await?;
        phone.press("//*[local-name()='g' and starts-with(*[local-name()='title'], 'Breaker 11,')]").await?;
        phone.shows("8 of 29 looked at").await?;
        // What was answered may be looked at again.
        phone.press("//button[starts-with(., 'What was answered')]").await?;
        phone.press("//button[starts-with(@aria-label, 'Look again: Main, Is its cover missing')]").await?;
        answers(&phone, "Is its cover missing", "No").await?;
        phone.shows("8 of 29 looked at").await?;
        phone.quit().await?;
        other.quit().await?;
        let desk = Page::open(&base, "/houses/1/findings", Screen::Desk).await?;
        for told in [
            "Rust or traces of water in a panel",
            "a licensed electrician",
            "No room to work before a panel",
            "Main 11",
        ] {
            desk.shows(told).await?;
        }
        desk.is_accessible("findings").await?;
        let of = |rule: &str| format!("//li[.//*[contains(., '{rule}')] or ancestor::*[p[.='{rule}']]]");
        let blocked = of("No room to work before a panel");
        desk.press(&format!("{blocked}//button[starts-with(., 'Later')]")).await?;
        desk.shows("Put off").await?;
        let stays = of("A breaker that does not stay on");
        desk.press(&format!("{stays}//button[starts-with(., 'Not so')]")).await?;
        desk.fill("Why is it not so?", "it was dust").await?;
        desk.click("Keep").await?;
        desk.shows("not so, it was dust").await?;
        let audit = desk.api("/api/v1/houses/1/audit").await?;
        let rules = |list: &str| -> Vec<serde_json::Value> {
            audit[list].as_array().into_iter().flatten().map(|f| f["rule"].clone()).collect()
        };
        ensure!(rules("later") == [json!("blocked")] && rules("not_so") == [json!("does-not-stay")], "{audit}");
        let first = audit["findings"].as_array().and_then(|all| all.first()).context("a finding")?;
        ensure!(first["severity"] == "danger", "{first}");
        until("the danger cannot be put off", async || {
            let danger = of("Rust or traces of water in a panel");
            let later = format!("count({danger}//button[starts-with(., 'Later')])");
            let script = format!("return document.evaluate(\"{later}\", document, null, 1, null).numberValue");
            Ok(desk.driver.execute(script, vec![]).await?.json() == &json!(0))
        })
        .await?;
        desk.quit().await
    })
    .await
}
