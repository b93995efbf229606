//! Work in panels: plans, jobs under way, their sheets.

use std::collections::BTreeMap;
use std::sync::Arc;

use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE};
use axum::response::{IntoResponse, Response};
use jiff::Zoned;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::Invalid;
use wayfinder_core::directory::of_job;
use wayfinder_core::house::{Goal, House, Job, JobId, PanelId};
use wayfinder_core::job::combine::{self, JoinPair};
use wayfinder_core::job::order::{JobOrder, order};
use wayfinder_core::job::pictured::{self, BeforeAfter, Pictured};
use wayfinder_core::job::shopping::{Shopping, shopping};
use wayfinder_core::job::work::{self, JobNow};
use wayfinder_core::job::{Basis, Mishap, in_turn, kind, mishaps, together};
use wayfinder_formats::draw::Print;
use wayfinder_formats::{labels, shopping as shop, work_sheet};

use super::extract::{Json, OfHouse, Path, Query, printed};
use crate::error::{ApiError, Refused, RefusedBody};
use crate::hub::Hub;
use crate::known::Known;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new()
        .routes(routes!(job_plan))
        .routes(routes!(job_of_answers))
        .routes(routes!(job_plan_pdf))
        .routes(routes!(job_plan_shopping))
        .routes(routes!(job_pairs))
        .routes(routes!(jobs))
        .routes(routes!(jobs_order))
        .routes(routes!(jobs_shopping))
        .routes(routes!(job))
        .routes(routes!(protocol))
        .routes(routes!(job_tags))
        .routes(routes!(job_shopping))
}

fn with_basis<T>(known: &Known, ask: impl FnOnce(&Basis<'_>) -> Result<T, Invalid>) -> Result<T, ApiError> {
    Ok(ask(&Basis::new(known.house(), known.beliefs(), known.loaded()))?)
}

/// Plans a job: steps with the readings they must show, parts, ways, and what speaks against it. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/job-plan", params(("id" = i64, Path, description = "the house")),
    request_body = Goal,
    responses((status = 200, body = Pictured), RefusedBody))]
pub async fn job_plan(of: OfHouse, Json(goal): Json<Goal>) -> Result<axum::Json<Pictured>, ApiError> {
    of.json(move |known| with_basis(known, |basis| pictured::pictured(basis, &goal))).await
}

/// What was answered of what a kind of job asks.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct JobAnswers {
    /// Ids for what is made new: this one and the three that follow, then four for each job beside it.
    first: u64,
    /// By the names of the kind's fields.
    #[schema(value_type = HashMap<String, Value>)]
    answers: BTreeMap<String, Value>,
    /// Other jobs in the same shutdown.
    #[serde(default)]
    #[schema(required = false)]
    beside: Vec<JobBeside>,
}

/// A job in the same shutdown as another.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct JobBeside {
    /// Its kind.
    kind: String,
    /// What was answered, by the names of the kind's fields.
    #[schema(value_type = HashMap<String, Value>)]
    answers: BTreeMap<String, Value>,
}

/// The kind of job that the path names.
#[derive(Debug, Deserialize)]
pub struct OfKind {
    kind: String,
}

/// Plans a job of a kind from what was answered of what it asks, in one shutdown with others where there are any. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/job-plan/{kind}",
    params(("id" = i64, Path, description = "the house"), ("kind" = String, Path, description = "the kind of job")),
    request_body = JobAnswers,
    responses((status = 200, body = Pictured), RefusedBody))]
pub async fn job_of_answers(
    of: OfHouse,
    Path(at): Path<OfKind>,
    Json(said): Json<JobAnswers>,
) -> Result<axum::Json<Pictured>, ApiError> {
    of.json(move |known| {
        let beside = said.beside.iter().map(|of| (of.kind.as_str(), &of.answers));
        let all = beside.chain([(at.kind.as_str(), &said.answers)]);
        let ask = |house: &House, (name, answers): (&str, &BTreeMap<String, Value>), first| {
            kind(name)?.goal(house, answers, first)
        };
        let goals = in_turn(known.house(), all, said.first, ask)?;
        let goal = together(goals).ok_or_else(|| Invalid::new("kind", "a job, please"))?;
        with_basis(known, |basis| pictured::pictured(basis, &goal))
    })
    .await
}

/// Which job, with every choice made.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct GoalQuery {
    /// The goal as JSON.
    goal: String,
}

/// A plan as a sheet to take along: large type, boxes to tick, expected readings.
#[utoipa::path(get, path = "/api/v1/houses/{id}/job-plan.pdf",
    params(("id" = i64, Path, description = "the house"), GoalQuery),
    responses((status = 200, description = "the sheet", body = Vec<u8>, content_type = "application/pdf"), Refused))]
