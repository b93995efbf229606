//! What meters are expected to show with these things on, and perhaps something wrong (handbook 8).

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::position::Leg;
use crate::base::units::{Amps, Ohms, Volts};
use crate::base::{Invalid, Said};
use crate::house::{Breaker, House, Panel};
use crate::load::Loaded;
use crate::load::drawing::Drawn;
use crate::network::wiring::Bar;
use crate::network::{Flaw, FlawAt, On, Wired};

/// What meters are expected to show.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Expected {
    /// Voltages between the bars of each panel.
    pub volts: Vec<ExpectedVolts>,
    /// Currents of the breakers that carry any.
    pub amps: Vec<ExpectedAmps>,
    /// Currents that come into each panel.
    pub feeds: Vec<ExpectedFeed>,
    /// What was left out, and why: what feeds it or what it draws is not known.
    pub left_out: Vec<String>,
    /// Tags of what is believed, not proven, to hang where it was put.
    pub unproven: Vec<String>,
}

/// A voltage between two bars of a panel.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ExpectedVolts {
    /// The panel's name.
    pub panel: String,
    /// The bars: `A-N`.
    pub between: String,
    /// The voltage.
    pub volts: Volts,
}

/// The current of a breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ExpectedAmps {
    /// The panel's name.
    pub panel: String,
    /// The breaker's poles.
    pub at: String,
    /// The current of its pole that carries most.
    pub amps: Amps,
    /// That of each pole.
    pub poles: Vec<Amps>,
}

/// What comes into a panel.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ExpectedFeed {
    /// The panel's name.
    pub panel: String,
    /// On each leg, A first.
    pub legs: Vec<Amps>,
    /// On the neutral.
    pub neutral: Amps,
}

/// Currents below this are those of insulation.
const CARRIES: f64 = 0.005;

/// What meters are expected to show with these things on and these things wrong.
#[must_use]
pub fn expect(house: &House, loaded: &Loaded<'_>, things: &[Drawn], flaws: &[(Flaw, FlawAt)]) -> Expected {
    let (mut on, mut left_out, mut unproven) = (Vec::new(), Vec::new(), Vec::new());
    for it in loaded.all.iter().filter(|it| things.contains(&it.thing)) {
        let called = it.named();
        let Some(amps) = it.amps else {
            left_out.push(format!("{called}: what it draws is not known"));
            continue;
        };
        if it.breakers.is_empty() {
            left_out.push(format!("{called}: what feeds it is not known"));
            continue;
        }
        if !it.proven && !unproven.contains(&it.tag) {
            unproven.push(it.tag.clone());
        }
        on.push(On { breakers: it.breakers.clone(), pole: 0, volts: it.volts, amps });
    }
    let wired = Wired::new(house, &on, flaws);
    let panels = house.panels_in_order();
    Expected {
        volts: panels.iter().flat_map(|p| volts(&wired, p)).collect(),
        amps: panels.iter().flat_map(|p| house.breakers_of(p.id)).filter_map(|b| amps(house, &wired, b)).collect(),
        feeds: panels.iter().filter_map(|p| feed(&wired, p)).collect(),
        left_out,
        unproven,
    }
}

fn volts(wired: &Wired, panel: &Panel) -> Vec<ExpectedVolts> {
    let legs = &[Leg::A, Leg::B, Leg::C][..usize::from(panel.supply.legs())];
    let to_neutral = legs.iter().map(|leg| ([Bar::Leg(*leg), Bar::Neutral], format!("{}-N", leg.said())));
    let pairs = legs.iter().enumerate().flat_map(|(i, a)| legs[i + 1..].iter().map(move |b| (*a, *b)));
    let between_legs = pairs.map(|(a, b)| ([Bar::Leg(a), Bar::Leg(b)], format!("{}-{}", a.said(), b.said())));
    let ground = std::iter::once(([Bar::Neutral, Bar::Ground], "N-G".to_owned()));
    let told = |(bars, between)| {
        Some(ExpectedVolts { panel: panel.name.clone(), between, volts: wired.volts(panel.id, bars)? })
    };
    to_neutral.chain(between_legs).chain(ground).filter_map(told).collect()
}

