//! The order of the core's rooms: arrows run one way.

#![allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]
use std::collections::BTreeSet;
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

/// The arrows between rooms: which uses which, with the file that does.
fn arrows(src: &Path, rooms: &[String]) -> Vec<(String, String, PathBuf)> {
    let mut all = Vec::new();
    for file in files(src) {
        let inside = file.strip_prefix(src).unwrap();
        let room = inside.iter().next().unwrap().to_string_lossy().trim_end_matches(".rs").to_owned();
        if ["lib", "fixture"].contains(&room.as_str()) {
            continue;
        }
        assert!(rooms.contains(&room), "lib.rs does not list the room {room}");
        let text = without_tests(&file);
        let others = used(&text).filter(|used| *used != room);
        all.extend(others.map(|used| (room.clone(), used.to_owned(), inside.to_owned())));
    }
    all
}

#[test]
fn every_room_uses_only_rooms_before_it() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let rooms = rooms(&src);
    let place = |room: &str| rooms.iter().position(|r| r == room);
    let all = arrows(&src, &rooms);
    // What lib.rs names again has no place in the order: a room is named itself.
    let against =
        |(room, used, _): &&(String, String, PathBuf)| place(used).is_none_or(|there| Some(there) >= place(room));
    let wrong: Vec<String> =
        all.iter().filter(against).map(|(_, used, file)| format!("{} uses {used}", file.display())).collect();
    assert!(wrong.is_empty(), "against the order {rooms:?}:\n{}", wrong.join("\n"));
    let (count, arrows) = (rooms.len(), all.len());
    assert!(count > 10 && arrows > 100, "{count} rooms, {arrows} arrows: does this test still read the code?");
}

/// The picture of the rooms in docs/architecture.md, from the imports: an arrow that a longer way stands for is left out.
#[test]
fn the_picture_of_the_rooms_is_current() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let rooms = rooms(&src);
    let all: BTreeSet<(String, String)> =
        arrows(&src, &rooms).into_iter().map(|(room, used, _)| (room, used)).collect();
    let uses = |from: &str| -> Vec<&str> {
        all.iter().filter(|(room, _)| room == from).map(|(_, used)| used.as_str()).collect()
    };
    fn reaches<'a>(uses: &impl Fn(&str) -> Vec<&'a str>, from: &str, to: &str) -> bool {
        uses(from).into_iter().any(|next| next == to || reaches(uses, next, to))
    }
    let mut lines = vec!["```mermaid".to_owned(), "graph TD".to_owned()];
    for room in rooms.iter().rev() {
        for used in uses(room) {
            let longer = uses(room).into_iter().any(|by| by != used && reaches(&uses, by, used));
            if !longer {
                lines.push(format!("  {room} --> {used}"));
            }
        }
    }
    lines.push("```".to_owned());
    let (picture, file) = (lines.join("\n"), src.join("../../../docs/architecture.md"));
    let text = fs::read_to_string(&file).unwrap();
    let (before, rest) = text.split_once("<!-- rooms -->\n").expect("the mark where the picture begins");
    let (shown, after) = rest.split_once("\n<!-- /rooms -->").expect("the mark where it ends");
    if std::env::var_os("WAYFINDER_PICTURES").is_some() {
        fs::write(&file, format!("{before}<!-- rooms -->\n{picture}\n<!-- /rooms -->{after}")).unwrap();
    } else {
        assert_eq!(shown, picture, "write it anew with WAYFINDER_PICTURES=1");
    }
}

/// What a file uses of its own room: siblings and parents by `super::`, and by `crate::` with the room's name; in a crate that is
/// one room, by `crate::` at all.
fn used_within(src: &Path, file: &Path, one_room: bool) -> Vec<PathBuf> {
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
            match rest.split_once("::") {
                Some((_, inside)) if own || (one_room && src.join(room).is_dir()) => take(Path::new(room), inside),
                _ if one_room => take(Path::new(""), rest),
                _ => {}
            }
        }
    }
    found
}

/// Files of a crate that use one another in a circle.
fn in_circles(src: &Path, files: &[PathBuf], one_room: bool) -> Vec<String> {
    let uses: Vec<Vec<usize>> = files
        .iter()
        .map(|f| used_within(src, f, one_room).iter().filter_map(|used| files.iter().position(|f| f == used)).collect())
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
    assert!(uses.iter().flatten().count() > files.len(), "the paths of {} are read", src.display());
    let circular = (0..files.len()).filter(|at| reached(*at)[*at]);
    circular.map(|at| files[at].strip_prefix(src).unwrap().display().to_string()).collect()
}

/// A file that others use does not use them. (What a room's `mod.rs` gives out again is its children's, not its own.)
#[test]
fn no_files_use_one_another_in_a_circle() {
    let core = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let of_rooms: Vec<PathBuf> = files(&core).into_iter().filter(|f| f.parent() != Some(&core)).collect();
    assert_eq!(in_circles(&core, &of_rooms, false), [""; 0]);
    let server = core.parent().unwrap().parent().unwrap().join("server/src");
    let roots = ["lib.rs", "main.rs"].map(|root| server.join(root));
    let of_server: Vec<PathBuf> = files(&server).into_iter().filter(|f| !roots.contains(f)).collect();
    assert_eq!(in_circles(&server, &of_server, true), [""; 0]);
}

/// A name means one thing: no two types of the core share one, so that nobody reads of a plan, a step or a round and has to ask
/// which. (docs/model.md tells them all.)
#[test]
fn no_two_types_share_a_name() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut seen: Vec<(String, PathBuf)> = Vec::new();
    for file in files(&src) {
        for line in without_tests(&file).lines() {
            let words: Vec<&str> = line.trim_start_matches("    ").split_whitespace().collect();
            let at = words.iter().position(|w| ["struct", "enum", "trait"].contains(w));
            let is_type = at.is_some_and(|at| words[..at].iter().all(|w| w.starts_with("pub")));
            if let (true, Some(name)) = (is_type, at.and_then(|at| words.get(at + 1))) {
                let name = name.split(|c: char| !c.is_alphanumeric()).next().unwrap();
                seen.push((name.to_owned(), file.strip_prefix(&src).unwrap().to_owned()));
            }
        }
    }
    assert!(seen.len() > 300, "the types are read: {}", seen.len());
    seen.sort();
    let twice: Vec<&[(String, PathBuf)]> = seen.windows(2).filter(|two| two[0].0 == two[1].0).collect();
    assert!(twice.is_empty(), "names that mean two things: {twice:?}");
}
