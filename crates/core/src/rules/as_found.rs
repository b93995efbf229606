//! What is found as it is: one look a rule. Nothing is found where nobody looked. (handbook 5.1, 6)
//!
//! A look says what is asked, of which things, and where the cover is while it is asked; an inspection asks it (`audit`).

use super::{Entry, Facts, Hit, Rule, Scope, Severity, Source, Who, nec};
use crate::base::said;
use crate::house::{AsFound, House, Panel, Point, PointKind, Remark, Remarks, Saw, Subject};

/// Where somebody is who is asked.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, serde::Serialize, utoipa::ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LookWhere {
    /// At the panel, its cover on.
    Closed,
    /// At the panel, its cover off: qualified people alone.
    Open,
    /// In the rooms.
    Rooms,
}

said!(LookWhere {
    Closed => "At the panel, its cover on",
    Open => "At the panel, its cover off: look, and touch nothing behind it",
    Rooms => "In the rooms",
});

/// Something to look for.
#[derive(Debug)]
pub struct LookFor {
    /// What comes of it.
    pub rule: &'static Rule,
    /// What is looked for.
    pub fact: AsFound,
    /// Seen so, it is a hit.
    pub bad: Saw,
    /// What is asked of a panel, or of a room where it is about points.
    pub ask: &'static str,
    /// Where.
    pub stand: LookWhere,
    /// Of what it is asked.
    pub of: AskedOf,
}

/// Of what something is asked.
#[derive(Debug)]
pub enum AskedOf {
    /// Of these panels.
    Panels(fn(&House, &Panel) -> bool),
    /// Of rooms where there are such points.
    RoomsWith(fn(&Point) -> bool),
}

macro_rules! looks {
    ($($name:ident: $fact:ident $bad:ident of $scope:ident at $stand:ident if $asked:ident($of:expr) => {
        $id:literal, $title:literal, $severity:ident, $who:ident, $source:expr, $job:expr,
        ask $ask:literal, cure $cure:literal
    })*) => {
        $(pub(crate) static $name: Rule = Rule {
            id: $id,
            title: $title,
            scope: Scope::$scope,
            severity: Severity::$severity,
            entry: Entry::Seen,
            source: $source,
            cure: $cure,
            job: $job,
            who: Who::$who,
            check: |facts| seen(facts, &$name, AsFound::$fact, Saw::$bad),
        };)*

        /// Every look.
        pub static LOOKS: &[LookFor] = &[$(LookFor {
            rule: &$name,
            fact: AsFound::$fact,
            bad: Saw::$bad,
            ask: $ask,
            stand: LookWhere::$stand,
            of: AskedOf::$asked($of),
        }),*];
    };
}

const fn any(_: &House, _: &Panel) -> bool {
    true
}

const fn any_point(_: &Point) -> bool {
    true
}

fn outlet_of_two_legs(point: &Point) -> bool {
    point.kind == PointKind::Receptacle && point.volts.is_some_and(crate::base::units::NominalVolts::is_leg_to_leg)
}

fn separate(_: &House, panel: &Panel) -> bool {
    panel.separate_building
}

fn has_inlet(house: &House, panel: &Panel) -> bool {
    house.inlets(panel.id).iter().any(|b| b.panel == panel.id)
}

fn is_main(_: &House, panel: &Panel) -> bool {
    panel.is_main()
}

