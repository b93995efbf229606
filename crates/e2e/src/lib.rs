//! Harness of the browser tests: one chromedriver a test process, one server and one browser a test.
//!
//! Elements are found by what a user sees or hears: the name of a button, the label of a field.

#![allow(clippy::expect_used, reason = "a harness that cannot start has nothing to test")]

use std::collections::HashMap;
use std::io::{BufRead, BufReader};
use std::os::unix::process::CommandExt;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};
use std::time::{Duration, Instant};

use anyhow::{Context, Result, ensure};
use serde_json::{Value, json};
use thirtyfour::ChromeCapabilities;
use thirtyfour::prelude::*;
use wayfinder_server::{Hub, JoinCode, spawn};

/// The join code of every server under test.
pub const CODE: &str = "135790";

struct Driver {
    url: String,
    _child: Child,
}

/// `sh` waits on its stdin, a pipe that closes when this process ends in any way, then ends chromedriver and, since
/// they stay in its process group, all its browsers.
fn chromedriver_url() -> &'static str {
    static DRIVER: OnceLock<Driver> = OnceLock::new();
    let script = "trap '' TERM; (trap - TERM; exec chromedriver --port=0 </dev/null) & read _; kill -- -$$; sleep 1; kill -9 -- -$$";
    let start = || {
        let mut child = Command::new("sh")
            .args(["-c", script])
            .process_group(0)
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("sh starts");
        let mut lines = BufReader::new(child.stdout.take().expect("stdout is piped")).lines();
        let port = |line: String| {
            let rest = line.split("started successfully on port ").nth(1)?;
            rest.trim_end_matches('.').parse::<u16>().ok()
        };
        let port = lines.by_ref().map_while(|line| line.ok()).find_map(port).expect("chromedriver starts");
        // Keep draining, so that it never blocks on a full pipe.
        std::thread::spawn(move || lines.for_each(drop));
        Driver { url: format!("http://127.0.0.1:{port}"), _child: child }
    };
    &DRIVER.get_or_init(start).url
}

const CHROMIUM: &str = "/usr/bin/chromium";

fn capabilities(binary: &str, profile: &Path) -> WebDriverResult<ChromeCapabilities> {
    let mut capabilities = DesiredCapabilities::chrome();
    capabilities.set_binary(binary)?;
    for argument in [
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--disable-dev-shm-usage",
        "--hide-scrollbars",
        "--force-device-scale-factor=1",
        // What fades is no contrast to judge, and nobody waits for it.
        "--force-prefers-reduced-motion",
        "--disable-extensions",
        "--disable-site-isolation-trials",
    ] {
        capabilities.add_arg(argument)?;
    }
    capabilities.add_arg(&format!("--user-data-dir={}", profile.display()))?;
    Ok(capabilities)
}

/// A browser at a server.
pub struct Page {
    /// The browser.
    pub driver: WebDriver,
    /// Where the server is.
    pub base: String,
    profile: tempfile::TempDir,
}

type Browser = (WebDriver, tempfile::TempDir);

/// Browsers that no test has just then: starting one costs seconds.
fn resting() -> MutexGuard<'static, Vec<Browser>> {
    static RESTING: Mutex<Vec<Browser>> = Mutex::new(Vec::new());
    RESTING.lock().unwrap_or_else(PoisonError::into_inner)
}

fn rested() -> Option<Browser> {
    resting().pop()
}

/// How long the slowest machine may take to show something: one whose processor others take stands still for half a minute.
const PATIENCE: Duration = Duration::from_secs(60);
/// What the page does by itself every few seconds it does so much oftener (web/src/app/times.ts).
const HURRY: u8 = 5;
const LOOK_AGAIN: Duration = Duration::from_millis(40);

/// Waits for something to become so.
///
/// # Errors
/// Where it does not in time; or at once, what looking at it gave.
pub async fn until(what: &str, mut so: impl AsyncFnMut() -> Result<bool>) -> Result<()> {
    let begun = Instant::now();
    while begun.elapsed() < PATIENCE {
        if so().await? {
            return Ok(());
        }
        tokio::time::sleep(LOOK_AGAIN).await;
    }
    Err(anyhow::anyhow!("in vain waited until {what}"))
}

