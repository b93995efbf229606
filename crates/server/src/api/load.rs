//! Loads: what they draw, what circuits and legs carry, what may run together, whether there is room, and the energy record.

use std::sync::Arc;

use axum::body::Bytes;
use axum::extract::DefaultBodyLimit;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use jiff::{Timestamp, Zoned};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::base::units::Amps;
use wayfinder_core::house::{BreakerId, EnergyId, EnergyRecord, zone};
use wayfinder_core::load::drop::{self, LoadedTest, LoadedVerdict};
use wayfinder_core::load::energy::Heat;
use wayfinder_core::load::expect::{self, Expected};
use wayfinder_core::load::next::{self, Kit, NextReading};
use wayfinder_core::load::round::{self, RoundNow};
use wayfinder_core::load::service::{self, Added, MethodAnswer};
use wayfinder_core::load::suspect::{self, BothSides, Complains, SuspectVerdict};
use wayfinder_core::load::together::{self, RunTogether, Set};
use wayfinder_core::load::turns::{self, ByDifference, Difference};
use wayfinder_core::load::{Loads, drawing, infrared};
use wayfinder_core::{Change, Invalid, load};
use wayfinder_formats::draw::Print;
use wayfinder_formats::energy;
use wayfinder_formats::worksheet;
use wayfinder_store::Author;

use super::extract::{Json, OfHouse, Path, Query, printed};
use crate::error::{ApiError, Refused, RefusedBody};
use crate::hub::Hub;
use crate::known::Known;

/// A file of ten years of quarters of an hour as XML is about half of this.
const MAX_ENERGY: usize = 128 << 20;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    let files = OpenApiRouter::new().routes(routes!(add_energy)).layer(DefaultBodyLimit::max(MAX_ENERGY));
    OpenApiRouter::new()
        .routes(routes!(loads))
        .routes(routes!(expected))
        .routes(routes!(may_run_together))
        .routes(routes!(next_reading))
        .routes(routes!(round_now))
        .routes(routes!(room))
        .routes(routes!(room_pdf))
        .routes(routes!(is_it_the_breaker))
        .routes(routes!(loaded_test))
        .routes(routes!(meter_turns))
        .routes(routes!(heat))
        .merge(files)
}

/// What each thing draws, what circuits and legs carry, and readings that do not fit.
#[utoipa::path(get, path = "/api/v1/houses/{id}/loads", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Loads), Refused))]
pub async fn loads(of: OfHouse) -> Result<Response, ApiError> {
    of.written("loads".into(), |known| Ok(load::loads(known.loaded()))).await
}

/// What is on, and what is wrong.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ExpectQuery {
    /// Tags, names of loads, or `K3:toaster`, with commas between.
    on: Option<String>,
    /// `open-neutral@main`, `bad-contact=0.5@5` and the like, with commas between.
    fault: Option<String>,
}

/// What meters are expected to show with some things on, and perhaps something wrong.
#[utoipa::path(get, path = "/api/v1/houses/{id}/expect", params(("id" = i64, Path, description = "the house"), ExpectQuery),
    responses((status = 200, body = Expected), Refused))]
pub async fn expected(of: OfHouse, Query(query): Query<ExpectQuery>) -> Result<axum::Json<Expected>, ApiError> {
    of.json(move |known| {
        let house = known.house();
        let parts = |text: &Option<String>| -> Vec<String> {
            let all = text.iter().flat_map(|t| t.split(',')).map(str::trim).filter(|part| !part.is_empty());
            all.map(str::to_owned).collect()
        };
        let things: Result<Vec<_>, _> = parts(&query.on).iter().map(|text| drawing::called(house, text)).collect();
        let flaws: Result<Vec<_>, _> = parts(&query.fault).iter().map(|text| expect::flaw(house, text)).collect();
        let things: Vec<_> = things?.into_iter().flatten().collect();
        Ok(expect::expect(house, known.loaded(), &things, &flaws?))
    })
    .await
}

/// May these run together? Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/together", params(("id" = i64, Path, description = "the house")),
    request_body = Set,
    responses((status = 200, body = RunTogether), RefusedBody))]
pub async fn may_run_together(of: OfHouse, Json(set): Json<Set>) -> Result<axum::Json<RunTogether>, ApiError> {
    of.json(move |known| {
        let loaded = known.loaded();
        Ok(together::together(known.house(), &loaded.hung, &loaded.all, &set))
    })
    .await
}

/// What to read next with these instruments, what teaches most a minute first. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/next-reading", params(("id" = i64, Path, description = "the house")),
    request_body = Kit,
    responses((status = 200, body = Vec<NextReading>), RefusedBody))]
