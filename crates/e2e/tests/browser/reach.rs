//! Out of reach: answers outlive the connection, the page and the program, and each counts once.

use anyhow::{Context, Result, ensure};
use serde_json::Value;
use wayfinder_e2e::{Page, Program, Screen, demo, until, with_server};

use super::{asked, demo_answer, evidence_count, tap};

/// Tags of the points answered in the step under way, in the order in which the house heard of them.
async fn arrived(page: &Page) -> Result<Vec<String>> {
    let house = page.api("/api/v1/houses/1").await?;
    let (points, all) = (house["points"].as_array().context("points")?, house["evidence"].as_array());
    let of_step = all.into_iter().flatten().filter(|e| e["step"] == house["step"]["id"]);
    let tag = |e: &Value| points.iter().find(|p| p["id"] == e["point"])?["tag"].as_str().map(str::to_owned);
    Ok(of_step.filter_map(tag).collect())
}

/// Whether the last word on a point is that nobody could tell.
async fn is_unsure(page: &Page, tag: &str) -> Result<bool> {
    let house = page.api("/api/v1/houses/1").await?;
    let (points, all) = (house["points"].as_array().context("points")?, house["evidence"].as_array());
    let id = points.iter().find(|p| p["tag"] == tag).map(|p| &p["id"]);
    let last = all.into_iter().flatten().rev().find(|e| Some(&e["point"]) == id);
    Ok(last.is_some_and(|e| e["observation"]["seen"] == "unsure"))
}

// Two phones, one run: the panel moves handles, the rooms answer. The walker's phone is cut off in the middle of a tour,
// answers it to the end, and everything arrives once and in order when it is back.
#[tokio::test(flavor = "multi_thread")]
async fn two_phones_trace_through_a_lost_connection() -> Result<()> {
    with_server(demo()?, async |base| {
        let panel = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        panel.click("At the panel").await?;
        let rooms = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        rooms.click("In the rooms").await?;
        // Alone, the first tour is long enough to be cut in the middle.
        rooms.click("Begin a run").await?;
        panel.shows("outages so far").await?;
        panel.click("Handles are moved").await?;
        rooms.find("//*[@data-look]").await?;
        rooms.is_accessible("rooms, looking").await?;
        let before = evidence_count(&panel).await?;
        let house = panel.api("/api/v1/houses/1").await?;
        let tour = house["step"]["visit"].as_array().map_or(0, Vec::len);
        ensure!(tour > 3, "the tour has {tour} points");
        rooms.offline(true).await?;
        let mut said: Vec<String> = Vec::new();
        for nth in 0..40 * tour {
            if said.len() == tour {
                break;
            }
            let next = asked(&rooms).await?.filter(|(tag, _)| said.last() != Some(tag));
            let Some((tag, _)) = next else {
                tokio::time::sleep(std::time::Duration::from_millis(40)).await;
                continue;
            };
            demo_answer(&rooms, &panel, &tag, nth).await?;
            said.push(tag);
        }
        let last = said.last().cloned().unwrap_or_default();
        rooms.shows("Walk back into reach").await?;
        // The last answer was a slip: it is taken back, asked for again, and given again, all without a connection.
        rooms.click("Undo").await?;
        until("it is asked again", async || Ok(asked(&rooms).await?.is_some_and(|(tag, _)| tag == last))).await?;
        tap(&rooms, &format!("[data-look='{last}']"), "NOT SURE").await?;
        rooms.shows("Walk back into reach").await?;
        ensure!(said.len() == tour, "{} of {tour} answered without a connection", said.len());
        ensure!(evidence_count(&panel).await? == before, "nothing can have arrived");
        panel.shows("out of reach since").await?;
        rooms.offline(false).await?;
        let all = async || Ok(arrived(&panel).await? == said && is_unsure(&panel, &last).await?);
        let told = until("all has arrived, once and in order, the last as it was said last", all).await;
        let came = arrived(&panel).await?;
        told.with_context(|| format!("said {said:?}, arrived {came:?}"))?;
        panel.quit().await?;
        rooms.quit().await
    })
    .await
}

/// Whether the page's service worker has kept a read whose address contains this.
async fn is_cached(page: &Page, address: &str) -> Result<bool> {
    let script = "const [part, done] = arguments; (async () => { \
                  for (const name of await caches.keys()) { \
                    const kept = await (await caches.open(name)).keys(); \
                    if (kept.some((k) => k.url.includes(part))) return true; } \
                  return false; })().then(done);";
    let kept = page.driver.execute_async(script, vec![address.into()]).await?;
    Ok(kept.json().as_bool() == Some(true))
}

/// Answers the point asked about with LIVE, and waits for the next to be asked.
async fn say_live(page: &Page) -> Result<String> {
    let (tag, _) = asked(page).await?.context("no point is asked about")?;
    ensure!(tap(page, &format!("[data-look='{tag}']"), "LIVE").await?, "{tag} has no LIVE");
    until("the next point is asked about", async || Ok(asked(page).await?.is_some_and(|(next, _)| next != tag)))
        .await?;
    Ok(tag)
}

