//! Work in a panel, planned as a change of the house.

pub mod arrange;
