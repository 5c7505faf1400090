//! Forms as their respondents reach them, without signing in; and answers as they are followed.

use super::{KEEP_ALIVE, idempotency_key};
use crate::{
    app::App,
    live::{Live, Look},
    pictures::{self, Upload},
    problem::{Json, Path, Problem, Query, too_large},
    session::{Perhaps, random_hex},
    ways,
};
use axum::{
    extract::{Multipart, State},
    http::{HeaderMap, HeaderValue, StatusCode, header},
    response::{
        IntoResponse, Response,
        sse::{Event, KeepAlive, Sse},
    },
};
use futures::Stream;
use image::{ExtendedColorType, ImageEncoder, codecs::png::PngEncoder};
use qrcode::{Color, EcLevel, QrCode, render::svg};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::{collections::BTreeMap, convert::Infallible, sync::Arc, time::Duration};
use tokio::sync::{broadcast::error::RecvError, mpsc};
use tokio_stream::wrappers::ReceiverStream;
use utoipa::ToSchema;
use westerfall_core::{
    access::Asker,
    dataset::{Dataset, RecordName},
    fault::{Fault, FaultKind},
    form::{Answer, Audience, Followed, Form, FormView, Parameter, Responding},
    id::{FieldId, FormId, RecordId, TrackerId},
    intent::{Input, Intent},
    value::Attachment,
};

/// Most files in one answer.
const MOST_FILES: usize = 30;
/// Nobody reads a form and answers it faster, in milliseconds.
const TOO_FAST: u64 = 1_500;
/// Changes that come within this time are told together.
const TOGETHER: Duration = Duration::from_millis(150);
/// Pixels of each square of a QR code.
const QR_SCALE: usize = 12;

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
        Ok(self.live.look(Asker::Form(self.form))?)
    }
}

fn form_of(look: &Look, id: FormId) -> Result<&Form, Problem> {
    Ok(look.dataset.form(id).ok_or_else(|| Fault::not_found("form"))?)
}

/// Only those for whom a form is see it.
fn admit(look: &Look, form: &Form, who: &Perhaps) -> Result<(), Problem> {
    let person = who.0.as_ref().map(|signed| signed.person);
    match (form.audience, person) {
        (Audience::Anyone, _) | (Audience::Team, Some(_)) => Ok(()),
        (Audience::Team | Audience::Once, None) => {
            Err(Problem::new(StatusCode::UNAUTHORIZED, "This form is for people of the team. Sign in to answer it."))
        }
        (Audience::Once, Some(person)) if form.answered_by(&look.dataset, person) => {
            Err(Problem::new(StatusCode::GONE, "You have answered this form already. Thank you."))
        }
        (Audience::Once, Some(_)) => Ok(()),
    }
}

/// Answers so far.
#[derive(Default, Deserialize, ToSchema)]
#[serde(default)]
pub(super) struct AnswersBody {
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
#[utoipa::path(get, path = "/api/public/forms/{link}", params(("link" = String, Path)), responses((status = 200, body = FormView), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn form(
    State(app): State<App>,
    who: Perhaps,
    Path(link): Path<String>,
    Query(parameters): Query<BTreeMap<String, String>>,
) -> Result<Json<FormView>, Problem> {
    seen(&app, who, &link, AnswersBody { parameters, ..AnswersBody::default() }).await
}

/// The form as it stands with these answers: which questions are asked, what they offer, what lines come to.
#[utoipa::path(post, path = "/api/public/forms/{link}/look", params(("link" = String, Path)), request_body = AnswersBody, responses((status = 200, body = FormView), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn look(
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
    Ok(Json(Responding { form, ds: &look.dataset, clock: &look.clock, team: &app.settings.team }.view(&body.answer())))
}

/// What was typed to find a record, and the answers so far.
#[derive(Deserialize, ToSchema)]
pub(super) struct Searching {
    search: String,
    #[serde(default)]
    so_far: AnswersBody,
}

/// The records that a link question offers for what was typed: their names and nothing else.
#[utoipa::path(post, path = "/api/public/forms/{link}/questions/{field}/names", params(("link" = String, Path), ("field" = u32, Path)), request_body = Searching, responses((status = 200, body = Vec<RecordName>), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn offered(
    State(app): State<App>,
    who: Perhaps,
    Path((link, field)): Path<(String, FieldId)>,
    Json(body): Json<Searching>,
) -> Result<Json<Vec<RecordName>>, Problem> {
    let at = At::of(&app, &link).await?;
    let look = at.look()?;
    let form = form_of(&look, at.form)?;
    admit(&look, form, &who)?;
    let responding = Responding { form, ds: &look.dataset, clock: &look.clock, team: &app.settings.team };
    Ok(Json(responding.offered(field, &body.search, &body.so_far.answer())?))
}

