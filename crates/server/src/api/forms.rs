//! Designing and running intake forms.

use crate::{
    app::App,
    live::{Done, Look},
    pictures,
    problem::{Json, Path, Problem, too_large},
    secrets::random_hex,
    session::Signed,
};
use axum::{
    extract::{Multipart, State},
    http::StatusCode,
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access::Lens,
    fault::{Fault, FaultKind},
    form::{Form, FormSentences, FormView, MailIn, Parameter, Responding, Standing},
    history::Part,
    id::{FieldId, FormId, RecordId, TableId, TrackerId},
    intent::Intent,
    template::Template,
    value::moment_text,
    view::Row,
};

/// Calls and mails shown at once.
const LOGGED: i64 = 50;
/// Answers shown at once.
const ANSWERS: usize = 200;

/// A form in the list of forms.
#[derive(Serialize, ToSchema)]
pub(super) struct FormState {
    id: FormId,
    title: String,
    table: TableId,
    standing: Standing,
    /// Whether it takes answers, until when, from whom.
    running: String,
    address: String,
    answers: usize,
    /// When the last answer came, in words.
    last: Option<String>,
}

/// A form to keep. Its number and table stay; the confirmation is given as it is typed.
#[derive(Deserialize, ToSchema)]
pub(super) struct FormBody {
    form: Form,
    confirmation: String,
}

/// A new form: closed, asking what its table requires.
#[derive(Deserialize, ToSchema)]
pub(super) struct NewForm {
    table: TableId,
    title: String,
}

/// A form with its address and what its respondents see.
#[derive(Serialize, ToSchema)]
pub(super) struct FormAnswer {
    form: Form,
    /// As one types it.
    confirmation: String,
    address: String,
    /// Every question, whatever holds.
    view: FormView,
    sentences: FormSentences,
    /// Answers that came so far and are open to the asker, and when the last of them came.
    answers: usize,
    last: Option<String>,
}

/// The answers of a form.
#[derive(Serialize, ToSchema)]
pub(super) struct Answers {
    fields: Vec<FieldId>,
    /// The latest first, as far as they are open to the asker.
    rows: Vec<AnswerRow>,
    /// All that came and are open to the asker.
    total: usize,
    /// Counted over everybody, so for builders alone.
    visits: Option<Visits>,
}

/// How often a form was opened, sent, and left without sending.
#[derive(Serialize, ToSchema)]
pub(super) struct Visits {
    opened: u64,
    sent: u64,
    left: Vec<LeftAt>,
}

/// One answer.
#[derive(Serialize, ToSchema)]
pub(super) struct AnswerRow {
    at_text: String,
    /// Of the link by which it came.
    parameters: Vec<Parameter>,
    by: Option<String>,
    row: Row,
}

/// How many left at a question without sending.
#[derive(Serialize, ToSchema)]
pub(super) struct LeftAt {
    label: String,
    number: u64,
}

fn address(app: &App, form: &Form) -> String {
    format!("{}/f/{}", app.settings.public_url, form.link)
}

/// How many answers came that are open to whoever looks, and when the last did.
fn came_so_far(lens: &Lens<'_>, form: &Form) -> (usize, Option<String>) {
    let came = form.answers(lens);
    let last = came.last().and_then(|last| lens.meta(form.table, *last));
    (came.len(), last.map(|m| moment_text(m.created_at, lens.clock())))
}

/// The forms of a tracker.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms", params(("tracker" = u32, Path)), responses((status = 200, body = Vec<FormState>), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn list(State(app): State<App>, signed: Signed, Path(tracker): Path<TrackerId>) -> Result<Json<Vec<FormState>>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    let lens = look.lens();
    let open = look.dataset.forms().filter(|f| lens.opens(f.table));
    let line = |form: &Form| {
        let (answers, last) = came_so_far(&lens, form);
        FormState {
            id: form.id,
            title: form.title.clone(),
            table: form.table,
            standing: form.standing(&look.dataset, &look.clock),
            running: form.to_sentences(&lens).running,
            address: address(&app, form),
            answers,
            last,
        }
    };
    Ok(Json(open.map(line).collect()))
}

async fn builder_look(app: &App, signed: &Signed, tracker: TrackerId) -> Result<Look, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    if look.lens().builds() { Ok(look) } else { Err(Fault::not_found("form").into()) }
}

/// A form, for a builder who may open its table.
fn designed(look: &Look, id: FormId) -> Result<&Form, Fault> {
    look.dataset.form(id).filter(|f| look.lens().opens(f.table)).ok_or_else(|| Fault::not_found("form"))
}

/// One form.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms/{form}", params(("tracker" = u32, Path), ("form" = u32, Path)), responses((status = 200, body = FormAnswer), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn show(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
) -> Result<Json<FormAnswer>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let form = designed(&look, id)?;
    Ok(Json(answer(&app, &look, form)))
}