pub async fn next_reading(of: OfHouse, Json(kit): Json<Kit>) -> Result<axum::Json<Vec<NextReading>>, ApiError> {
    of.json(move |known| {
        let loaded = known.loaded();
        Ok(next::next(known.house(), loaded, kit))
    })
    .await
}

/// The round of measuring that goes on: its places in their order, what is expected at each, and what is on.
#[utoipa::path(get, path = "/api/v1/houses/{id}/round", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "the round; null where none goes on", body = Option<RoundNow>), Refused))]
pub async fn round_now(of: OfHouse) -> Result<Response, ApiError> {
    of.written("round".into(), |known| Ok(round::now(known.house(), known.loaded()))).await
}

/// What is to be added.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct RoomQuery {
    /// `40@240`, `16@240,continuous`, `32@240,car-charger`; several with semicolons between.
    add: Option<String>,
}

impl RoomQuery {
    fn added(&self) -> Result<Vec<Added>, Invalid> {
        let all = self.add.iter().flat_map(|text| text.split(';')).map(str::trim).filter(|text| !text.is_empty());
        all.map(Added::parse).collect()
    }
}

/// Is there room for more? The service's load by every method, with and without what is to be added.
#[utoipa::path(get, path = "/api/v1/houses/{id}/service-load",
    params(("id" = i64, Path, description = "the house"), RoomQuery),
    responses((status = 200, body = Vec<MethodAnswer>), Refused))]
pub async fn room(of: OfHouse, Query(query): Query<RoomQuery>) -> Result<axum::Json<Vec<MethodAnswer>>, ApiError> {
    let added = query.added()?;
    of.json(move |known| Ok(service::answers(known.house(), &known.beliefs().hangs(), &added))).await
}

/// The worksheets of all methods on one page.
#[utoipa::path(get, path = "/api/v1/houses/{id}/service-load.pdf",
    params(("id" = i64, Path, description = "the house"), RoomQuery),
    responses((status = 200, description = "the page", body = Vec<u8>, content_type = "application/pdf"), Refused))]
pub async fn room_pdf(of: OfHouse, Query(query): Query<RoomQuery>) -> Result<Response, ApiError> {
    let (added, date) = (query.added()?, Zoned::now().date());
    let asked = query.add.clone().unwrap_or_default();
    of.read(move |known| {
        let answers = service::answers(known.house(), &known.beliefs().hangs(), &added);
        let svg = worksheet::svg(&known.house().about.name, &asked, &answers, Some(date));
        printed("service-load.pdf", &Print::single("Service load", svg))
    })
    .await
}

/// What was read at a breaker, and what people notice of it.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Suspected {
    /// The breaker.
    breaker: BreakerId,
    /// What people notice.
    #[serde(default)]
    complaint: Option<Complains>,
    /// What was read on both sides.
    #[serde(default)]
    read: BothSides,
    /// How warm it is beside a similar one.
    #[serde(default)]
    warmth: Option<Warm>,
}

/// Temperatures of two similar breakers at similar load.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Warm {
    /// Of this one, in degrees Celsius.
    degrees: f64,
    /// Of the similar one.
    similar: f64,
    /// What this one carries.
    amps: Amps,
}

/// Is it the breaker?
#[derive(Debug, Serialize, ToSchema)]
pub struct SuspectAnswer {
    /// What the complaint alone says already.
    at_once: Option<&'static str>,
    /// What the readings say.
    verdict: SuspectVerdict,
    /// What the temperatures say.
    warmth: Option<String>,
}

/// Is it the breaker? Judged by voltages on both sides of its contacts. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/suspect", params(("id" = i64, Path, description = "the house")),
    request_body = Suspected,
    responses((status = 200, body = SuspectAnswer), RefusedBody))]
pub async fn is_it_the_breaker(
    of: OfHouse,
    Json(suspected): Json<Suspected>,
) -> Result<axum::Json<SuspectAnswer>, ApiError> {
    of.json(move |known| {
        let house = known.house();
        let breaker =
            house.breakers.get(suspected.breaker).ok_or_else(|| Invalid::gone("breaker", suspected.breaker.0))?;
        let panel = house.panels.get(breaker.panel).ok_or_else(|| Invalid::gone("panel", breaker.panel.0))?;
        let verdict = suspect::judge(panel.supply, breaker.at.len(), &suspected.read)?;
        let warmth = suspected.warmth.map(|w| infrared::told(w.degrees, w.similar, w.amps.0 / breaker.amps.0));
        Ok(SuspectAnswer { at_once: suspected.complaint.map(suspect::at_once), verdict, warmth })
    })
    .await
}

/// A loaded test of a circuit.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LoadedAt {
    /// The breaker of the circuit.
    breaker: BreakerId,
    /// What was read.
    test: LoadedTest,
}