/// What a respondent gets.
#[derive(Serialize, ToSchema)]
pub(super) struct Sent {
    confirmation: String,
    /// A copy goes to the address that was given.
    copied: bool,
    /// The private address at which their answer can be followed, where the form has one.
    follow: Option<String>,
}

/// An answer on its way: answers by field, and files by field.
#[derive(ToSchema)]
#[allow(dead_code, reason = "it only describes the multipart body")]
pub(super) struct SendBody {
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
#[utoipa::path(post, path = "/api/public/forms/{link}", params(("link" = String, Path)), request_body(content = SendBody, content_type = "multipart/form-data"), responses((status = 200, body = Sent), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn send(
    State(app): State<App>,
    who: Perhaps,
    Path(link): Path<String>,
    headers: HeaderMap,
    multipart: Multipart,
) -> Result<Json<Sent>, Problem> {
    let at = At::of(&app, &link).await?;
    let (answer, uploads) = read_answers(multipart, &at.look()?.dataset).await?;
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
        Some(signed) if form.audience != Audience::Anyone => {
            signed.actor()?;
            Some(signed.person)
        }
        _ => None,
    };
    let answer = Answer { by, receipt: Some(hash(&secret)), ..answer };
    let done = ways::enter(&app, &at.live, at.form, answer, key, &uploads).await?;
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

/// The hash under which a private address is kept.
fn hash(secret: &str) -> String {
    hex(&Sha256::digest(secret.as_bytes()))
}

fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
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

async fn read_answers(mut multipart: Multipart, ds: &Dataset) -> Result<(Answer, Vec<Upload>), Problem> {
    let mut body = AnswersBody::default();
    let mut uploads = Vec::new();
    let mut files: BTreeMap<FilePlace, Vec<Attachment>> = BTreeMap::new();
    let unreadable = || Problem::new(StatusCode::BAD_REQUEST, "What was sent could not be read.");
    let broken = |e: axum::extract::multipart::MultipartError| {
        if e.status() == StatusCode::PAYLOAD_TOO_LARGE { too_large() } else { unreadable() }
    };
    let shape = |_| Problem::new(StatusCode::BAD_REQUEST, "The answers are not JSON of the right shape.");
    while let Some(part) = multipart.next_field().await.map_err(broken)? {
        let name = part.name().unwrap_or_default().to_owned();
        if let Some(place) = FilePlace::named(&name) {
            let file = part.file_name().unwrap_or("file").to_owned();
            let bytes = part.bytes().await.map_err(broken)?.to_vec();
            let keep = pictures::Keep::of(ds, place.field());
            let upload = pictures::examine(file, bytes, keep).await.map_err(|problem| problem.at(&place.pointer()))?;
            files.entry(place).or_default().push(upload.attachment.clone());
            uploads.push(upload);
            if uploads.len() > MOST_FILES {
                return Err(Fault::new(FaultKind::TooLong, format!("At most {MOST_FILES} files can be sent at once.")).into());
            }
            continue;
        }
        let text = part.text().await.map_err(broken)?;
        match name.as_str() {
            "answers" => body.answers = serde_json::from_str(&text).map_err(shape)?,
            "lines" => body.lines = serde_json::from_str(&text).map_err(shape)?,
            "parameters" => body.parameters = serde_json::from_str(&text).map_err(shape)?,
            "took" if text.parse().is_ok_and(|took: u64| took < TOO_FAST) => {
                let message = "That was faster than anybody reads. Look over your answers and send them again.";
                return Err(Problem::new(StatusCode::TOO_MANY_REQUESTS, message));
            }
            "website" if !text.is_empty() => {
                let message = "A box that nobody sees was filled in, as programs do. Reload the page, and send your answer again.";
                return Err(Problem::new(StatusCode::UNPROCESSABLE_ENTITY, message));
            }
            "took" | "website" => {}
            _ => return Err(unreadable()),
        }
    }
    for (place, files) in files {
        let answers = match place {
            FilePlace::Answer(_) => &mut body.answers,
            FilePlace::Line(question, line, _) => {
                body.lines.get_mut(&question).and_then(|lines| lines.get_mut(line)).ok_or_else(unreadable)?
            }
        };
        answers.insert(place.field(), Input::Upload(files));
    }
    Ok((body.answer(), uploads))
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

    fn field(self) -> FieldId {
        match self {
            Self::Answer(field) | Self::Line(_, _, field) => field,
        }
    }

    /// Where a fault of it is.
    fn pointer(self) -> String {
        match self {
            Self::Answer(field) => format!("/answers/{field}"),
            Self::Line(question, line, field) => format!("/lines/{question}/{line}/{field}"),
        }
    }
}

