//! In the hand: what a phone shows and tells while somebody works with it.

use anyhow::{Context, Result, ensure};
use serde_json::{Value, json};
use wayfinder_e2e::{Page, Screen, demo, until, with_server};

use super::{all_proven_right, tap, trace_to_the_end, true_house};

// Not at the first showing, and only aloud where that was asked for; a run keeps the screen awake.
#[tokio::test(flavor = "multi_thread")]
async fn a_phone_tells_aloud_shakes_and_stays_awake() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.click("In the rooms").await?;
        page.shows("Move these handles").await?;
        // What a phone would do is written down instead.
        let listen = "window.told = { said: [], shaken: 0, awake: 0 }; \
                      speechSynthesis.speak = (words) => told.said.push(words.text); \
                      navigator.vibrate = () => { told.shaken += 1; return true; }; \
                      navigator.wakeLock.request = async () => { told.awake += 1; return { release: async () => {} }; };";
        page.driver.execute(listen, vec![]).await?;
        let told = async || -> Result<Value> {
            Ok(page.driver.execute("return window.told", vec![]).await?.json().clone())
        };
        page.click("Begin a run").await?;
        page.shows("outages so far").await?;
        let now = told().await?;
        ensure!(now["awake"] == 1 && now["said"] == json!([]) && now["shaken"] == 0, "{now}");
        // By a tap in one go: "Undo" lies over the foot of the page for a while.
        tap(&page, "main", "Voice off").await?;
        page.button("Voice on").await?;
        ensure!(told().await?["said"] == json!(["Walk to the panel"]), "{}", told().await?);
        page.click("Handles are moved").await?;
        page.shows("Look at point 1 of").await?;
        let now = told().await?;
        let said = now["said"][1].as_str().unwrap_or_default();
        ensure!(said.starts_with("Cellar. S1, furnace") && now["shaken"] == 1, "{now}");
        tap(&page, "main", "Voice on").await?;
        page.click("LIVE").await?;
        page.shows("Look at point 2 of").await?;
        let now = told().await?;
        ensure!(now["said"].as_array().map(Vec::len) == Some(2) && now["shaken"] == 2, "quiet again: {now}");
        page.quit().await
    })
    .await
}

// A page that came by plain HTTP may not ask to stay awake: a silent film does it from the next tap on, and ends with the run.
#[tokio::test(flavor = "multi_thread")]
async fn without_a_secure_connection_a_silent_film_keeps_the_screen_awake() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        let script = "delete Navigator.prototype.wakeLock; window.film = [];
                      HTMLMediaElement.prototype.play = function () { film.push('plays'); return Promise.resolve(); };
                      HTMLMediaElement.prototype.pause = function () { film.push('ends'); };
                      return 'wakeLock' in navigator";
        ensure!(page.driver.execute(script, vec![]).await?.json() == false, "as in an insecure page");
        page.click("Begin a run").await?;
        page.shows("outages so far").await?;
        let film = async || Ok::<_, anyhow::Error>(page.driver.execute("return film", vec![]).await?.json().clone());
        ensure!(film().await? == json!([]), "not before a tap: {}", film().await?);
        until("a tap starts the film", async || {
            tap(&page, "main", "Voice o").await?;
            Ok(film().await? == json!(["plays"]))
        })
        .await?;
        page.click("Today").await?;
        page.shows("What feeds this?").await?;
        ensure!(film().await? == json!(["plays", "ends"]), "{}", film().await?);
        page.quit().await
    })
    .await
}

/// Writes down, in the page, what it asks for from one moment to the next: points to look at and handles to move, each
/// while it can be tapped.
const WATCH: &str = "window.asked = []; \
    const now = () => { \
      const look = document.querySelector('[data-look]'); \
      if (look) return 'look ' + look.dataset.look; \
      const order = [...document.querySelectorAll('h2')].find((h) => /^(Move these|Leave the)/.test(h.textContent)); \
      if (!order || order.closest('[aria-busy=true]')) return undefined; \
      return 'order ' + order.parentElement.textContent; }; \
    const note = () => { const what = now(); if (what && what !== asked.at(-1)) asked.push(what); }; \
    new MutationObserver(note).observe(document.body, { subtree: true, childList: true, attributes: true, \
      characterData: true }); \
    note();";

