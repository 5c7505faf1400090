//! Designing and running intake forms.

use super::parts::form::{Came, FormDesign, address, design};
use super::places::{OfForm, OfTracker};
use crate::here::Here;
use crate::{
    app::App,
    live::Look,
    pictures,
    problem::{Json, Path, Problem},
    secrets::random_hex,
};
use axum::extract::Multipart;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    form::{Form, FormState, Hanging, MailIn, Parameter},
    id::{FieldId, FormId, RecordId, TableId, TrackerId},
    value::{Customs, moment_text},
    view::Row,
};

/// Calls and mails shown at once.
const LOGGED: i64 = 50;
/// Answers shown at once.
const ANSWERS: usize = 200;

/// A form in the list of forms.
#[derive(Serialize, ToSchema)]
pub(super) struct FormRow {
    id: FormId,
    title: String,
    table: TableId,
    state: FormState,
    /// Whether it takes answers, until when, from whom.
    running: String,
    address: String,
    /// How many answers came, and when the last did: *3 answers*, *the last 3 Jan 2026, 09:44*.
    came: Came,
}

/// The answers of a form.
#[derive(Serialize, ToSchema)]
pub(super) struct Answers {
    fields: Vec<FieldId>,
    /// The latest first, as far as they are open to the asker.
    rows: Vec<AnswerRow>,
    /// All that came and are open to the asker.
    total: usize,
    /// How many came, were opened, sent and left where, in sentences.
    says: Vec<String>,
    /// What to do where nothing came yet, for builders.
    next: Option<String>,
    /// What came by which link.
    places: Vec<Hanging>,
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
    field: FieldId,
    label: String,
    number: u64,
}

/// The forms of a tracker.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms", params(OfTracker), responses((status = 200, body = Vec<FormRow>)))]
pub(super) async fn list(here: Here) -> Result<Json<Vec<FormRow>>, Problem> {
    let look = here.look()?;
    let lens = look.lens();
    let open = look.dataset.forms().filter(|f| lens.is_within(f.table));
    let line = |form: &Form| FormRow {
        id: form.id,
        title: form.title.clone(),
        table: form.table,
        state: form.state(&look.dataset, &look.clock),
        running: form.to_sentences(&lens).running,
        address: address(&here.app, form),
        came: Came::so_far(&lens, form),
    };
    Ok(Json(open.map(line).collect()))
}

/// A form of a table that is open to whoever looks.
fn open_form(look: &Look, id: FormId) -> Result<&Form, Fault> {
    look.dataset.form(id).filter(|f| look.lens().is_within(f.table)).ok_or_else(|| Fault::not_found("form"))
}

/// One form.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms/{form}", params(OfForm), responses((status = 200, body = FormDesign)))]
pub(super) async fn show(here: Here, Path(OfForm { form: id, .. }): Path<OfForm>) -> Result<Json<FormDesign>, Problem> {
    let look = here.look_as_builder("form")?;
    let form = open_form(&look, id)?;
    Ok(Json(design(&here.app, &look, form)))
}

/// The answers that came by a form, and for builders how many opened, sent and left it.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms/{form}/answers", params(OfForm), responses((status = 200, body = Answers)))]
pub(super) async fn answers(here: Here, Path(OfForm { form: id, .. }): Path<OfForm>) -> Result<Json<Answers>, Problem> {
    let look = here.look()?;
    let form = open_form(&look, id)?;
    let visits = if look.lens().builds() { Some(visits(&here.app, here.tracker, form).await?) } else { None };
    let lens = look.lens();
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
        says: in_words(seen.len(), visits.as_ref(), look.clock.customs()),
        next: visits.as_ref().filter(|_| seen.is_empty()).map(|visits| next_step(form, form.state(&look.dataset, &look.clock), visits)),
        rows: lens.rows(form.table, &latest, &fields).into_iter().map(row).collect(),
        total: seen.len(),
        places: form.places(&lens),
        visits,
        fields,
    }))
}