/// What a call is told.
#[derive(Serialize, ToSchema)]
pub(super) struct Taken {
    record: RecordId,
}

/// Takes a signed web call as an answer. `Westerfall-Timestamp` is its moment in seconds since 1970; `Westerfall-Signature` the
/// HMAC-SHA-256, in hexadecimal digits, of that moment, a point and the body, under the form's secret. The same call again is
/// the same record.
#[utoipa::path(post, path = "/api/public/forms/{link}/calls", params(("link" = String, Path)), request_body = String, responses((status = 200, body = Taken), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn call(
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
    ways::believe(&secret, moment, signed, &body)?;
    let json: serde_json::Value =
        serde_json::from_slice(&body).map_err(|_| Problem::new(StatusCode::BAD_REQUEST, "What was sent is not JSON."))?;
    let answer = form.answer_of_call(&json).ok_or_else(|| Fault::not_found("form"))?;
    let key = format!("form {} call {signed}", at.form);
    Ok(Json(Taken { record: ways::take(&app, (at.tracker, at.form), "call", answer, key, &[]).await? }))
}

/// What happened with an opened form.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum Happened {
    Opened,
    /// It was left without sending; the question that was looked at last.
    Left(FieldId),
}

/// Counts that a form was opened or left. Numbers only: nothing is kept of who it was.
#[utoipa::path(post, path = "/api/public/forms/{link}/count", params(("link" = String, Path)), request_body = Happened, responses((status = 204), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn count(State(app): State<App>, Path(link): Path<String>, Json(what): Json<Happened>) -> Result<StatusCode, Problem> {
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

/// A picture of a form: `head` or `mark`.
#[utoipa::path(get, path = "/api/public/forms/{link}/pictures/{which}", params(("link" = String, Path), ("which" = String, Path)), responses((status = 200, body = Vec<u8>, content_type = "image/jpeg"), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn picture(State(app): State<App>, Path((link, which)): Path<(String, String)>) -> Result<Response, Problem> {
    let at = At::of(&app, &link).await?;
    let look = at.look()?;
    let unknown = || Problem::from(Fault::not_found("picture"));
    let of = &form_of(&look, at.form)?.look;
    let id = match which.as_str() {
        "head" => of.picture.clone(),
        "mark" => of.mark.clone(),
        _ => None,
    };
    let id = id.ok_or_else(unknown)?;
    let bytes = app.files.get(&id).await?.ok_or_else(unknown)?;
    let media = if bytes.starts_with(b"\x89PNG") { "image/png" } else { "image/jpeg" };
    Ok(shown(media, bytes.to_vec()))
}

fn shown(media: &'static str, bytes: Vec<u8>) -> Response {
    let mut response = bytes.into_response();
    response.headers_mut().insert(header::CONTENT_TYPE, HeaderValue::from_static(media));
    response.headers_mut().insert(header::CONTENT_SECURITY_POLICY, HeaderValue::from_static("default-src 'none'; sandbox"));
    response
}

