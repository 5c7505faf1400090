//! Whether a form takes answers, from whom, and which it took.

use super::{AnswerKind, Audience, Form, FormState, Question};
use crate::{
    Clock,
    access::Lens,
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::{FormId, PersonId, RecordId, TableId},
    people::Actor,
    schema::FieldDef,
};

impl Form {
    /// A new form of a table: closed, and asking what the table requires, in the table's words.
    ///
    /// # Errors
    /// Where there is no such table.
    pub fn begun(ds: &Dataset, id: FormId, table: TableId, title: &str, link: &str) -> Result<Self, Fault> {
        let home = ds.table(table).ok_or_else(|| Fault::not_found("table"))?;
        let asked = |f: &&FieldDef| (f.required || f.id == home.def.standing) && AnswerKind::of(&f.kind).is_some();
        let question = |f: &FieldDef| Question { required: f.required, help: f.help.clone(), ..Question::new(f.id, &f.name) };
        let questions = home.def.fields.iter().filter(asked).map(question).collect();
        Ok(Self { questions, ..Self::new(id, table, title, link) })
    }

    /// What is said once an answer was taken.
    pub fn thanks(&self, ds: &Dataset, record: RecordId, clock: &Clock) -> String {
        self.confirmation.fill(&Lens::of_everything(ds, None, clock), self.table, record).text
    }

    /// Whether it takes answers now.
    pub fn state(&self, ds: &Dataset, clock: &Clock) -> FormState {
        let now = clock.now.to_zoned(clock.zone.clone()).datetime();
        if !self.open || !ds.tracker.stage.is_open() {
            FormState::Closed
        } else if self.limits.from.is_some_and(|from| now < from) {
            FormState::Early
        } else if self.limits.to.is_some_and(|to| now >= to) {
            FormState::Over
        } else if self.limits.most.is_some_and(|most| self.came(ds).count() >= most as usize) {
            FormState::Full
        } else {
            FormState::Open
        }
    }

    /// The records that came by it, those in the bin too, in the order in which they came.
    pub(crate) fn came<'a>(&'a self, ds: &'a Dataset) -> impl DoubleEndedIterator<Item = RecordId> + 'a {
        let home = ds.table(self.table);
        let by = Actor::Form(self.id);
        let rows = home.map_or(0, crate::dataset::Table::rows);
        (0..rows).map(RecordId::at_row).filter(move |r| home.and_then(|t| t.meta(*r)).is_some_and(|m| m.created_by == by))
    }

    /// The records that came by it and are open to whoever looks, in the order in which they came.
    pub fn answers(&self, lens: &Lens<'_>) -> Vec<RecordId> {
        self.came(lens.dataset()).filter(|r| lens.sees(self.table, *r)).collect()
    }

    /// The form by which a record came, in the bin or not.
    pub fn of_answer(ds: &Dataset, table: TableId, record: RecordId) -> Option<&Form> {
        match ds.table(table)?.meta(record)?.created_by {
            Actor::Form(form) => ds.form(form),
            _ => None,
        }
    }

    /// Whether it is for this person, or for somebody who is not known.
    ///
    /// # Errors
    /// [`FaultKind::NotSignedIn`], or [`FaultKind::Closed`] where they have answered already.
    pub fn admits(&self, ds: &Dataset, person: Option<PersonId>) -> Result<(), Fault> {
        match (self.audience, person) {
            (Audience::Anyone, _) | (Audience::Team, Some(_)) => Ok(()),
            (Audience::Team | Audience::Once, None) => {
                Err(Fault::new(FaultKind::NotSignedIn, "This form is for people of the team. Sign in to answer it."))
            }
            (Audience::Once, Some(person)) if self.answered_by(ds, person) => {
                Err(Fault::new(FaultKind::Closed, "You have answered this form already. Thank you."))
            }
            (Audience::Once, Some(_)) => Ok(()),
        }
    }

    fn answered_by(&self, ds: &Dataset, person: PersonId) -> bool {
        self.came(ds).any(|r| ds.arrival(self.table, r).is_some_and(|a| a.by == Some(person)))
    }
}
