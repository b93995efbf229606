//! Numbers as people type and say them.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::Invalid;
use wayfinder_core::words::number::{self, Number, Unit, Unread, Written};

use super::extract::Query;
use crate::error::ApiError;
use crate::error::Refused;
use crate::hub::Hub;

pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(number))
}

/// What was typed or dictated, and what is asked for.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct NumberQuery {
    /// `12.4`, `7 kW`, `3,5 m`, `twelve point four amps`.
    text: String,
    /// The units that are asked for, the one of a bare number first: `W,A,VA,hp`.
    units: String,
}

/// The number, or the two that it could be.
#[derive(Debug, Serialize, ToSchema)]
pub struct NumberRead {
    /// The number, where it is one.
    number: Option<Number>,
    /// Where it could be either of two: those.
    either: Vec<Number>,
    /// What has to be asked then.
    said: Option<String>,
}

/// Reads a number as people type and say them. Changes nothing.
#[utoipa::path(get, path = "/api/v1/number", params(NumberQuery),
    responses((status = 200, body = NumberRead), Refused))]
pub async fn number(Query(query): Query<NumberQuery>) -> Result<axum::Json<NumberRead>, ApiError> {
    let unit = |code: &str| {
        let value = serde_json::Value::String(code.to_owned());
        let all =
            || Unit::ALL.map(Unit::sign).into_iter().filter(|sign| !sign.is_empty()).collect::<Vec<_>>().join(", ");
        serde_json::from_value::<Unit>(value).map_err(|_| Invalid::new("units", format!("some of {}", all())))
    };
    let units = query.units.split(',').map(unit).collect::<Result<Vec<_>, _>>()?;
    Ok(axum::Json(match number::read(&query.text, &units, Written::ByHand) {
        Ok(number) => NumberRead { number: Some(number), either: Vec::new(), said: None },
        Err(unread @ Unread::TwoWays { ways, .. }) => {
            NumberRead { number: None, either: ways.to_vec(), said: Some(unread.to_string()) }
        }
        Err(unread) => return Err(Invalid::new("text", unread.to_string()).into()),
    }))
}
