//! Whether a form can be asked as it is designed.

use super::{AnswerKind, Audience, Form, LINES_LIMIT, PARAMETERS_LIMIT, PLACES_LIMIT, Question, Shown};
use crate::{
    checks::{check_link, is_colour, is_origin, not_an_origin},
    dataset::{Dataset, Table},
    fault::{Checked, Fault, FaultKind, Faults},
    id::FieldId,
    schema::{FieldDef, Kind, LONG_TEXT_LIMIT, NAME_LIMIT, TEXT_LIMIT},
    value::{fold, list_text},
};
use std::collections::BTreeSet;

impl Form {
    /// Whether every question can be asked where it stands, and all that the table requires is.
    ///
    /// # Errors
    /// Each thing that is wrong, with its place.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let Some(home) = ds.table(self.table) else { return Err(Fault::not_found("table").into()) };
        let mut faults = self.check_words();
        faults.extend(self.check_running());
        let mut asked = BTreeSet::new();
        for (place, question) in self.questions.iter().enumerate() {
            let at = format!("/questions/{place}");
            faults.extend(question.check(ds, home, &asked).into_iter().map(|fault| fault.at(&at)));
            if !asked.insert(question.field) {
                let name = home.def.field(question.field).map_or("This", |f| &f.name);
                faults.push(Fault::new(FaultKind::BadRule, format!("“{name}” is asked twice.")).at(&at));
            }
        }
        faults.extend(home.def.fields.iter().filter(|f| f.required && f.kind.takes_input()).filter_map(|f| self.leaves_open(f)));
        if self.copy.is_some_and(|f| !self.asks(home, f, |kind| matches!(kind, Kind::Email))) {
            faults.push(Fault::new(FaultKind::BadRule, "A copy goes to an e-mail question of this form.").at("/copy"));
        }
        faults.extend(self.check_ways().into_iter().map(|fault| fault.at("/ways")));
        faults.extend(self.check_following(ds, home));
        Faults::none_or(faults)
    }

    /// Whether calls and mails can become answers.
    fn check_ways(&self) -> Vec<Fault> {
        let bad = |message: &str| Fault::new(FaultKind::BadRule, message);
        let (call, mail) = (&self.ways.call, &self.ways.mail);
        let ways = call.iter().map(|c| ("call", &c.fields)).chain(mail.iter().map(|m| ("mail", &m.fields)));
        let mut faults = Vec::new();
        for (way, fields) in ways {
            if fields.iter().any(|m| self.question(m.field).is_none_or(|q| q.hidden || q.lines.is_some())) {
                faults.push(bad("Calls and mails can fill only what this form asks, and no lines."));
            }
            let due: Vec<String> = self.left_unanswered(fields).map(|q| format!("“{}”", q.label)).collect();
            if !due.is_empty() {
                faults.push(bad(&format!(
                    "No {way} would be taken: it answers nothing to {}. Say what goes there, let it begin with something, or require no answer.",
                    list_text(&due, "and")
                )));
            }
        }
        if mail.iter().flat_map(|m| &m.fields).any(|m| !super::MAIL_PARTS.contains(&m.from.as_str())) {
            faults.push(bad("A mail has a subject, a text, a sender, their name, and attachments."));
        }
        if call.as_ref().is_some_and(|c| c.secret.len() < 32) {
            faults.push(bad("The secret of calls is too short: make a new one."));
        }
        faults
    }

    /// Whether respondents can be shown, and may change, what they are to.
    fn check_following(&self, ds: &Dataset, home: &Table) -> Vec<Fault> {
        let Some(following) = &self.following else { return Vec::new() };
        let bad = |message: &str| Fault::new(FaultKind::BadRule, message).at("/following");
        let mut faults = Vec::new();
        if following.shows.iter().any(|f| home.def.field(*f).is_none()) {
            faults.push(bad("A field that respondents could see is not there any more."));
        }
        if following.adds.iter().any(|f| self.question(*f).is_none_or(|q| q.hidden || q.lines.is_some())) {
            faults.push(bad("Respondents can change only what this form asks them."));
        }
        if let Err(Faults(found)) = following.while_.check(ds, self.table) {
            faults.extend(found.into_iter().map(|f| f.at("/following/while_")));
        }
        faults
    }

    fn check_words(&self) -> Vec<Fault> {
        let mut faults = Vec::new();
        if self.title.trim().is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Give the form a title.").at("/title"));
        }
        for (at, text) in [("/title", &self.title), ("/intro", &self.intro), ("/closed_text", &self.closed_text)] {
            let limit = if at == "/title" { TEXT_LIMIT } else { LONG_TEXT_LIMIT };
            if text.chars().count() > limit {
                faults.push(Fault::new(FaultKind::TooLong, format!("This text has at most {limit} characters.")).at(at));
            }
        }
        let mut named = BTreeSet::new();
        for (at, place) in self.places.iter().enumerate() {
            let bad = |message: &str| Fault::new(FaultKind::BadRule, message).at(format!("/places/{at}"));
            let name = place.name.trim();
            if name.is_empty() || name.chars().count() > NAME_LIMIT {
                faults.push(bad(&format!("Say where the link hangs, in at most {NAME_LIMIT} characters.")));
            } else if !named.insert(fold(name).into_owned()) {
                faults.push(bad(&format!("There is a place “{name}” already.")));
            }
            if place.parameters.len() > PARAMETERS_LIMIT {
                faults.push(bad(&format!("A link puts in at most {PARAMETERS_LIMIT} values.")));
            }
        }
        if self.places.len() > PLACES_LIMIT {
            faults.push(Fault::new(FaultKind::TooLong, format!("A form’s link hangs in at most {PLACES_LIMIT} places.")).at("/places"));
        }
        faults
    }

    fn check_running(&self) -> Vec<Fault> {
        let mut faults = Vec::new();
        if self.open && self.questions.iter().all(|q| q.hidden) {
            faults.push(Fault::new(FaultKind::Missing, "Choose at least one question before opening the form.").at("/questions"));
        }
        if let (Some(from), Some(to)) = (self.limits.from, self.limits.to)
            && to <= from
        {
            faults.push(Fault::new(FaultKind::BadRule, "It would close before it opens.").at("/limits"));
        }
        if self.limits.most == Some(0) {
            faults.push(Fault::new(FaultKind::BadRule, "It takes at least one answer; to take none, close it.").at("/limits"));
        }
        faults.extend(check_link(&self.link).err().map(|fault| fault.at("/link")));
        faults.extend(self.embed.iter().filter(|site| !is_origin(site)).map(|site| not_an_origin(site).at("/embed")));
        if !self.embed.is_empty() && self.audience != Audience::Anyone {
            let message = "Within another site nobody is signed in: such a form is for everyone who has the link.";
            faults.push(Fault::new(FaultKind::BadRule, message).at("/embed"));
        }
        if self.appearance.colour.as_deref().is_some_and(|colour| !is_colour(colour)) {
            faults.push(Fault::new(FaultKind::BadRule, "Write the colour like #4e5b1e.").at("/appearance/colour"));
        }
        faults
    }

    /// Said at design time and not at sending: what the table requires and this form might not give.
    fn leaves_open(&self, field: &FieldDef) -> Option<Fault> {
        let question = self.question(field.id);
        let given = question.is_some_and(|q| if q.hidden { q.begins.is_some() } else { q.required && q.shown.is_nothing() });
        if given || (question.is_none() && (field.preset.is_some() || field.copies.is_some())) {
            return None;
        }
        let message = match question {
            Some(q) if !q.shown.is_nothing() => {
                format!("The table requires “{}”, so the form must ask it always, not only when something holds.", field.name)
            }
            _ => format!("The table requires “{}”, so the form must ask it and require an answer.", field.name),
        };
        Some(Fault::new(FaultKind::Missing, message).at("/questions"))
    }

    fn asks(&self, home: &Table, field: FieldId, kind: impl Fn(&Kind) -> bool) -> bool {
        self.question(field).is_some() && home.def.field(field).is_some_and(|f| kind(&f.kind))
    }
}

