//! Networks of houses against a general circuit simulator: every voltage and every current (ngspice, which
//! `cargo xtask test` installs; a network is written as its netlist, the leakage included).

use std::fmt::Write;
use std::process::Command;

use super::net::LEAKAGE;
use super::wiring::{Bar, Flaw, FlawAt, On, Wired};
use super::{Net, Phasor, Solved};
use crate::base::position::{Leg, Supply};
use crate::base::units::{Amps, NominalVolts, Ohms};
use crate::fixture::Fixture;
use crate::house::*;

/// Hertz.
const FREQUENCY: f64 = 60.0;

fn netlist(net: &Net) -> String {
    let mut text = String::from("* a house\n");
    for place in 1..net.places() {
        let _ = writeln!(text, "Rleak{place} {place} 0 {:e}", 1.0 / LEAKAGE);
    }
    for (nth, made) in net.branches().iter().enumerate() {
        let (from, to, z, e) = (made.from.0, made.to.0, made.impedance, made.force);
        // A source of the branch's force, of nothing for most: its current is the branch's.
        let _ = writeln!(text, "V{nth} m{nth} {from} dc 0 ac {:e} {:e}", e.norm(), e.arg().to_degrees());
        let _ = writeln!(text, "R{nth} m{nth} x{nth} {:e}", z.re);
        let _ = match z.im == 0.0 {
            true => writeln!(text, "Rj{nth} x{nth} {to} 1e-9"),
            false => writeln!(text, "L{nth} x{nth} {to} {:e}", z.im / (std::f64::consts::TAU * FREQUENCY)),
        };
    }
    text += ".control\nset numdgt=12\nac lin 1 60 60\n";
    for place in 1..net.places() {
        let _ = writeln!(text, "print v({place})");
    }
    for nth in 0..net.branches().len() {
        let _ = writeln!(text, "print i(v{nth})");
    }
    text += "quit\n.endc\n.end\n";
    text
}

/// Voltages of the places and currents of the branches, as the simulator has them.
fn simulated(net: &Net) -> (Vec<Phasor>, Vec<Phasor>) {
    let file = std::env::temp_dir().join(format!("wayfinder-{}-{:p}.cir", std::process::id(), net));
    std::fs::write(&file, netlist(net)).unwrap();
    let output = Command::new("ngspice").arg("-b").arg(&file).output().expect("ngspice is installed: cargo xtask test");
    std::fs::remove_file(&file).unwrap();
    let told = String::from_utf8_lossy(&output.stdout).into_owned();
    let numbers = |begins: &str| -> Vec<Phasor> {
        let lines = told.lines().filter(|l| l.starts_with(begins));
        let number = |line: &str| {
            let (re, im) = line.split_once('=')?.1.split_once(',')?;
            Some(Phasor::new(re.trim().parse().ok()?, im.trim().parse().ok()?))
        };
        lines.filter_map(number).collect()
    };
    // Its currents go through a source from its upper end to its lower.
    (numbers("v("), numbers("i(").into_iter().map(|i| -i).collect())
}

/// Within a thousandth, or of what is next to nothing within a thousandth of what else there is.
fn agrees(what: &str, ours: &[Phasor], theirs: &[Phasor], least: f64) {
    assert_eq!(ours.len(), theirs.len(), "{what}: the simulator told all");
    for (n, (a, b)) in ours.iter().zip(theirs).enumerate() {
        assert!((a - b).norm() <= 1e-3 * b.norm().max(least), "{what} {n}: {a} here, {b} there");
    }
}

fn compared(wired: &Wired) -> &Solved {
    let (volts, amps) = simulated(wired.net());
    let (our_volts, our_amps) = wired.solved().all();
    // Ten millivolts are nothing to any meter.
    agrees("volts", &our_volts[1..], &volts, 10.0);
    // A tenth of a milliampere is nothing to any clamp, and about what the simulator rounds away.
    agrees("amps", our_amps, &amps, 0.1);
    wired.solved()
}

/// A house with a wired kitchen circuit on each leg, a range, and a bakehouse with a panel of its own.
struct Rig {
    f: Fixture,
    a: BreakerId,
    b: BreakerId,
    range: BreakerId,
    oven: BreakerId,
    mixer: BreakerId,
}

const MAIN: PanelId = PanelId(1);
const ANNEX: PanelId = PanelId(2);

