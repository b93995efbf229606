//! Errors as RFC 9457 problem documents.

use std::collections::BTreeMap;

use axum::extract::rejection::{JsonRejection, PathRejection, QueryRejection};
use axum::http::StatusCode;
use axum::http::header::CONTENT_TYPE;
use axum::response::IntoResponse;
use serde::Serialize;
use utoipa::openapi::{Content, Ref, RefOr, Response};
use utoipa::{IntoResponses, ToSchema};
use wayfinder_core::Invalid;
use wayfinder_core::change::Cost;
use wayfinder_core::edit::Subject;
use wayfinder_store::StoreError;

use crate::unreadable;

/// A problem document.
#[derive(Debug, Serialize, ToSchema)]
pub struct Problem {
    /// A stable name of the sort of problem.
    pub r#type: &'static str,
    /// The HTTP status.
    pub status: u16,
    /// What happened, and that nothing was lost.
    pub title: &'static str,
    /// The particulars.
    pub detail: String,
    /// The field at fault.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub field: Option<String>,
    /// What others changed at the same time.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub conflict: Option<ConflictBody>,
    /// What a careful change would take away.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<Cost>,
}

/// What others changed at the same time.
#[derive(Debug, Serialize, ToSchema)]
pub struct ConflictBody {
    /// The revision that the change was made on.
    pub base: u64,
    /// The newest revision.
    pub current: u64,
    /// What both touch.
    pub subjects: Vec<Subject>,
    /// The revisions in between that touch them.
    pub revisions: Vec<u64>,
}

/// What a read may be answered with instead: one set for all of them.
pub struct Refused;

/// What a request with a body may be answered with instead.
pub struct RefusedBody;

fn refusals(all: &[(StatusCode, &str)]) -> BTreeMap<String, RefOr<utoipa::openapi::Response>> {
    let content = || Content::builder().schema(Some(Ref::from_schema_name(Problem::name()))).build();
    let response =
        |why: &str| Response::builder().description(why).content("application/problem+json", content()).build();
    all.iter().map(|(status, why)| (status.as_u16().to_string(), RefOr::T(response(why)))).collect()
}

const UNREADABLE: (StatusCode, &str) = (StatusCode::BAD_REQUEST, "a part of the request cannot be read");
const NOT_THERE: (StatusCode, &str) = (StatusCode::NOT_FOUND, "what the address names is not there");
const CANNOT_BE: (StatusCode, &str) = (StatusCode::UNPROCESSABLE_ENTITY, "something named cannot be; says which field");

impl IntoResponses for Refused {
    fn responses() -> BTreeMap<String, RefOr<utoipa::openapi::Response>> {
        refusals(&[UNREADABLE, NOT_THERE, CANNOT_BE])
    }
}

impl IntoResponses for RefusedBody {
    fn responses() -> BTreeMap<String, RefOr<utoipa::openapi::Response>> {
        refusals(&[
            UNREADABLE,
            NOT_THERE,
            (StatusCode::CONFLICT, "others changed the same, or something would be lost"),
            (StatusCode::PAYLOAD_TOO_LARGE, "the body is too large"),
            (StatusCode::UNSUPPORTED_MEDIA_TYPE, "the body is of another kind"),
            CANNOT_BE,
        ])
    }
}

/// Everything that can go wrong with a request.
#[derive(Debug)]
pub enum ApiError {
    /// A field is wrong.
    Invalid(Invalid),
    /// A careful change would take away observations.
    WouldLose(Cost),
    /// The store refused.
    Store(StoreError),
    /// The body or its type could not be read.
    Body(JsonRejection),
    /// A query parameter could not be read.
    Query(QueryRejection),
    /// A part of the path could not be read.
    Path(PathRejection),
    /// There is no such panel in the house.
    NoPanel,
    /// There is nothing under this path.
    NoSuchResource,
    /// The request named a host that is not this machine.
    ForeignHost,
    /// A page of another site asked for a change.
    ForeignPage,
    /// The body is of another kind than those listed.
    WrongContentType(String),
    /// Only the computer that the program runs on may do this.
    NotHere,
    /// The device has not given the join code.
    NotJoined,
    /// The join code is wrong.
    WrongCode,
    /// Too many wrong codes.
    TooManyCodes,
    /// A fault of the program.
    Internal(String),
}

impl From<Invalid> for ApiError {
    fn from(invalid: Invalid) -> Self {
        Self::Invalid(invalid)
    }
}

impl From<StoreError> for ApiError {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::Invalid(invalid) => Self::Invalid(invalid),
            other => Self::Store(other),
        }
    }
}

impl From<JsonRejection> for ApiError {
    fn from(rejection: JsonRejection) -> Self {
        Self::Body(rejection)
    }
}

impl From<QueryRejection> for ApiError {
    fn from(rejection: QueryRejection) -> Self {
        Self::Query(rejection)
    }
}

