//! Nothing is lost without a word, nothing is done twice, and what nobody entered is said first.

use std::time::Duration;

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use thirtyfour::prelude::*;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use wayfinder_e2e::{Page, Screen, demo, until, with_server};

use super::{asked, changed, evidence_count, revision, surveyed};

/// Long enough for a second request to arrive, were one sent.
const A_MOMENT: Duration = Duration::from_millis(600);

async fn breakers(page: &Page) -> Result<Value> {
    Ok(page.api("/api/v1/houses/1").await?["breakers"].clone())
}

/// The field of a space at the desk.
fn field_of(space: u16) -> String {
    format!("//input[@id = //label[starts-with(normalize-space(.), '{space} (leg')]/@for]")
}

async fn type_over(page: &Page, space: u16, text: &str) -> Result<()> {
    let field = page.find(&field_of(space)).await?;
    field.click().await?;
    field.send_keys(Key::Control + "a").await?;
    field.send_keys(text).await?;
    Ok(field.send_keys(Key::Enter + "").await?)
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_space_takes_with_it_is_said_before_and_comes_back_after() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        page.shows("30 of 30 spaces entered").await?;
        type_over(&page, 28, "15 afci loft").await?;
        page.shows("Space 28: 15 afci loft").await?;
        tokio::time::sleep(A_MOMENT).await;
        ensure!(revision(&page).await? == Some(1), "one Enter is one change: {:?}", revision(&page).await?);
        let before = breakers(&page).await?;
        // The breaker of the first space carries observations, and proof of K1.
        type_over(&page, 1, "-").await?;
        page.shows("This takes away what was traced").await?;
        page.shows("No longer proven: ").await?;
        page.is_accessible("what is lost").await?;
        page.click("Leave it as it is").await?;
        tokio::time::sleep(A_MOMENT).await;
        ensure!(breakers(&page).await? == before, "nothing was changed");
        type_over(&page, 1, "-").await?;
        page.click("Change it").await?;
        page.shows("Space 1: empty").await?;
        page.shows("9 of 56 proven").await?;
        page.click("Undo").await?;
        page.shows("11 of 56 proven").await?;
        ensure!(breakers(&page).await? == before, "all of it came back");
        page.quit().await
    })
    .await
}

// A reload keeps what was typed of a point and of a thing that draws there; a form that is left begins as things stand.
#[tokio::test(flavor = "multi_thread")]
async fn a_reload_keeps_what_was_typed_of_a_point() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Desk).await?;
        let edit = "//button[@aria-label='Edit K5']";
        let typed = async || -> Result<[Option<String>; 2]> {
            let (name, thing) = (page.field("What it is called").await?, page.field("Thing that draws").await?);
            Ok([name.value().await?, thing.value().await?])
        };
        page.press(edit).await?;
        let stands = typed().await?;
        page.fill("What it is called", "pendant").await?;
        page.fill("Thing that draws", "pendant lamp").await?;
        page.go("/houses/1/survey").await?;
        page.press(edit).await?;
        ensure!(typed().await? == ["pendant", "pendant lamp"].map(|t| Some(t.to_owned())), "{:?}", typed().await?);
        page.press("//*[@role='dialog']//button[normalize-space(.)='Close']").await?;
        page.press(edit).await?;
        ensure!(typed().await? == stands, "{:?} instead of {stands:?}", typed().await?);
        page.quit().await
    })
    .await
}

#[tokio::test(flavor = "multi_thread")]
async fn on_a_phone_a_space_opens_with_what_stands_there() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/survey", Screen::Phone).await?;
        page.shows("30 of 30 spaces entered").await?;
        let before = breakers(&page).await?;
        let drawn =
            |at: &str| format!("//*[local-name()='g' and starts-with(*[local-name()='title'], 'Breaker {at},')]");
        // A tandem: both halves are there, and entering them changes nothing.
        page.press(&drawn("25b")).await?;
        page.shows("Lower half").await?;
        page.is_accessible("two halves by taps").await?;
        page.click("Enter 15 / 15 Cloakroom").await?;
        changed(&page, Some(0)).await?;
        ensure!(breakers(&page).await? == before, "as it stood: {}", breakers(&page).await?);
        // A handle that is off and a shared neutral stay what they are when the rating is mended.
        page.press(&drawn("9")).await?;
        page.shows("Stays as it is: ").await?;
        page.press("//*[@role='dialog']//button[.='15']").await?;
        page.press("//*[@role='dialog']//button[starts-with(., 'Enter 15')]").await?;
        changed(&page, Some(1)).await?;
        let after = breakers(&page).await?;
        let nine = |all: &Value| all.as_array().into_iter().flatten().find(|b| b["at"][0] == "9").cloned();
        let (was, is) = (nine(&before).context("9")?, nine(&after).context("9")?);
        ensure!(is["amps"] == 15.0 && is["label"] == was["label"] && is["id"] == was["id"], "{was} became {is}");
        // Four halves are put together by taps, and open again as they stand.
        page.press(&drawn("28")).await?;
        page.click("It is empty").await?;
        page.press("//*[local-name()='g' and @aria-label='Space 28, empty']").await?;
        page.press("//*[@role='dialog']//button[starts-with(., '4 halves, a pair in a pair')]").await?;
        page.press("//*[@role='dialog']//button[starts-with(., 'Enter 2p20 (2p30)')]").await?;
        page.shows("Space 28: 2p20 (2p30)").await?;
        page.press(&drawn("28b-30a")).await?;
        page.shows("Inner two poles").await?;
        page.quit().await
    })
    .await
}

