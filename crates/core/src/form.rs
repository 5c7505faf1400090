//! Intake forms: how people who never see the table put records into it.

use crate::{
    Clock,
    access::Lens,
    dataset::{Dataset, RecordName},
    fault::{Checked, Fault, FaultKind, Faults},
    id::{FieldId, FormId, TableId},
    schema::{Choice, Kind, LONG_TEXT_LIMIT, TEXT_LIMIT},
    value::{contains_folded, fold, natural_cmp},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most records that a link question offers at once.
const OFFERED: usize = 20;

/// An intake form of one table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Form {
    pub id: FormId,
    pub table: TableId,
    pub title: String,
    #[serde(default)]
    pub intro: String,
    pub questions: Vec<Question>,
    /// Shown once an answer was taken.
    pub confirmation: String,
    /// On the button that sends it.
    pub send_label: String,
    pub open: bool,
    /// Shown in place of the questions while it is closed.
    pub closed_text: String,
    /// The last part of its public address; not guessable.
    pub link: String,
}

/// A question of a form: a field of the table, in words for people who don't know the table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Question {
    pub field: FieldId,
    pub label: String,
    #[serde(default)]
    pub help: String,
    #[serde(default)]
    pub required: bool,
}

/// A form as its respondents see it: nothing else of the table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FormView {
    pub title: String,
    pub intro: String,
    pub open: bool,
    pub closed_text: String,
    pub send_label: String,
    pub questions: Vec<QuestionView>,
}

/// A question as respondents see it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct QuestionView {
    pub field: FieldId,
    pub label: String,
    pub help: String,
    pub required: bool,
    pub answer: AnswerKind,
}

/// How a question is answered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "lowercase")]
pub enum AnswerKind {
    Text {
        limit: usize,
    },
    Long {
        limit: usize,
    },
    Number {
        unit: String,
    },
    Date,
    Moment,
    Choice {
        options: Vec<Choice>,
    },
    /// Searched among names.
    Link {
        many: bool,
    },
    Mail,
    Phone,
    Files,
}

impl AnswerKind {
    /// How a stranger answers a field of this kind; none where a stranger can't.
    fn of(kind: &Kind) -> Option<Self> {
        Some(match kind {
            Kind::Text { limit } => AnswerKind::Text { limit: (*limit).min(TEXT_LIMIT) },
            Kind::LongText => AnswerKind::Long { limit: LONG_TEXT_LIMIT },
            Kind::Number { unit, .. } => AnswerKind::Number { unit: unit.clone() },
            Kind::Date => AnswerKind::Date,
            Kind::DateTime => AnswerKind::Moment,
            Kind::Money { currency } => AnswerKind::Number { unit: currency.clone() },
            Kind::Percent { .. } => AnswerKind::Number { unit: "%".into() },
            Kind::Rating { most } => AnswerKind::Number { unit: format!("of {most}") },
            Kind::Choice { options, on: None } => AnswerKind::Choice { options: options.clone() },
            Kind::Link(link) => AnswerKind::Link { many: !link.one },
            Kind::Email => AnswerKind::Mail,
            Kind::Phone => AnswerKind::Phone,
            Kind::Files => AnswerKind::Files,
            Kind::YesNo
            | Kind::Range
            | Kind::Duration
            | Kind::Choice { .. }
            | Kind::Choices { .. }
            | Kind::People
            | Kind::Web
            | Kind::Place
            | Kind::Checklist
            | Kind::Json
            | Kind::Summary(_)
            | Kind::Calculation { .. }
            | Kind::Button { .. }
            | Kind::Person
            | Kind::Numbering { .. }
            | Kind::CreatedAt
            | Kind::CreatedBy
            | Kind::ChangedAt
            | Kind::ChangedBy
            | Kind::Carried { .. } => return None,
        })
    }
}

impl Form {
    pub fn question(&self, field: FieldId) -> Option<&Question> {
        self.questions.iter().find(|q| q.field == field)
    }