looks! {
    SCORCHED: Scorched Yes of Panel at Closed if Panels(any) => {
        "scorched-panel", "A panel that is scorched, hot, or smells burnt", Danger, Licensed, nec("110.12(B)"), None,
        ask "Is anything at it scorched, melted or hot, or does it smell burnt?",
        cure "nothing more is switched there: off at the main from a safe place, and an electrician at once"
    }
    WATER: Water Yes of Panel at Closed if Panels(any) => {
        "wet-panel", "Rust or traces of water in a panel", Danger, Licensed, nec("110.11, 110.12(B)"), None,
        ask "Do you see rust, or traces of water, on it, under it or inside its door?",
        cure "where the water comes from is found and stopped; an electrician says what of the panel can stay"
    }
    NO_COVER: NoCover Yes of Panel at Closed if Panels(any) => {
        "no-cover", "A panel without its cover", Danger, Qualified, nec("110.27(A), 408.38"), None,
        ask "Is its cover missing, loose, or is there a hole in it?",
        cure "the cover of this panel, with all its screws; until then nobody comes near it"
    }
    OPENING: Opening Yes of Panel at Closed if Panels(any) => {
        "open-space", "An open space without a closer", Danger, Qualified, nec("408.7, 110.12(A)"), None,
        ask "Is there an opening beside the breakers through which a finger would fit?",
        cure "a closer made for this panel; put in with the panel off"
    }
    DOUBTFUL_TYPE: DoubtfulType Yes of Panel at Closed if Panels(any) => {
        "doubtful-type", "A panel of a type with a record of not tripping", Mend, Licensed, Source::Practice, None,
        ask "Has an electrician, or a notice, called this type of panel one whose breakers fail to trip?",
        cure "an electrician looks at it, and says whether it is replaced"
    }
    INTERLOCK: Interlock No of Panel at Closed if Panels(has_inlet) => {
        "no-interlock", "A generator's breaker without an interlock", Danger, Licensed, nec("702.5"), Some("generator"),
        ask "Is there a plate that lets only one of the two be on: the main, or the generator's breaker?",
        cure "an interlock listed for this panel, or a transfer switch; until then the generator's breaker stays off"
    }
    BLOCKED: Blocked Yes of Panel at Closed if Panels(any) => {
        "blocked", "No room to work before a panel", Mend, Anyone, nec("110.26(A)"), None,
        ask "Is anything in the way of it, within 30 in wide and 36 in deep?",
        cure "clear it, and keep it clear"
    }
    SCREWS: Screws Yes of Panel at Closed if Panels(any) => {
        "wrong-screws", "Wrong or missing screws in a cover", Mend, Qualified, Source::Practice, None,
        ask "Are screws of its cover missing, or pointed where they should be blunt?",
        cure "the blunt screws of this panel: a pointed one may have cut a wire, which is looked at with the panel off"
    }
    ELECTRODE: Electrode No of Panel at Closed if Panels(separate) => {
        "no-electrode", "A building of its own without a ground rod", Mend, Licensed, nec("250.32(A)"), None,
        ask "Does a wire go from it to a ground rod, or to another electrode?",
        cure "electrodes for this building"
    }
    UNBONDED: Bonded No of Panel at Open if Panels(is_main) => {
        "unbonded-main", "A main panel whose neutral is not bonded to ground", Danger, Licensed, nec("250.24(B), 250.28"), None,
        ask "Is its neutral bar bonded to its case, by a screw or a strap?",
        cure "an electrician finds where the house is bonded, and bonds it there, once: without it no breaker falls on a fault to ground"
    }
    BURNT_BUS: BurntBus Yes of Panel at Open if Panels(any) => {
        "burnt-bus", "A burnt or loose finger of a bus", Danger, Licensed, nec("110.12(B)"), None,
        ask "Is a finger of the bus burnt, pitted or loose?",
        cure "nothing is set there again; the place, or the panel, is replaced"
    }
    LOOSE_WIRE: LooseWire Yes of Panel at Open if Panels(any) => {
        "loose-wire", "A wire that ends on nothing", Danger, Qualified, nec("110.14(B)"), None,
        ask "Does a wire end there on nothing, without a cap?",
        cure "proven dead, capped and marked, or led to where it belongs"
    }
    TWO_UNDER: TwoUnder Yes of Panel at Open if Panels(any) => {
        "two-under", "Two wires under a terminal for one", Mend, Qualified, nec("110.14(A)"), None,
        ask "Are there two wires under one terminal of a breaker that is not marked for two?",
        cure "splice them: one wire goes to the terminal"
    }
    TWO_NEUTRALS: TwoNeutrals Yes of Panel at Open if Panels(any) => {
        "two-neutrals", "Two neutrals under one screw", Mend, Qualified, nec("408.41"), None,
        ask "Are there two white wires under one screw of the neutral bar?",
        cure "one neutral a hole"
    }
    ALUMINIUM_SEEN: Aluminium Yes of Panel at Open if Panels(any) => {
        "aluminium-seen", "Solid aluminium on small breakers", Mend, Licensed, Source::Practice, None,
        ask "Do solid aluminium wires go to breakers of 15 or 20 A?",
        cure "an electrician joins copper to each end with what is made for it, and looks at every outlet"
    }
    ROUGH_ENDS: RoughEnds Yes of Panel at Open if Panels(any) => {
        "rough-ends", "Nicked or rough wire ends", Mend, Qualified, nec("110.14(A), 110.12(B)"), None,
        ask "Is insulation nicked or under a screw, or are wires flattened or half cut?",
        cure "cut back to sound wire, and landed anew"
    }
    OTHER_MAKES: OtherMakes Yes of Panel at Open if Panels(any) => {
        "other-makes", "Breakers of another make than the label lists", Mend, Qualified, nec("110.3(B)"), Some("replace"),
        ask "Are there breakers of another make than its label lists?",
        cure "types that the label lists"
    }
    DOES_NOT_STAY: DoesNotStay Yes of Breaker at Closed if Panels(any) => {
        "does-not-stay", "A breaker that does not stay on", Mend, Qualified, nec("110.3(B)"), Some("replace"),
        ask "Is there a breaker that does not stay on, or whose handle is loose? Tap it",
        cure "it is replaced; where the finger of the bus is worn, that place is given up"
    }
    HOLD_DOWN: HoldDown No of Breaker at Open if Panels(has_inlet) => {
        "no-hold-down", "A backfed breaker that nothing holds down", Mend, Qualified, nec("408.36(D)"), None,
        ask "Is the generator's breaker held down by a kit, so that it cannot be pulled off?",
        cure "the hold-down kit made for it"
    }
    NO_WIRE: NoWire Yes of Breaker at Open if Panels(any) => {
        "unwired", "A breaker without a wire", Improve, Anyone, nec("408.4(A)"), Some("retire"),
        ask "Is there a breaker that no wire goes to? Tap it",
        cure "it stays off, and the card calls it a spare; taken out, its opening gets a closer"
    }
    THREE_HOLES: ThreeHoles Yes of Point at Rooms if RoomsWith(outlet_of_two_legs) => {
        "three-holes", "A range's or dryer's outlet without a ground", Improve, Qualified, nec("250.140, 250.142(B)"), Some("device"),
        ask "Has an outlet for a range or a dryer here three holes where four would be: no ground? Tap it",
        cure "four wires and an outlet of four holes with the next work there; such a cord goes nowhere else until then"
    }
    BROKEN: Broken Yes of Point at Rooms if RoomsWith(any_point) => {
        "broken-plate", "A broken plate or outlet", Danger, Anyone, nec("406.6, 314.25"), Some("device"),
        ask "Is a plate, an outlet or a switch here broken or missing? Tap it",
        cure "its breaker off and proven dead, then a new plate, or a new device"
    }
}