fn rig(supply: Supply) -> Rig {
    let mut f = Fixture::new(20);
    f.house.panels.put(Panel { supply, ..f.panel().clone() });
    // Rows of a column go from leg to leg.
    let (a, b, range) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""), f.breaker("6-8", 50.0, ""));
    let feeder = f.breaker("2-4", 60.0, "");
    let annex = Panel { fed_by: Some(feeder), supply: Supply::SplitPhase, ..Panel::new(ANNEX, "Annex", 8) };
    let supply = if supply == Supply::SplitPhase { supply } else { Supply::WyeTwoLegs };
    f.house.panels.put(Panel { supply, ..annex });
    let (oven, mixer) = (f.breaker_in(ANNEX, "1-3", 50.0, ""), f.breaker_in(ANNEX, "5", 20.0, ""));
    for (n, (breaker, wire, feet)) in
        [(a, "12", 60.0), (b, "12", 60.0), (range, "6", 40.0), (feeder, "4", 120.0), (mixer, "12", 30.0)]
            .iter()
            .enumerate()
    {
        let circuit = Circuit::new(CircuitId(n as u64 + 1), *breaker);
        let (wire, length) = (Some(wire.parse().unwrap()), Some(crate::base::units::Feet(*feet)));
        f.house.circuits.put(Circuit { wire, length, ..circuit });
    }
    f.house.check().unwrap();
    Rig { f, a, b, range, oven, mixer }
}

fn draws(breaker: BreakerId, volts: NominalVolts, amps: f64) -> On {
    On { breakers: vec![breaker], pole: 0, volts, amps: Amps(amps) }
}

fn small(breaker: BreakerId, amps: f64) -> On {
    draws(breaker, NominalVolts::V120, amps)
}

impl Rig {
    fn with(&self, on: &[On], flaws: &[(Flaw, FlawAt)]) -> Wired {
        let wired = Wired::new(&self.f.house, on, flaws);
        compared(&wired);
        wired
    }

    fn share_the_neutral(&mut self, second: &str) -> BreakerId {
        let b = self.f.breaker(second, 20.0, "");
        let mate = Circuit { neutral_of: Some(CircuitId(1)), as_found: true, ..Circuit::new(CircuitId(9), b) };
        self.f.house.circuits.put(mate);
        b
    }
}

fn leg(wired: &Wired, leg: Leg) -> f64 {
    wired.volts(MAIN, [Bar::Leg(leg), Bar::Neutral]).unwrap().0
}

/// What a clamp reads at a breaker of one pole.
fn drawn(wired: &Wired, breaker: BreakerId) -> f64 {
    wired.poles(breaker)[0].0
}

/// The neutral's current of the feed of the house.
fn neutral(wired: &Wired) -> f64 {
    wired.feed(MAIN).unwrap().1.0
}

// 1, 2: split phase; the neutral carries the difference of the legs [def].
#[test]
fn legs_that_balance_leave_nothing_for_the_neutral() {
    let rig = rig(Supply::SplitPhase);
    let even = rig.with(&[small(rig.a, 10.0), small(rig.b, 10.0)], &[]);
    assert!(neutral(&even) < 0.02 && (leg(&even, Leg::A) - 120.0).abs() < 1.0);
    let uneven = rig.with(&[small(rig.a, 15.0), small(rig.b, 4.0), draws(rig.range, NominalVolts::V240, 30.0)], &[]);
    // Loads are resistances: at the end of a long branch they draw less than they are made for.
    let difference = drawn(&uneven, rig.a) - drawn(&uneven, rig.b);
    assert!(
        difference > 10.0 && (neutral(&uneven) / difference - 1.0).abs() < 0.01,
        "{} {difference}",
        neutral(&uneven)
    );
    assert!(uneven.volts(MAIN, [Bar::Leg(Leg::A), Bar::Leg(Leg::B)]).is_some_and(|v| (v.0 - 240.0).abs() < 2.0));
}

// 3, 4: handbook 1.1: the legs still make 240 V together and move oppositely; a lost leg is near nothing.
#[test]
fn an_open_neutral_and_a_lost_leg_read_as_they_do() {
    let rig = rig(Supply::SplitPhase);
    let on = [small(rig.a, 15.0), small(rig.b, 4.0)];
    let open = rig.with(&on, &[(Flaw::Neutral(None), FlawAt::Panel(MAIN))]);
    let (a, b) = (leg(&open, Leg::A), leg(&open, Leg::B));
    assert!(a < 90.0 && b > 150.0 && (a + b - 240.0).abs() < 2.0, "{a} {b}");
    let lost = rig.with(&on, &[(Flaw::Leg(Leg::A, None), FlawAt::Panel(MAIN))]);
    assert!(leg(&lost, Leg::A) < 2.0 && (leg(&lost, Leg::B) - 120.0).abs() < 1.0);
    // With a thing of 240 V on, the dead leg is fed back through it.
    let back = rig.with(
        &[small(rig.a, 2.0), draws(rig.range, NominalVolts::V240, 30.0)],
        &[(Flaw::Leg(Leg::A, None), FlawAt::Panel(MAIN))],
    );
    assert!(leg(&back, Leg::A) > 60.0, "{}", leg(&back, Leg::A));
}

