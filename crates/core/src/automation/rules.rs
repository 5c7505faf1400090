//! An automation as a part.

use super::{Automation, MAX_STEPS, Occasion, Recipient, Step};
use crate::{
    access::{Asker, Lens},
    checks::{check_mail, check_name},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{AutomationId, TableId},
    names::Name,
    part::{Part, Sort, is_part},
    rules::{Rules, Tells, builders_only},
    schema::Kind,
};

is_part!(Automation, Automation);

impl Sort for Automation {
    const SORT: &'static str = "automation";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Automation(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = AutomationId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.name
    }

    fn table(&self) -> Option<TableId> {
        Some(self.table)
    }

    fn name(&self) -> Option<Name> {
        Some(Name::Automation(self.id))
    }
}

impl Rules for Automation {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        builders_only(lens, "this")
    }

    fn fits(&self, _before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        self.check(ds)
    }

    fn tells(&self, _before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        Tells::structure_if(after.builds())
    }
}

impl Dataset {
    /// The automation of this number.
    pub fn automation(&self, id: AutomationId) -> Option<&Automation> {
        self.part(id.get())
    }

    /// All automations, by their numbers.
    pub fn automations(&self) -> impl Iterator<Item = &Automation> {
        self.parts_of()
    }
}

impl Automation {
    /// Whether everything it names is there and fits.
    ///
    /// # Errors
    /// Each thing that is wrong, with its place.
    pub fn check(&self, ds: &Dataset) -> Checked<()> {
        let mut faults: Vec<Fault> = check_name(&self.name).err().into_iter().collect();
        if let Occasion::Form(Some(form)) = self.when
            && ds.form(form).is_none_or(|f| f.table != self.table)
        {
            faults.push(Fault::new(FaultKind::BadRule, "The form that sets this going is not there any more.").at("/when"));
        }
        if let Err(Faults(found)) = self.condition.check(ds, self.table) {
            faults.extend(found.into_iter().map(|f| f.at("/condition")));
        }
        if self.steps.is_empty() || self.steps.len() > MAX_STEPS {
            faults.push(Fault::new(FaultKind::BadRule, format!("An automation does from 1 to {MAX_STEPS} things.")).at("/steps"));
        }
        for (place, Step::Mail { to, subject, .. }) in self.steps.iter().enumerate() {
            if let Err(fault) = to.check(ds, self.table) {
                faults.push(fault.at(format!("/steps/{place}/mail/to")));
            }
            if subject.0.is_empty() {
                faults.push(Fault::new(FaultKind::Missing, "Give the mail a subject.").at(format!("/steps/{place}/mail/subject")));
            }
        }
        Faults::none_or(faults)
    }
}

impl Recipient {
    fn check(&self, ds: &Dataset, table: TableId) -> Result<(), Fault> {
        match self {
            Recipient::Address(address) => check_mail(address),
            Recipient::Field(path) => {
                let (home, field) = ds.walk(table, path)?;
                match ds.shown_kind(home, field).map(|(_, kind)| kind) {
                    Some(Kind::Person | Kind::Email | Kind::CreatedBy) => Ok(()),
                    _ => Err(Fault::new(FaultKind::BadRule, "A mail goes to a person field or an e-mail field.")),
                }
            }
        }
    }
}
