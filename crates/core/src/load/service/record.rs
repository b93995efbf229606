//! By what was drawn at most in a year: NEC 220.87 (2023, values from memory).

use super::household::Household;
use super::{Ledger, LoadMethod, Sheet};
use crate::base::Invalid;

/// [pub: NEC 220.87(2)]
const A_QUARTER_MORE: f64 = 1.25;
/// A year, give or take what a file may lack at its ends; or thirty days, with conditions. [pub: NEC 220.87(1), exception]
const YEAR_DAYS: f64 = 360.0;
const MONTH_DAYS: f64 = 30.0;
const DAY: f64 = 86_400.0;

pub(super) fn sheet(of: &Household) -> Result<Sheet, Invalid> {
    let missing = |message: &str| Invalid::new("record", message);
    let record = of
        .record
        .as_ref()
        .ok_or_else(|| missing("no energy record is there: drop the utility's file on the page Energy"))?;
    if record.reverse {
        return Err(missing(
            "the record shows power going out: where solar or a battery hides the demand this method may not be used",
        ));
    }
    let days = record.to.duration_since(record.from).as_secs_f64() / DAY;
    if days < MONTH_DAYS {
        return Err(missing("the record is shorter than 30 days: a year is asked for"));
    }
    let largest = record.largest.first().ok_or_else(|| missing("the record has no readings"))?;
    let mut work = Ledger::new(of);
    work.notes.clear();
    work.line(
        format!("largest demand, {:.2} kW, at {}", largest.watts.0 / 1000.0, record.local(largest.time)),
        largest.watts.0,
        "NEC 220.87(1)",
    );
    work.line("a quarter more", (A_QUARTER_MORE - 1.0) * largest.watts.0, "NEC 220.87(2)");
    for item in of.items.iter().filter(|i| i.added) {
        let share = if item.continuous { A_QUARTER_MORE } else { 1.0 };
        work.line(item.name.clone(), share * item.va, "NEC 220.87(3), 210.20(A)");
    }
    if days < YEAR_DAYS {
        work.notes.push(format!(
            "{days:.0} days, not a year: only where the highest leg was recorded, the house was lived in, and the season's heating or cooling is in it or added"
        ));
    }
    if record.step.0 > 900.0 {
        work.notes.push("Recorded by the hour: allowed where nothing finer is recorded".into());
    }
    if record.missing > 0 {
        work.notes.push(format!("{} intervals are missing: the largest may be among them", record.missing));
    }
    work.notes.push("Both legs are taken as even: where one carries much more, add the difference".into());
    Ok(work.done(LoadMethod::Record))
}
