//! Forms as their respondents reach them, without signing in.

pub(super) mod follow;
pub(super) mod mark;
pub(super) mod opt_outs;
pub(super) mod pages;
pub(super) mod pictures;
pub(super) mod replies;
pub(super) mod send;
mod sent;
mod written;

use crate::{
    app::App,
    here::{Caller, Perhaps},
    live::{Live, Look},
    problem::{Json, Path, Problem, Query},
};
use axum::{extract::State, http::StatusCode};
use serde::Deserialize;
use std::{collections::BTreeMap, sync::Arc};
use utoipa::ToSchema;
use westerfall_core::{
    dataset::RecordName,
    fault::Fault,
    form::{Answer, Form, FormView, Parameter, Responding},
    id::{FieldId, FormId, TrackerId},
    value::Input,
};

/// A form, and where it is.
struct At {
    live: Arc<Live>,
    tracker: TrackerId,
    form: FormId,
}

impl At {
    async fn of(app: &App, link: &str) -> Result<Self, Problem> {
        let (tracker, form) = app.store.form_at(link).await?.ok_or_else(|| Fault::not_found("form"))?;
        Ok(Self { live: app.tracker(tracker).await?, tracker, form })
    }

    fn look(&self) -> Result<Look, Problem> {
        Ok(self.live.look(Caller::Link(self.form).asker())?)
    }
}

fn form_of(look: &Look, id: FormId) -> Result<&Form, Problem> {
    Ok(look.dataset.form(id).ok_or_else(|| Fault::not_found("form"))?)
}

/// Only those for whom a form is see it.
fn admit(look: &Look, form: &Form, who: &Perhaps) -> Result<(), Problem> {
    Ok(form.admits(&look.dataset, who.person())?)
}

/// Answers so far.
#[derive(Clone, Default, Deserialize, ToSchema)]
#[serde(default)]
pub(in crate::api) struct AnswersBody {
    /// By the field of the question.
    answers: BTreeMap<FieldId, Input>,
    /// By the field of the question: the lines, each by field.
    lines: BTreeMap<FieldId, Vec<BTreeMap<FieldId, Input>>>,
    /// Of the address by which one came.
    parameters: BTreeMap<String, String>,
}

impl AnswersBody {
    fn answer(self) -> Answer {
        let lines = |lines: Vec<BTreeMap<FieldId, Input>>| lines.into_iter().map(|line| line.into_iter().collect()).collect();
        Answer {
            answers: self.answers.into_iter().collect(),
            lines: self.lines.into_iter().map(|(field, of)| (field, lines(of))).collect(),
            parameters: self.parameters.into_iter().map(|(name, value)| Parameter { name, value }).collect(),
            ..Answer::default()
        }
    }
}

/// The form at a public address, as it begins; the parameters of the address count.
#[utoipa::path(get, path = "/api/public/forms/{link}", params(("link" = String, Path)), responses((status = 200, body = FormView)))]
pub(in crate::api) async fn form(
    State(app): State<App>,
    who: Perhaps,
    Path(link): Path<String>,
    Query(parameters): Query<BTreeMap<String, String>>,
) -> Result<Json<FormView>, Problem> {
    seen(&app, who, &link, AnswersBody { parameters, ..AnswersBody::default() }).await
}

/// The form as it stands with these answers: which questions are asked, what they offer, what lines come to.
#[utoipa::path(post, path = "/api/public/forms/{link}/look", params(("link" = String, Path)), request_body = AnswersBody, responses((status = 200, body = FormView)))]
pub(in crate::api) async fn look(
    State(app): State<App>,
    who: Perhaps,
    Path(link): Path<String>,
    Json(body): Json<AnswersBody>,
) -> Result<Json<FormView>, Problem> {
    seen(&app, who, &link, body).await
}

async fn seen(app: &App, who: Perhaps, link: &str, body: AnswersBody) -> Result<Json<FormView>, Problem> {
    let at = At::of(app, link).await?;
    let look = at.look()?;
    let form = form_of(&look, at.form)?;
    admit(&look, form, &who)?;
    let team = app.team.now();
    let id = at.form;
    let view = app.rooms.read(move || {
        let form = form_of(&look, id)?;
        Ok(Responding { form, ds: &look.dataset, clock: &look.clock, team: team.face() }.view(&body.answer()))
    });
    view.await?.map(Json)
}

/// What was typed to find a record, and the answers so far.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct Searching {
    search: String,
    #[serde(default)]
    so_far: AnswersBody,
}

/// The records that a link question offers for what was typed: their names and nothing else.
#[utoipa::path(post, path = "/api/public/forms/{link}/questions/{field}/names", params(("link" = String, Path), ("field" = u32, Path)), request_body = Searching, responses((status = 200, body = Vec<RecordName>)))]
pub(in crate::api) async fn offered(
    State(app): State<App>,
    who: Perhaps,
    Path((link, field)): Path<(String, FieldId)>,
    Json(body): Json<Searching>,
) -> Result<Json<Vec<RecordName>>, Problem> {
    let at = At::of(&app, &link).await?;
    let look = at.look()?;
    let form = form_of(&look, at.form)?;
    admit(&look, form, &who)?;
    let (team, id) = (app.team.now(), at.form);
    let names = app.rooms.read(move || {
        let form = form_of(&look, id)?;
        let responding = Responding { form, ds: &look.dataset, clock: &look.clock, team: team.face() };
        Ok(responding.offered(field, &body.search, &body.so_far.answer())?)
    });
    names.await?.map(Json)
}

/// What happened with an opened form.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(in crate::api) enum Happened {
    Opened,
    /// It was left without sending; the question that was looked at last.
    Left(FieldId),
}

/// Counts that a form was opened or left. Numbers only: nothing is kept of who it was.
#[utoipa::path(post, path = "/api/public/forms/{link}/count", params(("link" = String, Path)), request_body = Happened, responses((status = 204)))]
pub(in crate::api) async fn count(
    State(app): State<App>,
    Path(link): Path<String>,
    Json(what): Json<Happened>,
) -> Result<StatusCode, Problem> {
    let at = At::of(&app, &link).await?;
    let look = at.look()?;
    let form = form_of(&look, at.form)?;
    let what = match what {
        Happened::Opened => "opened".to_owned(),
        Happened::Left(field) if form.question(field).is_some() => format!("left {field}"),
        Happened::Left(_) => return Err(Fault::not_found("question").into()),
    };
    app.store.count_of_form(at.tracker, at.form, &what).await?;
    Ok(StatusCode::NO_CONTENT)
}