// The program is killed in the middle of a tour, and the phone's page is closed and opened again before it is back: the
// tour is still there, with what was answered, and goes on.
#[tokio::test(flavor = "multi_thread")]
async fn a_tour_outlives_the_program_and_the_page() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let data = folder.path().join("houses.db");
    let program = Program::serve_demo(&data, "127.0.0.1:0")?;
    let page = Page::open_with_worker(program.base(), "/houses/1/trace", Screen::Phone).await?;
    page.click("In the rooms").await?;
    page.click("Begin a run").await?;
    page.click("Handles are moved").await?;
    page.find("//*[@data-look]").await?;
    let mut said = vec![say_live(&page).await?];
    until("the first answer has arrived", async || Ok(arrived(&page).await?.len() == 1)).await?;
    for address in ["/houses/1/tracing", "/houses/1/beliefs", "/face"] {
        until(address, async || is_cached(&page, address).await).await?;
    }
    let address = program.kill()?;
    said.push(say_live(&page).await?);
    said.push(say_live(&page).await?);
    page.shows("2 answers are kept on this device").await?;
    page.go("/houses/1/trace").await?;
    page.shows("2 answers are kept on this device").await?;
    page.shows("Out of reach").await?;
    page.find("//*[@data-look]").await?;
    said.push(say_live(&page).await?);
    page.is_accessible("rooms, out of reach").await?;
    let again = Program::serve_demo(&data, &address)?;
    until("all have arrived", async || Ok(arrived(&page).await.is_ok_and(|a| a.len() == said.len()))).await?;
    let came = arrived(&page).await?;
    ensure!(came == said, "said {said:?}, came {came:?}");
    page.find("//*[@data-look]").await?;
    say_live(&page).await?;
    until("the next arrives as well", async || Ok(arrived(&page).await?.len() == said.len() + 1)).await?;
    page.quit().await?;
    again.kill()?;
    Ok(())
}

// The desk takes a point out while a phone out of reach answers about it: the answer cannot be taken, is shown until
// somebody has read it, and those behind it go through.
#[tokio::test(flavor = "multi_thread")]
async fn an_answer_that_cannot_be_taken_is_shown_and_holds_nothing_up() -> Result<()> {
    with_server(demo()?, async |base| {
        let desk = Page::open(&base, "/houses/1/trace", Screen::Desk).await?;
        let phone = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        phone.click("In the rooms").await?;
        phone.click("Begin a run").await?;
        phone.click("Handles are moved").await?;
        phone.find("//*[@data-look]").await?;
        phone.offline(true).await?;
        let (gone, stays) = (say_live(&phone).await?, say_live(&phone).await?);
        phone.shows("2 answers are kept on this device").await?;
        let house = desk.api("/api/v1/houses/1").await?;
        let mut points = house["points"].as_array().context("points")?.iter();
        let id = points.find(|p| p["tag"] == gone.as_str()).map(|p| &p["id"]);
        let change = serde_json::json!({ "author": "Wren", "change": { "type": "remove-point", "point": id } });
        let script = "const [body, done] = arguments; fetch('/api/v1/houses/1/changes', { method: 'POST', body, \
                      headers: { 'Content-Type': 'application/json' } }).then((r) => done(r.status));";
        let status = desk.driver.execute_async(script, vec![change.to_string().into()]).await?;
        ensure!(status.json() == 200, "the point is not taken out: {}", status.json());
        phone.offline(false).await?;
        phone.shows("An answer could not be taken").await?;
        until("the other has arrived", async || Ok(arrived(&desk).await? == [stays.as_str()])).await?;
        phone.click("Read").await?;
        until("it is gone", async || Ok(!phone.text().await?.contains("could not be taken"))).await?;
        // The tour goes on at the next point.
        say_live(&phone).await?;
        until("the next arrives", async || Ok(arrived(&desk).await?.len() == 2)).await?;
        desk.quit().await?;
        phone.quit().await
    })
    .await
}

// A phone that was in the house once opens its list and the house without any connection, says that it is out of reach,
// and says plainly what it cannot show.
#[tokio::test(flavor = "multi_thread")]
async fn a_phone_opened_out_of_reach_shows_what_it_read_last() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let program = Program::serve_demo(&folder.path().join("houses.db"), "127.0.0.1:0")?;
    let page = Page::open_with_worker(program.base(), "/", Screen::Phone).await?;
    page.shows("Thistledown School").await?;
    until("the list is kept", async || is_cached(&page, "/api/v1/houses").await).await?;
    page.go("/houses/1/trace").await?;
    page.click("At the panel").await?;
    page.shows("Move these handles").await?;
    until("the order is kept", async || is_cached(&page, "/houses/1/tracing").await).await?;
    program.kill()?;
    page.go("/").await?;
    page.shows("Thistledown School").await?;
    page.go("/houses/1/trace").await?;
    // The page stands where it stood. Alone nobody can have changed the order since; with two it is not to be followed.
    page.shows("Out of reach").await?;
    page.shows("The order is the last one read").await?;
    page.shows("Move these handles").await?;
    page.click("Two people").await?;
    page.shows("Leave the handles as they are: what is shown may be old").await?;
    ensure!(!page.text().await?.contains("Move these handles"), "an old order is still shown");
    page.is_accessible("panel, out of reach").await?;
    page.click("Alone").await?;
    page.click("Handles are moved").await?;
    page.shows("Wayfinder cannot be reached. Nothing was lost").await?;
    page.click("House").await?;
    page.shows("What is shown is what was known then, and cannot be changed now").await?;
    ensure!(!page.text().await?.contains("Move these handles"), "an old order is still shown");
    page.quit().await
}
