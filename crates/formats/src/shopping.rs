//! A list for the shop: as a table, as text to send, and as a sheet.

use std::fmt::Write;

use wayfinder_core::job::shopping::{ShopLine, Shopping};

use crate::work_sheet;

fn money(of: Option<f64>) -> String {
    of.map_or_else(String::new, |money| format!("{money:.2}"))
}

/// RFC 4180, with a header.
///
/// # Errors
/// Where it cannot be written.
pub fn csv(list: &Shopping) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record(["count", "unit", "what", "note", "price", "sum"])?;
    for line in &list.lines {
        let part = &line.part;
        let count = if part.count == 0 { String::new() } else { part.count.to_string() };
        out.write_record([&count, &part.unit, &part.what, &part.note, &money(line.price), &money(line.sum)])?;
    }
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

/// What it comes to, in words; nothing where nobody typed a price.
fn sum(list: &Shopping) -> Option<String> {
    let priced = list.lines.len() - list.open;
    let without = if list.open == 0 { String::new() } else { format!(", {} without a price or a length", list.open) };
    (priced > 0).then(|| format!("Together {:.2}{without}", list.sum))
}

fn said(line: &ShopLine) -> String {
    let sum = line.sum.map_or_else(String::new, |sum| format!(", {sum:.2}"));
    format!("{}{sum}", work_sheet::part(&line.part))
}

/// As text to send.
#[must_use]
pub fn text(title: &str, list: &Shopping) -> String {
    let mut out = format!("{title}\n");
    for line in &list.lines {
        let _ = writeln!(out, "- {}", said(line));
    }
    if let Some(sum) = sum(list) {
        let _ = writeln!(out, "{sum}");
    }
    if !list.tools.is_empty() {
        let _ = writeln!(out, "Tools: {}", list.tools.join(", "));
    }
    out
}

/// The pages of a sheet, each a drawing of letter size.
#[must_use]
pub fn pages(house: &str, title: &str, list: &Shopping) -> Vec<String> {
    let mut lines: Vec<String> = list.lines.iter().map(said).collect();
    lines.extend(sum(list));
    let tools: Vec<String> = if list.tools.is_empty() { Vec::new() } else { vec![list.tools.join(", ")] };
    work_sheet::of_list(title, &format!("{house}: for the shop"), &[("To buy", lines), ("Tools", tools)])
}

#[cfg(test)]
mod tests {
    use super::*;
    use wayfinder_core::house::Part;
    use wayfinder_core::job::shopping::shopping;

    fn list() -> Shopping {
        let part = |count, unit: &str, what: &str, note: &str| Part {
            count,
            unit: unit.into(),
            what: what.into(),
            note: note.into(),
        };
        let parts = [
            part(70, "ft", "cable 10-2 with ground", "a tenth to spare"),
            part(1, "", "breaker, 2 poles, 30 A, of a type \"listed\"", ""),
            part(0, "ft", "cable 6-3 with ground", "measure the way first"),
        ];
        let prices = [("cable 10-2 with ground, a foot".to_owned(), 1.1)].into();
        shopping(&parts, &["meter".to_owned(), "torque tool".to_owned()], &prices)
    }

    // RFC 4180: quotes are doubled within quotes, lines end with CRLF; read back by an independent reader it is the same.
    #[test]
    fn the_table_is_read_back_as_it_was_written() {
        let text = csv(&list()).unwrap();
        assert!(text.ends_with("\r\n") && text.contains("\"breaker, 2 poles, 30 A, of a type \"\"listed\"\"\""));
        let mut reader = csv::Reader::from_reader(text.as_bytes());
        let rows: Vec<Vec<String>> =
            reader.records().map(|row| row.unwrap().iter().map(str::to_owned).collect()).collect();
        assert_eq!(rows[0], ["70", "ft", "cable 10-2 with ground", "a tenth to spare", "1.10", "77.00"]);
        assert_eq!(rows[2][0], "", "what is to be measured first has no count");
    }

    #[test]
    fn the_text_says_what_is_open_and_the_sheet_has_it_all() {
        let text = text("A second deck oven", &list());
        assert!(text.contains("70 ft × cable 10-2") && text.contains("to measure × cable 6-3"), "{text}");
        assert!(
            text.contains("Together 77.00, 2 without a price or a length")
                && text.contains("Tools: meter, torque tool")
        );
        let pages = pages("Thistledown School", "A second deck oven", &list());
        assert!(pages.len() == 1 && pages[0].contains("Together 77.00"));
    }
}