pub async fn job_plan_pdf(of: OfHouse, Query(query): Query<GoalQuery>) -> Result<Response, ApiError> {
    let goal: Goal = serde_json::from_str(&query.goal).map_err(|e| Invalid::new("goal", e.to_string()))?;
    of.read(move |known| {
        let plan = with_basis(known, |basis| wayfinder_core::job::plan(basis, &goal))?;
        let pages = work_sheet::of_plan(&known.house().about.name, &plan, Some(Zoned::now().date()));
        sheet(&pages, &plan.title)
    })
    .await
}

fn sheet(pages: &[String], title: &str) -> Result<Response, ApiError> {
    printed("work.pdf", &Print { title: title.to_owned(), pages: pages.to_vec() })
}

/// Which list, and of which plan.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ShoppingQuery {
    /// The goal as JSON.
    goal: String,
    /// `json`, `pdf`, `csv` or `text`.
    #[serde(default)]
    #[param(inline)]
    form: ListForm,
}

/// How a list is given out.
#[derive(Debug, Clone, Copy, Default, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ListForm {
    /// As values.
    #[default]
    Json,
    /// As a sheet.
    Pdf,
    /// As a table.
    Csv,
    /// As text to send.
    Text,
}

/// What is to be bought for a plan, with the prices that the house keeps: as values, sheet, table or text.
#[utoipa::path(get, path = "/api/v1/houses/{id}/job-shopping",
    params(("id" = i64, Path, description = "the house"), ShoppingQuery),
    responses((status = 200, body = Shopping), Refused))]
pub async fn job_plan_shopping(of: OfHouse, Query(query): Query<ShoppingQuery>) -> Result<Response, ApiError> {
    let goal: Goal = serde_json::from_str(&query.goal).map_err(|e| Invalid::new("goal", e.to_string()))?;
    of.read(move |known| {
        let plan = with_basis(known, |basis| wayfinder_core::job::plan(basis, &goal))?;
        let list = shopping(&plan.parts, &plan.tools, &known.house().about.prices);
        shop_list(&known.house().about.name, &plan.title, &list, query.form)
    })
    .await
}

fn shop_list(house: &str, title: &str, list: &Shopping, form: ListForm) -> Result<Response, ApiError> {
    let named = |kind: &'static str, name: &'static str, body: String| {
        ([(CONTENT_TYPE, kind), (CONTENT_DISPOSITION, name)], body).into_response()
    };
    Ok(match form {
        ListForm::Json => axum::Json(list).into_response(),
        ListForm::Pdf => sheet(&shop::pages(house, title, list), title)?,
        ListForm::Csv => {
            let table = shop::csv(list).map_err(|e| ApiError::Internal(e.to_string()))?;
            named("text/csv; charset=utf-8", "attachment; filename=\"shopping.csv\"", table)
        }
        ListForm::Text => named("text/plain; charset=utf-8", "inline", shop::text(title, list)),
    })
}

/// A panel.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PairsQuery {
    /// The panel.
    panel: u64,
}

/// Pairs of circuits that might share a breaker, the best first, with what speaks for and against each.
#[utoipa::path(get, path = "/api/v1/houses/{id}/job-pairs",
    params(("id" = i64, Path, description = "the house"), PairsQuery),
    responses((status = 200, body = Vec<JoinPair>), Refused))]
pub async fn job_pairs(of: OfHouse, Query(query): Query<PairsQuery>) -> Result<axum::Json<Vec<JoinPair>>, ApiError> {
    of.json(move |known| with_basis(known, |basis| Ok(combine::candidates(basis, PanelId(query.panel))))).await
}

/// All jobs, those under way first, then the latest first.
#[utoipa::path(get, path = "/api/v1/houses/{id}/jobs", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Vec<JobNow>), Refused))]
pub async fn jobs(of: OfHouse) -> Result<Response, ApiError> {
    of.written("jobs".into(), |known| Ok(work::all(known.house()))).await
}

/// In which order jobs that are begun are done: one shutdown, one permit and one trip to the shop, where they fit in one.
#[utoipa::path(get, path = "/api/v1/houses/{id}/jobs-order", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = JobOrder), Refused))]
pub async fn jobs_order(of: OfHouse) -> Result<axum::Json<JobOrder>, ApiError> {
    of.json(move |known| with_basis(known, |basis| Ok(order(basis)))).await
}

