//! Findings that one cause explains: mending that mends them together. (common practice)

use std::collections::BTreeMap;

use super::Finding;
use crate::house::{BreakerId, House, PanelId};

/// What findings of one cause have in common.
#[derive(Clone, Copy)]
enum Shares {
    /// The house.
    House,
    /// Their panel.
    Panel,
    /// Their breaker.
    Breaker,
    /// A neutral that their breakers share.
    Neutral,
}

/// A cause of several findings.
struct Common {
    /// In words, for what they share: `{}` stands for its name.
    said: &'static str,
    /// What they share.
    shares: Shares,
    /// Only beside a finding of this rule it explains others.
    head: Option<&'static str>,
    /// The rules whose findings it explains.
    rules: &'static [&'static str],
}

/// The likeliest first: a finding has one cause.
const CAUSES: &[Common] = &[
    Common {
        said: "the neutral of the service",
        shares: Shares::House,
        head: Some("service-volts"),
        rules: &["volts-band", "uneven-legs", "open-neutral"],
    },
    Common {
        said: "the missing bond between neutral and ground in {}",
        shares: Shares::House,
        head: Some("unbonded-main"),
        rules: &["ungrounded", "hot-ground"],
    },
    Common {
        said: "the aluminium wires on {}",
        shares: Shares::Breaker,
        head: Some("aluminium"),
        rules: &["loose", "scorched", "open-neutral", "open-hot", "hot-spot"],
    },
    Common { said: "a break in the neutral on {}", shares: Shares::Breaker, head: None, rules: &["open-neutral"] },
    Common { said: "a break in the hot on {}", shares: Shares::Breaker, head: None, rules: &["open-hot"] },
    Common { said: "no ground wire on {}", shares: Shares::Breaker, head: None, rules: &["ungrounded"] },
    Common {
        said: "the neutral that {} shares",
        shares: Shares::Neutral,
        head: None,
        rules: &[
            "neutral-one-leg",
            "neutral-untied",
            "neutral-apart",
            "neutral-two-panels",
            "neutral-device",
            "neutral-astray",
        ],
    },
    Common {
        said: "water in {}",
        shares: Shares::Panel,
        head: Some("wet-panel"),
        rules: &["burnt-bus", "scorched-panel", "does-not-stay", "hot-spot"],
    },
    Common {
        said: "what {} carries against its size and wire",
        shares: Shares::Breaker,
        head: None,
        rules: &[
            "thin-wire",
            "receptacle-rating",
            "light-rating",
            "nameplate-most",
            "nameplate-least",
            "nameplate-wire",
            "cord-share",
            "fixed-share",
            "lasting-sum",
            "overload",
            "sink-circuit",
            "long-run",
        ],
    },
    Common {
        said: "what {} carries in all",
        shares: Shares::Panel,
        head: None,
        rules: &["service-over", "leg-over", "feeder-lasting", "uneven-legs"],
    },
    Common {
        said: "a card that does not say what is so, in {}",
        shares: Shares::Panel,
        head: None,
        rules: &["no-card", "stale-card", "wrong-label", "poor-labels", "names-person"],
    },
];

/// What they share, as far as it can be told apart.
#[derive(PartialEq, Eq, PartialOrd, Ord)]
enum Same {
    House,
    Panel(PanelId),
    Breaker(BreakerId),
}

/// Says of findings that come from one cause which it is.
pub(super) fn give(house: &House, findings: &mut [Finding]) {
    for cause in CAUSES {
        let mut groups: BTreeMap<Same, Vec<usize>> = BTreeMap::new();
        for (nth, finding) in findings.iter().enumerate().filter(|(_, finding)| finding.cause.is_none()) {
            let explains = cause.head == Some(finding.rule) || cause.rules.contains(&finding.rule);
            if let Some(thing) = thing(house, cause.shares, finding).filter(|_| explains) {
                groups.entry(thing).or_default().push(nth);
            }
        }
        for (_, group) in groups.into_iter().filter(|(_, group)| group.len() > 1) {
            let head = cause.head.map(|head| group.iter().find(|nth| findings[**nth].rule == head));
            let Some(first) = head.unwrap_or(group.first()).copied() else { continue };
            let said = cause.said.replace("{}", &called(house, cause.shares, &findings[first]));
            for nth in group {
                findings[nth].cause = Some(said.clone());
            }
        }
    }
}

fn thing(house: &House, shares: Shares, finding: &Finding) -> Option<Same> {
    match shares {
        Shares::House => Some(Same::House),
        Shares::Panel => Some(Same::Panel(finding.panel)),
        Shares::Breaker => finding.breaker.map(Same::Breaker),
        Shares::Neutral => {
            let of = house.circuits_of(finding.breaker?);
            let sharing =
                of.into_iter().flat_map(|circuit| house.sharing_neutral(circuit)).map(|circuit| circuit.breaker);
            sharing.min().or(finding.breaker).map(Same::Breaker)
        }
    }
}

fn called(house: &House, shares: Shares, finding: &Finding) -> String {
    let breaker = finding.breaker.and_then(|b| house.breakers.get(b));
    match (shares, breaker) {
        (Shares::Breaker | Shares::Neutral, Some(breaker)) => format!("breaker {}", house.breaker_name(breaker)),
        _ => house.panels.get(finding.panel).map_or_else(String::new, |panel| format!("panel {}", panel.name)),
    }
}

#[cfg(test)]
pub(super) fn rules() -> impl Iterator<Item = &'static str> {
    CAUSES.iter().flat_map(|cause| cause.rules.iter().copied().chain(cause.head))
}
