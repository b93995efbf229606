//! Sheets of labels: every label lies on its paper, and none on another.

use std::collections::BTreeSet;

use super::{text, within};
use crate::base::Invalid;
use crate::base::units::{LABEL_SIDE, PAPER_SIDE, PRINTER_OFF};
use crate::house::LabelSheet;

/// More sheets than anybody keeps,
const MOST_SHEETS: usize = 20;
/// and more labels than one of them has.
const MOST_LABELS: usize = 400;
/// What measuring with a ruler leaves, in inches: about half a millimetre.
const BY_RULER: f64 = 0.02;

pub(super) fn check_label_sheets(sheets: &[LabelSheet]) -> Result<(), Invalid> {
    if sheets.len() > MOST_SHEETS {
        return Err(Invalid::new("about.label_sheets", format!("at most {MOST_SHEETS} sheets are kept")));
    }
    let mut names = BTreeSet::new();
    sheets.iter().try_for_each(|sheet| {
        if !names.insert(sheet.name.trim().to_lowercase()) {
            return Err(Invalid::new("about.label_sheets.name", format!("there is already a sheet {}", sheet.name)));
        }
        sheet.check()
    })
}

impl LabelSheet {
    /// Checks that its labels lie on its paper, and none on another.
    ///
    /// # Errors
    /// Where they do not, with the measure at fault.
    pub fn check(&self) -> Result<(), Invalid> {
        let field = |name: &str| format!("label_sheet.{name}");
        text("label_sheet.name", "the sheet", &self.name, true)?;
        if self.columns == 0 || self.rows == 0 || self.count() > MOST_LABELS {
            return Err(Invalid::new(field("columns"), format!("1 to {MOST_LABELS} labels stand on a sheet")));
        }
        for (axis, (way, many)) in [("across", self.columns), ("down", self.rows)].into_iter().enumerate() {
            within(&PAPER_SIDE, &field("paper"), self.paper[axis].0)?;
            within(&LABEL_SIDE, &field("label"), self.label[axis].0)?;
            within(&PRINTER_OFF, &field("off"), self.off[axis].0)?;
            if self.corner[axis].0 < 0.0 {
                return Err(Invalid::new(field("corner"), "the first label begins on the paper"));
            }
            let (label, pitch) = (self.label[axis].0, self.pitch[axis].0);
            if many > 1 && pitch < label - BY_RULER {
                let said = format!("labels {way} are {label:.2} in and begin {pitch:.2} in apart: they would overlap");
                return Err(Invalid::new(field("pitch"), said));
            }
            let end = self.corner[axis].0 + f64::from(many - 1) * pitch + label;
            if end > self.paper[axis].0 + BY_RULER {
                let said =
                    format!("the labels {way} end at {end:.2} in, and the paper at {:.2} in", self.paper[axis].0);
                return Err(Invalid::new(field("paper"), said));
            }
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::Inches;

    #[test]
    fn usual_sheets_hold_their_labels_and_what_overlaps_or_runs_out_is_refused() {
        let all = LabelSheet::usual();
        assert!(check_label_sheets(&all).is_ok());
        let wrong = |change: fn(&mut LabelSheet)| {
            let mut sheet = all[0].clone();
            change(&mut sheet);
            sheet.check().unwrap_err().field
        };
        assert_eq!(wrong(|s| s.pitch[0] = Inches(2.0)), "label_sheet.pitch");
        assert_eq!(wrong(|s| s.rows = 11), "label_sheet.paper");
        assert_eq!(wrong(|s| s.columns = 0), "label_sheet.columns");
        assert_eq!(wrong(|s| s.off[1] = Inches(3.0)), "label_sheet.off");
        assert_eq!(wrong(|s| s.name = " ".into()), "label_sheet.name");
        let twice = [all[0].clone(), all[0].clone()];
        assert_eq!(check_label_sheets(&twice).unwrap_err().field, "about.label_sheets.name");
    }

    // A printer whose marks lie 2 mm to the right and 1 mm up is met by drawing as much to the left and down.
    #[test]
    fn what_a_printer_is_off_by_is_taken_back() {
        let mut sheet = LabelSheet::usual().remove(0);
        let [x, y] = sheet.place(4);
        assert!((x - (0.1875 + 2.75)).abs() < 1e-9 && (y - 1.5).abs() < 1e-9);
        sheet.off = [Inches(2.0 / 25.4), Inches(-1.0 / 25.4)];
        let printed = sheet.place(4);
        assert!((printed[0] + 2.0 / 25.4 - x).abs() < 1e-9 && (printed[1] - 1.0 / 25.4 - y).abs() < 1e-9);
    }
}
