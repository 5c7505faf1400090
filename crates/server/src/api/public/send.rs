//! Answers on their way in: from the page, with their files, and as signed calls.

use super::{
    AnswersBody, At,
    follow::{hash, hex},
    form_of,
    sent::{self, Place, Placed, SentFile, examined, unexamined},
};
use crate::{
    api::idempotency_key,
    app::App,
    here::Perhaps,
    problem::{Json, Path, Problem, holds_zero},
    refusal::Refusal,
    secrets::random_hex,
    ways,
};
use axum::{
    extract::{Multipart, State},
    http::HeaderMap,
};
use serde::Serialize;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use westerfall_core::{
    fault::Fault,
    form::{Answer, Audience},
    id::{FieldId, RecordId},
    value::Input,
};

/// Nobody reads a form and answers it faster, in milliseconds.
const TOO_FAST: u64 = 1_500;

/// What a respondent gets.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct Sent {
    confirmation: String,
    /// A copy goes to the address that was given.
    copied: bool,
    /// The private address at which their answer can be followed, where the form has one.
    follow: Option<String>,
}

/// An answer on its way: answers by field, and files by field.
#[derive(ToSchema)]
#[allow(dead_code, reason = "it only describes the multipart body")]
pub(in crate::api) struct SendBody {
    /// The answers, as a JSON object from field to input.
    answers: String,
    /// The lines, as a JSON object from field to a list of objects from field to input.
    lines: Option<String>,
    /// The parameters of the address by which one came, as a JSON object.
    parameters: Option<String>,
    /// How long the form was open, in milliseconds. Programs that fill forms are faster than anybody reads.
    took: Option<u64>,
    /// Left empty. Nobody sees it who reads the form.
    website: Option<String>,
    /// Files are sent as parts named `file-` and the field's number; those of a line as `file-`, the question's field, the
    /// place of the line from 0, and the field that the line asks, with hyphens between.
    #[schema(rename = "file-1", format = Binary)]
    file: Option<String>,
}

/// Sends an answer. With an `Idempotency-Key`, sending twice makes one record. If anything is wrong, nothing is kept.
#[utoipa::path(post, path = "/api/public/forms/{link}", params(("link" = String, Path)), request_body(content = SendBody, content_type = "multipart/form-data"), responses((status = 200, body = Sent)))]
pub(in crate::api) async fn send(
    State(app): State<App>,
    who: Perhaps,
    Path(link): Path<String>,
    headers: HeaderMap,
    multipart: Multipart,
) -> Result<Json<Sent>, Problem> {
    let at = At::of(&app, &link).await?;
    let (body, sent) = read_answers(multipart).await?;
    let given = idempotency_key(&headers)?;
    let key = given.as_ref().map(|key| format!("form {} {key}", at.form));
    // The same answer again gets the same address to follow it, without the secret being kept. Where others could guess the
    // key, the address is told once.
    let lasting = given.filter(|key| is_random(key)).map(|key| secret_of(&app, &at, &key));
    let tells_again = lasting.is_some();
    let secret = lasting.unwrap_or_else(|| random_hex(20));
    let look = at.look()?;
    let form = form_of(&look, at.form)?;
    let follows = form.following.is_some();
    // Who answers is noted only where the form is for people who are known; and nobody answers for somebody else.
    let by = match &who.0 {
        Some(caller) if form.audience != Audience::Anyone => {
            caller.actor()?;
            Some(caller.person()?)
        }
        _ => None,
    };
    let receipt = Some(hash(&secret));
    let whole = |answer: Answer| Answer { by, receipt: receipt.clone(), ..answer };
    let known = !sent.is_empty() && ways::is_known(&app, &at.live, key.as_deref()).await?;
    let (answer, uploads) = if sent.is_empty() || known {
        (body.answer(), Vec::new())
    } else {
        ways::rehearsed(&look, at.form, &whole(with_files(body.clone(), unexamined(&sent))?)).map_err(Problem::of_answers)?;
        let (files, uploads) = examined(&app, &look.dataset, sent).await?;
        (with_files(body, files)?, uploads)
    };
    let done = ways::enter(&app, &at.live, at.form, whole(answer), key, &uploads).await.map_err(Problem::of_answers)?;
    let look = at.look()?;
    let form = form_of(&look, at.form)?;
    let confirmation = done.added.first().map_or_else(String::new, |record| form.thanks(&look.dataset, *record, &look.clock));
    if !done.again
        && let Err(error) = app.store.count_of_form(at.tracker, at.form, "sent").await
    {
        tracing::warn!(%error, "a sent form was not counted");
    }
    let given = |field: FieldId| done.added.first().is_some_and(|record| !look.lens().text_at(form.table, *record, field).is_empty());
    let copied = form.copy.is_some_and(given);
    let told = follows && (tells_again || !done.again);
    Ok(Json(Sent { confirmation, copied, follow: told.then(|| format!("{}/a/{secret}", app.settings.public_url)) }))
}

/// Whether a key is one that nobody guesses: a random UUID, as our page sends them.
fn is_random(key: &str) -> bool {
    let parts: Vec<&str> = key.split('-').collect();
    let lengths: Vec<usize> = parts.iter().map(|part| part.len()).collect();
    let hex = key.chars().all(|c| c == '-' || c.is_ascii_hexdigit());
    hex && lengths == [8, 4, 4, 4, 12] && parts[2].starts_with('4')
}

