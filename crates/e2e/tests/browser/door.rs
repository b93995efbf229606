//! Letting a phone in: by its camera, and by HTTPS.

use std::process::Command;

use anyhow::{Context, Result, ensure};
use wayfinder_e2e::{Page, Screen, demo, with_server};

/// What a camera reads from the picture of the page, as an independent reader of QR codes does.
async fn read_by_camera(page: &Page) -> Result<String> {
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("page.png");
    page.picture(&file).await?;
    let read =
        Command::new("zbarimg").args(["--quiet", "--raw", "-Sdisable", "-Sqrcode.enable"]).arg(&file).output()?;
    Ok(String::from_utf8(read.stdout)?.trim().to_owned())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_phone_that_trusts_the_house_comes_in_by_https_and_opens_out_of_reach() -> Result<()> {
    with_server(demo()?, async |base| {
        let desk = Page::open(&base, "/houses/1/today", Screen::Desk).await?;
        desk.click("Phone").await?;
        desk.shows("Let a phone in").await?;
        desk.is_accessible("let a phone in").await?;
        // ISO/IEC 18004: what is drawn is the address with the join code behind its hash.
        let read = read_by_camera(&desk).await?;
        ensure!(read == format!("{base}/join#code={}", wayfinder_e2e::CODE), "{read}");
        desk.click("Switch the secure connection on").await?;
        desk.shows("Certificate Trust Settings").await?;
        desk.shows("Install anyway").await?;
        desk.is_accessible("the full way").await?;
        let script = "const done = arguments[0]; fetch('/authority.crt').then(r => r.text()).then(done)";
        let authority = desk.driver.execute_async(script, vec![]).await?.json().as_str().context("text")?.to_owned();
        let secure = desk.find("//*[starts-with(normalize-space(.), 'https://') and not(*)]").await?.text().await?;
        desk.quit().await?;

        let phone = Page::open_trusting(&secure, "/join#code=135790", Screen::Phone, &authority).await?;
        // Nothing was typed: the code was in the address.
        phone.click("Thistledown School").await?;
        phone.shows("What feeds this?").await?;
        let script = "const done = arguments[0]; navigator.serviceWorker.ready.then((worker) => \
                      done([window.isSecureContext, worker.scope, location.hash]))";
        let got = phone.driver.execute_async(script, vec![]).await?.json().clone();
        ensure!(got[0] == true && got[1] == format!("{secure}/") && got[2] == "", "{got}");
        phone.close().await
    })
    .await
}

// Without the authority the browser refuses: nobody in between can pretend to be the house.
#[tokio::test(flavor = "multi_thread")]
async fn a_browser_that_does_not_trust_the_house_refuses_its_https() -> Result<()> {
    with_server(demo()?, async |base| {
        let page = Page::open(&base, "/phone", Screen::Phone).await?;
        page.click("Switch the secure connection on").await?;
        let secure = page.find("//*[starts-with(normalize-space(.), 'https://') and not(*)]").await?.text().await?;
        // Some versions of the driver tell it as an error.
        let told = page.driver.goto(&secure).await.err().map(|e| e.to_string()).unwrap_or_default();
        let shown = page.text().await?;
        ensure!(told.contains("ERR_CERT") || shown.contains("Your connection is not private"), "{told} {shown}");
        page.quit().await
    })
    .await
}
