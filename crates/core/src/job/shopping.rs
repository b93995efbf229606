//! What is to be bought for a plan, with what somebody typed that it costs: none of these prices is ours.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::Part;

/// A list for the shop.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Shopping {
    /// Line by line.
    pub lines: Vec<ShopLine>,
    /// What the priced lines come to.
    pub sum: f64,
    /// Lines without a price, or that are to be measured first.
    pub open: usize,
    /// Tools: not bought for this alone.
    pub tools: Vec<String>,
}

/// A line of it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ShopLine {
    /// What.
    #[serde(flatten)]
    pub part: Part,
    /// By which name its price is kept.
    pub key: String,
    /// A piece or a foot, where somebody typed that.
    pub price: Option<f64>,
    /// All of it, where that can be said.
    pub sum: Option<f64>,
}

/// By which name the price of a part is kept: one of its sort, or a foot of it.
#[must_use]
pub fn key(part: &Part) -> String {
    if part.unit.is_empty() { part.what.clone() } else { format!("{}, a {}", part.what, one(&part.unit)) }
}

fn one(unit: &str) -> &str {
    if unit == "ft" { "foot" } else { unit }
}

/// The list of some parts.
#[must_use]
pub fn shopping(parts: &[Part], tools: &[String], prices: &BTreeMap<String, f64>) -> Shopping {
    let line = |part: &Part| {
        let key = key(part);
        let price = prices.get(&key).copied();
        let sum = price.filter(|_| part.count > 0).map(|price| cents(price * f64::from(part.count)));
        ShopLine { part: part.clone(), key, price, sum }
    };
    let lines: Vec<ShopLine> = parts.iter().map(line).collect();
    Shopping {
        sum: cents(lines.iter().filter_map(|line| line.sum).sum()),
        open: lines.iter().filter(|line| line.sum.is_none()).count(),
        tools: tools.to_vec(),
        lines,
    }
}

fn cents(money: f64) -> f64 {
    (100.0 * money).round() / 100.0
}

#[cfg(test)]
mod tests {
    use super::*;

    fn part(count: u32, unit: &str, what: &str) -> Part {
        Part { count, unit: unit.into(), what: what.into(), note: String::new() }
    }

    // Arithmetic: 2 at 3.35 and 66 ft at 0.89 are 65.44; what has no price, or no length yet, is counted as open.
    #[test]
    fn a_list_adds_up_what_somebody_priced() {
        let parts = [
            part(2, "", "connector"),
            part(66, "ft", "cable 12-2 with ground"),
            part(1, "", "box"),
            part(0, "ft", "cable 6-3 with ground"),
        ];
        let prices =
            [("connector", 3.35), ("cable 12-2 with ground, a foot", 0.89), ("cable 6-3 with ground, a foot", 4.0)];
        let list = shopping(&parts, &[], &prices.map(|(what, price)| (what.to_owned(), price)).into());
        assert_eq!((list.sum, list.open), (65.44, 2));
        assert_eq!(list.lines[1].sum, Some(58.74));
        assert_eq!(list.lines[3].sum, None, "measured first");
        let none = shopping(&parts, &[], &BTreeMap::new());
        assert_eq!((none.sum, none.open), (0.0, 4));
    }
}
