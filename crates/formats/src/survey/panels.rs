//! `panels.csv`: enclosures with a bus.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::position::{Numbering, parse_poles};
use wayfinder_core::base::units::Amps;
use wayfinder_core::house::{House, Panel, PanelId, PanelPlace, TandemSpaces};
use wayfinder_core::words::number::Unit;

use super::cells::{
    KNOWN_BY, SUPPLIES, apply, floor_of, name_of, next, place, room_of, some, word, written_place, yes, yes_or_no,
};
use super::rows::{Columns, Fault, File, Row, cells, names};

pub const FILE: File = File {
    name: "panels.csv",
    must: &["panel", "spaces"],
    columns: || names(COLUMNS),
    take: add,
    tie,
    last: None,
    write: |house| house.panels.iter().map(|p| cells(COLUMNS, house, p)).collect(),
};

const COLUMNS: Columns<Panel> = &[
    ("panel", |_, p| p.name.clone()),
    ("fed_by", |house, p| some(feeder(house, p))),
    ("supply", |_, p| word(SUPPLIES, p.supply)),
    ("bus_amps", |_, p| p.bus.0.to_string()),
    ("main_amps", |_, p| some(p.main.map(|a| a.0))),
    ("spaces", |_, p| p.spaces.to_string()),
    ("numbering", |_, p| written_numbering(&p.numbering)),
    ("tandem_spaces", |_, p| written_tandem(&p.tandem)),
    ("max_circuits", |_, p| some(p.max_circuits)),
    ("tandem_known", |_, p| word(KNOWN_BY, p.tandem_known)),
    ("model", |_, p| p.model.clone()),
    ("listed", |_, p| p.listed.join(";")),
    ("bonded", |_, p| yes_or_no(p.bonded)),
    ("plug_on_neutral", |_, p| yes_or_no(p.plug_on_neutral)),
    ("feed_through", |_, p| yes(p.feed_through)),
    ("disconnect", |_, p| p.disconnect.clone()),
    ("separate_building", |_, p| yes(p.separate_building)),
    ("floor", |house, p| floor_of(house, p.place.map(|at| at.room))),
    ("room", |house, p| name_of(house, p.place.map(|at| at.room))),
    ("place", |house, p| written_place(house, p.place.and_then(|at| at.spot))),
];

fn feeder(house: &House, p: &Panel) -> Option<String> {
    let breaker = house.breakers.get(p.fed_by?)?;
    Some(format!("{}:{}", house.panels.get(breaker.panel)?.name, breaker.at_text()))
}

fn written_numbering(numbering: &Numbering) -> String {
    match numbering {
        Numbering::OddEven => "odd-even".into(),
        Numbering::Columns => "columns".into(),
        Numbering::Custom(numbers) => numbers.iter().map(u16::to_string).collect::<Vec<_>>().join(";"),
    }
}

fn written_tandem(tandem: &TandemSpaces) -> String {
    match tandem {
        TandemSpaces::None => "none".into(),
        TandemSpaces::All => "all".into(),
        TandemSpaces::Some(spaces) => spaces.iter().map(u16::to_string).collect::<Vec<_>>().join(";"),
    }
}

fn add(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    let supply = row.one_of("supply", SUPPLIES)?;
    let main = row.number("main_amps", Unit::A)?.map(Amps);
    let id = PanelId(next(&house.panels, |p| p.id.0));
    let panel = Panel {
        supply,
        // The main's rating is the least that the bus must carry.
        bus: row.number("bus_amps", Unit::A)?.map(Amps).or(main).unwrap_or(Amps(200.0)),
        main,
        numbering: numbering(row)?,
        tandem: tandem_spaces(row)?,
        tandem_known: row.one_of("tandem_known", KNOWN_BY)?,
        max_circuits: row.optional("max_circuits", "a number, or nothing")?,
        model: row.get("model").into(),
        listed: row.list("listed").map(str::to_owned).collect(),
        bonded: row.yes_or_no("bonded")?,
        plug_on_neutral: row.yes_or_no("plug_on_neutral")?,
        feed_through: row.yes_or_no("feed_through")?.unwrap_or(false),
        disconnect: row.get("disconnect").into(),
        separate_building: row.yes_or_no("separate_building")?.unwrap_or(false),
        ..Panel::new(id, row.get("panel"), row.required("spaces", "a number of spaces")?)
    };
    let columns = [
        ("panel.bus", "bus_amps"),
        ("panel.main", "main_amps"),
        ("panel.spaces", "spaces"),
        ("panel.fed_by", "fed_by"),
        ("panel.numbering", "numbering"),
        ("panel.model", "model"),
        ("panel.listed", "listed"),
        ("panel.disconnect", "disconnect"),
    ];
    apply(house, &Change::PutPanel { panel }).map_err(|e| row.invalid(e, &columns, "panel"))
}

fn numbering(row: &Row) -> Result<Numbering, Fault> {
    match row.get("numbering").to_ascii_lowercase().as_str() {
        "" | "odd-even" => Ok(Numbering::OddEven),
        "columns" => Ok(Numbering::Columns),
        list => {
            let numbers = list.split(';').map(|n| n.trim().parse::<u16>()).collect::<Result<_, _>>();
            let expected = "odd-even, columns, or every number down the left, then down the right: 11;12;21;22";
            numbers.map(Numbering::Custom).map_err(|_| row.fault("numbering", expected))
        }
    }
}

fn tandem_spaces(row: &Row) -> Result<TandemSpaces, Fault> {
    let fault = || row.fault("tandem_spaces", "none, all, or spaces like 17-20;37-40");
    TandemSpaces::read(row.get("tandem_spaces")).ok_or_else(fault)
}

/// Its feeder is a breaker and its place a room: they can be named only now.
fn tie(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    set_feeder(house, row)?;
    set_place(house, row)
}

fn set_feeder(house: &mut House, row: &Row) -> Result<(), Fault> {
    let text = row.get("fed_by");
    let Some(panel) = house.panel_named(row.get("panel")).cloned().filter(|_| !text.is_empty()) else { return Ok(()) };
    let feeder = text.split_once(':').and_then(|(upstream, at)| {
        let upstream = house.panel_named(upstream)?;
        house.breaker_at(upstream.id, &parse_poles(at).ok()?)
    });
    let Some(feeder) = feeder else {
        return Err(row.fault("fed_by", "a breaker that is there, as PANEL:5-7"));
    };
    let panel = Panel { fed_by: Some(feeder.id), ..panel };
    apply(house, &Change::PutPanel { panel }).map_err(|e| row.invalid(e, &[], "fed_by"))
}

fn set_place(house: &mut House, row: &Row) -> Result<(), Fault> {
    let Some(panel) = house.panel_named(row.get("panel")).cloned().filter(|_| !row.get("room").is_empty()) else {
        return Ok(());
    };
    let (room, add) = room_of(house, row);
    let place = Some(PanelPlace { room, spot: place(house, row)? });
    let changes = add.into_iter().chain([Change::PutPanel { panel: Panel { place, ..panel } }]).collect();
    apply(house, &Change::Batch { changes }).map_err(|e| row.invalid(e, &[("room.name", "room")], "place"))
}