/// Presses a key as a keyboard does that holds it down.
async fn hold(page: &Page, key: &str) -> Result<()> {
    let script = "const key = arguments[0]; \
                  document.dispatchEvent(new KeyboardEvent('keydown', { key, repeat: true, bubbles: true }));";
    page.driver.execute(script, vec![key.into()]).await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn z_goes_further_back_each_time_and_a_held_key_counts_once() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Move these handles").await?;
        page.keys("o").await?;
        page.find("//*[@data-look]").await?;
        let before = evidence_count(&page).await?;
        let mut last = String::new();
        for nth in 1..=3 {
            let before_it = last.clone();
            until("the next point is asked about", async || {
                last = asked(&page).await?.map_or_else(|| before_it.clone(), |(tag, _)| tag);
                Ok(last != before_it)
            })
            .await?;
            page.keys("n").await?;
            // The key is still down: it must answer nothing more.
            for _ in 0..5 {
                hold(&page, "n").await?;
                tokio::time::sleep(Duration::from_millis(60)).await;
            }
            until_count(&page, before + nth).await?;
        }
        for left in [2, 1, 0] {
            page.keys("z").await?;
            until_count(&page, before + left).await?;
        }
        page.quit().await
    })
    .await
}

pub(crate) async fn until_count(page: &Page, count: usize) -> Result<()> {
    until(&format!("{count} observations are kept"), async || Ok(evidence_count(page).await? == count)).await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_nobody_entered_is_said_first_and_panels_are_asked_for_once() -> Result<()> {
    let hub = surveyed(6, &["1,20", "3,20"], &["H1,Hall,receptacle,120".to_owned()])?;
    with_server(hub, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        let house = page.api("/api/v1/houses/1").await?;
        let off = format!("/houses/1/off?point={}", house["points"][0]["id"]);
        page.go(&off).await?;
        page.shows("Spaces 2, 4, 5 and 6 of panel Main are not entered").await?;
        page.shows("The sure way: panel Main off as a whole").await?;
        page.shows("Is this every panel of the property?").await?;
        page.is_accessible("not entered").await?;
        page.click("Yes, every panel").await?;
        page.shows("Not proven: Hall receptacle (H1)").await?;
        page.go("/houses/1/survey").await?;
        page.shows("These are all the panels of the property").await?;
        page.go(&off).await?;
        page.shows("Spaces 2, 4, 5 and 6").await?;
        ensure!(!page.text().await?.contains("Is this every panel"), "asked twice");
        page.quit().await
    })
    .await
}

/// Serves one page at every address of a port of its own, until the test ends.
async fn another_site(page: String) -> Result<u16> {
    let listener = tokio::net::TcpListener::bind(("127.0.0.1", 0)).await?;
    let port = listener.local_addr()?.port();
    let answer = format!(
        "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{page}",
        page.len()
    );
    tokio::spawn(async move {
        while let Ok((mut stream, _)) = listener.accept().await {
            let answer = answer.clone();
            // A browser opens connections ahead, on which it may never ask.
            tokio::spawn(async move {
                let _ = stream.read(&mut [0; 4096]).await;
                let _ = stream.write_all(answer.as_bytes()).await;
            });
        }
    });
    Ok(port)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_of_another_site_in_the_same_browser_changes_nothing() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        page.shows("Move these handles").await?;
        let house = page.api("/api/v1/houses/1").await?;
        // All that a page may send without asking first, and a form.
        let script = format!(
            "<title>elsewhere</title><iframe name=f></iframe>\
             <form id=a target=f method=post action='{base}/api/v1/houses/1/undo' enctype='text/plain'><input name=x></form>\
             <script>const send = (path, body, type) => fetch('{base}/api/v1/houses/1' + path, {{ method: 'POST', \
             mode: 'no-cors', credentials: 'include', body: new Blob([body], {{ type }}) }}).catch(() => 0);\
             (async () => {{ const png = 'data';\
             for (const type of ['', 'text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data']) {{\
             await send('/pictures?of=panel&which=1&new=4711&author=x', png, type);\
             await send('/changes', '{{\"author\":\"x\",\"change\":{{\"type\":\"end-step\"}}}}', type); }}\
             document.getElementById('a').submit();\
             await new Promise((done) => setTimeout(done, 500)); document.title = 'sent'; }})();</script>"
        );
        let port = another_site(script).await?;
        for host in ["127.0.0.1", "localhost"] {
            page.driver.goto(format!("http://{host}:{port}/")).await?;
            until("the other site's page has come to its end", async || Ok(page.driver.title().await? == "sent")).await?;
            // Its pictures cannot be shown elsewhere either.
            let shown = "const done = arguments[1]; const picture = new Image(); picture.onload = () => done(true); \
                         picture.onerror = () => done(false); picture.src = arguments[0];";
            let id = house["pictures"][0]["id"].to_string();
            let path = format!("{base}/api/v1/houses/1/pictures/{id}");
            let loaded = page.driver.execute_async(shown, vec![path.into()]).await?;
            ensure!(loaded.json() == false, "{host} shows the house's pictures");
        }
        ensure!(page.api("/api/v1/houses/1").await? == house, "the house was changed from elsewhere");
        page.quit().await
    })
    .await
}
