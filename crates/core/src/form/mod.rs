//! Intake forms: how people who never see the table put records into it.

mod check;
mod follow;
mod refs;
mod respond;
mod rules;
mod script;
mod state;
mod ways;
mod words;

pub use follow::{Fact, Followed};
pub use respond::{AnswerKind, FormView, Given, LinesView, QuestionView, Responding, Total};
pub(crate) use respond::{beginning, named};
pub use script::{Hanging, Script, ScriptLine};
pub use ways::{Call, MAIL_PARTS, MailIn, Mails, Mapped, Ways};
pub use words::FormSentences;

use crate::{
    condition::Condition,
    face::Face,
    id::{AutomationId, FieldId, FormId, PersonId, TableId},
    value::{CellValue, Input},
    wording::{Piece, Wording},
};
use jiff::civil::DateTime;
use serde::{Deserialize, Serialize};

/// Most lines of one question.
pub const LINES_LIMIT: usize = 100;
/// Most parameters of an address, and the most characters of each.
pub const PARAMETERS_LIMIT: usize = 20;

/// What the button says that sends, where nobody said.
pub(crate) const SEND: &str = "Send";

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
    /// Shown once an answer was taken; may quote the record.
    #[serde(deserialize_with = "respond::plain_or_wording")]
    pub confirmation: Wording,
    /// On the button that sends it.
    pub send_label: String,
    /// Whether it takes answers at all; the limits below may still close it.
    pub open: bool,
    /// Shown in place of the questions while it is closed.
    pub closed_text: String,
    /// The last part of its public address.
    pub link: String,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub limits: Limits,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub audience: Audience,
    /// The e-mail question to whose address a copy goes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub copy: Option<FieldId>,
    /// What respondents may see of their record afterwards; none: nothing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub following: Option<Following>,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub appearance: Appearance,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub ways: Ways,
    /// The sites that may show it within their pages, as origins.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub embed: Vec<String>,
    /// Where its link hangs.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub places: Vec<FormPlace>,
}

/// A place where a form's link hangs: a poster, a post, a page.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FormPlace {
    /// What the link says under [`FROM`].
    pub name: String,
    /// What else it puts in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parameters: Vec<Parameter>,
}

/// The parameter by which a link says where it hangs.
pub const FROM: &str = "from";
/// Most places of one form.
pub const PLACES_LIMIT: usize = 500;

/// When a form closes by itself.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Limits {
    /// In the tracker's zone.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub from: Option<DateTime>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "openapi", schema(value_type = Option<String>))]
    pub to: Option<DateTime>,
    /// After so many answers; those put into the bin count too.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub most: Option<u32>,
}

/// Who may answer.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Audience {
    /// Everyone who has the link.
    #[default]
    Anyone,
    /// People who are signed in.
    Team,
    /// People who are signed in, each once.
    Once,
}

/// What a respondent may see of their record, at a private address.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Following {
    pub shows: Vec<FieldId>,
    /// Questions whose answers they may still change or add.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub adds: Vec<FieldId>,
    /// While this holds of the record.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub while_: Condition,
}

/// How a form appears.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Appearance {
    #[serde(default)]
    pub theme: Theme,
    /// Instead of the theme's, as `#rrggbb`; darkened where text on it could not be read.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub colour: Option<String>,
    /// The id of a picture at its head, instead of the theme's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub picture: Option<String>,
    /// The id of a small picture beside the team's name: its mark.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mark: Option<String>,
    /// Whether the team's name stands on it.
    #[serde(default)]
    pub team: bool,
}

impl Appearance {
    /// With the team's look, where the form has none of its own: its colour in place of the first theme's, and its mark beside its name.
    #[must_use]
    pub(crate) fn worn(&self, team: Face<'_>) -> Self {
        let plain = self.colour.is_none() && self.theme == Theme::default();
        let mark = team.look.mark.as_ref().filter(|_| self.team && self.mark.is_none());
        Self {
            colour: if plain { team.look.colour.clone() } else { self.colour.clone() },
            mark: mark.map(|mark| mark.id.clone()).or_else(|| self.mark.clone()),
            ..self.clone()
        }
    }
}

/// The themes that ship.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Theme {
    #[default]
    Fell,
    Tarn,
    Heath,
    Quarry,
    Hayfield,
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
    /// A heading and a text before it. They stand as long as any question up to the next heading does.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub above: Option<Above>,
    /// Nobody is asked; what it begins with is put in quietly.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub hidden: bool,
    /// What it begins with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub begins: Option<CellValue>,
    /// The parameter of the link that it begins with instead, where the link has it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub parameter: String,
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub shown: Shown,
    /// Of a link: the field of the linked records by which they are told apart, instead of their standing one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shows: Option<FieldId>,
    /// Of a link: only records where this holds.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub offers: Condition,
    /// Of a link: new records of the other table are entered, instead of picking.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lines: Option<Lines>,
}

