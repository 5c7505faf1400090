//! Forms as their respondents reach them, without signing in.

use super::{idempotency_key, records::Search};
use crate::{
    app::App,
    live::{Live, Look, Wish, rehearse},
    pictures::{self, Upload},
    problem::{Json, Path, Problem, Query, too_large},
};
use axum::{
    extract::{Multipart, State},
    http::{HeaderMap, StatusCode},
};
use serde::Serialize;
use std::{collections::BTreeMap, sync::Arc};
use utoipa::ToSchema;
use westerfall_core::{
    access::Asker,
    dataset::RecordName,
    fault::{Fault, FaultKind},
    form::FormView,
    id::{FieldId, FormId},
    intent::{Input, Intent},
};

/// Most files in one answer.
const MOST_FILES: usize = 10;

async fn form_at(app: &App, link: &str) -> Result<(Arc<Live>, FormId), Problem> {
    let (tracker, form) = app.store.form_at(link).await?.ok_or_else(|| Fault::not_found("form"))?;
    Ok((app.tracker(tracker).await?, form))
}

fn look(live: &Live, form: FormId) -> Result<Look, Problem> {
    Ok(live.look(Asker::Form(form))?)
}

/// The form at a public address.
#[utoipa::path(get, path = "/api/public/forms/{link}", params(("link" = String, Path)), responses((status = 200, body = FormView), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn form(State(app): State<App>, Path(link): Path<String>) -> Result<Json<FormView>, Problem> {
    let (live, id) = form_at(&app, &link).await?;
    let look = look(&live, id)?;
    let form = look.dataset.form(id).ok_or_else(|| Fault::not_found("form"))?;
    Ok(Json(form.to_view(&look.dataset)))
}

/// The records that a link question offers for what was typed: their names and nothing else.
#[utoipa::path(get, path = "/api/public/forms/{link}/questions/{field}/names", params(("link" = String, Path), ("field" = u32, Path), Search), responses((status = 200, body = Vec<RecordName>), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn offered(
    State(app): State<App>,
    Path((link, field)): Path<(String, FieldId)>,
    Query(search): Query<Search>,
) -> Result<Json<Vec<RecordName>>, Problem> {
    let (live, id) = form_at(&app, &link).await?;
    let look = look(&live, id)?;
    let form = look.dataset.form(id).ok_or_else(|| Fault::not_found("form"))?;
    Ok(Json(form.offered(&look.dataset, field, &search.search, &look.clock)?))
}

/// What a respondent gets.
#[derive(Serialize, ToSchema)]
pub(super) struct Sent {
    confirmation: String,
}

/// An answer on its way: answers by field, and files by field.
#[derive(ToSchema)]
#[allow(dead_code, reason = "it only describes the multipart body")]
pub(super) struct AnswerBody {
    /// The answers, as a JSON object from field to input.
    answers: String,
    /// Files are sent as parts named `file-` and the field's number.
    #[schema(rename = "file-1", format = Binary)]
    file: Option<String>,
}

/// Sends an answer. With an `Idempotency-Key`, sending twice makes one record. If anything is wrong, nothing is kept.
#[utoipa::path(post, path = "/api/public/forms/{link}", params(("link" = String, Path)), request_body(content = AnswerBody, content_type = "multipart/form-data"), responses((status = 200, body = Sent), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn send(
    State(app): State<App>,
    Path(link): Path<String>,
    headers: HeaderMap,
    multipart: Multipart,
) -> Result<Json<Sent>, Problem> {
    let (live, form) = form_at(&app, &link).await?;
    let (answers, uploads) = read_answers(multipart).await?;
    let look = look(&live, form)?;
    let confirmation = look.dataset.form(form).ok_or_else(|| Fault::not_found("form"))?.confirmation.clone();
    let intent = Intent::Send { form, answers };
    rehearse(&look, &intent)?;
    pictures::keep(&app, &uploads).await?;
    let key = idempotency_key(&headers)?.map(|key| format!("form {form} {key}"));
    let wish = Wish { intent, asker: Asker::Form(form), key, at: None };
    if let Err(problem) = live.wish(wish).await {
        pictures::forget(&app, &uploads).await;
        return Err(problem);
    }
    Ok(Json(Sent { confirmation }))
}

type Answers = Vec<(FieldId, Input)>;

async fn read_answers(mut multipart: Multipart) -> Result<(Answers, Vec<Upload>), Problem> {
    let mut answers: BTreeMap<FieldId, Input> = BTreeMap::new();
    let mut uploads = Vec::new();
    let mut files: BTreeMap<FieldId, Vec<Upload>> = BTreeMap::new();
    let unreadable = || Problem::new(StatusCode::BAD_REQUEST, "What was sent could not be read.");
    let broken = |e: axum::extract::multipart::MultipartError| {
        if e.status() == StatusCode::PAYLOAD_TOO_LARGE { too_large() } else { unreadable() }
    };
    while let Some(part) = multipart.next_field().await.map_err(broken)? {
        let name = part.name().unwrap_or_default().to_owned();
        if name == "answers" {
            let text = part.text().await.map_err(broken)?;
            answers = serde_json::from_str(&text)
                .map_err(|_| Problem::new(StatusCode::BAD_REQUEST, "The answers are not JSON of the right shape."))?;
        } else if let Some(field) = name.strip_prefix("file-").and_then(|n| n.parse().ok()) {
            let file = part.file_name().unwrap_or("file").to_owned();
            let bytes = part.bytes().await.map_err(broken)?.to_vec();
            let upload = pictures::examine(file, bytes).await.map_err(|problem| at_answer(problem, field))?;
            files.entry(field).or_default().push(upload.clone());
            uploads.push(upload);
            if uploads.len() > MOST_FILES {
                return Err(Fault::new(FaultKind::TooLong, format!("At most {MOST_FILES} files can be sent at once.")).into());
            }
        } else {
            return Err(unreadable());
        }
    }
    let mut answers: Answers = answers.into_iter().filter(|(field, _)| !files.contains_key(field)).collect();
    answers.extend(files.into_iter().map(|(field, uploads)| (field, Input::Upload(uploads.into_iter().map(|u| u.attachment).collect()))));
    Ok((answers, uploads))
}

/// A refused file says at which question it was.
fn at_answer(problem: Problem, field: FieldId) -> Problem {
    problem.at(&format!("/answers/{field}"))
}