    /// What respondents see.
    pub fn to_view(&self, ds: &Dataset) -> FormView {
        let def = ds.table(self.table).map(|t| &t.def);
        let question = |q: &Question| {
            let field = def.and_then(|d| d.field(q.field))?;
            Some(QuestionView {
                field: q.field,
                label: q.label.clone(),
                help: q.help.clone(),
                required: q.required,
                answer: AnswerKind::of(&field.kind)?,
            })
        };
        FormView {
            title: self.title.clone(),
            intro: self.intro.clone(),
            open: self.open,
            closed_text: self.closed_text.clone(),
            send_label: self.send_label.clone(),
            questions: if self.open { self.questions.iter().filter_map(question).collect() } else { Vec::new() },
        }
    }

    /// Whether every question can be asked, and all that the table requires is.
    ///
    /// # Errors
    /// Each thing that is wrong, with its place.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let Some(home) = ds.table(self.table) else { return Err(Fault::not_found("table").into()) };
        let mut faults = Vec::new();
        if self.title.trim().is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Give the form a title.").at("/title"));
        }
        for (at, text) in
            [("/title", &self.title), ("/intro", &self.intro), ("/confirmation", &self.confirmation), ("/closed_text", &self.closed_text)]
        {
            let limit = if at == "/title" { TEXT_LIMIT } else { LONG_TEXT_LIMIT };
            if text.chars().count() > limit {
                faults.push(Fault::new(FaultKind::TooLong, format!("This text has at most {limit} characters.")).at(at));
            }
        }
        if self.open && self.questions.is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Choose at least one question before opening the form.").at("/questions"));
        }
        let mut asked = BTreeSet::new();
        for (place, question) in self.questions.iter().enumerate() {
            let at = format!("/questions/{place}");
            match home.def.field(question.field) {
                None => faults.push(Fault::new(FaultKind::BadRule, "This question’s field is not there any more.").at(&at)),
                Some(field) if AnswerKind::of(&field.kind).is_none() => {
                    let message = format!("“{}” is a {} field: nobody can be asked for it.", field.name, field.kind.name());
                    faults.push(Fault::new(FaultKind::BadRule, message).at(&at));
                }
                Some(_) if question.label.trim().is_empty() => {
                    faults.push(Fault::new(FaultKind::Missing, "Say what is asked.").at(format!("{at}/label")));
                }
                Some(field) if !asked.insert(question.field) => {
                    faults.push(Fault::new(FaultKind::BadRule, format!("“{}” is asked twice.", field.name)).at(&at));
                }
                Some(_) => {}
            }
        }
        for field in home.def.fields.iter().filter(|f| f.required) {
            if !self.question(field.id).is_some_and(|q| q.required) {
                let message = format!("The table requires “{}”, so the form must ask it and require an answer.", field.name);
                faults.push(Fault::new(FaultKind::Missing, message).at("/questions"));
            }
        }
        Faults::none_or(faults)
    }

    /// The records that a link question offers for a typed search: their names and nothing else.
    ///
    /// # Errors
    /// [`FaultKind::NotFound`] where the form is closed or does not ask this.
    pub fn offered(&self, ds: &Dataset, field: FieldId, search: &str, clock: &Clock) -> Result<Vec<RecordName>, Fault> {
        let link = ds.table(self.table).and_then(|t| t.link(field));
        let (Some(link), Some(_), true) = (link, self.question(field), self.open) else { return Err(Fault::not_found("question")) };
        let lens = Lens::of_everything(ds, None, clock);
        Ok(lens.search_names(link.to, search, OFFERED).into_iter().map(|n| RecordName { beside: String::new(), ..n }).collect())
    }
}

impl Lens<'_> {
    /// Records whose name (or the field beside it) holds all the words, in any order; in the order of their names.
    pub fn search_names(&self, table: TableId, search: &str, most: usize) -> Vec<RecordName> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let folded = fold(search.trim());
        let words: Vec<&str> = folded.split_whitespace().collect();
        let fits = |n: &RecordName| words.iter().all(|w| contains_folded(&n.name, w) || contains_folded(&n.beside, w));
        let mut names: Vec<RecordName> = home.records().filter_map(|r| self.record_name(table, r)).filter(fits).collect();
        names.sort_by(|a, b| natural_cmp(&a.name, &b.name));
        names.truncate(most);
        names
    }
}
