//! Files of the command line: read whole, written whole or not at all.

use std::fmt;
use std::path::Path;

use jiff::Timestamp;
use wayfinder_core::House;
use wayfinder_formats::house_file;
use wayfinder_formats::survey::{self, BadRows, Fault, Survey, Taken};

/// Input that cannot be used, in the user's words.
#[derive(Debug)]
pub struct Bad(String);

impl Bad {
    pub fn new(what: impl fmt::Display) -> Self {
        Self(what.to_string())
    }

    /// Faults of CSV files, one a line.
    pub fn faults(faults: Vec<Fault>) -> Self {
        let lines: Vec<_> = faults.iter().map(ToString::to_string).collect();
        Self(format!("nothing was taken over:\n  {}", lines.join("\n  ")))
    }
}

impl fmt::Display for Bad {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

pub fn read_text(path: &Path) -> Result<String, Bad> {
    let bytes = std::fs::read(path).map_err(|e| Bad::new(format!("{}: {e}", path.display())))?;
    String::from_utf8(bytes).map_err(|_| Bad::new(format!("{}: this is not UTF-8 text", path.display())))
}

/// A house file, or a survey folder as it would be imported; what is noted of that goes beside the answer.
pub fn read_house(path: &Path) -> Result<House, Bad> {
    if path.is_dir() {
        let (taken, notes) = import(path, BadRows::Refuse)?;
        notes.iter().chain(&taken.notes).for_each(|note| eprintln!("note: {note}"));
        return Ok(taken.house);
    }
    house_file::read(&read_text(path)?).map_err(|e| Bad::new(format!("{}: {e}", path.display())))
}

pub fn write_house(path: &Path, house: &House) -> Result<(), Bad> {
    write_out(path, house_file::write(house).map_err(Bad::new)?.as_bytes())
}

/// Writes beside the place and moves it there, so that what was there stays whole until the new is.
pub fn write_out(path: &Path, bytes: &[u8]) -> Result<(), Bad> {
    let failed = |e: std::io::Error| Bad::new(format!("{}: {e}", path.display()));
    let folder = path.parent().filter(|p| !p.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let mut beside = tempfile::NamedTempFile::new_in(folder).map_err(failed)?;
    std::io::Write::write_all(&mut beside, bytes).map_err(failed)?;
    beside.as_file().sync_all().map_err(failed)?;
    share_like_new_files(beside.as_file()).map_err(failed)?;
    beside.persist(path).map_err(|e| failed(e.error))?;
    Ok(())
}

/// Temporary files are for their owner alone; what is written for keeps is not.
fn share_like_new_files(file: &std::fs::File) -> std::io::Result<()> {
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        file.set_permissions(std::fs::Permissions::from_mode(0o644))?;
    }
    Ok(())
}

/// The texts of a survey folder.
struct SurveyTexts {
    files: Vec<(&'static str, String)>,
    notes: Vec<String>,
}

impl SurveyTexts {
    fn survey(&self) -> Survey<'_> {
        Survey::from_files(|name| self.files.iter().find(|(file, _)| *file == name).map(|(_, text)| text.as_str()))
    }
}

/// The house of a survey folder, named after it where it says no name, and what is noted of its files.
pub fn import(folder: &Path, bad_rows: BadRows) -> Result<(Taken, Vec<String>), Bad> {
    let texts = read_survey(folder)?;
    let own_name = || folder.canonicalize().ok().and_then(|f| Some(f.file_name()?.to_string_lossy().into_owned()));
    let name = own_name().unwrap_or_else(|| "House".into());
    let taken = survey::import(&name, &texts.survey(), Timestamp::now(), bad_rows).map_err(Bad::faults)?;
    Ok((taken, texts.notes))
}

fn read_survey(folder: &Path) -> Result<SurveyTexts, Bad> {
    let entries = std::fs::read_dir(folder).map_err(|e| Bad::new(format!("{}: {e}", folder.display())))?;
    let names = entries.filter_map(|e| e.ok()?.file_name().into_string().ok());
    let mut notes: Vec<_> = names
        .filter(|name| name.ends_with(".csv") && !survey::files().any(|known| known == name))
        .map(|name| format!("{name}: this file is not known and was not read"))
        .collect();
    notes.sort();
    let mut files = Vec::new();
    for name in survey::files() {
        let path = folder.join(name);
        if path.exists() {
            files.push((name, read_text(&path)?));
        }
    }
    Ok(SurveyTexts { files, notes })
}
