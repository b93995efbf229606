//! The project's commands: `cargo xtask demo | test | check | types | shots | bench`.
//!
//! Each does all its own set-up on a machine with Rust, Node and Debian's apt.

use std::env;
use std::path::{Path, PathBuf};
use std::process::{Command, ExitCode};
use std::time::SystemTime;

use anyhow::{Context, Result, bail, ensure};

const HELP: &str = "cargo xtask COMMAND

  demo [ARGS]  build everything and serve the demo house (ARGS go to `wayfinder serve`)
  test [ARGS]  install what the tests need, build, run all tests (ARGS go to `cargo test`)
  check        format, lint and type checks
  types        write docs/house.schema.json, docs/openapi.json and the web's types anew
  shots        take the pictures in docs/screenshots anew
  bench        time beliefs, advice, loads and plans, and requests to the server
  bench trace  play the ways of tracing in made houses and write docs/benchmarks.md (an argument: how many houses)";

fn main() -> ExitCode {
    let mut args = env::args().skip(1);
    let command = args.next().unwrap_or_default();
    let rest: Vec<String> = args.collect();
    let done = match command.as_str() {
        "demo" => demo(&rest),
        "test" => test(&rest),
        "check" => check(),
        "types" => types(),
        "shots" => shots(),
        "bench" if rest.first().is_some_and(|what| what == "trace") => bench_ways(&rest[1..]),
        "bench" => cargo(&["bench", "--package", "wayfinder-core", "--bench", "trace"])
            .and_then(|()| cargo(&["bench", "--package", "wayfinder-core", "--bench", "loads"]))
            .and_then(|()| cargo(&["bench", "--package", "wayfinder-server", "--bench", "requests"])),
        _ => Err(anyhow::anyhow!("{HELP}")),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(e) => {
            eprintln!("{e:#}");
            ExitCode::FAILURE
        }
    }
}

fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().map_or_else(|| PathBuf::from("."), Path::to_path_buf)
}

fn run(command: &mut Command) -> Result<()> {
    let status =
        command.status().with_context(|| format!("cannot start {}", command.get_program().to_string_lossy()))?;
    ensure!(status.success(), "{} ended with {status}", command.get_program().to_string_lossy());
    Ok(())
}

fn cargo(args: &[&str]) -> Result<()> {
    let cargo = env::var("CARGO").unwrap_or_else(|_| "cargo".into());
    run(Command::new(cargo).args(args).current_dir(root()))
}

fn npm(args: &[&str]) -> Result<()> {
    run(Command::new("npm").args(args).current_dir(root().join("web")))
}

fn modified(path: &Path) -> Option<SystemTime> {
    path.metadata().ok()?.modified().ok()
}

/// The newest time of a file in a folder, or of the file itself.
fn newest(path: &Path) -> Option<SystemTime> {
    if !path.is_dir() {
        return modified(path);
    }
    path.read_dir().ok()?.filter_map(|entry| newest(&entry.ok()?.path())).max()
}

fn web_packages() -> Result<()> {
    let web = root().join("web");
    if modified(&web.join("node_modules/.package-lock.json")) < modified(&web.join("package-lock.json")) {
        npm(&["ci", "--no-audit", "--no-fund"])?;
    }
    Ok(())
}

/// Builds the web app where its sources are newer than the last build.
fn web_app() -> Result<()> {
    web_packages()?;
    let web = root().join("web");
    let sources = ["src", "public", "index.html", "package-lock.json", "vite.config.ts"];
    let changed = sources.iter().filter_map(|s| newest(&web.join(s))).max();
    if modified(&web.join("dist/index.html")) < changed {
        npm(&["run", "--silent", "build"])?;
    }
    Ok(())
}

fn program() -> PathBuf {
    let target = env::var_os("CARGO_TARGET_DIR").map_or_else(|| root().join("target"), PathBuf::from);
    target.join("debug").join("wayfinder")
}

fn build() -> Result<()> {
    cargo(&["build", "--workspace", "--bins"])
}

fn demo(args: &[String]) -> Result<()> {
    web_app()?;
    build()?;
    if env::var_os("DISPLAY").is_some() || env::var_os("WAYLAND_DISPLAY").is_some() {
        // Only where nobody asked for another address; a missing opener is no fault.
        if args.is_empty() {
            let _ = Command::new("sh").args(["-c", "sleep 1; exec xdg-open http://127.0.0.1:8420 2>/dev/null"]).spawn();
        }
    }
    run(Command::new(program()).args(["serve", "--demo"]).args(args).current_dir(root()))
}

fn has(program: &str) -> bool {
    let paths = env::var_os("PATH").unwrap_or_default();
    env::split_paths(&paths).any(|folder| folder.join(program).is_file())
}

