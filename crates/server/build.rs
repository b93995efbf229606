//! Sees a new build of the web app, so that the program embeds it.

fn main() {
    println!("cargo::rerun-if-changed=../../web/dist");
}