/// A form's address, with these parameters, as a QR code: SVG, or PNG for an address that ends in `.png`.
#[utoipa::path(get, path = "/api/public/forms/{link}/qr/{file}", params(("link" = String, Path), ("file" = String, Path)), responses((status = 200, body = Vec<u8>, content_type = "image/svg+xml"), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn qr(
    State(app): State<App>,
    Path((link, file)): Path<(String, String)>,
    uri: axum::http::Uri,
) -> Result<Response, Problem> {
    At::of(&app, &link).await?;
    let query = uri.query().map_or_else(String::new, |query| format!("?{query}"));
    let address = format!("{}/f/{link}{query}", app.settings.public_url);
    let long = |_| Problem::from(Fault::new(FaultKind::TooLong, "This address is too long for a QR code."));
    let code = QrCode::with_error_correction_level(address.as_bytes(), EcLevel::M).map_err(long)?;
    match file.as_str() {
        "code.svg" => Ok(shown("image/svg+xml", code.render::<svg::Color<'_>>().min_dimensions(240, 240).build().into_bytes())),
        "code.png" => Ok(shown("image/png", drawn(&code)?)),
        _ => Err(Fault::not_found("picture").into()),
    }
}

/// A QR code as a PNG, with the quiet margin of four squares that readers need.
fn drawn(code: &QrCode) -> Result<Vec<u8>, Problem> {
    const MARGIN: usize = 4;
    let (squares, colours) = (code.width(), code.to_colors());
    let side = (squares + 2 * MARGIN) * QR_SCALE;
    let dark = |x: usize, y: usize| {
        let at = |pixel: usize| (pixel / QR_SCALE).checked_sub(MARGIN).filter(|n| *n < squares);
        at(x).zip(at(y)).is_some_and(|(x, y)| colours[y * squares + x] == Color::Dark)
    };
    let pixels: Vec<u8> = (0..side * side).map(|n| if dark(n % side, n / side) { 0 } else { 255 }).collect();
    let side = u32::try_from(side).map_err(|_| Problem::internal("a QR code is too large"))?;
    let mut bytes = Vec::new();
    PngEncoder::new(&mut bytes)
        .write_image(&pixels, side, side, ExtendedColorType::L8)
        .map_err(|_| Problem::internal("a QR code could not be drawn"))?;
    Ok(bytes)
}

async fn followed(app: &App, secret: &str) -> Result<(At, RecordId), Problem> {
    let unknown = || Problem::from(Fault::not_found("answer"));
    let (tracker, table, record) = app.store.receipt(&hash(secret)).await?.ok_or_else(unknown)?;
    let live = app.tracker(tracker).await?;
    let dataset = live.now();
    let form = match dataset.table(table).and_then(|t| t.meta(record)).map(|m| m.created_by) {
        Some(westerfall_core::history::Actor::Form(form)) => form,
        _ => return Err(unknown()),
    };
    Ok((At { live, tracker, form }, record))
}

/// How an answer stands, at its private address.
#[utoipa::path(get, path = "/api/public/answers/{secret}", params(("secret" = String, Path)), responses((status = 200, body = Followed), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn follow(State(app): State<App>, Path(secret): Path<String>) -> Result<Json<Followed>, Problem> {
    let (at, record) = followed(&app, &secret).await?;
    let look = at.look()?;
    let responding = Responding { form: form_of(&look, at.form)?, ds: &look.dataset, clock: &look.clock, team: &app.settings.team };
    Ok(Json(responding.followed(record)?))
}

/// Changes of an answer what its respondent still may.
#[utoipa::path(post, path = "/api/public/answers/{secret}", params(("secret" = String, Path)), request_body = BTreeMap<String, Input>, responses((status = 200, body = Followed), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn amend(
    State(app): State<App>,
    Path(secret): Path<String>,
    Json(answers): Json<BTreeMap<FieldId, Input>>,
) -> Result<Json<Followed>, Problem> {
    let (at, record) = followed(&app, &secret).await?;
    let intent = Intent::Amend { form: at.form, record, answers: answers.into_iter().collect() };
    at.live.act(Asker::Form(at.form), intent).await?;
    let look = at.look()?;
    let responding = Responding { form: form_of(&look, at.form)?, ds: &look.dataset, clock: &look.clock, team: &app.settings.team };
    Ok(Json(responding.followed(record)?))
}

/// Tells an answer's private page when to look again: whenever what its respondent may see has changed. Events: `look`.
#[utoipa::path(get, path = "/api/public/answers/{secret}/events", params(("secret" = String, Path)), responses((status = 200, body = String, content_type = "text/event-stream"), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn follow_live(
    State(app): State<App>,
    Path(secret): Path<String>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let (at, record) = followed(&app, &secret).await?;
    let (listener, events) = mpsc::channel(4);
    tokio::spawn(tell_follower(app, at, record, listener));
    Ok(Sse::new(ReceiverStream::new(events)).keep_alive(KeepAlive::new().interval(KEEP_ALIVE)))
}

async fn tell_follower(app: App, at: At, record: RecordId, listener: mpsc::Sender<Result<Event, Infallible>>) {
    let stands = || {
        let look = at.look().ok()?;
        let form = look.dataset.form(at.form)?;
        Responding { form, ds: &look.dataset, clock: &look.clock, team: &app.settings.team }.followed(record).ok()
    };
    let mut told = None;
    loop {
        // Listen first, then look, so that nothing falls in between.
        let mut changes = at.live.subscribe();
        let now = Some(stands());
        if now != told {
            if listener.send(Ok(Event::default().event("look").data("{}"))).await.is_err() {
                return;
            }
            told = now;
        }
        tokio::select! {
            () = listener.closed() => return,
            change = changes.recv() => if matches!(change, Err(RecvError::Closed)) { return },
        }
        tokio::time::sleep(TOGETHER).await;
    }
}

/// The sites whose pages may show a form, or read and answer it.
pub(crate) async fn welcome_sites(app: &App, link: &str) -> Vec<String> {
    let Ok(at) = At::of(app, link).await else { return Vec::new() };
    at.live.now().form(at.form).map(|form| form.embed.clone()).unwrap_or_default()
}