fn amps(house: &House, wired: &Wired, breaker: &Breaker) -> Option<ExpectedAmps> {
    let poles = wired.poles(breaker.id);
    let most = poles.iter().map(|a| a.0).fold(0.0, f64::max);
    let panel = house.panels.get(breaker.panel)?.name.clone();
    (most >= CARRIES).then(|| ExpectedAmps { panel, at: breaker.at_text(), amps: Amps(most), poles })
}

fn feed(wired: &Wired, panel: &Panel) -> Option<ExpectedFeed> {
    let (legs, neutral) = wired.feed(panel.id)?;
    Some(ExpectedFeed { panel: panel.name.clone(), legs, neutral })
}

/// Words for what may be wrong, each with where.
const FLAWS: &str = "open-neutral@PANEL or @BREAKER, lost-leg-a@PANEL (b, c), open-contact@BREAKER, bad-contact=OHMS@BREAKER, \
                     short=OHMS@BREAKER, tied@BREAKER+BREAKER; a resistance makes bad what is else open: open-neutral=2@main";

/// Reads what is wrong: `open-neutral@main`, `bad-contact=0.5@Annex:3`.
///
/// # Errors
/// Where it is not one of these, or names no panel or breaker.
pub fn flaw(house: &House, text: &str) -> Result<(Flaw, FlawAt), Invalid> {
    let wrong = |why: String| Invalid::new("fault", why);
    let unknown = || wrong(format!("\"{text}\" is no fault: {FLAWS}"));
    let (what, place) = text.trim().split_once('@').ok_or_else(unknown)?;
    let (what, ohms) = match what.split_once('=') {
        Some((what, ohms)) => {
            let ohms = ohms.parse().ok().filter(|o: &f64| (1e-3..=1e6).contains(o));
            let ohms =
                ohms.ok_or_else(|| wrong(format!("\"{text}\": a resistance of 0.001 to 1000000 ohms, please")))?;
            (what, Some(Ohms(ohms)))
        }
        None => (what, None),
    };
    let panel = || house.panel_named(place).map(|p| FlawAt::Panel(p.id));
    let at_breaker = |place: &str| {
        let found =
            house.breaker_called(place).ok_or_else(|| wrong(format!("\"{place}\" is no breaker: 5-7, or Annex:3")))?;
        Ok::<_, Invalid>((found, FlawAt::Breaker(found)))
    };
    let at_panel = || panel().ok_or_else(|| wrong(format!("there is no panel {place}")));
    match what.to_ascii_lowercase().as_str() {
        "open-neutral" => match panel() {
            Some(at) => Ok((Flaw::Neutral(ohms), at)),
            None => Ok((Flaw::Neutral(ohms), at_breaker(place)?.1)),
        },
        "lost-leg-a" => Ok((Flaw::Leg(Leg::A, ohms), at_panel()?)),
        "lost-leg-b" => Ok((Flaw::Leg(Leg::B, ohms), at_panel()?)),
        "lost-leg-c" => Ok((Flaw::Leg(Leg::C, ohms), at_panel()?)),
        "open-contact" => Ok((Flaw::Contact(None), at_breaker(place)?.1)),
        "bad-contact" => Ok((Flaw::Contact(Some(ohms.ok_or_else(unknown)?)), at_breaker(place)?.1)),
        "short" => Ok((Flaw::Short(ohms.ok_or_else(unknown)?), at_breaker(place)?.1)),
        "tied" => {
            let (one, other) = place.split_once('+').ok_or_else(unknown)?;
            Ok((Flaw::Tied(at_breaker(other)?.0), at_breaker(one)?.1))
        }
        _ => Err(unknown()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::position::Supply;
    use crate::base::units::{NominalVolts, Watts};
    use crate::fixture::Fixture;
    use crate::house::Seen::{Dead, Live};
    use crate::house::{Load, LoadId, LoadKind, PointKind};
    use crate::load::drawing::called as thing;
    use crate::load::draws::draws;
    use crate::trace::beliefs;

    /// A toaster proven on leg A, a kettle proven on leg B, and a lamp that nobody traced.
    fn kitchen() -> House {
        let mut f = Fixture::new(8);
        let room = f.room("Kitchen");
        let (one, three) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
        for (n, (tag, name, on, off)) in
            [("K1", "toaster", one, three), ("K2", "kettle", three, one)].into_iter().enumerate()
        {
            let point = f.point(tag, room, PointKind::Receptacle);
            for _ in 0..3 {
                f.see(point, &[on], Dead);
                f.see(point, &[off], Live);
            }
            let load = Load::new(LoadId(n as u64 + 1), point, name, LoadKind::Other);
            f.house.loads.put(Load { watts: Some(Watts(1200.0)), ..load });
        }
        f.point("K3", room, PointKind::Light);
        f.house
    }

    fn told(on: &[&str], faults: &[&str]) -> Expected {
        told_of(&kitchen(), on, faults)
    }

    fn told_of(house: &House, on: &[&str], faults: &[&str]) -> Expected {
        let things: Vec<_> = on.iter().flat_map(|text| thing(house, text).unwrap()).collect();
        let flaws: Vec<_> = faults.iter().map(|text| flaw(house, text).unwrap()).collect();
        let beliefs = beliefs(house);
        let draws = draws(house, &beliefs);
        expect(house, &Loaded::new(house, &beliefs, &draws), &things, &flaws)
    }

    fn between(expected: &Expected, bars: &str) -> f64 {
        expected.volts.iter().find(|v| v.between == bars).unwrap().volts.0
    }

    // Ohm's law: 1200 W at 120 V are 10 A, which a toaster draws, since it only resists (handbook 3.2); handbook 1.1: what an open neutral reads.
    #[test]
    fn what_is_on_is_told_by_breaker_by_leg_and_by_voltage() {
        let one = told(&["toaster"], &[]);
        let amps: Vec<_> = one.amps.iter().map(|a| (a.at.as_str(), (a.amps.0 * 10.0).round() / 10.0)).collect();
        assert_eq!(amps, [("1", 10.0)]);
        assert!((one.feeds[0].neutral.0 - 10.0).abs() < 0.2 && one.feeds[0].legs[1].0 < 0.1);
        let both = told(&["K1", "K2"], &[]);
        assert!(both.feeds[0].neutral.0 < 0.1 && (between(&both, "A-B") - 240.0).abs() < 2.0);
        let open = told(&["toaster"], &["open-neutral@main"]);
        assert!(between(&open, "A-N") < 40.0 && between(&open, "B-N") > 200.0, "{:?}", open.volts);
    }

    // Of three phases each line of an even load carries the same. [def]
    #[test]
    fn what_hangs_on_three_poles_takes_its_current_from_each() {
        let mut f = Fixture::new(8);
        f.house.panels.put(Panel { supply: Supply::WyeThreePhase, ..f.panel().clone() });
        let three = f.breaker("1-3-5", 30.0, "");
        let room = f.room("Workshop");
        let saw = f.point_at("W1", room, PointKind::Appliance, Some(NominalVolts::V208));
        for _ in 0..3 {
            f.see(saw, &[three], Dead);
        }
        let load = Load::new(LoadId(1), saw, "kiln", LoadKind::Heating);
        f.house.loads.put(Load { amps: Some(Amps(24.0)), ..load });
        let told = told_of(&f.house, &["kiln"], &[]);
        let near = |amps: &Amps| (amps.0 - 24.0).abs() < 0.3;
        assert!(told.amps[0].poles.len() == 3 && told.amps[0].poles.iter().all(near), "{:?}", told.amps);
        assert!(told.feeds[0].legs.iter().all(near) && told.feeds[0].neutral.0 < 0.1, "{:?}", told.feeds);
    }

    #[test]
    fn what_is_not_known_is_left_out_and_said() {
        let told = told(&["K3", "toaster"], &[]);
        assert_eq!(told.left_out, ["K3: what feeds it is not known"]);
        assert_eq!(told.amps.len(), 1);
        assert!(told.unproven.is_empty());
    }

    #[test]
    fn wrong_words_are_told_with_what_would_be_right() {
        let house = kitchen();
        let said = |text: &str| flaw(&house, text).unwrap_err().message;
        assert!(said("rust@main").contains("open-neutral@PANEL"));
        assert!(said("open-neutral@9").contains("no breaker"));
        assert!(said("lost-leg-a@attic").contains("no panel attic"));
        assert!(said("bad-contact=hot@1").contains("ohms") && said("short@1").contains("short=OHMS"));
        assert!(thing(&house, "kiln").unwrap_err().message.contains("kiln"));
        for right in ["tied@1+3", "bad-contact=0.5@Main:3", "open-neutral=2@1", "open-contact@3"] {
            assert!(flaw(&house, right).is_ok(), "{right}");
        }
    }
}