impl Shown {
    /// Whether it is asked always.
    pub fn is_nothing(&self) -> bool {
        self.condition.is_nothing() && self.parameters.is_empty()
    }
}

impl Question {
    /// What is wrong with it, where the fields in `asked` are asked before it.
    fn check(&self, ds: &Dataset, home: &Table, asked: &BTreeSet<FieldId>) -> Vec<Fault> {
        let bad = |message: String| Fault::new(FaultKind::BadRule, message);
        let Some(field) = home.def.field(self.field) else { return vec![bad("This question’s field is not there any more.".into())] };
        let mut faults = Vec::new();
        if AnswerKind::of(&field.kind).is_none() {
            faults.push(bad(format!("“{}” is a {} field: nobody can be asked for it.", field.name, field.kind.name())));
        }
        if self.label.trim().is_empty() && !self.hidden {
            faults.push(Fault::new(FaultKind::Missing, "Say what is asked.").at("/label"));
        }
        if self.hidden && self.begins.is_none() && self.parameter.is_empty() {
            faults.push(bad(format!("“{}” is asked of nobody: say what is put in.", field.name)).at("/begins"));
        }
        if let Err(Faults(found)) = self.shown.condition.check(ds, home.def.id) {
            faults.extend(found.into_iter().map(|f| f.at("/shown/condition")));
        } else {
            // Every test begins at an answer that is there by then.
            let first = |t: &&crate::condition::Test| t.path.first().is_some_and(|f| asked.contains(f));
            if let Some(late) = self.shown.condition.tests().into_iter().find(|t| !first(t)) {
                let name = late.path.first().and_then(|f| home.def.field(*f)).map_or("?", |f| &f.name);
                faults.push(bad(format!("“{name}” is not asked before this, so nothing can depend on it here.")).at("/shown/condition"));
            }
        }
        if let Kind::Choice { on: Some(on), .. } = &field.kind
            && !asked.contains(on)
        {
            let ground = home.def.field(*on).map_or("?", |f| &f.name);
            faults.push(bad(format!("What can be chosen here depends on “{ground}”: ask that first.")));
        }
        match (&field.kind, &self.lines) {
            (Kind::Link(link), lines) => {
                let Some(other) = ds.table(link.to) else { return faults };
                if let Err(Faults(found)) = self.offers.check(ds, link.to) {
                    faults.extend(found.into_iter().map(|f| f.at("/offers")));
                }
                if self.shows.is_some_and(|f| other.def.field(f).is_none()) {
                    faults.push(bad("The field that it shows is not there any more.".into()).at("/shows"));
                }
                if lines.is_none() && !link.holds {
                    faults.push(bad(format!("“{}” is kept with the {}: ask for it as lines.", field.name, other.def.many())));
                }
                if let Some(lines) = lines {
                    faults.extend(lines.check(home, other, link.one).into_iter().map(|f| f.at("/lines")));
                }
            }
            (_, Some(_)) => faults.push(bad("Only a link to another table can be answered with several lines.".into())),
            (_, None) => {}
        }
        faults
    }
}

