//! The largest house on the smallest screen: a three-phase panel of 42 spaces with half-size breakers, 200 points.

use std::collections::BTreeMap;

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use wayfinder_e2e::{Page, Screen, with_server};

use super::{LARGEST, asked, changed, revision, still_dark, surveyed_in, tap};

/// Where breakers stand: full size up to 36, three-pole, two-pole, and halves from 37 on.
fn places() -> Vec<String> {
    let single = (7..=36).filter(|space| ![10, 12].contains(space)).map(|space| space.to_string());
    let halves = (37..=42).flat_map(|space| [format!("{space}a"), format!("{space}b")]);
    ["1-3-5", "2-4", "6", "10-12"].map(String::from).into_iter().chain(single).chain(halves).collect()
}

/// By tag of a point: the place of its breaker. Ten points a room, on two breakers of the room's own and one stray.
fn truth() -> BTreeMap<String, String> {
    let poles = |at: &String| at.split('-').count();
    let single: Vec<String> = places().into_iter().filter(|at| poles(at) == 1).collect();
    let feeder = |room: usize, nth: usize| match nth {
        0..4 => 2 * room,
        4..9 => 2 * room + 1,
        _ => 7 * room + 3,
    };
    let point = |at: usize| {
        let (room, nth) = (at / 10, at % 10);
        (format!("{}{nth}", char::from(b'A' + room as u8)), single[feeder(room, nth) % single.len()].clone())
    };
    (0..200).map(point).collect()
}

fn hub(truth: &BTreeMap<String, String>) -> Result<std::sync::Arc<wayfinder_server::Hub>> {
    let breakers: Vec<String> = places().iter().map(|at| format!("{at},20")).collect();
    let breakers: Vec<&str> = breakers.iter().map(String::as_str).collect();
    let point = |tag: &String| {
        let (room, nth) = tag.split_at(1);
        let kind = if nth < "4" { "light" } else { "receptacle" };
        format!("{tag},Room {room} on the upper landing,{kind},120")
    };
    surveyed_in(LARGEST, &breakers, &truth.keys().map(point).collect::<Vec<_>>())
}

/// Nothing hangs out at the side, where a thumb would push the page about.
async fn fits(page: &Page, view: &str) -> Result<()> {
    let wide = page.driver.execute("return document.scrollingElement.scrollWidth", vec![]).await?;
    ensure!(wide.json().as_u64().is_some_and(|w| w <= 390), "{view} is {} wide on a phone of 390", wide.json());
    Ok(())
}

/// Places of the breakers that are off.
async fn off(page: &Page) -> Result<Vec<String>> {
    let house = page.api("/api/v1/houses/1").await?;
    let off = house["breakers"].as_array().context("breakers")?.iter().filter(|b| b["handle"] == "off");
    let at =
        |b: &Value| b["at"].as_array().into_iter().flatten().filter_map(Value::as_str).collect::<Vec<_>>().join("-");
    Ok(off.map(at).collect())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_phone_traces_the_largest_panel() -> Result<()> {
    let truth = truth();
    with_server(hub(&truth)?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.click("At the panel").await?;
        page.shows("Move these handles").await?;
        fits(&page, "the panel").await?;
        page.is_accessible("the largest panel").await?;
        page.click("In the rooms").await?;
        page.click("Begin a run").await?;
        let mut looks = 0;
        for _ in 0..400 {
            let before = revision(&page).await?;
            if looks == 40 {
                break;
            }
            if still_dark(&page).await? {
                changed(&page, before).await?;
            } else if let Some((tag, _)) = asked(&page).await? {
                let feeder = truth.get(&tag).with_context(|| format!("no {tag}"))?;
                let dead = off(&page).await?.contains(feeder);
                if tap(&page, &format!("[data-look='{tag}']"), if dead { "DEAD" } else { "LIVE" }).await? {
                    changed(&page, before).await?;
                    looks += 1;
                }
            } else if tap(&page, "main", "Handles are moved").await? {
                changed(&page, before).await?;
                fits(&page, "the tour").await?;
            }
            tokio::time::sleep(std::time::Duration::from_millis(60)).await;
        }
        ensure!(looks == 40, "only {looks} looks");
        // Honest looks: what is believed most goes towards the truth, and nothing is proven on a wrong breaker.
        let beliefs = page.api("/api/v1/houses/1/beliefs").await?;
        let points = beliefs["points"].as_array().context("points")?;
        ensure!(points.len() == 200, "{} points", points.len());
        let (mut likelier, mut looked) = (0, 0);
        for point in points {
            let feeder = &truth[point["tag"].as_str().context("tag")?];
            let whole = page.api(&format!("/api/v1/houses/1/beliefs/{}", point["point"])).await?;
            let first = &point["candidates"][0];
            ensure!(point["proven"] == false || first["at"] == feeder.as_str(), "wrongly proven: {point}");
            let right =
                whole["candidates"].as_array().context("candidates")?.iter().find(|c| c["at"] == feeder.as_str());
            if whole["reasons"].as_array().is_some_and(|r| !r.is_empty()) {
                looked += 1;
                likelier += usize::from(right.and_then(|c| c["p"].as_f64()).is_some_and(|p| p > 1.0 / 45.0));
            }
        }
        ensure!(looked > 0 && likelier * 10 > looked * 8, "{likelier} of {looked} nearer to the truth");
        page.quit().await
    })
    .await
}

// Work in the largest panel: the plan is drawn before and after, fits a phone, and says why where there is no way.
#[tokio::test(flavor = "multi_thread")]
async fn work_is_planned_in_the_largest_panel() -> Result<()> {
    with_server(hub(&truth())?, async |base| {
        let page = Page::open(&base, "/houses/1/plan-work/rearrange", Screen::Phone).await?;
        // Its label allows no more, and nobody said what switches it off: both are said, with what would be possible.
        page.shows("the label allows 48 circuits; 48 are in use").await?;
        page.shows("what switches it off is not entered").await?;
        fits(&page, "a refusal").await?;
        page.go("/houses/1/plan-work/makeup").await?;
        page.fill("The new one has (spaces)", "40").await?;
        page.shows("48 poles need as many places, and the new panel has 40").await?;
        page.is_accessible("a new panel").await?;
        fits(&page, "a new panel").await?;
        page.quit().await
    })
    .await
}