// 5, 6: the wye identities of handbook 1.3 [def].
#[test]
fn on_a_wye_the_neutral_of_two_legs_and_of_three_carries_what_it_must() {
    for supply in [Supply::WyeTwoLegs, Supply::WyeThreePhase] {
        let mut rig = rig(supply);
        let two = rig.with(&[small(rig.a, 12.0), small(rig.b, 7.0)], &[]);
        let (ia, ib) = (drawn(&two, rig.a), drawn(&two, rig.b));
        let expected = (ia * ia + ib * ib - ia * ib).sqrt();
        assert!((neutral(&two) / expected - 1.0).abs() < 0.02, "{} {expected}", neutral(&two));
        assert!(two.volts(MAIN, [Bar::Leg(Leg::A), Bar::Leg(Leg::B)]).is_some_and(|v| (v.0 - 207.8).abs() < 2.0));
        if supply == Supply::WyeThreePhase {
            let c = rig.f.breaker("5", 20.0, "");
            let three = rig.with(&[small(rig.a, 12.0), small(rig.b, 7.0), small(c, 9.0)], &[]);
            let (ia, ib, ic) = (drawn(&three, rig.a), drawn(&three, rig.b), drawn(&three, c));
            let expected = (ia * ia + ib * ib + ic * ic - ia * ib - ib * ic - ia * ic).sqrt();
            assert!((neutral(&three) / expected - 1.0).abs() < 0.03, "{} {expected}", neutral(&three));
        }
    }
}

// 7, 8: a panel behind a feeder, sound and with its neutral open.
#[test]
fn a_sub_panel_sees_the_drop_of_its_feeder_and_its_open_neutral() {
    let rig = rig(Supply::SplitPhase);
    let on = [draws(rig.oven, NominalVolts::V240, 40.0), small(rig.mixer, 8.0)];
    let sound = rig.with(&on, &[]);
    let far = sound.volts(ANNEX, [Bar::Leg(Leg::A), Bar::Leg(Leg::B)]).unwrap().0;
    let near = sound.volts(MAIN, [Bar::Leg(Leg::A), Bar::Leg(Leg::B)]).unwrap().0;
    // 2·I·R·L by hand [def]: 120 ft of 4 AWG at about 40 and 48 A.
    let expected = (40.0 + 48.0) * 0.308 * 0.12;
    assert!(((near - far) / expected - 1.0).abs() < 0.06, "{near} {far} {expected}");
    let (legs, back) = sound.feed(ANNEX).unwrap();
    assert!((legs[0].0 - legs[1].0).abs() > 6.0 && (back.0 - 8.0).abs() < 0.5);
    let open = rig.with(&on, &[(Flaw::Neutral(None), FlawAt::Panel(ANNEX))]);
    assert!(open.feed(ANNEX).is_some_and(|(_, back)| back.0 < 0.01));
}

// 9: handbook 3.7: a bad contact takes volts in proportion to the current. 10: drop along a branch, 2·I·R·L [def].
#[test]
fn a_bad_contact_and_a_long_branch_take_their_volts() {
    let rig = rig(Supply::SplitPhase);
    let drop = |wired: &Wired| leg(wired, Leg::A) - wired.at_the_end(rig.a).unwrap().0[0].0;
    let sound = rig.with(&[small(rig.a, 12.0)], &[]);
    // The load is a resistance: at a lower voltage it draws less.
    let drawn = sound.poles(rig.a)[0].0;
    let expected = 2.0 * drawn * (1.93 * 0.06 + 0.001);
    assert!((drop(&sound) / expected - 1.0).abs() < 0.01, "{} {expected}", drop(&sound));
    let bad = rig.with(&[small(rig.a, 12.0)], &[(Flaw::Contact(Some(Ohms(0.5))), FlawAt::Breaker(rig.a))]);
    let more = drop(&bad) - 2.0 * bad.poles(rig.a)[0].0 * (1.93 * 0.06 + 0.001);
    assert!((more / (0.5 * bad.poles(rig.a)[0].0) - 1.0).abs() < 0.01, "{more}");
}