/// Installs Debian packages for the programs that are missing.
fn apt(needs: &[(&str, &str)]) -> Result<()> {
    let missing: Vec<&str> = needs.iter().filter(|(program, _)| !has(program)).map(|(_, package)| *package).collect();
    if missing.is_empty() { Ok(()) } else { install(&missing) }
}

fn install(missing: &[&str]) -> Result<()> {
    if !has("apt-get") {
        bail!("please install these first, there is no apt-get here: {}", missing.join(" "));
    }
    let apt_get = |args: &[&str]| {
        let mut command = if has("sudo") { Command::new("sudo") } else { Command::new("apt-get") };
        if has("sudo") {
            command.arg("apt-get");
        }
        run(command.args(args).env("DEBIAN_FRONTEND", "noninteractive"))
    };
    apt_get(&["update", "-qq"])?;
    let install = ["install", "-qq", "-y", "--no-install-recommends"];
    apt_get(&[&install, missing].concat())
}

fn test_tools() -> Result<()> {
    apt(&[
        ("chromium", "chromium"),
        ("chromedriver", "chromium-driver"),
        ("pdftotext", "poppler-utils"),
        ("ngspice", "ngspice"),
        ("glpsol", "glpk-utils"),
        ("xmllint", "libxml2-utils"),
        ("certutil", "libnss3-tools"),
        ("openssl", "openssl"),
        ("zbarimg", "zbar-tools"),
    ])
}

/// Libraries that tests compare with, in an environment of their own.
fn python_tools() -> Result<()> {
    const LIBRARIES: &[&str] = &["numpy==2.2.6", "scipy==1.15.3"];
    let python = root().join("target/python");
    let done = python.join("installed");
    if std::fs::read_to_string(&done).is_ok_and(|names| names == LIBRARIES.join(" ")) {
        return Ok(());
    }
    let make = || run(Command::new("python3").args(["-m", "venv"]).arg(&python));
    // Debian keeps what makes environments in a package of its own.
    if make().is_err() {
        install(&["python3", "python3-venv"])?;
        make()?;
    }
    let pip = ["-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--only-binary", ":all:"];
    run(Command::new(python.join("bin/python")).args(pip).args(LIBRARIES))?;
    Ok(std::fs::write(done, LIBRARIES.join(" "))?)
}

fn test(args: &[String]) -> Result<()> {
    test_tools()?;
    python_tools()?;
    web_app()?;
    let mut all = vec!["test", "--workspace"];
    all.extend(args.iter().map(String::as_str));
    cargo(&all)
}

fn check() -> Result<()> {
    cargo(&["fmt", "--all", "--check"])?;
    cargo(&["clippy", "--quiet", "--workspace", "--all-targets", "--", "--deny", "warnings"])?;
    web_packages()?;
    npm(&["run", "--silent", "check"])
}

fn types() -> Result<()> {
    build()?;
    let written = [
        ("schema", "docs/house.schema.json"),
        ("openapi", "docs/openapi.json"),
        ("for-pages", "web/src/api/core.gen.json"),
    ];
    for (command, file) in written {
        let output = Command::new(program()).arg(command).output()?;
        ensure!(output.status.success(), "wayfinder {command} ended with {}", output.status);
        std::fs::write(root().join(file), output.stdout)?;
    }
    web_packages()?;
    npm(&["run", "--silent", "types"])
}

/// Where the tables of played houses stand in docs/benchmarks.md.
const TABLES: [&str; 2] = ["<!-- played houses -->\n", "<!-- end of played houses -->"];

/// Plays the ways of tracing and puts the tables into the document.
fn bench_ways(args: &[String]) -> Result<()> {
    let cargo = env::var("CARGO").unwrap_or_else(|_| "cargo".into());
    let mut command = Command::new(cargo);
    command.args(["bench", "--quiet", "--package", "wayfinder-core", "--bench", "practice", "--"]).args(args);
    let output = command.current_dir(root()).stderr(std::process::Stdio::inherit()).output()?;
    ensure!(output.status.success(), "the benchmark ended with {}", output.status);
    let tables = String::from_utf8(output.stdout)?;
    print!("{tables}");
    let path = root().join("docs/benchmarks.md");
    let text = std::fs::read_to_string(&path)?;
    let (before, rest) = text.split_once(TABLES[0]).context("docs/benchmarks.md has lost its mark for the tables")?;
    let (_, after) = rest.split_once(TABLES[1]).context("docs/benchmarks.md has lost its end mark")?;
    Ok(std::fs::write(path, format!("{before}{}{tables}{}{after}", TABLES[0], TABLES[1]))?)
}

fn shots() -> Result<()> {
    test_tools()?;
    web_app()?;
    cargo(&["test", "--workspace", "--test", "shots", "--", "--ignored", "--nocapture"])
}