impl super::Lines {
    fn check(&self, home: &Table, other: &Table, one: bool) -> Vec<Fault> {
        let bad = |message: String| Fault::new(FaultKind::BadRule, message);
        let mut faults = Vec::new();
        if one {
            faults.push(bad("This link leads to one record only, so it takes no lines.".into()));
        }
        if self.most == 0 || self.most as usize > LINES_LIMIT {
            faults.push(bad(format!("A form takes from 1 to {LINES_LIMIT} lines.")));
        }
        if self.questions.is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Choose what is asked in each line."));
        }
        for (place, question) in self.questions.iter().enumerate() {
            let field = other.def.field(question.field);
            let name = field.map_or("A field that is gone", |f| &f.name);
            if field.and_then(|f| AnswerKind::of(&f.kind)).is_none() {
                faults.push(bad(format!("“{name}” can’t be asked in a line.")));
            }
            let on = field.and_then(|f| if let Kind::Choice { on, .. } = f.kind { on } else { None });
            if let Some(on) = on.filter(|on| !self.questions[..place].iter().any(|q| q.field == *on)) {
                let ground = other.def.field(on).map_or("?", |f| &f.name);
                faults.push(bad(format!("What can be chosen in “{name}” depends on “{ground}”: ask that before it.")));
            }
        }
        for field in other.def.fields.iter().filter(|f| f.required && f.kind.takes_input() && f.preset.is_none() && f.copies.is_none()) {
            if !self.questions.iter().any(|q| q.field == field.id && q.required) {
                faults.push(bad(format!("{} require “{}”, so each line must ask it.", other.def.name, field.name)));
            }
        }
        if self.total.is_some_and(|t| !home.def.field(t).is_some_and(|f| matches!(f.kind, Kind::Summary(_) | Kind::Calculation { .. }))) {
            faults.push(bad("What the lines come to is a summary or a calculation of the form’s table.".into()));
        }
        faults
    }
}
