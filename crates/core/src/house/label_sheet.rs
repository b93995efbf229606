//! Sheets of labels, as somebody measured them, and by how much a printer is off.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::units::Inches;

/// A sheet of labels, all lengths measured on it. (handbook 4)
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LabelSheet {
    /// What people call it.
    pub name: String,
    /// The paper: width and height.
    pub paper: [Inches; 2],
    /// A label: width and height.
    pub label: [Inches; 2],
    /// From one label's edge to the next one's: to the right and down.
    pub pitch: [Inches; 2],
    /// The first label's corner: from the left and from the top.
    pub corner: [Inches; 2],
    /// Labels beside one another,
    pub columns: u16,
    /// and below one another.
    pub rows: u16,
    /// By how much the printer's marks lie off, as read on the calibration print: to the right and down.
    pub off: [Inches; 2],
}

impl LabelSheet {
    /// Where a label's corner is to be drawn so that it lies where it should: counted along the rows, from nought.
    #[must_use]
    pub fn place(&self, nth: usize) -> [f64; 2] {
        let columns = usize::from(self.columns.max(1));
        let steps = [(nth % columns) as f64, (nth / columns) as f64];
        [0, 1].map(|axis| self.corner[axis].0 + steps[axis] * self.pitch[axis].0 - self.off[axis].0)
    }

    /// So many labels a sheet.
    #[must_use]
    pub fn count(&self) -> usize {
        usize::from(self.columns) * usize::from(self.rows)
    }

    /// Sheets as they are sold everywhere, by their measures. (common practice)
    #[must_use]
    pub fn usual() -> Vec<Self> {
        let inches = |two: [f64; 2]| two.map(Inches);
        let mm = |two: [f64; 2]| two.map(|mm| Inches(mm / 25.4));
        let sheet = |name: &str, paper, label, pitch, corner, columns, rows| Self {
            name: name.to_owned(),
            paper,
            label,
            pitch,
            corner,
            columns,
            rows,
            off: inches([0.0, 0.0]),
        };
        let letter = inches([8.5, 11.0]);
        let a4 = mm([210.0, 297.0]);
        vec![
            sheet(
                "30 on Letter, 2 5/8 x 1 in",
                letter,
                inches([2.625, 1.0]),
                inches([2.75, 1.0]),
                inches([0.1875, 0.5]),
                3,
                10,
            ),
            sheet(
                "80 on Letter, 1 3/4 x 1/2 in",
                letter,
                inches([1.75, 0.5]),
                inches([2.05, 0.5]),
                inches([0.3, 0.5]),
                4,
                20,
            ),
            sheet("24 on A4, 70 x 36 mm", a4, mm([70.0, 36.0]), mm([70.0, 36.0]), mm([0.0, 4.5]), 3, 8),
            sheet("65 on A4, 38.1 x 21.2 mm", a4, mm([38.1, 21.2]), mm([40.6, 21.2]), mm([4.7, 10.7]), 5, 13),
            sheet(
                "36 to cut from Letter",
                letter,
                inches([2.5, 10.0 / 12.0]),
                inches([2.5, 10.0 / 12.0]),
                inches([0.5, 0.5]),
                3,
                12,
            ),
        ]
    }
}
