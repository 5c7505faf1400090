//! Automations: when something happens, if conditions hold, then steps are done. Core plans; the server sends.

mod awaits;
mod fire;
mod words;

pub use fire::{Cause, LogLine, LogOutcome, Mail, Run, fire};

use crate::{
    condition::Condition,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{AutomationId, FieldId, FormId, TableId},
    schema::Kind,
    template::Template,
    view::check_name,
};
use serde::{Deserialize, Serialize};

/// Most steps of one automation.
pub const MAX_STEPS: usize = 50;

/// An automation of one table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Automation {
    pub id: AutomationId,
    pub table: TableId,
    pub name: String,
    pub on: bool,
    pub when: Occasion,
    #[serde(default)]
    pub condition: Condition,
    pub steps: Vec<Step>,
}

/// What sets it going.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Occasion {
    /// A record comes by this form, or by any form.
    Form(Option<FormId>),
    /// A record is added by a person.
    Added,
    /// A button that runs it is pressed.
    Pressed,
}

/// One thing that it does.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Step {
    Mail { to: Recipient, subject: Template, body: Template },
}

/// Whom a message goes to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Recipient {
    /// A person or e-mail field, perhaps along links.
    Field(Vec<FieldId>),
    Address(String),
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
            Recipient::Address(address) => crate::intent::check_mail(address),
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