/// A screen's size.
#[derive(Debug, Clone, Copy)]
pub enum Screen {
    /// A laptop at the desk: 1280 x 800.
    Desk,
    /// A phone: 390 x 844, touch.
    Phone,
}

/// Starts a server on a free port for the time of a test.
///
/// # Errors
/// Where it cannot start, or the test fails.
pub async fn with_server<F, Fut>(hub: Arc<Hub>, test: F) -> Result<()>
where
    F: FnOnce(String) -> Fut,
    Fut: Future<Output = Result<()>>,
{
    let (address, serving) = spawn(([127, 0, 0, 1], 0).into(), hub.clone()).await?;
    let base = format!("http://{address}");
    servers().insert(base.clone(), hub);
    let result = test(base.clone()).await;
    servers().remove(&base);
    serving.abort();
    result
}

/// Servers that run in this process, by where they are.
fn servers() -> MutexGuard<'static, HashMap<String, Arc<Hub>>> {
    static SERVERS: OnceLock<Mutex<HashMap<String, Arc<Hub>>>> = OnceLock::new();
    SERVERS.get_or_init(Mutex::default).lock().unwrap_or_else(PoisonError::into_inner)
}

fn served(base: &str) -> Option<Arc<Hub>> {
    servers().get(base).cloned()
}

/// The program as a process of its own: it can be killed, and started again on its data.
#[derive(Debug)]
pub struct Program {
    child: Child,
    base: String,
}

impl Program {
    /// Serves the demo house from a database, at an address of this machine.
    ///
    /// # Errors
    /// Where the program was not built, or does not start.
    pub fn serve_demo(data: &Path, listen: &str) -> Result<Self> {
        let program = program()?;
        let data = data.to_str().context("a path that is text")?;
        let mut command = Command::new(program);
        command.args(["serve", "--demo", "--data", data, "--listen", listen]).stdout(Stdio::piped());
        let mut child = command.spawn()?;
        let line = child.stdout.take().and_then(|out| BufReader::new(out).lines().next());
        let mut program = Self { child, base: String::new() };
        let line = line.context("it says nothing")??;
        program.base = line.split(" at ").nth(1).context(line.clone())?.trim().to_owned();
        Ok(program)
    }

    /// Where it serves.
    #[must_use]
    pub fn base(&self) -> &str {
        &self.base
    }

    /// Ends it as a power cut would; the address that it had.
    ///
    /// # Errors
    /// What the system says.
    pub fn kill(mut self) -> Result<String> {
        self.child.kill()?;
        self.child.wait()?;
        Ok(self.base.trim_start_matches("http://").to_owned())
    }
}