fn answer(app: &App, look: &Look, form: &Form) -> FormAnswer {
    let lens = look.lens();
    let (answers, last) = came_so_far(&lens, form);
    FormAnswer {
        confirmation: form.confirmation.to_text(&look.dataset, form.table),
        address: address(app, form),
        view: Responding { form, ds: &look.dataset, clock: &look.clock, team: &app.settings.team }.designed(),
        sentences: form.to_sentences(&lens),
        answers,
        last,
        form: form.clone(),
    }
}

/// A form as it would be, not kept: what respondents would see, and its rules in words.
#[utoipa::path(post, path = "/api/trackers/{tracker}/forms/{form}/look", params(("tracker" = u32, Path), ("form" = u32, Path)), request_body = FormBody, responses((status = 200, body = FormAnswer), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn look(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
    Json(body): Json<FormBody>,
) -> Result<Json<FormAnswer>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let table = designed(&look, id)?.table;
    Ok(Json(answer(&app, &look, &Form { id, table, ..body.form })))
}

/// Keeps a new form.
#[utoipa::path(post, path = "/api/trackers/{tracker}/forms", params(("tracker" = u32, Path)), request_body = NewForm, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn make(
    State(app): State<App>,
    signed: Signed,
    Path(tracker): Path<TrackerId>,
    Json(new): Json<NewForm>,
) -> Result<Json<Done>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    if !look.lens().opens(new.table) {
        return Err(Fault::not_found("table").into());
    }
    // Core gives the number.
    let id = FormId::new(1).ok_or_else(|| Problem::internal("one is not zero"))?;
    let form = Form::begun(&look.dataset, id, new.table, new.title.trim(), &random_hex(10))?;
    Ok(Json(app.tracker(tracker).await?.act(signed.actor()?, Intent::Make(Part::Form(form))).await?))
}

/// Keeps a form in another state.
#[utoipa::path(put, path = "/api/trackers/{tracker}/forms/{form}", params(("tracker" = u32, Path), ("form" = u32, Path)), request_body = FormBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn save(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
    Json(body): Json<FormBody>,
) -> Result<Json<Done>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let old = designed(&look, id)?;
    if old.table != body.form.table {
        return Err(Fault::new(FaultKind::BadRule, "A form stays with its table. Make a new one for another table.").at("/table").into());
    }
    if old.link != body.form.link && app.store.form_at(&body.form.link).await?.is_some() {
        return Err(Fault::new(FaultKind::InUse, "Another form has this address. Choose another one.").at("/link").into());
    }
    let confirmation = Template::parse(&body.confirmation, &look.dataset, old.table).map_err(|fault| fault.at("/confirmation"))?;
    let form = Form { id, confirmation, ..body.form };
    Ok(Json(app.tracker(tracker).await?.act(signed.actor()?, Intent::Save(Part::Form(form))).await?))
}

/// Takes a form away. Records that came by it stay.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/forms/{form}", params(("tracker" = u32, Path), ("form" = u32, Path)), responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn remove(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
) -> Result<Json<Done>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let form = designed(&look, id)?.clone();
    Ok(Json(app.tracker(tracker).await?.act(signed.actor()?, Intent::Drop(Part::Form(form))).await?))
}

/// The answers that came by a form, and for builders how many opened, sent and left it.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms/{form}/answers", params(("tracker" = u32, Path), ("form" = u32, Path)), responses((status = 200, body = Answers), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn answers(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
) -> Result<Json<Answers>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    let lens = look.lens();
    let form = look.dataset.form(id).filter(|f| lens.opens(f.table)).ok_or_else(|| Fault::not_found("form"))?;
    let fields: Vec<FieldId> = form.questions.iter().map(|q| q.field).filter(|f| lens.reads(form.table, *f)).collect();
    let seen = form.answers(&lens);
    let latest: Vec<_> = seen.iter().rev().take(ANSWERS).copied().collect();
    let row = |row: Row| {
        let (parameters, by) = lens.came(form.table, row.id);
        AnswerRow {
            at_text: lens.meta(form.table, row.id).map_or_else(String::new, |m| moment_text(m.created_at, &look.clock)),
            parameters,
            by: by.map(|p| look.dataset.people.name(p).to_owned()),
            row,
        }
    };
    Ok(Json(Answers {
        rows: lens.rows(form.table, &latest, &fields).into_iter().map(row).collect(),
        total: seen.len(),
        visits: if lens.builds() { Some(visits(&app, tracker, form).await?) } else { None },
        fields,
    }))
}

async fn visits(app: &App, tracker: TrackerId, form: &Form) -> Result<Visits, Problem> {
    let counts = app.store.counts_of_form(tracker, form.id).await?;
    let count = |what: &str| counts.get(what).copied().unwrap_or(0);
    let left = form.questions.iter().filter_map(|q| {
        let number = count(&format!("left {}", q.field));
        (number > 0).then(|| LeftAt { label: q.label.clone(), number })
    });
    Ok(Visits { opened: count("opened"), sent: count("sent"), left: left.collect() })
}

