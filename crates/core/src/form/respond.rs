//! What respondents see: the questions as they stand with what was answered so far, and nothing else of the table.

use super::{Above, Answer, Appearance, Form, FormState, LineQuestion, Parameter, Question};
use crate::{
    Clock,
    access::Lens,
    dataset::{Dataset, RecordName},
    face::Face,
    fault::Fault,
    id::{FieldId, RecordId, TableId},
    intent::Drafted,
    schema::{Choice, FieldDef, Kind, LONG_TEXT_LIMIT, TEXT_LIMIT},
    value::{CellValue, Value, contains_folded, fold, natural_cmp, parse, typed},
    wording::{Piece, Wording},
};
use serde::{Deserialize, Deserializer, Serialize};

/// A form as its respondents see it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FormView {
    pub title: String,
    pub intro: String,
    pub state: FormState,
    pub closed_text: String,
    pub send_label: String,
    pub appearance: Appearance,
    /// The team's name, where it stands on the form.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub team: String,
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
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub above: Option<Above>,
    /// Something else of the form depends on its answer: ask for the form again once it is given.
    #[serde(default)]
    pub decides: bool,
    /// What it begins with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub given: Option<Given>,
}

/// What a question begins with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Given {
    pub value: CellValue,
    /// As one would type it.
    pub text: String,
    /// Of a link: what it holds, by name.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub links: Vec<RecordName>,
}

/// What is asked in each line, and what the lines come to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(no_recursion))]
pub struct LinesView {
    /// The word for one line.
    pub one: String,
    pub questions: Vec<QuestionView>,
    pub most: u32,
    /// The name of what they come to, and how much that is now.
    pub total: Option<Total>,
}

/// What lines come to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Total {
    pub name: String,
    pub text: String,
}

/// How a question is answered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(no_recursion))]
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
    /// From 1 to this.
    Rating {
        most: u8,
    },
    Date,
    Moment,
    Range,
    /// Typed as `2 h 30 min`.
    Duration,
    Yes,
    Choice {
        options: Vec<Choice>,
        /// The question beside it on whose answer it depends: only what stands under that is offered.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        on: Option<FieldId>,
    },
    Choices {
        options: Vec<Choice>,
    },
    /// A name or an address, typed.
    Person {
        many: bool,
    },
    /// Searched among names.
    Link {
        many: bool,
    },
    Lines(LinesView),
    Mail,
    Phone,
    Web,
    Place,
    /// Things to tick off, a line each.
    List,
    Files,
}

impl AnswerKind {
    /// How somebody answers a field of this kind; none where nobody can.
    pub fn of(kind: &Kind) -> Option<Self> {
        Some(match kind {
            Kind::Text { limit } => AnswerKind::Text { limit: (*limit).min(TEXT_LIMIT) },
            Kind::LongText => AnswerKind::Long { limit: LONG_TEXT_LIMIT },
            Kind::Number { unit, .. } => AnswerKind::Number { unit: unit.clone() },
            Kind::Date => AnswerKind::Date,
            Kind::DateTime => AnswerKind::Moment,
            Kind::Range => AnswerKind::Range,
            Kind::Duration => AnswerKind::Duration,
            Kind::Money { currency } => AnswerKind::Number { unit: currency.clone() },
            Kind::Percent { .. } => AnswerKind::Number { unit: "%".into() },
            Kind::Rating { most } => AnswerKind::Rating { most: *most },
            Kind::YesNo => AnswerKind::Yes,
            Kind::Choice { options, on } => AnswerKind::Choice { options: options.clone(), on: *on },
            Kind::Choices { options } => AnswerKind::Choices { options: options.clone() },
            Kind::Person => AnswerKind::Person { many: false },
            Kind::People => AnswerKind::Person { many: true },
            Kind::Link(link) => AnswerKind::Link { many: !link.one },
            Kind::Email => AnswerKind::Mail,
            Kind::Phone => AnswerKind::Phone,
            Kind::Web => AnswerKind::Web,
            Kind::Place => AnswerKind::Place,
            Kind::Checklist => AnswerKind::List,
            Kind::Files => AnswerKind::Files,
            Kind::Json
            | Kind::Summary(_)
            | Kind::Calculation { .. }
            | Kind::Button { .. }
            | Kind::Numbering { .. }
            | Kind::CreatedAt
            | Kind::CreatedBy
            | Kind::ChangedAt
            | Kind::ChangedBy
            | Kind::Id
            | Kind::Carried { .. } => return None,
        })
    }
}