/// Where somebody saw it so.
fn seen(facts: &Facts<'_>, rule: &'static Rule, fact: AsFound, bad: Saw) -> Vec<Hit> {
    let house = facts.house;
    let is = |of: Subject| house.saw(of, fact) == Some(bad);
    let looked = |r: &Remark| matches!(r.says, Remarks::Looked { fact: of, .. } if of == fact);
    let noted = |of: Subject| {
        let last = house.remarks.iter().filter(|r| r.of == of && looked(r)).max_by_key(|r| (r.time, r.id));
        last.filter(|r| !r.note.is_empty()).map_or_else(String::new, |r| format!(": {}", r.note))
    };
    let why = |of: Subject| format!("{}{}", rule.title, noted(of));
    let of_panel = |panel: &Panel| {
        // Its neutral's bond has a field of its own, which is entered elsewhere as well.
        let bond = fact == AsFound::Bonded && is_main(house, panel) && panel.bonded == Some(false);
        (if fact == AsFound::Bonded { bond } else { is(panel.id.into()) })
            .then(|| Hit::in_panel(rule, panel, why(panel.id.into())))
    };
    match rule.scope {
        Scope::Panel => house.panels.iter().filter_map(of_panel).collect(),
        Scope::Breaker => {
            // That no wire is on it has a field of its own, too.
            let all =
                house.breakers.iter().filter(|b| if fact == AsFound::NoWire { b.unwired } else { is(b.id.into()) });
            all.map(|b| Hit::at(rule, b, why(b.id.into()))).collect()
        }
        _ => {
            let all = house.points.iter().filter(|p| is(p.id.into()));
            all.filter_map(|p| Hit::anywhere(rule, facts, p, why(p.id.into()))).collect()
        }
    }
}
