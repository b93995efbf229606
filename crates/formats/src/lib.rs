//! Bytes in, values out: the house file and its schema, the survey folder, the card and the plan
//! as drawings, pictures, the logbook, reminders.
//!
//! This crate knows the core's values and how they are written down. It must not know databases, networks or the
//! clock, and it opens no files: callers hand it text and get text or bytes.

pub mod card;
pub mod circuits;
mod code;
pub mod draw;
pub mod energy;
mod face;
pub mod findings;
pub mod house_file;
pub mod labels;
pub mod logbook;
pub mod picture;
pub mod plan;
pub mod products;
pub mod reminders;
pub mod schedule;
mod sheet;
pub mod shopping;
pub mod survey;
pub mod wall;
pub mod work_sheet;
pub mod worksheet;
