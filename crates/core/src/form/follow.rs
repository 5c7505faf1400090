//! How an answer stands, for whoever sent it.

use super::{Appearance, QuestionView, Responding};
use crate::{
    access::Lens,
    fault::Fault,
    id::{FieldId, RecordId},
    people::Actor,
    value::Value,
};
use serde::{Deserialize, Serialize};

/// An answer as its respondent may see it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Followed {
    pub title: String,
    pub appearance: Appearance,
    /// Where the form has a picture of its own.
    pub link: String,
    /// When it was sent, in words.
    pub sent: String,
    /// The record is not there any more.
    pub gone: bool,
    pub facts: Vec<Fact>,
    /// What may still be changed, with what stands there.
    pub questions: Vec<QuestionView>,
}

/// One thing that respondents may see.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Fact {
    pub field: FieldId,
    pub label: String,
    pub text: String,
}

impl Responding<'_> {
    /// An answer as its respondent may see it now.
    ///
    /// # Errors
    /// Where the form does not let answers be followed, or the record did not come by it.
    pub fn followed(&self, record: RecordId) -> Result<Followed, Fault> {
        let unknown = || Fault::not_found("answer");
        let (form, table) = (self.form, self.form.table);
        let following = form.following.as_ref().ok_or_else(unknown)?;
        let home = self.ds.table(table).ok_or_else(unknown)?;
        let meta = home.meta(record).filter(|m| m.created_by == Actor::Form(form.id)).ok_or_else(unknown)?;
        let lens = Lens::of_everything(self.ds, None, self.clock);
        let fact = |field: &FieldId| {
            let label = form.question(*field).filter(|q| !q.label.is_empty()).map(|q| q.label.clone());
            let label = label.or_else(|| Some(home.def.field(*field)?.name.clone()))?;
            Some(Fact { field: *field, label, text: lens.text_at(table, record, *field) })
        };
        let open = !meta.gone && following.while_.holds(&lens, table, record);
        let question = |field: &FieldId| {
            let question = form.question(*field)?;
            let value = lens.reader(table, *field).cell(record.row()).to_value();
            let with_value =
                super::Question { begins: (value != Value::Empty).then_some(value), parameter: String::new(), ..question.clone() };
            self.asked(&with_value)
        };
        Ok(Followed {
            title: form.title.clone(),
            appearance: form.appearance.worn(self.team),
            link: form.link.clone(),
            sent: crate::value::moment_text(meta.created_at, self.clock),
            gone: meta.gone,
            facts: if meta.gone { Vec::new() } else { following.shows.iter().filter_map(fact).collect() },
            questions: if open { following.adds.iter().filter_map(question).collect() } else { Vec::new() },
        })
    }
}
