//! What a form names.

use super::{Following, Form, Lines, Question};
use crate::{
    condition::condition_refs as condition,
    names::{Hold, Names, See, field, kept, maybe},
    value::{Value, value_refs as value},
    wording::wording_refs as wording,
};

impl Names for Form {
    fn each(&mut self, see: &mut See<'_>) {
        let (asks, by) = (Hold::Shows("asks for it"), Hold::Needs("asks by it"));
        let mut rest = Vec::with_capacity(self.questions.len());
        for mut question in self.questions.drain(..) {
            if field(&mut question.field, asks, see) && of_question(&mut question, asks, by, see) {
                rest.push(question);
            }
        }
        self.questions = rest;
        wording(&mut self.confirmation, Hold::Shows("thanks with it"), see);
        maybe(&mut self.copy, Hold::Shows("sends a copy to it"), see);
        let maps = self.ways.call.iter_mut().map(|c| &mut c.fields).chain(self.ways.mail.iter_mut().map(|m| &mut m.fields));
        maps.for_each(|fields| fields.retain_mut(|m| field(&mut m.field, asks, see)));
        if let Some(Following { shows, adds, while_ }) = &mut self.following {
            kept(shows, |id| field(id, Hold::Shows("shows it to whoever answered"), see));
            kept(adds, |id| field(id, asks, see));
            condition(while_, by, see);
        }
    }
}

/// What a question names beside its field; whether it still stands.
fn of_question(question: &mut Question, asks: Hold, by: Hold, see: &mut See<'_>) -> bool {
    condition(&mut question.shown.condition, by, see);
    condition(&mut question.offers, by, see);
    maybe(&mut question.shows, asks, see);
    if let Some(begins) = &mut question.begins {
        value(question.field, begins, Hold::Shows("begins with it"), see);
        if *begins == Value::Empty {
            question.begins = None;
        }
    }
    match &mut question.lines {
        None => true,
        Some(Lines { questions, total, .. }) => {
            questions.retain_mut(|q| field(&mut q.field, asks, see));
            maybe(total, asks, see);
            !questions.is_empty()
        }
    }
}