/// Words before a question.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Above {
    #[serde(default)]
    pub heading: String,
    #[serde(default)]
    pub text: String,
}

/// When a question is asked: always, if it says nothing.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Shown {
    /// On earlier answers, and along links on records that were picked in them.
    #[serde(default)]
    #[cfg_attr(feature = "openapi", schema(required = true))]
    pub condition: Condition,
    /// And on parameters of the link.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parameters: Vec<ParameterTest>,
}

impl Question {
    /// Whether a parameter of the link fills it in, or decides whether it is asked.
    pub(crate) fn is_filled_by(&self, parameter: &str) -> bool {
        self.parameter == parameter || self.shown.parameters.iter().any(|test| test.name == parameter)
    }
}

/// A test of a parameter of the link; neither capitals nor accents count.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ParameterTest {
    pub name: String,
    #[serde(default)]
    pub not: bool,
    pub is: String,
}

/// Several items in one answer: records of another table, each linked to the one that the form makes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Lines {
    pub questions: Vec<LineQuestion>,
    /// At most so many.
    pub most: u32,
    /// A computed field of the form's table that says what they come to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub total: Option<FieldId>,
}

/// What is asked in each line.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LineQuestion {
    pub field: FieldId,
    pub label: String,
    #[serde(default)]
    pub required: bool,
}

/// What was answered, by the field that was asked.
pub type Inputs = Vec<(FieldId, Input)>;

/// One answer to a form.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Answer {
    pub answers: Inputs,
    /// By the question, the lines, each with its answers.
    pub lines: Vec<(FieldId, Vec<Inputs>)>,
    /// Of the link by which it came.
    pub parameters: Vec<Parameter>,
    /// Who sends it, where that is known.
    pub by: Option<PersonId>,
    /// The hash of the private address at which it can be followed.
    pub receipt: Option<String>,
    /// It came signed, or to an address of its own: whom the page is for does not matter.
    pub trusted: bool,
}

impl From<Inputs> for Answer {
    fn from(answers: Inputs) -> Self {
        Self { answers, ..Self::default() }
    }
}

/// A parameter of a form's address.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Parameter {
    pub name: String,
    pub value: String,
}

/// How a record came, and what of it still waits.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Arrival {
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parameters: Vec<Parameter>,
    /// The signed-in person who answered.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub by: Option<PersonId>,
    /// Names given for people that fit nobody, or more than one.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub unsettled: Vec<Unsettled>,
    /// The hash of its private address.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub receipt: Option<String>,
    /// Automations that wait until it is complete and left, where it is typed cell by cell.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub awaits: Vec<AutomationId>,
}

/// A name that was given for a person.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Unsettled {
    pub field: FieldId,
    pub text: String,
}

/// Whether a form takes answers now, and why not.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum FormState {
    Open,
    /// By hand.
    Closed,
    /// Its time has not come.
    Early,
    /// Its time is over.
    Over,
    /// It has as many answers as it takes.
    Full,
}

impl Question {
    /// A field, asked in these words, and nothing more.
    pub fn new(field: FieldId, label: &str) -> Self {
        Self {
            field,
            label: label.to_owned(),
            help: String::new(),
            required: false,
            above: None,
            hidden: false,
            begins: None,
            parameter: String::new(),
            shown: Shown::default(),
            shows: None,
            offers: Condition::default(),
            lines: None,
        }
    }
}

impl Form {
    /// A form that asks nothing yet, and is closed.
    pub fn new(id: FormId, table: TableId, title: &str, link: &str) -> Self {
        Self {
            id,
            table,
            title: title.to_owned(),
            intro: String::new(),
            questions: Vec::new(),
            confirmation: Wording(vec![Piece::Text("Thank you. Your answer has arrived.".into())]),
            send_label: SEND.into(),
            open: false,
            closed_text: String::new(),
            link: link.to_owned(),
            limits: Limits::default(),
            audience: Audience::default(),
            copy: None,
            following: None,
            appearance: Appearance::default(),
            ways: Ways::default(),
            embed: Vec::new(),
            places: Vec::new(),
        }
    }

    /// The question of a field, if it is asked.
    pub fn question(&self, field: FieldId) -> Option<&Question> {
        self.questions.iter().find(|q| q.field == field)
    }
}
