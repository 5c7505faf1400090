//! Answers that come otherwise than by the page: signed web calls, and mails to a form's address. Each is noted, taken or refused.

use crate::{
    app::App,
    live::{Done, Live, Look, Wish, rehearse},
    pictures::{self, Upload},
    problem::Problem,
    refusal::Refusal,
    replying,
};
use data_encoding::{HEXLOWER, HEXLOWER_PERMISSIVE};
use hmac::{Hmac, Mac};
use jiff::Timestamp;
use mail_parser::{Message, MimeHeaders};
use sha2::Sha256;
use std::sync::{Arc, OnceLock};
use westerfall_core::{
    access::{Asker, Lens},
    fault::{Fault, FaultKind, Faults},
    form::{Answer, Form, MailIn},
    id::{FormId, RecordId, TrackerId},
    intent::Intent,
};

/// How far a call's moment may be from ours, in seconds.
const CLOCKS: i64 = 300;

/// The application, for those who take mails before it is there.
pub type Door = Arc<OnceLock<App>>;

/// The signature of a call: HMAC-SHA-256 over its moment in seconds, a point, and its body, in hexadecimal digits.
pub fn signature(secret: &str, moment: &str, body: &[u8]) -> String {
    HEXLOWER.encode(&mac(secret, moment, body).finalize().into_bytes())
}

fn mac(secret: &str, moment: &str, body: &[u8]) -> Hmac<Sha256> {
    let mut mac: Hmac<Sha256> = Mac::new_from_slice(secret.as_bytes()).expect("a key of any length fits");
    mac.update(moment.as_bytes());
    mac.update(b".");
    mac.update(body);
    mac
}

/// Whether a call is from whoever has the secret, and from now. Gives its signature in the one way in which it is written.
///
/// # Errors
/// Why it is not believed.
pub fn believe(secret: &str, moment: &str, signed: &str, body: &[u8]) -> Result<String, Problem> {
    let refused = |message: &'static str| Err(Refusal::CallNotBelieved.saying(message));
    let Ok(at) = moment.parse::<i64>() else { return refused("The call says no moment in Westerfall-Timestamp, in seconds since 1970.") };
    if Timestamp::now().as_second().saturating_sub(at).saturating_abs() > CLOCKS {
        return refused("The call’s moment is more than five minutes from now.");
    }
    let bytes = HEXLOWER_PERMISSIVE.decode(signed.as_bytes());
    match bytes.map(|bytes| mac(secret, moment, body).verify_slice(&bytes).map(|()| HEXLOWER.encode(&bytes))) {
        Ok(Ok(signature)) => Ok(signature),
        _ => refused("The signature in Westerfall-Signature does not fit the call."),
    }
}

/// Takes an answer that came by a way, and notes it.
pub async fn take(
    app: &App,
    at: (TrackerId, FormId),
    way: &str,
    answer: Answer,
    key: String,
    uploads: &[Upload],
) -> Result<RecordId, Problem> {
    let (tracker, form) = at;
    let live = app.tracker(tracker).await?;
    let done = enter(app, &live, form, answer, Some(key), uploads).await;
    let added = |done: Done| done.added.first().copied().ok_or_else(|| Problem::internal("an answer made no record"));
    let taken = done.and_then(added);
    let (record, note) = match &taken {
        Ok(record) => (Some(*record), String::new()),
        Err(problem) => (None, problem.told()),
    };
    app.store.note_way(tracker, form, way, record, &note).await?;
    taken
}

/// Puts an answer in, with its files; under the same key once. If it is refused, none of its files is kept.
pub async fn enter(app: &App, live: &Live, form: FormId, answer: Answer, key: Option<String>, uploads: &[Upload]) -> Result<Done, Problem> {
    // Sent before, and taken: whatever closed the form since, the answer is there, and its files too.
    let keeps = !uploads.is_empty() && !is_known(app, live, key.as_deref()).await?;
    if keeps {
        rehearsed(&live.look(Asker::Form(form))?, form, &answer)?;
        pictures::keep(&app.files, uploads).await?;
    }
    let intent = Intent::Send { form, answer };
    let done = live.wish(Wish { key, ..Wish::now(intent, Asker::Form(form)) }).await;
    if keeps && done.as_ref().map_or(true, |done| done.again) {
        pictures::forget(&app.files, uploads).await;
    }
    done
}

/// Whether an answer with this key was taken before.
///
/// # Errors
/// The database can't be asked.
pub async fn is_known(app: &App, live: &Live, key: Option<&str>) -> Result<bool, Problem> {
    match key {
        Some(key) => Ok(!app.store.answers(live.id, &[key]).await?.is_empty()),
        None => Ok(false),
    }
}