// 11, 12: handbook 1.3 [def]: on different legs the shared neutral carries the difference, on one leg the sum.
#[test]
fn a_shared_neutral_on_one_leg_carries_the_sum() {
    for (second, sign) in [("7", -1.0), ("5", 1.0)] {
        let mut rig = rig(Supply::SplitPhase);
        let b = rig.share_the_neutral(second);
        let wired = rig.with(&[small(rig.a, 16.0), small(b, 9.0)], &[]);
        let expected = drawn(&wired, rig.a) + sign * drawn(&wired, b);
        assert!((neutral(&wired) / expected - 1.0).abs() < 0.01, "{second}: {} {expected}", neutral(&wired));
    }
    // Its neutral open: what little one circuit draws gets the volts of both.
    let mut rig = rig(Supply::SplitPhase);
    let b = rig.share_the_neutral("7");
    let open = rig.with(&[small(rig.a, 15.0), small(b, 1.0)], &[(Flaw::Neutral(None), FlawAt::Breaker(rig.a))]);
    assert!(open.at_the_end(b).is_some_and(|(hot, ..)| hot[0].0 > 200.0));
}

// 13 to 15: a hot on the ground, two circuits tied, a handle off: no current, and no volts but what insulation lets through.
#[test]
fn shorts_ties_and_open_handles_read_as_they_do() {
    let mut rig = rig(Supply::SplitPhase);
    let short = rig.with(&[], &[(Flaw::Short(Ohms(0.2)), FlawAt::Breaker(rig.a))]);
    assert!(short.poles(rig.a)[0].0 > 200.0, "a breaker trips on that at once");
    let tied = rig.with(&[small(rig.a, 10.0)], &[(Flaw::Tied(rig.b), FlawAt::Breaker(rig.a))]);
    assert!(tied.poles(rig.b)[0].0 > 100.0, "two legs on one wire");
    let off = Breaker { handle: Handle::Off, ..rig.f.house.breakers.get(rig.a).unwrap().clone() };
    rig.f.house.breakers.put(off);
    let off = rig.with(&[small(rig.a, 10.0)], &[]);
    assert!(off.poles(rig.a)[0].0 < 0.01 && off.at_the_end(rig.a).is_some_and(|(hot, ..)| hot[0].0 < 0.1));
}

/// What somebody sees at the end of a circuit.
fn seen(wired: &Wired, breaker: BreakerId) -> &'static str {
    let (hots, _, _) = wired.at_the_end(breaker).unwrap();
    match hots[0].0 {
        v if v < 60.0 => "dead",
        v if v < 112.0 => "dim",
        v if v > 128.0 => "bright",
        _ => "well",
    }
}

// Handbook 5.17: what each of ten faults makes of two lightly and heavily loaded circuits on two legs, and of one in a sub-panel. The
// volts are ngspice's too; what follows from them is what the answers to "something is dead" rest on.
#[test]
fn ten_faults_show_what_the_answers_take_them_to_show() {
    let mut rig = rig(Supply::SplitPhase);
    let mate = rig.share_the_neutral("7");
    let feeder = rig.f.house.panels.get(ANNEX).unwrap().fed_by.unwrap();
    let oven = draws(rig.oven, NominalVolts::V240, 5.0);
    let on = [small(rig.a, 12.0), small(rig.b, 2.0), small(mate, 1.0), small(rig.mixer, 6.0), oven];
    let off = |breaker: BreakerId| (Flaw::Contact(None), FlawAt::Breaker(breaker));
    let at_main = |flaw: Flaw| (flaw, FlawAt::Panel(MAIN));
    let all = [rig.a, rig.b, rig.mixer];
    type Case = (&'static str, Vec<(Flaw, FlawAt)>, [&'static str; 3]);
    let cases: [Case; 10] = [
        ("a breaker that passes nothing", vec![off(rig.a)], ["dead", "well", "well"]),
        ("a feeder that passes nothing", vec![off(feeder)], ["well", "well", "dead"]),
        ("a poor contact", vec![(Flaw::Contact(Some(Ohms(3.0))), FlawAt::Breaker(rig.a))], ["dim", "well", "well"]),
        ("leg A lost", vec![at_main(Flaw::Leg(Leg::A, None))], ["dead", "well", "dead"]),
        ("leg B lost", vec![at_main(Flaw::Leg(Leg::B, None))], ["well", "dead", "well"]),
        ("a poor leg", vec![at_main(Flaw::Leg(Leg::A, Some(Ohms(1.5))))], ["dim", "well", "dim"]),
        ("a breaker and a feeder", vec![off(rig.b), off(feeder)], ["well", "dead", "dead"]),
        ("service neutral open", vec![at_main(Flaw::Neutral(None))], ["dead", "bright", "dead"]),
        ("service neutral loose", vec![at_main(Flaw::Neutral(Some(Ohms(3.0))))], ["dim", "bright", "dim"]),
        ("shared neutral open", vec![(Flaw::Neutral(None), FlawAt::Breaker(rig.a))], ["dead", "well", "well"]),
    ];
    for (what, flaws, shows) in cases {
        let wired = rig.with(&on, &flaws);
        assert_eq!(all.map(|breaker| seen(&wired, breaker)), shows, "{what}");
    }
}
