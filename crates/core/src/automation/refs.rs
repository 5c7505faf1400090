//! What an automation names.

use super::{Automation, Occasion, Recipient, Step};
use crate::{
    condition::condition_refs as condition,
    names::{Hold, Name, Names, See, path},
    wording::wording_refs as wording,
};

impl Names for Automation {
    fn each(&mut self, see: &mut See<'_>) {
        let needs = Hold::Needs("needs it");
        if let Occasion::Form(Some(form)) = &mut self.when
            && let Some(Name::Form(other)) = see(Name::Form(*form), Hold::Needs("is set going by it"))
        {
            *form = other;
        }
        condition(&mut self.condition, needs, see);
        for Step::Mail { to, subject, body } in &mut self.steps {
            if let Recipient::Field(fields) = to {
                path(fields, needs, see);
            }
            wording(subject, needs, see);
            wording(body, needs, see);
        }
    }
}