/// The confirmation was a plain text once.
pub(super) fn plain_or_wording<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Wording, D::Error> {
    #[derive(Deserialize)]
    #[serde(untagged)]
    enum Either {
        Plain(String),
        Wording(Wording),
    }
    Ok(match Either::deserialize(deserializer)? {
        Either::Plain(text) if text.is_empty() => Wording::default(),
        Either::Plain(text) => Wording(vec![Piece::Text(text)]),
        Either::Wording(wording) => wording,
    })
}

/// What happens with a form at a moment: the questions as they stand, from the same evaluation that checks what is sent.
pub struct Responding<'a> {
    pub form: &'a Form,
    pub ds: &'a Dataset,
    pub clock: &'a Clock,
    /// What the team is called.
    pub team: Face<'a>,
}

impl Responding<'_> {
    /// What respondents see, with what they answered so far. While the form is closed, only that it is.
    pub fn view(&self, answer: &Answer) -> FormView {
        let state = self.form.state(self.ds, self.clock);
        let questions = if state == FormState::Open { self.questions(answer, false) } else { Vec::new() };
        self.framed(state, questions)
    }

    /// The whole form, as its designer sees it: every question, whatever holds.
    pub fn designed(&self) -> FormView {
        self.framed(self.form.state(self.ds, self.clock), self.questions(&Answer::default(), true))
    }

    fn framed(&self, state: FormState, questions: Vec<QuestionView>) -> FormView {
        let form = self.form;
        FormView {
            title: form.title.clone(),
            intro: form.intro.clone(),
            state,
            closed_text: form.closed_text.clone(),
            send_label: form.send_label.clone(),
            appearance: form.appearance.worn(self.team),
            team: if form.appearance.team { self.team.name.to_owned() } else { String::new() },
            questions,
        }
    }

    fn questions(&self, answer: &Answer, all: bool) -> Vec<QuestionView> {
        let drafted = self.ds.draft_answer(self.form, answer, self.clock);
        let asked = |q: &&Question| all || (!q.hidden && drafted.shown.contains(&q.field));
        let mut words: Option<&Above> = None;
        let mut views = Vec::new();
        for question in &self.form.questions {
            words = question.above.as_ref().or(words);
            if !asked(&question) {
                continue;
            }
            if let Some(view) = self.question(question, &drafted, answer, all) {
                views.push(QuestionView { above: words.take().cloned(), ..view });
            }
        }
        views
    }

    /// A question on its own, whatever else was answered.
    pub(super) fn asked(&self, question: &Question) -> Option<QuestionView> {
        let drafted = self.ds.draft_answer(self.form, &Answer::default(), self.clock);
        self.question(question, &drafted, &Answer::default(), true)
    }

    fn question(&self, question: &Question, drafted: &Drafted, answer: &Answer, all: bool) -> Option<QuestionView> {
        let home = self.ds.table(self.form.table)?;
        let def = home.def.field(question.field)?;
        let kind = match (&question.lines, &def.kind) {
            (Some(lines), Kind::Link(link)) => {
                let other = self.ds.table(link.to)?;
                let asked = |q: &LineQuestion| line_view(q, other.def.field(q.field)?);
                let total = lines.total.and_then(|field| {
                    let name = home.def.field(field)?.name.clone();
                    Some(Total { name, text: drafted.text(self.clock, self.form.table, field) })
                });
                let questions = lines.questions.iter().filter_map(asked).collect();
                AnswerKind::Lines(LinesView { one: other.def.one.clone(), questions, most: lines.most, total })
            }
            (_, kind) => AnswerKind::of(kind)?,
        };
        let kind = match kind {
            // Only the options under what was chosen before.
            AnswerKind::Choice { options, on: Some(on) } if !all => {
                let ground = drafted.choice(on);
                let options = options.into_iter().filter(|o| o.under.is_some() && o.under == ground).collect();
                AnswerKind::Choice { options, on: None }
            }
            kind => kind,
        };
        Some(QuestionView {
            field: question.field,
            label: question.label.clone(),
            help: question.help.clone(),
            required: question.required,
            answer: kind,
            above: None,
            decides: self.decides(question),
            given: self.given(question, def, &answer.parameters),
        })
    }

    /// Whether something else depends on its answer.
    fn decides(&self, question: &Question) -> bool {
        let field = question.field;
        let home = self.ds.table(self.form.table);
        let depends = |other: &Question| {
            let def = home.and_then(|t| t.def.field(other.field));
            other.shown.condition.tests().iter().any(|t| t.path.first() == Some(&field))
                || def.is_some_and(|d| matches!(&d.kind, Kind::Choice { on: Some(on), .. } if *on == field))
        };
        question.lines.as_ref().is_some_and(|lines| lines.total.is_some()) || self.form.questions.iter().any(depends)
    }

    /// What a question begins with: the link's parameter, or what the coordinator chose.
    fn given(&self, question: &Question, def: &FieldDef, parameters: &[Parameter]) -> Option<Given> {
        let value = beginning(self.ds, self.clock, question, def, parameters)?;
        let lens = Lens::of_everything(self.ds, None, self.clock);
        let name =
            |to: TableId, r: &RecordId| Some(RecordName { name: self.name(&lens, question, to, *r)?, id: *r, beside: String::new() });
        let links = match (&value, &def.kind) {
            (Value::Links(records), Kind::Link(link)) => records.iter().filter_map(|r| name(link.to, r)).collect(),
            _ => Vec::new(),
        };
        let text = typed(&value, &def.kind, lens.clock().typed(self.ds.tracker.locale))
            .unwrap_or_else(|| lens.cell_text(self.form.table, def.id, value.as_cell()));
        Some(Given { value, text, links })
    }

    /// What a linked record is called here.
    fn name(&self, lens: &Lens<'_>, question: &Question, to: TableId, record: RecordId) -> Option<String> {
        match question.shows {
            Some(field) => Some(lens.text_at(to, record, field)).filter(|text| !text.is_empty()),
            None => lens.record_name(to, record).map(|n| n.name),
        }
    }

    /// The records that a link question, or one of a line, offers for a typed search: their names and nothing else.
    ///
    /// # Errors
    /// [`crate::fault::FaultKind::NotFound`] where the form is closed or does not ask this.
    pub fn offered(&self, field: FieldId, search: &str, answer: &Answer) -> Result<Vec<RecordName>, Fault> {
        let unknown = || Fault::not_found("question");
        if self.form.state(self.ds, self.clock) != FormState::Open {
            return Err(unknown());
        }
        let drafted = self.ds.draft_answer(self.form, answer, self.clock);
        let lens = Lens::of_everything(&drafted.draft, None, self.clock);
        let found = if let Some(question) = self.form.question(field).filter(|q| q.lines.is_none() && drafted.shown.contains(&q.field)) {
            let def = self.ds.table(self.form.table).and_then(|t| t.def.field(field)).ok_or_else(unknown)?;
            let Kind::Link(link) = def.kind else { return Err(unknown()) };
            let fits = |r: RecordId| {
                lens.may_link(self.form.table, def, Some(drafted.record), r)
                    && (question.offers.is_nothing() || question.offers.holds(&lens, link.to, r))
            };
            lens.names_offered(link.to, search, fits, |r| self.name(&lens, question, link.to, r))
        } else {
            let (table, def) = self.line_field(field).ok_or_else(unknown)?;
            let Kind::Link(link) = def.kind else { return Err(unknown()) };
            let fits = |r: RecordId| lens.may_link(table, def, None, r);
            lens.names_offered(link.to, search, fits, |r| lens.record_name(link.to, r).map(|n| n.name))
        };
        Ok(found)
    }

    /// A field that lines ask, and its table.
    fn line_field(&self, field: FieldId) -> Option<(TableId, &FieldDef)> {
        let home = self.ds.table(self.form.table)?;
        let asking = self.form.questions.iter().find(|q| q.lines.as_ref().is_some_and(|l| l.questions.iter().any(|q| q.field == field)))?;
        let to = home.link(asking.field)?.to;
        Some((to, self.ds.table(to)?.def.field(field)?))
    }
}

