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

/// What a file uses of its own room: siblings and parents by `super::`, and by `crate::` with the room's name.
fn used_within(src: &Path, file: &Path) -> Vec<PathBuf> {
    let inside = file.strip_prefix(src).unwrap();
    // `a/mod.rs` and `a.rs` stand for `a`: their own siblings are the files in it.
    let home = if file.ends_with("mod.rs") { inside.parent().unwrap() } else { inside };
    let stem = home.with_extension("");
    let as_file = |module: &Path| {
        let (plain, folder) = (src.join(module).with_extension("rs"), src.join(module).join("mod.rs"));
        [plain, folder].into_iter().find(|f| f.is_file())
    };
    let code = without_tests(file);
    let mut found = Vec::new();
    let mut take = |base: &Path, path: &str| {
        // `super::{a::b, c}` names several.
        let names = path.trim_start_matches('{').split('}').next().unwrap_or("");
        let several = path.starts_with('{');
        let names: Vec<&str> = if several { names.split(',').collect() } else { vec![names] };
        for name in names {
            let name = name.trim().split(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap_or("");
            let module = as_file(&base.join(name)).or_else(|| as_file(base));
            found.extend(module.filter(|m| m != file));
        }
    };
    for line in code.lines().filter(|l| !l.trim_start().starts_with("//")) {
        for rest in line.split("super::").skip(1) {
            take(stem.parent().unwrap(), rest);
        }
        for rest in line.split("crate::").skip(1) {
            let room = rest.split("::").next().unwrap_or("");
            let own = stem.iter().next().is_some_and(|first| first.to_string_lossy() == room);
            if let (true, Some((_, rest))) = (own, rest.split_once("::")) {
                take(Path::new(room), rest);
            }
        }
    }
    found
}

/// A file that others use does not use them. (What a room's `mod.rs` gives out again is its children's, not its own.)
#[test]
fn no_files_use_one_another_in_a_circle() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let files: Vec<PathBuf> = files(&src).into_iter().filter(|f| f.parent() != Some(&src)).collect();
    let uses: Vec<Vec<usize>> = files
        .iter()
        .map(|f| used_within(&src, f).iter().filter_map(|used| files.iter().position(|f| f == used)).collect())
        .collect();
    let reached = |from: usize| {
        let (mut seen, mut next) = (vec![false; files.len()], uses[from].clone());
        while let Some(at) = next.pop() {
            if !std::mem::replace(&mut seen[at], true) {
                next.extend(&uses[at]);
            }
        }
        seen
    };
    let in_circle: Vec<String> = (0..files.len())
        .filter(|at| reached(*at)[*at])
        .map(|at| files[at].strip_prefix(&src).unwrap().display().to_string())
        .collect();
    assert!(uses.iter().flatten().count() > 100, "the paths are read");
    assert!(in_circle.is_empty(), "in circles: {in_circle:?}");
}