/// What is to be bought for all jobs that are begun and not opened yet.
#[utoipa::path(get, path = "/api/v1/houses/{id}/jobs-shopping",
    params(("id" = i64, Path, description = "the house"), ListQuery),
    responses((status = 200, body = Shopping), Refused))]
pub async fn jobs_shopping(of: OfHouse, Query(query): Query<ListQuery>) -> Result<Response, ApiError> {
    of.read(move |known| {
        let JobOrder { parts, tools, .. } = with_basis(known, |basis| Ok(order(basis)))?;
        let about = &known.house().about;
        shop_list(&about.name, "For all jobs that are begun", &shopping(&parts, &tools, &about.prices), query.form)
    })
    .await
}

/// The job that the path names.
#[derive(Debug, Deserialize)]
pub struct OfJob {
    job: u64,
}

impl OfJob {
    fn job<'a>(&self, known: &'a Known) -> Result<&'a Job, ApiError> {
        known.house().jobs.get(JobId(self.job)).ok_or(ApiError::NoSuchResource)
    }
}

/// A job with its pictures.
#[derive(Debug, Serialize, ToSchema)]
pub struct JobShown {
    /// The job with its steps, and what was done.
    job: Job,
    /// How it stands.
    now: JobNow,
    /// Its panel as it stands and as it shall be.
    faces: BeforeAfter,
    /// What usually goes wrong, and the way on.
    mishaps: Vec<Mishap>,
}

/// A job: its steps, how far it is, what is off and what is live.
#[utoipa::path(get, path = "/api/v1/houses/{id}/jobs/{job}",
    params(("id" = i64, Path, description = "the house"), ("job" = u64, Path, description = "the job")),
    responses((status = 200, body = JobShown), Refused))]
pub async fn job(of: OfHouse, Path(at): Path<OfJob>) -> Result<Response, ApiError> {
    of.written(format!("job {}", at.job), move |known| {
        let (house, job) = (known.house(), at.job(known)?);
        let then = if job.made.is_none() && job.ended.is_none() { work::becomes(house, job).ok() } else { None };
        let faces = pictured::before_after(house, known.beliefs(), then.as_ref().map(|a| &a.house), job.panel)?;
        Ok(JobShown { job: job.clone(), now: work::now(house, job), faces, mishaps: mishaps(house, &job.goal) })
    })
    .await
}

/// The protocol of a job.
#[utoipa::path(get, path = "/api/v1/houses/{id}/jobs/{job}/protocol.pdf",
    params(("id" = i64, Path, description = "the house"), ("job" = u64, Path, description = "the job")),
    responses((status = 200, description = "the protocol", body = Vec<u8>, content_type = "application/pdf"), Refused))]
pub async fn protocol(of: OfHouse, Path(at): Path<OfJob>) -> Result<Response, ApiError> {
    of.read(move |known| {
        let job = at.job(known)?;
        sheet(&work_sheet::of_job(&known.house().about.name, job, &TimeZone::system()), &job.title)
    })
    .await
}

/// How a job's list is given out.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ListQuery {
    /// `json`, `pdf`, `csv` or `text`.
    #[serde(default)]
    #[param(inline)]
    form: ListForm,
}

/// What was to be bought for a job.
#[utoipa::path(get, path = "/api/v1/houses/{id}/jobs/{job}/shopping",
    params(("id" = i64, Path, description = "the house"), ("job" = u64, Path, description = "the job"), ListQuery),
    responses((status = 200, body = Shopping), Refused))]
pub async fn job_shopping(
    of: OfHouse,
    Path(at): Path<OfJob>,
    Query(query): Query<ListQuery>,
) -> Result<Response, ApiError> {
    of.read(move |known| {
        let (about, job) = (&known.house().about, at.job(known)?);
        shop_list(&about.name, &job.title, &shopping(&job.parts, &job.tools, &about.prices), query.form)
    })
    .await
}

/// Labels for what a job touched: circuit numbers for the back of cover plates, tags for wires.
#[utoipa::path(get, path = "/api/v1/houses/{id}/jobs/{job}/tags.pdf",
    params(("id" = i64, Path, description = "the house"), ("job" = u64, Path, description = "the job")),
    responses((status = 200, description = "the labels", body = Vec<u8>, content_type = "application/pdf"), Refused))]
pub async fn job_tags(of: OfHouse, Path(at): Path<OfJob>) -> Result<Response, ApiError> {
    of.read(move |known| {
        let job = at.job(known)?;
        let all = of_job(known.house(), known.beliefs(), job);
        if all.is_empty() {
            return Err(Invalid::new("job", "it touched no circuit that stands").into());
        }
        sheet(&labels::to_cut(&all), &job.title)
    })
    .await
}
