//! A form as a part.

use super::{Form, SEND};
use crate::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault, Faults},
    id::{FormId, TableId},
    names::Name,
    part::{Part, Sort, is_part},
    rules::{Rules, Takes, Tells, builders_only},
    value::Value,
};

is_part!(Form, Form);

impl Sort for Form {
    const SORT: &'static str = "form";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Form(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = FormId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.title
    }

    fn table(&self) -> Option<TableId> {
        Some(self.table)
    }

    fn name(&self) -> Option<Name> {
        Some(Name::Form(self.id))
    }
}

impl Rules for Form {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        builders_only(lens, "this")
    }

    /// What its questions begin with is a value that their fields take.
    fn tidied(mut self, ds: &Dataset, takes: &Takes<'_>) -> Checked<Self> {
        self.title = self.title.trim().to_owned();
        if self.send_label.trim().is_empty() {
            self.send_label = SEND.into();
        }
        let mut faults = Vec::new();
        for (place, question) in self.questions.iter_mut().enumerate() {
            let Some((_, def)) = ds.field(question.field) else { continue };
            let Some(begins) = question.begins.take() else { continue };
            match takes(begins.tidy(), def) {
                Ok(Value::Empty) => {}
                Ok(value) => question.begins = Some(value),
                Err(fault) => faults.push(fault.at(format!("/questions/{place}/begins"))),
            }
        }
        Faults::none_or(faults)?;
        Ok(self)
    }

    fn fits(&self, _before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        self.check(ds)
    }

    fn tells(&self, before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        Tells::structure_if(before.opens(self.table) || after.opens(self.table))
    }

    fn packed(mut self, _whole: bool) -> Option<Self> {
        // A secret stays where it is known.
        self.ways.call = None;
        Some(self)
    }
}

impl Dataset {
    /// The form of this number.
    pub fn form(&self, id: FormId) -> Option<&Form> {
        self.part(id.get())
    }

    /// All forms, by their numbers.
    pub fn forms(&self) -> impl Iterator<Item = &Form> {
        self.parts_of()
    }
}
