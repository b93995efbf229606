//! The network of a house, with what is on and what is wrong.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use super::net::{Branch, EARTH, Net, Node, Phasor, Solved};
use crate::base::position::{Leg, Supply};
use crate::base::units::{Amps, NominalVolts, Ohms, Volts};
use crate::code::resistance;
use crate::code::volts::LEG;
use crate::house::{Breaker, BreakerId, Circuit, CircuitId, Handle, House, Panel, PanelId};

/// What each winding of the utility's transformer and the wires to the house put before a leg, in ohms: about 2 % of a
/// 50 kVA transformer and 30 m of service wire (common practice, a usual house; no reading rests on the exact number).
const TRANSFORMER: Phasor = Phasor::new(0.006, 0.01);
const SERVICE: Ohms = Ohms(0.01);
/// An electrode in the ground, the utility's and the house's (handbook 8, common practice).
const ELECTRODE: Ohms = Ohms(25.0);
/// Closed contacts, and joints as they should be.
const CONTACT: Ohms = Ohms(0.001);

/// Something that draws.
#[derive(Debug, Clone, PartialEq)]
pub struct On {
    /// The breakers that feed it: one, or two single poles together.
    pub breakers: Vec<BreakerId>,
    /// Its pole where it takes one of several.
    pub pole: usize,
    /// The voltage it is made for.
    pub volts: NominalVolts,
    /// What it draws at that.
    pub amps: Amps,
}

/// Something that is wrong.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Flaw {
    /// A neutral is open, or has so many ohms.
    Neutral(Option<Ohms>),
    /// A leg of the feed is lost, or has so many ohms.
    Leg(Leg, Option<Ohms>),
    /// A breaker's contacts are open though its handle is on, or have so many ohms.
    Contact(Option<Ohms>),
    /// The hot touches the ground, through so many ohms.
    Short(Ohms),
    /// Its hot is tied to that of another circuit, at what they feed.
    Tied(BreakerId),
}

/// Where it is wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FlawAt {
    /// At what feeds a panel.
    Panel(PanelId),
    /// On the circuit of a breaker.
    Breaker(BreakerId),
}

/// The nodes of a panel.
#[derive(Debug, Clone)]
struct Bars {
    legs: Vec<Node>,
    neutral: Node,
    ground: Node,
    /// What comes in on each leg, and goes out on the neutral.
    feed: Vec<Branch>,
    back: Branch,
}

/// The wires of a breaker's circuit.
#[derive(Debug, Clone)]
struct Hots {
    /// At the load, one for each pole.
    ends: Vec<Node>,
    /// Through each pole.
    poles: Vec<Branch>,
    neutral: Node,
    ground: Node,
}

/// The network of a house, solved.
#[derive(Debug, Clone)]
pub struct Wired {
    net: Net,
    solved: Solved,
    panels: BTreeMap<PanelId, Bars>,
    hots: BTreeMap<BreakerId, Hots>,
}

/// What is built so far.
struct Builder<'a> {
    house: &'a House,
    flaws: &'a [(Flaw, FlawAt)],
    net: Net,
    panels: BTreeMap<PanelId, Bars>,
    hots: BTreeMap<BreakerId, Hots>,
    /// Neutrals at the load, by the circuit whose they are.
    neutrals: BTreeMap<CircuitId, Node>,
}

impl Wired {
    /// The network of a house with these things on and these things wrong.
    #[must_use]
    pub fn new(house: &House, on: &[On], flaws: &[(Flaw, FlawAt)]) -> Self {
        let mut builder = Builder {
            house,
            flaws,
            net: Net::default(),
            panels: BTreeMap::new(),
            hots: BTreeMap::new(),
            neutrals: BTreeMap::new(),
        };
        builder.panels();
        builder.ties();
        on.iter().for_each(|on| builder.load(on));
        let solved = builder.net.solve();
        Self { net: builder.net, solved, panels: builder.panels, hots: builder.hots }
    }

