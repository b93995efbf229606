//! Instruments: a bench meter on the network, and what stands in for others in the demo.

use std::collections::BTreeSet;
use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;
use std::time::Duration;

use axum::Json;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::Invalid;
use wayfinder_core::base::units::Watts;
use wayfinder_core::house::{Instrument, LoadId, MeasuredAt, Quantity};
use wayfinder_core::load::turns::{Timed, ten_turns};
use wayfinder_instruments::{Function, Identity, Meter};

use super::extract::{Json as Body, OfHouse};
use crate::bench::{Probed, written_place};
use crate::error::{ApiError, RefusedBody};
use crate::hub::Hub;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(read_meter)).routes(routes!(stand_in_reading))
}

/// How long a meter may take to answer.
const PATIENCE: Duration = Duration::from_secs(4);
/// What our own stand-in says it is: it alone is told where its probes are.
const STAND_IN: &str = "STAND-IN";

/// Which meter, and what it reads.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadMeter {
    /// Its address on this network: `192.168.1.20:5025`.
    address: String,
    /// Where its probes are.
    place: MeasuredAt,
    /// What it reads there.
    quantity: Quantity,
}

/// What the meter read.
#[derive(Debug, Serialize, ToSchema)]
pub struct MeterRead {
    /// The number, in the unit of what was asked.
    value: f64,
    /// What the meter says it is.
    meter: String,
}

/// Reads a bench meter by SCPI over TCP.
#[utoipa::path(post, path = "/api/v1/houses/{id}/meter", params(("id" = i64, Path, description = "the house")),
    request_body = ReadMeter,
    responses((status = 200, body = MeterRead), RefusedBody))]
pub async fn read_meter(of: OfHouse, Body(read): Body<ReadMeter>) -> Result<Json<MeterRead>, ApiError> {
    of.work(move |hub, id| {
        let house = hub.house(id)?;
        let (function, between) = match read.quantity {
            Quantity::Volts { between } => (Function::Volts, between),
            Quantity::Amps { .. } => (Function::Amps, None),
            Quantity::Degrees => (Function::Degrees, None),
            Quantity::Watts => {
                return Err(Invalid::new("quantity", "a bench meter reads volts, amperes or degrees").into());
            }
        };
        let failed = |e: wayfinder_instruments::MeterError| ApiError::from(Invalid::new("address", e.to_string()));
        let mut meter = Meter::new(near(&read.address)?, PATIENCE);
        let Identity { maker, model } = meter.identify().map_err(failed)?;
        let place = written_place(&house, Probed { place: read.place, between });
        let before: Vec<String> =
            place.filter(|_| model == STAND_IN).map(|p| format!("ROUT:CLOS {p}")).into_iter().collect();
        let value = meter.read(function, &before).map_err(failed)?;
        Ok(Json(MeterRead { value: (value * 1000.0).round() / 1000.0, meter: format!("{maker} {model}") }))
    })
    .await
}

/// Only what is on this machine or its own network is asked.
fn near(text: &str) -> Result<SocketAddr, Invalid> {
    let wrong = |message: &str| Invalid::new("address", message);
    let address: SocketAddr =
        text.trim().parse().map_err(|_| wrong("an address and port, please: 192.168.1.20:5025"))?;
    let own = match address.ip() {
        IpAddr::V4(ip) => ip.is_loopback() || ip.is_private() || ip.is_link_local(),
        IpAddr::V6(ip) => ip.is_loopback() || ip.is_unique_local() || ip.is_unicast_link_local(),
    };
    if own { Ok(address) } else { Err(wrong("a meter must be on this machine or on its own network")) }
}

/// Which instrument is read where, with what on.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StandInReading {
    /// With what.
    instrument: Instrument,
    /// Where.
    place: MeasuredAt,
    /// What.
    quantity: Quantity,
    /// What is on.
    #[serde(default)]
    on: BTreeSet<LoadId>,
    /// Watt-hours of a turn or blink, of the utility's meter.
    #[serde(default)]
    watt_hours: Option<f64>,
    /// The reading's number: the same gives the same answer.
    nth: u64,
}

/// What it shows; nothing where the house has no stand-ins or it cannot be used there.
#[derive(Debug, Serialize, ToSchema)]
pub struct StandInShows {
    /// The number.
    value: Option<f64>,
    /// The same as turns of the utility's meter, where it was said what one is.
    timed: Option<Timed>,
}

/// What an instrument shows in the demo house, answered from its hidden truth with the instrument's errors.
#[utoipa::path(post, path = "/api/v1/houses/{id}/stand-in-reading",
    params(("id" = i64, Path, description = "the house")),
    request_body = StandInReading,
    responses((status = 200, body = StandInShows), RefusedBody))]
pub async fn stand_in_reading(of: OfHouse, Body(read): Body<StandInReading>) -> Result<Json<StandInShows>, ApiError> {
    of.work(move |hub, id| {
        let house = hub.house(id)?;
        let place = (read.place, read.quantity);
        let shows = |s: Arc<wayfinder_core::practice::StandIn>| {
            s.measure(&house, place, read.instrument, &read.on, &[], read.nth)
        };
        let value = hub.stand_in(id).and_then(shows);
        let timed = value.zip(read.watt_hours).and_then(|(watts, turn)| ten_turns(turn, Watts(watts)));
        Ok(Json(StandInShows { value, timed }))
    })
    .await
}

#[cfg(test)]
mod tests {
    use super::near;

    #[test]
    fn only_near_meters_are_asked() {
        for good in ["127.0.0.1:5025", "192.168.1.20:5025", "10.0.0.4:5025", "[::1]:5025"] {
            assert!(near(good).is_ok(), "{good}");
        }
        for bad in ["8.8.8.8:5025", "127.0.0.1", "meter:5025", ""] {
            assert_eq!(near(bad).unwrap_err().field, "address", "{bad}");
        }
    }
}