/// *3 answers came.* *It was opened 212 times and sent 106 times; left without sending at “Kind” 23 times.*
fn in_words(total: usize, visits: Option<&Visits>, customs: Customs) -> Vec<String> {
    let came = customs.count_words(total, "answer came", "answers came");
    let Some(visits) = visits else { return vec![format!("{came} that you may see.")] };
    let times = |number: u64| customs.count_words(usize::try_from(number).unwrap_or(usize::MAX), "time", "times");
    let left: Vec<String> = visits.left.iter().map(|left| format!("“{}” {}", left.label, times(left.number))).collect();
    let left = if left.is_empty() { String::new() } else { format!("; left without sending at {}", left.join(", ")) };
    vec![format!("{came}."), format!("Since it is counted, it was opened {} and sent {}{left}.", times(visits.opened), times(visits.sent))]
}

/// What a coordinator does about a form by which nothing came.
fn next_step(form: &Form, state: FormState, visits: &Visits) -> String {
    let most = visits.left.iter().max_by_key(|left| left.number);
    match (state, most) {
        (FormState::Open, Some(left)) => format!("Most left at “{}”: look at what it asks there, or ask it later.", left.label),
        (FormState::Open, None) if visits.opened > 0 => {
            "Whoever opened it left before the first answer: say in its introduction what it is for.".into()
        }
        (FormState::Open, None) if form.places.is_empty() => "Nobody has opened it yet: hand its link out where people will see it.".into(),
        (FormState::Open, None) => "Nobody has opened it yet where it hangs: look whether its link can be seen there.".into(),
        _ => "It takes no answers now: open it.".into(),
    }
}

async fn visits(app: &App, tracker: TrackerId, form: &Form) -> Result<Visits, Problem> {
    let counts = app.store.counts_of_form(tracker, form.id).await?;
    let count = |what: &str| counts.get(what).copied().unwrap_or(0);
    let left = form.questions.iter().filter_map(|q| {
        let number = count(&format!("left {}", q.field));
        (number > 0).then(|| LeftAt { field: q.field, label: q.label.clone(), number })
    });
    Ok(Visits { opened: count("opened"), sent: count("sent"), left: left.collect() })
}

/// Where calls and mails go, and what came.
#[derive(Serialize, ToSchema)]
pub(super) struct WaysReply {
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
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms/{form}/ways", params(OfForm), responses((status = 200, body = WaysReply)))]
pub(super) async fn ways(here: Here, Path(OfForm { form: id, .. }): Path<OfForm>) -> Result<Json<WaysReply>, Problem> {
    let look = here.look_as_builder("form")?;
    let form = open_form(&look, id)?;
    let note = |line: westerfall_store::WayLine| WayNote {
        at_text: moment_text(line.at, &look.clock),
        way: line.way,
        record: line.record.and_then(|r| RecordId::new(r.try_into().ok()?)),
        note: line.note,
    };
    Ok(Json(WaysReply {
        call_address: format!("{}/api/public/forms/{}/calls", here.app.settings.public_url, form.link),
        mail_address: format!("{}@{}", form.link, here.app.settings.mail.inward.first().map_or("", String::as_str)),
        fresh_secret: random_hex(24),
        log: here.app.store.ways_log(here.tracker, id, LOGGED).await?.into_iter().map(note).collect(),
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
#[utoipa::path(post, path = "/api/trackers/{tracker}/forms/{form}/try", params(OfForm), request_body = Sample, responses((status = 200, body = Tried)))]
pub(super) async fn try_way(
    here: Here,
    Path(OfForm { form: id, .. }): Path<OfForm>,
    Json(sample): Json<Sample>,
) -> Result<Json<Tried>, Problem> {
    let look = here.look_as_builder("form")?;
    let kept = open_form(&look, id)?;
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
#[utoipa::path(post, path = "/api/trackers/{tracker}/forms/{form}/picture", params(OfForm), request_body(content = PictureBody, content_type = "multipart/form-data"), responses((status = 200, body = String)))]
pub(super) async fn picture(
    here: Here,
    Path(OfForm { form: id, .. }): Path<OfForm>,
    mut multipart: Multipart,
) -> Result<Json<String>, Problem> {
    here.caller.actor()?;
    let look = here.look_as_builder("form")?;
    open_form(&look, id)?;
    let part = multipart.next_field().await?.ok_or_else(|| Fault::new(FaultKind::Missing, "Send a picture."))?;
    let name = part.file_name().unwrap_or("picture").to_owned();
    let upload = pictures::examine(&here.app.rooms, name, part.bytes().await?.to_vec(), pictures::Keep::Picture).await?;
    pictures::keep(&here.app.files, std::slice::from_ref(&upload)).await?;
    Ok(Json(upload.attachment.id))
}