// A thumb is quick: what it was about to answer must not become something else under it, neither the point just answered
// once more nor the order of the round before.
#[tokio::test(flavor = "multi_thread")]
async fn alone_a_phone_traces_a_house_to_the_end_and_nothing_changes_under_the_thumb() -> Result<()> {
    with_server(true_house()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.shows("Move these handles").await?;
        page.driver.execute(WATCH, vec![]).await?;
        trace_to_the_end(&page, false).await?;
        all_proven_right(&page).await?;
        let asked = page.driver.execute("return window.asked", vec![]).await?;
        let asked: Vec<&str> = asked.json().as_array().context("a list")?.iter().filter_map(Value::as_str).collect();
        let house = page.api("/api/v1/houses/1").await?;
        let answers = house["evidence"].as_array().map_or(0, Vec::len);
        let looks = asked.iter().filter(|a| a.starts_with("look ")).count();
        // One more showing than answers would be a point shown and taken away again.
        ensure!(looks <= answers, "{looks} showings for {answers} answers: {asked:#?}");
        let orders: Vec<&&str> = asked.iter().filter(|a| a.starts_with("order ")).collect();
        ensure!(orders.len() > 2, "{asked:#?}");
        ensure!(orders.windows(2).all(|pair| pair[0] != pair[1]), "an old order came again: {orders:#?}");
        page.shows("The map so far").await?;
        page.is_accessible("rooms stance at the end").await?;
        // The point's evidence can be read on the phone too.
        page.click("K8").await?;
        page.shows("Proven: breaker 5-7").await?;
        page.is_accessible("point on a phone").await?;
        page.quit().await
    })
    .await
}

// In the rooms nothing is fetched that is not shown, and nothing twice: the change, then the house and what to do next.
#[tokio::test(flavor = "multi_thread")]
async fn an_answer_in_the_rooms_costs_one_change_and_two_reads() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.click("In the rooms").await?;
        page.click("Handles are moved").await?;
        page.shows("Look at point 1 of").await?;
        // All pages are fetched a moment after the first; what is asked before that is not what a tap costs.
        tokio::time::sleep(std::time::Duration::from_millis(2500)).await;
        page.driver.execute("performance.clearResourceTimings()", vec![]).await?;
        page.click("LIVE").await?;
        page.shows("Look at point 2 of").await?;
        tokio::time::sleep(std::time::Duration::from_millis(1500)).await;
        let script = "return performance.getEntriesByType('resource').map((e) => new URL(e.name).pathname) \
                      .filter((path) => path.startsWith('/api/') && !path.endsWith('/presence')).sort()";
        let asked = page.driver.execute(script, vec![]).await?;
        let expected = json!(["/api/v1/houses/1", "/api/v1/houses/1/changes", "/api/v1/houses/1/tracing"]);
        ensure!(*asked.json() == expected, "{}", asked.json());
        page.quit().await
    })
    .await
}

// Somebody noted 17 and had 23 off: one doubt for all that was seen so, and one tap puts the looks right.
#[tokio::test(flavor = "multi_thread")]
async fn one_slip_at_the_panel_is_put_right_on_a_phone() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/houses/1/trace", Screen::Phone).await?;
        page.click("In the rooms").await?;
        page.shows("Begin a run").await?;
        let slip = "const done = arguments[0]; const path = '/api/v1/houses/1'; (async () => { \
                    const house = await (await fetch(path)).json(); \
                    const id = (all, name, of) => house[all].find((x) => String(x[name]) === of && (x.panel ?? 1) === 1).id; \
                    const status = []; \
                    for (const [nth, tag] of ['R1', 'R2', 'R3'].entries()) { \
                      const observation = { what: 'power', off: [id('breakers', 'at', '17')], seen: 'dead', how: 'tester' }; \
                      const evidence = { id: 9001 + nth, point: id('points', 'tag', tag), time: `2027-01-01T10:0${nth}:00Z`, \
                        who: 'Wren', observation }; \
                      const body = JSON.stringify({ author: 'Wren', change: { type: 'record', evidence } }); \
                      const headers = { 'content-type': 'application/json' }; \
                      status.push((await fetch(path + '/changes', { method: 'POST', headers, body })).status); } \
                    done(status); })();";
        let status = page.driver.execute_async(slip, vec![]).await?.json().clone();
        ensure!(status == json!([200, 200, 200]), "{status}");
        page.shows("Answers that do not fit together").await?;
        page.is_accessible("a doubt on a phone").await?;
        page.click("So it was: put 3 looks right").await?;
        until("the doubt is gone", async || Ok(!page.text().await?.contains("do not fit together"))).await?;
        let house = page.api("/api/v1/houses/1").await?;
        let mut evidence = house["evidence"].as_array().context("evidence")?.iter();
        ensure!(evidence.any(|e| e["id"] == 9001 && e["observation"]["how"] == "word"), "a look put right is a word");
        page.quit().await
    })
    .await
}
