//! The order of the core's rooms: arrows run one way.

#![allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]
use std::fs;
use std::path::{Path, PathBuf};

/// The rooms in their order, as the crate's head lists them.
fn rooms(src: &Path) -> Vec<String> {
    let head = fs::read_to_string(src.join("lib.rs")).unwrap();
    let listed = head.lines().filter_map(|l| l.strip_prefix("//! - `")?.split_once('`'));
    listed.map(|(room, _)| room.to_owned()).collect()
}

fn files(folder: &Path) -> Vec<PathBuf> {
    let entries = fs::read_dir(folder).unwrap().map(|e| e.unwrap().path());
    entries.flat_map(|p| if p.is_dir() { files(&p) } else { vec![p] }).collect()
}

/// Test code may come in by the one door, as a user does.
fn without_tests(file: &Path) -> String {
    let name = file.file_stem().unwrap().to_string_lossy();
    let text = fs::read_to_string(file).unwrap();
    match text.split_once("#[cfg(test)]\nmod tests {") {
        _ if name == "tests" || name.ends_with("_tests") => String::new(),
        Some((code, _)) => code.to_owned(),
        None => text,
    }
}

/// What follows each `crate::`.
fn used(code: &str) -> impl Iterator<Item = &str> {
    let lines = code.lines().filter(|l| !l.trim_start().starts_with("//"));
    let after = lines.flat_map(|l| l.split("crate::").skip(1));
    after.map(|rest| rest.split(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap())
}

#[test]
fn every_room_uses_only_rooms_before_it() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let rooms = rooms(&src);
    let place = |room: &str| rooms.iter().position(|r| r == room);
    let mut arrows = 0;
    let mut wrong = Vec::new();
    for file in files(&src) {
        let inside = file.strip_prefix(&src).unwrap();
        let room = inside.iter().next().unwrap().to_string_lossy().trim_end_matches(".rs").to_owned();
        if ["lib", "fixture"].contains(&room.as_str()) {
            continue;
        }
        let here = place(&room).unwrap_or_else(|| panic!("lib.rs does not list the room {room}"));
        for used in used(&without_tests(&file)).filter(|used| *used != room) {
            arrows += 1;
            // What lib.rs names again has no place in the order: a room is named itself.
            if place(used).is_none_or(|there| there >= here) {
                wrong.push(format!("{} uses {used}", inside.display()));
            }
        }
    }
    assert!(wrong.is_empty(), "against the order {rooms:?}:\n{}", wrong.join("\n"));
    assert!(
        rooms.len() > 10 && arrows > 100,
        "{} rooms, {arrows} arrows: does this test still read the code?",
        rooms.len()
    );
}