/// Whether an answer would be taken.
///
/// # Errors
/// Why not.
pub fn rehearsed(look: &Look, form: FormId, answer: &Answer) -> Result<(), Problem> {
    Ok(rehearse(look, &Intent::Send { form, answer: answer.clone() })?)
}

/// Text of a mail with our line ends, and without the character zero, which mails may hold and the database does not.
pub fn plain(text: &str) -> String {
    text.replace("\r\n", "\n").replace('\0', "")
}

/// What a mail would be to a form.
pub fn read_mail(mail: &Message<'_>, sender: &str) -> MailIn {
    let from = mail.from().and_then(|from| from.first());
    MailIn {
        subject: mail.subject().map(plain).unwrap_or_default(),
        text: mail.body_text(0).map(|text| plain(&text)).unwrap_or_default(),
        sender: from.and_then(|f| f.address()).unwrap_or(sender).to_owned(),
        name: from.and_then(|f| f.name()).unwrap_or_default().to_owned(),
        attachments: Vec::new(),
    }
}

/// Takes a mail to a form's address, or one that answers a message; none where it is to none.
pub async fn deliver(app: &App, recipient: &str, sender: &str, raw: &[u8]) -> Option<Result<(), Problem>> {
    let (link, host) = recipient.rsplit_once('@')?;
    if !app.settings.mail.inward.iter().any(|domain| host.eq_ignore_ascii_case(domain)) {
        return None;
    }
    let link = link.to_lowercase();
    let answer = match mail_parser::MessageParser::default().parse(raw) {
        Some(mail) => {
            let text = mail.body_text(0).map(|text| plain(&text)).unwrap_or_default();
            replying::deliver(app, &link, &text, mail.header_raw("Auto-Submitted")).await
        }
        None => None,
    };
    match answer {
        Some(taken) => Some(taken),
        None => Some(delivered(app, &link, sender, raw).await.map(drop)),
    }
}

async fn delivered(app: &App, link: &str, sender: &str, raw: &[u8]) -> Result<RecordId, Problem> {
    let unknown = || Problem::from(Fault::not_found("form"));
    let at = app.store.form_at(link).await?.ok_or_else(unknown)?;
    let dataset = app.tracker(at.0).await?.now();
    let form = dataset.form(at.1).filter(|f| f.ways.mail.is_some()).ok_or_else(unknown)?;
    let mail = mail_parser::MessageParser::default().parse(raw).ok_or_else(|| Fault::new(FaultKind::WrongKind, "This is no mail."))?;
    let mut read = read_mail(&mail, sender);
    let mut uploads = Vec::new();
    let into = form.ways.mail.iter().flat_map(|m| &m.fields).find(|m| m.from == "attachments");
    let keep = into.map_or(pictures::Keep::Seen, |m| pictures::Keep::of(&dataset, m.field));
    for part in mail.attachments() {
        let name = part.attachment_name().unwrap_or("attachment").to_owned();
        // What is neither picture nor PDF stays with the mail in the post room.
        if let Ok(upload) = pictures::examine(&app.rooms, name, part.contents().to_vec(), keep).await {
            read.attachments.push(upload.attachment.clone());
            uploads.push(upload);
        }
    }
    let answer = form.answer_of_mail(&read).ok_or_else(unknown)?;
    // A mail that comes twice, as mails do, is one record.
    let id = mail.message_id().map_or_else(|| signature("mail", link, raw), str::to_owned);
    take(app, at, "mail", answer, format!("form {} mail {id}", at.1), &uploads).await
}

/// What an answer would put in, without doing it: each field with its text.
///
/// # Errors
/// Why it would be refused.
pub fn tried(look: &crate::live::Look, form: &Form, answer: Answer) -> Result<Vec<(String, String)>, Faults> {
    let intent = Intent::Send { form: form.id, answer };
    let mut after = (*look.dataset).clone();
    let decision = after.decide(&intent, Asker::Form(form.id), &look.clock)?;
    after.apply(&decision.change);
    let lens = Lens::new(&after, Asker::Westerfall, &look.clock);
    let Some(record) = decision.added.first() else { return Ok(Vec::new()) };
    let waiting = lens.waiting(form.table, *record);
    let told = form.questions.iter().filter_map(|q| {
        let name = after.field(q.field)?.1.name.clone();
        let waits = waiting.iter().find(|w| w.field == q.field).map(|w| format!("“{}”, to be settled", w.text));
        let text = waits.unwrap_or_else(|| lens.text_at(form.table, *record, q.field));
        (!text.is_empty()).then_some((name, text))
    });
    Ok(told.collect())
}