/// Judges voltages without and with a known load. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/loaded-test", params(("id" = i64, Path, description = "the house")),
    request_body = LoadedAt,
    responses((status = 200, body = LoadedVerdict), RefusedBody))]
pub async fn loaded_test(of: OfHouse, Json(at): Json<LoadedAt>) -> Result<axum::Json<LoadedVerdict>, ApiError> {
    of.json(move |known| {
        let circuits = known.house().circuits_of(at.breaker);
        Ok(drop::judge(circuits.first().copied(), &at.test)?)
    })
    .await
}

/// What turns or blinks of the utility's meter come to, and a circuit by difference. Changes nothing.
#[utoipa::path(post, path = "/api/v1/meter-turns", request_body = ByDifference,
    responses((status = 200, body = Difference), RefusedBody))]
pub async fn meter_turns(Json(read): Json<ByDifference>) -> Result<axum::Json<Difference>, ApiError> {
    Ok(axum::Json(turns::difference(&read)?))
}

/// Whose file it is, and by which clock its times are written.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct EnergyQuery {
    /// The new record's id.
    new: u64,
    /// Who adds it.
    author: String,
    /// The file's name.
    name: String,
    /// The time zone of its times, where the file does not say: `America/Halifax`.
    zone: Option<String>,
}

/// A record that was added.
#[derive(Debug, Serialize, ToSchema)]
pub struct EnergyAdded {
    /// The revision it made.
    pub revision: u64,
    /// The record.
    pub energy: EnergyRecord,
}

/// Adds an energy record: the file itself as the body (Green Button XML, or a table of times and kilowatt-hours).
#[utoipa::path(post, path = "/api/v1/houses/{id}/energy",
    params(("id" = i64, Path, description = "the house"), EnergyQuery),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 201, body = EnergyAdded), RefusedBody))]
pub async fn add_energy(of: OfHouse, Query(query): Query<EnergyQuery>, body: Bytes) -> Result<Response, ApiError> {
    let added = of
        .work(move |hub, id| {
            hub.house(id)?;
            let (energy, numbers) = of_file(&query, &body, Timestamp::now())?;
            let digest = hub.store.keep_energy(&numbers)?;
            let energy = EnergyRecord { digest, ..energy };
            let change = Change::PutEnergy { energy: energy.clone() };
            let author = Author { name: query.author, time: energy.time, key: None };
            let done = hub.commit(id, None, &change, &author)?;
            Ok(EnergyAdded { revision: done.revision, energy })
        })
        .await?;
    Ok((StatusCode::CREATED, axum::Json(added)).into_response())
}

/// A record and its numbers, from a file.
fn of_file(query: &EnergyQuery, body: &[u8], time: Timestamp) -> Result<(EnergyRecord, Vec<u8>), Invalid> {
    let text = std::str::from_utf8(body)
        .map_err(|_| Invalid::new("file", "this is no text: Green Button XML or CSV, please"))?;
    let given = query.zone.as_deref().unwrap_or("UTC");
    let record = energy::read(text, &zone(given)?).map_err(|e| Invalid::new("file", e.to_string()))?;
    let told = record.zone.unwrap_or_else(|| given.to_owned());
    let all = &record.intervals;
    let summary = all.summary(&zone(&told)?);
    let record = EnergyRecord {
        id: EnergyId(query.new),
        name: query.name.clone(),
        time,
        who: query.author.clone(),
        from: all.start,
        to: all.end(),
        step: all.step,
        zone: told,
        largest: summary.largest,
        base: summary.base,
        kwh: summary.kwh,
        reverse: all.reverse,
        missing: summary.missing,
        digest: String::new(),
    };
    Ok((record, energy::packed(all)))
}

/// The energy record that the path names.
#[derive(Debug, Deserialize)]
pub struct OfEnergy {
    energy: u64,
}

/// The last year of an energy record by days and hours.
#[utoipa::path(get, path = "/api/v1/houses/{id}/energy/{energy}",
    params(("id" = i64, Path, description = "the house"), ("energy" = u64, Path, description = "the record")),
    responses((status = 200, body = Heat), Refused))]
pub async fn heat(of: OfHouse, Path(at): Path<OfEnergy>) -> Result<axum::Json<Heat>, ApiError> {
    let told = of
        .work(move |hub, id| {
            let known: Arc<Known> = hub.known(id)?;
            let record = known.house().energy.get(EnergyId(at.energy)).ok_or(ApiError::NoSuchResource)?;
            let numbers = hub.store.energy(&record.digest)?.ok_or(ApiError::NoSuchResource)?;
            let all = energy::unpacked(record.from, record.step, record.reverse, &numbers);
            Ok(all.heat(record, &zone(&record.zone)?))
        })
        .await?;
    Ok(axum::Json(told))
}
