//! A form as a conversation: what is asked of whom, where each answer lands, and what nobody is asked.

use super::{AnswerKind, FROM, Form, FormPlace, PLACES_LIMIT, Parameter, Question};
use crate::{
    access::Lens,
    id::{FieldId, RecordId},
    schema::{FieldDef, Kind},
    value::{list_text, moment_text},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A form as whoever designs it reads it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Script {
    /// Of each question, in order.
    pub lines: Vec<ScriptLine>,
    /// What is put in without anybody being asked, in sentences.
    pub quietly: Vec<String>,
    /// What fills itself in, in a sentence; empty: nothing does.
    pub itself: String,
    /// The fields that could be asked too.
    pub free: Vec<FieldId>,
}

/// What a link says of where it hangs, and what came by it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Hanging {
    pub name: String,
    pub value: String,
    pub answers: u32,
    /// When the last of them came, in words.
    pub last: String,
    /// What its link puts in beside that, where it is one of the form's places.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kept: Option<Vec<Parameter>>,
}

/// One thing that is asked.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ScriptLine {
    /// How it is asked: *must be answered, filled in by the link*.
    pub how: String,
    /// The field where the answer lands.
    pub lands: String,
    /// What can be answered there: *one of 6*.
    pub of: String,
    /// Who comes to it, and what else they are asked for what they say here.
    pub stranger: String,
}

impl Form {
    /// What is said in it, from the first line to the last, and what is not.
    pub fn to_script(&self, lens: &Lens<'_>) -> Script {
        let Some(home) = lens.dataset().table(self.table) else {
            return Script { lines: Vec::new(), quietly: Vec::new(), itself: String::new(), free: Vec::new() };
        };
        let fields = || home.def.fields.iter().filter(|f| lens.reads(self.table, f.id));
        let names = |fields: Vec<&FieldDef>| fields.iter().map(|f| f.name.clone()).collect::<Vec<_>>();
        let asked = |f: &&FieldDef| self.questions.iter().any(|q| q.field == f.id);
        let itself = names(fields().filter(|f| !f.kind.takes_input() && !asked(f)).collect());
        let begins = |q: &Question| {
            let value = q.begins.as_ref().map(|v| lens.cell_text(self.table, q.field, v.as_cell())).filter(|text| !text.is_empty());
            match (q.parameter.is_empty(), value) {
                (true, Some(value)) => Some(format!("“{value}” is put in")),
                (false, Some(value)) => Some(format!("what the link says for {} is put in, else “{value}”", q.parameter)),
                (false, None) => Some(format!("what the link says for {} is put in", q.parameter)),
                (true, None) => None,
            }
        };
        let hidden = self.questions.iter().filter(|q| q.hidden);
        let quietly = hidden.filter_map(|q| Some(format!("{}: {}.", home.def.field(q.field)?.name, begins(q)?)));
        let preset = fields().filter(|f| f.preset.is_some() && !asked(f)).map(|f| format!("{}: what the table begins with.", f.name));
        Script {
            lines: self.questions.iter().map(|q| self.line(q, home.def.field(q.field), lens)).collect(),
            quietly: quietly.chain(preset).collect(),
            itself: match itself.len() {
                0 => String::new(),
                1 => format!("{} comes by itself.", itself[0]),
                _ => format!("{} come by themselves.", list_text(&itself, "and")),
            },
            free: fields().filter(|f| AnswerKind::of(&f.kind).is_some() && !asked(f)).map(|f| f.id).collect(),
        }
    }

    /// What came by which link, as far as it is open to the asker: the busiest first, and its places by which nothing came.
    pub fn places(&self, lens: &Lens<'_>) -> Vec<Hanging> {
        let mut places: BTreeMap<(String, String), (u32, Option<RecordId>)> = BTreeMap::new();
        for record in self.answers(lens) {
            for parameter in lens.came(self.table, record).0 {
                let place = places.entry((parameter.name, parameter.value)).or_default();
                *place = (place.0.saturating_add(1), Some(record));
            }
        }
        // Where it hangs is known to those who hang it there.
        let own: &[FormPlace] = if lens.builds() { &self.places } else { &[] };
        for place in own {
            places.entry((FROM.to_owned(), place.name.clone())).or_default();
        }
        let known =
            |name: &str, value: &str| own.iter().find(|place| name == FROM && place.name == value).map(|place| place.parameters.clone());
        let mut told: Vec<Hanging> = places
            .into_iter()
            .map(|((name, value), (answers, last))| {
                let at = last.and_then(|record| lens.meta(self.table, record)).map(|meta| moment_text(meta.created_at, lens.clock()));
                Hanging { kept: known(&name, &value), name, value, answers, last: at.unwrap_or_default() }
            })
            .collect();
        told.sort_by_key(|place| std::cmp::Reverse(place.answers));
        told.truncate(PLACES_LIMIT);
        told
    }

    fn line(&self, question: &Question, field: Option<&FieldDef>, lens: &Lens<'_>) -> ScriptLine {
        let mut how = vec![match (question.hidden, question.required) {
            (true, _) => "nobody is asked",
            (false, true) => "must be answered",
            (false, false) => "if they like",
        }];
        if !question.parameter.is_empty() {
            how.push("filled in by the link");
        }
        if !question.hidden && question.begins.is_some() {
            how.push("begins filled in");
        }
        ScriptLine {
            how: how.join(", "),
            lands: field.map_or_else(|| "a field that is gone".to_owned(), |f| f.name.clone()),
            of: field.map_or_else(String::new, |f| of(question, f, lens)),
            stranger: self.stranger(question, lens),
        }
    }

    /// *They come to it when kind is signage; all others go past it. What they say here decides whether “Which sign?” is asked.*
    fn stranger(&self, question: &Question, lens: &Lens<'_>) -> String {
        let comes = match question.when(lens, self.table) {
            _ if question.hidden => "Nobody sees it.".to_owned(),
            None => "Everybody comes to it.".to_owned(),
            Some(when) => format!("They come to it when {when}; all others go past it."),
        };
        let hangs = |q: &&Question| !q.hidden && q.field != question.field && q.shown.condition.names(question.field);
        let hang: Vec<String> = self.questions.iter().filter(hangs).map(|q| format!("“{}”", q.label)).collect();
        match hang.len() {
            0 => comes,
            1 => format!("{comes} What they say here decides whether {} is asked.", hang[0]),
            _ => format!("{comes} What they say here decides whether {} are asked.", list_text(&hang, "and")),
        }
    }
}

fn of(question: &Question, field: &FieldDef, lens: &Lens<'_>) -> String {
    let counted = |count: usize, many: &str| format!("one of {count}{}{many}", if many.is_empty() { "" } else { " " });
    match &field.kind {
        Kind::Choice { options, .. } => counted(options.len(), ""),
        Kind::Choices { options } => format!("any of {}", options.len()),
        Kind::Link(link) => {
            let many = lens.dataset().table(link.to).map_or_else(String::new, |t| t.def.many());
            match (&question.lines, link.one) {
                (Some(lines), _) => format!("up to {} new {many}", lines.most),
                (None, true) => counted(lens.count(link.to), &many),
                (None, false) => many,
            }
        }
        kind => kind.name().to_owned(),
    }
}