impl Drop for Program {
    fn drop(&mut self) {
        // Killed before, it is gone already.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// An empty server's state.
///
/// # Errors
/// Where no temporary database can be made.
pub fn empty() -> Result<Arc<Hub>> {
    // Foreign drawings are drawn by the program, not by the test.
    Hub::temporary_with(JoinCode(CODE.into()), program()?)
}

/// The program under test; the tests run from `deps/` beside it.
fn program() -> Result<PathBuf> {
    let own = std::env::current_exe()?;
    let program = own.ancestors().nth(2).context("no folder of programs")?.join("wayfinder");
    ensure!(program.exists(), "{} is not there: cargo build", program.display());
    Ok(program)
}

/// A server's state with the demo house.
///
/// # Errors
/// Where no temporary database can be made.
pub fn demo() -> Result<Arc<Hub>> {
    let hub = empty()?;
    wayfinder_server::demo::add(&hub)?;
    Ok(hub)
}

impl Page {
    /// Opens a browser at a path of the server.
    ///
    /// # Errors
    /// Where no browser starts.
    pub async fn open(base: &str, path: &str, screen: Screen) -> Result<Self> {
        Self::begin(base, path, screen, false).await
    }

    /// The same with the page's service worker, which keeps what was read for when the program is out of reach. It costs
    /// seconds, so only tests of just that have it.
    ///
    /// # Errors
    /// Where no browser starts.
    pub async fn open_with_worker(base: &str, path: &str, screen: Screen) -> Result<Self> {
        Self::begin(base, path, screen, true).await
    }

    /// Opens a browser of its own that trusts an authority, given as PEM. It is closed by [`Page::close`].
    ///
    /// # Errors
    /// Where no browser starts, or `certutil` is not there.
    pub async fn open_trusting(base: &str, path: &str, screen: Screen, authority: &str) -> Result<Self> {
        let home = tempfile::tempdir()?;
        let (pem, kept) = (home.path().join("authority.pem"), home.path().join(".pki/nssdb"));
        std::fs::write(&pem, authority)?;
        std::fs::create_dir_all(&kept)?;
        let kept = format!("sql:{}", kept.display());
        let pem = pem.to_str().context("a path that is text")?;
        for args in [&["-N", "--empty-password"][..], &["-A", "-t", "C,,", "-n", "house", "-i", pem]] {
            let done = Command::new("certutil").args(["-d", &kept]).args(args).status()?;
            ensure!(done.success(), "certutil {args:?}");
        }
        // The browser looks for what a person trusts under their home.
        let start = home.path().join("start");
        std::fs::write(&start, format!("#!/bin/sh\nHOME='{}' exec {CHROMIUM} \"$@\"\n", home.path().display()))?;
        std::fs::set_permissions(&start, std::os::unix::fs::PermissionsExt::from_mode(0o755))?;
        let browser = Self::start(start.to_str().context("a path that is text")?, home).await?;
        Self::at(browser, base, path, screen, true).await
    }

    /// Ends a browser that nobody else is to have.
    ///
    /// # Errors
    /// What the browser says.
    pub async fn close(self) -> Result<()> {
        Ok(self.driver.quit().await?)
    }

    async fn start(binary: &str, profile: tempfile::TempDir) -> Result<Browser> {
        // A browser outlives the test that started it, and a connection kept open would end with that test's runtime.
        let client = reqwest::Client::builder().pool_max_idle_per_host(0).timeout(2 * PATIENCE).build()?;
        let wanted = capabilities(binary, profile.path())?;
        let driver = WebDriver::builder(chromedriver_url(), wanted).client(client).await?;
        let hurry = json!({ "source": format!("globalThis.wayfinderHurry = {HURRY}") });
        driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", hurry).await?;
        Ok((driver, profile))
    }

    async fn begin(base: &str, path: &str, screen: Screen, worker: bool) -> Result<Self> {
        let browser = match rested() {
            Some(browser) => browser,
            None => Self::start(CHROMIUM, tempfile::tempdir()?).await?,
        };
        Self::at(browser, base, path, screen, worker).await
    }

    async fn at((driver, profile): Browser, base: &str, path: &str, screen: Screen, worker: bool) -> Result<Self> {
        let page = Self { driver, base: base.into(), profile };
        let (width, height, mobile) = match screen {
            Screen::Desk => (1280, 800, false),
            Screen::Phone => (390, 844, true),
        };
        // Exact, which `--window-size` is not: it counts the window's frame too.
        let metrics = json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": mobile});
        page.driver.cdp().send_raw("Emulation.setDeviceMetricsOverride", metrics).await?;
        let touch = json!({ "enabled": mobile });
        page.driver.cdp().send_raw("Emulation.setTouchEmulationEnabled", touch).await?;
        let blocked: &[&str] = if worker { &[] } else { &["*/registerSW.js"] };
        page.driver.cdp().send_raw("Network.enable", json!({})).await?;
        page.driver.cdp().send_raw("Network.setBlockedURLs", json!({ "urls": blocked })).await?;
        page.go(path).await?;
        Ok(page)
    }

    /// Cuts the browser's connection, or joins it again.
    ///
    /// # Errors
    /// What the browser says.
    pub async fn offline(&self, cut: bool) -> Result<()> {
        let cdp = self.driver.cdp();
        cdp.send_raw("Network.enable", json!({})).await?;
        let conditions = json!({"offline": cut, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1});
        cdp.send_raw("Network.emulateNetworkConditions", conditions).await?;
        Ok(())
    }

    /// Goes to a path of the server. A browser that has rested may have lost its connection to the driver, which is
    /// noticed at the first use: then once more.
    ///
    /// # Errors
    /// What the browser says.
    pub async fn go(&self, path: &str) -> Result<()> {
        let place = format!("{}{path}", self.base);
        match self.driver.goto(&place).await {
            Ok(()) => Ok(()),
            Err(_) => Ok(self.driver.goto(&place).await?),
        }
    }

    /// Lets go of the browser: the next test has it, with nothing left of this one. Each server has a port of its own, so
    /// storage and workers of one are none of another's; only cookies go by the host.
    ///
    /// # Errors
    /// What the browser says.
    pub async fn quit(self) -> Result<()> {
        self.offline(false).await?;
        self.driver.goto("about:blank").await?;
        self.driver.cdp().send_raw("Network.clearBrowserCookies", json!({})).await?;
        resting().push((self.driver, self.profile));
        Ok(())
    }

    /// Waits for the first element of an XPath that can be seen.
    ///
    /// # Errors
    /// Where there is none in time; says what the page shows instead.
    pub async fn find(&self, xpath: &str) -> Result<WebElement> {
        // In one go within the page: the driver's own look at each element costs many times as much.
        let script = "const found = document.evaluate(arguments[0], document, null, 7, null);
            for (let i = 0; i < found.snapshotLength; i++) {
                const element = found.snapshotItem(i);
                const seen = element.checkVisibility({ opacityProperty: true, visibilityProperty: true });
                if (seen && element.getClientRects().length > 0) return element;
            }
            return null;";
        let begun = Instant::now();
        while begun.elapsed() < PATIENCE {
            // A page that is just being loaded has nothing yet.
            if let Ok(found) = self.driver.execute(script, vec![xpath.into()]).await
                && let Ok(element) = found.element()
            {
                return Ok(element);
            }
            tokio::time::sleep(LOOK_AGAIN).await;
        }
        let shown = self.text().await.unwrap_or_default();
        Err(anyhow::anyhow!("no {xpath}\nthe page shows:\n{shown}"))
    }

    /// Clicks the first element of an XPath that can be seen, once it can be clicked.
    ///
    /// # Errors
    /// Where there is none in time.
    pub async fn press(&self, xpath: &str) -> Result<()> {
        let begun = Instant::now();
        loop {
            let element = self.find(xpath).await?;
            let clicked = match element.is_enabled().await {
                Ok(true) => element.click().await.map_err(anyhow::Error::from),
                Ok(false) => Err(anyhow::anyhow!("it cannot be clicked")),
                Err(e) => Err(e.into()),
            };
            match clicked {
                Ok(()) => return Ok(()),
                // Drawn anew between the look and the click, or still covered by an animation.
                Err(_) if begun.elapsed() < PATIENCE => tokio::time::sleep(LOOK_AGAIN).await,
                Err(e) => return Err(e).with_context(|| format!("clicking {xpath}")),
            }
        }
    }

    /// A button, link, tab or option by the beginning of its name.
    ///
    /// # Errors
    /// Where there is none in time.
    pub async fn button(&self, name: &str) -> Result<WebElement> {
        self.find(&button_named(name)).await
    }

    /// Clicks a button, link, tab or option by the beginning of its name.
    ///
    /// # Errors
    /// Where there is none in time.
    pub async fn click(&self, name: &str) -> Result<()> {
        self.press(&button_named(name)).await
    }

    /// A field by its label.
    ///
    /// # Errors
    /// Where there is none in time.
    pub async fn field(&self, label: &str) -> Result<WebElement> {
        let label = quoted(label);
        self.find(&format!("//input[@id = //label[starts-with(normalize-space(.), {label})]/@for]")).await
    }

    /// Types into a field in place of what stands there.
    ///
    /// # Errors
    /// Where there is no such field.
    pub async fn fill(&self, label: &str, text: &str) -> Result<()> {
        let begun = Instant::now();
        loop {
            let field = self.field(label).await?;
            let typed = async {
                field.send_keys(Key::Control + "a").await?;
                field.send_keys(text).await
            };
            match typed.await {
                Ok(()) => return Ok(()),
                // Drawn anew between the look and the keys, as what was done before arrived.
                Err(_) if begun.elapsed() < PATIENCE => tokio::time::sleep(LOOK_AGAIN).await,
                Err(e) => return Err(e).with_context(|| format!("typing into {label}")),
            }
        }
    }

    /// Types to whatever has the focus.
    ///
    /// # Errors
    /// What the browser says.
    pub async fn keys(&self, keys: impl Into<TypingData>) -> Result<()> {
        Ok(self.driver.action_chain().send_keys(keys).perform().await?)
    }

    /// The focus leaves whatever button it went back to, as by a tap beside it: single keys mean the page again.
    ///
    /// # Errors
    /// What the browser says.
    pub async fn leaves_the_button(&self) -> Result<()> {
        self.driver.execute("document.activeElement.blur()", vec![]).await?;
        Ok(())
    }

    /// All text that can be seen.
    ///
    /// # Errors
    /// What the browser says.
    pub async fn text(&self) -> Result<String> {
        let text = self.driver.execute("return document.body.innerText", vec![]).await?;
        Ok(text.json().as_str().unwrap_or_default().to_owned())
    }

    /// Waits until the page shows a text.
    ///
    /// # Errors
    /// Where it does not in time; says what it shows instead.
    pub async fn shows(&self, text: &str) -> Result<()> {
        let mut shown = String::new();
        let begun = Instant::now();
        while begun.elapsed() < PATIENCE {
            shown = self.text().await.unwrap_or_default();
            if shown.contains(text) {
                return Ok(());
            }
            tokio::time::sleep(LOOK_AGAIN).await;
        }
        Err(anyhow::anyhow!("the page does not show \"{text}\" but:\n{shown}"))
    }

    /// A GET of the API, as this machine itself may make it.
    ///
    /// # Errors
    /// Where none answers, or not with JSON.
    pub async fn api(&self, path: &str) -> Result<Value> {
        // A whole house is asked for in quick loops: where its server runs in this process, without a request.
        if let Some(hub) = served(&self.base)
            && let Some(id) = path.strip_prefix("/api/v1/houses/").and_then(|id| id.parse().ok())
        {
            return Ok(serde_json::to_value(&*hub.house(id)?)?);
        }
        // Not through the page: its service worker would keep each answer, and a page out of reach gets none.
        Ok(reqwest::get(format!("{}{path}", self.base)).await?.json().await?)
    }

    /// Checks the page with axe: no serious or critical violation of WCAG 2.2 AA.
    ///
    /// # Errors
    /// The violations.
    pub async fn is_accessible(&self, view: &str) -> Result<()> {
        let axe = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js");
        // Once a document.
        if self.driver.execute("return window.axe === undefined", vec![]).await?.json() == true {
            self.driver.execute(std::fs::read_to_string(axe)?, vec![]).await?;
        }
        let script = "const done = arguments[arguments.length - 1];
            axe.run(document, { runOnly: ['wcag2a','wcag2aa','wcag21a','wcag21aa','wcag22aa'] })
               .then(r => done({ violations: r.violations.map(v => ({ id: v.id, impact: v.impact, nodes: v.nodes.map(n => n.html) })), passes: r.passes.length }))
               .catch(e => done({ error: String(e) }));";
        let result = self.driver.execute_async(script, vec![]).await?.json().clone();
        ensure!(result["error"].is_null(), "axe: {}", result["error"]);
        ensure!(result["passes"].as_u64().unwrap_or(0) > 5, "axe checked hardly anything: {result}");
        let serious = |v: &&Value| matches!(v["impact"].as_str(), Some("serious" | "critical"));
        let found: Vec<_> = result["violations"].as_array().into_iter().flatten().filter(serious).collect();
        ensure!(found.is_empty(), "{view}: {found:#?}");
        Ok(())
    }

    /// Saves a picture of the page.
    ///
    /// # Errors
    /// What the browser or the file system says.
    pub async fn picture(&self, file: &Path) -> Result<()> {
        // Let the snack bar and the ripples come to rest.
        tokio::time::sleep(Duration::from_millis(600)).await;
        Ok(self.driver.screenshot(file).await?)
    }
}

fn button_named(name: &str) -> String {
    let named = format!("(starts-with(normalize-space(.), {0}) or starts-with(@aria-label, {0}))", quoted(name));
    let roles = "self::button or self::a or @role='button' or @role='option' or @role='tab'";
    format!("//*[({roles}) and {named}]")
}

/// A text as XPath writes it.
#[must_use]
pub fn quoted(text: &str) -> String {
    if text.contains('\'') { format!("\"{text}\"") } else { format!("'{text}'") }
}
