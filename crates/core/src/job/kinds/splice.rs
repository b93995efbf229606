//! A bad splice or terminal made anew in a box. (handbook 1.3, 3.6, 5.14)

use super::device::POINT;
use crate::base::Invalid;
use crate::base::units::Metal;
use crate::house::{Goal, MeasuredAt, Point, PointId};
use crate::job::boxed;
use crate::job::form::Kind;
use crate::job::mishaps;
use crate::job::plan::Basis;
use crate::job::working::Working;

pub(super) static KIND: Kind = Kind {
    name: "splice",
    group: "At an outlet or switch",
    title: "Make a bad splice or terminal anew",
    under: "where it is dim, warm, or dead from one place on",
    fields: &[POINT],
    mishaps: mishaps::AT_A_BOX,
    goal: |of| Ok(Goal::Splice { point: of.point("point")? }),
};

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, point: PointId) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let title = |point: &Point| format!("Splices made anew at {} {}", point.tag, house.called(point));
    let (mut w, point) = boxed::at(basis, point, title, Goal::Splice { point })?;
    let off = w.boxed().map(|of| of.off.clone()).unwrap_or_default();
    let wires: Vec<_> = off.iter().flat_map(|b| house.circuits_of(*b)).collect();
    if wires.iter().any(|c| c.metal == Metal::Aluminium) {
        w.licensed = Some("splices of aluminium, with connectors and a tool that are listed for it");
    }
    let gauges: std::collections::BTreeSet<String> =
        wires.iter().filter_map(|c| c.wire).map(|wire| format!("{wire} AWG")).collect();
    let of = if gauges.is_empty() {
        String::new()
    } else {
        format!(" of {}", gauges.into_iter().collect::<Vec<_>>().join(" and "))
    };
    w.plan
        .part(6, format!("connector that is listed for the number of wires{of} that come together: its package says"));
    w.plan.part(1, "short pieces of the same wire, for pigtails");
    w.plan.cautions.push(
        "Where a wire's skin is brown or brittle, or the box is charred: stop, an electrician looks at the whole run."
            .into(),
    );
    if w.is_open() {
        acts(&mut w, point);
    }
    Ok(w)
}

fn acts(w: &mut Working<'_>, point: &Point) {
    let place = Some(MeasuredAt::Point { point: point.id });
    w.act(
        "Take a picture. Open one splice at a time: never more than one hangs free.",
        "None is exchanged with another.",
        place,
    );
    w.act(
        "Cut back to bright metal and strip anew, as long as the connector's gauge says; a flattened end goes off before it goes into a lever.",
        "Oxide and nicks are what got warm. With less than 6 in left, a piece of the same wire is added (NEC 300.14).",
        place,
    );
    w.with("stripper, cutter");
    w.act(
        "Splice: bare ends even, none outside the connector. Wires from spring holes of a device go under its screws, clockwise; what \
         passes on goes by a pigtail, not through the device.",
        "A connector may join unequal gauges within its listing; a terminal takes one wire unless it is made for two (NEC 110.14(A)).",
        place,
    );
    w.act("Tug at every wire. Grounds together, a metal box with them.", "NEC 250.148.", place);
    w.look(
        &format!("under-load-{}", point.id.0),
        "Volts at the last outlet of the circuit, first with nothing on, then with a load of 8 to 15 A: no more than one volt in twenty is lost. \
         After a quarter of an hour the cover plate is not warm.",
        "A good splice loses nothing that a meter shows; more than 5 % in all says that there is another bad one (NEC 210.19, informational \
         note).",
        place,
    );
}