    /// The network itself.
    #[must_use]
    pub fn net(&self) -> &Net {
        &self.net
    }

    /// Its solution.
    #[must_use]
    pub fn solved(&self) -> &Solved {
        &self.solved
    }

    /// What a voltmeter shows between two bars of a panel.
    #[must_use]
    pub fn volts(&self, panel: PanelId, between: [Bar; 2]) -> Option<Volts> {
        let bars = self.panels.get(&panel)?;
        let at = |bar: Bar| match bar {
            Bar::Leg(leg) => bars.legs.get(leg as usize).copied(),
            Bar::Neutral => Some(bars.neutral),
            Bar::Ground => Some(bars.ground),
        };
        Some(self.solved.volts(at(between[0])?, at(between[1])?))
    }

    /// What a clamp shows around each leg that comes into a panel, and around its neutral.
    #[must_use]
    pub fn feed(&self, panel: PanelId) -> Option<(Vec<Amps>, Amps)> {
        let bars = self.panels.get(&panel)?;
        Some((bars.feed.iter().map(|leg| self.solved.amps(*leg)).collect(), self.solved.amps(bars.back)))
    }

    /// What a clamp shows around the wire of each pole of a breaker.
    #[must_use]
    pub fn poles(&self, breaker: BreakerId) -> Vec<Amps> {
        let poles = self.hots.get(&breaker).map_or(&[][..], |h| &h.poles);
        poles.iter().map(|pole| self.solved.amps(*pole)).collect()
    }

    /// What a voltmeter shows between the first two hots at the end of a breaker's circuit.
    #[must_use]
    pub fn across_the_end(&self, breaker: BreakerId) -> Option<Volts> {
        match self.hots.get(&breaker)?.ends.as_slice() {
            [a, b, ..] => Some(self.solved.volts(*a, *b)),
            _ => None,
        }
    }

    /// What a voltmeter shows at the end of a breaker's circuit: between each hot and the neutral, each hot and the ground,
    /// and the neutral and the ground.
    #[must_use]
    pub fn at_the_end(&self, breaker: BreakerId) -> Option<(Vec<Volts>, Vec<Volts>, Volts)> {
        let hots = self.hots.get(&breaker)?;
        let to = |there: Node| hots.ends.iter().map(|end| self.solved.volts(*end, there)).collect();
        Some((to(hots.neutral), to(hots.ground), self.solved.volts(hots.neutral, hots.ground)))
    }
}

/// A bar of a panel.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub enum Bar {
    /// A leg of the bus.
    Leg(Leg),
    /// The neutral bar.
    Neutral,
    /// The ground bar.
    Ground,
}

/// Angle of a leg, in radians: half a turn apart, or thirds.
fn angle(leg: usize, supply: Supply) -> f64 {
    use std::f64::consts::PI;
    match supply {
        Supply::SplitPhase => leg as f64 * PI,
        Supply::WyeTwoLegs | Supply::WyeThreePhase => -2.0 * PI / 3.0 * leg as f64,
    }
}