/// What is asked in a line.
fn line_view(question: &LineQuestion, def: &FieldDef) -> Option<QuestionView> {
    Some(QuestionView {
        field: question.field,
        label: question.label.clone(),
        help: def.help.clone(),
        required: question.required,
        answer: AnswerKind::of(&def.kind)?,
        above: None,
        decides: false,
        given: None,
    })
}

/// What a question begins with, as a value of its field: the link's parameter if it fits, else what the coordinator chose.
pub(crate) fn beginning(ds: &Dataset, clock: &Clock, question: &Question, def: &FieldDef, parameters: &[Parameter]) -> Option<Value> {
    let given = parameters.iter().find(|p| !question.parameter.is_empty() && p.name == question.parameter);
    let read = given.and_then(|p| match def.kind {
        Kind::Link(link) => named(ds, clock, question, link.to, &p.value).map(|r| Value::Links(vec![r])),
        Kind::Files => None,
        _ => parse(&p.value, &def.kind, ds.tracker.locale, &ds.people, clock).ok(),
    });
    read.filter(|value| *value != Value::Empty).or_else(|| question.begins.clone())
}

/// The one record of this name, or with this in the field by which they are told apart or in a numbering.
pub(crate) fn named(ds: &Dataset, clock: &Clock, question: &Question, table: TableId, name: &str) -> Option<RecordId> {
    let lens = Lens::of_everything(ds, None, clock);
    let home = ds.table(table)?;
    let numbers: Vec<FieldId> = home.def.fields.iter().filter(|f| matches!(f.kind, Kind::Numbering { .. })).map(|f| f.id).collect();
    let fields: Vec<FieldId> = numbers.into_iter().chain(question.shows).chain([home.def.standing]).collect();
    let wanted = fold(name.trim()).into_owned();
    let fits = |r: &RecordId| fields.iter().any(|f| fold(&lens.text_at(table, *r, *f)) == wanted);
    let mut found = home.records().filter(fits).filter(|r| question.offers.is_nothing() || question.offers.holds(&lens, table, *r));
    let first = found.next()?;
    found.next().is_none().then_some(first)
}

impl Lens<'_> {
    /// Records whose name (or the field beside it) holds all the words, in any order; in the order of their names.
    pub fn search_names(&self, table: TableId, search: &str, most: usize) -> Vec<RecordName> {
        self.search_called(table, None, search, most)
    }

    /// The same as a link shows them: by one of their fields, beside their names.
    pub(crate) fn search_called(&self, table: TableId, by: Option<FieldId>, search: &str, most: usize) -> Vec<RecordName> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let folded = fold(search.trim());
        let words: Vec<&str> = folded.split_whitespace().collect();
        let fits = |n: &RecordName| words.iter().all(|w| contains_folded(&n.name, w) || contains_folded(&n.beside, w));
        let mut names: Vec<RecordName> = home.records().filter_map(|r| self.picked_name(table, r, by)).filter(fits).collect();
        names.sort_by(|a, b| natural_cmp(&a.name, &b.name));
        names.truncate(most);
        names
    }
}