/// The secret that goes with a sender's key: whoever has the key, which only the sender has, can make it again.
fn secret_of(app: &App, at: &At, key: &str) -> String {
    hex(&Sha256::digest(format!("{} {} {} {key}", app.settings.public_url, at.tracker, at.form).as_bytes())[..20])
}

async fn read_answers(mut multipart: Multipart) -> Result<(AnswersBody, Vec<SentFile<FilePlace>>), Problem> {
    let mut body = AnswersBody::default();
    let mut files = Vec::new();
    let shape = |_| Refusal::WrongShape.saying("The answers are not JSON of the right shape.");
    while let Some(part) = multipart.next_field().await? {
        let name = part.name().unwrap_or_default().to_owned();
        if let Some(place) = FilePlace::named(&name) {
            let (name, bytes) = (part.file_name().unwrap_or("file").to_owned(), part.bytes().await?.to_vec());
            sent::add(&mut files, SentFile { place, name, bytes })?;
            continue;
        }
        let text = part.text().await?;
        match name.as_str() {
            "answers" => body.answers = serde_json::from_str(&text).map_err(shape)?,
            "lines" => body.lines = serde_json::from_str(&text).map_err(shape)?,
            "parameters" => body.parameters = serde_json::from_str(&text).map_err(shape)?,
            "took" if text.parse().is_ok_and(|took: u64| took < TOO_FAST) => return Err(Refusal::TooFast.into()),
            "website" if !text.is_empty() => return Err(Refusal::HiddenBox.into()),
            "took" | "website" => {}
            _ => return Err(Refusal::Unreadable.into()),
        }
    }
    Ok((body, files))
}

/// The answers with these files among them.
fn with_files(mut body: AnswersBody, files: Placed<FilePlace>) -> Result<Answer, Problem> {
    for (place, files) in files {
        let answers = match place {
            FilePlace::Answer(_) => &mut body.answers,
            FilePlace::Line(question, line, _) => {
                body.lines.get_mut(&question).and_then(|lines| lines.get_mut(line)).ok_or(Refusal::Unreadable)?
            }
        };
        answers.insert(place.field(), Input::Upload(files));
    }
    Ok(body.answer())
}

/// The question that a file answers.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum FilePlace {
    Answer(FieldId),
    /// The question with the lines, the place of the line, and what is asked in it.
    Line(FieldId, usize, FieldId),
}

impl FilePlace {
    /// From the name of a part: `file-` and the field's number, or in lines `file-`, question, place and field.
    fn named(name: &str) -> Option<Self> {
        let parts: Vec<&str> = name.strip_prefix("file-")?.split('-').collect();
        match parts[..] {
            [field] => Some(Self::Answer(field.parse().ok()?)),
            [question, line, field] => Some(Self::Line(question.parse().ok()?, line.parse().ok()?, field.parse().ok()?)),
            _ => None,
        }
    }
}

impl Place for FilePlace {
    fn field(self) -> FieldId {
        match self {
            Self::Answer(field) | Self::Line(_, _, field) => field,
        }
    }

    fn pointer(self) -> String {
        match self {
            Self::Answer(field) => format!("/answers/{field}"),
            Self::Line(question, line, field) => format!("/lines/{question}/{line}/{field}"),
        }
    }
}

/// What a call is told.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct Taken {
    record: RecordId,
}

/// Takes a signed web call as an answer. `Westerfall-Timestamp` is its moment in seconds since 1970; `Westerfall-Signature` the
/// HMAC-SHA-256, in hexadecimal digits, of that moment, a point and the body, under the form's secret. The same call again is
/// the same record.
#[utoipa::path(post, path = "/api/public/forms/{link}/calls", params(("link" = String, Path)), request_body = String, responses((status = 200, body = Taken)))]
pub(in crate::api) async fn call(
    State(app): State<App>,
    Path(link): Path<String>,
    headers: HeaderMap,
    body: axum::body::Bytes,
) -> Result<Json<Taken>, Problem> {
    let at = At::of(&app, &link).await?;
    let look = at.look()?;
    let form = form_of(&look, at.form)?;
    let secret = form.ways.call.as_ref().map(|call| call.secret.clone()).ok_or_else(|| Fault::not_found("form"))?;
    let header = |name: &str| headers.get(name).and_then(|v| v.to_str().ok()).unwrap_or_default();
    let (moment, signed) = (header("westerfall-timestamp"), header("westerfall-signature"));
    let signature = ways::believe(&secret, moment, signed, &body)?;
    if holds_zero(&body) {
        return Err(Refusal::HoldsZero.into());
    }
    let json: serde_json::Value = serde_json::from_slice(&body).map_err(|_| Refusal::NotJson)?;
    let answer = form.answer_of_call(&json).ok_or_else(|| Fault::not_found("form"))?;
    // The same call is the same record, however its signature is spelt.
    let key = format!("form {} call {moment} {signature}", at.form);
    Ok(Json(Taken { record: ways::take(&app, (at.tracker, at.form), "call", answer, key, &[]).await? }))
}