impl Builder<'_> {
    fn flaw<T>(&self, at: FlawAt, which: impl Fn(&Flaw) -> Option<T>) -> Option<T> {
        self.flaws.iter().filter(|(_, there)| *there == at).find_map(|(flaw, _)| which(flaw))
    }

    /// A conductor that may be open or bad.
    fn wire(&mut self, from: Node, to: Node, sound: Phasor, flaw: Option<Option<Ohms>>) -> Branch {
        match flaw {
            // As good as nothing, so that there is something a clamp can be put around.
            Some(None) => self.net.resistor(from, to, Ohms(OPEN)),
            Some(Some(ohms)) => self.net.impedance(from, to, sound + Phasor::new(ohms.0, 0.0)),
            None => self.net.impedance(from, to, sound),
        }
    }

    /// All panels, each after what feeds it.
    fn panels(&mut self) {
        let mut waiting: Vec<&Panel> = self.house.panels_in_order();
        loop {
            let before = waiting.len();
            waiting.retain(|panel| !self.panel(panel));
            if waiting.len() == before {
                return;
            }
        }
    }

    /// False while what feeds it is not there yet.
    fn panel(&mut self, panel: &Panel) -> bool {
        let bars = match panel.fed_by {
            None => self.service(panel),
            Some(feeder) => match self.hots.get(&feeder).cloned() {
                Some(hots) => self.fed(panel, &hots),
                None => return false,
            },
        };
        let bonded = panel.bonded.unwrap_or(panel.is_main());
        if bonded {
            self.net.resistor(bars.neutral, bars.ground, CONTACT);
        }
        self.panels.insert(panel.id, bars.clone());
        for breaker in self.house.breakers_of(panel.id) {
            self.breaker(panel, breaker, &bars);
        }
        true
    }

    /// From the utility's transformer, its middle grounded, over the service wires and the main.
    fn service(&mut self, panel: &Panel) -> Bars {
        let at = FlawAt::Panel(panel.id);
        let middle = self.net.node();
        self.net.resistor(middle, EARTH, ELECTRODE);
        let (neutral, ground) = (self.net.node(), self.net.node());
        self.net.resistor(ground, EARTH, ELECTRODE);
        let open = self.flaw(at, |f| if let Flaw::Neutral(r) = f { Some(*r) } else { None });
        let back = self.wire(neutral, middle, Phasor::new(SERVICE.0, 0.0), open);
        let (mut legs, mut feed) = (Vec::new(), Vec::new());
        for leg in 0..usize::from(panel.supply.legs()) {
            let (winding, bus) = (self.net.node(), self.net.node());
            let force = Phasor::from_polar(LEG, angle(leg, panel.supply));
            self.net.source(middle, winding, force, TRANSFORMER);
            let lost = self.flaw(at, |f| match f {
                Flaw::Leg(l, r) if *l as usize == leg => Some(*r),
                _ => None,
            });
            feed.push(self.wire(winding, bus, Phasor::new(SERVICE.0 + CONTACT.0, 0.0), lost));
            legs.push(bus);
        }
        Bars { legs, neutral, ground, feed, back }
    }

    /// From the breaker that feeds it: its legs in the order of the poles.
    fn fed(&mut self, panel: &Panel, hots: &Hots) -> Bars {
        let at = FlawAt::Panel(panel.id);
        let (neutral, ground) = (self.net.node(), self.net.node());
        let open = self.flaw(at, |f| if let Flaw::Neutral(r) = f { Some(*r) } else { None });
        let back = self.wire(neutral, hots.neutral, Phasor::new(CONTACT.0, 0.0), open);
        let sound = Phasor::new(CONTACT.0, 0.0);
        self.net.impedance(ground, hots.ground, sound);
        if panel.separate_building {
            self.net.resistor(ground, EARTH, ELECTRODE);
        }
        let (mut legs, mut feed) = (Vec::new(), Vec::new());
        for leg in 0..usize::from(panel.supply.legs()) {
            let bus = self.net.node();
            let lost = self.flaw(at, |f| match f {
                Flaw::Leg(l, r) if *l as usize == leg => Some(*r),
                _ => None,
            });
            // A feeder of one pole feeds one leg.
            let (from, lost) = hots.ends.get(leg).map_or((EARTH, Some(None)), |end| (*end, lost));
            feed.push(self.wire(from, bus, sound, lost));
            legs.push(bus);
        }
        Bars { legs, neutral, ground, feed, back }
    }

    /// A breaker's contacts and the wires behind them, to where it feeds.
    fn breaker(&mut self, panel: &Panel, breaker: &Breaker, bars: &Bars) {
        let at = FlawAt::Breaker(breaker.id);
        let circuits = self.house.circuits_of(breaker.id);
        let wire = |circuit: Option<&&Circuit>| {
            let sized = circuit.and_then(|c| Some((c.wire?, c.metal, c.length?)));
            let ohms = sized.map_or(0.0, |(wire, metal, length)| resistance::of_wire(wire, metal, length).0);
            Phasor::new(ohms, 0.0)
        };
        let contact = self.flaw(at, |f| if let Flaw::Contact(r) = f { Some(*r) } else { None });
        let contact = if breaker.handle == Handle::On { contact } else { Some(None) };
        let first = circuits.first();
        let neutral = self.neutral(bars, at, first.copied(), wire(first));
        let ground = self.net.node();
        self.net.impedance(ground, bars.ground, wire(first));
        let (mut ends, mut poles) = (Vec::new(), Vec::new());
        for (nth, position) in breaker.at.iter().enumerate() {
            let of_pole = circuits.iter().find(|c| c.pole.is_some_and(|p| usize::from(p) == nth + 1)).or(first);
            let end = self.net.node();
            let bus = bars.legs[panel.leg(*position) as usize % bars.legs.len()];
            poles.push(self.wire(bus, end, Phasor::new(CONTACT.0, 0.0) + wire(of_pole), contact));
            ends.push(end);
        }
        if let Some(ohms) = self.flaw(at, |f| if let Flaw::Short(r) = f { Some(*r) } else { None }) {
            self.net.resistor(ends[0], ground, ohms);
        }
        self.hots.insert(breaker.id, Hots { ends, poles, neutral, ground });
    }

    /// The neutral of a circuit at what it feeds: its own, or the one that it shares.
    fn neutral(&mut self, bars: &Bars, at: FlawAt, circuit: Option<&Circuit>, wire: Phasor) -> Node {
        let own = circuit.map(|c| c.neutral_of.unwrap_or(c.id));
        if let Some(shared) = own.and_then(|own| self.neutrals.get(&own)) {
            return *shared;
        }
        let neutral = self.net.node();
        let open = self.flaw(at, |f| if let Flaw::Neutral(r) = f { Some(*r) } else { None });
        self.wire(neutral, bars.neutral, Phasor::new(CONTACT.0, 0.0) + wire, open);
        if let Some(own) = own {
            self.neutrals.insert(own, neutral);
        }
        neutral
    }

    /// Circuits whose hots are tied together.
    fn ties(&mut self) {
        for (flaw, at) in self.flaws {
            let (Flaw::Tied(other), FlawAt::Breaker(one)) = (flaw, at) else { continue };
            if let (Some(a), Some(b)) = (self.hots.get(one), self.hots.get(other)) {
                let (a, b) = (a.ends[0], b.ends[0]);
                self.net.resistor(a, b, CONTACT);
            }
        }
    }

    /// A load between its hot and neutral, its two hots, or evenly between its three.
    fn load(&mut self, on: &On) {
        let ends: Vec<Node> =
            on.breakers.iter().filter_map(|b| self.hots.get(b)).flat_map(|h| h.ends.iter().copied()).collect();
        let Some(first) = on.breakers.first().and_then(|b| self.hots.get(b)) else { return };
        let (neutral, volts) = (first.neutral, f64::from(u16::from(on.volts)));
        if on.amps.0 <= 0.0 {
            return;
        }
        if let (true, [a, b, c]) = (on.volts.is_leg_to_leg(), ends.as_slice()) {
            // In a triangle each line carries the root of 3 times what each side does. [def]
            let side = Ohms(3.0_f64.sqrt() * volts / on.amps.0);
            for (from, to) in [(*a, *b), (*b, *c), (*c, *a)] {
                self.net.resistor(from, to, side);
            }
            return;
        }
        let (from, to) = match (on.volts.is_leg_to_leg(), ends.as_slice()) {
            (true, [a, b, ..]) => (*a, *b),
            (_, ends) => (ends[on.pole.min(ends.len() - 1)], neutral),
        };
        self.net.resistor(from, to, Ohms(volts / on.amps.0));
    }
}

/// Ohms of what is open: less than any meter tells from nothing.
const OPEN: f64 = 1e9;
