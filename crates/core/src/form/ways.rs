//! Answers that come otherwise than by the page: signed web calls, and mails. They are answers to the same form, with the same checks.

use super::{Answer, Form, Inputs, Question};
use crate::{
    id::FieldId,
    value::{Attachment, Input},
};
use serde::{Deserialize, Serialize};
use serde_json::Value as Json;

/// Longest text taken from a call or a mail, in characters.
const TAKEN: usize = 50_000;

/// How answers come otherwise than by the page.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Ways {
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub call: Option<Call>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mail: Option<Mails>,
}

/// Web calls, signed with a secret that only their sender has beside us.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Call {
    pub secret: String,
    /// From a place in the call's JSON, like `contact.name`, to a field.
    pub fields: Vec<Mapped>,
}

/// Mails to the form's own address.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Mails {
    /// From `subject`, `text`, `sender`, `name` or `attachments` to a field.
    pub fields: Vec<Mapped>,
}

/// What goes into a field.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Mapped {
    pub from: String,
    pub field: FieldId,
}

/// A mail, as far as a form is concerned.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct MailIn {
    pub subject: String,
    pub text: String,
    /// The sender's address, and name if they gave one.
    pub sender: String,
    #[serde(default)]
    pub name: String,
    #[serde(skip)]
    pub attachments: Vec<Attachment>,
}

/// The parts of a mail that can go into a field.
pub const MAIL_PARTS: [&str; 5] = ["subject", "text", "sender", "name", "attachments"];

impl Form {
    /// The answer that a call gives; none where the form takes none.
    pub fn answer_of_call(&self, body: &Json) -> Option<Answer> {
        let call = self.ways.call.as_ref()?;
        let input = |mapped: &Mapped| Some((mapped.field, Input::Text(words(at(body, &mapped.from)?)?)));
        Some(self.trusted(call.fields.iter().filter_map(input).collect()))
    }

    /// The answer that a mail gives; none where the form takes none.
    pub fn answer_of_mail(&self, mail: &MailIn) -> Option<Answer> {
        let mails = self.ways.mail.as_ref()?;
        let input = |mapped: &Mapped| {
            let text = match mapped.from.as_str() {
                "subject" => &mail.subject,
                "text" => &mail.text,
                "sender" => &mail.sender,
                "name" => &mail.name,
                _ if mail.attachments.is_empty() => return None,
                _ => return Some((mapped.field, Input::Upload(mail.attachments.clone()))),
            };
            let text: String = text.trim().chars().take(TAKEN).collect();
            (!text.is_empty()).then_some((mapped.field, Input::Text(text)))
        };
        Some(self.trusted(mails.fields.iter().filter_map(input).collect()))
    }

    /// What nothing is said of begins as it would on the page.
    fn trusted(&self, mut inputs: Inputs) -> Answer {
        for question in self.questions.iter().filter(|q| !q.hidden && q.lines.is_none()) {
            if let Some(value) = question.begins.as_ref().filter(|_| inputs.iter().all(|(field, _)| *field != question.field)) {
                inputs.push((question.field, Input::Value(value.clone())));
            }
        }
        Answer { trusted: true, ..Answer::from(inputs) }
    }

    /// The questions that are always to be answered and that a way, filling these fields, gives no answer to.
    pub(super) fn left_unanswered<'a>(&'a self, fields: &'a [Mapped]) -> impl Iterator<Item = &'a Question> {
        let due = |q: &&Question| q.required && !q.hidden && q.shown.is_nothing() && q.begins.is_none();
        self.questions.iter().filter(due).filter(|q| !fields.iter().any(|m| m.field == q.field))
    }
}

/// What stands at a place like `contact.name` or `lines.0.text`.
fn at<'a>(json: &'a Json, place: &str) -> Option<&'a Json> {
    place.split('.').try_fold(json, |json, part| match json {
        Json::Array(list) => list.get(part.trim().parse::<usize>().ok()?),
        _ => json.get(part.trim()),
    })
}

/// A value of JSON as one would type it; nothing for what holds other values by name.
fn words(json: &Json) -> Option<String> {
    let text = match json {
        Json::String(text) => text.trim().to_owned(),
        Json::Number(number) => number.to_string(),
        Json::Bool(yes) => if *yes { "yes" } else { "no" }.to_owned(),
        Json::Array(list) => list.iter().filter_map(words).collect::<Vec<_>>().join(", "),
        Json::Null | Json::Object(_) => return None,
    };
    Some(text.chars().take(TAKEN).collect::<String>()).filter(|text| !text.is_empty())
}