/// Where calls and mails go, and what came.
#[derive(Serialize, ToSchema)]
pub(super) struct WaysAnswer {
    call_address: String,
    mail_address: String,
    /// A secret to begin with; nothing keeps it but saving the form with it.
    fresh_secret: String,
    log: Vec<WayNote>,
}

/// What came by a call or a mail.
#[derive(Serialize, ToSchema)]
pub(super) struct WayNote {
    at_text: String,
    /// `call` or `mail`.
    way: String,
    record: Option<RecordId>,
    /// Why it was refused; empty where it was taken.
    note: String,
}

/// The other ways into a form: where they are, and what came by them.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms/{form}/ways", params(("tracker" = u32, Path), ("form" = u32, Path)), responses((status = 200, body = WaysAnswer), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn ways(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
) -> Result<Json<WaysAnswer>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let form = designed(&look, id)?;
    let note = |line: westerfall_store::WayLine| WayNote {
        at_text: moment_text(line.at, &look.clock),
        way: line.way,
        record: line.record.and_then(|r| RecordId::new(r.try_into().ok()?)),
        note: line.note,
    };
    Ok(Json(WaysAnswer {
        call_address: format!("{}/api/public/forms/{}/calls", app.settings.public_url, form.link),
        mail_address: format!("{}@{}", form.link, app.settings.mail.inward.first().map_or("", String::as_str)),
        fresh_secret: random_hex(24),
        log: app.store.ways_log(tracker, id, LOGGED).await?.into_iter().map(note).collect(),
    }))
}

/// A sample to be rehearsed with a form as it is designed.
#[derive(Deserialize, ToSchema)]
pub(super) struct Sample {
    form: Form,
    /// The JSON of a call.
    #[serde(default)]
    #[schema(value_type = Option<Object>)]
    call: Option<serde_json::Value>,
    #[serde(default)]
    mail: Option<MailIn>,
}

/// What a sample would put in.
#[derive(Serialize, ToSchema)]
pub(super) struct Tried {
    puts: Vec<Put>,
}

/// A field and what would stand in it.
#[derive(Serialize, ToSchema)]
pub(super) struct Put {
    name: String,
    text: String,
}

/// Rehearses a call or a mail: what it would put in, or why it would be refused. Nothing is kept.
#[utoipa::path(post, path = "/api/trackers/{tracker}/forms/{form}/try", params(("tracker" = u32, Path), ("form" = u32, Path)), request_body = Sample, responses((status = 200, body = Tried), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn try_way(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
    Json(sample): Json<Sample>,
) -> Result<Json<Tried>, Problem> {
    let look = builder_look(&app, &signed, tracker).await?;
    let kept = designed(&look, id)?;
    let form = Form { id, table: kept.table, questions: kept.questions.clone(), ..sample.form };
    let of_mail = sample.mail.and_then(|mail| form.answer_of_mail(&mail));
    let answer = sample.call.and_then(|call| form.answer_of_call(&call)).or(of_mail);
    let answer = answer.ok_or_else(|| Fault::new(FaultKind::Missing, "Say first what of it goes into which field."))?;
    let puts = crate::ways::tried(&look, kept, answer)?;
    Ok(Json(Tried { puts: puts.into_iter().map(|(name, text)| Put { name, text }).collect() }))
}

/// A picture for the head of a form.
#[derive(ToSchema)]
#[allow(dead_code, reason = "it only describes the multipart body")]
pub(super) struct PictureBody {
    #[schema(format = Binary)]
    file: String,
}

/// Keeps a picture, to be put at a form's head by saving the form with its id.
#[utoipa::path(post, path = "/api/trackers/{tracker}/forms/{form}/picture", params(("tracker" = u32, Path), ("form" = u32, Path)), request_body(content = PictureBody, content_type = "multipart/form-data"), responses((status = 200, body = String), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn picture(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
    mut multipart: Multipart,
) -> Result<Json<String>, Problem> {
    signed.actor()?;
    let look = builder_look(&app, &signed, tracker).await?;
    designed(&look, id)?;
    let broken = |e: axum::extract::multipart::MultipartError| match e.status() {
        StatusCode::PAYLOAD_TOO_LARGE => too_large(),
        _ => Problem::new(StatusCode::BAD_REQUEST, "What was sent could not be read."),
    };
    let part = multipart.next_field().await.map_err(broken)?.ok_or_else(|| Fault::new(FaultKind::Missing, "Send a picture."))?;
    let name = part.file_name().unwrap_or("picture").to_owned();
    let upload = pictures::examine(&app.rooms, name, part.bytes().await.map_err(broken)?.to_vec(), pictures::Keep::Seen).await?;
    if !upload.attachment.media.starts_with("image/") {
        return Err(Fault::new(FaultKind::WrongKind, "A form’s head is a picture: JPEG, PNG, WebP or GIF.").into());
    }
    pictures::keep(&app.files, std::slice::from_ref(&upload)).await?;
    Ok(Json(upload.attachment.id))
}
