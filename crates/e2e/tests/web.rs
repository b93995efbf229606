//! The web's own logic, below the browser: what waits to be sent, what is read anew, what the card shows. The tests stand
//! in `web/tests`; this runs them and fails with their words.

use std::path::Path;
use std::process::Command;

#[test]
fn what_the_web_decides_itself_is_right() {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web");
    assert!(web.join("node_modules").is_dir(), "the web's packages are missing: cargo xtask test");
    let output = Command::new("npm").args(["run", "--silent", "test"]).current_dir(web).env("NO_COLOR", "1").output();
    let output = output.expect("npm is installed");
    let (out, err) = (String::from_utf8_lossy(&output.stdout), String::from_utf8_lossy(&output.stderr));
    assert!(output.status.success(), "{out}{err}");
    // None of the files went missing: each says something of its own.
    for file in ["outbox", "live", "phase"] {
        assert!(out.contains(&format!("tests/{file}.test.ts")), "{file} was not run: {out}");
    }
}