impl From<PathRejection> for ApiError {
    fn from(rejection: PathRejection) -> Self {
        Self::Path(rejection)
    }
}

impl ApiError {
    fn problem(self) -> Problem {
        let plain = |r#type, status: StatusCode, title, detail: String| Problem {
            r#type,
            status: status.as_u16(),
            title,
            detail,
            field: None,
            conflict: None,
            cost: None,
        };
        let nothing_changed = "Nothing was changed";
        match self {
            Self::Invalid(Invalid { field, message }) => Problem {
                field: Some(field),
                ..plain("/problems/invalid", StatusCode::UNPROCESSABLE_ENTITY, "This cannot be", message)
            },
            Self::WouldLose(cost) => {
                let detail = format!("{} observations would be gone", cost.observations);
                let problem = plain("/problems/would-lose", StatusCode::CONFLICT, nothing_changed, detail);
                Problem { cost: Some(cost), ..problem }
            }
            Self::Store(error) => store_problem(error),
            Self::Body(r) => {
                let (field, detail) = unreadable::told(&r.body_text());
                Problem { field, ..plain("/problems/unreadable", r.status(), "The request cannot be read", detail) }
            }
            Self::Query(r) => plain("/problems/unreadable", r.status(), "The address cannot be read", r.body_text()),
            Self::Path(r) => plain("/problems/unreadable", r.status(), "The address cannot be read", r.body_text()),
            Self::NoPanel => plain(
                "/problems/no-panel",
                StatusCode::NOT_FOUND,
                "No such panel",
                "the house has no such panel".into(),
            ),
            Self::NoSuchResource => {
                plain("/problems/no-resource", StatusCode::NOT_FOUND, "Nothing is here", "see /api/openapi.json".into())
            }
            Self::ForeignHost => plain(
                "/problems/foreign-host",
                StatusCode::MISDIRECTED_REQUEST,
                "Not this machine's name",
                "use localhost or the machine's address".into(),
            ),
            Self::ForeignPage => plain(
                "/problems/foreign-page",
                StatusCode::FORBIDDEN,
                nothing_changed,
                "a page of another site may change nothing here".into(),
            ),
            Self::WrongContentType(expected) => plain(
                "/problems/content-type",
                StatusCode::UNSUPPORTED_MEDIA_TYPE,
                nothing_changed,
                format!("the content type must be one of {expected}"),
            ),
            Self::NotHere => plain(
                "/problems/not-here",
                StatusCode::FORBIDDEN,
                nothing_changed,
                "do this on the computer that the program runs on".into(),
            ),
            Self::NotJoined => plain(
                "/problems/not-joined",
                StatusCode::UNAUTHORIZED,
                "This device has not joined",
                "give the join code shown where the program runs".into(),
            ),
            Self::WrongCode => Problem {
                field: Some("code".into()),
                ..plain("/problems/wrong-code", StatusCode::FORBIDDEN, "Wrong code", "this is not the join code".into())
            },
            Self::TooManyCodes => plain(
                "/problems/too-many-codes",
                StatusCode::TOO_MANY_REQUESTS,
                "Too many wrong codes",
                "wait half a minute and try again".into(),
            ),
            Self::Internal(why) => {
                tracing::error!("{why}");
                let detail = "a fault of the program; its log has the particulars".into();
                plain("/problems/internal", StatusCode::INTERNAL_SERVER_ERROR, nothing_changed, detail)
            }
        }
    }
}

fn store_problem(error: StoreError) -> Problem {
    let (r#type, status, title) = match &error {
        StoreError::NoHouse(_) => ("/problems/no-house", StatusCode::NOT_FOUND, "No such house"),
        StoreError::NothingToUndo => ("/problems/nothing-to-undo", StatusCode::CONFLICT, "Nothing to undo"),
        StoreError::KeyUsed => ("/problems/key-used", StatusCode::UNPROCESSABLE_ENTITY, "This key was used before"),
        StoreError::Future(_) => ("/problems/future", StatusCode::UNPROCESSABLE_ENTITY, "No such revision yet"),
        StoreError::Conflict(_) => ("/problems/conflict", StatusCode::CONFLICT, "Others changed the same"),
        _ => return ApiError::Internal(error.to_string()).problem(),
    };
    let detail = error.to_string();
    let field = matches!(error, StoreError::KeyUsed).then(|| "Idempotency-Key".to_owned());
    let conflict = match error {
        StoreError::Conflict(c) => {
            Some(ConflictBody { base: c.base, current: c.current, subjects: c.subjects, revisions: c.revisions })
        }
        _ => None,
    };
    Problem { r#type, status: status.as_u16(), title, detail, field, conflict, cost: None }
}

impl IntoResponse for ApiError {
    fn into_response(self) -> axum::response::Response {
        let problem = self.problem();
        let status = StatusCode::from_u16(problem.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        (status, [(CONTENT_TYPE, "application/problem+json")], axum::Json(problem)).into_response()
    }
}
